"""The printed block that clamps a bar arm's root between the plates. It is judged with the bar it holds."""

from __future__ import annotations

from manifold3d import Manifold

from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.model.shapes import BarArmShape, RootClampShape
from fravik.shape.bararm import root_clamp_solid
from fravik.shape.build import ShapeInput
from fravik.shape.stations import Station

from ..around import bar_at, bar_ends, rooted_at
from ..base import PartKind, Posed, Start
from ..following import one_each


class RootClamp(PartKind[RootClampShape]):
    """What the product asks of root clamps."""

    kind = "root_clamp"
    word = "root clamp"
    seat = "between"
    shape_type = RootClampShape
    shade, plan_layer = "cover", 4
    groups = (
        ("Bore", ("fit_mm", "slit_mm",)),
    )  # fmt: skip
    starts = {"root_clamp": Start("clamp", "Root clamp")}
    takes_bonds = has_flat_twin = False
    judged_with_another = True
    unjudged = "Judged with the bar that it holds: how it gives, crushes and lets go."

    def given(self, part: Part, shape: RootClampShape, project: Project) -> ShapeInput:
        return ShapeInput(shape, 0.0, None, beside=bar_at(project, self.posed(part, shape, project)))

    def solid(self, given: ShapeInput, shape: RootClampShape) -> Manifold:
        assert isinstance(given.beside, BarArmShape)
        return root_clamp_solid(shape, given.beside)

    def posed(self, part: Part, shape: RootClampShape, project: Project) -> list[Posed]:
        return one_each(part, project, self.stations(project), lambda s: rooted_at(s, project))

    def stations(self, project: Project) -> tuple[Station, ...]:
        return bar_ends(project)

    def problems(self, part: Part, shape: RootClampShape, project: Project) -> list[Problem]:
        if not bar_ends(project):
            return [Problem(f"parts.{part.id}.shape", f"{part.name}: there is no bar arm for it to hold.")]
        return []

    def default(self, project: Project, shape: RootClampShape | None = None, start: str = "") -> RootClampShape:
        return RootClampShape()

    def first_recipe(self, filament: str) -> Recipe:
        """Standing on its end: the bore prints round, and what the screws pull runs along the layers."""
        return Recipe(filament=filament, lies="on_end")

    def new_count(self, project: Project, start: str) -> int:
        return max(1, len(bar_ends(project)))
