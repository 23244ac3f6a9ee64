"""A plate's stiffness by columns of nodes, factored once and then solved for any loads (block-tridiagonal Cholesky).

Three springs hold the plate as three pegs would: loads in balance put no force on them.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from fravik.printing.zones import Floats

from .faults import StructureFault
from .lapack import LOWER, MINUS, ONE, PLAIN, RIGHT, TURNED, dgemm, dpotrf, dsyrk, dtrmm, dtrtri
from .platecell import CORNERS

FLOAT = 1e-10


@dataclass(frozen=True)
class Factor:
    """Cholesky factor of a plate's stiffness. ``raised`` (columns, m, m): inverses of the lower factor's diagonal blocks, transposed;
    ``over`` (columns - 1, m, m): what couples each column of nodes with the next, in the factor's own terms."""

    raised: Floats
    over: Floats

    def halfway(self, load: Floats) -> Floats:
        """Lower factor's answer (columns, m, loads): its products with itself are the loads' energies."""
        return np.asarray(_halfway(self.raised, self.over, np.ascontiguousarray(load)))

    def back(self, half: Floats) -> Floats:
        """Displacements (columns, m, loads) from what ``halfway`` gave."""
        return np.asarray(_back(self.raised, self.over, half))


def factor(cover: Floats, k: Floats, per_node: int) -> Factor:
    """Factor of cells of stiffness ``k`` (4 nodes x per_node, square), each weighted by ``cover`` (nx, ny).

    Raises StructureFault when the plate hangs together by nothing.
    """
    own, link = _assembled(np.ascontiguousarray(cover), np.ascontiguousarray(k), per_node)
    diagonal, stiff = np.einsum("ijj->ij", own), float(np.diag(k).max())
    # nodes that no cell touches stay where they are; what hangs loose floats on next to nothing
    diagonal[...] = np.where(diagonal > 0, diagonal + FLOAT * stiff, 1.0)
    for node, dof in _pegs(cover, per_node):
        diagonal[node[0], node[1] * per_node + dof] += stiff
    if not _eliminated(own, link):
        raise StructureFault("plate.loose", "The plate hangs together by nothing: make its windows and holes smaller.")
    return Factor(own, link)


@njit(cache=True, nogil=True)
def _assembled(cover: Floats, k: Floats, d: int) -> tuple[Floats, Floats]:
    """Cells' stiffnesses summed by columns of nodes: on the diagonal (nx + 1, m, m), and from each column to the next (nx, m, m)."""
    nx, ny = cover.shape
    m = (ny + 1) * d
    own, link = np.zeros((nx + 1, m, m)), np.zeros((nx, m, m))
    for i in range(nx):
        for j in range(ny):
            share = cover[i, j]
            if share == 0.0:
                continue
            for p in range(4):
                for q in range(4):
                    if CORNERS[p][0] > CORNERS[q][0]:
                        continue  # from the next column of nodes to this: the stiffness is symmetric
                    into = own[i + CORNERS[p][0]] if CORNERS[p][0] == CORNERS[q][0] else link[i]
                    row, column = (j + CORNERS[p][1]) * d, (j + CORNERS[q][1]) * d
                    for a in range(d):
                        for b in range(d):
                            into[row + a, column + b] += share * k[p * d + a, q * d + b]
    return own, link


@njit(cache=True, nogil=True)
def _eliminated(own: Floats, link: Floats) -> bool:
    """Put a factor's ``raised`` and ``over`` in place of what ``_assembled`` gave; False where it is not positive."""
    m, wrong = np.array([own.shape[1]], np.int32), np.zeros(1, np.int32)
    for i in range(len(own)):
        block = own[i].ctypes
        if i:
            dsyrk(LOWER.ctypes, PLAIN.ctypes, m.ctypes, m.ctypes, MINUS.ctypes, link[i - 1].ctypes, m.ctypes, ONE.ctypes, block, m.ctypes)
        dpotrf(LOWER.ctypes, m.ctypes, block, m.ctypes, wrong.ctypes)
        if wrong[0] == 0:
            dtrtri(LOWER.ctypes, PLAIN.ctypes, m.ctypes, block, m.ctypes, wrong.ctypes)
        if wrong[0] != 0:
            return False
        for a in range(1, own.shape[1]):
            own[i, a, :a] = 0.0  # what is left of the block as it was
        if i < len(link):
            dtrmm(RIGHT.ctypes, LOWER.ctypes, TURNED.ctypes, PLAIN.ctypes, m.ctypes, m.ctypes, ONE.ctypes, block, m.ctypes,
                  link[i].ctypes, m.ctypes)  # fmt: skip
    return True


@njit(cache=True, nogil=True)
def _halfway(raised: Floats, over: Floats, load: Floats) -> Floats:
    m, n = np.array([load.shape[1]], np.int32), np.array([load.shape[2]], np.int32)
    y = load.copy()
    if y.size == 0:
        return y
    for i in range(len(y)):
        if i:
            dgemm(PLAIN.ctypes, TURNED.ctypes, n.ctypes, m.ctypes, m.ctypes, MINUS.ctypes, y[i - 1].ctypes, n.ctypes, over[i - 1].ctypes,
                  m.ctypes, ONE.ctypes, y[i].ctypes, n.ctypes)  # fmt: skip
        dtrmm(RIGHT.ctypes, LOWER.ctypes, TURNED.ctypes, PLAIN.ctypes, n.ctypes, m.ctypes, ONE.ctypes, raised[i].ctypes, m.ctypes,
              y[i].ctypes, n.ctypes)  # fmt: skip
    return y


@njit(cache=True, nogil=True)
def _back(raised: Floats, over: Floats, half: Floats) -> Floats:
    m, n = np.array([half.shape[1]], np.int32), np.array([half.shape[2]], np.int32)
    x = half.copy()
    if x.size == 0:
        return x
    for i in range(len(x) - 1, -1, -1):
        if i < len(over):
            dgemm(PLAIN.ctypes, PLAIN.ctypes, n.ctypes, m.ctypes, m.ctypes, MINUS.ctypes, x[i + 1].ctypes, n.ctypes, over[i].ctypes,
                  m.ctypes, ONE.ctypes, x[i].ctypes, n.ctypes)  # fmt: skip
        dtrmm(RIGHT.ctypes, LOWER.ctypes, PLAIN.ctypes, PLAIN.ctypes, n.ctypes, m.ctypes, ONE.ctypes, raised[i].ctypes, m.ctypes,
              x[i].ctypes, n.ctypes)  # fmt: skip
    return x


def _pegs(cover: Floats, per_node: int) -> list[tuple[tuple[int, int], int]]:
    """Node and dof of three springs that hold a plate without straining it."""
    i, j = np.nonzero(cover)
    first, last = (int(i[0]), int(j[0])), (int(i[-1]) + 1, int(j[-1]) + 1)
    span = last[0] - first[0], last[1] - first[1]
    area = span[0] * (j - first[1]) - span[1] * (i - first[0])
    at = int(np.abs(area).argmax())
    nodes = [first, last, (int(i[at]), int(j[at]) + int(area[at] > 0))]
    if per_node == 3:
        return [(n, 0) for n in nodes]
    # the third in-plane spring acts across the line of the first two
    return [(nodes[0], 0), (nodes[0], 1), (nodes[1], 1 if abs(span[0]) >= abs(span[1]) else 0)]
