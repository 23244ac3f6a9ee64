"""The wind that a craft can hold its place in.

Leaning, its thrust carries the weight W and balances the drag D = 1/2 rho C A v^2 of what the wind meets: tan(lean) = D / W and
T = sqrt(W^2 + D^2). Thrust falls as air comes at the disk from the front, in proportion to the part of the wind along the shaft, to
nothing at the speed at which the propeller screws through: T(v) = T_0 (1 - v sin(lean) / v_0), v_0 = SCREWS times pitch times speed.
Limits: the area of the level craft, a bluff body's drag with its band, even wind; rotors' own drag and their wash are left out.
"""

from __future__ import annotations

import math

from fravik.library.air import DENSITY_KG_M3

# flat plates across the wind have 1.2, cubes 1.05, round arms less: (least, usual, most), a working assumption
DRAG = (0.8, 1.1, 1.4)
SCREWS = 1.15  # a propeller gives no thrust at a little over its pitch a turn: a working assumption
TO_STEER = 0.15  # of the thrust, kept to steer with
FASTEST_M_S = 80.0


def wind_held_m_s(weight_n: float, full_n: float, area_mm2: float, screw_m_s: float, drag: float = DRAG[1]) -> float:
    """The strongest even wind in which it keeps its place; 0 where it cannot even hover. ``full_n`` is the thrust of all rotors in still
    air, ``screw_m_s`` pitch times revolutions per second."""
    most = (1 - TO_STEER) * full_n
    if most <= weight_n:
        return 0.0
    force = 0.5 * DENSITY_KG_M3 * drag * area_mm2 * 1e-6

    def holds(v: float) -> bool:
        across = force * v * v
        needed = math.hypot(weight_n, across)
        return needed <= most * (1 - v * across / needed / (SCREWS * screw_m_s))

    low, high = 0.0, FASTEST_M_S
    if holds(high):
        return high
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if holds(middle) else (low, middle)
    return low
