"""Sections painted on grids for finite elements: the share of wall, cover, core and inserts in every cell, all positions at once.

Grid lines are put where zones begin and end in most of the strips, so that walls, covers, carbon and voids fill whole cells.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .inserts import Insert
from .rows import RowTables

COLUMNS, ROWS = 20, 16
LEAST_GAP_MM, LEAST_GAP = 0.06, 0.004  # between grid lines; of the section's width
CLOSER = 0.45  # of the grid lines of a section that changes all the way, the share that goes where it changes
DUST = 1e-7
SUBPOINTS = 4


@dataclass(frozen=True)
class Painted:
    """Grids of all positions: edges v (S, C+1) and r (S, R+1), shares (3 + inserts, S, R, C); inserts follow the zones."""

    v_mm: Floats
    r_mm: Floats
    share: Floats


def _filled(breaks: list[float], count: int) -> list[float]:
    """``count`` cells between the first and last break, with every break a grid line and wide spaces divided more than narrow ones."""
    widths = [b - a for a, b in itertools.pairwise(breaks)]
    pieces = [1] * len(widths)
    # thin parts twist by what happens across them, so they get more cells than their width alone would
    weigh = [w**0.65 for w in widths]
    size = weigh.copy()
    for _ in range(count - len(widths)):
        k = size.index(max(size))
        pieces[k] += 1
        size[k] = weigh[k] / pieces[k]
    out = [a + w * i / n for a, w, n in zip(breaks, widths, pieces, strict=False) for i in range(n)]
    out.append(breaks[-1])
    return out


def _chosen(fixed: list[float], others: list[tuple[float, float]], most: int) -> list[float]:
    """The outer bounds, and of the other places the weightiest that keep their distance; sorted."""
    low, high = min(fixed), max(fixed)
    gap = max(LEAST_GAP_MM, LEAST_GAP * (high - low))
    if len(others) > most // 2:
        others = _spread(low, high, others, most - len(fixed) + 1)
    out = [low, high]
    for place, _ in [*((f, 0.0) for f in fixed), *sorted(others, key=lambda o: -o[1])]:
        if len(out) > most:
            break
        if low < place < high and all(abs(place - o) > gap for o in out):
            out.append(place)
    return sorted(out)


def _spread(low: float, high: float, changes: list[tuple[float, float]], count: int) -> list[tuple[float, float]]:
    """Grid lines of ``count`` cells in a section that changes all the way, as an askew one does: closer where it changes more.

    No single change decides over a line, so that sections almost alike, or alike but for their hand, get grids almost alike.
    """
    place, weight = np.array(sorted(changes)).T
    reach = (high - low) / count  # each change counts over the width of an even cell
    stops = np.unique(np.concatenate([[low, high], place - reach / 2, place + reach / 2]).clip(low, high))
    before = np.clip((stops[:, None] - place) / reach + 0.5, 0.0, 1.0) @ weight / weight.sum()
    so_far = CLOSER * before + (1 - CLOSER) * (stops - low) / (high - low)
    lines = np.interp(np.linspace(so_far[0], so_far[-1], count + 1)[1:-1], so_far, stops)
    return [(float(x), 1.0) for x in lines]


def _popular(
    position: NDArray[np.int64], values: Floats, weights: Floats, rim: NDArray[np.bool_], least: Floats, most: float
) -> list[list[tuple[float, float]]]:
    """At every position the places where many strips end (``least`` or more), with how many: values are gathered into clusters.

    The part's own ends weigh ``most`` more and come first. Values are sorted within each position.
    """
    out: list[list[tuple[float, float]]] = [[] for _ in least]
    if not len(values):
        return out
    start = np.flatnonzero((np.diff(values, prepend=-np.inf) > 0.05) | (np.diff(position, prepend=-1) != 0))
    at = position[start]
    for extra, counted in ((most, rim), (0.0, ~rim)):
        each = np.where(counted, weights, 0.0)
        sizes, sums = np.add.reduceat(each, start), np.add.reduceat(values * each, start)
        kept = np.flatnonzero(sizes >= least[at])
        for s, total, n in zip(at[kept].tolist(), sums[kept].tolist(), sizes[kept].tolist(), strict=True):
            out[s].append((total / n, n + extra))
    return out


def _row_breaks(tables: RowTables) -> tuple[NDArray[np.bool_], Floats]:
    """Strip boundaries (rows - 1, positions) where the make-up of the strips changes, and by how much."""
    widths = tables.zone_widths
    change = np.abs(np.diff(widths, axis=1)).sum(axis=0)
    scale = np.maximum(widths.sum(axis=0).max(axis=0), 1e-9)
    return change > 0.04 * scale, change


def paint(tables: RowTables, inserts: tuple[Insert, ...] = (), columns: int = COLUMNS, rows: int = ROWS) -> Painted:
    """Grids and shares at every position. Positions with nothing in them get a unit cell grid and no shares."""
    n = len(tables.positions_mm)
    columns, rows = columns + 2 * len(inserts), rows + 2 * len(inserts)
    v, r = np.zeros((n, columns + 1)), np.zeros((n, rows + 1))
    value, position, weight, rim = _all_ends(tables)
    begin = np.searchsorted(position, np.arange(n + 1))
    there = tables.moments[0, 0] > 1e-9
    breaks, change = _row_breaks(tables)
    # where the part itself ends comes before where its zones do
    popular = _popular(position, value, weight, rim, np.maximum(2.0, there.sum(axis=0) / 8), len(tables.rows_mm))
    boxes = [_bounds(i, tables.beta_rad) for i in inserts]
    for s in range(n):
        used = np.flatnonzero(there[:, s])
        if len(used) == 0:
            v[s], r[s] = np.linspace(0, 1, columns + 1), np.linspace(0, 1, rows + 1)
            continue
        a, b = int(used[0]), int(used[-1])
        here = slice(begin[s], begin[s + 1])
        half = float(tables.pitch_mm[s]) / 2
        fix_v = [float(value[here][0]), float(value[here][-1])]
        fix_r = [float(tables.rows_mm[a, s]) - half, float(tables.rows_mm[b, s]) + half]
        for box, insert in zip(boxes, inserts, strict=True):
            if insert.area_mm2[s] > 0:
                fix_v += [float(box[0][s]), float(box[1][s])]
                fix_r += [float(box[2][s]), float(box[3][s])]
        cuts = a + np.flatnonzero(breaks[a:b, s])
        steps = list(zip((tables.rows_mm[cuts, s] + half).tolist(), change[cuts, s].tolist(), strict=True))
        v[s] = _filled(_chosen(fix_v, popular[s], columns), columns)
        r[s] = _filled(_chosen(fix_r, steps, rows), rows)
    share = _shares(tables, v, r)
    return Painted(v, r, np.concatenate([share, _insert_shares(inserts, tables.beta_rad, v, r)]))


def _bounds(insert: Insert, beta: Floats) -> tuple[Floats, Floats, Floats, Floats]:
    """(v low, v high, r low, r high) of an insert's box at every position."""
    c, s = np.cos(beta), np.sin(beta)
    v, r = c * insert.y_mm + s * insert.z_mm, -s * insert.y_mm + c * insert.z_mm
    half_v = np.abs(c) * insert.width_mm / 2 + np.abs(s) * insert.height_mm / 2
    half_r = np.abs(s) * insert.width_mm / 2 + np.abs(c) * insert.height_mm / 2
    return v - half_v, v + half_v, r - half_r, r + half_r


def _all_ends(tables: RowTables) -> tuple[Floats, NDArray[np.int64], Floats, NDArray[np.bool_]]:
    """Ends of all zones' strips, sorted by position and coordinate: coordinate, position, the number of rows that show it, and whether the
    part ends there."""
    value = np.concatenate([c.value for c in tables.crossings])
    position = np.concatenate([c.position for c in tables.crossings])
    weight = np.concatenate([
        np.bincount(rows, minlength=int(c.slice.max(initial=0)) + 1)[c.slice].astype(float)
        for c, rows in zip(tables.crossings, tables.slice_of_row, strict=True)
    ])  # fmt: skip
    order = np.lexsort((value, position))
    rim = np.repeat([True, False, False], [len(c.value) for c in tables.crossings])
    return value[order], position[order], weight[order], rim[order]


def _shares(tables: RowTables, v: Floats, r: Floats) -> Floats:
    """Share of wall, cover and core in every cell, (3, S, R, C)."""
    n = len(tables.positions_mm)
    width = v.shape[1]
    half = tables.pitch_mm[None, :] / 2
    low, high = (tables.rows_mm - half).T[:, None, :], (tables.rows_mm + half).T[:, None, :]
    overlap = np.clip(np.minimum(r[:, 1:, None], high) - np.maximum(r[:, :-1, None], low), 0.0, None)
    overlap /= np.diff(r, axis=1)[:, :, None]
    cover = np.empty((3, n, r.shape[1] - 1, width))
    for i, (c, slices) in enumerate(zip(tables.crossings, tables.slice_of_row, strict=True)):
        count = int(slices.max()) + 1
        reach = np.minimum(c.value[:, None], v[c.position]) * c.sign[:, None]
        flat = ((c.position * count + c.slice) * width)[:, None] + np.arange(width)
        total = np.bincount(flat.ravel(), reach.ravel(), n * count * width).reshape(n, count, width)
        starts = np.flatnonzero(np.diff(slices, prepend=-1))
        if count < len(slices) and len(starts) == count:
            # runs of equal layers act as one thick layer
            cover[i] = np.add.reduceat(overlap, starts, axis=2) @ total[:, slices[starts]]
        else:
            cover[i] = overlap @ total[:, slices]
    share = np.diff(cover, axis=3) / np.diff(v, axis=1)[None, :, None, :]
    share[0] -= share[1]
    share[1] -= share[2]
    # dust left by the differences would join parts that nothing joins
    return np.where(share > DUST, np.minimum(share, 1.0), 0.0)


def _insert_shares(inserts: tuple[Insert, ...], beta: Floats, v: Floats, r: Floats) -> Floats:
    n, columns, rows = len(v), v.shape[1] - 1, r.shape[1] - 1
    out = np.zeros((len(inserts), n, rows, columns))
    if not inserts:
        return out
    spot = (np.arange(SUBPOINTS) + 0.5) / SUBPOINTS
    vs = (v[:, :-1, None] + np.diff(v, axis=1)[..., None] * spot).reshape(n, 1, -1)
    rs = (r[:, :-1, None] + np.diff(r, axis=1)[..., None] * spot).reshape(n, -1, 1)
    c, s = np.cos(beta)[:, None, None], np.sin(beta)[:, None, None]
    y, z = c * vs - s * rs, s * vs + c * rs
    for k, insert in enumerate(inserts):
        inside = insert.covers(y, z) & (insert.area_mm2 > 0)[:, None, None]
        out[k] = inside.reshape(n, rows, SUBPOINTS, columns, SUBPOINTS).mean(axis=(2, 4))
    return out


def solid_cells(painted: Painted) -> NDArray[np.bool_]:
    """Cells that hold anything, (S, R, C)."""
    return np.asarray(painted.share.sum(axis=0) > 0.02)
