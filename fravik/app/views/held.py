"""What is held in plan and follows the mouse: a station of a free layout, or a bought thing."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from fravik.kinds import Edits
from fravik.kinds.around import stations
from fravik.kinds.freely import moved
from fravik.kinds.things import Thing, thing_moved, things_in_plan
from fravik.model.project import Project

SNAP_MM, MIDDLE_MM = 1.0, 4.0  # to whole millimetres, and to the middle line


@dataclass(frozen=True)
class Held:
    """Where it stands as it is held, and by which spot of it. ``thing`` is None for a station."""

    id: str
    x_mm: float
    y_mm: float
    grip_x_mm: float
    grip_y_mm: float
    thing: Thing | None = None
    began: bool = False  # whether it was moved at all

    def at(self, x_mm: float, y_mm: float) -> Held:
        """As the mouse takes it to a point: on whole millimetres, and on the middle line where that is near."""
        x, y = x_mm - self.grip_x_mm, y_mm - self.grip_y_mm
        y = 0.0 if abs(y) < MIDDLE_MM or (self.thing is not None and not self.thing.across) else round(y / SNAP_MM) * SNAP_MM
        x = round(x / SNAP_MM) * SNAP_MM
        return replace(self, x_mm=x, y_mm=y, began=self.began or (x, y) != (self.x_mm, self.y_mm))

    @property
    def text(self) -> str:
        """What it is, and where."""
        name = self.thing.name if self.thing is not None else self.id.replace("_", " ")
        return f"{name}: {self.x_mm:.0f} forward, {self.y_mm:.0f} left"

    @property
    def label(self) -> str:
        """What the move is called in the history."""
        return f"{self.thing.name} moved" if self.thing is not None else f"station {self.id.replace('_', ' ')} moved"

    def edits(self, project: Project, alike: bool) -> Edits:
        """What its move changes; with its mirror image where ``alike``. Nothing where it has not moved."""
        if not self.began:
            return ()
        if self.thing is not None:
            return thing_moved(project, self.id, self.x_mm, self.y_mm, alike)
        return moved(project, self.id, self.x_mm, self.y_mm, alike)


def held_at(project: Project, x_mm: float, y_mm: float, grip_mm: float) -> Held | None:
    """The motor of a free layout near a point of the plan, or else the thing that lies there; None where there is neither."""
    if project.layout.kind == "free":
        reach = max(project.components.motor.diameter_mm / 2, grip_mm)
        near = [(math.hypot(s.x_mm - x_mm, s.y_mm - y_mm), s) for s in stations(project)]
        far, s = min(near, key=lambda pair: pair[0])
        if far <= reach:
            return Held(s.id, s.x_mm, s.y_mm, 0.0, 0.0)
    thing = next((t for t in things_in_plan(project) if t.covers(x_mm, y_mm)), None)
    if thing is None:
        return None
    return Held(thing.id, thing.x_mm, thing.y_mm, x_mm - thing.x_mm, y_mm - thing.y_mm, thing)
