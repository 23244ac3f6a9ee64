"""What new parts are sized by."""

from __future__ import annotations

import math

from fravik.model.craft import Motor

TOY_MM = 8.0  # motors with a smaller bolt circle weigh a few grams and are held by the smallest screws


def half(value: float) -> float:
    """To the nearest half."""
    return round(value * 2) / 2


def motor_screw_mm(motor: Motor) -> float:
    """Hole for the screws that such a motor takes."""
    return 3.2 if motor.mount_circle_mm >= 14 else 2.2 if motor.mount_circle_mm >= TOY_MM else 1.6


def motor_pad_mm(motor: Motor) -> float:
    """A round pad that carries the motor's screws with an edge."""
    edge = 6.0 if motor.mount_circle_mm >= TOY_MM else 3.0
    return max(half(motor.mount_circle_mm + motor_screw_mm(motor) + edge), half(0.85 * motor.diameter_mm))


def arm_width_mm(motor: Motor) -> float:
    """Width of an arm that ends in such a pad."""
    pad = motor_pad_mm(motor)
    return max(6.0, min(half(0.66 * pad), pad - 1.0))


def half_up(value: float) -> float:
    """Up to the next half."""
    return math.ceil(value * 2 - 1e-9) / 2


def sheet_up(value: float) -> float:
    """Up to the next fifth, a layer of what is printed."""
    return round(math.ceil(value * 5 - 1e-9) / 5, 1)
