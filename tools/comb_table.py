"""What a regular honeycomb is worth in its plane: a quarter of one cell and its walls, in fine squares of plane stress.

The quarter has a cell's middle at two opposite corners. Its edges are lines of mirror symmetry when it is stretched, and of its opposite
when it is sheared. The figures stand behind ``fravik.structure.lattice`` and docs/section.md.

    .venv/bin/python -m tools.comb_table
"""

from __future__ import annotations

import itertools
import math

import numpy as np
from scipy.ndimage import uniform_filter
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import splu

from fravik.printing.zones import Floats
from fravik.shape.comb import ROUND
from fravik.structure.lattice import PULLED_PEAK, SHEARED_PEAK, STIFF_POWER

NU, SQUARE_MM, SEEN_MM = 0.35, 0.05, 0.25  # peaks are the mean over so much, as stairs of squares have none of their own
CELLS = ((4.0, 3.6), (4.0, 2.4), (6.0, 3.6), (5.0, 2.4), (6.0, 2.4), (7.0, 2.4), (8.0, 2.4))


def square(size_mm: float) -> tuple[Floats, Floats]:
    """Stiffness (8, 8) of a bilinear square of unit modulus and thickness, and stress (3, 8) at its middle."""
    c = 1 / (1 - NU**2) * np.array([[1, NU, 0], [NU, 1, 0], [0, 0, (1 - NU) / 2]])

    def strain(s: float, t: float) -> Floats:
        dx = np.array([-(1 - t), 1 - t, 1 + t, -(1 + t)]) / 2 / size_mm
        dy = np.array([-(1 - s), -(1 + s), 1 + s, 1 - s]) / 2 / size_mm
        b = np.zeros((3, 8))
        b[0, 0::2], b[1, 1::2], b[2, 0::2], b[2, 1::2] = dx, dy, dy, dx
        return b

    g = 1 / math.sqrt(3)
    k = sum(b.T @ c @ b for b in (strain(s, t) for s in (-g, g) for t in (-g, g))) * size_mm**2 / 4
    return np.asarray(k), np.asarray(c @ strain(0.0, 0.0))


def in_cell(x: Floats, y: Floats, width: float) -> Floats:
    """Whether places lie in a cell about the origin, two flats along x, corners rounded."""
    r = ROUND * width
    a, dx, dy = width / 2 - r, np.abs(x), np.abs(y)
    inside = np.maximum(dy, dx * math.cos(math.pi / 6) + dy / 2) <= a
    corners = [(2 * a / math.sqrt(3), 0.0), (a / math.sqrt(3), a), (0.0, a)]
    away = np.full(x.shape, np.inf)
    for (x0, y0), (x1, y1) in itertools.pairwise(corners):
        ex, ey = x1 - x0, y1 - y0
        t = np.clip(((dx - x0) * ex + (dy - y0) * ey) / (ex * ex + ey * ey), 0, 1)
        away = np.minimum(away, np.hypot(dx - x0 - t * ex, dy - y0 - t * ey))
    return np.asarray(inside | (away <= r))


class Quarter:
    """A quarter of a cell with its walls."""

    def __init__(self, width: float, wall: float) -> None:
        px, py = (width + wall) * math.sqrt(3) / 2, (width + wall) / 2
        self.nx, self.ny = round(px / SQUARE_MM), round(py / SQUARE_MM)
        self.px, self.py, self.size = px, py, (px / self.nx + py / self.ny) / 2
        x, y = np.meshgrid((np.arange(self.nx) + 0.5) * px / self.nx, (np.arange(self.ny) + 0.5) * py / self.ny, indexing="ij")
        self.solid = ~(in_cell(x, y, width) | in_cell(x - px, y - py, width))
        self.share = float(self.solid.mean())
        i, j = np.nonzero(self.solid)
        node = np.arange((self.nx + 1) * (self.ny + 1)).reshape(self.nx + 1, self.ny + 1)
        corners = np.stack([node[i, j], node[i + 1, j], node[i + 1, j + 1], node[i, j + 1]], axis=1)
        self.dof = (2 * corners[:, :, None] + np.arange(2)).reshape(len(corners), 8)
        k, self.stress = square(self.size)
        many, n = len(self.dof), 2 * node.size
        at = np.repeat(self.dof, 8, axis=1).ravel(), np.tile(self.dof, (1, 8)).ravel()
        self.k = coo_matrix((np.tile(k.ravel(), many), at), shape=(n, n)).tocsc()
        self.left, self.right, self.low, self.high = node[0], node[-1], node[:, 0], node[:, -1]

    def moved(self, *edges: tuple[np.ndarray, float]) -> tuple[Floats, Floats]:
        """Forces at all dofs, and stress (nx, ny, 3), with the dofs of some edges moved so far."""
        u, fixed = np.zeros(self.k.shape[0]), np.concatenate([d for d, _ in edges])
        for dofs, by in edges:
            u[dofs] = by
        free = np.setdiff1d(np.unique(self.dof), fixed)
        u[free] = splu(self.k[free][:, free]).solve(-(self.k[free] @ u))
        stress = np.zeros((self.nx, self.ny, 3))
        stress[self.solid] = u[self.dof] @ self.stress.T
        return np.asarray(self.k @ u), stress

    def peak(self, stress: Floats) -> float:
        """The greatest main stress, as the mean over SEEN_MM."""
        wide = max(1, round(SEEN_MM / self.size))
        there = uniform_filter(self.solid.astype(float), wide)
        s = np.stack([uniform_filter(stress[..., k], wide) for k in range(3)], axis=-1) / np.maximum(there, 0.3)[..., None]
        middle, radius = (s[..., 0] + s[..., 1]) / 2, np.hypot((s[..., 0] - s[..., 1]) / 2, s[..., 2])
        return float(np.where(self.solid, np.maximum(abs(middle + radius), abs(middle - radius)), 0.0).max())

    def figures(self) -> tuple[float, float, float, float]:
        """Over full plastic: modulus along, shear modulus, and the peaks when pulled and sheared."""
        still = (2 * self.left, 0.0), (2 * self.low + 1, 0.0)
        along, stress = self.moved(*still, (2 * self.right, self.px), (2 * self.high + 1, 0.0))
        aside, other = self.moved(*still, (2 * self.right, 0.0), (2 * self.high + 1, self.py))
        q = -along[2 * self.high + 1].sum() / aside[2 * self.high + 1].sum()  # free to grow thinner
        e = (along + q * aside)[2 * self.right].sum() / self.py
        sheared, turned = self.moved(
            (2 * self.left + 1, 0.0), (2 * self.right + 1, self.px), (2 * self.low, 0.0), (2 * self.high, 0.0)
        )  # fmt: skip
        full = 1 / (2 * (1 + NU))
        return float(e), float(sheared[2 * self.right + 1].sum() / self.py / full), self.peak(stress + q * other), self.peak(turned) / full


def main() -> None:
    print("cell  wall  share   E      law    G      peak pulled  law   peak sheared  law")
    for width, wall in CELLS:
        quarter = Quarter(width, wall)
        e, g, pulled, sheared = quarter.figures()
        law, peak = quarter.share**STIFF_POWER, PULLED_PEAK[0] + PULLED_PEAK[1] * quarter.share
        print(f"{width:4.1f} {wall:5.1f} {quarter.share:6.3f} {e:6.3f} {law:6.3f} {g:6.3f} {pulled:10.2f} {peak:9.2f} {sheared:10.2f} "
              f"{SHEARED_PEAK:8.1f}")  # fmt: skip


if __name__ == "__main__":
    main()
