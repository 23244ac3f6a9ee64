"""Balance in level flight at a speed and so far over: thrusts, attitude, surfaces and gain of speed at which nothing is left over.

Six unknowns (attitude, thrust of two groups of rotors, surfaces, gain of speed, thrust turned ahead) against three equations: of all
answers
the least, in the sense of squares over what each may cost, is sought by Newton steps on the linearised equations:

    x = x0 + S J' (J S J')^-1 (J (x - x0) - F)

What leaves its bounds is held there and the rest solved again. Where too little is free to balance, there is none, and what stood at its
bound says why.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from .forces import AGREE, DOWNLOAD, FX, FZ, LEAST_LEFT, LIFT, NOSE_UP, OUT, POWER, STALLED, AirCraft, forces

Floats = NDArray[np.float64]
UNKNOWNS = 6
ATTITUDE, THRUST_A, THRUST_B, SURFACE, GAIN, VECTOR = range(UNKNOWNS)
CLOSE = 0.3
ROUNDS, NEAR, AGAIN, ENOUGH = 20, 1e-10, 8, 7  # Newton steps, what counts as none left over, steps after which slopes are found anew
# why there is no balance, or what is wrong with one
FLIES, POWER_OUT, NOSE_OUT, STALLS, SPEED_OUT, LOST, SINKS = range(7)
COLUMNS = UNKNOWNS + 12
(C_WHY, C_LEFT, C_CONTROL, C_POWER, C_LIFT, C_STALLED, C_RESIDUAL, C_STALL_LEFT, C_DOWNLOAD, C_NOSE_DOWN, C_NOSE_UP, C_SURFACE) = range(
    UNKNOWNS, COLUMNS)  # fmt: skip
THROUGH_RAD = 0.4
STALL_COUNTS = 0.2  # of the weight, carried by a wing while more of it is stalled


@njit(cache=True, nogil=True)
def residual(c: AirCraft, over: float, speed: float, x: Floats, push: float, gamma: Floats) -> tuple[Floats, Floats, Floats]:
    """What is left over (3,): force ahead and up over the weight, moment over weight times a metre; what acts, and circulation.
    Compiled."""
    cs, sn = math.cos(x[ATTITUDE]), math.sin(x[ATTITUDE])
    more, vector = (x[VECTOR], 0.0) if c.trims_push else (0.0, x[VECTOR])
    thrusts = np.array([x[THRUST_A], x[THRUST_B], push + more])
    acts, g = forces(c, over, speed * cs, speed * sn, 0.0, thrusts, x[SURFACE], vector, gamma)
    r = np.empty(3)
    r[0] = (acts[FX] * cs - acts[FZ] * sn - c.mass * x[GAIN]) / c.weight
    r[1] = (acts[FX] * sn + acts[FZ] * cs) / c.weight - 1.0
    r[2] = acts[NOSE_UP] / c.weight
    return r, acts, g


@njit(cache=True, nogil=True)
def _jacobian(
    c: AirCraft, over: float, speed: float, x: Floats, push: float, r: Floats, gamma: Floats, steps: Floats, held: NDArray[np.bool_]
) -> Floats:
    j = np.zeros((3, UNKNOWNS))
    for k in range(UNKNOWNS):
        if held[k]:
            continue
        if k == GAIN:
            j[:, k] = 0.0
            j[0, k] = -c.mass / c.weight
            continue
        y = x.copy()
        y[k] += steps[k]
        ahead, _, _ = residual(c, over, speed, y, push, gamma)
        j[:, k] = (ahead - r) / steps[k]
    return j


@njit(cache=True, nogil=True)
def _beyond(x: Floats, least: Floats, most: Floats, cost: Floats, free: NDArray[np.bool_]) -> tuple[int, float]:
    """Which free unknown lies farthest beyond its bounds, over its cost; -1 where none does."""
    worst, by = -1, 1e-9
    for k in range(UNKNOWNS):
        if free[k]:
            out = max(least[k] - x[k], x[k] - most[k]) / cost[k]
            if out > by:
                worst, by = k, out
    return worst, by


@njit(cache=True, nogil=True)
def _solve3(a: Floats, b: Floats) -> tuple[Floats, bool]:
    m, v = a.copy(), b.copy()
    for k in range(3):
        p = k
        for i in range(k + 1, 3):
            if abs(m[i, k]) > abs(m[p, k]):
                p = i
        if abs(m[p, k]) < 1e-14:
            return v, False
        if p != k:
            for q in range(3):
                m[k, q], m[p, q] = m[p, q], m[k, q]
            v[k], v[p] = v[p], v[k]
        for i in range(k + 1, 3):
            f = m[i, k] / m[k, k]
            for q in range(k, 3):
                m[i, q] -= f * m[k, q]
            v[i] -= f * v[k]
    for k in range(2, -1, -1):
        for q in range(k + 1, 3):
            v[k] -= m[k, q] * v[q]
        v[k] /= m[k, k]
    return v, True


@njit(cache=True, nogil=True)
def balance(
    c: AirCraft, over: float, speed: float, push: float, start: Floats, least: Floats, most: Floats, wanted: Floats, cost: Floats,
    held: NDArray[np.bool_], gamma: Floats,
) -> tuple[Floats, Floats]:  # fmt: skip
    """One point (``COLUMNS``,) and its circulation. ``held`` unknowns stay at ``wanted``; ``cost`` (6,) is what each may move for one.
    Compiled."""
    x, out, free, g = start.copy(), np.zeros(COLUMNS), ~held, gamma.copy()
    steps = np.array([1e-4, 1e-3, 1e-3, 1e-4, 1e-3, 1e-4])
    for k in range(UNKNOWNS):
        if held[k]:
            x[k] = wanted[k]
        x[k] = min(max(x[k], least[k]), most[k])
    acts, r, j, size = np.zeros(OUT), np.zeros(3), np.zeros((3, UNKNOWNS)), 1.0
    known = False
    for _ in range(UNKNOWNS):
        solved, singular = False, False
        before, last, near = np.zeros(3), x.copy(), wanted
        for turn in range(ROUNDS):
            r, acts, g = residual(c, over, speed, x, push, g)
            size = max(abs(r[0]), abs(r[1]), abs(r[2]))
            if turn == ENOUGH:
                near = x.copy()  # near enough to the cheapest: from here on the nearest balance will do
            if not known or turn % AGAIN == AGAIN - 1:
                j = _jacobian(c, over, speed, x, push, r, g, steps, held)
                known = True
            elif turn > 0:
                _broyden(j, r - before, x - last)
            before, last = r.copy(), x.copy()
            move, far, fine = _least_move(x, r, j, free, near, cost)
            if not fine or far > 1e6:
                singular = True
                break
            if size < NEAR and (far < 1e-5 or turn >= ENOUGH):
                solved = True
                break
            if turn >= 2 and far < CLOSE and _beyond(x + move, least, most, cost, free)[1] > 10 * far:
                break  # it will leave its bounds: no need to know just where
            damp = min(1.0, 3.0 / max(far, 1e-12))
            for k in range(UNKNOWNS):
                x[k] += damp * move[k]
        worst, _ = _beyond(x, least, most, cost, free)
        if worst < 0:
            out[C_WHY] = FLIES if solved else LOST
            break
        x[worst] = min(max(x[worst], least[worst]), most[worst])
        free[worst] = False
        if free.sum() < 3 or singular:
            out[C_WHY] = LOST
            break
        out[C_WHY] = LOST
    out[:UNKNOWNS] = x
    out[C_RESIDUAL] = size
    if out[C_WHY] == LOST:
        out[C_WHY] = _why(c, over, speed, push, x, least, most, gamma * 0.0)
        return out, gamma * 0.0
    out[C_POWER], out[C_LIFT], out[C_STALLED] = acts[POWER], acts[LIFT] / c.weight, acts[STALLED]
    out[C_STALL_LEFT], out[C_DOWNLOAD] = acts[LEAST_LEFT], acts[DOWNLOAD] / c.weight
    _control(c, x, least, most, j, out)
    # a craft on its tail passes through stall on its rotors
    through = x[ATTITUDE] > THROUGH_RAD
    if not through and acts[STALLED] > 0.4 and acts[STALLED] * acts[LIFT] > STALL_COUNTS * c.weight:
        out[C_WHY] = STALLS
    if acts[AGREE] == 0.0 and size > 1e-8:
        out[C_WHY] = LOST
    return out, g


@njit(cache=True, nogil=True)
def _why(c: AirCraft, over: float, speed: float, push: float, x: Floats, least: Floats, most: Floats, still: Floats) -> int:
    """What is missing: with all thrust and the nose as high as it may be, lift or room to gain speed; else what stands at its bound."""
    y = x.copy()
    y[THRUST_A], y[THRUST_B], y[SURFACE], y[VECTOR], y[ATTITUDE] = most[THRUST_A], most[THRUST_B], 0.0, 0.0, most[ATTITUDE]
    y[GAIN] = 0.0
    r, _, _ = residual(c, over, speed, y, push, still)
    if r[1] < 0:
        return SINKS
    if x[GAIN] >= most[GAIN] - 1e-9:
        return SPEED_OUT
    if r[0] < 0 or x[GAIN] <= least[GAIN] + 1e-9:
        return POWER_OUT
    return NOSE_OUT


@njit(cache=True, nogil=True)
def _broyden(j: Floats, dr: Floats, dx: Floats) -> None:
    """The least change of J that explains what the last step did (Broyden 1965)."""
    long = (dx * dx).sum()
    if long > 1e-24:
        for a in range(3):
            off = dr[a]
            for k in range(UNKNOWNS):
                off -= j[a, k] * dx[k]
            for k in range(UNKNOWNS):
                j[a, k] += off * dx[k] / long


@njit(cache=True, nogil=True)
def _least_move(x: Floats, r: Floats, j: Floats, free: NDArray[np.bool_], wanted: Floats, cost: Floats) -> tuple[Floats, float, bool]:
    """The step to the cheapest answer of the linearised equations, how far it goes, and whether there is one."""
    move, far = np.zeros(UNKNOWNS), 0.0
    rhs, m = -r, np.zeros((3, 3))
    for k in range(UNKNOWNS):
        if free[k]:
            for a in range(3):
                rhs[a] += j[a, k] * (x[k] - wanted[k])
                for b in range(3):
                    m[a, b] += j[a, k] * j[b, k] * cost[k] ** 2
    for a in range(3):
        m[a, a] += 1e-13
    lam, fine = _solve3(m, rhs)
    for k in range(UNKNOWNS):
        if free[k]:
            to = wanted[k]
            for a in range(3):
                to += cost[k] ** 2 * j[a, k] * lam[a]
            move[k] = to - x[k]
            far = max(far, abs(move[k]) / cost[k])
    return move, far, fine


@njit(cache=True, nogil=True)
def _control(c: AirCraft, x: Floats, least: Floats, most: Floats, j: Floats, out: Floats) -> None:
    """Thrust left, and what is left to turn the nose: down and up, N m, and the lesser over their mean."""
    left = 1.0
    for k in (THRUST_A, THRUST_B):
        if most[k] > 0:
            left = min(left, 1 - x[k] / most[k])
    na, nb = 0, 0
    for k in range(len(c.group)):
        na += c.group[k] == 0
        nb += c.group[k] == 1
    up, down = 0.0, 0.0
    if na > 0 and nb > 0 and most[THRUST_B] > 0 and most[THRUST_A] > 0:
        ratio = na / nb
        gain = (j[2, THRUST_A] - j[2, THRUST_B] * ratio) * c.weight
        more = min(most[THRUST_A] - x[THRUST_A], x[THRUST_B] / ratio)
        less = min(x[THRUST_A], (most[THRUST_B] - x[THRUST_B]) / ratio)
        up += max(gain * more, -gain * less)
        down += max(-gain * more, gain * less)
    for k in (SURFACE, VECTOR):
        gain = j[2, k] * c.weight
        up += max(gain * (most[k] - x[k]), gain * (least[k] - x[k]), 0.0)
        down += max(-gain * (most[k] - x[k]), -gain * (least[k] - x[k]), 0.0)
    out[C_LEFT], out[C_NOSE_UP], out[C_NOSE_DOWN] = left, up, down
    out[C_CONTROL] = 2 * min(up, down) / max(up + down, 1e-12)
    if most[SURFACE] > 0:
        out[C_SURFACE] = abs(x[SURFACE]) / most[SURFACE]
