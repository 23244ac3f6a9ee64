"""A drawn propeller as the drive sees it: thrust, power, weight and inertia from its blade."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from fravik.model.blade import PropellerShape
from fravik.model.craft import Propeller
from fravik.shape.blade import as_printed_gmm, blade_mm3, blade_of, hub_mm3, propeller_mm3

from .bem import RHO, RINGS, Flown, Rotor, fly, ring_edges_mm, rotor_of
from .polars import Floats, section_polars

USUAL_ROUGH = 1.1  # drag of a printed face over a smooth one's, where its recipe plays no part
CRUISE_LOOKS = 60
FIRST_TIP_M_S, MOST_TIP_M_S = 75.0, 200.0


@lru_cache(maxsize=64)
def rotor(shape: PropellerShape, rough: float = USUAL_ROUGH, rings: int = RINGS) -> Rotor:
    """As the air sees it; ``rough`` is what its faces' steps do to drag."""
    blade, hub = blade_of(shape), shape.root_mm
    edges = ring_edges_mm(blade, hub, rings)
    there = blade.at((edges[1:] + edges[:-1]) / 2)
    edge = np.minimum(shape.edge_mm, there.thickness_mm) / there.chord_mm
    return rotor_of(
        blade, shape.blades, section_polars(there.thickness_mm / there.chord_mm, shape.camber, edge, rough), hub, rings, shape.ducted
    )


def flown(shape: PropellerShape, rpm: Floats, flight_m_s: Floats | float = 0.0, rough: float = USUAL_ROUGH) -> Flown:
    """At speeds (s,)."""
    return fly(rotor(shape, rough), np.asarray(rpm) * 2 * math.pi / 60, flight_m_s)


def disk_m2(shape: PropellerShape) -> float:
    """Area that the blades sweep, hub and all."""
    return math.pi * (shape.radius_mm * 1e-3) ** 2


def cruise_power_w(shape: PropellerShape, speed_m_s: float, thrust_n: float, rough: float = USUAL_ROUGH) -> float:
    """At the shaft, to push so hard at a speed along it; infinite where it cannot with tips below MOST_TIP_M_S."""
    top = MOST_TIP_M_S / (shape.radius_mm * 1e-3)
    omega = np.linspace(0.02, 1.0, CRUISE_LOOKS) * top
    there = fly(rotor(shape, rough), omega, speed_m_s)
    enough = np.flatnonzero(there.thrust_n >= thrust_n)
    if not len(enough) or enough[0] == 0:
        return math.inf
    k = int(enough[0])
    low, high = there.thrust_n[k - 1], there.thrust_n[k]
    share = float((thrust_n - low) / max(high - low, 1e-12))
    return float(there.power_w[k - 1] + share * (there.power_w[k] - there.power_w[k - 1]))


def turning_at(shape: PropellerShape, thrust_n: float, rough: float = USUAL_ROUGH) -> float:
    """The speed in rad/s at which it pushes so hard, standing, or its tips reach MOST_TIP_M_S."""
    radius = shape.radius_mm * 1e-3
    omega = FIRST_TIP_M_S / radius
    for _ in range(4):  # thrust goes nearly with the square
        pushes = float(fly(rotor(shape, rough), np.array([omega])).thrust_n[0])
        omega = min(omega * math.sqrt(thrust_n / max(pushes, 1e-6)), MOST_TIP_M_S / radius)
    return omega


def on_stand(shape: PropellerShape) -> tuple[float, float | None] | None:
    """Thrust over speed squared (N s2/rad2) and power over its cube, by least squares of what a stand told; None where nothing was
    measured, and for power where it was not."""
    if not shape.stand:
        return None
    w = np.array([r.rpm for r in shape.stand]) * 2 * math.pi / 60
    push, draw = np.array([r.thrust_n for r in shape.stand]), np.array([r.power_w for r in shape.stand])
    told = draw > 0
    power = float((w[told] ** 3 @ draw[told]) / (w[told] ** 3 @ w[told] ** 3)) if told.any() else None
    return float((w**2 @ push) / (w**2 @ w**2)), power


@lru_cache(maxsize=64)
def as_flown(bought: Propeller, shape: PropellerShape, density_g_cm3: float, thrust_n: float, rough: float) -> Propeller:
    """The bought one's fields with what is of the drawn one: size, weight, inertia, and coefficients where it pushes about so hard."""
    omega = turning_at(shape, thrust_n, rough)
    there, n, d = fly(rotor(shape, rough), np.array([omega])), omega / (2 * math.pi), shape.diameter_mm * 1e-3
    push, draw, measured = float(there.thrust_n[0]), float(there.power_w[0]), on_stand(shape)
    if measured is not None:
        push = max(measured[0] * omega**2, 1e-9)
        draw = measured[1] * omega**3 if measured[1] is not None else draw
    merit = push**1.5 / math.sqrt(2 * RHO * disk_m2(shape)) / max(draw, 1e-9) if push > 0 else 0.0
    second, grams = blade_mm3(shape)[2], propeller_mm3(shape) * 1e-3 * density_g_cm3
    off = shape.unbalance_gmm if shape.unbalance_gmm is not None else as_printed_gmm(shape, density_g_cm3)
    about = (
        (shape.blades * second + hub_mm3(shape) * (shape.pivot_mm**2 / 2 if shape.folds else shape.hub_diameter_mm**2 / 8))
        * 1e-3
        * density_g_cm3
    )
    return bought.model_copy(update={
        "diameter_mm": shape.diameter_mm, "pitch_mm": shape.pitch_mm, "blades": shape.blades, "mass_g": grams, "family": "typed",
        "unbalance_gmm": off,
        "gyration": min(max(math.sqrt(about / grams) / shape.radius_mm, 0.2), 0.7), "price": 0.0,
        "thrust_coefficient": max(push / (RHO * n**2 * d**4), 1e-3), "figure_of_merit": min(max(merit, 0.02), 0.95),
    })  # fmt: skip
