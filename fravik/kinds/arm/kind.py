"""An arm: a tongue between the plates, a tapered body, and a round pad that carries the motor."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

import numpy as np
from manifold3d import Manifold

from fravik.library import carbon_stock
from fravik.model.joint import Joint
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon, Facing
from fravik.model.shapes import ArmShape
from fravik.shape.arm import arm_body, arm_plan, arm_solid, bar_plan, pin_mm, root_form
from fravik.shape.build import ShapeInput
from fravik.shape.checks_bonded import bonded_problems
from fravik.shape.inlay import StraightBody
from fravik.shape.rising import Rising, Slope
from fravik.shape.stations import Floats, Station, tongue_room_mm
from fravik.structure.beams import TipBody
from fravik.structure.cases import CraftLoads, Touchdown, arm_combinations, sag_mm
from fravik.structure.form import BeamForm
from fravik.structure.member import MemberAnswer
from fravik.structure.notches import Raiser

from ..around import LEAST_ARM_MM, arm_ends, arm_length_mm, rooted_at, stands, wanted_length_mm
from ..base import PartKind, Posed, Start, Step, Weighed
from ..drives import arm_drives, rotor_body
from ..following import one_each
from ..proportion import arm_width_mm, half, half_up, motor_pad_mm, motor_screw_mm
from .beam import arm_form, arm_raisers
from .checks import arm_problems
from .ladders import arm_ladders

MIRROR, ALIKE = np.diag([1.0, -1.0, 1.0, 1.0]), np.eye(4)
TALLEST = 1.2  # of its width: taller, it sways sideways instead
ASIDE_MM = 1.0  # farther to the right than this is on the right
PICKS = {
    "bar_way": {
        "edges": "Along both edges",
        "middle": "One along the middle",
        "left": "Along the left edge",
        "right": "Along the right edge",
    },
    "hands": {"alike": "All alike", "mirrored": "Right ones mirrored"},
}


class Arm(PartKind[ArmShape]):
    """What the product asks of arms."""

    kind = "arm"
    seat = "root"
    shape_type = ArmShape
    shade, plan_layer = "cover", 5
    groups = (
        ("Body", ("length_mm", "root_width_mm", "tip_width_mm", "root_height_mm", "tip_height_mm", "root_fillet_mm", "bow_mm", "hands",)),
        ("Motor pad", ("pad_diameter_mm", "pad_fillet_mm", "bolt_circle_mm", "bolt_hole_mm", "shaft_hole_mm",)),
        ("Tongue", ("tongue_length_mm", "tongue_width_mm", "tongue_bolt_rows", "tongue_bolt_mm",)),
        ("Pockets", ("pocket_count", "pocket_length_mm", "pocket_width_mm", "pocket_corner_mm", "pocket_rows",
                     "pocket_web_mm",)),
        ("Honeycomb", ("comb_cell_mm", "comb_wall_mm", "comb_rows",)),
        ("Stiffener bars", ("bar_height_mm", "bar_width_mm", "bar_way",)),
        ("Channel below", ("channel_width_mm", "channel_depth_mm", "channel_ribs",)),
    )  # fmt: skip
    starts = {"arm": Start("arm", "Arm")}
    bends = carries_rotor = bench_tested = printed_first = takes_profiles = True
    root_page = "joint"
    along = "0 at the plate edge, {long} mm at the motor"
    weighed = Weighed("strike survived, m/s", "first mode, Hz", lambda a: float(a.freqs_hz[0]))

    def picks(self, field: str) -> dict[str, str]:
        return PICKS.get(field, {})

    def given(self, part: Part, shape: ArmShape, project: Project) -> ShapeInput:
        return ShapeInput(shape, arm_length_mm(shape, project, part), part.carbon, root_form(part.joint))

    def solid(self, given: ShapeInput, shape: ArmShape) -> Manifold:
        stock = carbon_stock(given.carbon.stock) if given.carbon else None
        return arm_solid(shape, given.length_mm, given.carbon, stock, given.root)

    def rising(self, given: ShapeInput, shape: ArmShape) -> Rising | None:
        if given.carbon is not None or given.root.kind == "clamp" or shape.channel_width_mm > 0:
            return None
        end = given.length_mm - shape.pad_diameter_mm / 2
        body = arm_plan(shape, given.length_mm, given.root), Slope(shape.root_height_mm, shape.tip_height_mm, end)
        if shape.bar_height_mm <= 0:
            return Rising((body,))
        up = shape.bar_height_mm
        return Rising((body, (bar_plan(shape, given.length_mm), Slope(shape.root_height_mm + up, shape.tip_height_mm + up, end))))

    def plain(self, shape: ArmShape) -> ArmShape:
        return shape.model_copy(update={"comb_cell_mm": 0.0}) if shape.comb_cell_mm > 0 else shape

    def posed(self, part: Part, shape: ArmShape, project: Project) -> list[Posed]:
        mirrored = shape.hands == "mirrored"

        def pose(s: Station) -> Floats:
            return rooted_at(s, project) @ (MIRROR if mirrored and s.y_mm < -ASIDE_MM else ALIKE)

        return one_each(part, project, self.stations(project), pose)

    def handed(self, shape: ArmShape) -> bool:
        return shape.handed

    def other_hands(self, part: Part, shape: ArmShape, project: Project) -> frozenset[int]:
        if not shape.handed or shape.hands == "alike":
            return frozenset()
        return frozenset(k + 1 for k, p in enumerate(self.posed(part, shape, project)) if np.linalg.det(p.pose[:3, :3]) < 0)

    def stations(self, project: Project) -> tuple[Station, ...]:
        return arm_ends(project)

    def problems(self, part: Part, shape: ArmShape, project: Project) -> list[Problem]:
        own = arm_problems(shape, part, project, f"parts.{part.id}.shape.")
        return own + bonded_problems(self.straight(part, shape, arm_length_mm(shape, project, part)), part)

    def default(self, project: Project, shape: ArmShape | None = None, start: str = "") -> ArmShape:
        """One whose pad carries the motor and whose height suits its free length."""
        layout, motor = project.layout, project.components.motor
        screw, pad = motor_screw_mm(motor), motor_pad_mm(motor)
        length = max(LEAST_ARM_MM, wanted_length_mm(project, shape))
        height = min(30.0, max(4.0, half(0.11 * length)))
        width = arm_width_mm(motor)
        tongue = min(half(0.58 * layout.clamp_radius_mm), layout.clamp_radius_mm - 8.0)
        room = 0.95 * tongue_room_mm(stands(project), tongue)
        tongue_width = max(width, min(half(1.5 * width), half(min(room, 1.5 * width))))
        return ArmShape(
            root_width_mm=min(width, tongue_width),
            tip_width_mm=half(0.85 * width),
            root_height_mm=height,
            tip_height_mm=half(0.85 * height),
            root_fillet_mm=max(1.0, half(0.15 * width)),
            pad_fillet_mm=max(1.0, half(0.2 * width)),
            pad_diameter_mm=pad,
            bolt_circle_mm=motor.mount_circle_mm,
            bolt_hole_mm=screw,
            shaft_hole_mm=max(0.0, min(8.0, half(motor.mount_circle_mm - screw - 3.0))),
            tongue_length_mm=max(10.0, tongue),
            tongue_width_mm=tongue_width,
            tongue_bolt_mm=screw,
            tongue_bolt_rows=2 if tongue > 6 * screw else 1,
            pocket_width_mm=max(2.0, half(0.35 * width)),
        )

    def new_count(self, project: Project, start: str) -> int:
        return len(arm_ends(project))

    def first_joint(self, project: Project) -> Joint:
        return Joint(screw="M3" if project.components.motor.mount_circle_mm >= 14 else "M2")

    def first_carbon(self, shape: ArmShape, project: Project) -> Carbon:
        end = arm_length_mm(shape, project) - shape.bolt_circle_mm / 2 - shape.bolt_hole_mm - 1
        return Carbon(start_mm=-shape.tongue_length_mm, end_mm=float(int(end)))

    def first_facing(self, shape: ArmShape, project: Project) -> Facing:
        faces: Literal["bottom", "both"] = "bottom" if shape.bar_height_mm > 0 else "both"
        return Facing(stock="plate_0p5", faces=faces, end_mm=float(int(arm_length_mm(shape, project) - shape.pad_diameter_mm / 2)))

    def straight(self, part: Part, shape: ArmShape, length_mm: float) -> StraightBody:
        return arm_body(shape, length_mm, part.joint.kind == "bolted")

    def tip(self, part: Part, shape: ArmShape, project: Project) -> TipBody:
        """Motor and propeller, and those below the arm's end where two rotors share it."""
        return rotor_body(arm_drives(part, project), shape.face_mm, shape.under_mm)

    def form(self, part: Part, shape: ArmShape, length_mm: float) -> BeamForm:
        return arm_form(part, shape, length_mm)

    def raisers(self, shape: ArmShape, length_mm: float, q: float) -> list[Raiser]:
        return arm_raisers(shape, length_mm, q)

    def folds_at_mm(self, part: Part, shape: ArmShape) -> float | None:
        return pin_mm(shape) if part.joint.kind == "hinge" else None

    def wires_run(self, shape: ArmShape) -> str:
        return "in its channel" if shape.channel_width_mm > 0 else "along it"

    def cases(self, loads: CraftLoads, shape: ArmShape, answer: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
        return arm_combinations(loads, answer, down)

    def gives(self, answer: MemberAnswer, cases: dict[str, Floats]) -> str:
        return f"{sag_mm(answer, cases['full_throttle']):.2f} mm at full throttle"

    def screw_holes(self, shape: ArmShape) -> int:
        return 2 * shape.tongue_bolt_rows

    def followed(self, shape: ArmShape, project: Project) -> dict[str, float]:
        return {"length_mm": round(arm_length_mm(shape.model_copy(update={"length_mm": None}), project), 1)}

    def ladders(self, part: Part, shape: ArmShape, project: Project) -> Iterator[list[Step]]:
        yield from arm_ladders(part, shape, project, self.problems)

    def stouter(self, shape: ArmShape, stronger: float, stiffer: float) -> dict[str, float]:
        """Taller: its strength grows with the square of it and its stiffness with the cube."""
        by = max(stronger**0.5, stiffer ** (1 / 3))
        tall = max(half_up(min(shape.root_height_mm * by, TALLEST * shape.root_width_mm)), shape.root_height_mm)
        return {"root_height_mm": tall, "tip_height_mm": half_up(shape.tip_height_mm * tall / shape.root_height_mm)}
