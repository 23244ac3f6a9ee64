"""A solid read from a mesh file: weighed, laid and printed, not judged for strength."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from manifold3d import Manifold

from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.model.shapes import ImportedShape
from fravik.shape.build import ShapeInput

from ..base import PartKind, Posed


class Imported(PartKind[ImportedShape]):
    """What the product asks of meshes."""

    kind = "imported"
    seat = "loose"
    shape_type = ImportedShape
    shade, plan_layer = "glass", 3
    groups = (
        ("Place on the craft", ("scale", "x_mm", "y_mm", "z_mm",)),
    )  # fmt: skip
    takes_bonds = False
    unjudged = "Not judged for strength: a mesh is weighed, laid and printed."

    def given(self, part: Part, shape: ImportedShape, project: Project) -> ShapeInput:
        return ShapeInput(shape.model_copy(update={"x_mm": 0.0, "y_mm": 0.0, "z_mm": 0.0}), 0.0, None)

    def solid(self, given: ShapeInput, shape: ImportedShape) -> Manifold:
        from fravik.shape.meshread import solid_of, unpacked  # mesh readers load only for crafts that hold such a part

        return solid_of(unpacked(shape.mesh), shape.source or "The mesh").scale((shape.scale,) * 3)

    def posed(self, part: Part, shape: ImportedShape, project: Project) -> list[Posed]:
        m = np.eye(4)
        m[:3, 3] = shape.x_mm, shape.y_mm, shape.z_mm
        return [Posed(m)] * part.count

    def default(self, project: Project, shape: ImportedShape | None = None, start: str = "") -> ImportedShape:
        """A mesh has no other to fall back to."""
        assert shape is not None
        return shape


def imported_part(path: Path, project: Project, progress: Callable[[int, int], None] = lambda done, total: None) -> Part:
    """A part from a mesh file; ``progress`` hears how far it is.

    Raises MeshProblem with what is wrong with it, OSError when it cannot be opened.
    """
    from fravik.shape.meshread import packed, read_mesh

    mesh = read_mesh(path, progress=progress)
    name = "".join(c if c.isalnum() or c in " -" else " " for c in path.stem).strip()[:24] or "Imported"
    taken = {p.id for p in project.parts}
    part_id = next(i for i in ("mesh", *(f"mesh{n}" for n in range(2, 99))) if i not in taken)
    filament = project.parts[0].recipe.filament if project.parts else "petg"
    shape = ImportedShape(mesh=packed(mesh), source=path.name)
    return Part(id=part_id, name=name[0].upper() + name[1:], shape=shape, recipe=Recipe(filament=filament))
