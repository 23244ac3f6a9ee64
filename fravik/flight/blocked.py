"""What stands in a rotor's air, and the thrust that it takes.

Momentum theory gives T = 2 rho A v^2 with v the air's speed in the disk, and drag of an area S in air of speed w is 1/2 rho C S w^2: it
takes C/4 (S/A) (w/v)^2 of the thrust. Along the axis of a vortex tube w/v = 1 + z / sqrt(R^2 + z^2), z downstream: 2 far below, where the
air's pressure is the disk loading and a plate of C = 1 loses just its share of the disk. Limits: hover, an even disk whose wake does not
narrow, each body by its own plan as a bluff one; the swirl, and what the body does to the blades' own lift and noise, are left out.
"""

from __future__ import annotations

import math

from .wind import DRAG


def air_speed_ratio(below_mm: float, radius_mm: float) -> float:
    """Speed of the air on the axis over that in the disk, so far downstream of it; upstream below nothing."""
    return 1.0 + below_mm / math.hypot(radius_mm, below_mm)


def thrust_lost(blocked: float, below_mm: float, radius_mm: float, drag: float = DRAG[1]) -> float:
    """Share of a rotor's thrust that a body takes which covers a share of its disk, so far downstream of it."""
    return drag / 4 * blocked * air_speed_ratio(below_mm, radius_mm) ** 2
