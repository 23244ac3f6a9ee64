"""A propeller guard: a hub under the motor, two struts and an arc round the propeller's tip."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from manifold3d import Manifold

from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.shapes import GuardShape
from fravik.shape.build import ShapeInput
from fravik.shape.guard import guard_radius_mm, guard_solid
from fravik.shape.stations import Floats, Station, turned
from fravik.structure.cases import CraftLoads, Touchdown, guard_combinations
from fravik.structure.form import BeamForm
from fravik.structure.member import MemberAnswer
from fravik.structure.notches import Raiser

from ..around import arm_ends
from ..base import PartKind, Posed, Start, Step, Weighed
from ..drives import circle_faults, drives_on
from ..following import one_each
from ..ladders import thicker
from ..proportion import motor_pad_mm, motor_screw_mm
from .beam import guard_form, guard_raisers
from .checks import guard_problems


class Guard(PartKind[GuardShape]):
    """What the product asks of guards."""

    kind = "guard"
    seat = "rotor"
    shape_type = GuardShape
    shade, plan_layer = "adhesive", 4
    groups = (
        ("Ring and struts", ("radius_mm", "span_deg", "width_mm", "height_mm", "corner_mm",)),
        ("Hub", ("hub_diameter_mm", "hub_thickness_mm", "bolt_circle_mm", "bolt_hole_mm", "root_fillet_mm",)),
    )  # fmt: skip
    starts = {"guard": Start("guard", "Propeller guard", 2)}
    answers_for_all = False
    may_flex = bends = True
    takes_bonds = has_flat_twin = False
    bending = ("up and down", "in its plane")
    along = "from the hub round the arc to the hub, {long} mm"
    weighed = Weighed("bump survived, m/s", "stiffness of the arc, N/mm", lambda a: 1.0 / float(a.compliance[0, 0]))

    def given(self, part: Part, shape: GuardShape, project: Project) -> ShapeInput:
        """``length_mm`` is the radius of the arc."""
        return ShapeInput(shape, guard_radius_mm(shape, _widest_mm(self.posed(part, shape, project), project)), None)

    def solid(self, given: ShapeInput, shape: GuardShape) -> Manifold:
        return guard_solid(shape, given.length_mm)

    def posed(self, part: Part, shape: GuardShape, project: Project) -> list[Posed]:
        return one_each(part, project, self.stations(project), _pose)

    def stations(self, project: Project) -> tuple[Station, ...]:
        """The front ones first: they are what meets things."""
        return tuple(sorted(arm_ends(project), key=lambda s: (-round(s.x_mm, 3), -round(s.y_mm, 3))))

    def problems(self, part: Part, shape: GuardShape, project: Project) -> list[Problem]:
        posed = self.posed(part, shape, project)
        there = drives_on(project, (p.follows for p in posed))
        at = f"parts.{part.id}.shape."
        drilled = circle_faults(there, shape.bolt_circle_mm, at + "bolt_circle_mm", "hub")
        return guard_problems(shape, _widest_mm(posed, project), at) + drilled

    def default(self, project: Project, shape: GuardShape | None = None, start: str = "") -> GuardShape:
        """With a hub that carries the motor."""
        motor = project.components.motor
        return GuardShape(hub_diameter_mm=motor_pad_mm(motor), bolt_circle_mm=motor.mount_circle_mm, bolt_hole_mm=motor_screw_mm(motor))

    def form(self, part: Part, shape: GuardShape, length_mm: float) -> BeamForm:
        return guard_form(shape, length_mm)

    def raisers(self, shape: GuardShape, length_mm: float, q: float) -> list[Raiser]:
        return guard_raisers(shape, length_mm, q)

    def cases(self, loads: CraftLoads, shape: GuardShape, answer: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
        return guard_combinations(loads, answer)

    def gives(self, answer: MemberAnswer, cases: dict[str, Floats]) -> str:
        return f"{abs(float(answer.tip[0] @ cases['transport'])):.1f} mm when pressed"

    def followed(self, shape: GuardShape, project: Project) -> dict[str, float]:
        free = shape.model_copy(update={"radius_mm": None})
        return {"radius_mm": round(guard_radius_mm(free, project.components.propeller.diameter_mm), 1)}

    def ladders(self, part: Part, shape: GuardShape, project: Project) -> Iterator[list[Step]]:
        at = f"parts.{part.id}.shape."
        yield thicker(part, "height_mm", shape.height_mm, (1.0, 2.0, 4.0), "tall")
        yield [
            Step("width", f"{part.name} {shape.width_mm:g} → {shape.width_mm + d:g} mm wide", ((at + "width_mm", shape.width_mm + d),))
            for d in (-1.0, -0.5, 0.5, 1.0, 2.0) if shape.width_mm + d >= 1.2
        ]  # fmt: skip
        yield [
            Step("arc", f"{part.name}: arc {shape.span_deg:g} → {shape.span_deg + d:g}°", ((at + "span_deg", shape.span_deg + d),))
            for d in (-10.0, 10.0, -25.0, 25.0) if 40.0 <= shape.span_deg + d <= 200.0
        ]  # fmt: skip


def _widest_mm(posed: Sequence[Posed], project: Project) -> float:
    """Of the propellers that its copies go round."""
    return max(d.propeller.diameter_mm for d in drives_on(project, (p.follows for p in posed)))


def _pose(station: Station) -> Floats:
    m = turned(station.azimuth_rad)
    m[:3, 3] = station.at_mm
    return m
