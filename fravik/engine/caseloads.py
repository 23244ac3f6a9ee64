"""What the load cases need to know of the craft: for all arms alike as the hardest working one carries, and for every copy its own."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from fravik.flight.allocation import Allocation
from fravik.flight.mass import MassProperties
from fravik.kinds import kind_of, places_of
from fravik.kinds.around import stations
from fravik.kinds.asking import Place
from fravik.kinds.drives import drives, ends_of, on_arms
from fravik.model.project import Part, Project
from fravik.power.momentum import PowerFigures
from fravik.shape.stations import Station
from fravik.structure.cases import CraftLoads

ACROSS = 1e-9  # an arm that stands no more behind than this stands across


def craft_loads(project: Project, craft: MassProperties, power: PowerFigures, shares: Allocation) -> CraftLoads:
    """The figures of the craft that the load cases need. All arms are to hold what the hardest working one carries in hover."""
    b, every, each = project.brief, stations(project), power.rotors
    struck, arms, own = _struck(every), tuple(on_arms(project).values()), drives(project)
    lean = math.tan(math.radians(max(s.tilt_deg for s in every)))
    torques = [float(n) * r.torque_mm for n, r in zip(shares.hover_n, each, strict=True)]
    alone = [there[0] for there in arms if len(there) == 1]
    hover, full, heaviest = (
        max(sum(of(k) for k in there) for there in arms)
        for of in (lambda k: float(shares.hover_n[k]), lambda k: each[k].full_thrust_n, lambda k: own[k].mass_g)
    )
    # what twists an arm's end: of a pair torques cancel in hover
    torque, step = max((torques[k] for k in alone), default=0.0), max(r.full_torque_nmm for r in each)
    yaws = [_in_yaw(b.yaw_share, [float(shares.hover_n[k]) for k in there], [torques[k] for k in there]) for there in arms]
    yaw = (max(n for n, _ in yaws), max(n for _, n in yaws), 0.0)
    moment = len(every) * b.yaw_share * max(torques)
    if lean > 0:
        # a rotor that tilts turns the craft by its thrust
        push = lean * float(shares.hover_n.max())
        yaw, moment = (hover, torque, push), sum(push * s.radius_mm for s in every if s.tilt_deg)
    return CraftLoads(
        craft.mass_g, float(craft.inertia_gmm2[2, 2]), hover, full, torque, step if alone else 0.0, *yaw, step,
        moment, b.pull_up_g, b.out_of_step, b.landing_m_s, b.landing_drag, b.transport_n,
        b.ground_stiffness_n_mm, b.ground_restitution, heaviest,
        *_geometry(struck), b.own_cases,
    )  # fmt: skip


def _in_yaw(share: float, hover_n: list[float], torque_nmm: list[float]) -> tuple[float, float]:
    """Thrust and torque at an arm's end in a hard yaw. A rotor speeds up; of a pair one speeds up and the other slows down: their thrust
    stays, and both torques turn the craft the same way."""
    if len(hover_n) > 1:
        return sum(hover_n), 2 * share * max(torque_nmm)
    return (1 + share) * hover_n[0], (1 + share) * torque_nmm[0]


def of_arm(loads: CraftLoads, part: Part, project: Project) -> CraftLoads:
    """The same for one kind of arm: the pole meets that of its copies which stands most across, in flight ahead or, where they all stand
    behind, backwards."""
    ends = ends_of(part, project)
    mine = [s for s in stations(project) if s.id in ends]
    if not mine:
        return loads
    out, aside, lever, way = _geometry(_struck(mine))
    return replace(loads, motor_out_mm=out, motor_aside_mm=aside, struck_lever_mm=lever, struck_rad=way)


def _geometry(struck: Station) -> tuple[float, float, float, float]:
    """Of an arm that meets a pole: how far out along it and beside it its motor stands, how far beside the middle of the craft, and its
    direction from that of the flight, ahead or backwards."""
    off, way = struck.bearing_rad - struck.azimuth_rad, struck.azimuth_rad
    if math.cos(way) < -ACROSS:
        way = math.pi - way
    return struck.radius_mm * math.cos(off), struck.radius_mm * math.sin(off), abs(struck.y_mm), way


def _struck(every: Sequence[Station]) -> Station:
    """The arm that meets a pole straight ahead: of the front ones the one that stands most across, the left of two alike; where none
    stands in front, of all."""
    front = [s for s in every if s.x_mm > 1e-6 * s.radius_mm] or list(every)
    return max(front, key=lambda s: (round(abs(math.sin(s.azimuth_rad)), 6), math.sin(s.azimuth_rad), s.x_mm))


def by_place(loads: CraftLoads, part: Part, project: Project, power: PowerFigures, shares: Allocation) -> dict[str, CraftLoads]:
    """By the ids of an arm's copies: what each one's own rotors do, in its own axes, and how a pole meets it, ahead or backwards. Where a
    copy's mirror image is itself, motors of either turn load it alike, and all are taken to turn one way."""
    every, arms = stations(project), on_arms(project)
    handed = kind_of(part.shape).handed(part.shape)
    out = {}
    for place in places_of(part, project):
        rotors = arms.get(place.follows or "", ())
        if rotors:
            out[place.id] = _at(loads, every[rotors[0]], list(rotors), place, handed, project, power, shares)
    return out


def _at(
    loads: CraftLoads, first: Station, rotors: list[int], place: Place, handed: bool, project: Project, power: PowerFigures,
    shares: Allocation,
) -> CraftLoads:  # fmt: skip
    b, each, own = project.brief, [power.rotors[k] for k in rotors], drives(project)
    thrust = [float(shares.hover_n[k]) for k in rotors]
    torques, pair = [t * r.torque_mm for t, r in zip(thrust, each, strict=True)], len(rotors) > 1
    hover, torque = sum(thrust), max(torques)
    step, lean = max(r.full_torque_nmm for r in each), math.tan(math.radians(first.tilt_deg))
    yaw = (hover, torque, lean * hover) if loads.yaw_push_n > 0 else (*_in_yaw(b.yaw_share, thrust, torques), 0.0)
    out, aside, lever, way = _geometry(first)
    side = -1.0 if np.linalg.det(place.pose[:3, :3]) < 0 else 1.0
    turn = -side * first.spin  # a motor that turns one way twists its arm the other
    way = math.remainder(way, math.tau)
    aside, way = side * aside, side * (-way if math.cos(first.azimuth_rad) < -ACROSS else way)
    if not handed:  # seen in the mirror where it turns the other way
        turn, aside, way = 1.0, turn * aside, abs(way)
    # so that copies that differ by a computer's rounding alone are alike
    hover, torque, aside, way, lever, out = (round(v, 9) for v in (hover, torque, aside, way, lever, out))
    return replace(
        loads, hover_thrust_n=hover, full_thrust_n=sum(r.full_thrust_n for r in each), hover_torque_nmm=0.0 if pair else torque,
        full_torque_nmm=0.0 if pair else step, yaw_thrust_n=yaw[0], yaw_torque_nmm=yaw[1], yaw_push_n=yaw[2], step_torque_nmm=step,
        tip_mass_g=sum(own[k].mass_g for k in rotors), motor_out_mm=out, motor_aside_mm=aside, struck_lever_mm=lever,
        struck_rad=way, turn=turn,
    )  # fmt: skip
