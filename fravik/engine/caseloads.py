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
from fravik.shape.stations import Station, arrangement
from fravik.structure.cases import CraftLoads

ACROSS = 1e-9  # an arm that stands no more behind than this stands across


def craft_loads(project: Project, craft: MassProperties, power: PowerFigures, shares: Allocation) -> CraftLoads:
    """The figures of the craft that the load cases need. All arms are to hold what the hardest working one carries in hover."""
    b, every, pairs = project.brief, stations(project), arrangement(project.layout).coaxial
    struck, arms, each = _struck(every), tuple(on_arms(project).values()), power.rotors
    own, lean = drives(project), math.tan(math.radians(max(s.tilt_deg for s in every)))
    hover = float(shares.hover_n.max())
    torque = max(float(n) * r.torque_mm for n, r in zip(shares.hover_n, each, strict=True))
    full = max(sum(each[k].full_thrust_n for k in pair) for pair in arms)
    step, on_arm = max(r.full_torque_nmm for r in each), max(len(pair) for pair in arms)
    more = 1.0 + b.yaw_share
    # of a pair one speeds up and the other slows down: its thrust stays, and both torques turn the craft the same way
    yaw = (2 * hover, 2 * b.yaw_share * torque, 0.0) if pairs else (more * hover, more * torque, 0.0)
    moment = len(every) * b.yaw_share * torque
    if lean > 0:
        # a rotor that tilts turns the craft by its thrust
        yaw, moment = (hover, torque, lean * hover), sum(lean * hover * s.radius_mm for s in every if s.tilt_deg)
    return CraftLoads(
        craft.mass_g, float(craft.inertia_gmm2[2, 2]), on_arm * hover, full,
        0.0 if pairs else torque, 0.0 if pairs else step, *yaw, step,
        moment, b.pull_up_g, b.out_of_step, b.landing_m_s, b.landing_drag, b.transport_n,
        b.ground_stiffness_n_mm, b.ground_restitution, max(sum(own[k].mass_g for k in pair) for pair in arms),
        *_geometry(struck), b.own_cases,
    )  # fmt: skip


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
    hover, torque = sum(thrust), max(t * r.torque_mm for t, r in zip(thrust, each, strict=True))
    pair = len(rotors) > 1
    step, lean = max(r.full_torque_nmm for r in each), math.tan(math.radians(first.tilt_deg))
    if loads.yaw_push_n > 0:
        yaw = (hover, torque, lean * hover)
    else:
        yaw = (hover, 2 * b.yaw_share * torque, 0.0) if pair else ((1 + b.yaw_share) * hover, (1 + b.yaw_share) * torque, 0.0)
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
