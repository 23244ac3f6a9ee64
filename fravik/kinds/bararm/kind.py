"""An arm of bought bar: carbon tube, wood, aluminium. It is cut, not printed; printed blocks hold both its ends."""

from __future__ import annotations

import math
from collections.abc import Iterator

from manifold3d import Manifold

from fravik.library import stock_materials
from fravik.model.joint import Joint
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.shapes import BarArmShape, MotorHolderShape, RootClampShape
from fravik.shape.bararm import bar_solid
from fravik.shape.build import ShapeInput
from fravik.shape.stations import Floats, Station, tongue_room_mm
from fravik.structure.beams import TipBody
from fravik.structure.cases import CraftLoads, Touchdown, arm_combinations, sag_mm
from fravik.structure.form import BeamForm
from fravik.structure.member import MemberAnswer

from ..around import LEAST_ARM_MM, arm_ends, arm_length_mm, arm_shape, rooted_at, serving, stands, wanted_length_mm
from ..base import PartKind, Posed, Start, Step, Weighed
from ..drives import arm_drives, rotor_body
from ..following import one_each
from ..proportion import half, motor_screw_mm
from .beam import bar_form
from .checks import FORM_WORDS, LEAST_PLASTIC_MM, bar_problems

SLENDER = 0.07  # outside of a bar over its free length, to start with
BAR_SIZES_MM = (4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 14.0, 16.0, 18.0, 20.0, 22.0, 25.0, 28.0, 30.0, 35.0, 40.0)


class BarArm(PartKind[BarArmShape]):
    """What the product asks of arms of bar."""

    kind = "bar_arm"
    word = "bar"
    seat = "root"
    shape_type = BarArmShape
    shade, plan_layer = "carbon", 5
    groups = (
        ("Bar", ("material", "form", "outer_mm", "wall_mm", "length_mm",)),
        ("Root clamp", ("tongue_length_mm", "tongue_width_mm", "root_height_mm", "tongue_bolt_rows", "tongue_bolt_mm",)),
        ("Motor holder", ("holder_grip_mm", "seat_rise_mm",)),
    )  # fmt: skip
    starts = {"bar_arm": Start("bar", "Bar arm")}
    bends = carries_rotor = bench_tested = True
    takes_bonds = has_flat_twin = False
    root_page = "clamp"
    along = "0 at the plate edge, {long} mm at the motor"
    weighed = Weighed("strike survived, m/s", "first mode, Hz", lambda a: float(a.freqs_hz[0]))

    def picks(self, field: str) -> dict[str, str]:
        if field == "material":
            return {k: m.name for k, m in stock_materials().items() if set(m.forms) & set(FORM_WORDS)}
        return {k: w.capitalize() for k, w in FORM_WORDS.items()} if field == "form" else {}

    def stock(self, shape: BarArmShape) -> str:
        return shape.material

    def holders(self, part: Part, shape: BarArmShape, project: Project) -> tuple[Part | None, Part | None]:
        mine = {p.follows for p in self.posed(part, shape, project)}
        return serving(project, RootClampShape, mine), serving(project, MotorHolderShape, mine)

    def given(self, part: Part, shape: BarArmShape, project: Project) -> ShapeInput:
        return ShapeInput(shape, arm_length_mm(shape, project, part), None)

    def solid(self, given: ShapeInput, shape: BarArmShape) -> Manifold:
        return bar_solid(shape, given.length_mm)

    def posed(self, part: Part, shape: BarArmShape, project: Project) -> list[Posed]:
        return one_each(part, project, self.stations(project), lambda s: rooted_at(s, project))

    def stations(self, project: Project) -> tuple[Station, ...]:
        return arm_ends(project)

    def problems(self, part: Part, shape: BarArmShape, project: Project) -> list[Problem]:
        return bar_problems(shape, part, project, *self.holders(part, shape, project))

    def default(self, project: Project, shape: BarArmShape | None = None, start: str = "") -> BarArmShape:
        """A rolled carbon tube as thick as its free length asks for, in a clamp that fits between the plates and beside its neighbours, and
        under the plates that other arms hold apart."""
        layout = project.layout
        wanted = SLENDER * max(LEAST_ARM_MM, wanted_length_mm(project, shape))
        first = next((k for k, size in enumerate(BAR_SIZES_MM) if size >= wanted), len(BAR_SIZES_MM) - 1)
        hole = motor_screw_mm(project.components.motor)
        beside = arm_shape(project) if shape is None else None
        while beside is not None and first > 0 and BAR_SIZES_MM[first] + 2 * LEAST_PLASTIC_MM > beside.root_height_mm:
            first -= 1
        longest = max(6.0, min(half(0.58 * layout.clamp_radius_mm), layout.clamp_radius_mm - 8.0))
        around = stands(project)
        # rather a shorter clamp than a thinner bar
        for outer, tongue in ((o, half(t * longest)) for o in BAR_SIZES_MM[first::-1] for t in (1.0, 0.8, 0.65, 0.5)):
            wide = math.ceil(2 * (2.0 + outer + hole + 2 * max(1.6 * hole, hole / 2 + 2.0))) / 2
            if wide <= tongue_room_mm(around, tongue):
                break
        return BarArmShape(
            outer_mm=outer, wall_mm=0.5 if outer < 8 else 1.0 if outer < 22 else 1.5, tongue_bolt_mm=hole,
            root_height_mm=beside.root_height_mm if beside is not None else max(6.0, half(outer + 2 * max(2.5, 0.25 * outer))),
            tongue_length_mm=max(6.0, tongue), tongue_width_mm=wide,
            tongue_bolt_rows=2 if tongue > 6 * hole else 1, holder_grip_mm=max(6.0, half(1.8 * outer)),
            seat_rise_mm=max(3.0, half(0.3 * outer)),
        )  # fmt: skip

    def new_count(self, project: Project, start: str) -> int:
        return len(arm_ends(project))

    def first_joint(self, project: Project) -> Joint:
        return Joint(kind="clamp", screw="M3" if project.components.motor.mount_circle_mm >= 14 else "M2", tightness=0.3)

    def tip(self, part: Part, shape: BarArmShape, project: Project) -> TipBody:
        """Motor and propeller, and those below the arm's end where two rotors share it."""
        return rotor_body(arm_drives(part, project), shape.face_mm, shape.under_mm)

    def form(self, part: Part, shape: BarArmShape, length_mm: float) -> BeamForm:
        return bar_form(part, shape, length_mm)

    def wires_run(self, shape: BarArmShape) -> str:
        return {"tube": "through its bore", "square_tube": "through its bore", "channel": "in its channel"}.get(shape.form, "along it")

    def cases(self, loads: CraftLoads, shape: BarArmShape, answer: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
        return arm_combinations(loads, answer, down)

    def gives(self, answer: MemberAnswer, cases: dict[str, Floats]) -> str:
        return f"{sag_mm(answer, cases['full_throttle']):.2f} mm at full throttle"

    def screw_holes(self, shape: BarArmShape) -> int:
        return 0

    def followed(self, shape: BarArmShape, project: Project) -> dict[str, float]:
        return {"length_mm": round(arm_length_mm(shape.model_copy(update={"length_mm": None}), project), 1)}

    def ladders(self, part: Part, shape: BarArmShape, project: Project) -> Iterator[list[Step]]:
        yield _thicker(part, shape)
        at = f"parts.{part.id}.shape."
        if shape.form in ("tube", "square_tube", "channel"):
            yield [Step("wall", f"{part.name}: wall {shape.wall_mm:g} → {shape.wall_mm + d:g} mm", ((at + "wall_mm", shape.wall_mm + d),))
                   for d in (0.5, 1.0)]  # fmt: skip
        yield [Step("material", f"{part.name} of {m.name[0].lower()}{m.name[1:]}", ((at + "material", k),))
               for k, m in stock_materials().items() if k != shape.material and shape.form in m.forms]  # fmt: skip
        if shape.root_height_mm > shape.outer_mm:
            longer = [shape.tongue_length_mm + d for d in (6.0, 12.0)]
            yield [Step("clamp", f"{part.name} held over {mm:g} mm", ((at + "tongue_length_mm", mm),)) for mm in longer]


def _thicker(part: Part, s: BarArmShape) -> list[Step]:
    """The next sizes of bar, with clamps that leave as much round it; all arms' clamps are as tall, or the plates would not lie on them."""
    at = f"parts.{part.id}.shape."
    out = []
    for size in [x for x in BAR_SIZES_MM if x > s.outer_mm][:4]:
        d = size - s.outer_mm
        clamp = (at + "root_height_mm", s.root_height_mm + d), (at + "tongue_width_mm", s.tongue_width_mm + d)
        out.append(Step("bar", f"{part.name} {s.outer_mm:g} → {size:g} mm", ((at + "outer_mm", size), *clamp)))
    return out
