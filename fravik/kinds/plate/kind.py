"""A body plate: the bottom one under the arms, the top one over them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from manifold3d import Manifold

from fravik.library import sheets
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Facing
from fravik.model.shapes import PlateShape
from fravik.shape.arm import RootForm
from fravik.shape.build import ShapeInput
from fravik.shape.plate import arm_bolt_holes, plate_plan, plate_solid
from fravik.shape.rising import Rising, Slope
from fravik.shape.stations import arrangement

from ..around import arm_shapes_by_slot, arms_by_slot, bolted_through, plate_gap_mm, stands
from ..base import PartKind, Posed, Start, Step
from ..proportion import arm_width_mm, half
from .checks import plate_problems

END_MM = 6.0  # beyond the tongues of arms that leave a long body's sides


class Plate(PartKind[PlateShape]):
    """What the product asks of plates."""

    kind = "plate"
    seat = "body"
    shape_type = PlateShape
    shade, plan_layer = "core", 2
    groups = (
        ("Outline", ("length_mm", "width_mm", "thickness_mm", "corner_mm",)),
        ("Holes", ("stack_pitch_mm", "stack_hole_mm", "window_length_mm", "window_width_mm",)),
    )  # fmt: skip
    may_flex = True
    weighed = replace(PartKind.weighed, flex="EI of the plate, N·m²")
    starts = {"bottom": Start("bottom", "Bottom plate"), "top": Start("top", "Top plate")}

    def given(self, part: Part, shape: PlateShape, project: Project) -> ShapeInput:
        around, holes = stands(project), []
        for arm, arm_shape, stand in zip(arms_by_slot(project), arm_shapes_by_slot(project), around, strict=False):
            if bolted_through(arm):
                holes += arm_bolt_holes(arm_shape, stand)
        return ShapeInput(shape, shape.length_mm, None, RootForm(), tuple(holes), around)

    def solid(self, given: ShapeInput, shape: PlateShape) -> Manifold:
        return plate_solid(shape, given.holes, given.stands)

    def rising(self, given: ShapeInput, shape: PlateShape) -> Rising:
        t = shape.thickness_mm
        return Rising(((plate_plan(shape, given.holes, given.stands), Slope(t, t, 1.0)),))

    def posed(self, part: Part, shape: PlateShape, project: Project) -> list[Posed]:
        m = np.eye(4)
        m[2, 3] = -shape.thickness_mm if shape.place == "bottom" else plate_gap_mm(project)
        return [Posed(m)] * part.count

    def problems(self, part: Part, shape: PlateShape, project: Project) -> list[Problem]:
        return plate_problems(shape, f"parts.{part.id}.shape.")

    def default(self, project: Project, shape: PlateShape | None = None, start: str = "") -> PlateShape:
        """One that reaches the arms' roots."""
        place, layout = start or (shape.place if shape is not None else "bottom"), project.layout
        length, around = half(2.08 * layout.clamp_radius_mm), arrangement(layout)
        # arms that leave sideways want a wider plate
        aside = max(abs(math.sin(a)) + 0.24 * abs(math.cos(a)) for a in around.ways_rad)
        width = max(16.0, half(0.85 * length), min(half(2 * aside * layout.clamp_radius_mm), length))
        if around.ways_deg:
            # a long body: as wide as the arms leave it, and past the tongues of the outermost ones
            width = half(2 * layout.clamp_radius_mm)
            length = half(2 * max(abs(s.x_mm) for s in stands(project)) + 1.6 * arm_width_mm(project.components.motor) + END_MM)
        pitch = 30.5 if layout.clamp_radius_mm >= 36 else min(20.0, max(10.0, half(0.9 * layout.clamp_radius_mm)))
        return PlateShape(
            place="top" if place == "top" else "bottom", length_mm=max(16.0, length), width_mm=width,
            thickness_mm=3.2 if place == "bottom" else 2.4, corner_mm=max(2.0, half(0.15 * min(length, width))), stack_pitch_mm=pitch,
            window_length_mm=half(0.5 * pitch), window_width_mm=half(0.5 * pitch),
        )  # fmt: skip

    def first_facing(self, shape: PlateShape, project: Project) -> Facing:
        return Facing(sheet="glass_2", faces="both", cover=0.8)

    def flat_mm2(self, shape: PlateShape) -> float:
        return shape.length_mm * shape.width_mm

    def ladders(self, part: Part, shape: PlateShape, project: Project) -> Iterator[list[Step]]:
        at = f"parts.{part.id}."
        yield [
            Step("plate", f"{part.name} {shape.thickness_mm:g} → {shape.thickness_mm + d:g} mm thick",
                 ((at + "shape.thickness_mm", round(shape.thickness_mm + d, 2)),)) for d in (0.6, 1.2, 2.0, 3.0)
        ]  # fmt: skip
        yield [
            Step("facing", f"{part.name} faced with {sheets()[s].name[0].lower()}{sheets()[s].name[1:]}",
                 ((at + "facing", Facing(sheet=s, faces="both", cover=0.8)),)) for s in ("glass_2", "plate_0p5") if part.facing is None
        ]  # fmt: skip
