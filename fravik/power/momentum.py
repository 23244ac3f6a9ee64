"""Hover and full-throttle figures from momentum theory and one motor equation.

Thrust follows T = C_T rho n^2 D^4; ideal hover power is T^1.5 / sqrt(2 rho A) per disk, divided by the propeller's figure of merit.
A motor turns at KV (U - I R) and twists with Kt (I - I0), Kt = 60 / (2 pi KV): the same winding resistance R and no-load current I0 give
the speed and the efficiency at hover and at full throttle alike. Limits: still air, sea level, no sag beyond the stated cell
voltage, no limit of the controller; the spread of +-15 % on endurance stands until the drive train is solved whole.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.model.craft import Components, Motor
from fravik.model.problem import Problem

AIR_DENSITY_KG_M3 = 1.225
GRAVITY_M_S2 = 9.80665
ENDURANCE_SPREAD = 0.15
THRUST_SPREAD = 0.08
# induced power of a coaxial pair over that of two rotors apart: 1.16 measured, 1.28 by the simplest theory (both at equal thrust, the lower
# one in the upper's fully grown wake); the middle of the two
COAXIAL_POWER = 1.22


@dataclass(frozen=True)
class PowerFigures:
    """What the drive does for a craft of a given weight."""

    hover_thrust_n: float
    full_thrust_n: float
    thrust_to_weight: float
    hover_rpm: float
    full_rpm: float
    idle_rpm: float
    hover_throttle: float
    hover_power_w: float
    hover_current_a: float
    energy_wh: float
    endurance_min: float
    endurance_low_min: float
    endurance_high_min: float
    disk_loading_n_m2: float
    hover_torque_nmm: float
    full_torque_nmm: float
    hover_efficiency: float
    full_efficiency: float
    full_current_a: float


def ideal_hover_power_w(thrust_n: float, diameter_mm: float) -> float:
    """Power of an ideal disk: T^1.5 / sqrt(2 rho A)."""
    area = math.pi / 4 * (diameter_mm * 1e-3) ** 2
    return thrust_n**1.5 / math.sqrt(2 * AIR_DENSITY_KG_M3 * area)


def rpm_for_thrust(thrust_n: float, thrust_coefficient: float, diameter_mm: float) -> float:
    """Speed at which a propeller makes the thrust."""
    n2 = max(thrust_n, 0.0) / (thrust_coefficient * AIR_DENSITY_KG_M3 * (diameter_mm * 1e-3) ** 4)
    return 60.0 * math.sqrt(n2)


@dataclass(frozen=True)
class MotorPoint:
    """A motor at work: its voltage, current and efficiency from electrical to shaft power."""

    volts: float
    current_a: float
    efficiency: float


def torque_constant_nm_a(motor: Motor) -> float:
    """Torque per ampere, 60 / (2 pi KV)."""
    return 60.0 / (2 * math.pi * motor.kv_rpm_per_v)


def motor_at(motor: Motor, rpm: float, torque_nm: float) -> MotorPoint:
    """What a motor takes to turn at a speed against a torque."""
    kt = torque_constant_nm_a(motor)
    current = torque_nm / kt + motor.no_load_a
    volts = rpm / motor.kv_rpm_per_v + current * motor.resistance_mohm * 1e-3
    return MotorPoint(volts, current, torque_nm * rpm * 2 * math.pi / 60 / max(volts * current, 1e-12))


def full_speed_rpm(motor: Motor, volts: float, torque_per_speed2: float) -> float:
    """Speed at full voltage under a propeller of torque q w^2 (N m s^2): root of R q / Kt w^2 + Kt w = U - R I0. 0 if it cannot turn."""
    kt, r = torque_constant_nm_a(motor), motor.resistance_mohm * 1e-3
    left = volts - r * motor.no_load_a
    if left <= 0:
        return 0.0
    a = r * torque_per_speed2 / kt
    # the stable form of the quadratic's positive root
    return 2 * left / (kt + math.sqrt(kt * kt + 4 * a * left)) * 60 / (2 * math.pi)


def power_figures(mass_g: float, parts: Components, rotors: int, coaxial: bool = False) -> PowerFigures:
    """Hover and full-throttle figures of a craft with equal rotors sharing its weight; coaxial ones stand in each other's wake."""
    prop, motor, pack = parts.propeller, parts.motor, parts.battery
    weight = max(mass_g, 1e-3) * 1e-3 * GRAVITY_M_S2
    hover = weight / rotors
    volts = pack.cells * pack.cell_volts
    hover_rpm = rpm_for_thrust(hover, prop.thrust_coefficient, prop.diameter_mm)
    shaft = ideal_hover_power_w(hover, prop.diameter_mm) / prop.figure_of_merit * (COAXIAL_POWER if coaxial else 1.0)
    omega = hover_rpm * 2 * math.pi / 60
    torque = shaft / omega
    full_rpm = full_speed_rpm(motor, volts, torque / omega**2)
    full = prop.thrust_coefficient * AIR_DENSITY_KG_M3 * (full_rpm / 60) ** 2 * (prop.diameter_mm * 1e-3) ** 4
    full_torque = torque * full / hover
    at_hover, at_full = motor_at(motor, hover_rpm, torque), motor_at(motor, full_rpm, full_torque)
    extra = sum(b.power_w for b in parts.blocks)
    drive = rotors * at_hover.volts * at_hover.current_a
    energy = pack.capacity_mah * 1e-3 * volts * pack.usable

    def minutes(gain: float) -> float:
        return 60.0 * energy / (drive / gain + extra)

    return PowerFigures(
        hover_thrust_n=hover,
        full_thrust_n=full,
        thrust_to_weight=rotors * full / weight,
        hover_rpm=hover_rpm,
        full_rpm=full_rpm,
        idle_rpm=0.12 * full_rpm,
        hover_throttle=min(at_hover.volts / volts, 9.99),
        hover_power_w=drive + extra,
        hover_current_a=(drive + extra) / volts,
        energy_wh=energy,
        endurance_min=minutes(1.0),
        endurance_low_min=minutes(1.0 - ENDURANCE_SPREAD),
        endurance_high_min=minutes(1.0 + ENDURANCE_SPREAD),
        disk_loading_n_m2=weight / (rotors * math.pi / 4 * (prop.diameter_mm * 1e-3) ** 2),
        hover_torque_nmm=torque * 1e3,
        full_torque_nmm=full_torque * 1e3,
        hover_efficiency=at_hover.efficiency,
        full_efficiency=at_full.efficiency,
        full_current_a=at_full.current_a,
    )


def drive_problems(figures: PowerFigures, parts: Components) -> list[Problem]:
    """Motor figures that contradict themselves or their propeller; warnings at their fields."""
    motor, volts = parts.motor, parts.battery.cells * parts.battery.cell_volts
    at, out = "components.motor.", []
    lost = motor.no_load_a * motor.resistance_mohm * 1e-3
    if lost > 0.1 * volts:
        out.append(Problem(at + "no_load_a", f"{motor.no_load_a:g} A without a propeller through {motor.resistance_mohm:g} mΩ would take "
                           f"{lost:.1f} of {volts:.1f} V: one of the two is not this motor's.", "warning"))  # fmt: skip
    elif figures.full_rpm < 0.8 * motor.kv_rpm_per_v * volts:
        share = figures.full_rpm / (motor.kv_rpm_per_v * volts)
        out.append(Problem(at + "resistance_mohm", f"At full throttle it turns at {share:.0%} of KV times voltage and only "
                           f"{figures.full_efficiency:.0%} of its power reaches the shaft: the propeller is too much for it, or the "
                           "resistance is not this motor's.", "warning"))  # fmt: skip
    if figures.hover_efficiency < 0.5:
        out.append(Problem(at + "no_load_a", f"At hover only {figures.hover_efficiency:.0%} of its power would reach the shaft: its "
                           "no-load current is large for the work it does.", "warning"))  # fmt: skip
    if figures.full_rpm <= figures.hover_rpm:
        out.append(Problem(at + "kv_rpm_per_v", "At full throttle it does not lift the craft: more KV, more cells or a larger propeller.",
                           "warning"))  # fmt: skip
    return out
