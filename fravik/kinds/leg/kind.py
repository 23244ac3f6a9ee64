"""A landing leg: a blade under the bottom plate, splayed outwards at a station's direction."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from manifold3d import Manifold

from fravik.library import carbon_stock
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon
from fravik.model.shapes import LegShape
from fravik.shape.build import ShapeInput
from fravik.shape.checks_bonded import bonded_problems
from fravik.shape.inlay import StraightBody
from fravik.shape.leg import leg_body, leg_solid
from fravik.shape.stations import Floats, Station
from fravik.structure.cases import CraftLoads, Touchdown, leg_combinations
from fravik.structure.form import BeamForm
from fravik.structure.member import MemberAnswer
from fravik.structure.notches import Raiser

from ..around import bottom_plate_mm, feet
from ..base import PartKind, Posed, Start, Step, Weighed
from ..following import one_each
from ..ladders import printed_otherwise, root_fillets, thicker
from ..proportion import half, half_up
from .beam import leg_form, leg_raisers
from .checks import leg_problems

WIDEST = 0.6  # of its length: wider it is a block, not a blade
MOST_WIDE_MM, THICKEST_MM = 60.0, 30.0  # what its fields take

MOST_LONG_MM, FLANGE_AND_TIP_MM = 200.0, 36.0  # of a new one, and what lies beside it on the bed


class Leg(PartKind[LegShape]):
    """What the product asks of legs."""

    kind = "leg"
    shape_type = LegShape
    detachable = True
    shade, plan_layer = "wall", 1
    groups = (
        ("Blade", ("length_mm", "root_width_mm", "tip_width_mm", "thickness_mm", "root_fillet_mm", "splay_deg",)),
        ("Flange", ("flange_length_mm", "flange_width_mm", "flange_bolt_mm",)),
    )  # fmt: skip
    starts = {"leg": Start("leg", "Landing leg")}
    bends = stands = printed_first = takes_profiles = True
    along = "0 at the flange, {long} mm at the toe"
    weighed = Weighed("drop survived, m", "stiffness at the toe, N/mm", lambda a: 1.0 / float(a.compliance[2, 2]))

    def given(self, part: Part, shape: LegShape, project: Project) -> ShapeInput:
        return ShapeInput(shape, shape.length_mm, part.carbon)

    def solid(self, given: ShapeInput, shape: LegShape) -> Manifold:
        return leg_solid(shape, given.carbon, carbon_stock(given.carbon.stock) if given.carbon else None)

    def posed(self, part: Part, shape: LegShape, project: Project) -> list[Posed]:
        return one_each(part, project, self.stations(project), lambda s: _pose(shape, s.bearing_rad, project))

    def stations(self, project: Project) -> tuple[Station, ...]:
        return feet(project)

    def problems(self, part: Part, shape: LegShape, project: Project) -> list[Problem]:
        return leg_problems(shape, f"parts.{part.id}.shape.") + bonded_problems(self.straight(part, shape, shape.length_mm), part)

    def default(self, project: Project, shape: LegShape | None = None, start: str = "") -> LegShape:
        """Long enough to keep what hangs below the plates off the ground, as far as the bed lets it."""
        layout, propeller, printer = project.layout, project.components.propeller, project.printer
        most = min(MOST_LONG_MM, min(printer.bed_x_mm, printer.bed_y_mm) - FLANGE_AND_TIP_MM)
        length = min(most, max(20.0, half(0.16 * layout.motor_to_motor_mm + 0.02 * propeller.diameter_mm)))
        width = max(7.0, half(0.28 * length))
        return LegShape(
            length_mm=length, root_width_mm=width, tip_width_mm=half(0.65 * width), thickness_mm=min(30.0, max(5.0, half(0.16 * length))),
            flange_width_mm=half(width + 14.0), root_fillet_mm=min(10.0, max(2.0, half(0.1 * length))),
        )  # fmt: skip

    def new_count(self, project: Project, start: str) -> int:
        return len(feet(project))

    def first_carbon(self, shape: LegShape, project: Project) -> Carbon:
        return Carbon(stock="rod_2", start_mm=-shape.flange_length_mm, end_mm=float(int(shape.length_mm - 2)))

    def straight(self, part: Part, shape: LegShape, length_mm: float) -> StraightBody:
        return leg_body(shape)

    def form(self, part: Part, shape: LegShape, length_mm: float) -> BeamForm:
        return leg_form(part, shape)

    def raisers(self, shape: LegShape, length_mm: float, q: float) -> list[Raiser]:
        return leg_raisers(shape, q)

    def cases(self, loads: CraftLoads, shape: LegShape, answer: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
        return leg_combinations(loads, shape.splay_deg, down)

    def lean_deg(self, shape: LegShape) -> float:
        return shape.splay_deg

    def ladders(self, part: Part, shape: LegShape, project: Project) -> Iterator[list[Step]]:
        yield thicker(part, "thickness_mm", shape.thickness_mm, (1.0, 2.0, 3.0))
        yield root_fillets(part, shape.root_fillet_mm)
        yield from printed_otherwise(part, project)

    def stouter(self, shape: LegShape, stronger: float, stiffer: float) -> dict[str, float]:
        """What it takes grows with its blade, and so does the landing that it passes on: both ways together, about in proportion."""
        by = stronger**0.6
        wide = max(half_up(min(shape.root_width_mm * by, WIDEST * shape.length_mm, MOST_WIDE_MM)), shape.root_width_mm)
        return {
            "thickness_mm": min(half_up(shape.thickness_mm * by), THICKEST_MM),
            "root_width_mm": wide,
            "tip_width_mm": half_up(shape.tip_width_mm * wide / shape.root_width_mm),
            "flange_width_mm": shape.flange_width_mm + wide - shape.root_width_mm,
        }


def _pose(shape: LegShape, azimuth_rad: float, project: Project) -> Floats:
    c, s = math.cos(azimuth_rad), math.sin(azimuth_rad)
    tilt = math.radians(shape.splay_deg)
    ct, st = math.cos(tilt), math.sin(tilt)
    along = np.array([c * st, s * st, -ct])
    thick = np.array([c * ct, s * ct, st])
    m = np.eye(4)
    m[:3, 0], m[:3, 1], m[:3, 2] = along, np.cross(thick, along), thick
    r = project.layout.leg_radius_mm
    root = np.array([r * c, r * s, -bottom_plate_mm(project)])
    m[:3, 3] = root + along * shape.flange_length_mm - thick * shape.thickness_mm / 2
    return m
