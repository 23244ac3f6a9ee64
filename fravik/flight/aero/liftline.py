"""A lifting line whose sections lift as they do, beyond stall too (Prandtl 1918; the form with trailing vortices in space: Phillips and
Snyder 2000). Each strip's circulation is half its speed times chord times the lift coefficient at the angle that it meets:

    r_i = G_i - V_i c_i cl_i(angle + atan((W_i + sum A_ij G_j) / U_i)) / 2 = 0

solved by Newton with slopes below nothing taken as none at first, which leads into a stalled wing, and as they are once near. Sections
of swept wings meet the
part of the stream across their quarter-chord line. Limits: no roll-up, no thickness of the wake, dihedral counts in place alone.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from fravik.power.bem import NU, read_polar

from .aerofoils import FLAP_GOOD, FLAP_LARGE_RAD, FLAP_LEAST, FLAP_SMALL_RAD
from .strips import Strips

Floats = NDArray[np.float64]
ROUNDS, DONE = 60, 1e-11
YOUNG = 1.7  # drag of a plain flap: 1.7 share^1.38 sin^2 (Young 1953)
STEP_DEG = 0.05  # of a table that is straight between whole degrees
LEAST_DAMP, SLOW = 0.1, 0.97
FALLS_FROM, DIAGONAL = 8, 0.3  # the round from which falling slopes count, and what is kept on the diagonal then


class StripArrays(NamedTuple):
    """What the compiled part needs of ``Strips``."""

    chord: Floats
    sweep_cos: Floats
    lift: Floats
    drag: Floats
    moment: Floats
    log_re: Floats
    stall: Floats
    no_lift: Floats
    own_moment: Floats
    flap_turn: Floats
    flap_moment: Floats
    flap_share: Floats
    influence: Floats


def arrays_of(s: Strips) -> StripArrays:
    """The same, as compiled code takes it."""
    return StripArrays(s.chord_m, s.sweep_cos, s.lift, s.drag, s.moment, s.log_re, s.stall_rad, s.no_lift_rad, s.own_moment, s.flap_turn,
                       s.flap_moment, s.flap_share, s.influence)  # fmt: skip


@njit(cache=True, nogil=True)
def flap_gain(turned: float) -> float:
    """What a plain flap gives of thin aerofoil theory as it is turned farther. Compiled."""
    a = abs(turned)
    if a <= FLAP_SMALL_RAD:
        return FLAP_GOOD
    share = min((a - FLAP_SMALL_RAD) / (FLAP_LARGE_RAD - FLAP_SMALL_RAD), 1.0)
    return FLAP_GOOD + share * (FLAP_LEAST - FLAP_GOOD)


@njit(cache=True, nogil=True)
def _row(log_re: Floats, speed: float, chord: float) -> tuple[int, float]:
    re = math.log(max(speed * chord / NU, 1.0))
    row = 0
    while row < len(log_re) - 2 and re > log_re[row + 1]:
        row += 1
    return row, min(max((re - log_re[row]) / (log_re[row + 1] - log_re[row]), 0.0), 1.0)


@njit(cache=True, nogil=True)
def _lift(s: StripArrays, k: int, row: int, part: float, attack: float, flap: float) -> float:
    """Lift coefficient at an angle of attack (rad) across the quarter-chord line, with its flap turned down by ``flap`` (rad)."""
    deg = (attack - s.no_lift[k]) * 180 / math.pi
    base = read_polar(s.lift, k, row, part, deg)
    if flap == 0.0 or s.flap_turn[k] == 0.0:
        return base
    gain = 2 * math.pi * s.flap_turn[k] * flap_gain(flap) * flap
    over = max(abs(attack) - s.stall[k, row], 0.0)
    return base + gain * max(math.cos(attack), 0.0) ** 2 / (1 + 4 * over)


@njit(cache=True, nogil=True)
def solve_strips(s: StripArrays, ahead: Floats, up: Floats, angle: Floats, flap: Floats, gamma: Floats) -> tuple[Floats, Floats, bool]:
    """Circulation (n,) and induced upward velocity (n,), from a start ``gamma``; whether they agree. ``ahead`` and ``up`` (n,) are the
    stream
    that meets each strip from the front and from below, ``angle`` and ``flap`` its angle over the body's line and its flap. Compiled."""
    n = len(ahead)
    g, w, r, a = gamma.copy(), np.zeros(n), np.zeros(n), np.zeros((n, n))
    last, damp, agree = 1e30, 1.0, False
    for turn in range(ROUNDS):
        size = 0.0
        for i in range(n):
            w[i] = 0.0
            for j in range(n):
                w[i] += s.influence[i, j] * g[j]
        for i in range(n):
            u, v = ahead[i], up[i] + w[i]
            speed = math.hypot(u, v)
            if speed < 1e-9:
                r[i] = g[i]
                for j in range(n):
                    a[i, j] = 0.0
                a[i, i] = 1.0
                continue
            row, part = _row(s.log_re, speed, s.chord[i])
            c = s.sweep_cos[i]
            attack = (angle[i] + math.atan2(v, u)) / c
            k = 0.5 * s.chord[i] * c * c
            cl = _lift(s, i, row, part, attack, flap[i])
            step = STEP_DEG * math.pi / 180
            slope = (_lift(s, i, row, part, attack + step, flap[i]) - _lift(s, i, row, part, attack - step, flap[i])) / (2 * step)
            slope /= c
            r[i] = g[i] - k * speed * cl
            size = max(size, abs(r[i]))
            d = k * (slope * u / speed + cl * v / speed)
            if turn < FALLS_FROM:
                d = k * (max(slope, 0.0) * u / speed + cl * v / speed)
            elif 1 - d * s.influence[i, i] < DIAGONAL:
                d = (1 - DIAGONAL) / s.influence[i, i]
            for j in range(n):
                a[i, j] = -d * s.influence[i, j]
            a[i, i] += 1.0
        scale = 1e-12
        for i in range(n):
            scale = max(scale, abs(g[i]))
        if size < DONE * max(scale, 1e-3):
            agree = True
            break
        if turn > 3:
            # a step that helped little was too long; one that helped allows a longer one
            damp = max(0.5 * damp, LEAST_DAMP) if size > SLOW * last else min(1.5 * damp, 1.0)
        last = size
        _eliminate(a, r)
        for i in range(n):
            g[i] -= damp * r[i]
    return g, w, agree


@njit(cache=True, nogil=True)
def _eliminate(a: Floats, b: Floats) -> None:
    """b becomes a^-1 b; a is spoiled. It has a large diagonal, so that rows stay where they are."""
    n = len(b)
    for k in range(n):
        p = a[k, k]
        for i in range(k + 1, n):
            f = a[i, k] / p
            if f != 0.0:
                for j in range(k + 1, n):
                    a[i, j] -= f * a[k, j]
                b[i] -= f * b[k]
    for k in range(n - 1, -1, -1):
        t = b[k]
        for j in range(k + 1, n):
            t -= a[k, j] * b[j]
        b[k] = t / a[k, k]


@njit(cache=True, nogil=True)
def strip_forces(
    s: StripArrays, ahead: Floats, up: Floats, angle: Floats, flap: Floats, w: Floats
) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """Of each strip, over dynamic pressure of one kg/m3 and its width: force ahead and up (m3/s2), moment nose up about its quarter chord,
    lift coefficient, and how far it is from stall (rad; below nothing: stalled). Compiled."""
    n = len(ahead)
    fx, fz, m, cls, left = np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n)
    for i in range(n):
        u, v = ahead[i], up[i] + w[i]
        speed = math.hypot(u, v)
        if speed < 1e-9:
            left[i] = s.stall[i, 0]
            continue
        row, part = _row(s.log_re, speed, s.chord[i])
        c = s.sweep_cos[i]
        attack = (angle[i] + math.atan2(v, u)) / c
        deg = (attack - s.no_lift[i]) * 180 / math.pi
        cl = c * c * _lift(s, i, row, part, attack, flap[i])
        cd = read_polar(s.drag, i, row, part, deg)
        cm = read_polar(s.moment, i, row, part, deg) + s.own_moment[i]
        if flap[i] != 0.0 and s.flap_share[i] > 0.0:
            cd += YOUNG * s.flap_share[i] ** 1.38 * math.sin(flap[i]) ** 2 * abs(math.cos(attack))
            cm += s.flap_moment[i] * flap_gain(flap[i]) * flap[i] * max(math.cos(attack), 0.0) ** 2
        q = 0.5 * speed * speed * s.chord[i]
        fx[i] = q * (cl * v - cd * u) / speed
        fz[i] = q * (cl * u + cd * v) / speed
        m[i] = q * s.chord[i] * cm
        cls[i] = cl / max(c * c, 1e-9)
        left[i] = s.stall[i, row] - abs(attack)
    return fx, fz, m, cls, left
