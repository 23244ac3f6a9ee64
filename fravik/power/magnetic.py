"""The magnetic field of the pack's leads, and how far it turns a compass.

A straight lead from a to b with a current I gives at a point the field of Biot and Savart, B = mu_0 I / (4 pi d) (cos t_a - cos t_b), at
right angles to lead and distance d. Current goes out in one lead and back in the other beside it, so that most of it cancels; how the pair
is twisted is not known, and the worst way is taken. Limits: straight leads, no steel, no magnets of the motors.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
MU_0 = 4e-7 * math.pi
# what turns a compass needle home: 18 to 30 microtesla at the latitudes of most people
EARTH_LEVEL_UT = 20.0


def lead_field_ut(a_mm: Floats, b_mm: Floats, at_mm: Floats, current_a: float) -> Floats:
    """(3,) microtesla at a point, of a current from a to b."""
    along = b_mm - a_mm
    length = float(np.linalg.norm(along))
    if length == 0.0:
        return np.zeros(3)
    along = along / length
    to = at_mm - a_mm
    off = to - (to @ along) * along
    d = float(np.linalg.norm(off))
    if d < 1e-9:
        return np.zeros(3)
    far_a, far_b = float(np.linalg.norm(to)), float(np.linalg.norm(at_mm - b_mm))
    share = (to @ along) / far_a + ((b_mm - at_mm) @ along) / far_b
    size = MU_0 * current_a / (4 * math.pi * d * 1e-3) * share * 1e6
    return np.asarray(size * np.cross(along, off / d), dtype=np.float64)


def pair_field_ut(a_mm: Floats, b_mm: Floats, at_mm: Floats, current_a: float, apart_mm: float) -> Floats:
    """(3,) microtesla of a pair of leads, out and back, lying the worst way round each other: that with the largest level field."""
    along = (b_mm - a_mm) / max(float(np.linalg.norm(b_mm - a_mm)), 1e-12)
    first = np.cross(along, (0.0, 0.0, 1.0) if abs(along[2]) < 0.9 else (1.0, 0.0, 0.0))
    first = first / np.linalg.norm(first)
    best = np.zeros(3)
    for turn in np.linspace(0.0, math.pi, 24, endpoint=False):
        side = apart_mm / 2 * (math.cos(turn) * first + math.sin(turn) * np.cross(along, first))
        field = lead_field_ut(a_mm + side, b_mm + side, at_mm, current_a) - lead_field_ut(a_mm - side, b_mm - side, at_mm, current_a)
        if np.hypot(field[0], field[1]) > np.hypot(best[0], best[1]):
            best = field
    return best


def turned_deg(field_ut: Floats) -> float:
    """The most that a compass is turned by a field beside the earth's, whatever way the craft heads; 180 where it outweighs it."""
    level = float(np.hypot(field_ut[0], field_ut[1]))
    return math.degrees(math.asin(level / EARTH_LEVEL_UT)) if level < EARTH_LEVEL_UT else 180.0
