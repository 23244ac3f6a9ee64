"""A blade that spins: pulled outwards, bent by what it lifts and drags, stiffened by its own pull.

The blade is a chain of beams held at the hub. Every ring's mass pulls outwards by Omega^2 times its distance from the axis, in its own
plane too, so that a blade set at an angle is also turned flat (the product of inertia of its section about the hub's axes). The pull N of
what lies farther out gives each element the geometric stiffness of a bar under tension (Przemieniecki 1968); what moves within the disk is
pulled on where it goes, which softens it by Omega^2 times its mass. Forces that are read are the elastic ones: those in the bent blade.
Units mm, N, tonne, s.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy.linalg import eigh

from fravik.printing.zones import Floats

from .frame import Assembled, respond
from .joints import RIGID
from .member import Member
from .path import Path


@dataclass(frozen=True, eq=False)
class Ring:
    """What a blade's n elements weigh and where, in the propeller's axes about the axis of the blade: tonnes over mm, centroid y and z,
    product and difference of the moments of its section, tonne mm."""

    mass_t_mm: Floats
    y_mm: Floats
    z_mm: Floats
    cross_t_mm: Floats
    level_t_mm: Floats


def rings_of(member: Member, density_t_mm3: float) -> Ring:
    """From the strips of its sections."""
    sums = {k: v.sum(axis=0) for k, v in member.tables.zone_sums.items()}
    a = np.maximum(sums["a"], 1e-9)
    y, z = member.path.line.frame[:, 1], member.path.line.frame[:, 2]  # of the section, in the propeller's axes
    c, s = y[:, 1], y[:, 2]
    yc, zc = sums["y"] / a, sums["z"] / a
    yy, zz, yz = sums["yy"], sums["zz"], sums["yz"]
    out_yy, out_zz = c * c * yy + z[:, 1] ** 2 * zz + 2 * c * z[:, 1] * yz, s * s * yy + z[:, 2] ** 2 * zz + 2 * s * z[:, 2] * yz
    out_yz = c * s * yy + z[:, 1] * z[:, 2] * zz + (c * z[:, 2] + s * z[:, 1]) * yz
    d = density_t_mm3
    return Ring(d * a, c * yc + z[:, 1] * zc, s * yc + z[:, 2] * zc, d * out_yz, d * (out_yy - out_zz))


@dataclass(frozen=True, eq=False)
class Blown:
    """What the air does to n elements at one speed, over their length: push along the shaft and hold against the turn, N/mm, and where it
    acts off the blade's line, mm; ``turn`` is the sense of the turn, +1 anticlockwise from above."""

    push_n_mm: Floats
    hold_n_mm: Floats
    y_mm: Floats
    z_mm: Floats
    turn: int


def pull_n(path: Path, rings: Ring, omega_rad_s: float) -> Floats:
    """(elements,) at their middles: what lies farther out, pulling."""
    nodes = path.nodes_mm[:, 0]
    each = rings.mass_t_mm * np.diff(nodes**2) / 2 * omega_rad_s**2
    beyond = np.concatenate([np.cumsum(each[::-1])[::-1][1:], [0.0]])
    mids = (nodes[1:] + nodes[:-1]) / 2
    return np.asarray(beyond + rings.mass_t_mm * (nodes[1:] ** 2 - mids**2) / 2 * omega_rad_s**2)


def loads_n(path: Path, rings: Ring, omega_rad_s: float, air: Blown | None) -> Floats:
    """(dofs,) of the spin and of the air, half of every element's at each of its ends."""
    nodes = path.nodes_mm[:, 0]
    long, w2 = np.diff(nodes), omega_rad_s**2
    each = np.zeros((len(long), 6))
    outward = rings.mass_t_mm * np.diff(nodes**2) / 2 * w2
    each[:, 0], each[:, 1] = outward, rings.mass_t_mm * rings.y_mm * long * w2
    each[:, 3] = -rings.cross_t_mm * long * w2
    each[:, 4], each[:, 5] = rings.z_mm * outward, -rings.y_mm * outward
    if air is not None:
        fy, fz = -air.turn * air.hold_n_mm * long, air.push_n_mm * long
        each[:, 1] += fy
        each[:, 2] += fz
        each[:, 3] += air.y_mm * fz - air.z_mm * fy
    out = np.zeros((len(nodes), 6))
    out[:-1] += each / 2
    out[1:] += each / 2
    return out.ravel()


def spun_stiffness(path: Path, rings: Ring, mass: Floats, omega_rad_s: float) -> Floats:
    """(dofs, dofs) what spinning adds to the elastic stiffness."""
    nodes = path.nodes_mm[:, 0]
    long, pull = np.diff(nodes), pull_n(path, rings, omega_rad_s)
    n, w2 = len(long), omega_rad_s**2
    out = np.zeros((n + 1, 6, n + 1, 6))
    for e in range(n):
        size, span = pull[e] / (30 * long[e]), long[e]
        one = size * np.array([[36, 3 * span, -36, 3 * span], [3 * span, 4 * span**2, -3 * span, -(span**2)],
                               [-36, -3 * span, 36, -3 * span], [3 * span, -(span**2), -3 * span, 4 * span**2]])  # fmt: skip
        for shift, turn, sign in ((1, 5, 1.0), (2, 4, -1.0)):
            at = ((e, shift), (e, turn), (e + 1, shift), (e + 1, turn))
            flip = (1.0, sign, 1.0, sign)
            for i, (p, a) in enumerate(at):
                for j, (q, b) in enumerate(at):
                    out[p, a, q, b] += flip[i] * flip[j] * one[i, j]
        flat = rings.level_t_mm[e] * w2 * span / 2
        out[e, 3, e, 3] += flat
        out[e + 1, 3, e + 1, 3] += flat
    flat_out = out.reshape(6 * (n + 1), 6 * (n + 1))
    for axis in (0, 1):
        flat_out[axis::6, axis::6] -= w2 * mass[axis::6, axis::6]
    return np.asarray(flat_out)


def held(k: Floats) -> Floats:
    """The same with its first node held."""
    out = k.copy()
    out[:6, :6] += np.eye(6) * RIGID
    return out


def spun_forces(
    path: Path, element: Assembled, mass: Floats, rings: Ring, omegas_rad_s: Floats, air: tuple[Blown, ...]
) -> tuple[Floats, Floats, Floats]:
    """Internal forces (6, elements, s) at speeds (s,) under the air there, at the root (6, s), and the motion of every node (n, 6, s)."""
    forces, roots, moved = [], [], []
    for omega, blown in zip(omegas_rad_s.tolist(), air, strict=True):
        k = held(element.k + spun_stiffness(path, rings, mass, omega))
        load = loads_n(path, rings, omega, blown)
        answer = respond(element, k, load[:, None])
        forces.append(answer.forces[:, :, 0])
        roots.append(-(element.recover[0] @ answer.u[:12, 0])[:6])
        moved.append(answer.u[:, 0].reshape(-1, 6))
    return np.stack(forces, axis=-1), np.stack(roots, axis=-1), np.stack(moved, axis=-1)


def spun_modes_hz(path: Path, element: Assembled, mass: Floats, rings: Ring, omega_rad_s: float, count: int = 3) -> Floats:
    """Its lowest frequencies as it spins; 0 where its own pull in the disk's plane is more than it can hold."""
    k = held(element.k + spun_stiffness(path, rings, mass, omega_rad_s))
    free = slice(6, None)
    values = eigh(k[free, free], mass[free, free], eigvals_only=True, subset_by_index=(0, count - 1), check_finite=False)
    return np.asarray(np.sqrt(np.maximum(values, 0.0)) / (2 * math.pi))
