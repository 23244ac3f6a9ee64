"""Arms of another kind in place of those that are there: printed ones for bars, with the blocks that hold them, or the other way round."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from fravik.model.project import Part, Project
from fravik.model.shapes import RootedArm

from .around import arm_shape, bar_ends, plate_gap_mm
from .newpart import part_for
from .registry import KINDS

HOLDING = ("root_clamp", "motor_holder")


def arm_picks() -> dict[str, str]:
    """The kinds of arm there are: the pick, and what such an arm is called."""
    return {pick: start.name for kind in KINDS.values() if kind.seat == "root" for pick, start in kind.starts.items()}


def rearmed(project: Project, pick: str, replaced: Sequence[str] = ()) -> Project:
    """The craft with arms of a kind in place of some of its arms, of all where none is named; what lies over them moves along.

    ``pick`` is one of ``arm_picks()``. Blocks that held a bar go with the last of their bars, and come with the first.
    """
    arms = [p for p in project.parts if isinstance(p.shape, RootedArm) and (not replaced or p.id in replaced)]
    kept_ids = [p.id for p in project.parts if p not in arms]
    left = next((p.shape for p in project.parts if isinstance(p.shape, RootedArm) and p not in arms), None)
    made = project.model_copy(update={"parts": tuple(p for p in project.parts if p.id in kept_ids)})
    for old in arms:
        new = _taking_the_place(old, part_for(pick, made), left)
        made = made.model_copy(update={"parts": (new, *made.parts)})
        if isinstance(new.shape, RootedArm) and new.shape.in_block:
            for block in HOLDING:
                held = part_for(block, made).model_copy(update={"count": new.count, "at": new.at})
                made = made.model_copy(update={"parts": (*made.parts, held)})
    if not bar_ends(made):
        made = made.model_copy(update={"parts": tuple(p for p in made.parts if p.shape.kind not in HOLDING)})
    return _lifted(made, plate_gap_mm(made) - plate_gap_mm(project), plate_gap_mm(project))


def _taking_the_place(old: Part, new: Part, left: RootedArm | None) -> Part:
    """At the same stations and as long; as tall at its root as the arms that stay."""
    assert isinstance(old.shape, RootedArm)
    shape: dict[str, Any] = {"length_mm": old.shape.length_mm}
    if left is not None:
        shape["root_height_mm"] = left.root_height_mm
    return new.model_copy(update={"count": old.count, "at": old.at, "shape": new.shape.model_copy(update=shape)})


def _lifted(project: Project, by_mm: float, gap_mm: float) -> Project:
    """What lies over the plates' gap moved as far as the upper plate moves."""
    c = project.components
    if by_mm == 0 or arm_shape(project) is None:
        return project
    blocks = tuple(b.model_copy(update={"z_mm": b.z_mm + by_mm}) if b.z_mm > gap_mm else b for b in c.blocks)
    battery = c.battery.model_copy(update={"z_mm": c.battery.z_mm + by_mm}) if c.battery.z_mm > gap_mm else c.battery
    return project.model_copy(update={"components": c.model_copy(update={"battery": battery, "blocks": blocks})})
