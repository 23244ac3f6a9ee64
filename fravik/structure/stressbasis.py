"""All that a member's stress needs at one corner of its material, whatever the load."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fravik.model.joint import Joint
from fravik.model.material import Filament
from fravik.model.recipe import Recipe
from fravik.printing.zones import Floats

from .buckling import critical_stress_mpa
from .member import Member, MemberAnswer, MemberBasis, root_joint, with_carbon_ends
from .notches import Raiser, end_raisers
from .stress import SectionForces


@dataclass(frozen=True)
class StressBasis:
    """Everything about a member at one corner that does not depend on the load case."""

    member: Member
    basis: MemberBasis
    answer: MemberAnswer
    joint: Joint
    filament: Filament
    recipe: Recipe
    raisers: tuple[Raiser, ...]
    pull: Floats
    up: Floats
    side: Floats
    layer: Floats
    shear: Floats
    buckling_mpa: tuple[float, float]
    wall_mm: float


def _factors(arc_mm: Floats, raisers: tuple[Raiser, ...]) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    out = np.ones((5, len(arc_mm) - 1))
    for r in raisers:
        factor = np.array([[r.pull], [r.up], [r.side], [r.layer], [r.shear]])
        np.maximum(out, factor, out=out, where=r.over(arc_mm))
    return out[0], out[1], out[2], out[3], out[4]


def member_raisers(member: Member, answer: MemberAnswer) -> tuple[Raiser, ...]:
    """Every stress raiser along a member, carbon ends included."""
    q = answer.material.notch_sensitivity
    raisers = member.form.raisers(q)
    for glued in (member.carbon, member.facing):
        raisers += end_raisers(glued, with_carbon_ends(member, answer), q)
    return tuple(r for r in raisers if r.end_mm > 0 and r.start_mm < member.ruler_mm)


def stress_basis(
    member: Member, basis: MemberBasis, answer: MemberAnswer, joint: Joint, f: Filament, recipe: Recipe,
    like: StressBasis | None = None,
) -> StressBasis:  # fmt: skip
    """Prepare stress recovery once for all cases; another corner's basis (``like``) lends its raisers."""
    raisers = member_raisers(member, answer) if like is None else like.raisers
    factors = _factors(member.path.arc_mm, raisers) if like is None else (like.pull, like.up, like.side, like.layer, like.shear)
    walls = recipe.walls * recipe.line_width_mm
    return StressBasis(
        member, basis, answer, root_joint(member.form, joint), f, recipe, raisers,
        *factors, critical_stress_mpa(member, answer.material, recipe), walls,
    )  # fmt: skip


def sharpened(basis: StressBasis, q: float) -> StressBasis:
    """The same where every raiser of the shape is felt by a notch sensitivity of at least ``q``."""
    member = basis.member
    sharp = member.form.raisers(max(q, basis.answer.material.notch_sensitivity))
    raisers = tuple(r for r in sharp if r.end_mm > 0 and r.start_mm < member.ruler_mm)
    pull, up, side, layer, shear = _factors(member.path.arc_mm, (*raisers, *(r for r in basis.raisers if not r.field)))
    return replace(basis, raisers=raisers, pull=pull, up=up, side=side, layer=layer, shear=shear)


def section_forces(basis: StressBasis, combos: Floats) -> SectionForces:
    """Internal forces at every position in every case; ``combos`` (loads, cases)."""
    every = basis.answer.forces @ combos
    return SectionForces(*(every[i] for i in range(6)))
