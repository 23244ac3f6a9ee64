"""Arrange outlines on a bed: largest first, each as near to the far left corner as it goes, turned if that helps.

Outlines are painted as cells of a fine grid and grown by half the gap; a place is free where no cell would be painted twice, which
one correlation tells for all places at once.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import binary_dilation
from scipy.signal import fftconvolve

from .place import Place

Floats = NDArray[np.float64]
Cells = NDArray[np.bool_]

CELL_MM = 1.5
# square turns first; the others only where no square one finds room
TURNS_DEG = ((0.0, 90.0), (45.0, 135.0, 30.0, 60.0, 120.0, 150.0))


def painted(loops: list[Floats], turn_deg: float) -> tuple[Cells, Floats]:
    """Cells (ny, nx) that an outline of closed loops (n, 2) covers when turned, and where the corner of the first cell lies (2,)."""
    turned = [Place(0.0, 0.0, turn_deg).put(p) for p in loops]
    low = np.min([p.min(axis=0) for p in turned], axis=0)
    high = np.max([p.max(axis=0) for p in turned], axis=0)
    count = np.maximum(1, np.ceil((high - low) / CELL_MM).astype(int))
    # even-odd along the middle line of every row of cells
    rows = low[1] + CELL_MM * (np.arange(count[1]) + 0.5)
    cells = np.zeros((count[1], count[0]), dtype=bool)
    middles = low[0] + CELL_MM * (np.arange(count[0]) + 0.5)
    for loop in turned:
        a, b = loop, np.roll(loop, -1, axis=0)
        for i, y in enumerate(rows):
            cross = (a[:, 1] <= y) != (b[:, 1] <= y)
            x = a[cross, 0] + (y - a[cross, 1]) / (b[cross, 1] - a[cross, 1]) * (b[cross, 0] - a[cross, 0])
            cells[i] ^= (x[:, None] < middles).sum(axis=0) % 2 == 1
        # an edge also takes the cells it runs through
        steps = np.maximum(2, (np.hypot(*(b - a).T) / (CELL_MM / 2)).astype(int))
        at = np.concatenate([p + np.linspace(0, 1, n)[:, None] * (q - p) for p, q, n in zip(a, b, steps, strict=True)])
        ij = np.clip(((at - low) / CELL_MM).astype(int), 0, count - 1)
        cells[ij[:, 1], ij[:, 0]] = True
    return cells, low


def _grown(cells: Cells, by_mm: float) -> tuple[Cells, int]:
    pad = math.ceil(by_mm / CELL_MM)
    if pad == 0:
        return cells, 0
    wide = np.pad(cells, pad)
    y, x = np.mgrid[-pad : pad + 1, -pad : pad + 1]
    return binary_dilation(wide, x * x + y * y <= (by_mm / CELL_MM + 0.5) ** 2), pad


class Outline:
    """An outline of closed loops (n, 2) about its own middle, with its cells at every turn painted once."""

    def __init__(self, loops: tuple[Floats, ...]) -> None:
        self.loops = loops
        self._cells: dict[float, tuple[Cells, Floats]] = {}
        self._grown: dict[tuple[float, float], tuple[Cells, int]] = {}

    def cells(self, turn_deg: float) -> tuple[Cells, Floats]:
        """As ``painted``, the top row first."""
        if turn_deg not in self._cells:
            found, low = painted(list(self.loops), turn_deg)
            self._cells[turn_deg] = found[::-1], low
        return self._cells[turn_deg]

    def grown(self, turn_deg: float, by_mm: float) -> tuple[Cells, int]:
        """The cells grown all round, and by how many."""
        key = (turn_deg, by_mm)
        if key not in self._grown:
            self._grown[key] = _grown(self.cells(turn_deg)[0], by_mm)
        return self._grown[key]


def other_hand(outline: Outline) -> Outline:
    """Of the mirror image."""
    return Outline(tuple(loop * [-1.0, 1.0] for loop in outline.loops))


class Bed:
    """A bed that fills up: cells taken so far."""

    def __init__(self, wide_mm: float, deep_mm: float, gap_mm: float, front_free_mm: float = 0.0, edge_mm: float = 3.0) -> None:
        self.edge, self.gap = edge_mm, gap_mm
        self.front = max(edge_mm, front_free_mm)
        nx = int((wide_mm - 2 * edge_mm) / CELL_MM)
        ny = int((deep_mm - edge_mm - self.front) / CELL_MM)
        self.taken = np.zeros((max(0, ny), max(0, nx)), dtype=bool)

    def put(self, outline: Outline) -> Place | None:
        """Find a place for an outline about its own middle and take it; None when there is none.

        Of the turns, the one that reaches least far from the back of the bed wins.
        """
        for turns in TURNS_DEG:
            found = self._best(outline, turns)
            if found is not None:
                return found
        return None

    def _best(self, outline: Outline, turns: tuple[float, ...]) -> Place | None:
        best: tuple[float, int, int, float, Cells, Floats] | None = None
        for turn in turns:
            cells, low = outline.cells(turn)
            if cells.shape[0] > self.taken.shape[0] or cells.shape[1] > self.taken.shape[1]:
                continue
            spot = self._free(cells, *outline.grown(turn, self.gap))
            if spot is None:
                continue
            row, col = spot
            score = row + cells.shape[0] + 0.35 * (col + cells.shape[1])
            if best is None or score < best[0] - 1e-9:
                best = (score, row, col, turn, cells, low)
        if best is None:
            return None
        _, row, col, turn, cells, low = best
        self._take(cells, row, col)
        # rows count from the back of the bed
        deep = self.front + CELL_MM * self.taken.shape[0]
        flipped = deep - CELL_MM * (row + cells.shape[0])
        return Place(float(self.edge + CELL_MM * col - low[0]), float(flipped - low[1]), turn)

    def _free(self, cells: Cells, grown: Cells, pad: int) -> tuple[int, int] | None:
        if not self.taken.any():
            return 0, 0
        room = np.pad(self.taken, pad)
        if grown.shape[0] > room.shape[0] or grown.shape[1] > room.shape[1]:
            return None
        hits = fftconvolve(room.astype(np.float32), grown[::-1, ::-1].astype(np.float32), mode="valid")
        free = hits < 0.5
        if not free.any():
            return None
        rows, cols = np.nonzero(free)
        k = int(np.argmin(rows + cells.shape[0] + 0.35 * cols))
        return int(rows[k]), int(cols[k])

    def _take(self, cells: Cells, row: int, col: int) -> None:
        self.taken[row : row + cells.shape[0], col : col + cells.shape[1]] |= cells
