"""The printed block that clamps on a bar arm's end and carries its motor. It is judged with the bar that it sits on."""

from __future__ import annotations

import numpy as np
from manifold3d import Manifold

from fravik.model.laying import Laying
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.model.shapes import BarArmShape, MotorHolderShape
from fravik.shape.bararm import motor_holder_solid
from fravik.shape.build import ShapeInput
from fravik.shape.stations import Floats, Station, arrangement, turned

from ..around import bar_at, bar_ends
from ..base import PartKind, Posed, Start
from ..drives import circle_faults, drives_on
from ..following import one_each
from ..proportion import motor_pad_mm, motor_screw_mm

LEAST_EDGE_MM = 0.8


class MotorHolder(PartKind[MotorHolderShape]):
    """What the product asks of motor holders."""

    kind = "motor_holder"
    word = "motor holder"
    seat = "rotor"
    shape_type = MotorHolderShape
    shade, plan_layer = "adhesive", 6
    groups = (
        ("Seat", ("pad_diameter_mm", "bolt_circle_mm", "bolt_hole_mm",)),
        ("Bore", ("fit_mm", "slit_mm", "wall_mm",)),
    )  # fmt: skip
    starts = {"motor_holder": Start("holder", "Motor holder")}
    takes_bonds = has_flat_twin = False
    judged_with_another = True
    unjudged = "Judged with the bar that it sits on: how it crushes and lets go."

    def given(self, part: Part, shape: MotorHolderShape, project: Project) -> ShapeInput:
        """``length_mm`` is 1 where a second motor hangs under it."""
        there, here = arrangement(project.layout), self.posed(part, shape, project)
        both = float(any(there.paired(k) for k, (name, _) in enumerate(there.arms) for p in here if p.follows == name))
        return ShapeInput(shape, both, None, beside=bar_at(project, here))

    def solid(self, given: ShapeInput, shape: MotorHolderShape) -> Manifold:
        assert isinstance(given.beside, BarArmShape)
        return motor_holder_solid(shape, given.beside, given.length_mm > 0)

    def posed(self, part: Part, shape: MotorHolderShape, project: Project) -> list[Posed]:
        return one_each(part, project, self.stations(project), _pose)

    def stations(self, project: Project) -> tuple[Station, ...]:
        return bar_ends(project)

    def problems(self, part: Part, shape: MotorHolderShape, project: Project) -> list[Problem]:
        at: str = f"parts.{part.id}.shape."
        out: list[Problem] = []
        if not bar_ends(project):
            out.append(Problem(f"parts.{part.id}.shape", f"{part.name}: there is no bar arm for it to sit on."))
        edge = (shape.pad_diameter_mm - shape.bolt_circle_mm - shape.bolt_hole_mm) / 2
        if edge < LEAST_EDGE_MM:
            out.append(Problem(at + "bolt_circle_mm", f"Only {edge:.1f} mm of seat is left outside the motor screws; at least "
                               f"{LEAST_EDGE_MM:g} is needed: a larger seat or a smaller circle."))  # fmt: skip
        there = drives_on(project, (p.follows for p in self.posed(part, shape, project)))
        return out + circle_faults(there, shape.bolt_circle_mm, at + "bolt_circle_mm", "seat")

    def default(self, project: Project, shape: MotorHolderShape | None = None, start: str = "") -> MotorHolderShape:
        """With a seat that carries the motor."""
        motor = project.components.motor
        return MotorHolderShape(
            pad_diameter_mm=motor_pad_mm(motor), bolt_circle_mm=motor.mount_circle_mm, bolt_hole_mm=motor_screw_mm(motor)
        )

    def first_recipe(self, filament: str) -> Recipe:
        """On its seat, which is wider than the rest."""
        return Recipe(filament=filament, lies="flat_over")

    def first_laying(self, project: Project) -> Laying:
        """One with a seat on either side stands on nothing else."""
        there = arrangement(project.layout)
        return Laying(support="pillars" if any(there.paired(k) for k in range(len(there.arms))) else "none")

    def new_count(self, project: Project, start: str) -> int:
        return max(1, len(bar_ends(project)))


def _pose(station: Station) -> Floats:
    """Its own origin lies on the motor's axis, at the height of the arm's underside."""
    m = turned(station.azimuth_rad)
    m[:3, 3] = np.array([station.x_mm, station.y_mm, 0.0])
    return m
