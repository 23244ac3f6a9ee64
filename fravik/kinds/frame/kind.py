"""A frame plate, and its arm as it is judged: a beam that is one piece with the plate's middle."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from manifold3d import Manifold

from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.shapes import ArmShape, FrameArmShape, FrameShape
from fravik.shape.arm import RootForm
from fravik.shape.build import ShapeInput
from fravik.shape.features import stands_on
from fravik.shape.frameplate import frame_arms, frame_bars, frame_plan, frame_solid
from fravik.shape.rising import Rising, Slope
from fravik.shape.stations import tongue_room_mm
from fravik.structure.form import BeamForm

from ..arm import Arm
from ..arm.beam import arm_form, arm_raisers
from ..arm.checks import arm_problems
from ..around import arm_ends, arm_length_mm, lain_on, rooted_at, stands
from ..base import PartKind, Posed, Start, Step
from ..flatfeatures import apart, cut_into, feature_problems
from ..framing import arm_of, middle_of, pieces_of
from ..ladders import printed_otherwise, root_fillets
from ..plate.checks import plate_problems
from ..proportion import arm_width_mm, half, motor_pad_mm, motor_screw_mm, sheet_up

THICKEST_MM = 10.0  # that a frame is made to hold by: bars along its arms weigh less beyond it
WIDE = 2.5  # of a root's width: the middle that its stress spreads into


class FrameArm(Arm):
    """An arm of a frame; it is never a part of its own."""

    kind = "frame_arm"
    word = "arm"
    shape_type = FrameArmShape
    starts = {}
    takes_profiles = False
    root_page = ""  # type: ignore[assignment]

    def form(self, part: Part, shape: ArmShape, length_mm: float) -> BeamForm:
        # the middle is far wider than the root, whatever of it counts as holding it
        wide = shape.model_copy(update={"tongue_width_mm": WIDE * shape.root_width_mm})
        return replace(arm_form(part, shape, length_mm), held="fused", raisers=lambda q: arm_raisers(wide, length_mm, q))

    def posed(self, part: Part, shape: ArmShape, project: Project) -> list[Posed]:
        out = []
        for s in arm_ends(project)[: part.count]:
            m = rooted_at(s, project)
            m[2, 3] = -shape.sunk_mm
            out.append(Posed(m, s.id))
        return out


class Frame(PartKind[FrameShape]):
    """What the product asks of frame plates."""

    kind = "frame"
    word = "frame"
    seat = "body"
    shape_type = FrameShape
    shade, plan_layer = "core", 2
    groups = (
        ("Outline", ("thickness_mm", "length_mm", "width_mm", "corner_mm",)),
        ("Arms", ("root_width_mm", "tip_width_mm", "root_fillet_mm", "bar_height_mm", "bar_width_mm",)),
        ("Motor pads", ("pad_diameter_mm", "pad_fillet_mm", "bolt_circle_mm", "bolt_hole_mm", "shaft_hole_mm",)),
        ("Holes in the middle", (
            "stack_pitch_mm", "stack_hole_mm", "window_length_mm", "window_width_mm", "grid_pitch_mm", "grid_hole_mm",
        )),
        ("Windows in the arms", ("pocket_count", "pocket_length_mm", "pocket_width_mm", "pocket_corner_mm",
                                 "pocket_rows", "pocket_web_mm",)),
    )  # fmt: skip
    starts = {"frame": Start("frame", "Frame plate")}
    takes_bonds = False
    has_flat_twin = printed_first = True
    unjudged = "Judged as its arm and its middle."
    weighed = Arm.weighed

    def given(self, part: Part, shape: FrameShape, project: Project) -> ShapeInput:
        lain = lain_on(project) if shape.grid_pitch_mm > 0 else ()
        return ShapeInput(shape, arm_length_mm(arm_of(shape), project), None, RootForm(), stands=stands(project), lain_on=lain)

    def solid(self, given: ShapeInput, shape: FrameShape) -> Manifold:
        return frame_solid(middle_of(shape), arm_of(shape), given.length_mm, given.stands, given.lain_on)

    def rising(self, given: ShapeInput, shape: FrameShape) -> Rising | None:
        if stands_on(shape.features):
            return None
        t, middle, arm = shape.thickness_mm, middle_of(shape), arm_of(shape)
        plan = frame_plan(middle, arm, given.length_mm, given.stands, given.lain_on), Slope(t, t, 1.0)
        if shape.bar_height_mm <= 0:
            return Rising((plan,))
        up = t + shape.bar_height_mm
        return Rising((plan, (frame_bars(arm, given.length_mm, given.stands), Slope(up, up, 1.0))))

    def posed(self, part: Part, shape: FrameShape, project: Project) -> list[Posed]:
        m = np.eye(4)
        m[2, 3] = -shape.thickness_mm
        return [Posed(m)] * part.count

    def problems(self, part: Part, shape: FrameShape, project: Project) -> list[Problem]:
        at = f"parts.{part.id}.shape."
        out = plate_problems(middle_of(shape), at)
        arm = pieces_of(part, project)[0]
        known = FrameShape.model_fields
        for p in arm_problems(arm_of(shape), arm, project, at):
            name = p.path.removeprefix(at)
            if name == "length_mm":
                out.append(Problem("layout.motor_to_motor_mm", p.message, p.severity))
            elif name in known:
                out.append(p)
        if shape.features:
            given = self.given(part, shape, project)
            middle, one = middle_of(shape), arm_of(shape)
            out += feature_problems(shape.features, at, bool(part.cut_from))
            out += apart(frame_plan(middle, one, given.length_mm, given.stands, given.lain_on), at)
            out += cut_into(shape.features, frame_arms(one, given.length_mm, given.stands), at, "an arm")
        return out + _roots(shape, project, at)

    def default(self, project: Project, shape: FrameShape | None = None, start: str = "") -> FrameShape:
        """One whose arms carry the motors and whose middle reaches their roots."""
        motor = project.components.motor
        length = arm_length_mm(FrameArmShape(), project)
        screw, width = motor_screw_mm(motor), arm_width_mm(motor)
        around = stands(project)
        # the middle reaches past every root by its half width
        reach = [max(abs(v) for v in values) for values in ([s.x_mm for s in around], [s.y_mm for s in around])]
        sides = [max(20.0, half(2 * r + 0.7 * width)) for r in reach]
        pitch = 30.5 if min(sides) >= 56 else 20.0 if min(sides) >= 34 else max(10.0, half(0.45 * min(sides)))
        return FrameShape(
            thickness_mm=min(20.0, max(3.0, half(0.075 * length + 0.4))), length_mm=sides[0], width_mm=sides[1],
            corner_mm=max(2.0, half(0.12 * min(sides))), stack_pitch_mm=pitch, stack_hole_mm=3.2 if pitch > 25 else 2.2,
            window_length_mm=half(0.4 * pitch), window_width_mm=half(0.4 * pitch), root_width_mm=half(1.15 * width), tip_width_mm=width,
            root_fillet_mm=max(2.0, half(0.25 * width)), pad_diameter_mm=motor_pad_mm(motor), pad_fillet_mm=max(2.0, half(0.3 * width)),
            bolt_circle_mm=motor.mount_circle_mm, bolt_hole_mm=screw,
            shaft_hole_mm=max(0.0, min(8.0, half(motor.mount_circle_mm - screw - 3.0))), pocket_width_mm=max(2.0, half(0.35 * width)),
        )  # fmt: skip

    def screw_holes(self, shape: FrameShape) -> int:
        return 0

    def ladders(self, part: Part, shape: FrameShape, project: Project) -> Iterator[list[Step]]:
        at = f"parts.{part.id}.shape."
        yield [Step("height", f"{part.name} {shape.thickness_mm:g} → {shape.thickness_mm + d:g} mm thick",
                    ((at + "thickness_mm", round(shape.thickness_mm + d, 2)),)) for d in (0.4, 0.8, 1.4, 2.0, 3.0)]  # fmt: skip
        yield [Step("width", f"{part.name}: arms {d:g} mm wider", (
            (at + "root_width_mm", shape.root_width_mm + d), (at + "tip_width_mm", min(shape.tip_width_mm + d, shape.pad_diameter_mm)),
        )) for d in (1.0, 2.0, 4.0, 6.0)]  # fmt: skip
        bars = [h for h in (2.0, 4.0, 6.0) if h > shape.bar_height_mm]
        yield [
            Step("bars", f"{part.name}: bars {shape.bar_height_mm:g} → {h:g} mm along the arms", ((at + "bar_height_mm", h),)) for h in bars
        ]
        yield root_fillets(part, shape.root_fillet_mm)
        yield from printed_otherwise(part, project)

    def stouter(self, shape: FrameShape, stronger: float, stiffer: float) -> dict[str, float]:
        """Thicker: its strength grows with the square of it and its stiffness with the cube."""
        by = max(stronger**0.5, stiffer ** (1 / 3))
        return {"thickness_mm": min(sheet_up(shape.thickness_mm * by), max(THICKEST_MM, shape.thickness_mm))}


def _roots(s: FrameShape, project: Project, at: str) -> list[Problem]:
    """Roots that the middle does not reach, and arms that meet one another before it."""
    out = []
    beyond = max((max(abs(r.x_mm) - s.length_mm / 2, abs(r.y_mm) - s.width_mm / 2) for r in stands(project)), default=0.0)
    if beyond > 0:
        out.append(Problem(at + "length_mm", f"The middle ends {beyond:.0f} mm inside the arms' roots: make it larger, or the plate edge "
                           f"radius of {project.layout.clamp_radius_mm:g} mm smaller."))  # fmt: skip
    arm = arm_of(s)
    if s.root_width_mm > tongue_room_mm(stands(project), arm.tongue_length_mm):
        out.append(Problem(at + "root_width_mm", "Neighbouring arms meet before they reach the middle: narrow them, or widen the plate "
                           "edge radius."))  # fmt: skip
    return out
