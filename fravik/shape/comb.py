"""A honeycomb cut through the middle of an arm: regular hexagons with two flats along it, every other column half a cell aside."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, JoinType

from fravik.model.shapes import ArmShape

from .outline import polygon, segments_for

CLEAR_MM = 4.0  # of the root's fillet and of the pad
ROUND = 1 / 8  # radius of a cell's corners over its width


@dataclass(frozen=True)
class Comb:
    """Where a honeycomb lies along an arm, how far aside a full column of its cells reaches, and the middles (n, 2) of the cells.

    ``share`` is how much plastic there is where one cell and its part of the walls follow one another.
    """

    start_mm: float
    end_mm: float
    half_mm: float
    share: float
    middles_mm: tuple[tuple[float, float], ...]


def cell_mm2(arm: ArmShape) -> float:
    """Area of a cell, its corners rounded off."""
    w = arm.comb_cell_mm
    return math.sqrt(3) / 2 * w * w - 6 * (1 / math.sqrt(3) - math.pi / 6) * (ROUND * w) ** 2


def comb_of(arm: ArmShape, length_mm: float) -> Comb | None:
    """An arm's honeycomb over its free body; None without one, or where no two columns fit."""
    w, pitch = arm.comb_cell_mm, arm.comb_cell_mm + arm.comb_wall_mm
    if w <= 0:
        return None
    step, low, high = pitch * math.sqrt(3) / 2, arm.root_fillet_mm + CLEAR_MM, length_mm - arm.pad_diameter_mm / 2 - CLEAR_MM
    columns = math.floor((high - low - 2 * w / math.sqrt(3)) / step) + 1
    if columns < 2:
        return None
    first, rows = (low + high - (columns - 1) * step) / 2, arm.comb_rows
    middles = [
        (first + k * step, (row - (n - 1) / 2) * pitch) for k in range(columns) for n in (rows - k % 2,) for row in range(n)
    ]  # fmt: skip
    half = (rows * pitch - arm.comb_wall_mm) / 2
    share = 1 - cell_mm2(arm) / (step * pitch)
    return Comb(first - step / 2, first + (columns - 0.5) * step, half, share, tuple(middles))


def comb_cuts(arm: ArmShape, length_mm: float) -> list[CrossSection]:
    """The cells seen from above."""
    comb = comb_of(arm, length_mm)
    if comb is None:
        return []
    r = ROUND * arm.comb_cell_mm
    reach = (arm.comb_cell_mm / 2 - r) * 2 / math.sqrt(3)
    turns = np.arange(6) * math.pi / 3
    sharp = polygon([(reach * math.cos(a), reach * math.sin(a)) for a in turns])
    cell = sharp.offset(r, JoinType.Round, 2.0, segments_for(r))
    return [cell.translate(at) for at in comb.middles_mm]
