"""One section as rectangles to draw: layer strips by zone, and carbon outlines, in section axes (y right, z up)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.printing.zones import Floats, ZoneField

from .member import Member
from .section import RowTables, row_tables


@dataclass(frozen=True)
class Strip:
    """A rectangle of one zone: 0 wall, 1 skin, 2 core."""

    zone: int
    y0: float
    y1: float
    z0: float
    z1: float


@dataclass(frozen=True)
class SectionPicture:
    """All strips at a station, the carbon there, the box, and which way the layers run."""

    strips: tuple[Strip, ...]
    carbon: tuple[tuple[float, float, float, float, float], ...]
    low_mm: tuple[float, float]
    high_mm: tuple[float, float]
    layers: str
    layer_mm: float


def section_picture(field: ZoneField, member: Member, station_mm: float) -> SectionPicture:
    """The section at a station as printed. Carbon rows: (y, z, outer radius or half width, inner radius, half height)."""
    t = row_tables(field, np.array([station_mm]))
    strips: list[Strip] = []
    half = t.pitch_mm / 2
    spans = [_spans(t, i) for i in range(3)]
    for row in range(len(t.rows_mm)):
        outer, inner, core = (s.get(row, []) for s in spans)
        r = float(t.rows_mm[row])
        pieces = [(0, a) for a in _less(outer, inner)] + [(1, a) for a in _less(inner, core)] + [(2, a) for a in core]
        for zone, (a, b) in pieces:
            if b - a < 1e-6:
                continue
            strips.append(Strip(zone, a, b, r - half, r + half) if t.across_rows == "z" else Strip(zone, r - half, r + half, a, b))
    ys = [v for s in strips for v in (s.y0, s.y1)] or [0.0]
    zs = [v for s in strips for v in (s.z0, s.z1)] or [0.0]
    shown = []
    for c in member.carbon:
        near = int(np.argmin(np.abs(member.stations_mm - station_mm)))
        if c.area_mm2[near] > 0:
            round_ = abs(c.half_height_mm - c.half_width_mm) < 1e-9
            bore = 0.0
            if round_:
                full = float(c.area_mm2.max())
                bore = float(np.sqrt(max(c.half_width_mm**2 - full / np.pi, 0.0)))
            shown.append((c.y_mm, c.z_mm, c.half_width_mm, bore, c.half_height_mm))
    layers = {0: "facing you", 1: "upright", 2: "level"}[field.stack_axis]
    return SectionPicture(tuple(strips), tuple(shown), (min(ys), min(zs)), (max(ys), max(zs)), layers, field.recipe.layer_height_mm)


def _spans(t: RowTables, region: int) -> dict[int, list[tuple[float, float]]]:
    c = t.crossings[region]
    out: dict[int, list[tuple[float, float]]] = {}
    for row in np.unique(c.row):
        values: Floats = np.sort(c.value[c.row == row])
        out[int(row)] = [(float(values[i]), float(values[i + 1])) for i in range(0, len(values) - 1, 2)]
    return out


def _less(whole: list[tuple[float, float]], cut: list[tuple[float, float]]) -> list[tuple[float, float]]:
    out = []
    for a, b in whole:
        at = a
        for c, d in cut:
            if d <= a or c >= b:
                continue
            if c > at:
                out.append((at, c))
            at = max(at, d)
        if b > at:
            out.append((at, b))
    return out
