"""Hover with a wing: what it takes from the rotors' wash, how it stands in wind, and how long it takes to turn."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.flight.aero.corridor import row_of
from fravik.flight.aero.flyer import BACK, FRONT, Flyer
from fravik.flight.aero.forces import FZ, row_disk
from fravik.flight.aero.forces import forces as all_forces
from fravik.flight.aero.trim import (
    ATTITUDE,
    C_CONTROL,
    C_DOWNLOAD,
    C_POWER,
    C_WHY,
    FLIES,
    THRUST_A,
    THRUST_B,
)
from fravik.power.momentum import THRUST_SPREAD
from fravik.power.oblique import electric_w, inflow, shaft_w, turns

from .results import Evaluation
from .rotors import authority_rad_s2

TURN_RAD = math.pi / 2
TILT_APART_RAD = math.radians(10)  # how far two tilting rotors lean against each other to turn the craft
WIND_STEPS = 12
TRY_RAD = math.radians(20)
NONE_RAD = 1e-6


@dataclass(frozen=True, eq=False)
class HoverSight:
    """Hover in still air with the wing, and as if it were not there: throttle (of full voltage) of the rotor that has least left, power,
    share of
    the weight that the wash pushes down. In wind: how far it leans (rad; NaN where it cannot hold), control left over the nose. ``turn_s``:
    seconds for a quarter turn, by what turns it; ``both_s`` by all."""

    throttle: float
    bare_throttle: float
    power_w: float
    bare_w: float
    download: float
    wind_m_s: float
    lean_rad: float
    wind_control: float
    most_wind_m_s: float
    turn_s: dict[str, float]
    both_s: float

    @property
    def extra_pct(self) -> float:
        """Power that the wing costs in hover."""
        return 100 * (self.power_w / max(self.bare_w, 1e-9) - 1)


def throttle_in_hover(f: Flyer) -> tuple[float, float, float] | None:
    """Low, usual, high share of full voltage; None where it does not hover in balance."""
    row = row_of(f, 0.0, np.array([0.0]), 0.0)[0]
    if row[C_WHY] != FLIES:
        return None
    throttle, _ = _at(f, np.array([row[THRUST_A], row[THRUST_B]]))
    return throttle * (1 - THRUST_SPREAD / 2), throttle, throttle * (1 + THRUST_SPREAD / 2)


def hover_sight(result: Evaluation, f: Flyer) -> HoverSight | None:
    """None where it does not hover in balance."""
    row = row_of(f, 0.0, np.array([0.0]), 0.0)[0]
    if row[C_WHY] != FLIES:
        return None
    throttle, _ = _at(f, np.array([row[THRUST_A], row[THRUST_B]]))
    bare = row.copy()
    scale = 1 / (1 + float(row[C_DOWNLOAD]))
    bare_throttle, bare_w = _at(f, np.array([bare[THRUST_A], bare[THRUST_B]]) * scale)
    lean, control, most = _wind(f, result.project.flying.wind_m_s)
    turns_s, both = _turning(result, f, row)
    return HoverSight(throttle, bare_throttle, float(row[C_POWER]), bare_w, float(row[C_DOWNLOAD]), result.project.flying.wind_m_s, lean,
        control,
                      most, turns_s, both)  # fmt: skip


def _at(f: Flyer, thrusts: np.ndarray) -> tuple[float, float]:
    """Throttle of the hardest working rotor and power of all, standing."""
    most, power = 0.0, 0.0
    for k, g in enumerate(f.groups):
        if g > BACK:
            continue
        d, t = row_disk(f.air.disks, k), float(thrusts[g])
        v = inflow(t, d.area, 0.0, 0.0)
        w = turns(d, t, 0.0, 0.0, v)
        shaft = shaft_w(d, t, 0.0, 0.0, v, w)
        power += electric_w(d, shaft, w)
        amps = shaft / max(w, 1e-9) * d.kv + d.idle_a
        most = max(most, (w / d.kv + amps * d.ohm) / d.volts)
    return most, power


def _wind(f: Flyer, wind: float) -> tuple[float, float, float]:
    """Lean and control at a wind that meets the craft where it is broadest, and the strongest wind in which it keeps its place."""
    speeds = np.linspace(0.0, max(2.5 * wind, 8.0), WIND_STEPS)
    nose = (math.radians(30), math.radians(120)) if f.on_tail else (-2.5 * f.lean_rad, 2.5 * f.lean_rad)
    rows = row_of(f, 0.0, speeds, 0.0, nose)
    good = rows[:, C_WHY] == FLIES
    last = int(np.argmin(good)) if not good.all() else len(good)
    most = float(speeds[max(last - 1, 0)]) if last else 0.0
    at = row_of(f, 0.0, np.array([wind]), 0.0, nose)[0]
    if at[C_WHY] != FLIES:
        return math.nan, 0.0, most
    lean = abs(float(at[ATTITUDE]) - (math.pi / 2 if f.on_tail else 0.0))
    return lean, float(at[C_CONTROL]), most


def _turning(result: Evaluation, f: Flyer, row: np.ndarray) -> tuple[dict[str, float], float]:
    # about the axis of hover: the body's upright, on its tail its long one
    inertia = float(result.craft.inertia_gmm2[2, 2]) * 1e-9
    by = {"rotors' torque": authority_rad_s2(result)["yaw"] * inertia}
    thrusts = {FRONT: float(row[THRUST_A]), BACK: float(row[THRUST_B])}
    tilting = [(abs(r.at_m[1]), thrusts.get(int(g), 0.0)) for r, g in zip(f.rotors, f.groups, strict=True) if r.along > 0]
    if tilting:
        by["rotors tilted apart"] = sum(y * t for y, t in tilting) * math.sin(TILT_APART_RAD)
    if f.vector_rad > 0:
        levers = [(math.hypot(r.at_m[0] - f.com_m[0, 0], r.at_m[1]) if not f.on_tail else abs(r.at_m[1]), thrusts.get(int(g), 0.0))
                  for r, g in zip(f.rotors, f.groups, strict=True) if g <= BACK]  # fmt: skip
        by["thrust turned by servos"] = sum(y * t for y, t in levers) * math.sin(f.vector_rad)
    if f.on_tail and f.surface_rad > 0:
        by["surfaces in the wash"] = _surfaces(f, row)
    seconds = {k: _seconds(m, inertia) for k, m in by.items()}
    return seconds, _seconds(sum(by.values()), inertia)


def _surfaces(f: Flyer, row: np.ndarray) -> float:
    """Moment of surfaces turned against each other about the long axis, N m."""
    turn = min(TRY_RAD, f.surface_rad)
    each = []
    for d in (-turn, turn):
        acts, _ = all_forces(f.air, 0.0, 0.0, 0.0, 0.0, np.array([row[THRUST_A], row[THRUST_B], 0.0]), d, 0.0, np.zeros(len(f.air.width)))
        each.append(float(acts[FZ]))
    s = f.strips
    moved = s.pitch * s.chord_m * s.width_m
    if moved.sum() <= 0:
        return 0.0
    arm = float((moved * np.abs(s.quarter_m[:, 1])).sum() / moved.sum())
    return abs(each[1] - each[0]) / 2 * arm


def _seconds(moment_nm: float, inertia: float) -> float:
    """For a quarter turn begun and stopped with all there is."""
    rate = moment_nm / max(inertia, 1e-12)
    return 2 * math.sqrt(TURN_RAD / rate) if rate > NONE_RAD else math.inf
