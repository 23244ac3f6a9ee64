"""The same loop in time, with motors that cannot push below nothing nor above full: what is seen on the bench.

All but the delay and the motors' limits is linear and stepped exactly; the delay is a run of steps. See ``loop`` for the equations.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.linalg import expm

from .loop import FLAT, Controller, Floats, Motors, Plant

LEAST_STEPS = 6  # of the delay
STEPS_A_TURN = 24  # of the quickest mode that the simulation follows
LEAST_S = 2e-5
KICK_DPS = 10.0


@dataclass(frozen=True, eq=False)
class Linear:
    """x' = a x + b c with thrusts asked for c (n,), and the moment asked for by the controller, u = out x; ``rate`` x is the gyro's."""

    a: Floats
    b: Floats
    out: Floats
    rate: Floats


@dataclass(frozen=True, eq=False)
class Second:
    """A simulated stretch: times (f,) s, the gyro's rate (f,) deg/s, and each motor's thrust asked for, from nothing to full (f, n)."""

    at_s: Floats
    rate_dps: Floats
    asked: Floats

    @property
    def swing(self) -> float:
        """How much of its range the worst motor is driven to and fro by at the end: 0 at rest, 1 from stop to stop."""
        last = self.asked[2 * len(self.asked) // 3 :]
        return float((last.max(axis=0) - last.min(axis=0)).max())


def linear(plant: Plant, motors: Motors, c: Controller) -> Linear:
    """The loop, cut at the motors, as first-order equations."""
    n, m, notches = len(plant.share), len(plant.w_rad_s), len(c.notch_hz)
    # thrusts, rigid rate, modes and their speeds, filter (2), notches (2 each), level, lead, integral, soft feet (2)
    size = n + 1 + 2 * m + 2 + 2 * notches + 5
    a, b = np.zeros((size, size)), np.zeros((size, n))
    t, rate, q, v, f = slice(0, n), n, slice(n + 1, n + 1 + m), slice(n + 1 + m, n + 1 + 2 * m), n + 1 + 2 * m
    a[t, t], b[t] = np.diag(-1 / motors.lag_s), np.diag(motors.gain / motors.lag_s)
    turn = -plant.spin * plant.torque_mm
    # of a torque on the frame, what goes with the thrust and what with its growth
    with_t, with_c = turn * (1 - motors.swing_s / motors.lag_s), turn * motors.swing_s * motors.gain / motors.lag_s
    a[rate, t] = plant.thrust_rigid + plant.torque_rigid * with_t
    b[rate] = plant.torque_rigid * with_c
    a[q, v] = np.eye(m)
    a[v, q], a[v, v] = np.diag(-(plant.w_rad_s**2)), np.diag(-2 * plant.zeta * plant.w_rad_s)
    a[v, t] = plant.thrust.T + (plant.torque * with_t[:, None]).T
    b[v] = (plant.torque * with_c[:, None]).T
    gyro = np.zeros(size)
    gyro[rate], gyro[v] = 1.0, 1.0
    gyro = _on_feet(a, plant, gyro, size - 5)
    wf, seen = c.filter_rad_s, np.zeros(size)
    a[f, f + 1] = 1.0
    a[f + 1] += wf**2 * gyro
    a[f + 1, f] -= wf**2
    a[f + 1, f + 1] -= 2 * FLAT * wf
    seen[f] = 1.0
    for k, hz in enumerate(c.notch_hz):
        # (s^2 + w^2) / (s^2 + w s / Q + w^2) = 1 - (w s / Q) / (...)
        w, at = 2 * np.pi * hz, f + 2 + 2 * k
        a[at, at + 1] = 1.0
        a[at + 1] += seen
        a[at + 1, at] -= w**2
        a[at + 1, at + 1] -= w / c.notch_q
        seen = seen.copy()
        seen[at + 1] -= w / c.notch_q
    level, lead, integral = size - 3, size - 2, size - 1
    if c.level_s > 0:
        a[level] += seen / c.level_s
        a[level, level] -= 1 / c.level_s
        seen = np.zeros(size)
        seen[level] = 1.0
    a[lead] += wf * seen
    a[lead, lead] -= wf
    a[integral] += seen
    out = seen * (1 + c.lead_s * wf)
    out[lead] -= c.lead_s * wf
    out[integral] += c.integral_rad_s
    return Linear(a, b, -c.k * out, gyro)


def _on_feet(a: Floats, plant: Plant, turn: Floats, at: int) -> Floats:
    """What a gyro on soft feet feels of the frame's turn; two states from ``at`` on."""
    if plant.feet is None:
        a[at, at] = a[at + 1, at + 1] = -1.0  # at rest
        return turn
    w, zeta = plant.feet
    # (2 z w s + w^2) / (s^2 + 2 z w s + w^2) in controllable form
    a[at, at + 1] = 1.0
    a[at + 1] += turn
    a[at + 1, at] -= w * w
    a[at + 1, at + 1] -= 2 * zeta * w
    out = np.zeros(len(turn))
    out[at], out[at + 1] = w * w, 2 * zeta * w
    return out


def simulate(
    plant: Plant, motors: Motors, c: Controller, low_n: Floats, high_n: Floats, seconds: float = 1.0, kick_dps: float = KICK_DPS
) -> Second:
    """From a kick of the craft's turn; thrusts asked for stay between ``low_n`` and ``high_n`` (n,), both about the working point."""
    loop = linear(plant, motors, c)
    quickest = max([c.filter_rad_s, *plant.w_rad_s.tolist(), plant.feet[0] if plant.feet is not None else 0.0])
    step = min(2 * np.pi / quickest / STEPS_A_TURN, c.delay_s / (LEAST_STEPS + 0.5))
    late = max(round(c.delay_s / max(step, LEAST_S) - 0.5), 1)
    step = c.delay_s / (late + 0.5)  # what is held for a step is half a step late by itself
    size, n = loop.a.shape[0], loop.b.shape[1]
    block = np.zeros((size + n, size + n))
    block[:size, :size], block[:size, size:] = loop.a, loop.b
    over = expm(block * step)
    run = _run(over[:size, :size], over[:size, size:], np.stack([loop.out, loop.rate]), late)
    count = max(int(seconds / step), 2)
    x, waiting = np.zeros(size), np.zeros(late)
    x[n] = np.radians(kick_dps)
    rates, thrusts = [], []
    for _ in range(-(-count // late)):
        thrust = np.minimum(np.maximum(waiting[:, None] * plant.share, low_n), high_n)
        drive = np.concatenate([x, thrust.ravel()])
        seen, x = (run.seen @ drive).reshape(late, 2), run.end @ drive
        waiting = seen[:, 0]
        rates.append(seen[:, 1])
        thrusts.append(thrust)
    asked = (np.concatenate(thrusts)[:count] - low_n) / np.maximum(high_n - low_n, 1e-12)
    return Second(np.arange(count) * step, np.degrees(np.concatenate(rates)[:count]), asked)


@dataclass(frozen=True, eq=False)
class Run:
    """As many steps as the delay is long, at once, as what is asked for in them was known before: from the state and the thrusts asked for
    (size + steps x n,) to what is looked at in each step (steps x looks, ...) and to the state after them (size, ...)."""

    seen: Floats
    end: Floats


def _run(ahead: Floats, push: Floats, looks: Floats, steps: int) -> Run:
    """From the state's step ``ahead`` (size, size), what a thrust adds to it ``push`` (size, n), and what is looked at (looks, size)."""
    (size, n), each = push.shape, len(looks)
    power, answer = np.eye(size), np.zeros((steps, each, n))  # the answer in a step to a thrust so many steps and one before
    seen = np.zeros((steps, each, size + steps * n))
    end = np.zeros((size, size + steps * n))
    for k in range(steps):
        seen[k, :, :size] = looks @ power
        answer[k] = looks @ power @ push
        end[:, size + (steps - 1 - k) * n : size + (steps - k) * n] = power @ push
        power = ahead @ power
        for j in range(k):
            seen[k, :, size + j * n : size + (j + 1) * n] = answer[k - 1 - j]
    end[:, :size] = power
    return Run(seen.reshape(steps * each, -1), end)
