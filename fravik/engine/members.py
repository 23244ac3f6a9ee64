"""Beam-like parts through the pipeline: geometry, sections, answers at every corner, load cases and break points."""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from fravik.flight.allocation import Allocation
from fravik.flight.mass import MassProperties
from fravik.kinds import kind_of, places_of
from fravik.kinds.around import LEAST_FEET, feet
from fravik.kinds.drives import arm_drives
from fravik.model.material import CORNERS, Corner
from fravik.model.problem import Problem
from fravik.model.project import Project
from fravik.power.momentum import PowerFigures
from fravik.printing.zones import Floats
from fravik.structure.attachments import PadForce
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
from fravik.structure.loadcases import AtPlace
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

from .bare import bare_field
from .caseloads import by_place, craft_loads, of_arm
from .memberresult import MemberResult, member_result
from .memo import Memo
from .results import PartResult, Refused, told

Answers = dict[Corner, MemberAnswer]


@dataclass(frozen=True)
class Solved:
    """One member with its answers at every corner."""

    result: PartResult
    member: Member
    basis: MemberBasis
    answers: Answers
    key: Hashable
    chain: MemberChain


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
            return build_member(kind.form(part, shape, result.given.length_mm), bare_field(result), part.carbon, part.facing, holders)
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
    few = _on_few_feet(project, [solved[k] for k in legs], craft)
    root_k = [math.sqrt(series_n_mm(k, project.brief.ground_stiffness_n_mm)) for k in leg_k]
    standing = _standing_on(project, legs, solved)
    by_arm = {}
    for k in arms:
        landed = touchdowns(loads, [solved[k].answers[c] for c in CORNERS], arm_count, leg_k, standing)
        by_arm[k] = dict(zip(CORNERS, landed, strict=True))
    # where arms differ, each lands as if all were like it, and the rest of the craft as hard as with any of them
    worst = {c: _hardest([by_arm[k][c] for k in arms]) for c in CORNERS}
    toes = {
        place: {c: replace(worst[c], two_feet_n=k * two, one_foot_n=k * one) for c, k in zip(CORNERS, root_k, strict=True)}
        for place, (two, one) in few.items()
    }
    downs = {c: _hardest([t[c] for t in toes.values()] or [worst[c]]) for c in CORNERS}
    out = {}
    for k, s in solved.items():
        part = s.result.part
        down = by_arm.get(k, downs)
        if k in by_arm:
            copies = {at: Copy(own, down) for at, own in by_place(loads, part, project, power, shares).items()}
        else:
            copies = {p.id: Copy(loads, toes.get(p.id, down)) for p in places_of(part, project)}
        copies = copies or {f"{k}_1": Copy(loads, down)}
        out[k] = judge_member(memo, k, s, copies)
        if k in by_arm:
            hard = of_arm(loads, part, project)
            at_root = {c: with_own_cases(loads, k, kinds[k].cases(hard, s.member.shape, s.answers[c], by_arm[k][c])) for c in CORNERS}
            out[k] = replace(out[k], at_root=at_root)
    return out, downs


@dataclass(frozen=True)
class Copy:
    """What acts on one copy of a part."""

    loads: CraftLoads
    down: dict[Corner, Touchdown]


def judge_member(memo: Memo, part_id: str, s: Solved, copies: dict[str, Copy]) -> MemberResult:
    """Every case of every copy, by its place's id, at every corner. What acts alike on several is worked out once."""
    f, kind = s.result.filament, kind_of(s.member.shape)
    bases = memo.get("stress", s.key, lambda: _stress_bases(s))
    combos: dict[Corner, dict[AtPlace, Floats]] = {c: {} for c in CORNERS}
    pads: dict[Corner, dict[AtPlace, PadForce]] = {c: {} for c in CORNERS}
    padded = s.member.form.pad is not None
    first: dict[tuple[str, bytes], AtPlace] = {}
    same: dict[AtPlace, AtPlace] = {}
    for place, alike in _alike(copies).items():
        copy = copies[place]
        each = {c: with_own_cases(copy.loads, part_id, kind.cases(copy.loads, s.member.shape, s.answers[c], copy.down[c])) for c in CORNERS}
        pad = {c: pad_forces(copy.loads, s.answers[c], each[c]) if padded else {} for c in CORNERS}
        for case, vector in each["typical"].items():
            key = first.setdefault((case, vector.tobytes()), (case, place))
            same |= {(case, other): key for other in alike}
            if key == (case, place):
                for c in CORNERS:
                    combos[c][key] = each[c][case]
                    if padded:
                        pads[c][key] = pad[c][case]
    unit = None
    if not s.answers["typical"].inserts:
        # most cases of most parts only change in size from edit to edit
        way, _ = unit_directions(packed_cases(combos["typical"]))
        unit = memo.get("unit stress", (s.key, way.tobytes()), lambda: unit_indices(bases["typical"], way))
    found = corner_reserves([bases[c] for c in CORNERS], [combos[c] for c in CORNERS], unit, [pads[c] for c in CORNERS])
    tough = {c: toughness(f.ductility_road.at(c), f.ductility_layer.at(c)) for c in CORNERS}
    breaks = [break_points(x, tough[c], s.member.positions_mm) for c, x in zip(CORNERS, found, strict=True)]
    at, speeds = dict(zip(CORNERS, found, strict=True)), dict(zip(CORNERS, breaks, strict=True))
    return member_result(part_id, s.member, s.answers, bases, at, speeds, tough["typical"], combos, same)


def _standing_on(project: Project, legs: list[str], solved: dict[str, Solved]) -> int:
    """How many feet it comes down on: its legs, or the directions in which it would have some."""
    own = sum(solved[k].result.part.count for k in legs)
    return own if own >= LEAST_FEET else len(feet(project))


def _alike(copies: dict[str, Copy]) -> dict[str, list[str]]:
    """Places on which the same acts, by the first of them."""
    out: dict[str, list[str]] = {}
    for place, copy in copies.items():
        out.setdefault(next((k for k in out if copies[k] == copy), place), []).append(place)
    return out


def _on_few_feet(project: Project, legs: list[Solved], craft: MassProperties) -> dict[str, tuple[float, float]]:
    """By the ids of places, peaks on every leg of 1 N/mm when only it and a neighbour, or it alone, meet the ground; none without legs all
    round."""
    toes = {
        p.id: (p.pose @ np.append(s.member.path.nodes_mm[s.member.path.load_node], 1.0))[:3]
        for s in legs for p in places_of(s.result.part, project)
    }  # fmt: skip
    if len(toes) < LEAST_FEET:
        return {}
    two, one = on_few_feet(craft.mass_g, craft.com_mm, craft.inertia_gmm2, np.array(list(toes.values())), 1.0)
    return {place: (round(float(a), 9), round(float(b), 9)) for place, a, b in zip(toes, two, one, strict=True)}


def _hardest(downs: list[Touchdown]) -> Touchdown:
    return Touchdown(*(max(getattr(d, name) for d in downs) for name in ("leg_n", "tip_n", "body_g", "two_feet_n", "one_foot_n")))


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
