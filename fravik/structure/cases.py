"""Load cases of arms and legs, and the crash figures, from the craft's mass and power figures.

Static cases are quasi-steady: *hover* and *full throttle* hold the body still against weight (as on a bench), *pull-up* adds
the inertia of motor and arm under the load factor, *hard landing* and the *flat drop* come from two masses on springs. In
the *arm strike* a front motor meets a stiff pole while the craft flies straight at it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.model.shapes import LegShape
from fravik.printing.zones import Floats

from .impact import (
    POLE_STIFFNESS_N_MM,
    drop_peaks,
    effective_strike_mass_g,
    height_from_speed_m,
    mass_on_spring_peak_n,
    series_n_mm,
    toughness_speed_factor,
)
from .member import MemberAnswer
from .reserves import BRITTLE_KINDS, KINDS, CaseReserves, StressBasis

STATIC_CASES = ("hover", "full throttle", "pull-up", "hard landing")
CRASH_CASES = ("flat drop", "arm strike")
G_MM = 9806.65


@dataclass(frozen=True)
class CraftLoads:
    """What the cases need to know of the craft."""

    mass_g: float
    yaw_inertia_gmm2: float
    hover_thrust_n: float
    full_thrust_n: float
    pull_up: float
    landing_m_s: float
    ground_n_mm: float
    tip_mass_g: float
    motor_radius_mm: float


@dataclass(frozen=True)
class Touchdown:
    """Peak forces per m/s of sink speed: on one leg (or ground spring) and on one arm tip."""

    leg_n: float
    tip_n: float


def leg_stiffness_n_mm(leg: MemberAnswer | None, shape: LegShape | None) -> float:
    """Vertical stiffness at the toe of a splayed leg; without legs the body lands on the ground itself."""
    if leg is None or shape is None:
        return 1e9
    tilt = math.radians(shape.splay_deg)
    c = leg.compliance
    return 1.0 / (math.cos(tilt) ** 2 * c[0, 0] + math.sin(tilt) ** 2 * c[2, 2])


def touchdown(loads: CraftLoads, arm: MemberAnswer, arms: int, leg_n_mm: float, legs: int) -> Touchdown:
    """Peaks of a flat touch-down at 1 m/s."""
    feet = max(legs, 4)
    contact = feet * series_n_mm(leg_n_mm, loads.ground_n_mm)
    tips = arms * loads.tip_mass_g
    peaks = drop_peaks(max(loads.mass_g - tips, 0.05 * loads.mass_g), tips, contact, arms / arm.compliance[2, 2])
    return Touchdown(peaks.contact_n / feet, peaks.tips_n / arms)


def strike_force_n(loads: CraftLoads, arm: MemberAnswer) -> float:
    """Peak force of an arm strike at 1 m/s: the craft's mass felt at the motor on arm and pole in series."""
    d = np.array([-1.0, 1.0, 0.0]) / math.sqrt(2)
    stiffness = series_n_mm(1.0 / float(d @ arm.compliance @ d), POLE_STIFFNESS_N_MM)
    felt = effective_strike_mass_g(loads.mass_g, loads.yaw_inertia_gmm2, loads.motor_radius_mm / math.sqrt(2))
    return mass_on_spring_peak_n(1.0, stiffness, felt)


def arm_combinations(loads: CraftLoads, arm: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
    """Unit-load combinations of an arm in every case; crash cases are per m/s."""
    strike = strike_force_n(loads, arm) / math.sqrt(2)
    g = G_MM
    return {
        "hover": np.array([0.0, 0.0, loads.hover_thrust_n, 0.0, -g]),
        "full throttle": np.array([0.0, 0.0, loads.full_thrust_n, 0.0, -g]),
        "pull-up": np.array([0.0, 0.0, loads.pull_up * loads.hover_thrust_n, 0.0, -g * loads.pull_up]),
        "hard landing": np.array([0.0, 0.0, -down.tip_n * loads.landing_m_s, 0.0, -g]),
        "flat drop": np.array([0.0, 0.0, -down.tip_n, 0.0, 0.0]),
        "arm strike": np.array([-strike, strike, 0.0, 0.0, 0.0]),
    }


def leg_combinations(loads: CraftLoads, shape: LegShape, down: Touchdown) -> dict[str, Floats]:
    """Unit-load combinations of a leg: upward ground force at the toe, turned into the leg's axes."""
    tilt = math.radians(shape.splay_deg)
    push = np.array([-math.cos(tilt), 0.0, math.sin(tilt), 0.0, 0.0])
    return {"hard landing": push * down.leg_n * loads.landing_m_s, "flat drop": push * down.leg_n}


@dataclass(frozen=True)
class BreakPoint:
    """Where and how a part breaks in a crash, and the speed it survives until then."""

    speed_m_s: float
    kind: str
    station_mm: float

    @property
    def height_m(self) -> float:
        """The speed as a free-fall height."""
        return height_from_speed_m(self.speed_m_s)


def break_point(unit: CaseReserves, basis: StressBasis) -> BreakPoint:
    """Survived speed: reserve at 1 m/s times what the toughness of each failure kind allows."""
    m = basis.answer.material
    tough = np.array([
        toughness_speed_factor(m.ductility_layer if k in BRITTLE_KINDS else m.ductility_road) for k in KINDS
    ])  # fmt: skip
    speed = unit.values * tough[:, None]
    k, i = np.unravel_index(int(np.argmin(speed)), speed.shape)
    return BreakPoint(float(speed[k, i]), KINDS[k], float(basis.member.stations_mm[i]))


def tip_sag_mm(arm: MemberAnswer, combination: Floats) -> float:
    """Upward (or downward) movement of the motor under a case, as a positive figure."""
    return abs(float(arm.units.tip[2] @ combination))
