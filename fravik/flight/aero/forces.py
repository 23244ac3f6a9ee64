"""All that pushes on a craft in level air: strips of wing and tail with the rotors' wash over them, rotors in their stream, body, weight.

Aeroplane axes: x forward, z up, moments nose up about the centre of mass; y counts for where things are alone, as the flight is
symmetrical.
A rotor's wash is a tube that narrows behind its disk as the disk's inflow grows (to twice, far behind: momentum), and goes where stream and
wash together go; strips meet it in addition to their own stream, by the thirds of their
chord that are inside of it. What wash and strips do to each other beyond that is left out.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from fravik.power.bem import RHO
from fravik.power.oblique import Disk, electric_w, inflow, shaft_w, turns

from .liftline import StripArrays, solve_strips, strip_forces

Floats = NDArray[np.float64]
EDGE = 0.25  # of a rotor's radius, over which its wash fades out at its edge
SPREAD_AT = 0.5  # so far over, panels that are folded in hover are spread
OUT = 14
FX, FZ, NOSE_UP, POWER, SHAFT, LIFT, STALLED, DOWNLOAD, LEAST_LEFT, WASHED, AGREE, WING_X, ROTOR_X, ROTOR_Z = range(OUT)


class AirCraft(NamedTuple):
    """A craft as the air and its rotors see it; r rotors, n strips of the left half. ``base`` (r,) is how far each rotor is turned ahead
    from
    upright in hover, ``turns_along`` (r,) by how much of the whole tilt it goes along, ``group`` which thrust it takes: 0, 1 or 2.
    ``still`` (r,) is the drag area of a rotor that is
    stopped without thrust, m2; ``trims_push`` says that the sixth unknown of a balance is the pusher's thrust. ``com`` (k, 2) goes over
    evenly spaced parts of the way. ``hang`` is how far flaperons hang down in hover (rad)."""

    strips: StripArrays
    quarter: Floats
    middle: Floats
    width: Floats
    angle: Floats
    pitch: Floats
    hangs: Floats
    along: Floats
    hover: Floats
    wing: NDArray[np.bool_]
    disks: Floats
    at: Floats
    pivot: Floats
    base: Floats
    turns_along: Floats
    group: NDArray[np.int64]
    tilt: float
    body: Floats
    still: Floats
    trims_push: bool
    hang: float
    mass: float
    inertia: float
    com: Floats
    weight: float


@njit(cache=True, nogil=True)
def row_disk(rows: Floats, k: int) -> Disk:
    """One rotor. Compiled."""
    r = rows[k]
    return Disk(r[0], r[1], r[2], r[3], r[4], r[5], r[6], r[7], r[8], r[9])


@njit(cache=True, nogil=True)
def com_at(com: Floats, over: float) -> tuple[float, float]:
    """Centre of mass so far over. Compiled."""
    x = min(max(over, 0.0), 1.0) * (len(com) - 1)
    i = min(int(x), len(com) - 2)
    f = x - i
    return com[i, 0] * (1 - f) + com[i + 1, 0] * f, com[i, 1] * (1 - f) + com[i + 1, 1] * f


@njit(cache=True, nogil=True)
def rotor_at(c: AirCraft, k: int, over: float, vector: float) -> tuple[float, float, float, float]:
    """Where a rotor's hub is (x, z) and where it pulls to. Compiled."""
    turn = over * c.tilt * c.turns_along[k]
    dx, dz = c.at[k, 0] - c.pivot[k, 0], c.at[k, 2] - c.pivot[k, 2]
    x = c.pivot[k, 0] + dx * math.cos(turn) + dz * math.sin(turn)
    z = c.pivot[k, 2] - dx * math.sin(turn) + dz * math.cos(turn)
    a = c.base[k] + turn + vector * (1.0 if c.group[k] < 2 else 0.0)
    return x, z, math.sin(a), math.cos(a)


@njit(cache=True, nogil=True)
def forces(
    c: AirCraft, over: float, ahead: float, up: float, rate: float, thrusts: Floats, surface: float, vector: float, gamma: Floats
) -> tuple[Floats, Floats]:
    """What acts (``OUT``,) at a stream from ahead and from below (m/s), turning nose up at ``rate`` (rad/s), with the thrusts (3,) of the
    groups' rotors, surfaces turned for nose up (rad) and thrust turned ahead by ``vector`` (rad). N, N m, W. Also the strips' circulation,
    to start the next from. Compiled."""
    n, out = len(c.width), np.zeros(OUT)
    xc, zc = com_at(c.com, over)
    u, w = np.full(n, ahead), np.empty(n)
    washed, stopped = np.zeros(n), 0.0
    for i in range(n):
        w[i] = up - rate * (c.quarter[i, 0] - xc)
        u[i] += rate * (c.quarter[i, 2] - zc)
    for k in range(len(c.group)):
        d, thrust = row_disk(c.disks, k), thrusts[c.group[k]]
        x, z, nx, nz = rotor_at(c, k, over, vector)
        along = ahead * nx - up * nz
        sx, sz = -ahead + along * nx, up + along * nz
        across = math.hypot(sx, sz)
        if thrust <= 0:
            stopped += c.still[k]
            continue
        v = inflow(thrust, d.area, along, across)
        omega = turns(d, thrust, along, across, v)
        shaft = shaft_w(d, thrust, along, across, v, omega)
        out[SHAFT] += shaft
        out[POWER] += electric_w(d, shaft, omega)
        hold = 2 * d.profile * omega * across / d.radius**2
        fx, fz = thrust * nx, thrust * nz
        if across > 1e-9:
            fx += hold * sx / across
            fz += hold * sz / across
        out[ROTOR_X] += fx
        out[ROTOR_Z] += fz
        out[NOSE_UP] += (x - xc) * fz - (z - zc) * fx
        _wash(c, k, d, x, z, nx, nz, ahead, up, along, v, u, w, washed)
    angle, flap = np.empty(n), np.empty(n)
    spread = 1.0 if over >= SPREAD_AT else 0.0
    for i in range(n):
        angle[i] = c.angle[i] + c.along[i] * (1 - over) * c.tilt
        flap[i] = c.hangs[i] * c.hang * (1 - over) - c.pitch[i] * surface
    g, induced, agree = solve_strips(c.strips, u, w, angle, flap, gamma)
    fx, fz, m, _, left = strip_forces(c.strips, u, w, angle, flap, induced)
    lifting, area, stalled, least = 0.0, 0.0, 0.0, 10.0
    for i in range(n):
        part = 2 * RHO * c.width[i] * max(spread, c.hover[i])
        ax, az = part * fx[i], part * fz[i]
        out[FX] += ax
        out[FZ] += az
        out[NOSE_UP] += part * m[i] + (c.quarter[i, 0] - xc) * az - (c.quarter[i, 2] - zc) * ax
        if c.wing[i]:
            lifting += az
            out[WING_X] += ax
            here = c.strips.chord[i] * c.width[i]
            area += here
            least = min(least, left[i])
            out[WASHED] += here * washed[i]
            if left[i] < 0:
                stalled += here
        out[DOWNLOAD] -= min(ax if c.base[0] > 1.0 else az, 0.0)
    out[LIFT], out[LEAST_LEFT], out[AGREE] = lifting, least, 1.0 if agree else 0.0
    if area > 0:
        out[STALLED], out[WASHED] = stalled / area, out[WASHED] / area
    bx = -0.5 * RHO * (c.body[0] + stopped) * abs(ahead) * ahead
    bz = 0.5 * RHO * c.body[1] * abs(up) * up
    out[NOSE_UP] += (c.body[2] - xc) * bz - (c.body[3] - zc) * bx
    out[FX] += bx + out[ROTOR_X]
    out[FZ] += bz + out[ROTOR_Z]
    return out, g


@njit(cache=True, nogil=True)
def _wash(
    c: AirCraft, k: int, d: Disk, x: float, z: float, nx: float, nz: float, ahead: float, up: float, along: float, v: float, u: Floats,
    w: Floats, washed: Floats,
) -> None:  # fmt: skip
    dx, dz = -ahead - 2 * v * nx, up - 2 * v * nz
    long = math.hypot(dx, dz)
    if long < 1e-9:
        return
    dx, dz = dx / long, dz / long
    for i in range(len(u)):
        py, pz = c.middle[i, 1] - c.at[k, 1], c.middle[i, 2] - z
        inside, fast = 0.0, 0.0
        for third in range(3):
            px = c.middle[i, 0] + (1 - third) * c.strips.chord[i] / 3 - x
            behind = px * dx + pz * dz
            if behind <= 0:
                continue
            aside = math.sqrt(max(px * px + py * py + pz * pz - behind * behind, 0.0))
            grown = 1 + behind / math.hypot(behind, d.radius)
            through = max(along, 0.0) + v
            radius = d.radius * math.sqrt(through / (max(along, 0.0) + grown * v))
            part = min(max((radius - aside) / (EDGE * d.radius) + 0.5, 0.0), 1.0)
            part = part * part * (3 - 2 * part) / 3
            inside += part
            fast += part * grown * v
        if inside > 0:
            u[i] += fast * nx
            w[i] -= fast * nz
            washed[i] = max(washed[i], inside)
