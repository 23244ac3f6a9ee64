"""A frame plate told apart for the judgement of strength: its middle as a plate, its arms as arms of one piece with it."""

from __future__ import annotations

from functools import lru_cache

from fravik.model.joint import Joint
from fravik.model.project import Part, Project
from fravik.model.shapes import FrameArmShape, FrameShape, PlateShape
from fravik.shape.stations import arrangement

ARM, MIDDLE = "arm", "middle"
APART = "/"  # between a part's id, which can hold none, and which piece of it is meant
# of an arm's root width: how deep the middle holds it as a block. Against whole frames of fine cells (validate) a tenth to a third serves
ROOTED = 0.15


def middle_of(s: FrameShape) -> PlateShape:
    """The frame's middle as a plate."""
    shared = {name: getattr(s, name) for name in PlateShape.model_fields if name in FrameShape.model_fields and name != "kind"}
    return PlateShape.model_construct(**{**PlateShape().model_dump(), **shared, "kind": "plate", "place": "bottom"})


def arm_of(s: FrameShape) -> FrameArmShape:
    """One of its arms, as long as the layout asks."""
    shared = {
        name: getattr(s, name)
        for name in FrameArmShape.model_fields
        if name in FrameShape.model_fields and name not in ("kind", "length_mm")
    }
    root = {"length_mm": None, "root_height_mm": s.thickness_mm, "tip_height_mm": s.thickness_mm, "tongue_bolt_rows": 1,
            "tongue_length_mm": ROOTED * s.root_width_mm, "tongue_width_mm": s.root_width_mm}  # fmt: skip
    return FrameArmShape.model_construct(**{**FrameArmShape().model_dump(), **shared, **root, "kind": "frame_arm"})


def pieces_of(part: Part, project: Project) -> tuple[Part, ...]:
    """What a part is judged as: itself, or a frame's arm and middle, each under an id of its own."""
    s = part.shape
    if not isinstance(s, FrameShape):
        return (part,)
    bare = {"joint": Joint(kind="one_piece"), "carbon": None, "facing": None, "at": ()}
    arms = {
        "id": f"{part.id}{APART}{ARM}",
        "name": f"{part.name}, {ARM}",
        "count": len(arrangement(project.layout).arms),
        "shape": arm_of(s),
    }
    middle = {"id": f"{part.id}{APART}{MIDDLE}", "name": f"{part.name}, {MIDDLE}", "count": 1, "shape": middle_of(s)}
    return part.model_copy(update={**bare, **arms}), part.model_copy(update={**bare, **middle})


@lru_cache(maxsize=16)
def told_apart(project: Project) -> Project:
    """The craft with every frame told apart; itself where it has none."""
    if not any(isinstance(p.shape, FrameShape) for p in project.parts):
        return project
    return project.model_copy(update={"parts": tuple(piece for p in project.parts for piece in pieces_of(p, project))})


def owner_of(part_id: str) -> str:
    """The part that a piece belongs to: itself, where it is a whole one."""
    return part_id.split(APART)[0]
