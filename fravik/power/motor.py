"""A motor as one equation: it turns at KV (U - I R) and twists with Kt (I - I0), Kt = 60 / (2 pi KV)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.model.craft import Motor

TURN = 2 * math.pi / 60.0  # rad/s in a turn a minute


@dataclass(frozen=True)
class MotorPoint:
    """A motor at work: its voltage, current and efficiency from electrical to shaft power."""

    volts: float
    current_a: float
    efficiency: float


def torque_constant_nm_a(motor: Motor) -> float:
    """Torque per ampere, 60 / (2 pi KV)."""
    return 1.0 / (TURN * motor.kv_rpm_per_v)


def motor_at(motor: Motor, rpm: float, torque_nm: float) -> MotorPoint:
    """What a motor takes to turn at a speed against a torque."""
    current = torque_nm / torque_constant_nm_a(motor) + motor.no_load_a
    volts = rpm / motor.kv_rpm_per_v + current * motor.resistance_mohm * 1e-3
    return MotorPoint(volts, current, torque_nm * rpm * TURN / max(volts * current, 1e-12))


def full_speed_rpm(motor: Motor, volts: float, torque_per_speed2: float) -> float:
    """Speed at full voltage under a propeller of torque q w^2 (N m s^2): root of R q / Kt w^2 + Kt w = U - R I0. 0 if it cannot turn."""
    kt, r = torque_constant_nm_a(motor), motor.resistance_mohm * 1e-3
    left = volts - r * motor.no_load_a
    if left <= 0:
        return 0.0
    a = r * torque_per_speed2 / kt
    # the stable form of the quadratic's positive root
    return 2 * left / (kt + math.sqrt(kt * kt + 4 * a * left)) / TURN
