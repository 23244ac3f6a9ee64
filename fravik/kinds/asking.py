"""Questions about any part, answered by its kind."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from manifold3d import Manifold

from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon, Facing
from fravik.model.shapes import Shape
from fravik.shape.build import ShapeInput
from fravik.shape.rising import Rising
from fravik.shape.stations import Floats

from .base import Step
from .registry import kind_of


def shape_input(part: Part, project: Project) -> ShapeInput:
    """Gather what the part's solid depends on."""
    return kind_of(part.shape).given(part, part.shape, project)


def build_solid(given: ShapeInput) -> Manifold:
    """The closed solid of a part, in its own axes."""
    return kind_of(given.shape).solid(given, given.shape)


def rising_of(given: ShapeInput) -> Rising | None:
    """The part as one that rises from its plan, None when it is none."""
    return kind_of(given.shape).rising(given, given.shape)


def shape_problems(part: Part, project: Project) -> list[Problem]:
    """All contradictions in one part's geometry, joint and bonds."""
    return kind_of(part.shape).problems(part, part.shape, project) + _station_problems(part, project)


def _station_problems(part: Part, project: Project) -> list[Problem]:
    """Stations that a part names and the layout has not, or that another part of its kind names too."""
    if not part.at:
        return []
    at, ids = f"parts.{part.id}.at", [s.id for s in kind_of(part.shape).stations(project)]
    if not ids:
        return [Problem(at, f"{part.name} stands at no station of the layout: leave this empty.", "warning")]
    out = [Problem(at, f"There is no station {name.replace('_', ' ')} for {part.name.lower()}; there is "
                   f"{', '.join(i.replace('_', ' ') for i in ids)}.") for name in part.at if name not in ids]  # fmt: skip
    for other in project.parts:
        both = set(other.at) & set(part.at) if other.id != part.id and other.shape.kind == part.shape.kind else set()
        out += [Problem(at, f"{part.name} and {other.name} both stand at {name.replace('_', ' ')}.") for name in sorted(both)]
    if len(part.at) > part.count:
        out.append(Problem(at, f"{part.name} names {len(part.at)} stations and has {part.count} copies.", "warning"))
    return out


def shape_for(shape: Shape, project: Project) -> Shape:
    """The sensible default of the same kind of part for the craft."""
    return kind_of(shape).default(project, shape)


def first_bond(project: Project, part_id: str, kind: type[Carbon] | type[Facing]) -> Carbon | Facing:
    """Carbon or a sheet that fits a part to start with."""
    shape = project.part(part_id).shape
    answers = kind_of(shape)
    return answers.first_facing(shape, project) if kind is Facing else answers.first_carbon(shape, project)


def ladders(project: Project, part: Part) -> Iterator[list[Step]]:
    """Ladders of steps for one part, one list per kind of lever, smallest step first."""
    return kind_of(part.shape).ladders(part, part.shape, project)


def bottom_reach_mm(project: Project) -> float:
    """How far below the bottom plate the craft stands on the ground."""
    return max((kind_of(p.shape).standing_mm(p.shape) for p in project.parts), default=0.0)


@dataclass(frozen=True, eq=False)
class Place:
    """One copy of a part. ``pose`` (4, 4) takes the part's own axes to the craft's; ``follows`` is the station it goes with, or none."""

    id: str
    part_id: str
    pose: Floats
    follows: str | None = None

    @property
    def at_mm(self) -> Floats:
        """(3,) where the part's own origin stands."""
        return self.pose[:3, 3]


@lru_cache(maxsize=128)
def places_of(part: Part, project: Project) -> tuple[Place, ...]:
    """The copies of one part. Those that the layout has only one spot for stand in it together."""
    found = kind_of(part.shape).posed(part, part.shape, project)
    return tuple(Place(f"{part.id}_{k + 1}", part.id, p.pose, p.follows) for k, p in enumerate(found))


def places(project: Project) -> tuple[Place, ...]:
    """All copies of all parts, in the order of the parts."""
    return tuple(place for part in project.parts for place in places_of(part, project))
