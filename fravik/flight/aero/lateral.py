"""What is left at a point of the way to roll and to turn with: rotors against each other, by thrust and by torque, and ailerons in the
stream.

Limits: from level, with the nose's balance held; rudders and the wash over ailerons are left out.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fravik.power.oblique import inflow, shaft_w, turns

from .alone import loaded
from .flyer import PUSHER, Flyer, RotorPlan
from .forces import SPREAD_AT, rotor_at
from .trim import ATTITUDE, SURFACE, THRUST_A, THRUST_B, VECTOR

Floats = NDArray[np.float64]


def roll_and_yaw(f: Flyer, row: Floats, over: float, speed: float) -> tuple[float, float]:
    """Fastest turning that can be begun about the body's long and upright axes, rad/s2, from a balance (COLUMNS,)."""
    _, most, _ = f.limits_at(over, speed, float(row[ATTITUDE]))
    roll = yaw = 0.0
    for k, r in enumerate(f.rotors):
        g = int(f.groups[k])
        if g == PUSHER:
            continue
        thrust, top = float(row[THRUST_A if g == 0 else THRUST_B]), float(most[THRUST_A if g == 0 else THRUST_B])
        room = max(min(thrust, top - thrust), 0.0)
        _, _, nx, nz = rotor_at(f.air, k, over, 0.0 if f.air.trims_push else float(row[VECTOR]))
        twist = _torque(r, max(thrust, 1e-3)) / max(thrust, 1e-3)
        roll += (abs(float(r.at_m[1]) * nz) + twist * abs(nx)) * room
        yaw += (abs(float(r.at_m[1]) * nx) + twist * abs(nz)) * room
        # thrust that turns ahead on one side and back on the other, where it can
        yaw += abs(float(r.at_m[1]) * nz) * thrust * math.sin(f.vector_rad)
    if f.strips.roll.any() and over >= SPREAD_AT and speed > 0:
        turned = float(f.strips.flap_most_rad[f.strips.roll > 0].min())
        attack = min(max(float(row[ATTITUDE]), -0.2), 0.35)
        up, plain = (loaded(f, speed, attack, float(row[SURFACE]), d) for d in (turned, 0.0))
        roll += 2 * abs(float(((up.lift_n_m - plain.lift_n_m) * f.strips.width_m * f.strips.quarter_m[:, 1]).sum()))
    return roll / max(f.roll_kgm2, 1e-9), yaw / max(f.yaw_kgm2, 1e-9)


def _torque(r: RotorPlan, thrust: float) -> float:
    """Of a standing rotor at a thrust, N m."""
    v = inflow(thrust, r.disk.area, 0.0, 0.0)
    omega = turns(r.disk, thrust, 0.0, 0.0, v)
    return float(shaft_w(r.disk, thrust, 0.0, 0.0, v, omega) / max(omega, 1e-9))
