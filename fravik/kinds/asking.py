"""Questions about any part, answered by its kind."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from manifold3d import Manifold

from fravik.library import stock_materials
from fravik.model.problem import Problem
from fravik.model.project import OwnPlace, Part, Project
from fravik.model.recipe import Carbon, Facing, Recipe
from fravik.model.shapes import Shape
from fravik.printing.orientation import print_from_part
from fravik.shape.build import ShapeInput
from fravik.shape.rising import OnSide, Rising
from fravik.shape.stations import Floats

from .base import Step
from .following import stands_alike
from .registry import kind_of


def shape_input(part: Part, project: Project) -> ShapeInput:
    """Gather what the part's solid depends on."""
    return kind_of(part.shape).given(part, part.shape, project)


# what is cut has no walls, covers or core: all of it is one zone, as its grain runs, however wide it is
CUT = Recipe(lies="flat", layer_height_mm=0.1, line_width_mm=1.2, walls=40, cover_layers=0, core_density=1.0).model_copy(
    update={"walls": 2000}
)


def stock_of(part: Part) -> str:
    """The material of bar or plate that a part is cut from; empty where it is printed."""
    return kind_of(part.shape).stock(part.shape) or part.cut_from


def is_printed(part: Part) -> bool:
    """Whether a printer makes it."""
    return not stock_of(part)


def printed_parts(project: Project) -> tuple[Part, ...]:
    """What the printers make."""
    return tuple(p for p in project.parts if is_printed(p))


def as_made(part: Part) -> Part:
    """The part with a recipe that says what it is made of: its own where it is printed."""
    stock = stock_of(part)
    return part.model_copy(update={"recipe": CUT.model_copy(update={"filament": stock})}) if stock else part


def holders_of(part: Part, project: Project) -> tuple[Part | None, Part | None]:
    """The printed parts whose plastic gives at a part's root and at its end; None for its own."""
    return kind_of(part.shape).holders(part, part.shape, project)


def stock_problems(part: Part) -> list[Problem]:
    """A material that there is none of, or that no plate is made of; bonds and threads that a cut part does not take."""
    if not part.cut_from:
        return []
    at, known = f"parts.{part.id}.", stock_materials().get(part.cut_from)
    sold = [m.name.lower() for m in stock_materials().values() if "plate" in m.forms]
    if known is None or "plate" not in known.forms:
        return [Problem(at + "cut_from", f"No plate of {part.cut_from!r} is known; there is {', '.join(sold)}.")]
    if not kind_of(part.shape).has_flat_twin:
        return [Problem(at + "cut_from", f"{part.name} cannot be cut from plate: leave this empty to print it.")]
    if part.carbon is not None or part.facing is not None:
        return [Problem(at + "cut_from", f"{part.name} is cut from plate: take the carbon or the facing off it.")]
    if part.joint.kind == "bolted" and part.joint.fixing in ("heat_set", "tapped"):
        return [Problem(at + "joint.fixing", f"{part.name} is cut from plate: no insert or thread holds in it. Take bolts and nuts.")]
    return []


def build_solid(given: ShapeInput) -> Manifold:
    """The closed solid of a part, in its own axes."""
    return kind_of(given.shape).solid(given, given.shape)


def rising_of(given: ShapeInput, recipe: Recipe) -> Rising | OnSide | None:
    """The part as one that rises from its plan, lain as it prints; None when it is none, or lies so that its plan does not tell."""
    rotation = print_from_part(recipe)
    if not Rising.lies(rotation):
        return None
    rising = kind_of(given.shape).rising(given, given.shape)
    return rising.turned(rotation) if rising is not None else None


def shape_problems(part: Part, project: Project) -> list[Problem]:
    """All contradictions in one part's geometry, joint and bonds."""
    return kind_of(part.shape).problems(part, part.shape, project) + _station_problems(part, project) + stock_problems(part)


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
        both = set(other.at) & set(part.at) if other.id != part.id and stands_alike(other, part) else set()
        out += [Problem(at, f"{part.name} and {other.name} both stand at {name.replace('_', ' ')}.") for name in sorted(both)]
    if len(part.at) > part.count:
        out.append(Problem(at, f"{part.name} names {len(part.at)} stations and has {part.count} copies.", "warning"))
    return out


def shape_for(shape: Shape, project: Project) -> Shape:
    """The sensible default of the same kind of part for the craft."""
    return kind_of(shape).default(project, shape)


def first_bond(project: Project, part_id: str, kind: type[Carbon] | type[Facing]) -> Carbon | Facing:
    """Carbon or a facing that fits a part to start with."""
    shape = project.part(part_id).shape
    answers = kind_of(shape)
    return answers.first_facing(shape, project) if kind is Facing else answers.first_carbon(shape, project)


def ladders(project: Project, part: Part) -> Iterator[list[Step]]:
    """Ladders of steps for one part, one list per kind of lever, smallest step first."""
    return kind_of(part.shape).ladders(part, part.shape, project)


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
    kind = kind_of(part.shape)
    found = kind.posed(part, part.shape, project)
    own = part.own_places if kind.detachable else ()
    poses = [_detached(p.pose, own[k]) if k < len(own) else p.pose for k, p in enumerate(found)]
    return tuple(Place(f"{part.id}_{k + 1}", part.id, m, p.follows) for k, (p, m) in enumerate(zip(found, poses, strict=True)))


def _detached(pose: Floats, own: OwnPlace) -> Floats:
    """A copy where its maker put it, leaning as its kind has it."""
    turn = math.radians(own.turn_deg) - _heading_rad(pose)
    c, s = math.cos(turn), math.sin(turn)
    out = pose.copy()
    out[:3, :3] = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]) @ pose[:3, :3]
    out[:3, 3] = own.x_mm, own.y_mm, own.z_mm
    return out


def _heading_rad(pose: Floats) -> float:
    """Which way a copy faces, from straight ahead to the left: its own left lies level however it leans."""
    return math.atan2(-float(pose[0, 1]), float(pose[1, 1]))


def detach(part: Part, project: Project) -> tuple[OwnPlace, ...]:
    """Own places of a part's copies, where they stand now."""
    out = []
    for k, p in enumerate(places_of(part, project)):
        x, y, z = (round(float(v), 2) for v in p.at_mm)
        out.append(OwnPlace(id=f"copy{k + 1}", x_mm=x, y_mm=y, z_mm=z, turn_deg=round(math.degrees(_heading_rad(p.pose)), 1)))
    return tuple(out)


def places(project: Project) -> tuple[Place, ...]:
    """All copies of all parts, in the order of the parts."""
    return tuple(place for part in project.parts for place in places_of(part, project))
