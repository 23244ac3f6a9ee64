"""Where a load hangs under a new craft: as near below it as its legs let it, and as slender as it must be to go between them."""

from __future__ import annotations

from manifold3d import Manifold

from fravik.model.craft import Block
from fravik.model.project import Project
from fravik.shape.clash import gap_mm

from .asking import build_solid, places_of, shape_input
from .proportion import half
from .registry import kind_of

BETWEEN_MM = 1.0  # rubber, tape or a strap's thickness
FREE_MM = 1.0  # between a load and what stands beside it
OFF_GROUND_MM = 5.0
SLENDER = (1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4)  # of its sides in plan, at the same volume
LOWER_MM = (0.0, 4.0, 8.0, 12.0, 16.0, 20.0)


def hung(load: Block, project: Project, under_mm: float) -> Block:
    """The load below a height, free of legs and what else hangs there, and off the ground. What goes nowhere hangs as near as it can."""
    around = []
    for part in project.parts:
        if kind_of(part.shape).seat != "body":
            solid = build_solid(shape_input(part, project))
            copies = (solid.transform(place.pose[:3]) for place in places_of(part, project))
            around += [body for body in copies if body.bounding_box()[2] < under_mm]
    ground_mm = min((body.bounding_box()[2] for body in around), default=-float("inf"))
    tries = [_below(load, share, under_mm - lower) for lower in LOWER_MM for share in SLENDER]
    for tried in tries:
        if tried.z_mm - tried.height_mm / 2 >= ground_mm + OFF_GROUND_MM and _is_free(tried, around):
            return tried
    return tries[0]


def _below(load: Block, share: float, under_mm: float) -> Block:
    sides = {"length_mm": half(share * load.length_mm), "width_mm": half(share * load.width_mm)} if share < 1.0 else {}
    slim = load.model_copy(update=sides)
    height = half(load.length_mm * load.width_mm * load.height_mm / (slim.length_mm * slim.width_mm))
    return slim.model_copy(update={"height_mm": height, "z_mm": half(under_mm - BETWEEN_MM - height / 2)})


def _is_free(load: Block, around: list[Manifold]) -> bool:
    box = Manifold.cube((load.length_mm, load.width_mm, load.height_mm), True).translate((load.x_mm, load.y_mm, load.z_mm))
    return all(gap_mm(box, body, 2 * FREE_MM) >= FREE_MM for body in around)
