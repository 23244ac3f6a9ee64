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

    def solve(self, load: Floats) -> Floats:
        """Displacements (columns, m, loads)."""
        x = self.halfway(load)
        x[-1] = self.raised[-1] @ x[-1]
        for i in range(len(load) - 2, -1, -1):
            x[i] = self.raised[i] @ (x[i] - self.over[i] @ x[i + 1])
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
    d = per_node
    part = k.reshape(4, d, 4, d).transpose(0, 2, 1, 3).reshape(4, 4, d * d)
    w = np.pad(cover, 1)

    def summed(*cells: tuple[Floats, int, int]) -> Floats:
        """What the cells round a node (or a pair) add up to; each with the corners it has there."""
        weights = np.stack([c for c, _, _ in cells], axis=-1)
        each = weights.reshape(-1, len(cells)) @ np.stack([part[p, q] for _, p, q in cells])
        return each.reshape(*weights.shape[:2], d, d)

    # by how many nodes up a column the second one lies; corners run 0 (first), 1 (next column), 2 (next column, up), 3 (up)
    own = {
        0: summed((w[1:, 1:], 0, 0), (w[:-1, 1:], 1, 1), (w[:-1, :-1], 2, 2), (w[1:, :-1], 3, 3)),
        1: summed((w[1:, 1:-1], 0, 3), (w[:-1, 1:-1], 1, 2)),
    }
    link = {
        0: summed((w[1:-1, 1:], 0, 1), (w[1:-1, :-1], 3, 2)),
        1: summed((cover, 0, 2)), -1: summed((cover, 3, 1)),
    }  # fmt: skip
    diagonal = np.einsum("ijdd->ijd", own[0])
    stiff = float(np.diag(k).max())
    # nodes that no cell touches stay where they are; what hangs loose floats on next to nothing
    diagonal[...] = np.where(diagonal > 0, diagonal + FLOAT * stiff, 1.0)
    for node, dof in _pegs(cover, d):
        diagonal[node[0], node[1], dof] += stiff
    return _dense({**own, -1: own[1].transpose(0, 1, 3, 2)}), _dense(link)


def _dense(by_offset: dict[int, Floats]) -> Floats:
    """Blocks (columns, m, m) from what couples each node with the one so many places further up."""
    columns, rows, d = by_offset[0].shape[:3]
    out = np.zeros((columns, rows, d, rows, d))
    for up, piece in by_offset.items():
        low, high = slice(max(0, -up), rows - max(0, up)), slice(max(0, up), rows - max(0, -up))
        np.einsum("irarb->irab", out[:, low, :, high, :])[...] = piece
    return out.reshape(columns, rows * d, rows * d)


def _pegs(cover: Floats, per_node: int) -> list[tuple[tuple[int, int], int]]:
    """Node and dof of three springs that hold a plate without straining it."""
    live = np.argwhere(cover > 0)
    first, last = live[0], live[-1] + 1
    span, off = last - first, live - first
    area = span[0] * off[:, 1] - span[1] * off[:, 0]
    at = int(np.argmax(np.abs(area)))
    far = live[at] + (area[at] > 0) * np.array([0, 1])
    nodes = [(int(n[0]), int(n[1])) for n in (first, last, far)]
    if per_node == 3:
        return [(n, 0) for n in nodes]
    # the third in-plane spring acts across the line of the first two
    return [(nodes[0], 0), (nodes[0], 1), (nodes[1], 1 if abs(span[0]) >= abs(span[1]) else 0)]
