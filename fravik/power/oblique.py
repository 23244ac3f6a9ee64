"""A rotor in a stream from any side: what it pulls, what that takes, and the most it gives.

Momentum (Glauert 1926): T = 2 rho A v sqrt((Va + v)^2 + Vt^2), Va along the shaft against the push, Vt across it, v what the disk adds.
Blades of one pitch p lift in proportion to how far they screw ahead of the stream:
T = k (w^2 p / 2 pi + 0.8 p / pi Vt^2 / R^2 - w (Va + v)), with ``k`` such that it stands with its own static coefficient. Power is T (Va
+ 1.12 v)
and what the sections' drag takes, k0 w^3 (1 + 4.65 mu^2), which the static figure of merit leaves over. The propeller's pitch is that of
its angle of no lift, so much coarser than the typed one. Limits: blades do not stall, no vortex ring (Va no lower than half of v standing).
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from .bem import RHO

Floats = NDArray[np.float64]
INDUCED = 1.12  # real over ideal induced power of usual small propellers: a working assumption
NO_LIFT_RAD = math.radians(3.5)  # of blades some 4 % cambered at low Reynolds numbers: a working assumption
AT = 0.75  # of the radius, where the pitch is taken
ACROSS = 1.6  # ln(1 / 0.2): blades from a fifth of the radius out
PROFILE = 4.65  # Bennett 1940: growth of profile power with the square of the advance across
SINK = -0.5


class Disk(NamedTuple):
    """One rotor: area m2, radius m, pitch of no lift m a radian, k (N s2/m and N s2/rad m), k0 (W s3), and its motor: volts at full, KV
    rad/s a
    volt, ohm, no-load A, share that the controller loses."""

    area: float
    radius: float
    screw: float
    lift: float
    profile: float
    volts: float
    kv: float
    ohm: float
    idle_a: float
    loss: float


def disk(diameter_m: float, pitch_m: float, ct: float, merit: float, volts: float, kv_rpm_v: float, ohm: float, idle_a: float,
         loss: float = 0.02) -> Disk:  # fmt: skip
    """From what is known of a propeller standing, and its motor."""
    r = diameter_m / 2
    area, w = math.pi * r * r, 2 * math.pi
    thrust = ct * RHO * diameter_m**4  # at one turn a second
    v = math.sqrt(thrust / (2 * RHO * area))
    screw = AT * r * math.tan(math.atan(pitch_m / (2 * math.pi * AT * r)) + NO_LIFT_RAD)
    screw = max(screw, 1.3 * v / w)
    k = thrust / (w * (w * screw - v))
    left = max(1 / merit - INDUCED, 0.05) * thrust * v
    return Disk(area, r, screw, k, left / w**3, volts, kv_rpm_v * math.pi / 30, ohm, idle_a, loss)


@njit(cache=True, nogil=True)
def inflow(thrust: float, area: float, along: float, across: float) -> float:
    """What the disk adds to the stream, m/s. Compiled."""
    if thrust <= 0:
        return 0.0
    square = thrust / (2 * RHO * area)
    still = math.sqrt(square)
    va = max(along, SINK * still)
    v = square / max(math.hypot(va, across), still)
    for _ in range(30):
        u = va + v
        s = math.hypot(u, across)
        f = v * s - square
        step = f / (s + v * u / max(s, 1e-9))
        v -= step
        if abs(step) < 1e-12 * (1 + still):
            break
    return v


@njit(cache=True, nogil=True)
def turns(d: Disk, thrust: float, along: float, across: float, v: float) -> float:
    """rad/s at which it pulls so. Compiled."""
    w = max(along, SINK * v) + v
    free = thrust / d.lift - ACROSS * d.screw * across * across / (d.radius * d.radius)
    inside = max(w * w + 4 * d.screw * free, 0.0)
    return (w + math.sqrt(inside)) / (2 * d.screw)


@njit(cache=True, nogil=True)
def shaft_w(d: Disk, thrust: float, along: float, across: float, v: float, omega: float) -> float:
    """Power at the shaft; never below nothing. Compiled."""
    mu = across / max(omega * d.radius, 1e-6)
    own = d.profile * omega**3 * (1 + PROFILE * min(mu, 1.0) ** 2)
    return max(thrust * (along + INDUCED * v) + own, 0.0)


@njit(cache=True, nogil=True)
def electric_w(d: Disk, shaft: float, omega: float) -> float:
    """What motor and controller draw. Compiled."""
    if omega < 1e-6:
        return 0.0
    amps = shaft / omega * d.kv + d.idle_a
    volts = omega / d.kv + amps * d.ohm
    return volts * amps / (1 - d.loss)


@njit(cache=True, nogil=True)
def most_n(d: Disk, along: float, across: float) -> float:
    """Thrust at full voltage in a stream: where motor and blades agree. Compiled."""
    low, high = 0.0, 4 * d.lift * d.screw * (d.kv * d.volts) ** 2 + 1.0
    for _ in range(60):
        t = (low + high) / 2
        v = inflow(t, d.area, along, across)
        w = turns(d, t, along, across, v)
        amps = (d.volts - w / d.kv) / d.ohm
        has = (amps - d.idle_a) / d.kv * w
        if has >= shaft_w(d, t, along, across, v, w):
            low = t
        else:
            high = t
        if high - low < 1e-9 * high:
            break
    return low
