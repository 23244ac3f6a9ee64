"""Flight in the upright plane in time, along a way from hover to forward flight or back, with a simple stabiliser.

Newton's laws for a rigid body, by Runge and Kutta's fourth order. The stabiliser holds height by thrust and, as the wing carries, by the
nose;
attitude by rotors against each other and by surfaces, blended by how far over the craft is. Thrust follows with a lag, the tilt at its
actuator's speed. Limits: no roll, no yaw, no wind but the gust that is asked for; a real controller is tuned, this one is the same for all.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from .flyer import Flyer
from .forces import FX, FZ, NOSE_UP, POWER, STALLED, AirCraft, forces
from .trim import ATTITUDE, GAIN, SURFACE, THRUST_A, THRUST_B, UNKNOWNS

Floats = NDArray[np.float64]
STEP_S, KEEP_EVERY = 0.02, 3
LAG_S = 0.08
STAYS_S = 3.0  # near the speed at which a way ends: then it has arrived
X, Z, VX, VZ, PITCH, RATE, OVER, TA, TB, TC, ENERGY = range(11)
STATES = 11
COLUMNS = STATES + 4  # what is kept: states, then speed, surface, stalled share, most thrust's share
MOST_RATE = 1.2  # rad/s of attitude that a stabiliser asks for
HEIGHT, CLIMB, NOSE, DAMP = 0.8, 1.6, 14.0, 6.0  # 1/s2 a metre, 1/s, 1/s2 a radian, 1/s: critically damped or nearly
FLY_HEIGHT = 0.04  # rad of nose a metre, where the wing carries
LOST_RAD, LOST_M = math.radians(75), 60.0


class Plan(NamedTuple):
    """What the pilot or his controller asks for, over speeds (w,): part over, attitude, thrusts of both groups, the most of the
    pusher, surface; how
    fast the way over may change (1/s), whether the way back, a part over at which it sticks (below nothing: none), and the gust."""

    speed: Floats
    over: Floats
    attitude: Floats
    thrust_a: Floats
    thrust_b: Floats
    push: Floats
    surface: Floats
    pace: float
    gain: float
    at_once: bool
    stuck_at: float
    gust: float
    gust_s: float
    surface_most: float
    most_a: float
    most_b: float
    most_c: float
    on_tail: bool
    lost_group: int
    lost_share: float


@njit(cache=True, nogil=True)
def _rates(c: AirCraft, y: Floats, over_to: float, ta: float, tb: float, tc: float, surface: float, gust: float, gamma: Floats, pace: float,
           on_tail: bool) -> tuple[Floats, Floats, float]:  # fmt: skip
    cs, sn = math.cos(y[PITCH]), math.sin(y[PITCH])
    vx, vz = y[VX], y[VZ] - gust
    ahead, up = vx * cs + vz * sn, vx * sn - vz * cs
    acts, g = forces(c, min(max(y[OVER], 0.0), 1.0), ahead, up, y[RATE], np.array([y[TA], y[TB], y[TC]]), surface, 0.0, gamma)
    d = np.zeros(STATES)
    d[X], d[Z], d[PITCH] = y[VX], y[VZ], y[RATE]
    d[VX] = (acts[FX] * cs - acts[FZ] * sn) / c.mass
    d[VZ] = (acts[FX] * sn + acts[FZ] * cs - c.weight) / c.mass
    d[RATE] = acts[NOSE_UP] / c.inertia
    d[OVER] = min(max((over_to - y[OVER]) / STEP_S, -pace), pace)
    d[TA], d[TB], d[TC] = (ta - y[TA]) / LAG_S, (tb - y[TB]) / LAG_S, (tc - y[TC]) / LAG_S
    d[ENERGY] = acts[POWER]
    return d, g, acts[STALLED]


@njit(cache=True, nogil=True)
def _run(c: AirCraft, p: Plan, start: Floats, seconds: float, na: float, nb: float, lever: float) -> Floats:
    steps = int(seconds / STEP_S)
    kept = np.zeros((steps // KEEP_EVERY + 1, COLUMNS))
    y, gamma, at = start.copy(), np.zeros(len(c.width)), 0
    end, there = p.speed[-1] if p.gain > 0 else 0.0, 0.0
    near = max(0.1 * p.speed[-1], 1.0)
    asked = start[VX]
    for k in range(steps):
        t = k * STEP_S
        speed = max(y[VX], 0.0)
        # speed that is asked for grows or falls as planned, and waits for the craft
        asked = min(max(asked + p.gain * STEP_S, 0.0), p.speed[-1])
        wait = 6.0 if p.on_tail else 2.0
        asked = min(max(asked, speed - wait), speed + wait)
        plan_at = asked if not p.at_once else (p.speed[-1] if p.gain > 0 else 0.0)
        over_to = np.interp(plan_at, p.speed, p.over)
        if p.stuck_at >= 0 and ((p.gain > 0 and y[OVER] >= p.stuck_at) or (p.gain < 0 and y[OVER] <= p.stuck_at)):
            over_to = y[OVER]
        where = min(speed, p.speed[-1])
        over = min(max(y[OVER], 0.0), 1.0)
        fly = min(max((where / max(p.speed[-1], 1e-9) - 0.4) / 0.5, 0.0), 1.0)
        pitch_to = np.interp(where, p.speed, p.attitude)
        if p.on_tail:
            pitch_to = math.pi / 2 * (1 - over)
        else:
            pitch_to += (1 - fly) * min(max(0.03 * (y[VX] - asked), -0.10), 0.10)
        pitch_to += fly * min(max(-FLY_HEIGHT * y[Z] - 0.08 * y[VZ], -0.12), 0.14)
        climb = -HEIGHT * y[Z] - CLIMB * y[VZ]
        lift = c.mass * min(max(climb, -4.0), 4.0) * (1 - 0.7 * fly)
        turn = c.inertia * min(max(NOSE * (pitch_to - y[PITCH]) - DAMP * y[RATE], -25.0), 25.0)
        ta, tb = np.interp(where, p.speed, p.thrust_a), np.interp(where, p.speed, p.thrust_b)
        tc = over * np.interp(where, p.speed, p.push)
        each = lift / max(na + nb, 1.0)
        apart = turn / lever if lever > 1e-6 and nb > 0 else 0.0
        # what pulls ahead also holds the speed that is asked for
        hold = 0.4 * c.mass * (asked - speed) * fly
        tc = min(max(tc + (hold if p.gain > 0 else 0.0), 0.0), p.most_c)
        if p.most_c <= 0:
            ta += hold * over / max(na, 1.0)
        ta = min(max(ta + each + apart / max(na, 1.0), 0.0), p.most_a)
        tb = min(max(tb + each - apart / max(nb, 1.0), 0.0), p.most_b)
        if p.lost_group == 0:
            ta *= p.lost_share
        elif p.lost_group == 1:
            tb *= p.lost_share
        surface = np.interp(where, p.speed, p.surface) + 1.5 * (pitch_to - y[PITCH]) - 0.4 * y[RATE]
        surface = min(max(surface, -p.surface_most), p.surface_most)
        gust = p.gust * 0.5 * (1 - math.cos(2 * math.pi * min(max(t - p.gust_s, 0.0), 1.0)))
        args = (over_to, ta, tb, tc, surface, gust)
        d1, gamma, stalled = _rates(c, y, args[0], ta, tb, tc, surface, gust, gamma, p.pace, p.on_tail)
        d2, gamma, _ = _rates(c, y + STEP_S / 2 * d1, args[0], ta, tb, tc, surface, gust, gamma, p.pace, p.on_tail)
        d3, gamma, _ = _rates(c, y + STEP_S / 2 * d2, args[0], ta, tb, tc, surface, gust, gamma, p.pace, p.on_tail)
        d4, gamma, _ = _rates(c, y + STEP_S * d3, args[0], ta, tb, tc, surface, gust, gamma, p.pace, p.on_tail)
        if k % KEEP_EVERY == 0:
            kept[at, :STATES] = y
            kept[at, STATES], kept[at, STATES + 1], kept[at, STATES + 2] = speed, surface, stalled
            kept[at, STATES + 3] = max(ta / max(p.most_a, 1e-9), tb / max(p.most_b, 1e-9) if nb > 0 else 0.0)
            at += 1
        y = y + STEP_S / 6 * (d1 + 2 * d2 + 2 * d3 + d4)
        y[OVER] = min(max(y[OVER], 0.0), 1.0)
        there = there + STEP_S if abs(y[VX] - end) < near and abs(y[RATE]) < 0.3 else 0.0
        if there > STAYS_S:
            break
        if not (abs(y[Z]) < 1e4) or abs(y[PITCH]) > 3.0 or y[Z] < -2 * LOST_M:
            break
    return kept[:at]


@dataclass(frozen=True, eq=False)
class Flight:
    """A flight in time: ``rows`` (t, COLUMNS), one every ``every_s``."""

    name: str
    rows: Floats
    every_s: float
    reached: bool
    wanted_pitch: Floats

    @property
    def seconds(self) -> Floats:
        """(t,)."""
        return np.arange(len(self.rows), dtype=np.float64) * self.every_s

    @property
    def height_lost_m(self) -> float:
        """The farthest below where it began."""
        return float(max(-self.rows[:, Z].min(), 0.0))

    @property
    def overshoot_rad(self) -> float:
        """The most that the nose goes beyond what was asked for."""
        return float(np.abs(self.rows[:, PITCH] - self.wanted_pitch).max())

    @property
    def lost(self) -> bool:
        """Whether it fell or tumbled."""
        return bool(self.height_lost_m > LOST_M or self.overshoot_rad > LOST_RAD)

    @property
    def energy_j(self) -> float:
        """Drawn."""
        return float(self.rows[-1, ENERGY])


def fly_plan(f: Flyer, p: Plan, name: str, seconds: float, start: Floats) -> Flight:
    """Flown once. ``start`` (STATES,)."""
    group = f.groups
    na, nb = float((group == 0).sum()), float((group == 1).sum())
    x, z = f.com_at(0.0)

    def lever(which: int) -> float:
        mine = [r.at_m for r, g in zip(f.rotors, group, strict=True) if g == which]
        return float(np.mean([(z - m[2]) if f.on_tail else (m[0] - x) for m in mine])) if mine else 0.0

    arm = lever(0) - lever(1) if nb else 0.0
    rows = _run(f.air, p, start, seconds, na, nb, arm)
    end = p.speed[-1] if p.gain > 0 else 0.0
    wanted = np.interp(rows[:, STATES], p.speed, p.attitude)
    if f.on_tail:
        wanted = math.pi / 2 * (1 - rows[:, OVER])
    near = np.abs(rows[:, STATES] - end) < max(0.1 * p.speed[-1], 1.0)
    return Flight(name, rows, STEP_S * KEEP_EVERY, bool(near.any()), wanted)


def start_at(p: Plan, at_end: bool) -> Floats:
    """The state at the beginning or at the end of a way, flying level."""
    k = -1 if at_end else 0
    y = np.zeros(STATES)
    y[VX], y[PITCH], y[OVER], y[TA], y[TB] = p.speed[k], p.attitude[k], p.over[k], p.thrust_a[k], p.thrust_b[k]
    y[TC] = p.over[k] * p.push[k]
    return y


def plan_from(f: Flyer, speeds: Floats, over: Floats, points: Floats, gain: float, pace: float) -> Plan:
    """From balance (w, COLUMNS) along a way."""
    most = [f.limits_at(float(o), float(v))[:2] for o, v in zip(over, speeds, strict=True)]
    a, b = (min(float(m[1][k]) for m in most if m[1][k] > 0) if any(m[1][k] > 0 for m in most) else 0.0 for k in (THRUST_A, THRUST_B))
    x = points[:, :UNKNOWNS]
    # what it gives at full throttle
    push = f.limits(1.0, speeds)[2]
    return Plan(speeds, over, x[:, ATTITUDE].copy(), x[:, THRUST_A].copy(), x[:, THRUST_B].copy(), push, x[:, SURFACE].copy(), pace, gain,
                False, -1.0, 0.0, 0.0, f.surface_rad, a, b, float(push.max(initial=0.0)), f.on_tail, -1, 1.0)  # fmt: skip


__all__ = ["GAIN", "Flight", "Plan", "fly_plan", "plan_from", "start_at"]
