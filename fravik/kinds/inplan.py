"""What is picked in plan and moved: stations, bought things, and copies that may stand where their maker puts them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

from fravik.model.paths import set_many
from fravik.model.project import Part, Project

from .around import arm_ends
from .asking import detach
from .base import Edits
from .carried import on_mounts
from .freely import freed, moved
from .registry import kind_of
from .things import SAME_MM, Thing, thing_moved, things_in_plan


class Picked(Protocol):
    """Something in plan: where it stands, whether it leaves the middle line, and how large it is drawn (0: by a ring)."""

    @property
    def name(self) -> str: ...
    @property
    def x_mm(self) -> float: ...
    @property
    def y_mm(self) -> float: ...
    @property
    def across(self) -> bool: ...
    @property
    def size_mm(self) -> tuple[float, float]: ...

    def moved(self, project: Project, x_mm: float, y_mm: float, alike: bool) -> Edits:
        """The edits that put it there, and its mirror image on the other side where ``alike``."""


@dataclass(frozen=True)
class StationPicked:
    """Where an arm ends. One of a layout lets go of it: from then on every station stays where it is put."""

    id: str
    x_mm: float
    y_mm: float
    across: bool = True
    size_mm: tuple[float, float] = (0.0, 0.0)

    @property
    def name(self) -> str:
        return f"station {self.id.replace('_', ' ')}"

    def moved(self, project: Project, x_mm: float, y_mm: float, alike: bool) -> Edits:
        free = () if project.layout.kind == "free" else freed(project)
        return (*free, *moved(set_many(project, free), self.id, x_mm, y_mm, alike))


@dataclass(frozen=True)
class ThingPicked:
    """A bought thing."""

    thing: Thing

    @property
    def name(self) -> str:
        return self.thing.name

    @property
    def x_mm(self) -> float:
        return self.thing.x_mm

    @property
    def y_mm(self) -> float:
        return self.thing.y_mm

    @property
    def across(self) -> bool:
        return self.thing.across

    @property
    def size_mm(self) -> tuple[float, float]:
        return self.thing.length_mm, self.thing.width_mm

    def moved(self, project: Project, x_mm: float, y_mm: float, alike: bool) -> Edits:
        return thing_moved(project, self.thing.id, x_mm, y_mm, alike)


@dataclass(frozen=True)
class CopyPicked:
    """A copy of a part, by its number from 0. Once moved, all its part's copies stand where their maker puts them."""

    part: Part
    number: int
    x_mm: float
    y_mm: float
    across: bool = True
    size_mm: tuple[float, float] = (0.0, 0.0)

    @property
    def name(self) -> str:
        return self.part.name.lower()

    def moved(self, project: Project, x_mm: float, y_mm: float, alike: bool) -> Edits:
        own = list(detach(self.part, project))
        me = own[self.number]
        others = [k for k, o in enumerate(own) if k != self.number and math.hypot(o.x_mm - me.x_mm, o.y_mm + me.y_mm) <= SAME_MM]
        own[self.number] = me.model_copy(update={"x_mm": x_mm, "y_mm": y_mm})
        for k in others if alike and abs(me.y_mm) > SAME_MM else ():
            own[k] = own[k].model_copy(update={"x_mm": x_mm, "y_mm": -y_mm})
        return ((f"parts.{self.part.id}.own_places", tuple(own)), *self._with_it(project, x_mm - me.x_mm, y_mm - me.y_mm))

    def _with_it(self, project: Project, forward_mm: float, left_mm: float) -> Edits:
        """What its part carries goes along with the first copy."""
        plated = [p for p in project.parts if kind_of(p.shape).seat == "plate"]
        carried = on_mounts(project, plated).get(self.part.id) if self.number == 0 else None
        if carried is None:
            return ()
        block, at = next(b for b in project.components.blocks if b.id == carried), f"components.blocks.{carried}."
        return (at + "x_mm", block.x_mm + forward_mm), (at + "y_mm", block.y_mm + left_mm)


def station_at(project: Project, x_mm: float, y_mm: float, grip_mm: float) -> StationPicked | None:
    """The arm's end whose motor a point of the plan lies on, or that is so near to it."""
    reach = max(project.components.motor.diameter_mm / 2, grip_mm)
    near = [(math.hypot(s.x_mm - x_mm, s.y_mm - y_mm), k, s) for k, s in enumerate(arm_ends(project))]
    far, _, s = min(near, default=(math.inf, 0, None))
    return StationPicked(s.id, s.x_mm, s.y_mm) if s is not None and far <= reach else None


def thing_at(project: Project, x_mm: float, y_mm: float) -> ThingPicked | None:
    """The bought thing that a point of the plan lies on."""
    return next((ThingPicked(t) for t in things_in_plan(project) if t.covers(x_mm, y_mm)), None)


def copy_picked(project: Project, part_id: str, number: int) -> CopyPicked | None:
    """A copy of a part, where its kind lets it stand elsewhere."""
    part = next(p for p in project.parts if p.id == part_id)
    if not kind_of(part.shape).detachable:
        return None
    own = detach(part, project)[number]
    return CopyPicked(part, number, own.x_mm, own.y_mm)
