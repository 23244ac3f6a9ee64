"""The rate loop: a flexible craft's transfer function by hand, margins and the ring's pitch in time, and Nyquist's count against poles."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from fravik.flight.loop import (
    Controller,
    Motors,
    Plant,
    controller_response,
    frequencies,
    margins,
    paths,
    plant_response,
    tuned,
    unstable_poles,
)
from fravik.flight.looptime import linear, simulate
from fravik.model.craft import Motor, Propeller
from fravik.power.drive import Drive
from fravik.power.lag import lag_at, spinning_kgm2
from fravik.power.momentum import rotor_figures
from fravik.power.motor import torque_constant_nm_a

from .check import Check

CROSSOVER_HZ, FREE_N = 20.0, 1e280
LEVERS = np.array([100.0, -100.0, -100.0, 100.0])
MOTORS = Motors(np.full(4, 0.03), np.full(4, 0.01), np.ones(4))


def bending_craft(bend: float, hz: tuple[float, ...] = (60.0, 140.0), zeta: float = 0.015) -> Plant:
    """Four rotors that turn a craft of 3 t mm2; modes answer by shares of the rigid craft, against it where ``bend`` is below 0."""
    rigid, m = LEVERS / 3.0, len(hz)
    shape = bend * np.array([(-0.6) ** k for k in range(m)])
    return Plant(2 * np.pi * np.array(hz), np.full(m, zeta), rigid[:, None] * shape, np.zeros((4, m)), rigid, np.zeros(4),
                 LEVERS / float(LEVERS @ LEVERS), np.array([1.0, -1.0, 1.0, -1.0]), np.full(4, 15.0))  # fmt: skip


def loop_of(plant: Plant, motors: Motors, c: Controller) -> tuple[np.ndarray, np.ndarray]:
    """Frequencies and the open loop there."""
    w = frequencies(plant, CROSSOVER_HZ)
    return w, controller_response(c, w) * plant_response(plant, motors, paths(plant, w))


def _two_bodies() -> list[Check]:
    """Two inertias on a twisting spring, turned and seen at unlike ends: torque over rate by hand."""
    one, two, k, w = 2.0, 0.5, 3.0e4, 2 * math.pi * 30.0
    w0 = math.sqrt(k * (1 / one + 1 / two))
    # modes of unit mass: together, and against each other
    whole, apart = 1 / math.sqrt(one + two), math.sqrt(two / (one * (one + two)))
    other = -apart * one / two
    plant = Plant(np.array([w0]), np.zeros(1), np.zeros((1, 1)), np.array([[apart * other]]), np.zeros(1), np.array([whole**2]),
                  np.ones(1), -np.ones(1), np.ones(1))  # fmt: skip
    got = plant_response(plant, Motors(np.zeros(1), np.zeros(1), np.ones(1)), paths(plant, np.array([w])))[0]
    s = 1j * w
    matrix = np.array([[one * s**2 + k, -k], [-k, two * s**2 + k]])
    exact = s * np.linalg.solve(matrix, np.array([0.0, 1.0]))[0]
    return [Check("two inertias on a spring, turned at one and seen at the other", "two equations by hand", abs(exact), abs(complex(got)),
                  1e-9, "hand sum")]  # fmt: skip


def _grows(plant: Plant, c: Controller, db: float) -> tuple[bool, float]:
    """Whether the loop with so much more gain grows in time, and at which pitch it swings."""
    free = np.full(4, FREE_N)
    found = simulate(plant, MOTORS, replace(c, k=c.k * 10 ** (db / 20)), -free, free, 2.5)
    size, part = np.abs(found.rate_dps), len(found.rate_dps) // 6
    up = np.flatnonzero((found.rate_dps[:-1] < 0) & (found.rate_dps[1:] >= 0))
    up = up[len(up) // 2 :]
    hz = (len(up) - 1) / (found.at_s[up[-1]] - found.at_s[up[0]]) if len(up) > 2 else 0.0
    return bool(not np.isfinite(size).all() or size[-part:].max() > size[2 * part : 3 * part].max()), float(hz)


def _in_time() -> list[Check]:
    out = []
    for bend, feet in ((0.0, None), (0.6, None), (-0.3, None), (0.3, (2 * math.pi * 75.0, 0.1))):
        plant = replace(bending_craft(bend), feet=feet)
        c = tuned(plant, MOTORS, CROSSOVER_HZ, 0.7, 6.0, (), 4.0, 0.002)
        found = margins(*loop_of(plant, MOTORS, c))
        low, high = -16.0, 16.0
        with np.errstate(over="ignore", invalid="ignore"):
            for _ in range(9):
                middle = (low + high) / 2
                low, high = (low, middle) if _grows(plant, c, middle)[0] else (middle, high)
            _, hz = _grows(plant, c, low)
        name = "a rigid craft" if not bend else f"modes that answer {bend:+g} of it{', the gyro on soft feet' if feet else ''}"
        # compared as gains: 0.3 dB are 3.5 %
        for what, exact, got, within in (("how far its gain may grow", 10 ** (low / 20), 10 ** (found.gain_db / 20), 0.035),
                                         ("at which pitch it rings, Hz", hz, found.freq_hz, 0.02)):  # fmt: skip
            out.append(Check(f"loop with {name}: {what}", "in small steps of time", exact, got, within, "another method"))
    return out


def _counted() -> list[Check]:
    """Poles in the right half by Nyquist's count and as eigenvalues, the delay in these by a fraction of high order."""
    out = []
    for bend, db in ((0.0, 0.0), (0.0, 12.0), (0.6, 6.0), (0.6, 10.0), (-0.5, 5.0), (-0.5, 14.0), (1.5, 20.0)):
        plant = bending_craft(bend)
        c = tuned(plant, MOTORS, CROSSOVER_HZ, 0.7, 6.0, (45.0,), 4.0, 0.002)
        c = replace(c, k=c.k * 10 ** (db / 20))
        got = unstable_poles(loop_of(plant, MOTORS, c)[1])
        out.append(Check(f"unstable poles, modes {bend:+g}, {db:+g} dB", "eigenvalues", float(right_poles(plant, c)) + 1.0, got + 1.0, 1e-9,
                         "another method"))  # fmt: skip
    return out


def right_poles(plant: Plant, c: Controller, order: int = 24) -> int:
    """Eigenvalues in the right half of the loop closed through a delay as so many first-order all-passes in a row."""
    cut, n = linear(plant, MOTORS, c), len(plant.share)
    size, t = len(cut.a), c.delay_s / order
    a = np.zeros((size + order, size + order))
    a[:size, :size] = cut.a
    # each all-pass (2/t - s) / (2/t + s): out = -in + x, x' = (2/t) (2 in - x)
    signal = np.concatenate([cut.out, np.zeros(order)])
    for k in range(order):
        a[size + k] = (2 / t) * 2 * signal
        a[size + k, size + k] -= 2 / t
        out = -signal
        out[size + k] += 1.0
        signal = out
    a[:size] += np.outer(cut.b @ plant.share, signal)
    assert n == cut.b.shape[1]
    return int((np.linalg.eigvals(a).real > 1e-6).sum())


def _motor() -> list[Check]:
    """A motor's lag against its own speeding up from a step of voltage, small enough to stay where it turns."""
    drive = Drive(Motor(), Propeller())
    figures = rotor_figures(drive, 2.0, 21.6, 21.6)
    lag = lag_at(drive, figures, figures.hover_rpm)
    kt, r, j = torque_constant_nm_a(drive.motor), drive.motor.resistance_mohm * 1e-3, spinning_kgm2(drive)
    w = w0 = figures.hover_rpm * 2 * math.pi / 60
    q, step, at = figures.hover_torque_nmm * 1e-3 / w0**2, 1e-5, 0.0
    volts, rise = (q * w0**2 / kt) * r + kt * w0 + 0.01, 0.01 * kt / r / (kt * kt / r + 2 * q * w0)
    while w < w0 + (1 - math.exp(-1)) * rise:
        w += step * (kt * (volts - kt * w) / r - q * w * w) / j
        at += step
    return [Check("a motor's lag, s", "a step of voltage in time", at, lag.lag_s, 0.005, "another method")]


GROUPS = (_two_bodies, _in_time, _counted, _motor)
