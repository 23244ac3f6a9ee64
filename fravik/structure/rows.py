"""Sections of a printed part read off its zone field as strips: one strip a layer, cut by the plane of each position.

The crossings of region boundaries with the position's plane give the exact area and moments of wall, cover and core there,
with no drawing of the section in between. In a section, v runs along the layer's strip and r across the strips; y and z are
the section's own axes (across and up), turned from v and r by ``beta``.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from hashlib import blake2b

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats, Region, ZoneField

Ints = NDArray[np.int64]

END_ROWS = 40
STANDING_BELOW = 0.27
LEVEL_BELOW = 1e-9
FOLDS = 4


@dataclass(frozen=True)
class AxisLine:
    """Positions along a part: arc length (n,), points (n, 3) and frames (n, 3, 3) with rows along, across (y), up (z), in part axes.

    ``reach_mm`` bounds the section about its position, so that a curved part's far side is not taken for it; across alone where a part is
    much taller than it is wide and ``reach_up_mm`` bounds it upwards.
    """

    positions_mm: Floats
    origin_mm: Floats
    frame: Floats
    reach_mm: float = 1e9
    reach_up_mm: float | None = None

    @property
    def straight(self) -> bool:
        """Whether all sections share one frame."""
        return bool(np.allclose(self.frame, self.frame[0]))

    def of(self, positions_mm: Floats, origin_mm: Floats, frame: Floats) -> AxisLine:
        """Other positions of the same line."""
        return replace(self, positions_mm=positions_mm, origin_mm=origin_mm, frame=frame)

    def reaches(self, beta_rad: Floats) -> tuple[Floats, Floats]:
        """How far a section reaches along its strips and across them, (positions,) each; strips lie turned by ``beta_rad`` to its y."""
        c, s, up = np.abs(np.cos(beta_rad)), np.abs(np.sin(beta_rad)), self.reach_up_mm
        if up is None:
            return np.full(len(c), self.reach_mm), np.full(len(c), self.reach_mm)
        return c * self.reach_mm + s * up, s * self.reach_mm + c * up


def straight_line(positions_mm: Floats) -> AxisLine:
    """Positions along a part's own x axis."""
    n = len(positions_mm)
    origin = np.zeros((n, 3))
    origin[:, 0] = positions_mm
    return AxisLine(np.asarray(positions_mm, dtype=np.float64), origin, np.broadcast_to(np.eye(3), (n, 3, 3)))


@dataclass(frozen=True)
class Crossings:
    """Where region boundaries cross the positions: slice, position, coordinate v in the strip, +1 upper end or -1 lower end.

    Equal layers share a slice; ``RowTables.slice_of_row`` tells which slice a row shows.
    """

    slice: Ints
    position: Ints
    value: Floats
    sign: Floats


@dataclass(frozen=True)
class RowTables:
    """Strips of a part's sections before any material is chosen.

    ``moments`` (3 regions, 3 powers, rows, positions): integrals of 1, v, v^2 along each strip of outer, inner, core.
    ``rows_mm`` (rows, positions): r at the middle of each strip; ``pitch_mm`` (positions,) their height.
    ``frames`` (positions, 3, 3): rows x, v, r in part axes; ``beta_rad`` (positions,) turns y to v. ``weighed_by`` tells what they weigh,
    where that is not what they are worth in stiffness.
    """

    line: AxisLine
    rows_mm: Floats
    pitch_mm: Floats
    beta_rad: Floats
    frames: Floats
    moments: Floats
    crossings: tuple[Crossings, Crossings, Crossings]
    slice_of_row: tuple[Ints, Ints, Ints]
    weighed_by: RowTables | None = None

    @property
    def positions_mm(self) -> Floats:
        """Arc length at each position."""
        return self.line.positions_mm

    @cached_property
    def fingerprint(self) -> bytes:
        """What the strips hold, to a millionth of a millimetre: equal for sections that are equal, whatever else the part has."""
        ends = [x for c in self.crossings for x in (c.value, c.sign)]
        numbers = [self.line.positions_mm, self.rows_mm, self.pitch_mm, self.beta_rad, self.frames, self.moments, *ends]
        whole = [x for c in self.crossings for x in (c.slice, c.position)] + list(self.slice_of_row)
        digest = blake2b(digest_size=16)
        for x in numbers:
            digest.update(np.round(x * 1e6).astype(np.int64).tobytes())
        for i in whole:
            digest.update(np.ascontiguousarray(i).tobytes())
        return digest.digest()

    @cached_property
    def zone_sums(self) -> dict[str, Floats]:
        """Area and moments of wall, cover and core at each position in section axes, (3, positions): a, y, z, yy, zz, yz."""
        r, dr = self.rows_mm, self.pitch_mm
        zones = np.stack([self.moments[0] - self.moments[1], self.moments[1] - self.moments[2], self.moments[2]])
        w, first, second = zones[:, 0], zones[:, 1], zones[:, 2]
        a, v, vv = (m.sum(axis=1) * dr for m in (w, first, second))
        rr = (w * (r * r + dr * dr / 12)).sum(axis=1) * dr
        rs, vr = (w * r).sum(axis=1) * dr, (first * r).sum(axis=1) * dr
        c, s = np.cos(self.beta_rad), np.sin(self.beta_rad)
        return {
            "a": a, "y": c * v - s * rs, "z": s * v + c * rs,
            "yy": c * c * vv - 2 * c * s * vr + s * s * rr,
            "zz": s * s * vv + 2 * c * s * vr + c * c * rr,
            "yz": c * s * (vv - rr) + (c * c - s * s) * vr,
        }  # fmt: skip

    @cached_property
    def zone_widths(self) -> Floats:
        """Strip width of wall, cover, core, shape (3, rows, positions)."""
        w = self.moments[:, 0]
        return np.stack([w[0] - w[1], w[1] - w[2], w[2]])

    def take(self, index: Ints) -> RowTables:
        """The tables of some positions only."""
        n = len(self.positions_mm)
        new = np.full(n, -1)
        new[index] = np.arange(len(index))
        line = self.line.of(self.line.positions_mm[index], self.line.origin_mm[index], self.line.frame[index])
        cross = []
        for c in self.crossings:
            keep = new[c.position] >= 0
            cross.append(Crossings(c.slice[keep], new[c.position[keep]], c.value[keep], c.sign[keep]))
        return RowTables(line, self.rows_mm[:, index], self.pitch_mm[index], self.beta_rad[index], self.frames[index],
                         self.moments[..., index], (cross[0], cross[1], cross[2]), self.slice_of_row)  # fmt: skip

    @cached_property
    def strip_ends(self) -> tuple[Floats, Floats]:
        """Lowest and highest v of the part in every row, (rows, positions); NaN where there is nothing."""
        c, rows, n = self.crossings[0], self.slice_of_row[0], len(self.positions_mm)
        count = int(rows.max()) + 1 if len(rows) else 0
        low, high = np.full((count, n), np.inf), np.full((count, n), -np.inf)
        np.minimum.at(low, (c.slice, c.position), c.value)
        np.maximum.at(high, (c.slice, c.position), c.value)
        there = np.isfinite(low)
        return np.where(there, low, np.nan)[rows], np.where(there, high, np.nan)[rows]

    @cached_property
    def extents(self) -> Floats:
        """(y min, y max, z min, z max) of the whole section at each position; shape (4, positions)."""
        cos, sin = np.cos(self.beta_rad), np.sin(self.beta_rad)
        ys, zs = [], []
        for v in self.strip_ends:
            for half in (-self.pitch_mm / 2, self.pitch_mm / 2):
                r = self.rows_mm + half
                ys.append(cos * v - sin * r)
                zs.append(sin * v + cos * r)
        y, z = np.concatenate(ys), np.concatenate(zs)
        y, z = np.where(np.isnan(y).all(axis=0), 0.0, y), np.where(np.isnan(z).all(axis=0), 0.0, z)
        return np.stack([np.nanmin(y, axis=0), np.nanmax(y, axis=0), np.nanmin(z, axis=0), np.nanmax(z, axis=0)])


def _cut(p: Floats, q: Floats, normal: Floats, along: Floats, offset: Floats, origin: Floats) -> tuple[Ints, Ints, Floats, Floats]:
    """Edges p-q (n, 2) cut by lines normal . x = offset (n or 1, lines): (edge, line, coordinate along the line, sign)."""
    dp = p @ normal.T - offset
    dq = q @ normal.T - offset
    found = np.flatnonzero((dp <= 0) != (dq <= 0))  # of a flat array: many times as fast as of a table
    e, s = np.divmod(found, dp.shape[1])
    a, b = dp.ravel()[found], dq.ravel()[found]
    start = p[e]
    x = start + (a / (a - b))[:, None] * (q[e] - start)
    away, way = x - origin[s], along[s]
    return e, s, away[:, 0] * way[:, 0] + away[:, 1] * way[:, 1], np.where(b > a, -1.0, 1.0)


def _askew(region: Region, heights: Floats, along: Floats, tangent: Floats, origin: Floats, slope: Floats) -> Crossings:
    """Every layer is cut at its own place: give each layer its own copy of its slice's edges."""
    begin = np.searchsorted(region.slice_of_edge, np.arange(region.slices))
    count = np.bincount(region.slice_of_edge, minlength=region.slices)
    per_layer = count[region.slice_of_layer]
    layer = np.repeat(np.arange(len(region.slice_of_layer)), per_layer)
    offset = np.arange(len(layer)) - np.repeat(np.cumsum(per_layer) - per_layer, per_layer)
    edge = np.repeat(begin[region.slice_of_layer], per_layer) + offset
    at = (tangent[:, :2] * origin[:, :2]).sum(axis=1)[None, :] - slope[None, :] * (heights[layer][:, None] - origin[None, :, 2])
    e, s, value, sign = _cut(region.start[edge], region.end[edge], tangent[:, :2], along, at, origin[:, :2])
    return Crossings(layer[e], s, value, sign)


def _layered(field: ZoneField, line: AxisLine, tangent: Floats, origin: Floats) -> RowTables:
    """Positions whose planes stand up from the plate: strips are layers."""
    steep = np.hypot(tangent[:, 0], tangent[:, 1])
    along = np.stack([-tangent[:, 1], tangent[:, 0]], axis=1) / steep[:, None]
    rise = np.stack([-tangent[:, 2] * tangent[:, 0] / steep, -tangent[:, 2] * tangent[:, 1] / steep, steep], axis=1)
    cross, shown = [], []
    level = bool(np.abs(tangent[:, 2]).max() < LEVEL_BELOW)
    for region in (field.outer, field.inner, field.core):
        if level:
            at = (tangent[:, :2] * origin[:, :2]).sum(axis=1)[None, :]
            e, s, value, sign = _cut(region.start, region.end, tangent[:, :2], along, at, origin[:, :2])
            cross.append(Crossings(region.slice_of_edge[e], s, value, sign))
            shown.append(region.slice_of_layer)
        else:
            cross.append(_askew(region, field.heights_mm, along, tangent, origin, tangent[:, 2]))
            shown.append(np.arange(len(field.heights_mm)))
    rows = (field.heights_mm[:, None] - origin[None, :, 2]) / steep[None, :]
    back = field.rotation
    v = np.concatenate([along, np.zeros((len(along), 1))], axis=1) @ back
    frames = np.stack([line.frame[:, 0], v, rise @ back], axis=1)
    return _tables(line, rows, field.pitch_mm / steep, frames, cross, shown)


def _standing(field: ZoneField, line: AxisLine, origin: Floats) -> RowTables:
    """Positions that lie along the layers: each is one layer, cut into rows of constant z."""
    across = (line.frame[:, 1] @ field.rotation.T)[:, :2]
    up = (line.frame[:, 2] @ field.rotation.T)[:, :2]
    across, up = (d / np.linalg.norm(d, axis=1, keepdims=True) for d in (across, up))
    near = np.clip(np.searchsorted(field.heights_mm, origin[:, 2]), 0, len(field.heights_mm) - 1)
    bounds = []
    for s, layer in enumerate(near):
        e = _edges_of(field.outer, int(layer))
        r = (field.outer.start[e] - origin[s, :2]) @ up[s]
        v = (field.outer.start[e] - origin[s, :2]) @ across[s]
        r = r[(np.abs(v) < line.reach_mm) & (np.abs(r) < (line.reach_up_mm or line.reach_mm))]
        bounds.append((float(r.min()), float(r.max())) if len(r) else (0.0, 1e-3))
    low, high = min(b[0] for b in bounds), max(b[1] for b in bounds)
    pitch = max(high - low, 1e-3) / END_ROWS
    rows = low + pitch * (np.arange(END_ROWS) + 0.5)
    cross = []
    for region in (field.outer, field.inner, field.core):
        found: list[tuple[Ints, Ints, Floats, Floats]] = []
        for s, layer in enumerate(near):
            e = _edges_of(region, int(layer))
            home = origin[s, :2]
            lines = np.repeat(up[s][None], END_ROWS, axis=0)
            at = (rows + home @ up[s])[None, :]
            spot = home[None] + rows[:, None] * up[s][None]
            # the row's line runs along v with the part to its left where r grows, so signs turn over
            _, row, value, sign = _cut(region.start[e], region.end[e], lines, np.repeat(across[s][None], END_ROWS, axis=0), at, spot)
            hand = float(across[s, 0] * up[s, 1] - across[s, 1] * up[s, 0])
            found.append((row, np.full(len(row), s, dtype=np.int64), value, -sign * np.sign(hand)))
        cross.append(Crossings(*(np.concatenate([f[i] for f in found]) for i in range(4))))
    n = len(line.positions_mm)
    return _tables(line, np.repeat(rows[:, None], n, axis=1), np.full(n, pitch), np.asarray(line.frame), cross, [np.arange(END_ROWS)] * 3)


def _edges_of(region: Region, layer: int) -> slice:
    s = int(region.slice_of_layer[layer])
    a, b = np.searchsorted(region.slice_of_edge, [s, s + 1])
    return slice(int(a), int(b))


def _tables(line: AxisLine, rows: Floats, pitch: Floats, frames: Floats, cross: list[Crossings], shown: list[Ints]) -> RowTables:
    beta = np.arctan2((frames[:, 1] * line.frame[:, 2]).sum(axis=1), (frames[:, 1] * line.frame[:, 1]).sum(axis=1))
    if line.reach_mm < 1e8:
        reaches = line.reaches(beta)
        cross = [_within(c, s, rows, *reaches) for c, s in zip(cross, shown, strict=True)]
    return RowTables(
        line, rows, pitch, beta, frames, _moments(cross, shown, rows.shape), (cross[0], cross[1], cross[2]), (shown[0], shown[1], shown[2])
    )  # fmt: skip


def _moments(cross: list[Crossings], shown: list[Ints], shape: tuple[int, ...]) -> Floats:
    count, n = shape
    moments = np.zeros((3, 3, count, n))
    for i, (c, slices) in enumerate(zip(cross, shown, strict=True)):
        flat = c.slice * n + c.position
        size = (int(slices.max()) + 1) * n
        for power in range(3):
            weight = c.sign * c.value ** (power + 1) / (power + 1)
            moments[i, power] = np.bincount(flat, weight, size)[:size].reshape(-1, n)[slices]
    return moments


def with_crossings(tables: RowTables, cross: list[Crossings], shown: list[Ints]) -> RowTables:
    """The same sections with other strips in them; ends may count by less than the whole."""
    return RowTables(
        tables.line, tables.rows_mm, tables.pitch_mm, tables.beta_rad, tables.frames, _moments(cross, shown, tables.rows_mm.shape),
        (cross[0], cross[1], cross[2]), (shown[0], shown[1], shown[2]),
    )  # fmt: skip


def _within(c: Crossings, shown: Ints, rows: Floats, along: Floats, across: Floats) -> Crossings:
    keep = np.abs(c.value) < along[c.position]
    if len(shown) == len(rows) and (shown == np.arange(len(rows))).all():
        # every row has its own slice, so rows beyond the reach can be dropped too
        keep &= np.abs(rows[c.slice, c.position]) < across[c.position]
    c = Crossings(c.slice[keep], c.position[keep], c.value[keep], c.sign[keep])
    # what the reach cuts in two is another leg of the part: its near end goes too
    order = np.lexsort((c.value, c.slice, c.position))
    group = np.stack([c.position[order], c.slice[order]])
    new = np.r_[True, (np.diff(group, axis=1) != 0).any(axis=0)] if len(order) else np.zeros(0, dtype=bool)
    last = np.r_[new[1:], True] if len(order) else new
    lone = np.zeros(len(order), dtype=bool)
    lone[order] = (new & (c.sign[order] > 0)) | (last & (c.sign[order] < 0))
    return Crossings(c.slice[~lone], c.position[~lone], c.value[~lone], c.sign[~lone])


def row_tables(field: ZoneField, line: AxisLine) -> RowTables:
    """Strips of the sections at all positions of a part's axis."""
    tangent, origin = line.frame[:, 0] @ field.rotation.T, line.origin_mm @ field.rotation.T
    tangent = np.where(np.abs(tangent) < 1e-12, 0.0, tangent)
    standing = np.hypot(tangent[:, 0], tangent[:, 1]) < STANDING_BELOW
    if not standing.any():
        if np.abs(tangent[:, 2]).max() < LEVEL_BELOW:
            return _layered(field, line, tangent, origin)
        return _folded(field, line, tangent)
    if standing.all():
        return _standing(field, line, origin)
    parts = []
    for mask, make in ((~standing, True), (standing, False)):
        some = line.of(line.positions_mm[mask], line.origin_mm[mask], line.frame[mask])
        parts.append(_folded(field, some, tangent[mask]) if make else _standing(field, some, origin[mask]))
    return _merged(line, standing, parts[0], parts[1])


def _folded(field: ZoneField, line: AxisLine, tangent: Floats) -> RowTables:
    """Positions that cut the layers askew: planes a fraction of the layers' pitch apart are read and folded into one.

    Seen along the part the layers march through the section, so neighbouring planes fill in between one another's strips.
    """
    n = len(line.positions_mm)
    period = field.pitch_mm / np.maximum(np.abs(tangent[:, 2]), 0.05)
    shift = ((np.arange(FOLDS) + 0.5) / FOLDS - 0.5)[None, :] * period[:, None]
    origin = line.origin_mm[:, None] + shift[..., None] * line.frame[:, None, 0]
    many = line.of(np.repeat(line.positions_mm, FOLDS), origin.reshape(-1, 3), np.repeat(line.frame, FOLDS, axis=0))
    t = _layered(field, many, np.repeat(tangent, FOLDS, axis=0), many.origin_mm @ field.rotation.T)
    height = len(t.rows_mm)
    rows = t.rows_mm.reshape(height, n, FOLDS).transpose(0, 2, 1).reshape(height * FOLDS, n)
    order = np.argsort(rows, axis=0)
    rank = np.empty_like(order)
    np.put_along_axis(rank, order, np.arange(height * FOLDS)[:, None], axis=0)
    cross = []
    for c in t.crossings:
        position, fold = c.position // FOLDS, c.position % FOLDS
        cross.append(Crossings(rank[c.slice * FOLDS + fold, position], position, c.value, c.sign))
    shown = [np.arange(height * FOLDS)] * 3
    return _tables(line, np.sort(rows, axis=0), t.pitch_mm[::FOLDS] / FOLDS, t.frames[::FOLDS], cross, shown)


def _merged(line: AxisLine, standing: NDArray[np.bool_], layered: RowTables, upright: RowTables) -> RowTables:
    """Positions of both kinds in one table; rows that a position does not use are empty."""
    count = max(len(layered.rows_mm), len(upright.rows_mm))
    n = len(line.positions_mm)
    rows, pitch, frames = np.zeros((count, n)), np.zeros(n), np.zeros((n, 3, 3))
    pools: list[list[Crossings]] = [[], [], []]
    for t, mask in ((layered, ~standing), (upright, standing)):
        where = np.nonzero(mask)[0]
        extra = count - len(t.rows_mm)
        tail = t.rows_mm[-1] + t.pitch_mm * (np.arange(extra)[:, None] + 1)
        rows[:, where] = np.concatenate([t.rows_mm, tail])
        pitch[where], frames[where] = t.pitch_mm, t.frames
        for pool, c in zip(pools, t.crossings, strict=True):
            pool.append(Crossings(c.slice, where[c.position], c.value, c.sign))
    cross = [Crossings(*(np.concatenate([getattr(c, k) for c in pool]) for k in ("slice", "position", "value", "sign"))) for pool in pools]
    return _tables(line, rows, pitch, frames, cross, [np.arange(count)] * 3)
