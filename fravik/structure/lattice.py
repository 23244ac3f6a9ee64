"""A honeycomb through a part's middle, in its sections: a band of plastic that is stiff, and weighs, by its share alone.

A section cut anywhere through a honeycomb tells nothing of how it carries: its walls hand the load on askew, and bend. So the sections are
those of the part without it, and the band counts by what a regular honeycomb of that share of plastic is worth in its plane. From one cell
solved in plane stress, shares 0.28 to 0.61 (docs/section.md): it stretches as share^2.45 of the full plastic, alike along and across (3 %),
and shears as share^2.55 to 2.7 of it, for which the first stands too (1 to 11 % too stiff from 0.6 down to 0.45). Its walls are roads laid
along them, as the printer lays them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fravik.printing.zones import Floats

from .rows import Crossings, RowTables, with_crossings

STIFF_POWER = 2.45
# peak stress in a honeycomb's walls over that of full plastic under the same strain, when it is pulled and when it is sheared
PULLED_PEAK = (1.0, 1.1)  # and so much more by its share
SHEARED_PEAK = 3.3
LEAST_SHARE = 0.45  # below that its walls are slender beams, which the formulas do not stand for
SQUARE_ON = 1e-3


@dataclass(frozen=True)
class Lattice:
    """Where along a part, in mm of its middle line, and how far aside of it a honeycomb takes the place of plastic; and its share of
    plastic, one cell and its part of the walls over and over."""

    start_mm: float
    end_mm: float
    half_mm: float
    share: float

    @property
    def stiff(self) -> float:
        """What it is worth of full plastic, pulled or sheared in its plane: no more than an even sheet with such holes can be (Hashin and
        Shtrikman's bound in the plane, which the power passes from 0.76 on)."""
        return float(min(self.share**STIFF_POWER, self.share / (3 - 2 * self.share)))

    @property
    def pulled_peak(self) -> float:
        """How much its walls exceed the stress of full plastic that is strained alike."""
        return PULLED_PEAK[0] + PULLED_PEAK[1] * self.share


def strips_cross(beta_rad: Floats) -> bool | None:
    """Whether the strips of all sections run across the band, or all along it (False); None where they run askew, or some one way and
    some the other."""
    for crosses, off in ((True, np.sin(beta_rad)), (False, np.cos(beta_rad))):
        if np.abs(off).max() < SQUARE_ON:
            return crosses
    return None


def latticed(tables: RowTables, lattice: Lattice) -> RowTables:
    """The sections of a part without its honeycomb, with it. Raises ValueError where the part lies askew."""
    crosses = strips_cross(tables.beta_rad)
    if crosses is None:
        raise ValueError("A honeycomb is judged in arms that lie flat, on a side or upright: lay it so, or take windows in rows.")
    stiff, weighs = (_banded(tables, lattice, worth, crosses) for worth in (lattice.stiff, lattice.share))
    return replace(stiff, weighed_by=weighs)


def _banded(tables: RowTables, lattice: Lattice, worth: float, crosses: bool) -> RowTables:
    """Within the band the part is wall, and of it so much."""
    at = tables.positions_mm
    there = (at >= lattice.start_mm) & (at <= lattice.end_mm)
    cross, shown = [], []
    for c, rows, mine in zip(tables.crossings, tables.slice_of_row, (worth, 0.0, 0.0), strict=True):
        if crosses:
            cross.append(_along(c, there, lattice.half_mm, mine))
            shown.append(rows)
        else:
            cross.append(_across(tables, c, rows, there, lattice.half_mm, mine))
            shown.append(np.arange(len(tables.rows_mm)))
    return with_crossings(tables, cross, shown)


def _along(c: Crossings, there: np.ndarray, half_mm: float, worth: float) -> Crossings:
    """Strips run across the band: what of them lies in it counts by its worth."""
    mine = there[c.position]
    inside = Crossings(c.slice[mine], c.position[mine], c.value[mine], c.sign[mine])
    pieces = [Crossings(c.slice[~mine], c.position[~mine], c.value[~mine], c.sign[~mine])]
    for low, high, share in ((-np.inf, -half_mm, 1.0), (-half_mm, half_mm, worth), (half_mm, np.inf, 1.0)):
        pieces.append(_clipped(inside, low, high, share))
    return Crossings(*(np.concatenate([getattr(p, k) for p in pieces]) for k in ("slice", "position", "value", "sign")))


def _clipped(c: Crossings, low: float, high: float, share: float) -> Crossings:
    """What of the strips lies between two places; ends that come to lie on one of them are gathered, and vanish where they cancel."""
    value = np.clip(c.value, low, high)
    key = np.stack([c.slice, c.position, np.where(value <= low, -1, np.where(value >= high, 1, 0)), np.where(
        (value > low) & (value < high), np.arange(len(value)), -1)])  # fmt: skip
    _, first, group = np.unique(key, axis=1, return_index=True, return_inverse=True)
    sign = np.bincount(group.ravel(), c.sign, len(first)) * share
    kept = first[np.abs(sign) > 1e-9]
    return Crossings(c.slice[kept], c.position[kept], value[kept], sign[np.abs(sign) > 1e-9])


def _across(tables: RowTables, c: Crossings, rows: np.ndarray, there: np.ndarray, half_mm: float, worth: float) -> Crossings:
    """Strips lie along the band, within it or beside it: each counts by how much of it is in it."""
    order = np.argsort(c.slice, kind="stable")
    begin = np.searchsorted(c.slice[order], np.arange(int(rows.max()) + 2))
    count = np.diff(begin)[rows]
    row = np.repeat(np.arange(len(rows)), count)
    edge = order[np.repeat(begin[rows], count) + np.arange(len(row)) - np.repeat(np.cumsum(count) - count, count)]
    position = c.position[edge]
    middle, thick = tables.rows_mm[row, position], tables.pitch_mm[position]
    inside = np.clip((np.minimum(middle + thick / 2, half_mm) - np.maximum(middle - thick / 2, -half_mm)) / thick, 0.0, 1.0)
    sign = c.sign[edge] * (1 - there[position] * inside * (1 - worth))
    kept = np.abs(sign) > 1e-9
    return Crossings(row[kept], position[kept], c.value[edge][kept], sign[kept])
