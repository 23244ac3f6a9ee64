"""Core patterns as roads. Every pattern that ``structure`` homogenises is drawn here by the same geometry.

The density fixes the spacing: road length per area times line width is the density, averaged over the height for patterns that
change with it.

* lines: one family, turned a quarter every layer;
* grid, triangles: two and three families through the same points in every layer;
* cubic: three families of upright-leaning planes (normals 54.7 degrees from the layers), so each family moves with the height;
* honeycomb: hexagon walls, each laid once: a zigzag and the links between neighbouring zigzags;
* gyroid: level lines of sin x cos y + sin y cos z + sin z cos x = 0, solved in closed form for one coordinate;
* concentric: offsets of the core's own outline.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
import shapely
from manifold3d import CrossSection, JoinType

from fravik.shape.outline import pieces_of

from .hatch import hatch
from .zones import Floats, Ints

FAMILIES: dict[str, tuple[float, ...]] = {
    "lines": (0.0,),
    "grid": (0.0, math.pi / 2),
    "triangles": (0.0, math.pi / 3, 2 * math.pi / 3),
    "cubic": (0.0, 2 * math.pi / 3, 4 * math.pi / 3),
}
GYROID_PHASES = 32
GYROID_STEPS = 24


def is_curved(pattern: str) -> bool:
    """Whether roads of the pattern are long chains rather than single straight lines."""
    return pattern in ("honeycomb", "gyroid", "concentric")


@lru_cache
def gyroid_length() -> float:
    """Mean length of the gyroid's level lines in a cell of side 1, averaged over the height."""
    total = 0.0
    for k in range(GYROID_PHASES):
        for line in _gyroid_waves((k + 0.5) / GYROID_PHASES, 96):
            total += float(np.hypot(*np.diff(line, axis=0).T).sum())
    return total / GYROID_PHASES


def period_mm(pattern: str, density: float, line_width_mm: float) -> float:
    """Height after which the pattern's layers repeat: 0 when every layer is alike."""
    if pattern == "gyroid":
        return gyroid_length() * line_width_mm / density
    if pattern == "cubic":
        return 3 * line_width_mm / density * math.sqrt(2.0)
    return 0.0


def phase_of(pattern: str, density: float, line_width_mm: float, layer: int, middle_mm: float) -> int:
    """A whole number for what the pattern looks like in a layer; layers with the same number are alike."""
    if pattern == "lines":
        return layer % 2
    period = period_mm(pattern, density, line_width_mm)
    return round(middle_mm / period * GYROID_PHASES) % GYROID_PHASES if period > 0 else 0


def core_roads(core: CrossSection, pattern: str, density: float, line_width_mm: float, angle_deg: float, phase: int) -> list[Floats]:
    """Roads over the core as polylines (n, 2), each inside it. ``phase`` is from ``phase_of``."""
    if core.is_empty() or density <= 0:
        return []
    angle = math.radians(angle_deg)
    if pattern == "concentric":
        return _concentric(core, line_width_mm / density)
    if pattern in FAMILIES:
        out: list[Floats] = []
        spacing = len(FAMILIES[pattern]) * line_width_mm / density
        for family in FAMILIES[pattern]:
            way, shift = angle + family, 0.0
            if pattern == "lines":
                way += (phase % 2) * math.pi / 2
            if pattern == "cubic":
                shift = spacing * phase / GYROID_PHASES
            out += list(hatch(core, way, spacing, shift, line_width_mm / 2))
        return out
    u0, v0, u1, v1 = core.bounds()
    middle, reach = np.array([(u0 + u1) / 2, (v0 + v1) / 2]), math.hypot(u1 - u0, v1 - v0) / 2
    c, s = math.cos(angle), math.sin(angle)
    turn = np.array([[c, -s], [s, c]])
    own = turn.T @ middle
    if pattern == "gyroid":
        cell = gyroid_length() * line_width_mm / density
        lines = _tiled_waves(own, reach, cell, (phase + 0.5) / GYROID_PHASES)
        points, owner = np.concatenate(lines), np.repeat(np.arange(len(lines)), [len(line) for line in lines])
        return _clipped(points @ turn.T, owner, core, line_width_mm / 2)
    points, owner = _honeycomb(own, reach, 2 * line_width_mm / (math.sqrt(3.0) * density))
    points, owner = _in_steps(*_near(points @ turn.T, owner, core), line_width_mm)
    return _clipped(points, owner, core, line_width_mm / 2)


def _concentric(core: CrossSection, spacing: float) -> list[Floats]:
    out: list[Floats] = []
    inside = core.offset(-spacing / 2, JoinType.Miter, 2.0)
    while not inside.is_empty():
        out += [np.vstack([p, p[:1]]) for p in (np.asarray(q, dtype=np.float64) for q in inside.to_polygons())]
        inside = inside.offset(-spacing, JoinType.Miter, 2.0)
    return out


def _gyroid_waves(height: float, steps: int) -> list[Floats]:
    """Level lines of the gyroid at a height (in cells) over one cell of side 1, as waves along x or, where those break, along y."""
    z = 2 * math.pi * height
    a, b = math.cos(z), math.sin(z)
    t = np.linspace(0, 2 * math.pi, steps + 1)
    if abs(a) >= abs(b):  # sin x cos y + a sin y = -b cos x, a full wave for every x
        size, lead = np.hypot(np.sin(t), a), np.arctan2(np.sin(t), a)
        bow = np.arcsin(np.clip(-b * np.cos(t) / size, -1, 1))
        both = [np.unwrap(bow - lead), np.unwrap(math.pi - bow - lead)]
        return [np.column_stack([t, w]) / (2 * math.pi) for w in both]
    size, lead = np.hypot(np.cos(t), b), np.arctan2(b, np.cos(t))  # cos y sin x + b cos x = -a sin y, a full wave for every y
    bow = np.arcsin(np.clip(-a * np.sin(t) / size, -1, 1))
    both = [np.unwrap(bow - lead), np.unwrap(math.pi - bow - lead)]
    return [np.column_stack([w, t]) / (2 * math.pi) for w in both]


def _tiled_waves(middle: Floats, reach: float, cell: float, height: float) -> list[Floats]:
    """The gyroid's waves at a height, drawn over a disk."""
    waves = _gyroid_waves(height, GYROID_STEPS)
    along = 0 if abs(math.cos(2 * math.pi * height)) >= abs(math.sin(2 * math.pi * height)) else 1
    low = np.floor((middle - reach) / cell).astype(int) - 1
    high = np.ceil((middle + reach) / cell).astype(int) + 1
    out: list[Floats] = []
    for wave in waves:
        drift = wave[-1, 1 - along] - wave[0, 1 - along]
        runs = []
        for i in range(low[along], high[along]):
            piece = wave[:-1].copy()
            piece[:, along] += i
            piece[:, 1 - along] += drift * i
            runs.append(piece)
        whole = np.concatenate(runs)
        slack = math.ceil(abs(drift) * max(abs(low[along]), abs(high[along]))) + 1
        for j in range(low[1 - along] - slack, high[1 - along] + slack):
            line = whole.copy()
            line[:, 1 - along] += j
            out.append(line * cell)
    return out


def _honeycomb(middle: Floats, reach: float, side: float) -> tuple[Floats, Ints]:
    """Hexagon walls over a disk: zigzags along x, and the upright links between them. Points (n, 2) and the chain of each (n,)."""
    wide, tall = math.sqrt(3.0) * side, 1.5 * side
    i0, i1 = math.floor((middle[0] - reach) / wide) - 1, math.ceil((middle[0] + reach) / wide) + 1
    j0, j1 = math.floor((middle[1] - reach) / tall) - 1, math.ceil((middle[1] + reach) / tall) + 1
    step, row = np.arange(2 * (i1 - i0) + 1), np.arange(j0, j1 + 1)
    x = np.broadcast_to(i0 * wide + step * wide / 2, (len(row), len(step)))
    up = (step + row[:, None]) % 2
    y = row[:, None] * tall + up * side / 2
    zigzag = np.stack([x, y], axis=-1).reshape(-1, 2)
    foot = np.stack([x, y], axis=-1)[up == 1]
    links = np.stack([foot, foot + np.array([0.0, side])], axis=1)
    owner = np.concatenate([np.repeat(np.arange(len(row)), len(step)), len(row) + np.repeat(np.arange(len(links)), 2)])
    return np.concatenate([zigzag, links.reshape(-1, 2)]), owner


def _near(points: Floats, owner: Ints, region: CrossSection) -> tuple[Floats, Ints]:
    """Chains cut down to where they may meet the region's box; a chain that leaves and comes back becomes two."""
    u0, v0, u1, v1 = region.bounds()
    low, high = np.array([u0, v0]), np.array([u1, v1])
    a, b = np.minimum(points[1:], points[:-1]), np.maximum(points[1:], points[:-1])
    move = (owner[1:] == owner[:-1]) & ((b >= low) & (a <= high)).all(axis=1)
    kept = np.zeros(len(points), dtype=bool)
    kept[1:] |= move
    kept[:-1] |= move
    chain = np.cumsum(np.concatenate([[True], ~move]))
    return points[kept], chain[kept]


def _in_steps(points: Floats, owner: Ints, step_mm: float) -> tuple[Floats, Ints]:
    """The chains with points no farther apart than a step."""
    if len(points) < 2:
        return points, owner
    way = np.diff(points, axis=0, append=points[-1:])
    joined = np.append(owner[1:] == owner[:-1], False)
    cuts = np.where(joined, np.maximum(1, np.ceil(np.hypot(*way.T) / step_mm)), 1).astype(np.int64)
    at = np.repeat(np.arange(len(points)), cuts)
    t = (np.arange(len(at)) - np.repeat(np.cumsum(cuts) - cuts, cuts)) / cuts[at]
    return points[at] + t[:, None] * way[at], owner[at]


def _clipped(points: Floats, owner: Ints, region: CrossSection, least_mm: float) -> list[Floats]:
    """Chains of short steps cut to a region, pieces shorter than ``least_mm`` left out.

    A step counts as inside when both its ends are; where one end is, the crossing is found by halving.
    """
    points, owner = _near(points, owner, region)
    if len(points) < 2:
        return []
    area = polygons_of(region)
    shapely.prepare(area)
    inside = shapely.contains_xy(area, points[:, 0], points[:, 1])
    joined = owner[1:] == owner[:-1]
    over = np.flatnonzero(joined & (inside[1:] != inside[:-1]))
    a, b = points[over], points[over + 1]
    enters = ~inside[over]
    a, b = np.where(enters[:, None], b, a), np.where(enters[:, None], a, b)
    for _ in range(12):
        mid = (a + b) / 2
        good = shapely.contains_xy(area, mid[:, 0], mid[:, 1])[:, None]
        a, b = np.where(good, mid, a), np.where(good, b, mid)
    kept = np.flatnonzero(inside)
    # a road begins where it enters, or with the first point of a chain that is inside already
    fresh = np.concatenate([[True], ~joined])[kept]
    rank = np.argsort(np.concatenate([2 * kept, 2 * over + 1]), kind="stable")
    every = np.concatenate([points[kept], a])[rank]
    piece = np.cumsum(np.concatenate([fresh, enters])[rank])
    return _split(every, piece, least_mm)


def _split(points: Floats, piece: Ints, least_mm: float) -> list[Floats]:
    """Flat chains as a list, without points that lie straight between their neighbours and without pieces that are too short."""
    if len(points) < 2:
        return []
    way = np.diff(points, axis=0)
    size = np.hypot(*way.T)
    same = piece[1:] == piece[:-1]
    long = np.bincount(piece[:-1], np.where(same, size, 0.0), piece[-1] + 1)
    way = way / np.maximum(size, 1e-12)[:, None]
    straight = np.zeros(len(points), dtype=bool)
    straight[1:-1] = same[1:] & same[:-1] & (np.abs(way[:-1, 0] * way[1:, 1] - way[:-1, 1] * way[1:, 0]) < 1e-6)
    keep = ~straight & (long[piece] >= least_mm)
    points, piece = points[keep], piece[keep]
    return np.split(points, np.flatnonzero(np.diff(piece)) + 1) if len(points) else []


def polygons_of(region: CrossSection) -> shapely.Geometry:
    """A region as a valid (multi)polygon."""
    parts = []
    for piece in pieces_of(region):
        rings = sorted((np.asarray(p, dtype=np.float64) for p in piece.to_polygons() if len(p) > 2), key=lambda p: -abs(loop_area_mm2(p)))
        if rings:
            parts.append(shapely.Polygon(rings[0], rings[1:]))
    return shapely.make_valid(shapely.MultiPolygon(parts))


def loop_area_mm2(loop: Floats) -> float:
    """Signed area of a closed loop (n, 2), positive counter-clockwise."""
    x, y = loop.T
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2
