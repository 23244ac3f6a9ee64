"""Hover and full-throttle figures from momentum theory and one motor equation.

Thrust follows T = C_T rho n^2 D^4; ideal hover power is T^1.5 / sqrt(2 rho A) per disk, divided by the propeller's figure of merit.
A motor turns at KV (U - I R) and twists with Kt (I - I0), Kt = 60 / (2 pi KV): the same winding resistance R and no-load current I0 give
the speed and the efficiency at hover and at full throttle alike. Limits: still air, sea level, no sag beyond the stated cell
voltage, no limit of the controller; the spread of +-15 % on endurance stands until the drive train is solved whole.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from fravik.model.craft import Components, Motor
from fravik.model.problem import Problem

from .drive import Drive
from .pack import supply

AIR_DENSITY_KG_M3 = 1.225
GRAVITY_M_S2 = 9.80665
ENDURANCE_SPREAD = 0.15
THRUST_SPREAD = 0.08
# induced power of a coaxial pair over that of two rotors apart: 1.16 measured, 1.28 by the simplest theory (both at equal thrust, the lower
# one in the upper's fully grown wake); the middle of the two
COAXIAL_POWER = 1.22
IDLE_SHARE = 0.12  # of full speed
LEAST_HOVER_N = 1e-3  # a rotor that hardly pushes still turns


@dataclass(frozen=True)
class RotorFigures:
    """One rotor in hover and at full throttle. ``hover_w`` is what its motor draws there."""

    hover_thrust_n: float
    full_thrust_n: float
    hover_rpm: float
    full_rpm: float
    hover_throttle: float
    hover_w: float
    hover_torque_nmm: float
    full_torque_nmm: float
    hover_efficiency: float
    full_efficiency: float
    full_current_a: float

    @property
    def idle_rpm(self) -> float:
        """The slowest that its controller turns it."""
        return IDLE_SHARE * self.full_rpm

    @property
    def torque_mm(self) -> float:
        """Its propeller's torque over its thrust, the same at every speed."""
        return self.hover_torque_nmm / self.hover_thrust_n


@dataclass(frozen=True)
class PowerFigures:
    """What the drives do for a craft of a given weight: each of its ``rotors``, and all together.

    What is asked of one rotor here (``hover_rpm``, ``full_thrust_n`` and so on) is that of the one that pushes hardest at full throttle,
    the first of several alike; ``hover_thrust_n`` is the mean of all.
    """

    rotors: tuple[RotorFigures, ...]
    hover_thrust_n: float
    thrust_to_weight: float
    hover_power_w: float
    hover_current_a: float
    energy_wh: float
    endurance_min: float
    endurance_low_min: float
    endurance_high_min: float
    disk_loading_n_m2: float

    @cached_property
    def hardest(self) -> RotorFigures:
        """The rotor that pushes hardest at full throttle."""
        return max(self.rotors, key=lambda r: round(r.full_thrust_n, 9))

    @property
    def full_thrust_n(self) -> float:
        return self.hardest.full_thrust_n

    @property
    def full_torque_nmm(self) -> float:
        return self.hardest.full_torque_nmm

    @property
    def hover_torque_nmm(self) -> float:
        return self.hardest.hover_torque_nmm

    @property
    def hover_rpm(self) -> float:
        return self.hardest.hover_rpm

    @property
    def full_rpm(self) -> float:
        return self.hardest.full_rpm

    @property
    def idle_rpm(self) -> float:
        return self.hardest.idle_rpm

    @property
    def hover_efficiency(self) -> float:
        return self.hardest.hover_efficiency

    @property
    def full_efficiency(self) -> float:
        return self.hardest.full_efficiency

    @cached_property
    def hover_throttle(self) -> float:
        """Of the rotor that has the least left."""
        return max(r.hover_throttle for r in self.rotors)

    @property
    def full_current_a(self) -> float:
        return self.hardest.full_current_a

    @cached_property
    def all_current_a(self) -> float:
        """Of all motors at full throttle."""
        return sum(r.full_current_a for r in self.rotors)

    @cached_property
    def all_thrust_n(self) -> float:
        """Of all rotors at full throttle."""
        return sum(r.full_thrust_n for r in self.rotors)


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


def rotor_figures(drive: Drive, hover_n: float, volts: float, coaxial: bool = False) -> RotorFigures:
    """One rotor that pushes so hard in hover; coaxial ones stand in each other's wake."""
    prop, motor, hover = drive.propeller, drive.motor, max(hover_n, LEAST_HOVER_N)
    rpm = rpm_for_thrust(hover, prop.thrust_coefficient, prop.diameter_mm)
    shaft = ideal_hover_power_w(hover, prop.diameter_mm) / prop.figure_of_merit * (COAXIAL_POWER if coaxial else 1.0)
    omega = rpm * 2 * math.pi / 60
    torque = shaft / omega
    full_rpm = full_speed_rpm(motor, volts, torque / omega**2)
    full = prop.thrust_coefficient * AIR_DENSITY_KG_M3 * (full_rpm / 60) ** 2 * (prop.diameter_mm * 1e-3) ** 4
    at_hover, at_full = motor_at(motor, rpm, torque), motor_at(motor, full_rpm, torque * full / hover)
    return RotorFigures(hover, full, rpm, full_rpm, min(at_hover.volts / volts, 9.99), at_hover.volts * at_hover.current_a, torque * 1e3,
                        torque * full / hover * 1e3, at_hover.efficiency, at_full.efficiency, at_full.current_a)  # fmt: skip


def power_figures(
    mass_g: float, parts: Components, drives: Sequence[Drive], coaxial: bool = False, hover_n: Sequence[float] | None = None
) -> PowerFigures:
    """Hover and full-throttle figures of a craft; its rotors share its weight evenly, or as ``hover_n`` (rotors,) says."""
    pack, count = supply(parts), len(drives)
    weight, volts = max(mass_g, 1e-3) * 1e-3 * GRAVITY_M_S2, pack.volts
    known: dict[tuple[Drive, float], RotorFigures] = {}
    for key in zip(drives, hover_n if hover_n is not None else (weight / count,) * count, strict=True):
        if key not in known:
            known[key] = rotor_figures(*key, volts, coaxial)
    rotors = tuple(known[key] for key in zip(drives, hover_n if hover_n is not None else (weight / count,) * count, strict=True))
    extra = sum(b.power_w for b in parts.blocks)
    drive = sum(r.hover_w for r in rotors)
    energy = pack.capacity_mah * 1e-3 * volts * pack.usable
    area = sum(math.pi / 4 * (d.propeller.diameter_mm * 1e-3) ** 2 for d in drives)

    def minutes(gain: float) -> float:
        return 60.0 * energy / (drive / gain + extra)

    return PowerFigures(
        rotors=rotors,
        hover_thrust_n=weight / count,
        thrust_to_weight=sum(r.full_thrust_n for r in rotors) / weight,
        hover_power_w=drive + extra,
        hover_current_a=(drive + extra) / volts,
        energy_wh=energy,
        endurance_min=minutes(1.0),
        endurance_low_min=minutes(1.0 - ENDURANCE_SPREAD),
        endurance_high_min=minutes(1.0 + ENDURANCE_SPREAD),
        disk_loading_n_m2=weight / area,
    )


def drive_problems(power: PowerFigures, parts: Components, drives: Sequence[Drive]) -> list[Problem]:
    """Motor figures that contradict themselves or their propeller; warnings at their fields."""
    volts, found = supply(parts).volts, dict(zip(drives, power.rotors, strict=True))
    return [p for drive, figures in found.items() for p in _motor_problems(drive.motor, figures, volts, f"{drive.path}.motor.")]


def _motor_problems(motor: Motor, figures: RotorFigures, volts: float, at: str) -> list[Problem]:
    out = []
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
