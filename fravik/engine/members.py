"""Beam-like parts through the pipeline: geometry, sections, answers at every corner, load cases and break points."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from fravik.flight.allocation import Allocation
from fravik.flight.mass import MassProperties
from fravik.kinds import kind_of, places_of
from fravik.kinds.around import LEAST_FEET, feet, stations
from fravik.kinds.drives import arm_drives, drives, ends_of, on_arms
from fravik.model.material import CORNERS, Corner
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.power.momentum import PowerFigures
from fravik.printing.zones import Floats
from fravik.shape.stations import Station, arrangement
from fravik.structure.cases import (
    CraftLoads,
    Touchdown,
    break_points,
    leg_stiffness_n_mm,
    on_few_feet,
    pad_forces,
    touchdowns,
    toughness,
    with_own_cases,
)
from fravik.structure.impact import series_n_mm
from fravik.structure.joints import Holder
from fravik.structure.member import (
    Member,
    MemberAnswer,
    MemberBasis,
    MemberChain,
    build_member,
    member_basis,
    member_chain,
    solve_member,
)
from fravik.structure.reserves import corner_reserves, packed_cases, unit_directions, unit_indices
from fravik.structure.stressbasis import StressBasis, stress_basis

from .memo import Memo
from .results import MemberResult, PartResult, Refused, told

Answers = dict[Corner, MemberAnswer]
ACROSS = 1e-9  # an arm that stands no more behind than this stands across


@dataclass(frozen=True)
class Solved:
    """One member with its answers at every corner."""

    result: PartResult
    member: Member
    basis: MemberBasis
    answers: Answers
    key: Hashable
    chain: MemberChain


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


def solve(
    memo: Memo, result: PartResult, project: Project, base: dict[Corner, Floats] | None, base_key: Any,
    holders: tuple[Holder | None, Holder | None] = (None, None),
) -> Solved:  # fmt: skip
    """A member's sections and answers; ``base`` is what its root stands on, ``holders`` what holds its ends if not its own plastic. Raises
    Refused where nothing is left of a section."""
    shape, part, f = result.part.shape, result.part, result.filament
    kind = kind_of(shape)

    def make_member() -> Member:
        try:
            return build_member(kind.form(part, shape, result.given.length_mm), result.field, part.carbon, part.facing, holders)
        except ValueError as err:
            raise Refused([Problem(f"parts.{part.id}.shape", f"{part.name}: {err}")]) from None

    key = (result.given, part.recipe, part.facing, holders)
    member = memo.get("member", key, make_member)
    # sections go by what is in them: an edit to the tongue or the pad leaves those of the body as they were
    content = (member.tables.fingerprint, member.nominal.tobytes(), shape.kind, part.carbon, part.facing, part.recipe, f)
    basis = memo.get("sections", content, lambda: told(part, lambda: member_basis(member, f, part.recipe)))
    line = (member.path.nodes_mm.tobytes(), member.path.line.frame.tobytes())
    chain = memo.get("chain", (content, line), lambda: member_chain(member, basis, f, part.recipe))
    carried = arm_drives(part, project) if kind.carries_rotor else None
    places = tuple(o.position_mm for o in project.brief.own_cases if o.part == part.id)

    def make() -> Answers:
        return told(part, lambda: solve_member(member, chain, f, part.recipe, part.joint, kind.tip(part, shape, project), base, places))

    whole = (*key, f, part.joint, carried, base_key, places)
    return Solved(result, member, basis, memo.get("answers", whole, make), whole, chain)


def judge_members(
    memo: Memo, project: Project, solved: dict[str, Solved], craft: MassProperties, power: PowerFigures, shares: Allocation
) -> tuple[dict[str, MemberResult], dict[Corner, Touchdown]]:  # fmt: skip
    """All load cases of all members at every corner; touch-downs go along for the plates."""
    kinds = {k: kind_of(s.member.shape) for k, s in solved.items()}
    arms = [k for k in solved if kinds[k].carries_rotor]
    legs = [k for k in solved if kinds[k].stands]
    if not arms:
        return {}, {}
    loads = craft_loads(project, craft, power, shares)
    arm_count = sum(solved[k].result.part.count for k in arms)
    leg = solved[legs[0]] if legs else None
    lean = kinds[legs[0]].lean_deg(leg.member.shape) if leg is not None else 0.0
    leg_k = [leg_stiffness_n_mm(leg.answers[c] if leg is not None else None, lean) for c in CORNERS]
    # peaks grow with the root of the stiffness, so the craft's part in them is worked out once
    few = _on_few_feet(project, leg, craft)
    root_k = [math.sqrt(series_n_mm(k, project.brief.ground_stiffness_n_mm)) for k in leg_k]
    by_arm = {
        k: dict(zip(CORNERS, touchdowns(loads, [solved[k].answers[c] for c in CORNERS], arm_count, leg_k, len(feet(project))), strict=True))
        for k in arms
    }
    # where arms differ, each lands as if all were like it, and the rest of the craft as hard as with any of them
    worst = {c: _hardest([by_arm[k][c] for k in arms]) for c in CORNERS}
    downs = {c: replace(worst[c], two_feet_n=k * few[0], one_foot_n=k * few[1]) for c, k in zip(CORNERS, root_k, strict=True)}
    out = {}
    for k, s in solved.items():
        f = s.result.filament
        bases = memo.get("stress", s.key, lambda s=s: _stress_bases(s))  # type: ignore[misc]
        mine = of_arm(loads, s.result.part, project) if k in by_arm else loads
        combos = [with_own_cases(loads, k, kinds[k].cases(mine, s.member.shape, s.answers[c], by_arm.get(k, downs)[c])) for c in CORNERS]
        unit = None
        if not s.answers["typical"].inserts:
            # most cases of most parts only change in size from edit to edit
            way, _ = unit_directions(packed_cases(combos[CORNERS.index("typical")]))
            unit = memo.get("unit stress", (s.key, way.tobytes()), lambda b=bases, w=way: unit_indices(b["typical"], w))  # type: ignore[misc]
        padded = s.member.form.pad is not None
        pads = [pad_forces(mine, s.answers[c], m) if padded else {} for c, m in zip(CORNERS, combos, strict=True)]
        cases = dict(zip(CORNERS, corner_reserves(list(bases.values()), combos, unit, pads), strict=True))
        tough = {c: toughness(f.ductility_road.at(c), f.ductility_layer.at(c)) for c in CORNERS}
        along = s.member.positions_mm
        breaks = {c: break_points(cases[c], tough[c], along) for c in CORNERS}
        out[k] = MemberResult(k, s.member, s.answers, bases, cases, breaks, tough["typical"], dict(zip(CORNERS, combos, strict=True)))
    return out, downs


def _on_few_feet(project: Project, leg: Solved | None, craft: MassProperties) -> tuple[float, float]:
    """Peaks on a leg of 1 N/mm when only some feet meet the ground; none without legs all round."""
    if leg is None:
        return 0.0, 0.0
    path = leg.member.path
    toes = np.array([(p.pose @ np.append(path.nodes_mm[path.load_node], 1.0))[:3] for p in places_of(leg.result.part, project)])
    if len(toes) < LEAST_FEET:
        return 0.0, 0.0
    return on_few_feet(craft.mass_g, craft.com_mm, craft.inertia_gmm2, toes, 1.0)


def _hardest(downs: list[Touchdown]) -> Touchdown:
    return Touchdown(*(max(getattr(d, name) for d in downs) for name in ("leg_n", "tip_n", "body_g")))


def _stress_bases(s: Solved) -> dict[Corner, StressBasis]:
    part, f = s.result.part, s.result.filament

    def at(corner: Corner, like: StressBasis | None) -> StressBasis:
        return stress_basis(s.member, s.basis, s.answers[corner], part.joint, f, part.recipe, like)

    typical = at("typical", None)
    return {c: typical if c == "typical" else at(c, typical) for c in CORNERS}


def working_band_hz(project: Project, power: PowerFigures) -> tuple[float, float]:
    """1/rev over the speeds of steady flight, Hz."""
    b = project.brief
    return power.hover_rpm / 60 * math.sqrt(b.working_low), power.hover_rpm / 60 * math.sqrt(b.working_high)
