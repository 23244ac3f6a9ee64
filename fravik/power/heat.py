"""How warm motors and boards get.

A motor is two lumps, its winding and the rest. The winding's copper makes I^2 R, growing with its own warmth, the rest what turning without
a load takes. The rest loses it to the propeller's wash as a cylinder across a stream: Nu = 0.26 Re^0.6 Pr^0.37 (Zhukauskas, for Re of 1e3
to 2e5; kept below that), never less than still air. A board is one lump, a box under a stream as a plate: Nu = 0.664 Re^0.5 Pr^(1/3). What
of the wash reaches them, and how much surface a bell has inside, are working assumptions with a wide spread.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.model.craft import Block, Motor
from fravik.model.material import Corner, Spread

from .momentum import AIR_DENSITY_KG_M3
from .thermal import Floats, Network, after_c, steady_c

AIR_W_MK, AIR_M2_S, PRANDTL = 0.026, 1.6e-5, 0.71
ELECTRIC_S = 1e-4  # a winding's inductance over its resistance
STILL_W_M2K = 10.0  # free convection and radiation of small warm things
CLOSED_W_M2K = 4.5  # the same behind a wall of still air
COPPER_PER_K = 0.0039
WINDING_OHM = 0.95  # of the resistance between two leads; the rest is the controller's
COPPER_SHARE, COPPER_J_GK, STEEL_J_GK, BOARD_J_GK = 0.25, 0.385, 0.46, 0.9
INTO_STATOR_W_K = 0.07  # from winding to stator, for a motor of one gram; goes with mass to the power 2/3
BELL_INSIDE = 2.0  # surface that air sweeps, inside and out, over the outside's
BOARD_SIDES = 2.0  # surface of boards one over the other, over that of their box
AT_HUB, AT_BODY = 0.6, 0.25  # of the wash's speed in the disk, at the motor and over the body
COOLING: dict[Corner, float] = {"low": 0.65, "typical": 1.0, "high": 1.5}  # how far such figures lie off
BURST_S = 20.0  # of full throttle, from hover
BURNS_C = 400.0  # told as it stands and not beyond: a winding burns before
USUAL_C = 20.0  # at which resistances are given


def wash_m_s(thrust_n: float, diameter_mm: float) -> float:
    """Speed of the air through a hovering disk, sqrt(T / (2 rho A))."""
    return math.sqrt(max(thrust_n, 0.0) / (2 * AIR_DENSITY_KG_M3 * math.pi / 4 * (diameter_mm * 1e-3) ** 2))


def cylinder_w_m2k(diameter_mm: float, speed_m_s: float) -> float:
    """Heat given to air across a cylinder."""
    d = diameter_mm * 1e-3
    return max(0.26 * (speed_m_s * d / AIR_M2_S) ** 0.6 * PRANDTL**0.37 * AIR_W_MK / d, STILL_W_M2K)


def plate_w_m2k(length_mm: float, speed_m_s: float) -> float:
    """Heat given to air along a plate, its mean."""
    x = length_mm * 1e-3
    return max(0.664 * math.sqrt(speed_m_s * x / AIR_M2_S) * PRANDTL ** (1 / 3) * AIR_W_MK / x, STILL_W_M2K)


@dataclass(frozen=True)
class Work:
    """A motor at work: mean square of its current in A^2, volts, and the air past it in m/s."""

    amps2: float
    volts: float
    air_m_s: float


def motor_network(motor: Motor, work: Work, corner: Corner = "typical") -> Network:
    """Winding and the rest; the ``low`` corner cools worst."""
    d, h = motor.diameter_mm * 1e-3, motor.height_mm * 1e-3
    surface = BELL_INSIDE * (math.pi * d * h + math.pi / 4 * d * d)
    out = cylinder_w_m2k(motor.diameter_mm, AT_HUB * work.air_m_s) * surface * COOLING[corner]
    copper = work.amps2 * motor.resistance_mohm * 1e-3 * WINDING_OHM
    between = np.zeros((2, 2))
    between[0, 1] = INTO_STATOR_W_K * motor.mass_g ** (2 / 3)
    heat = motor.mass_g * np.array([COPPER_SHARE * COPPER_J_GK, (1 - COPPER_SHARE) * STEEL_J_GK])
    idle = motor.no_load_a * max(work.volts, 0.0)
    return Network(heat, np.array([copper, idle]), np.array([copper * COPPER_PER_K, 0.0]), USUAL_C, np.array([0.0, out]), between)


def winding_c(motor: Motor, work: Work, air_c: float) -> Spread:
    """Temperature at which the winding settles; low, usual and high."""
    each = {c: min(float(steady_c(motor_network(motor, work, c), air_c)[0]), BURNS_C) for c in COOLING}
    return Spread(each["high"], each["typical"], each["low"])


def burst_c(motor: Motor, before: Work, work: Work, air_c: float, seconds: float = BURST_S) -> Spread:
    """Temperature of the winding some seconds after work that it had settled to."""
    each: dict[Corner, float] = {}
    for corner in COOLING:
        start: Floats = steady_c(motor_network(motor, before, corner), air_c)
        settled = bool(np.isfinite(start).all())
        each[corner] = min(float(after_c(motor_network(motor, work, corner), start, air_c, seconds)[0]), BURNS_C) if settled else BURNS_C
    return Spread(each["high"], each["typical"], each["low"])


def board_network(block: Block, watts: float, air_m_s: float, corner: Corner = "typical") -> Network:
    """A box that makes heat, in the open, closed in, or in moving air."""
    a, b, c = (block.length_mm * 1e-3, block.width_mm * 1e-3, block.height_mm * 1e-3)
    surface = 2 * (a * b + b * c + a * c)
    h = CLOSED_W_M2K if block.closed_in else plate_w_m2k(block.length_mm, AT_BODY * air_m_s) if air_m_s > 0 else STILL_W_M2K
    lumps = np.array([max(block.mass_g, 0.1) * BOARD_J_GK])
    return Network(
        lumps, np.array([watts]), np.zeros(1), USUAL_C, np.array([h * BOARD_SIDES * surface * COOLING[corner]]), np.zeros((1, 1))
    )
