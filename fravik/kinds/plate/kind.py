"""A body plate: the bottom one under the arms, the top one over them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from typing import Literal

import numpy as np
from manifold3d import CrossSection, Manifold, OpType

from fravik.library import facing_stocks
from fravik.model.features import STANDS
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import LIES_LABELS, Facing, Lies
from fravik.model.shapes import PlateShape
from fravik.shape.arm import RootForm
from fravik.shape.build import ShapeInput
from fravik.shape.features import stands_on
from fravik.shape.plate import (
    arm_bolt_holes,
    grid_holes,
    plate_cuts,
    plate_outline,
    plate_plan,
    plate_solid,
    rib_pitches_mm,
    rib_plan,
    rib_share,
)
from fravik.shape.rising import Rising, Slope
from fravik.shape.stations import arrangement
from fravik.structure.platesection import PlateForm, Ribs

from ..around import arm_shapes_by_slot, arms_by_slot, bolted_through, lain_on, plate_gap_mm, stands
from ..base import PartKind, Posed, Start, Step
from ..flatfeatures import apart, feature_problems
from ..proportion import arm_width_mm, half, sheet_up
from .checks import plate_problems

# how a plate lies that has its outer face, and the ribs on it, on the bed
DOWNWARDS: dict[str, Lies] = {"bottom": "flat", "top": "flat_over"}
THICKEST_MM = 8.0  # that a plate is made to hold by: ribs weigh less beyond it
END_MM = 6.0  # beyond the tongues of arms that leave a long body's sides


class Plate(PartKind[PlateShape]):
    """What the product asks of plates."""

    kind = "plate"
    seat = "body"
    shape_type = PlateShape
    shade, plan_layer = "core", 2
    groups = (
        ("Outline", ("length_mm", "width_mm", "thickness_mm", "corner_mm",)),
        ("Holes", ("stack_pitch_mm", "stack_hole_mm", "window_length_mm", "window_width_mm", "grid_pitch_mm", "grid_hole_mm",)),
        ("Ribs", ("rib_height_mm", "rib_width_mm", "rib_pitch_mm", "rib_ways",)),
    )  # fmt: skip
    may_flex = True
    weighed = replace(PartKind.weighed, flex="EI of the plate, N·m²")
    starts = {"bottom": Start("bottom", "Bottom plate"), "top": Start("top", "Top plate")}

    def given(self, part: Part, shape: PlateShape, project: Project) -> ShapeInput:
        around, holes = stands(project), []
        for arm, arm_shape, stand in zip(arms_by_slot(project), arm_shapes_by_slot(project), around, strict=False):
            if bolted_through(arm):
                holes += arm_bolt_holes(arm_shape, stand)
        lain = lain_on(project) if shape.place == "bottom" and (shape.rib_height_mm > 0 or shape.grid_pitch_mm > 0) else ()
        return ShapeInput(shape, shape.length_mm, None, RootForm(), tuple(holes), around, lain_on=lain)

    def solid(self, given: ShapeInput, shape: PlateShape) -> Manifold:
        return plate_solid(shape, given.holes, given.stands, given.lain_on)

    def rising(self, given: ShapeInput, shape: PlateShape) -> Rising | None:
        if stands_on(shape.features):
            return None
        t, up = shape.thickness_mm, shape.thickness_mm + shape.rib_height_mm
        plan = plate_plan(shape, given.holes, given.stands, given.lain_on), Slope(t, t, 1.0)
        if shape.rib_height_mm <= 0:
            return Rising((plan,))
        if shape.place == "bottom":
            return None
        return Rising((plan, (rib_plan(shape, given.holes, given.stands, given.lain_on), Slope(up, up, 1.0))))

    def picks(self, field: str) -> dict[str, str]:
        return {"both": "Both ways", "along": "Along the craft", "across": "Across it"} if field == "rib_ways" else {}

    def plain(self, shape: PlateShape) -> PlateShape:
        flat = tuple(f for f in shape.features if f.kind not in STANDS)
        if shape.rib_height_mm <= 0 and len(flat) == len(shape.features):
            return shape
        return shape.model_copy(update={"rib_height_mm": 0.0, "features": flat})

    def stiffening(self, given: ShapeInput, shape: PlateShape) -> PlateForm:
        ribs = None
        if shape.rib_height_mm > 0:
            share = rib_share(shape, given.stands, given.lain_on)
            ribs = Ribs(shape.rib_width_mm, shape.rib_height_mm, rib_pitches_mm(shape), share)
        holed = 0.0
        if shape.grid_pitch_mm > 0:
            count = len(grid_holes(shape, given.holes, given.stands, given.lain_on))
            holed = count * math.pi / 4 * shape.grid_hole_mm**2 / (shape.length_mm * shape.width_mm)
        return PlateForm(ribs, holed)

    def posed(self, part: Part, shape: PlateShape, project: Project) -> list[Posed]:
        m = np.eye(4)
        m[2, 3] = -shape.thickness_mm if shape.place == "bottom" else plate_gap_mm(project)
        return [Posed(m)] * part.count

    def problems(self, part: Part, shape: PlateShape, project: Project) -> list[Problem]:
        out = plate_problems(shape, f"parts.{part.id}.shape.")
        if shape.rib_height_mm > 0 and part.recipe.lies == DOWNWARDS[shape.place] and not part.cut_from:
            out.append(Problem(f"parts.{part.id}.recipe.lies", f"So laid {part.name.lower()} stands on its ribs and bridges from one to "
                               f"the next: lay it {LIES_LABELS[_upwards(shape)].lower()}.", "warning"))  # fmt: skip
        if shape.features:
            out += feature_problems(shape.features, f"parts.{part.id}.shape.", bool(part.cut_from))
            out += apart(_whole(shape, self.given(part, shape, project)), f"parts.{part.id}.shape.")
        inner = _inner(shape)
        if shape.rib_height_mm > 0 and part.facing is not None and part.facing.faces != inner:
            out.append(Problem(f"parts.{part.id}.facing.faces", f"A facing lies on flat faces: with ribs, {part.name.lower()} takes one "
                               f"on its {inner} alone."))  # fmt: skip
        if shape.rib_height_mm > 0 and part.cut_from:
            out.append(Problem(f"parts.{part.id}.shape.rib_height_mm", f"{part.name} is cut from flat plate, which has no ribs: set their "
                               "height to 0."))  # fmt: skip
        return out

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
        return Facing(stock="glass_2", faces=_faced(shape), cover=0.8)

    def flat_mm2(self, shape: PlateShape) -> float:
        return shape.length_mm * shape.width_mm

    def ladders(self, part: Part, shape: PlateShape, project: Project) -> Iterator[list[Step]]:
        at = f"parts.{part.id}."
        yield [
            Step("plate", f"{part.name} {shape.thickness_mm:g} → {shape.thickness_mm + d:g} mm thick",
                 ((at + "shape.thickness_mm", round(shape.thickness_mm + d, 2)),)) for d in (0.6, 1.2, 2.0, 3.0)
        ]  # fmt: skip
        ribs = [h for h in (4.0, 7.0, 11.0) if h > shape.rib_height_mm]
        turned = ((at + "recipe.lies", _upwards(shape)),) if part.recipe.lies in DOWNWARDS.values() else ()
        yield [Step("ribs", f"{part.name}: ribs {shape.rib_height_mm:g} → {h:g} mm", ((at + "shape.rib_height_mm", h), *turned))
               for h in ribs if not part.cut_from]  # fmt: skip
        yield [
            Step("facing", f"{part.name} faced with {facing_stocks()[s].name[0].lower()}{facing_stocks()[s].name[1:]}",
                 ((at + "facing", Facing(stock=s, faces=_faced(shape), cover=0.8)),))
            for s in ("glass_2", "plate_0p5") if part.facing is None
        ]  # fmt: skip

    def stouter(self, shape: PlateShape, stronger: float, stiffer: float) -> dict[str, float]:
        """Thicker: a plate takes with the square of it what the arms press into it, and draws a little more of a landing."""
        return {"thickness_mm": min(sheet_up(shape.thickness_mm * stronger**0.6), max(THICKEST_MM, shape.thickness_mm))}


def _upwards(shape: PlateShape) -> Lies:
    """How it lies with its outer face up."""
    return "flat" if shape.place == "top" else "flat_over"


def _inner(shape: PlateShape) -> Literal["top", "bottom"]:
    """The face without ribs, towards the other plate."""
    return "bottom" if shape.place == "top" else "top"


def _faced(shape: PlateShape) -> Literal["top", "bottom", "both"]:
    return _inner(shape) if shape.rib_height_mm > 0 else "both"


def _whole(shape: PlateShape, given: ShapeInput) -> CrossSection:
    """All of its outline, what is loose included."""
    cuts = CrossSection.batch_boolean(plate_cuts(shape, given.holes, given.stands, given.lain_on), OpType.Add)
    return plate_outline(shape, given.stands) - cuts
