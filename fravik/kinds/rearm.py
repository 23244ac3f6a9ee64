"""Arms of another kind in place of those that are there: printed ones, bars with the blocks that hold them, or one frame plate."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from fravik.model.project import Part, Project
from fravik.model.shapes import FrameShape, PlateShape, RootedArm

from .around import arm_shape, bar_ends, bottom_plate_mm, plate_gap_mm
from .newpart import part_for

ARMS = {"arm": "Arm", "bar_arm": "Bar arm", "frame": "Frame plate"}
HOLDING = ("root_clamp", "motor_holder")
PLATES = ("bottom", "top")


def arms_of(project: Project) -> tuple[Part, ...]:
    """The parts that carry the motors."""
    return tuple(p for p in project.parts if isinstance(p.shape, RootedArm | FrameShape))


def rearmed(project: Project, pick: str, replaced: Sequence[str] = ()) -> Project:
    """The craft with arms of a kind, one of ``ARMS``, in place of some of its arms, of all where none is named; what lies over them and
    hangs under them moves along.

    Blocks that held a bar go with the last of their bars, and come with the first. A frame takes the place of all arms and plates; what
    takes its place comes with plates.
    """
    arms = [p for p in arms_of(project) if not replaced or p.id in replaced]
    if pick == "frame":
        made = _framed(project)
    else:
        made = project.model_copy(update={"parts": tuple(p for p in project.parts if p not in arms)})
        left = next((p.shape for p in made.parts if isinstance(p.shape, RootedArm)), None)
        for old in arms:
            made = _with_arm(made, old, pick, left)
        if any(isinstance(p.shape, FrameShape) for p in arms):
            for plate in PLATES:
                made = made.model_copy(update={"parts": (*made.parts, part_for(plate, made))})
    if not bar_ends(made):
        made = made.model_copy(update={"parts": tuple(p for p in made.parts if p.shape.kind not in HOLDING)})
    return _along(made, project)


def _framed(project: Project) -> Project:
    kept = tuple(p for p in project.parts if p not in arms_of(project) and not isinstance(p.shape, PlateShape))
    bare = project.model_copy(update={"parts": kept})
    return bare.model_copy(update={"parts": (part_for("frame", bare), *kept)})


def _with_arm(made: Project, old: Part, pick: str, left: RootedArm | None) -> Project:
    new = part_for(pick, made)
    if isinstance(old.shape, RootedArm):
        new = _taking_the_place(old, old.shape, new, left)
    made = made.model_copy(update={"parts": (new, *made.parts)})
    if isinstance(new.shape, RootedArm) and new.shape.in_block:
        for block in HOLDING:
            held = part_for(block, made).model_copy(update={"count": new.count, "at": new.at})
            made = made.model_copy(update={"parts": (*made.parts, held)})
    return made


def _taking_the_place(old: Part, was: RootedArm, new: Part, left: RootedArm | None) -> Part:
    """At the same stations and as long; as tall at its root as the arms that stay."""
    shape: dict[str, Any] = {"length_mm": was.length_mm}
    if left is not None:
        shape["root_height_mm"] = left.root_height_mm
    return new.model_copy(update={"count": old.count, "at": old.at, "shape": new.shape.model_copy(update=shape)})


def _deck_mm(project: Project) -> float:
    """Height of what lies on the body: the upper plate's upper face, or the frame's."""
    top = next((p.shape for p in project.parts if isinstance(p.shape, PlateShape) and p.shape.place == "top"), None)
    return plate_gap_mm(project) + (top.thickness_mm if top is not None else 0.0)


def _along(made: Project, was: Project) -> Project:
    """What lies over the body moved as far as its upper face moves, and what hangs under it as far as its underside does."""
    if arm_shape(made) is None:
        return made
    up, down = _deck_mm(made) - _deck_mm(was), bottom_plate_mm(was) - bottom_plate_mm(made)
    over = max(plate_gap_mm(was), 0.0)

    def at(z_mm: float) -> float:
        return round(z_mm + (up if z_mm > over else down if z_mm < 0 else 0.0), 3)

    c = made.components
    blocks = tuple(b.model_copy(update={"z_mm": at(b.z_mm)}) for b in c.blocks)
    battery = c.battery.model_copy(update={"z_mm": at(c.battery.z_mm)})
    return made.model_copy(update={"components": c.model_copy(update={"battery": battery, "blocks": blocks})})
