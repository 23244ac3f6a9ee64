"""How quickly a motor with its propeller changes speed.

Linear about a speed w: J w' = Kt (U - Ke w) / R - q w^2, with Kt = Ke, gives the lag J / (Kt^2 / R + 2 q w) and the answer to a volt
(Kt / R) / (Kt^2 / R + 2 q w) in rad/s. The bell's inertia is taken from the motor's weight and size (working assumption: half its
weight turns, at 0.8 of its radius).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .drive import Drive
from .momentum import RotorFigures
from .motor import torque_constant_nm_a
from .propeller import propeller_inertia_gmm2

Floats = NDArray[np.float64]

BELL_SHARE, BELL_RADIUS = 0.5, 0.8


@dataclass(frozen=True)
class Lag:
    """At a speed: the lag in s, thrust for a volt in N, and what the rotor's inertia adds to its propeller's torque, in s."""

    lag_s: float
    n_per_volt: float
    swing_s: float


def spinning_kgm2(drive: Drive) -> float:
    """Propeller and bell about the shaft."""
    bell = BELL_SHARE * drive.motor.mass_g * (BELL_RADIUS * drive.motor.diameter_mm / 2) ** 2
    return (float(propeller_inertia_gmm2(drive.propeller)[2, 2]) + bell) * 1e-9


def lag_at(drive: Drive, figures: RotorFigures, rpm: float) -> Lag:
    """About a speed, with the propeller's torque and thrust as in hover."""
    w, hover = max(rpm, 1.0) * 2 * math.pi / 60, figures.hover_rpm * 2 * math.pi / 60
    q, c = figures.hover_torque_nmm * 1e-3 / hover**2, figures.hover_thrust_n / hover**2
    kt, r = torque_constant_nm_a(drive.motor), drive.motor.resistance_mohm * 1e-3
    turning, held = spinning_kgm2(drive), kt * kt / r + 2 * q * w
    return Lag(turning / held, 2 * c * w * kt / r / held, turning / (2 * q * w))


def driven_a2(drive: Drive, figures: RotorFigures, step_s: float, thrust_n: Floats, most_v: float) -> float:
    """Mean square of the current that a swinging demand for thrust (f,), about hover, drives through a motor; both as spectra.

    Of a voltage U what the motor does not follow drives current: I = U / R (1 - k / (1 + lag s)), k = Kt^2 / R over all that holds it.
    The controller gives no more than ``most_v`` either way.
    """
    lag = lag_at(drive, figures, figures.hover_rpm)
    kt, r = torque_constant_nm_a(drive.motor), drive.motor.resistance_mohm * 1e-3
    volts = np.clip(thrust_n / lag.n_per_volt, -most_v, most_v)
    s = 2j * np.pi * np.fft.rfftfreq(len(volts), step_s)
    held = lag.lag_s / spinning_kgm2(drive) * kt * kt / r
    amps = np.fft.irfft(np.fft.rfft(volts - volts.mean()) / r * (1.0 - held / (1.0 + s * lag.lag_s)), len(volts))
    return float((amps**2).mean())
