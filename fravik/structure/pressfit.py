"""A hub pressed on a shaft, with or without a softer bush in it: thick rings under pressure (Lamé 1852), in plane stress.

A ring from r_i to r_o under p inside and q outside moves outwards at r by

    u = (1 - nu)/E (p r_i^2 - q r_o^2) r/(r_o^2 - r_i^2) + (1 + nu)/E r_i^2 r_o^2 (p - q)/((r_o^2 - r_i^2) r)

The shaft is metal and does not give. What the fit grips by is its pressure times friction.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

# friction on metal, dry: of flexible plastics, and of stiff ones; working assumptions
SOFT_FRICTION, FRICTION = 0.4, 0.2


@dataclass(frozen=True)
class Elastic:
    """A plastic in the hub's plane."""

    modulus_mpa: float
    poisson: float


def ring_mm(of: Elastic, inner_mm: float, outer_mm: float, inside_mpa: float, outside_mpa: float, at_mm: float) -> float:
    """How far a ring moves outwards at a radius."""
    a2, b2 = inner_mm**2, outer_mm**2
    whole = (1 - of.poisson) / of.modulus_mpa * (inside_mpa * a2 - outside_mpa * b2) * at_mm / (b2 - a2)
    return whole + (1 + of.poisson) / of.modulus_mpa * a2 * b2 * (inside_mpa - outside_mpa) / ((b2 - a2) * at_mm)


def pressures_mpa(
    shaft_mm: float, seat_mm: float, hub_mm: float, bush: Elastic | None, hub: Elastic, on_shaft_mm: float, in_hub_mm: float
) -> tuple[float, float]:
    """At the shaft and at the bush's seat in the hub; all sizes are diameters. ``on_shaft_mm`` and ``in_hub_mm`` are by how much shaft
    and bush are too large for what they go in. Without a bush both are that on the shaft."""
    a, b, c = shaft_mm / 2, seat_mm / 2, hub_mm / 2
    if bush is None:
        p = max(on_shaft_mm, 0.0) / 2 / ring_mm(hub, a, c, 1.0, 0.0, a)
        return p, p
    give = ring_mm(hub, b, c, 1.0, 0.0, b) - ring_mm(bush, a, b, 0.0, 1.0, b)
    inside = np.array([[ring_mm(bush, a, b, 1.0, 0.0, a), ring_mm(bush, a, b, 0.0, 1.0, a)], [-ring_mm(bush, a, b, 1.0, 0.0, b), give]])
    p, q = np.linalg.solve(inside, [on_shaft_mm / 2, in_hub_mm / 2])
    return max(float(p), 0.0), max(float(q), 0.0)


def grip_nmm(diameter_mm: float, long_mm: float, pressure_mpa: float, friction: float) -> float:
    """Torque at which a fit slips."""
    return math.pi * diameter_mm**2 / 2 * long_mm * pressure_mpa * friction


def hoop_mpa(inner_mm: float, outer_mm: float, pressure_mpa: float) -> float:
    """Pull round the hole of a ring under pressure inside; diameters."""
    return pressure_mpa * (outer_mm**2 + inner_mm**2) / (outer_mm**2 - inner_mm**2)
