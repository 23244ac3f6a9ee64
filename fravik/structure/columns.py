"""A plate's stiffness by columns of nodes, factored once and then solved for any loads (block-tridiagonal Cholesky).

Three springs hold the plate as three pegs would: loads in balance put no force on them.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.blas import dgemm, dsyrk, dtrmm
from scipy.linalg.lapack import dpotrf, dtrtri

from fravik.printing.zones import Floats

from .faults import StructureFault
from .platecell import CORNERS

FLOAT = 1e-10

# BLAS and LAPACK read a matrix column by column: a block handed over transposed is worked on in its place, without a copy


@dataclass(frozen=True)
class Factor:
    """Cholesky factor of a plate's stiffness. ``raised`` (columns, m, m): inverses of the lower factor's diagonal blocks, transposed;
    ``over`` (columns - 1, m, m): what couples each column of nodes with the next, in the factor's own terms."""

    raised: Floats
    over: Floats

    def halfway(self, load: Floats) -> Floats:
        """Lower factor's answer (columns, m, loads): its products with itself are the loads' energies."""
        y = load.copy()
        for i, own in enumerate(y if y.size else ()):
            if i:
                dgemm(-1.0, y[i - 1].T, self.over[i - 1].T, 1.0, own.T, trans_b=1, overwrite_c=1)
            dtrmm(1.0, self.raised[i].T, own.T, side=1, lower=1, trans_a=1, overwrite_b=1)
        return y

    def back(self, half: Floats) -> Floats:
        """Displacements (columns, m, loads) from what ``halfway`` gave."""
        x = half.copy()
        for i in range(len(x) - 1 if x.size else -1, -1, -1):
            if i < len(self.over):
                dgemm(-1.0, x[i + 1].T, self.over[i].T, 1.0, x[i].T, overwrite_c=1)
            dtrmm(1.0, self.raised[i].T, x[i].T, side=1, lower=1, overwrite_b=1)
        return x


def factor(cover: Floats, k: Floats, per_node: int) -> Factor:
    """Factor of cells of stiffness ``k`` (4 nodes x per_node, square), each weighted by ``cover`` (nx, ny).

    Raises StructureFault when the plate hangs together by nothing.
    """
    own, link = _blocks(cover, k, per_node)
    for i, block in enumerate(own):
        if i:
            dsyrk(-1.0, link[i - 1].T, 1.0, block.T, lower=1, overwrite_c=1)
        lower, wrong = dpotrf(block.T, lower=1, clean=1, overwrite_a=1)
        if not wrong:
            lower, wrong = dtrtri(lower, lower=1, overwrite_c=1)
        if wrong:
            raise StructureFault("plate.loose", "The plate hangs together by nothing: make its windows and holes smaller.")
        if i < len(link):
            dtrmm(1.0, lower, link[i].T, side=1, lower=1, trans_a=1, overwrite_b=1)
    return Factor(own, link)


@lru_cache(maxsize=16)
def _spots(nx: int, ny: int, d: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Where in the blocks of ``_blocks``, laid end to end, the entries of all cells' stiffness go (cells x entries,), and which entries
    of a cell's they are."""
    m = (ny + 1) * d
    i, j = np.divmod(np.arange(nx * ny), ny)
    node = np.arange(d)
    spots, entries = [], []
    for p, (next_p, up_p) in enumerate(CORNERS):
        for q, (next_q, up_q) in enumerate(CORNERS):
            if next_p > next_q:
                continue  # from the next column of nodes to this one: the stiffness is symmetric
            block = i + next_p if next_p == next_q else nx + 1 + i
            row, column = ((j + up)[:, None] * d + node for up in (up_p, up_q))
            spots.append(((block[:, None] * m + row) * m)[:, :, None] + column[:, None])
            entries.append((p * d + node)[:, None] * 4 * d + q * d + node)
    return np.stack(spots, axis=1).ravel(), np.stack(entries).ravel()


def _blocks(cover: Floats, k: Floats, per_node: int) -> tuple[Floats, Floats]:
    """Cells' stiffnesses summed by columns of nodes: on the diagonal (nx + 1, m, m), and from each column to the next (nx, m, m)."""
    nx, ny = cover.shape
    m = (ny + 1) * per_node
    spots, entries = _spots(nx, ny, per_node)
    every = np.bincount(spots, np.multiply.outer(cover.ravel(), k.ravel()[entries]).ravel(), (2 * nx + 1) * m * m)
    own, link = np.split(np.asarray(every, dtype=np.float64).reshape(2 * nx + 1, m, m), [nx + 1])
    diagonal, stiff = np.einsum("ijj->ij", own), float(np.diag(k).max())
    # nodes that no cell touches stay where they are; what hangs loose floats on next to nothing
    diagonal[...] = np.where(diagonal > 0, diagonal + FLOAT * stiff, 1.0)
    for node, dof in _pegs(cover, per_node):
        diagonal[node[0], node[1] * per_node + dof] += stiff
    return own, link


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
