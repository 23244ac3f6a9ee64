"""Hover and full-throttle figures from momentum theory, one motor equation and the pack's own.

Thrust follows T = C_T rho n^2 D^4; ideal hover power is T^1.5 / sqrt(2 rho A) per disk, divided by the propeller's figure of merit.
The same winding resistance and no-load current (``motor``) give the speed and the efficiency at hover and at full throttle alike; the
controller takes its share, and the pack sags under the current of all. Figures are those of a pack half of whose usable charge is
drawn unless another share is asked for. Limits: still air, sea level; the controller's limit of current is told, not put in.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from fravik.library.air import DENSITY_KG_M3 as AIR_DENSITY_KG_M3
from fravik.library.air import GRAVITY_M_S2
from fravik.model.craft import Components, Motor
from fravik.model.material import Corner
from fravik.model.problem import Problem

from .discharge import flight, under_current_v, under_power_v
from .drive import Drive
from .motor import TURN, full_speed_rpm, motor_at
from .pack import Supply, supply

THRUST_SPREAD = 0.08
# how far the power of a propeller whose coefficients were looked up, flown by hand, lies off
POWER_SPREAD = 0.15
# induced power of a coaxial pair over that of two rotors apart: 1.16 measured, 1.28 by the simplest theory (both at equal thrust, the lower
# one in the upper's fully grown wake); the middle of the two
COAXIAL_POWER = 1.22
IDLE_SHARE = 0.12  # of full speed
LEAST_HOVER_N = 1e-3  # a rotor that hardly pushes still turns


@dataclass(frozen=True)
class RotorFigures:
    """One rotor in hover and at full throttle. ``hover_w`` is what motor and controller draw there; currents are those of the motor."""

    hover_thrust_n: float
    full_thrust_n: float
    hover_rpm: float
    full_rpm: float
    hover_throttle: float
    hover_w: float
    hover_current_a: float
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
    the first of several alike; ``hover_thrust_n`` is the mean of all, ``pack_current_a`` what all draw from the pack at full throttle.
    """

    rotors: tuple[RotorFigures, ...]
    hover_thrust_n: float
    hover_volts: float
    full_volts: float
    pack_current_a: float
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
class Turning:
    """A drive that pushes so hard in hover: its speed there, the torque it takes, and torque and thrust over the square of rad/s."""

    rpm: float
    torque_nm: float
    torque_per_speed2: float
    thrust_per_speed2: float


def turning(drive: Drive, hover_n: float, coaxial: bool) -> Turning:
    """Coaxial ones stand in each other's wake."""
    prop, hover = drive.propeller, max(hover_n, LEAST_HOVER_N)
    rpm = rpm_for_thrust(hover, prop.thrust_coefficient, prop.diameter_mm)
    shaft = ideal_hover_power_w(hover, prop.diameter_mm) / prop.figure_of_merit * (COAXIAL_POWER if coaxial else 1.0)
    omega = rpm * TURN
    return Turning(rpm, shaft / omega, shaft / omega**3, hover / omega**2)


def drawn_a(drive: Drive, at: Turning, volts: float) -> float:
    """Current of a motor at full throttle under a voltage."""
    rpm = full_speed_rpm(drive.motor, volts, at.torque_per_speed2)
    return motor_at(drive.motor, rpm, at.torque_per_speed2 * (rpm * TURN) ** 2).current_a


def rotor_figures(drive: Drive, hover_n: float, hover_v: float, full_v: float, coaxial: bool = False) -> RotorFigures:
    """One rotor that pushes so hard in hover, at the pack's voltage there and at full throttle."""
    motor, hover, at = drive.motor, max(hover_n, LEAST_HOVER_N), turning(drive, hover_n, coaxial)
    full_rpm = full_speed_rpm(motor, full_v, at.torque_per_speed2)
    full = at.thrust_per_speed2 * (full_rpm * TURN) ** 2
    at_hover, at_full = motor_at(motor, at.rpm, at.torque_nm), motor_at(motor, full_rpm, at.torque_nm * full / hover)
    drawn = at_hover.volts * at_hover.current_a / (1 - motor.controller_loss)
    return RotorFigures(hover, full, at.rpm, full_rpm, min(at_hover.volts / max(hover_v, 1e-9), 9.99), drawn, at_hover.current_a,
                        at.torque_nm * 1e3, at.torque_nm * full / hover * 1e3, at_hover.efficiency, at_full.efficiency,
                        at_full.current_a)  # fmt: skip


def extra_w(parts: Components) -> float:
    """What the components draw."""
    return sum(b.power_w for b in parts.blocks)


def power_figures(
    mass_g: float, parts: Components, drives: Sequence[Drive], coaxial: Sequence[bool] = (), hover_n: Sequence[float] | None = None,
    drawn: float | None = None, corner: Corner = "typical",
) -> PowerFigures:  # fmt: skip
    """Hover and full-throttle figures of a craft; its rotors share its weight evenly, or as ``hover_n`` (rotors,) says.
    ``coaxial`` (rotors,) says which share an arm's end with another; none unless said.

    ``drawn`` is the share of the usable charge that is drawn, half of it unless said, ``corner`` says how good the pack is.
    """
    pack, count = supply(parts), len(drives)
    weight = max(mass_g, 1e-3) * 1e-3 * GRAVITY_M_S2
    pushes = tuple(hover_n) if hover_n is not None else (weight / count,) * count
    each, extra = tuple(zip(drives, pushes, coaxial or (False,) * count, strict=True)), extra_w(parts)
    alike = {one: turning(*one) for one in dict.fromkeys(each)}
    often = {one: each.count(one) for one in alike}
    used = (0.5 if drawn is None else drawn) * pack.to_use(corner)

    def hover_w(d: Drive, at: Turning) -> float:
        point = motor_at(d.motor, at.rpm, at.torque_nm)
        return point.volts * point.current_a / (1 - d.motor.controller_loss)

    motors = sum(n * hover_w(one[0], alike[one]) for one, n in often.items())
    hover_v = under_power_v(pack, motors + extra, used, corner)

    def at_full_a(volts: float) -> float:
        motors_a = sum(n * drawn_a(one[0], alike[one], volts) / (1 - one[0].motor.controller_loss) for one, n in often.items())
        return motors_a + extra / max(volts, 1e-3)

    full_v = under_current_v(pack, at_full_a, used, corner)
    known = {(d, push, pair): rotor_figures(d, push, hover_v, full_v, pair) for d, push, pair in alike}
    rotors = tuple(known[one] for one in each)
    area = sum(math.pi / 4 * (d.propeller.diameter_mm * 1e-3) ** 2 for d in drives)
    lasts = {c: flight(pack, motors * POWER_AT[c] + extra, c) for c in POWER_AT}
    return PowerFigures(
        rotors=rotors,
        hover_thrust_n=weight / count,
        hover_volts=hover_v,
        full_volts=full_v,
        pack_current_a=at_full_a(full_v),
        thrust_to_weight=sum(r.full_thrust_n for r in rotors) / weight,
        hover_power_w=motors + extra,
        hover_current_a=(motors + extra) / max(hover_v, 1e-9),
        energy_wh=_energy_wh(pack),
        endurance_min=lasts["typical"].lasts_min,
        endurance_low_min=lasts["low"].lasts_min,
        endurance_high_min=lasts["high"].lasts_min,
        disk_loading_n_m2=weight / area,
    )


def _energy_wh(pack: Supply) -> float:
    """Usable energy at rest voltage."""
    return pack.charge_as("typical") / 3600.0 * pack.to_use() * pack.volts


POWER_AT: dict[Corner, float] = {"low": 1 + POWER_SPREAD, "typical": 1.0, "high": 1 - POWER_SPREAD}


def drive_problems(power: PowerFigures, drives: Sequence[Drive]) -> list[Problem]:
    """Motor figures that contradict themselves or their propeller; warnings at their fields."""
    volts, found = power.full_volts, dict(zip(drives, power.rotors, strict=True))
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
