"""Hover and full-throttle figures from momentum theory with stated efficiencies.

Thrust follows T = C_T rho n^2 D^4; ideal hover power is T^1.5 / sqrt(2 rho A) per disk, divided by the propeller's figure
of merit and the motor's efficiency. Full-throttle speed is KV x voltage x loaded-speed ratio. Limits: still air, sea level
by default, no speed controller limit, no battery sag beyond the stated cell voltage.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.model.craft import Components

AIR_DENSITY_KG_M3 = 1.225
GRAVITY_M_S2 = 9.80665
EFFICIENCY_SPREAD = 0.08


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


def ideal_hover_power_w(thrust_n: float, diameter_mm: float) -> float:
    """Power of an ideal disk: T^1.5 / sqrt(2 rho A)."""
    area = math.pi / 4 * (diameter_mm * 1e-3) ** 2
    return thrust_n**1.5 / math.sqrt(2 * AIR_DENSITY_KG_M3 * area)


def rpm_for_thrust(thrust_n: float, thrust_coefficient: float, diameter_mm: float) -> float:
    """Speed at which a propeller makes the thrust."""
    n2 = max(thrust_n, 0.0) / (thrust_coefficient * AIR_DENSITY_KG_M3 * (diameter_mm * 1e-3) ** 4)
    return 60.0 * math.sqrt(n2)


def power_figures(mass_g: float, parts: Components, rotors: int = 4) -> PowerFigures:
    """Hover and full-throttle figures of a craft with equal rotors sharing its weight."""
    prop, motor, pack = parts.propeller, parts.motor, parts.battery
    weight = mass_g * 1e-3 * GRAVITY_M_S2
    hover = weight / rotors
    volts = pack.cells * pack.cell_volts
    full_rpm = motor.kv_rpm_per_v * volts * motor.loaded_speed
    full = prop.thrust_coefficient * AIR_DENSITY_KG_M3 * (full_rpm / 60) ** 2 * (prop.diameter_mm * 1e-3) ** 4
    hover_rpm = rpm_for_thrust(hover, prop.thrust_coefficient, prop.diameter_mm)
    shaft = ideal_hover_power_w(hover, prop.diameter_mm) / prop.figure_of_merit
    extra = sum(b.power_w for b in parts.blocks)
    power = rotors * shaft / motor.efficiency + extra
    energy = pack.capacity_mah * 1e-3 * volts * pack.usable

    def minutes(gain: float) -> float:
        return 60.0 * energy / (rotors * shaft / motor.efficiency / gain + extra)

    omega = hover_rpm * 2 * math.pi / 60
    return PowerFigures(
        hover_thrust_n=hover,
        full_thrust_n=full,
        thrust_to_weight=rotors * full / weight if weight > 0 else 0.0,
        hover_rpm=hover_rpm,
        full_rpm=full_rpm,
        idle_rpm=0.12 * full_rpm,
        hover_throttle=min(hover_rpm / full_rpm, 9.99) if full_rpm > 0 else 9.99,
        hover_power_w=power,
        hover_current_a=power / volts,
        energy_wh=energy,
        endurance_min=minutes(1.0),
        endurance_low_min=minutes(1.0 - EFFICIENCY_SPREAD),
        endurance_high_min=minutes(1.0 + EFFICIENCY_SPREAD),
        disk_loading_n_m2=weight / (rotors * math.pi / 4 * (prop.diameter_mm * 1e-3) ** 2),
        hover_torque_nmm=shaft / omega * 1e3 if omega > 0 else 0.0,
        # torque follows thrust: both go with the square of the speed
        full_torque_nmm=shaft / omega * 1e3 * full / hover if omega > 0 and hover > 0 else 0.0,
    )
