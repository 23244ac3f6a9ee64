"""Blade pass: what a blade feels of the arm that it passes over.

Air that goes down past an arm is slowed over it and hurried beside it: round a cylinder of radius a in a stream V the vertical speed at
a height h and a distance x beside it differs by V a^2 (h^2 - x^2) / (h^2 + x^2)^2. That changes a blade's lift by its slope over its lift
coefficient, times the speed's share of the blade's own. Of what one blade feels in a turn the n-th harmonic is a^2 n / r^2 e^(-n h / r)
(the Fourier integral of the doublet), and of all B blades together those of B, 2 B and so on are left: the first is blade pass. Taken
at AT of the radius.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

AT = 0.75
SLOPE, LIFT = 5.2, 0.6  # of the sections of small blades, a radian; the lift coefficient that they hover at
LEAST = 0.003  # of the thrust: what gusts and the wash's own unsteadiness leave where no arm is near


def harmonic(n: int, half_mm: float, gap_mm: float, radius_mm: float) -> float:
    """Of the stream's speed, the n-th harmonic in a turn of what a blade feels at a radius, over an arm ``half_mm`` wide to either side and
    ``gap_mm`` below it."""
    return half_mm**2 * n / radius_mm**2 * math.exp(-n * gap_mm / radius_mm)


def blade_pass_share(blades: int, diameter_mm: float, crossed: Sequence[tuple[float, float]], wash_m_s: float, rpm: float) -> float:
    """Of a rotor's thrust, what pulses along its shaft at blade pass, over arms of half a width and so far under the blades (mm, each pair
    one); what they do is not in step, so their squares add."""
    radius = AT * diameter_mm / 2
    own = max(rpm * 2 * math.pi / 60.0 * radius * 1e-3, 1e-9)
    each = [harmonic(blades, half, max(gap, half), radius) for half, gap in crossed]
    return max(SLOPE / LIFT * wash_m_s / own * math.hypot(*each), LEAST)
