"""A printed propeller: it goes round with its motor, so it weighs with the drive, and is judged by itself, spinning."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from manifold3d import Manifold

from fravik.library import filaments_of
from fravik.model.blade import PropellerShape
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.shape.blade import as_printed_gmm, propeller_solid
from fravik.shape.build import ShapeInput
from fravik.shape.stations import Station, turned
from fravik.structure.form import BeamForm

from ..around import stations
from ..base import PartKind, Posed, Start, Step
from ..printedblades import rotors_of
from .beam import propeller_form
from .checks import propeller_problems

PICKS = {
    "turns": {"anticlockwise": "Anticlockwise", "clockwise": "Clockwise"},
    "outline": {"slim": "Slim", "usual": "Usual", "broad": "Broad"},
    "piece": {"whole": "One piece", "blade": "A folding blade", "hub": "Hub of folding blades"},
    "bore": {"round": "Round", "flat": "Round with a flat", "hex": "Hexagon", "screws": "Round, with four screws"},
}
ON_MOTOR_MM = 3.0  # the middle of the hub over the motor


class OwnPropeller(PartKind[PropellerShape]):
    """What the product asks of propellers."""

    kind = "propeller"
    seat = "shaft"
    shape_type = PropellerShape
    shade, plan_layer = "glass", 5
    groups = (
        ("Propeller", ("turns", "in_use", "diameter_mm", "blades", "pitch_mm",)),
        ("Blade", ("outline", "chord_share", "camber", "root_thickness", "tip_thickness", "least_mm", "edge_mm", "sweep_mm", "ducted",)),
        ("Folding", ("piece", "pivot_mm", "pin_mm", "eye_mm", "play_mm",)),
        ("Cruise", ("cruise_m_s", "cruise_n",)),
        ("Hub", ("hub_diameter_mm", "hub_height_mm", "root_fillet_mm", "root_swell",)),
        ("On the shaft", ("shaft_mm", "bore", "bore_mm", "flat_mm", "screw_circle_mm", "screw_hole_mm", "bush_mm",
                          "bush_grip_mm", "unbalance_gmm",)),
    )  # fmt: skip
    starts = {"propeller": Start("propeller", "Propeller", 2)}
    takes_bonds = has_flat_twin = answers_for_all = False
    judged_with_another = True
    unjudged = "A propeller is judged by itself, spinning: see Propeller."
    bench_tested = True

    def given(self, part: Part, shape: PropellerShape, project: Project) -> ShapeInput:
        """Readings and what it is used for leave its form alone."""
        same = {
            "in_use": True,
            "readings": (),
            "stand": (),
            "ducted": False,
            "cruise_m_s": 0.0,
            "cruise_n": 1.0,
            "unbalance_gmm": None,
            "shaft_mm": 5.0,
            "bush_grip_mm": 0.2,
        }
        return ShapeInput(shape.model_copy(update=same), shape.radius_mm, None)

    def solid(self, given: ShapeInput, shape: PropellerShape) -> Manifold:
        return propeller_solid(shape)

    def stations(self, project: Project) -> tuple[Station, ...]:
        return stations(project)

    def posed(self, part: Part, shape: PropellerShape, project: Project) -> list[Posed]:
        """On the motors that turn its way, as many as there are of it; nowhere while the bought one flies."""
        if not shape.in_use:
            return []
        out = []
        for s in rotors_of(part, project):
            m = np.eye(4)
            high = project.components.motor.height_mm + ON_MOTOR_MM
            m[:3, 3] = s.at_mm + s.up * np.array([0.0, 0.0, high]) - np.array([0.0, 0.0, shape.hub_height_mm / 2])
            turns = shape.blades if shape.piece == "blade" else 1
            for k in range(turns):
                out.append(Posed(m @ turned(2 * math.pi * k / shape.blades), s.id))
        return out

    def problems(self, part: Part, shape: PropellerShape, project: Project) -> list[Problem]:
        return propeller_problems(shape, f"parts.{part.id}.shape.")

    def default(self, project: Project, shape: PropellerShape | None = None, start: str = "") -> PropellerShape:
        """As large and as steep as the bought one."""
        p = project.components.propeller
        wide = p.diameter_mm
        bore = min(max(round(wide * 0.028, 1), 1.0), 8.0)
        hub = round(max(wide * 0.09, 2.4 * bore + 2), 1)
        return PropellerShape(
            diameter_mm=wide, pitch_mm=p.pitch_mm, blades=p.blades, in_use=False, hub_diameter_mm=hub,
            hub_height_mm=round(max(0.045 * wide, 3.0), 1), bore_mm=round(bore + 0.2, 1), shaft_mm=bore, flat_mm=round(0.9 * bore, 1),
            root_fillet_mm=round(max(0.03 * wide, 1.0), 1), least_mm=round(min(max(0.006 * wide, 0.6), 3.0), 1),
        )  # fmt: skip

    def first_recipe(self, filament: str) -> Recipe:
        """Solid, in thin layers."""
        return Recipe(filament=filament, layer_height_mm=0.12, walls=5, cover_layers=8, core_density=1.0)

    def new_count(self, project: Project, start: str) -> int:
        """For every rotor that turns its way."""
        return max(sum(s.spin > 0 for s in stations(project)), 1)

    def followed(self, shape: PropellerShape, project: Project) -> dict[str, float]:
        plastic = filaments_of(project).get(next(p for p in project.parts if p.shape == shape).recipe.filament)
        return {"unbalance_gmm": round(as_printed_gmm(shape, plastic.density_g_cm3.typical), 1)} if plastic is not None else {}

    def picks(self, field: str) -> dict[str, str]:
        return PICKS.get(field, {})

    def form(self, part: Part, shape: PropellerShape, length_mm: float) -> BeamForm:
        return propeller_form(shape)

    def ladders(self, part: Part, shape: PropellerShape, project: Project) -> Iterator[list[Step]]:
        return iter(())
