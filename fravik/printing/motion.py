"""The printer's motion: what order roads are laid in, and how long a path takes.

Straight moves with constant acceleration. Through a corner the speed may jump by the printer's corner speed: with a turn of theta the
nozzle keeps v = corner / (2 sin(theta / 2)), since that is the size of the change of velocity; a full stop where it retracts. A chain
of short chords with gentle turns is a curve: there it may go as fast as the acceleration allows on the curve's radius, v^2 = a R, with
R = L / (2 tan(theta / 2)), so that finer chords do not change the answer. A
forward and a backward pass keep every move within its acceleration (v2^2 <= v1^2 + 2 a L), then each move is a trapezoid or a triangle.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

# turns up to 36 degrees between chords are taken as a curve
CURVE_HALF_SINE = 0.309

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


@njit(cache=True)
def order_roads(
    points: Floats, first: Ints, closed: Bools, group: Ints, after: Ints, anywhere: bool, u: float, v: float
) -> tuple[Ints, Ints]:
    """The next road is always the nearest of its group, groups in rising order: (roads in order (m,), point each starts at (m,)).

    A road waits for the one of its group that ``after`` names (-1 for none), so walls of one contour follow one another.
    ``points`` (n, 2) holds all roads, road i from ``first[i]`` to ``first[i + 1]``.
    An open road may be run from either end, a closed
    one starts at its first point, or ``anywhere``. The nozzle starts at (u, v).
    """
    m = len(first) - 1
    order = np.empty(m, np.int64)
    start = np.empty(m, np.int64)
    done = np.zeros(m, np.bool_)
    begin = 0
    made = 0
    while begin < m:
        stop = begin
        while stop < m and group[stop] == group[begin]:
            stop += 1
        for _ in range(stop - begin):
            best, where, near = -1, 0, np.inf
            for i in range(begin, stop):
                if done[i] or (after[i] >= 0 and not done[after[i]]):
                    continue
                a, b = first[i], first[i + 1]
                step = 1
                last = b - 1
                if closed[i]:
                    if not anywhere:
                        last = a
                else:
                    step = max(1, b - 1 - a)
                for j in range(a, last + 1, step):
                    d = (points[j, 0] - u) ** 2 + (points[j, 1] - v) ** 2
                    if d < near:
                        best, where, near = i, j, d
            done[best] = True
            order[made], start[made] = best, where
            made += 1
            if closed[best]:
                u, v = points[where, 0], points[where, 1]
            else:
                end = first[best + 1] - 1 if where == first[best] else first[best]
                u, v = points[end, 0], points[end, 1]
        begin = stop
    return order, start


@njit(cache=True)
def move_seconds(points: Floats, speed: Floats, accel: Floats, stop: Bools, corner: float) -> Floats:
    """Seconds of every move along a path (n,): from ``points[i]`` to ``points[i + 1]``, points (n + 1, 2) or (n + 1, 3).

    ``speed`` mm/s and ``accel`` mm/s2 are each move's own (n,); the path starts, ends, and before every move with ``stop`` is at rest.
    """
    n = len(speed)
    length = np.empty(n)
    for i in range(n):
        total = 0.0
        for k in range(points.shape[1]):
            total += (points[i + 1, k] - points[i, k]) ** 2
        length[i] = np.sqrt(total)
    v = np.zeros(n + 1)
    curved = np.zeros(n + 1, np.bool_)
    for i in range(1, n):
        if stop[i]:
            continue
        limit = min(speed[i - 1], speed[i])
        if length[i - 1] > 1e-9 and length[i] > 1e-9:
            dot = 0.0
            for k in range(points.shape[1]):
                dot += (points[i, k] - points[i - 1, k]) * (points[i + 1, k] - points[i, k])
            cosine = min(1.0, max(-1.0, dot / (length[i - 1] * length[i])))
            half = np.sqrt((1.0 - cosine) / 2)
            if half * 2 * limit > corner:
                kept = corner / (2 * half)
                if half < CURVE_HALF_SINE:
                    short = min(length[i - 1], length[i])
                    radius = short * np.sqrt(1.0 - half * half) / (2 * half)
                    curved[i] = True
                    kept = max(corner, np.sqrt(min(accel[i - 1], accel[i]) * radius))
                limit = min(limit, kept)
        v[i] = limit
    cap = speed.copy()
    for i in range(1, n - 1):
        if curved[i] and curved[i + 1]:  # no spurts along the chords of a curve
            cap[i] = min(cap[i], max(v[i], v[i + 1]))
    for i in range(1, n + 1):
        v[i] = min(v[i], np.sqrt(v[i - 1] ** 2 + 2 * accel[i - 1] * length[i - 1]))
    for i in range(n - 1, -1, -1):
        v[i] = min(v[i], np.sqrt(v[i + 1] ** 2 + 2 * accel[i] * length[i]))
    out = np.zeros(n)
    for i in range(n):
        if length[i] <= 0.0:
            continue
        top = np.sqrt(accel[i] * length[i] + (v[i] ** 2 + v[i + 1] ** 2) / 2)
        if top <= cap[i]:
            out[i] = (2 * top - v[i] - v[i + 1]) / accel[i]
        else:
            ramps = (2 * cap[i] ** 2 - v[i] ** 2 - v[i + 1] ** 2) / (2 * accel[i])
            out[i] = (2 * cap[i] - v[i] - v[i + 1]) / accel[i] + (length[i] - ramps) / cap[i]
    return out
