"""What the maker can add to a craft, and a new part of it in proportion to the rest."""

from __future__ import annotations

from fravik.model.project import Part, Project

from .registry import KINDS


def addable() -> dict[str, str]:
    """What the maker can add: the pick, and the name of the new part."""
    return {pick: start.name for kind in KINDS.values() for pick, start in kind.starts.items()}


def part_for(pick: str, project: Project) -> Part:
    """A new part in proportion to the craft, with an id of its own. ``pick`` is one of ``addable()``."""
    kind = next(k for k in KINDS.values() if pick in k.starts)
    start = kind.starts[pick]
    taken = {p.id for p in project.parts}
    part_id = next(i for i in (start.stem, *(f"{start.stem}{n}" for n in range(2, 99))) if i not in taken)
    called = {p.name for p in project.parts}
    name = next(i for i in (start.name, *(f"{start.name} {n}" for n in range(2, 99))) if i not in called)
    filament = kind.first_filament(project) or (project.parts[0].recipe.filament if project.parts else "petg")
    return Part(
        id=part_id, name=name, count=kind.new_count(project, pick), shape=kind.default(project, start=pick),
        recipe=kind.first_recipe(filament), laying=kind.first_laying(project),
        joint=kind.first_joint(project),
    )  # fmt: skip
