"""A ring between a shaft and a propeller's hub: an adapter of a stiff plastic, or the soft bush that grips."""

from __future__ import annotations

from manifold3d import Manifold

from fravik.library import filaments_of
from fravik.model.blade import PropellerShape, RingShape
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.shape.build import ShapeInput

from ..base import PartKind, Posed, Start
from ..printedblades import rotors_of

WALL_MM = 0.8


class AdapterRing(PartKind[RingShape]):
    """What the product asks of rings."""

    kind = "ring"
    word = "adapter ring"
    seat = "shaft"
    shape_type = RingShape
    shade, plan_layer = "adhesive", 4
    groups = (("Ring", ("outer_mm", "inner_mm", "height_mm", "flange_mm", "flange_thick_mm")),)
    starts = {"ring": Start("ring", "Adapter ring", 4)}
    takes_bonds = has_flat_twin = answers_for_all = False
    judged_with_another = may_flex = True
    unjudged = "What a bush grips is told with its propeller."

    def given(self, part: Part, shape: RingShape, project: Project) -> ShapeInput:
        return ShapeInput(shape, shape.outer_mm, None)

    def solid(self, given: ShapeInput, shape: RingShape) -> Manifold:
        whole = Manifold.cylinder(shape.height_mm, shape.outer_mm / 2, shape.outer_mm / 2, 64)
        if shape.flange_mm > shape.outer_mm:
            whole = whole + Manifold.cylinder(shape.flange_thick_mm, shape.flange_mm / 2, shape.flange_mm / 2, 64)
        return whole - Manifold.cylinder(shape.height_mm + 2, shape.inner_mm / 2, shape.inner_mm / 2, 64).translate((0.0, 0.0, -1.0))

    def posed(self, part: Part, shape: RingShape, project: Project) -> list[Posed]:
        """It is inside of a hub, and weighs as good as nothing."""
        return []

    def problems(self, part: Part, shape: RingShape, project: Project) -> list[Problem]:
        if shape.outer_mm - shape.inner_mm < 2 * WALL_MM:
            return [Problem(f"parts.{part.id}.shape.outer_mm", f"The wall is {(shape.outer_mm - shape.inner_mm) / 2:.1f} mm; it wants "
                            f"{WALL_MM:g} at least: two roads.")]  # fmt: skip
        return []

    def default(self, project: Project, shape: RingShape | None = None, start: str = "") -> RingShape:
        """For the first propeller that has a bush, or whose bore is wider than its shaft."""
        for part in project.parts:
            s = part.shape
            if isinstance(s, PropellerShape) and (s.bush_mm > 0 or s.bore_mm > s.shaft_mm + 2 * WALL_MM):
                outer = s.bore_mm + 2 * s.bush_mm + s.bush_grip_mm * (s.bush_mm > 0)
                inner = s.shaft_mm - s.bush_grip_mm * (s.bush_mm > 0)
                return RingShape(outer_mm=round(outer, 2), inner_mm=round(max(inner, 0.6), 2), height_mm=s.hub_height_mm)
        return RingShape()

    def new_count(self, project: Project, start: str) -> int:
        """For every propeller."""
        return max(sum(len(rotors_of(p, project)) for p in project.parts if isinstance(p.shape, PropellerShape)), 1)

    def first_recipe(self, filament: str) -> Recipe:
        return Recipe(filament=filament, layer_height_mm=0.12, walls=5, cover_layers=8, core_density=1.0)

    def first_filament(self, project: Project) -> str:
        """A flexible one, if there is any."""
        return next((k for k, f in filaments_of(project).items() if f.flexible), "")
