"""What a camera sees of its own craft: surfaces projected into its picture through a pinhole, and the share of the picture they cover.

A picture is a raster of rays, evenly spaced in the picture's plane; a ray counts as covered when any triangle in front of the lens lies
on it. Limits: no lens distortion, a sharp edge where a real lens near by blurs, and a raster's own grain.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
COLUMNS, ROWS = 80, 60  # a picture of four to three
NEAREST_MM = 0.5


def axes(up_deg: float) -> Floats:
    """(3, 3) rows: forward, left and up of a camera whose lens is raised by an angle from straight ahead."""
    a = math.radians(up_deg)
    return np.array([[math.cos(a), 0.0, math.sin(a)], [0.0, 1.0, 0.0], [-math.sin(a), 0.0, math.cos(a)]])


def seen(triangles_mm: Floats, lens_mm: Floats, up_deg: float, view_deg: float) -> Floats:
    """(k, 3, 2) triangles (n, 3, 3) as they fall into the picture, in half widths from its middle, left and up; those behind cut off."""
    local = (triangles_mm - lens_mm) @ axes(up_deg).T
    local = _in_front(local)
    half = math.tan(math.radians(view_deg) / 2)
    return np.asarray(local[:, :, 1:] / (local[:, :, :1] * half))


def _in_front(local: Floats) -> Floats:
    """Triangles cut at the plane just before the lens."""
    ahead = local[:, :, 0] > NEAREST_MM
    count = ahead.sum(axis=1)
    out = [local[count == 3]]
    for t, front in zip(local[(count > 0) & (count < 3)], ahead[(count > 0) & (count < 3)], strict=True):
        kept: list[Floats] = []
        for i in range(3):
            a, b = t[i], t[(i + 1) % 3]
            if front[i]:
                kept.append(a)
            if front[i] != front[(i + 1) % 3]:
                s = (NEAREST_MM - a[0]) / (b[0] - a[0])
                kept.append(a + s * (b - a))
        out.append(np.array([[kept[0], kept[i], kept[i + 1]] for i in range(1, len(kept) - 1)]))
    return np.concatenate(out)


def picture(flat: Floats, columns: int = COLUMNS, rows: int = ROWS) -> Bools:
    """(rows, columns) which rays of the picture are covered by triangles (k, 3, 2) in half widths; the top row first."""
    tall = rows / columns
    u = (np.arange(columns) + 0.5) / columns * -2 + 1  # left to right
    v = ((np.arange(rows) + 0.5) / rows * -2 + 1) * tall
    out = np.zeros((rows, columns), dtype=bool)
    low, high = flat.min(axis=1), flat.max(axis=1)
    near = (low[:, 0] < 1) & (high[:, 0] > -1) & (low[:, 1] < tall) & (high[:, 1] > -tall)
    for t, a, b in zip(flat[near], low[near], high[near], strict=True):
        i = slice(int(np.searchsorted(-u, -b[0])), int(np.searchsorted(-u, -a[0], "right")))
        j = slice(int(np.searchsorted(-v, -b[1])), int(np.searchsorted(-v, -a[1], "right")))
        spot = out[j, i]
        if spot.size == 0 or spot.all():
            continue
        x, y = np.meshgrid(u[i], v[j])
        side = [(q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0]) for p, q in ((t[0], t[1]), (t[1], t[2]), (t[2], t[0]))]
        spot |= ((side[0] >= 0) & (side[1] >= 0) & (side[2] >= 0)) | ((side[0] <= 0) & (side[1] <= 0) & (side[2] <= 0))
    return out


def covered(triangles_mm: Sequence[Floats], lens_mm: Floats, up_deg: float, view_deg: float) -> tuple[float, Bools]:
    """Share of a picture that surfaces cover, and the picture itself. ``triangles_mm``: (n, 3, 3) each."""
    out = np.zeros((ROWS, COLUMNS), dtype=bool)
    for some in triangles_mm:
        if len(some):
            out |= picture(seen(some, lens_mm, up_deg, view_deg))
    return float(out.mean()), out
