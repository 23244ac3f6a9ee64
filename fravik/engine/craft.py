"""The whole craft through the pipeline: every copy of every part in its place, what it carries, its modes and how it gives in flight."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np

from fravik.kinds import kind_of, places_of
from fravik.kinds.around import arm_ends, plate_gap_mm, stations
from fravik.kinds.asking import Place
from fravik.kinds.carried import on_mounts
from fravik.kinds.drives import drives
from fravik.kinds.whole import placed_components
from fravik.model.project import Project
from fravik.power.momentum import PowerFigures
from fravik.printing.mass import MassProperties, move
from fravik.printing.zones import Floats
from fravik.shape.stations import Station
from fravik.structure.craft.assemble import Carried, Craft, Placed, PortOf, assemble
from fravik.structure.craft.body import (
    G_TO_T,
    GMM2_TO_TMM2,
    SEAT,
    Spot,
    root_port,
    shared,
)
from fravik.structure.craft.element import SuperElement
from fravik.structure.craft.free import FreeModes, free_modes, gyroscopic, push, relieve, seen_from, whirl_hz
from fravik.structure.craft.member import BASE, END, member_element
from fravik.structure.craft.naming import Copy, ModeName, names_of
from fravik.structure.frame import rigid_arm

from .bladepass import pulse_of
from .body import Body
from .ground import Ground, ground_of
from .members import Solved
from .memo import Memo
from .results import CraftMode, PartResult, WholeCraft, told
from .shake import Shake, Spinning, shake_of

BODY = "body"
INNER_MODES = 8
FEW_NAMES = 3
INNER_REACH = 3.0  # inner modes are kept up to so many times the highest that is sought of the craft
HZ_STEP, RPM_STEP = 100.0, 500.0  # so that small changes of speed find the modes again
LEAST_MODES = 12


@dataclass(frozen=True, eq=False)
class _Rotor:
    """A motor with its propeller: the port that carries it, where its hub is (3,), what the two weigh together, and the propeller's inertia
    about its shaft, signed by its turn."""

    on: PortOf
    hub_mm: Floats
    mass_t: float
    turning_t_mm2: float


@dataclass(frozen=True, eq=False)
class _Assembled:
    """The craft, its rotors, the copies of its parts, and the plate that answers for the body."""

    craft: Craft
    rotors: tuple[_Rotor, ...]
    copies: tuple[Copy, ...]
    plate: str


def whole_craft(
    memo: Memo, project: Project, parts: dict[str, PartResult], solved: dict[str, Solved], body: Body | None, power: PowerFigures,
    up_to_hz: float,
) -> WholeCraft | None:  # fmt: skip
    """None without plates or arms. Raises Refused when a piece of it hangs on nothing."""
    arms = [k for k, s in solved.items() if kind_of(s.member.shape).seat == "root"]
    ground = ground_of(memo, project, body, arms[0]) if arms else None
    if ground is None:
        return None
    up_to = HZ_STEP * math.ceil(up_to_hz / HZ_STEP)
    elements = {k: _element(memo, s, INNER_REACH * up_to) for k, s in solved.items()}
    key = (tuple((k, key) for k, (key, _) in elements.items()), ground.key, project.parts, project.layout, project.components)

    def make() -> _Assembled:
        return _assembled(memo, project, parts, {k: e for k, (_, e) in elements.items()}, solved, ground)

    first = parts[next(k for k in solved)].part
    built = memo.get("craft", key, lambda: told(first, make))
    hover = tuple(RPM_STEP * math.ceil(r.hover_rpm / RPM_STEP) * 2 * math.pi / 60 for r in power.rotors)
    free, modes = memo.get("craft modes", (key, up_to, hover), lambda: told(first, lambda: _modes(built, up_to, hover)))
    full = tuple((r.full_thrust_n, r.full_torque_nmm) for r in power.rotors)
    rise = memo.get("craft rise", (key, full), lambda: _rise(built, stations(project), power))
    return WholeCraft(built.craft, free, modes, rise, partial(_shake, built, project, parts, solved, free, power))


def _shake(
    built: _Assembled, project: Project, parts: dict[str, PartResult], solved: dict[str, Solved], free: FreeModes, power: PowerFigures
) -> Shake:
    pulses = [
        pulse_of(built.craft, solved, r.hub_mm, d.propeller, own)
        for r, d, own in zip(built.rotors, drives(project), power.rotors, strict=True)
    ]
    rotors = [Spinning(r.on, r.hub_mm, 1 if r.turning_t_mm2 >= 0 else -1, p) for r, p in zip(built.rotors, pulses, strict=True)]
    return shake_of(project, parts, built.craft, (BODY, SEAT), built.plate, rotors, free.shapes, free.corners_hz, power)


def _element(memo: Memo, s: Solved, inner_hz: float) -> tuple[Any, SuperElement]:
    r = s.result
    key = (r.given, r.part.recipe, r.part.facing, r.filament, r.part.joint, s.member.root_holder, inner_hz)

    def make() -> SuperElement:
        own = MassProperties(r.grams, r.mass.com_mm, r.mass.inertia_gmm2)
        return told(r.part, lambda: member_element(s.member, s.chain, r.filament, r.part.recipe, r.part.joint, own, INNER_MODES, inner_hz))

    return key, memo.get("element", key, make)


def _assembled(
    memo: Memo, project: Project, parts: dict[str, PartResult], elements: dict[str, SuperElement], solved: dict[str, Solved], ground: Ground
) -> _Assembled:
    """Everything in its place: the body first, then what stands on it, then what stands on that."""
    arms = [p for p in project.parts if p.id in solved and kind_of(p.shape).seat == "root"]
    ends = [s.id for s in arm_ends(project)]
    every = {p.id: places_of(p, project) for p in project.parts}
    spots: dict[str, Spot] = {}
    host: dict[str, PortOf] = {}
    on_arm = {p.follows: p.id for a in arms for p in every[a.id]}
    for part in project.parts:
        if part.id not in solved:
            continue
        for place in every[part.id]:
            where = kind_of(part.shape).seat
            if where == "root" and place.follows in ends:
                host[place.id] = (BODY, root_port(ends.index(place.follows)))
            elif where == "rotor" and place.follows in on_arm:
                host[place.id] = (on_arm[place.follows], END)
            else:
                spots[_under(place.id)] = Spot(ground.low, place.at_mm)
                host[place.id] = (BODY, _under(place.id))
    goods, more = _bought(project, ground, every, solved, on_arm)
    spots.update(more)
    order = sorted((pl for k in every.values() for pl in k if pl.id in host), key=lambda p: host[p.id][0] != BODY)
    standing = (ground.key, tuple((name, s.plate, s.at_mm.tobytes()) for name, s in spots.items()))
    placed = [Placed(BODY, memo.get("craft body spots", standing, lambda: ground.element(spots)), np.eye(4))]
    placed += [Placed(p.id, elements[p.part_id], p.pose, (BASE, host[p.id])) for p in order]
    carriers: list[tuple[PortOf, Floats]] = [((BODY, root_port(a)), at) for a, at in enumerate(ground.roots_mm)]
    for part in project.parts:
        if part.id in solved:
            continue
        one = parts[part.id]
        grams = MassProperties(one.grams, one.mass.com_mm, one.mass.inertia_gmm2)
        for place in every[part.id]:
            mass = move(grams, place.pose)
            if place.follows in on_arm and kind_of(part.shape).seat == "rotor":
                goods.append(_rides((on_arm[str(place.follows)], END), mass))
            else:
                goods += shared(mass, [*carriers, ((BODY, SEAT), ground.seat.at_mm)])
    return _Assembled(assemble(placed, (), goods), _rotors(project, on_arm), _copies(every, solved), ground.part)


def _rotors(project: Project, on_arm: dict[str | None, str]) -> tuple[_Rotor, ...]:
    bought = {b.id: b for b in placed_components(project)}
    out = []
    for k, s in enumerate(stations(project)):
        motor, prop = bought[f"motor{k}"], bought[f"prop{k}"]
        spins = s.spin * float(prop.mass.inertia_gmm2[2, 2]) * GMM2_TO_TMM2
        port = (on_arm[_end_of(s, arm_ends(project))], END)
        out.append(_Rotor(port, prop.mass.com_mm, (motor.mass.mass_g + prop.mass.mass_g) * G_TO_T, spins))
    return tuple(out)


def _end_of(station: Station, ends: Sequence[Station]) -> str:
    """The arm's end at which a rotor stands, above it or below."""
    return min(ends, key=lambda e: math.hypot(e.x_mm - station.x_mm, e.y_mm - station.y_mm)).id


def _under(name: str, what: str = "place") -> str:
    """The body's spot under something; no id of the maker's can stand in for another port."""
    return f"{what} {name}"


def _rides(on: PortOf, mass: MassProperties) -> Carried:
    return Carried(on, mass.mass_g * G_TO_T, mass.inertia_gmm2 * GMM2_TO_TMM2, mass.com_mm)


def _bought(
    project: Project, ground: Ground, every: dict[str, tuple[Place, ...]], solved: dict[str, Solved],
    on_arm: dict[str | None, str],
) -> tuple[list[Carried], dict[str, Spot]]:  # fmt: skip
    """What every component rides on: rotors on the arms' ends, a block at a mount's end on it, the rest on the plate that it is nearest."""
    goods: list[Carried] = []
    spots: dict[str, Spot] = {}
    every_station, ends, gap = stations(project), arm_ends(project), plate_gap_mm(project)
    kinds = {k: kind_of(s.member.shape) for k, s in solved.items()}
    mounts = [(place, s) for k, s in solved.items() if kinds[k].seat == "plate" and not kinds[k].stands for place in every[k]]
    rides = on_mounts(project, [s.result.part for _, s in mounts])
    for b in placed_components(project):
        if b.kind in ("motor", "prop"):
            station = every_station[int(b.id.removeprefix(b.kind))]
            goods.append(_rides((on_arm[_end_of(station, ends)], END), b.mass))
        elif b.id not in rides.values():
            spots[_under(b.id, "good")] = Spot(ground.high if b.centre_mm[2] > gap / 2 else ground.low, b.centre_mm)
            goods.append(_rides((BODY, _under(b.id, "good")), b.mass))
    for place, s in mounts:
        tip = kind_of(s.member.shape).tip(s.result.part, s.member.shape, project)
        # one that is made for what is not there bears nothing, nor does a second for the same
        if tip is not None and s.result.part.id in rides and place is every[s.result.part.id][0]:
            at = _end_mm(place, s) + place.pose[:3, :3] @ tip.offset_mm
            turned = place.pose[:3, :3] @ tip.inertia_t_mm2 @ place.pose[:3, :3].T
            goods.append(Carried((place.id, END), tip.mass_t, turned, at))
    return goods, spots


def _end_mm(place: Place, s: Solved) -> Floats:
    node = s.member.path.nodes_mm[s.member.path.load_node]
    return np.asarray(place.pose[:3, :3] @ node + place.pose[:3, 3])


def _copies(every: dict[str, tuple[Place, ...]], solved: dict[str, Solved]) -> tuple[Copy, ...]:
    out = []
    for k, s in solved.items():
        box = s.member.tables.extents
        width = float((box[1] - box[0]).max())
        for place in every[k]:
            forward = place.pose[:3, :3] @ np.array([1.0, 0.0, 0.0])
            out.append(Copy(place.id, k, width, math.atan2(forward[1], forward[0])))
    return tuple(out)


def _modes(built: _Assembled, up_to_hz: float, hover_rad_s: tuple[float, ...]) -> tuple[FreeModes, tuple[CraftMode, ...]]:
    craft = built.craft
    free = free_modes(craft, LEAST_MODES, up_to_hz)
    # the craft's origin carried by the seat: what the whole would have if it moved like that
    ride = rigid_arm(-craft.port_mm((BODY, SEAT))) @ craft.motion((BODY, SEAT)) @ free.shapes
    gyro = np.einsum("ik,ij,jk->k", ride, craft.rigid.T @ craft.m @ craft.rigid, ride)
    hubs = np.stack([r.mass_t * (craft.motion(r.on, r.hub_mm)[:3] @ free.shapes) ** 2 for r in built.rotors])
    sideways, along = hubs[:, :2].sum(axis=1).max(axis=0), hubs[:, 2].max(axis=0)
    spinning = [(r.on, np.array([0.0, 0.0, r.turning_t_mm2 * w])) for r, w in zip(built.rotors, hover_rad_s, strict=True)]
    split = whirl_hz(free, gyroscopic(craft, spinning)) / np.maximum(free.freqs_hz, 1e-9)
    namer = _Namer(built, free.shapes)
    modes = []
    for i in range(free.shapes.shape[1]):
        low, typical, high = (float(v) for v in free.corners_hz[:, i])
        low, high = low * min(1.0, float(split[i])), high * max(1.0, float(split[i]))
        modes.append(CraftMode(i, low, typical, high, float(sideways[i]), float(along[i]), min(float(gyro[i]), 1.0), namer))
    return free, tuple(modes)


class _Namer:
    """Names modes as they are asked for: an edit wants one or two of them, a list all."""

    def __init__(self, built: _Assembled, shapes: Floats) -> None:
        self._built, self._shapes = built, shapes
        self._known: dict[int, tuple[str, ModeName]] = {}

    def __call__(self, index: int) -> tuple[str, ModeName]:
        if index not in self._known:
            some = [index] if len(self._known) < FEW_NAMES else [i for i in range(self._shapes.shape[1]) if i not in self._known]
            for i, name in zip(some, names_of(self._built.craft, self._shapes[:, some], self._built.copies, BODY), strict=True):
                self._known[i] = (self._built.plate if name.part == BODY else name.part, name)
        return self._known[index]


def _rise(built: _Assembled, every: Sequence[Station], power: PowerFigures) -> Floats:
    """(3, rotors) at full thrust of all rotors, the craft's own inertia holding against it."""
    craft = built.craft
    load = np.zeros(craft.size)
    for r, s, own in zip(built.rotors, every, power.rotors, strict=True):
        load += push(craft, r.on, np.array([0.0, 0.0, own.full_thrust_n, 0.0, 0.0, -s.spin * own.full_torque_nmm]))
    given = relieve(craft, load[:, None], (BODY, SEAT))
    return np.stack([[float(seen_from(craft, q, (BODY, SEAT), r.on)[2, 0]) for r in built.rotors] for q in given.q])
