"""What joins and turns on a wing: tubes in tubes, hinges, printed gears."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fravik.structure.gear import approach, back_share, flank_mm, loss_factor, tooth_mpa, wear_a_mesh_mm
from fravik.structure.hinge import bending_nmm, bending_strain, turns_till_broken
from fravik.structure.tubejoint import set_screw_nmm, socket_mpa, tube_mpa, wall_from_inside_mpa, wall_under_screw_mpa

from .check import Check

Floats = NDArray[np.float64]


def _ring_moment(radius: float, load: Floats, count: int) -> float:
    """Largest moment in a ring of straight pieces under loads at its nodes (n, 2) that balance each other."""
    at = 2 * math.pi * np.arange(count) / count
    xy = radius * np.column_stack([np.cos(at), np.sin(at)])
    ea, ei = 1e9, 1.0
    k = np.zeros((3 * count, 3 * count))
    pieces = []
    for a in range(count):
        b = (a + 1) % count
        d = xy[b] - xy[a]
        le = float(np.hypot(*d))
        c, s = d / le
        t = np.zeros((6, 6))
        for o in (0, 3):
            t[o : o + 3, o : o + 3] = [[c, s, 0], [-s, c, 0], [0, 0, 1]]
        f, g, h = ea / le, 12 * ei / le**3, 6 * ei / le**2
        own = np.array([[f, 0, 0, -f, 0, 0], [0, g, h, 0, -g, h], [0, h, 4 * ei / le, 0, -h, 2 * ei / le],
                        [-f, 0, 0, f, 0, 0], [0, -g, -h, 0, g, -h], [0, h, 2 * ei / le, 0, -h, 4 * ei / le]])  # fmt: skip
        at_dof = np.r_[3 * a : 3 * a + 3, 3 * b : 3 * b + 3]
        k[np.ix_(at_dof, at_dof)] += t.T @ own @ t
        pieces.append((at_dof, own @ t))
    force = np.zeros((count, 3))
    force[:, :2] = load
    move = np.zeros(3 * count)
    move[3:] = np.linalg.solve(k[3:, 3:], force.ravel()[3:])  # one node held: loads balance, so that it bears nothing
    return max(abs(float((m @ move[d])[2])) for d, m in pieces)


def _tubes() -> list[Check]:
    n, radius, push = 360, 5.0, 3.0  # mm, N/mm
    at = 2 * math.pi * np.arange(n) / n
    out = np.column_stack([np.cos(at), np.sin(at)])
    round_ = np.column_stack([-np.sin(at), np.cos(at)])
    pressed = np.maximum(np.cos(at), 0.0)
    pressed *= push / float((pressed * np.cos(at)).sum())
    flow = np.sin(at) * push / float((np.sin(at) ** 2).sum())
    inside = _ring_moment(radius, out * pressed[:, None] + round_ * flow[:, None], n)
    pinched = np.zeros((n, 2))
    pinched[0, 0], pinched[n // 2, 0] = -push, push
    outside = _ring_moment(radius, pinched, n)
    wall, bore = 0.5, 2 * radius - 0.5
    lug = 3.0 / (4.0 * 20.0) + 6 * 100.0 / (4.0 * 20.0**2)
    return [
        Check("tube pressed from inside, bending of its wall", "ring of 360 straight pieces", 6 * inside / wall**2,
            wall_from_inside_mpa(push / bore, bore, bore + 2 * wall), 0.01, "another method"),
        Check("tube under a set screw, bending of its wall", "ring of 360 straight pieces, over its width",
            6 * outside / ((3.0 + 2 * radius) * wall**2) , wall_under_screw_mpa(push, 3.0, 2 * radius + wall, wall), 0.01,
                "another method"),
        Check("tube in a bed: peak pressure", "V / d L + 6 M / d L^2", lug, float(socket_mpa(3.0, 100.0, 4.0, 20.0)), 1e-6, "hand sum"),
        Check("tube alone, bending", "32 M D / pi (D^4 - d^4)", 32 * 500.0 * 8 / (math.pi * (8.0**4 - 6.0**4)), tube_mpa(500.0, 8.0, 6.0),
            1e-6),
        Check("two set screws on a tube, 50 N each", "2 x 2 faces x 0.2 x 50 N x 4 mm", 160.0, set_screw_nmm(2, 50.0, 0.2, 8.0), 1e-6,
            "hand sum"),
    ]  # fmt: skip


def _hinges() -> list[Check]:
    thick, gap, turn, yields, breaks = 0.5, 4.0, math.radians(30), 0.02, 0.4
    radius = gap / turn  # a strip that bends evenly is an arc
    face = (radius + thick / 2) * turn / gap - 1
    times = turns_till_broken(0.03, yields, breaks)
    strip = 2000.0 * 100.0 * thick**3 / 12 / radius
    return [
        Check("strip bent round an arc: strain at its face", "length of the outer arc", face, bending_strain(thick, gap, turn), 1e-6),
        Check("the same: what it gives back", "E I over its radius", strip, bending_nmm(2000.0, thick, gap, 100.0, turn), 1e-6),
        Check("turns of bending plastic", "put back in universal slopes: twice the strain", 0.06,
            3.5 * yields * times**-0.12 + breaks**0.6 * times**-0.6, 1e-4, "hand sum"),
    ]  # fmt: skip


def _slid(teeth: int, other: int) -> float:
    """Way slid under load over way rolled, added up along the line of contact, a load shared evenly by the pairs that touch."""
    e1, e2 = approach(teeth, other), approach(other, teeth)
    x = np.linspace(-e1, e2, 200001)  # from the pitch point, in base pitches
    pairs = 1.0 + (x < e2 - 1) + (x > 1 - e1)
    base_pitch = 2 * math.pi / teeth  # over the pinion's base radius
    return float(np.trapezoid(np.abs(x) / pairs, x)) * base_pitch * (1 + teeth / other)


def _gears() -> list[Check]:
    force = 2 * 500.0 / (1.0 * 20)
    module, teeth, other, face, k = 1.5, 16, 40, 8.0, 1e-5
    base = module * teeth / 2 * math.cos(math.radians(20))
    low, tip = max(module * (teeth / 2 - 1), base), module * (teeth / 2 + 1)
    ends = [math.sqrt((r / base) ** 2 - 1) for r in (low, tip)]
    along = np.linspace(ends[0], ends[1], 20001)  # roll angle of the involute
    x, y = base * (np.cos(along) + along * np.sin(along)), base * (np.sin(along) - along * np.cos(along))
    arc = float(np.hypot(np.diff(x), np.diff(y)).sum())
    # a whole turn's work wears all teeth
    volume = k * 0.3 * 2 * math.pi * _slid(teeth, other)
    each = wear_a_mesh_mm(300.0, module, teeth, other, face, k)
    return [
        Check("tooth of a printed pinion", "F / m b Y, Lewis' table", force / (1.0 * 8.0 * 0.322), tooth_mpa(500.0, 1.0, 20, 8.0), 0.01,
            "published"),
        Check("worm of 45 %, driven back", "1 is all that is left over: none", 1.0, 1.0 + back_share(0.45), 1e-9, "hand sum"),
        Check("spur gears of 90 %, driven back", "2 - 1/0.9", 0.8889, back_share(0.9), 0.001, "hand sum"),
        Check("way slid in a mesh of 16 on 40 teeth", "added up along the line of contact", _slid(teeth, other), loss_factor(teeth, other),
            1e-3, "another method"),
        Check("working flank of a tooth", "length of the involute, step by step", arc, flank_mm(module, teeth), 1e-3, "another method"),
        Check("wear of a pinion in a turn", "Archard's volume over all flanks", volume, each * teeth * arc * face, 1e-3, "another method"),
    ]  # fmt: skip


GROUPS = (_tubes, _hinges, _gears)
