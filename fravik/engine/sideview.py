"""The craft from its left side at a point of the way: what stands where, and the forces on it, in level air with speed to the left."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.flight.aero.corridor import WHY, row_of
from fravik.flight.aero.flyer import PUSHER
from fravik.flight.aero.forces import FX, FZ, LIFT, ROTOR_X, ROTOR_Z, WING_X, forces, rotor_at
from fravik.flight.aero.lateral import roll_and_yaw
from fravik.flight.aero.trim import ATTITUDE, C_WHY, FLIES, GAIN, SURFACE, THRUST_A, THRUST_B, UNKNOWNS, VECTOR
from fravik.kinds.wing.geometry import panels, wing_of
from fravik.printing.zones import Floats
from fravik.shape.wing import outline_of
from fravik.study.words import signed

from .results import Evaluation
from .transition import TransitionSight

LEAST_N = 0.05


@dataclass(frozen=True, eq=False)
class Arrow:
    """A force: its name with the figure, where it acts and what it is (2,), ahead and up; m and N. ``kind`` picks its colour."""

    text: str
    at_m: Floats
    force_n: Floats
    kind: str


@dataclass(frozen=True, eq=False)
class SideView:
    """Outlines (n, 2) of wings and tail, body corners, disks as lines with their shafts, the centre of mass, the forces; and what it
    says."""

    flies: bool
    title: str
    words: str
    body_m: Floats
    wings_m: tuple[Floats, ...]
    disks_m: tuple[tuple[Floats, Floats, Floats], ...]
    com_m: Floats
    arrows: tuple[Arrow, ...]


def side_view(result: Evaluation, s: TransitionSight, speed_m_s: float, over: float) -> SideView:
    """Balance there, or why there is none; the craft is then drawn level."""
    f = s.flyer
    row = row_of(f, over, np.array([speed_m_s]))[0]
    good = row[C_WHY] == FLIES
    attitude = float(row[ATTITUDE]) if good or f.on_tail else 0.0
    cs, sn = math.cos(attitude), math.sin(attitude)
    turn = np.array([[cs, -sn], [sn, cs]])
    com = np.array(f.com_at(over))

    def world(p: Floats) -> Floats:
        return np.asarray((np.atleast_2d(p) - com) @ turn.T)

    disks, arrows = [], list[Arrow]()
    spots: dict[int, list[Floats]] = {}
    for k, r in enumerate(f.rotors):
        x, z, nx, nz = rotor_at(f.air, k, over, float(row[VECTOR]) if good and not f.air.trims_push else 0.0)
        hub, along = np.array([x, z]), np.array([nx, nz])
        across = np.array([-nz, nx]) * r.disk.radius
        disks.append((world(hub - across)[0], world(hub + across)[0], world(hub - 0.04 * along)[0]))
        spots.setdefault(int(f.groups[k]), []).append(hub)
    if good:
        arrows = _arrows(s, row, over, speed_m_s, attitude, world, spots)
    unit, whole = s.unit
    there = f"{whole * over:.0f}{unit if unit.startswith('°') else ' ' + unit}"
    gain = float(row[GAIN])
    words = WHY[int(row[C_WHY])].capitalize() + "."
    if good:
        steady = "balanced" if abs(gain) < 0.05 else f"balanced, {'gains' if gain > 0 else 'loses'} {abs(gain):.1f} m/s²"
        words = (f"{steady} · nose {signed(math.degrees(attitude))}° · wing carries {100 * float(row[UNKNOWNS + 4]):.0f} % · "
                 f"{float(row[UNKNOWNS + 3]):.0f} W · surface {signed(math.degrees(float(row[SURFACE])))}°")  # fmt: skip
        roll, yaw = roll_and_yaw(f, row, over, speed_m_s)
        words += f" · rolls {roll:.0f}, turns {yaw:.0f} rad/s²"
    return SideView(good, f"At {speed_m_s:.1f} m/s, {there}", words, _body(result, world), _wings(result, s, over, world), tuple(disks),
                    np.zeros(2), tuple(arrows))  # fmt: skip


def _arrows(s: TransitionSight, row: Floats, over: float, speed: float, attitude: float, world, spots) -> list[Arrow]:  # type: ignore[no-untyped-def]
    f = s.flyer
    cs, sn = math.cos(attitude), math.sin(attitude)
    turn = np.array([[cs, -sn], [sn, cs]])
    _, _, push = f.limits_at(over, speed, attitude)
    acts, _ = forces(f.air, over, speed * cs, speed * sn, 0.0, np.array([row[THRUST_A], row[THRUST_B], push]), row[SURFACE],
                     0.0 if f.air.trims_push else row[VECTOR], np.zeros(len(f.air.width)))  # fmt: skip
    out = []
    names = ("upper rotors", "lower rotors") if f.on_tail else ("front rotors", "rear rotors")
    if f.on_tail:
        names = (names[1], names[0])
    for g, mine in spots.items():
        each = push if g == PUSHER else float(row[THRUST_A if g == 0 else THRUST_B])
        total = each * len(mine)
        if total < LEAST_N:
            continue
        k = int(np.flatnonzero(f.groups == g)[0])
        _, _, nx, nz = rotor_at(f.air, k, over, 0.0)
        name = "pusher" if g == PUSHER else names[g] if len(set(f.groups.tolist())) > 1 else "rotors"
        out.append(Arrow(f"{name} {total:.1f} N", world(np.mean(mine, axis=0))[0], turn @ (total * np.array([nx, nz])), "rotor"))
    wing = turn @ np.array([acts[WING_X], acts[LIFT]])
    strips = f.strips
    mine = strips.surface < f.wings
    area = strips.area_m2[mine]
    if area.size and float(np.hypot(*wing)) > LEAST_N:
        at = (strips.quarter_m[mine][:, [0, 2]] * area[:, None]).sum(axis=0) / area.sum()
        out.append(Arrow(f"wing {float(np.hypot(*wing)):.1f} N", world(at)[0], wing, "wing"))
    rest = turn @ np.array([acts[FX] - acts[ROTOR_X] - acts[WING_X], acts[FZ] - acts[ROTOR_Z] - acts[LIFT]])
    if float(np.hypot(*rest)) > LEAST_N:
        out.append(
            Arrow(f"body, tail {float(np.hypot(*rest)):.1f} N", world(np.array([s.flyer.body.x_m, s.flyer.body.z_m]))[0], rest, "drag")
        )
    out.append(Arrow(f"weight {f.weight_n:.1f} N", np.zeros(2), np.array([0.0, -f.weight_n]), "weight"))
    return out


def _body(result: Evaluation, world) -> Floats:  # type: ignore[no-untyped-def]
    f = result.project.flying
    x, half, tall = f.body_x_mm * 1e-3, f.body_length_mm / 2e3, f.body_height_mm / 2e3
    c = np.array([[x - half, -tall], [x + 0.8 * half, -tall], [x + half, -0.4 * tall], [x + half, 0.4 * tall], [x + 0.8 * half, tall],
                  [x - half, tall]])  # fmt: skip
    return np.asarray(world(c))


def _wings(result: Evaluation, s: TransitionSight, over: float, world) -> tuple[Floats, ...]:  # type: ignore[no-untyped-def]
    from fravik.kinds.wing.geometry import stands

    out = []
    at = stands(result.project)
    for part in panels(result.project):
        shape = wing_of(part)
        if shape.on:
            continue
        root = at[part.id].root_mm * 1e-3
        chord = shape.root_chord_mm * 1e-3
        if shape.hand == "upright":
            long, tip = shape.length_mm * 1e-3, shape.tip_chord_mm * 1e-3
            x, z = root[0], root[2]
            out.append(
                world(
                    np.array([[x, z], [x - chord, z], [x - shape.sweep_mm * 1e-3 - tip, z + long], [x - shape.sweep_mm * 1e-3, z + long]])
                )
            )
            continue
        o = outline_of(shape, shape.root_chord_mm) * chord
        angle = at[part.id].angle_rad
        if any(part.id in t.wings for t in result.project.flying.tilts):
            angle += (1 - over) * s.flyer.tilt_rad
        c, sn = math.cos(angle), math.sin(angle)
        ahead, up = chord / 4 - o[:, 0], o[:, 1]
        out.append(world(np.column_stack([root[0] - chord / 4 + ahead * c - up * sn, root[2] + ahead * sn + up * c])))
    return tuple(out)
