"""A plate's stiffness by columns of nodes, factored once and then solved for any loads (block-tridiagonal Cholesky).

Three springs hold the plate as three pegs would: loads in balance put no force on them.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.linalg.lapack import dpotrf, dtrtri

from fravik.printing.zones import Floats

from .faults import StructureFault

FLOAT = 1e-10


@dataclass(frozen=True)
class Factor:
    """Cholesky factor of a plate's stiffness. ``raised`` (columns, m, m): inverses of the lower factor's diagonal blocks, transposed;
    ``over`` (columns - 1, m, m): what couples each column of nodes with the next, in the factor's own terms."""

    raised: Floats
    over: Floats

    def halfway(self, load: Floats) -> Floats:
        """Lower factor's answer (columns, m, loads): its products with itself are the loads' energies."""
        y = np.empty_like(load)
        y[0] = self.raised[0].T @ load[0]
        for i in range(1, len(load)):
            y[i] = self.raised[i].T @ (load[i] - self.over[i - 1].T @ y[i - 1])
        return y

    def back(self, half: Floats) -> Floats:
        """Displacements (columns, m, loads) from what ``halfway`` gave."""
        x = np.empty_like(half)
        x[-1] = self.raised[-1] @ half[-1]
        for i in range(len(half) - 2, -1, -1):
            x[i] = self.raised[i] @ (half[i] - self.over[i] @ x[i + 1])
        return x


def factor(cover: Floats, k: Floats, per_node: int) -> Factor:
    """Factor of cells of stiffness ``k`` (4 nodes x per_node, square), each weighted by ``cover`` (nx, ny).

    Raises StructureFault when the plate hangs together by nothing.
    """
    own, link = _blocks(cover, k, per_node)
    over = np.empty_like(link)
    for i, block in enumerate(own):
        if i:
            block -= over[i - 1].T @ over[i - 1]
        # a symmetric block read column by column is itself: both steps work in its place, without a copy
        lower, wrong = dpotrf(block.T, lower=1, clean=1, overwrite_a=1)
        if not wrong:
            lower, wrong = dtrtri(lower, lower=1, overwrite_c=1)
        if wrong:
            raise StructureFault("plate.loose", "The plate hangs together by nothing: make its windows and holes smaller.")
        if i < len(link):
            np.matmul(lower, link[i], out=over[i])
    return Factor(own, over)


def _blocks(cover: Floats, k: Floats, per_node: int) -> tuple[Floats, Floats]:
    """Cells' stiffnesses summed by columns of nodes: on the diagonal (nx + 1, m, m), and from each column to the next (nx, m, m)."""
    d, (columns, rows) = per_node, (n + 1 for n in cover.shape)
    part = k.reshape(4, d, 4, d).transpose(0, 2, 1, 3).reshape(16, d * d)
    w = np.zeros((columns + 1, rows + 1))
    w[1:-1, 1:-1] = cover
    own, link = np.zeros((columns, rows, d, rows, d)), np.zeros((columns - 1, rows, d, rows, d))

    def put(into: Floats, up: int, *cells: tuple[Floats, int, int]) -> Floats:
        """What couples each node with the one so many places further up, of the cells round them, each with the two corners they are
        there; a view of it."""
        low, high = slice(max(0, -up), rows - max(0, up)), slice(max(0, up), rows - max(0, -up))
        view = np.einsum("irarb->irab", into[:, low, :, high, :])
        weights = np.stack([c for c, _, _ in cells], axis=-1)
        view[...] = (weights @ part[[4 * p + q for _, p, q in cells]]).reshape(view.shape)
        return view

    # corners run 0 (first), 1 (next column), 2 (next column, up), 3 (up)
    nodes = put(own, 0, (w[1:, 1:], 0, 0), (w[:-1, 1:], 1, 1), (w[:-1, :-1], 2, 2), (w[1:, :-1], 3, 3))
    above = put(own, 1, (w[1:, 1:-1], 0, 3), (w[:-1, 1:-1], 1, 2))
    np.einsum("irarb->irab", own[:, 1:, :, :-1, :])[...] = above.transpose(0, 1, 3, 2)
    put(link, 0, (w[1:-1, 1:], 0, 1), (w[1:-1, :-1], 3, 2))
    put(link, 1, (cover, 0, 2))
    put(link, -1, (cover, 3, 1))
    diagonal = np.einsum("ijdd->ijd", nodes)
    stiff = float(np.diag(k).max())
    # nodes that no cell touches stay where they are; what hangs loose floats on next to nothing
    diagonal[...] = np.where(diagonal > 0, diagonal + FLOAT * stiff, 1.0)
    for node, dof in _pegs(cover, d):
        diagonal[node[0], node[1], dof] += stiff
    return own.reshape(columns, rows * d, rows * d), link.reshape(columns - 1, rows * d, rows * d)


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
