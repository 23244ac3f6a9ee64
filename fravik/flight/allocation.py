"""How a flight controller shares thrust over the rotors, and what it has left to turn the craft with.

Each rotor pushes up at its station and twists the craft against its own turn, so that total thrust and the three moments about the centre
of mass are linear in the rotors' thrusts: w = B t. A controller takes the least t (in the sense of squares) that gives what it wants,
t = B+ w. What the craft can do at most about an axis, with thrust and the other moments as in hover and no rotor below nothing or above
full, is a linear programme. A rotor that tilts also pushes sideways: that push is one more unknown beside the thrusts, bounded by how
far it leans at its thrust in hover. Limits: still air, no rotor in another's wake, torque in the same proportion to thrust at every speed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.shape.stations import Station

Floats = NDArray[np.float64]
AXES = ("roll", "pitch", "yaw")
# what is left of a wanted thrust or moment, of the largest that one rotor gives, counts as not reached
REACHED = 1e-9


def mixing(stations: Sequence[Station], com_mm: Floats, torque_mm: float | Floats) -> Floats:
    """(4, n + t): upward thrust in N and moments in N mm about x (roll), y (pitch) and z (yaw) that each of n rotors gives for a newton of
    thrust, and each of the t that tilt for a newton of push to the left of its arm.

    ``torque_mm`` is the propeller's torque over its thrust, N mm per N, one for all or (n,).
    """
    x, y = (np.array([s.at_mm[k] - com_mm[k] for s in stations]) for k in range(2))
    spin = np.array([s.spin for s in stations], dtype=np.float64)
    thrust = np.stack([np.ones(len(stations)), y, -x, -torque_mm * spin])
    pushes = [_push(s, com_mm) for s in stations if s.tilt_deg]
    return np.concatenate([thrust, np.array(pushes).T], axis=1) if pushes else thrust


def _push(s: Station, com_mm: Floats) -> Floats:
    """(4,) what a newton to the left of an arm at its rotor gives."""
    left = np.array([-math.sin(s.azimuth_rad), math.cos(s.azimuth_rad), 0.0])
    return np.concatenate([[0.0], np.cross(s.at_mm - com_mm, left)])


def tilting(stations: Sequence[Station]) -> list[int]:
    """Which rotors tilt, in the order of their columns in ``mixing``."""
    return [k for k, s in enumerate(stations) if s.tilt_deg]


@dataclass(frozen=True)
class Allocation:
    """Thrust (n,) in N of each rotor in hover and in a hard yaw, the pushes (t,) of those that tilt in hover, and what cannot be had: axes
    along which the mix falls short."""

    hover_n: Floats
    hard_yaw_n: Floats
    push_n: Floats
    short: tuple[str, ...]


def least_norm(mix: Floats, wanted: Floats, strength: Floats | None = None) -> Floats:
    """(n,) the thrusts that give the wanted thrust and moments (4,), or come closest to them, with the least sum of squares.

    Of rotors of unlike ``strength`` (n,) it is the squares of what each is asked for of its own strength.
    """
    own = np.ones(mix.shape[1]) if strength is None else strength
    return np.asarray(own * (np.linalg.pinv(mix * own) @ wanted))


def allocate(mix: Floats, weight_n: float, yaw_share: float, rotors: int | None = None, strength: Floats | None = None) -> Allocation:
    """Hover, and the yaw that moves ``yaw_share`` of the mean thrust from the rotors of one turn to those of the other.

    Of the columns of ``mix`` the first ``rotors`` are thrusts (all of them by default), the others pushes of rotors that tilt.
    ``strength`` (rotors,) is how hard each can push, over the mean; all alike by default.
    """
    n = mix.shape[1] if rotors is None else rotors
    own = None if strength is None else np.concatenate([strength, np.ones(mix.shape[1] - n)])
    level = np.array([weight_n, 0.0, 0.0, 0.0])
    hover = least_norm(mix, level, own)
    each = weight_n / n
    wanted = level + np.array([0.0, 0.0, 0.0, yaw_share * each * float(np.abs(mix[3, :n]).sum())])
    yaw = least_norm(mix, wanted, own)
    scale = np.maximum(np.abs(mix[:, :n]).max(axis=1), 1.0) * max(weight_n, 1e-9)
    names = ("thrust", *AXES)
    left = np.abs(mix @ hover - level) / scale
    turned = np.abs(mix @ yaw - wanted) / scale
    short = tuple(name for name, a, b in zip(names, left, turned, strict=True) if max(a, b) > REACHED)
    return Allocation(hover[:n], yaw[:n], hover[n:], short)


def authority_nmm(mix: Floats, weight_n: float, full_n: float | Floats, most_push_n: Floats | None = None) -> dict[str, float]:
    """The largest moment in N mm, the lesser of both ways, about each axis while all else stays as in hover; 0 where it cannot hover.

    ``full_n`` is the most that each rotor gives, one for all or (n,); ``most_push_n`` (t,) is how far the rotors that tilt can push to
    either side.
    """
    from scipy.optimize import linprog  # loads much else: not while the window starts

    pushes = [] if most_push_n is None else [(-float(p), float(p)) for p in most_push_n]
    bounds = [*[(0.0, float(f)) for f in np.broadcast_to(full_n, mix.shape[1] - len(pushes))], *pushes]
    out = {}
    for k, axis in enumerate(AXES, start=1):
        rest = [i for i in range(4) if i != k]
        level = np.array([weight_n, 0.0, 0.0, 0.0])[rest]
        ways = []
        for sign in (1.0, -1.0):
            found = linprog(-sign * mix[k], A_eq=mix[rest], b_eq=level, bounds=bounds, method="highs")
            ways.append(sign * float(mix[k] @ found.x) if found.status == 0 else 0.0)
        out[axis] = max(min(ways), 0.0)
    return out


def thrust_centre_mm(stations: Sequence[Station]) -> Floats:
    """(2,) where equal thrusts of all rotors push, in plan."""
    return np.mean([s.at_mm[:2] for s in stations], axis=0)
