"""One section as shapes to draw: layer strips by zone, carbon and facings, in section axes (y right, z up)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.printing.zones import Floats, ZoneField

from .inserts import Insert
from .rows import AxisLine, RowTables, row_tables

Quad = tuple[tuple[float, float], tuple[float, float], tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class Strip:
    """A rectangle of one zone (0 wall, 1 cover, 2 core) by its corners, in order round it."""

    zone: int
    corners: Quad


@dataclass(frozen=True)
class Inlay:
    """A profile or facing in the section: middle, size, hollow, whether it is round, and its palette name."""

    y: float
    z: float
    width: float
    height: float
    hollow: float
    round: bool
    colour: str


@dataclass(frozen=True)
class SectionPicture:
    """All strips at a position, the inlays there, the box, how the layers run, and the turn of the strips from level."""

    strips: tuple[Strip, ...]
    inlays: tuple[Inlay, ...]
    low_mm: tuple[float, float]
    high_mm: tuple[float, float]
    layers: str
    layer_mm: float
    beta_rad: float


def line_at(line: AxisLine, position_mm: float) -> AxisLine:
    """The axis at one position, between the positions it has."""
    i = int(np.clip(np.searchsorted(line.positions_mm, position_mm), 0, len(line.positions_mm) - 1))
    j = max(i - 1, 0)
    near = j if abs(line.positions_mm[j] - position_mm) < abs(line.positions_mm[i] - position_mm) else i
    frame = line.frame[near]
    origin = line.origin_mm[near] + (position_mm - line.positions_mm[near]) * frame[0]
    return line.of(np.array([position_mm]), origin[None], frame[None])


def section_picture(
    field: ZoneField, line: AxisLine, inserts: tuple[Insert, ...], positions_mm: Floats, position_mm: float
) -> SectionPicture:
    """The section at a position as printed."""
    here = line_at(line, position_mm)
    t = row_tables(field, here)
    strips = _strips(t)
    points = [c for s in strips for c in s.corners] or [(0.0, 0.0)]
    inlays = []
    near = int(np.argmin(np.abs(positions_mm - position_mm))) if len(positions_mm) else 0
    for i in inserts:
        if i.start_mm < position_mm < i.end_mm:
            w, h = float(i.width_mm[near]), float(i.height_mm[near])
            y, z = float(i.y_mm[near]), float(i.z_mm[near])
            colour = "glass" if i.kind == "glass skin" else "carbon"
            inlays.append(Inlay(y, z, w, h, i.hollow_mm, i.shape == "round", colour))
            points += [(y - w / 2, z - h / 2), (y + w / 2, z + h / 2)]
    ys, zs = [p[0] for p in points], [p[1] for p in points]
    lean = abs(float(here.frame[0, 0] @ field.normal))
    tilt = abs(math.degrees(float(t.beta_rad[0]))) % 180
    if lean > 0.97:
        layers = "facing you"
    elif lean > 0.05:
        layers = "askew"
    else:
        layers = "level" if min(tilt, 180 - tilt) < 8 else "upright" if abs(tilt - 90) < 8 else "leaning"
    return SectionPicture(
        tuple(strips), tuple(inlays), (min(ys), min(zs)), (max(ys), max(zs)), layers, field.recipe.layer_height_mm, float(t.beta_rad[0])
    )  # fmt: skip


def _strips(t: RowTables) -> list[Strip]:
    half = float(t.pitch_mm[0]) / 2
    c, s = math.cos(t.beta_rad[0]), math.sin(t.beta_rad[0])
    out = []
    spans = [_spans(t, i) for i in range(3)]
    for row in range(len(t.rows_mm)):
        outer, inner, core = (span.get(int(rows[row]), []) for span, rows in zip(spans, t.slice_of_row, strict=True))
        r = float(t.rows_mm[row, 0])
        for zone, pieces in ((0, _less(outer, inner)), (1, _less(inner, core)), (2, core)):
            for a, b in pieces:
                if b - a < 1e-6:
                    continue
                corners = [(c * v - s * q, s * v + c * q) for v, q in ((a, r - half), (b, r - half), (b, r + half), (a, r + half))]
                out.append(Strip(zone, (corners[0], corners[1], corners[2], corners[3])))
    return out


def _spans(t: RowTables, region: int) -> dict[int, list[tuple[float, float]]]:
    c = t.crossings[region]
    out: dict[int, list[tuple[float, float]]] = {}
    for at in np.unique(c.slice):
        values: Floats = np.sort(c.value[c.slice == at])
        out[int(at)] = [(float(values[i]), float(values[i + 1])) for i in range(0, len(values) - 1, 2)]
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
