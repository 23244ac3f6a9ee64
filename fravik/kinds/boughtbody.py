"""A bought body that holds the arms in place of printed plates: for who prints arms, guards or legs for a craft that is there already."""

from __future__ import annotations

from pydantic import ValidationError

from fravik.model.base import explain
from fravik.model.craft import Block
from fravik.model.problem import Problem
from fravik.model.project import Project

from .proportion import half
from .registry import kind_of

BODY_REACH, BODY_TALL = 0.85, 0.7  # of the radius at which arms leave it: half the side and the height of a bought body, to be measured


def bought_body(project: Project) -> Block | None:
    """The bought thing that holds the arms in place of printed plates, if there is one."""
    return next((b for b in project.components.blocks if b.holds_arms), None)


def body_problems(project: Project) -> list[Problem]:
    """Whether one thing holds the arms: plates or a frame, or one bought body. Without any the parts are judged each by itself."""
    holding = [b for b in project.components.blocks if b.holds_arms]
    plates = [p for p in project.parts if kind_of(p.shape).seat == "body"]
    at = f"components.blocks.{holding[-1].id}.holds_arms" if holding else "parts"
    if len(holding) > 1:
        return [Problem(at, f"{' and '.join(b.name for b in holding)} both hold the arms: leave one of them.")]
    if holding and plates:
        names = " and ".join(p.name.lower() for p in plates)
        return [Problem(at, f"{holding[0].name} holds the arms, and so would {names}: remove the one or take this off the other.")]
    if not holding and not plates and any(kind_of(p.shape).seat == "root" for p in project.parts):
        text = (
            "Nothing holds the arms: each part is judged by itself, its root held still. Add plates, or say in Airframe which component "
            "holds them."
        )
        return [Problem(at, text, "warning")]
    return []


def on_bought_body(project: Project, mass_g: float) -> Project:
    """The craft with a bought body in place of its printed plates. Raises ValueError where its arms are one piece with the middle."""
    if any(kind_of(p.shape).seat == "body" and p.shape.kind != "plate" for p in project.parts):
        raise ValueError("A frame plate is the body and the arms in one: with a body that you have, print arms of their own.")
    side, r = half(2 * BODY_REACH * project.layout.clamp_radius_mm), BODY_TALL * project.layout.clamp_radius_mm
    try:
        body = Block(id="body", name="Bought body", mass_g=mass_g, length_mm=side, width_mm=side, height_mm=half(r), z_mm=half(r / 2),
                     holds_arms=True)  # fmt: skip
    except ValidationError as err:
        raise ValueError(" ".join(text for _, text in explain(err))) from None
    parts = tuple(p for p in project.parts if kind_of(p.shape).seat != "body")
    bought = project.components.model_copy(update={"blocks": (*project.components.blocks, body)})
    targets = tuple(t.model_copy(update={"limit": t.limit + mass_g}) if t.metric == "flying_mass_g" else t for t in project.targets)
    return project.model_copy(update={"parts": parts, "components": bought, "targets": targets})
