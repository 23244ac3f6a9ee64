"""What is held in plan and follows the mouse."""

from __future__ import annotations

from dataclasses import dataclass, replace

from fravik.kinds import Edits
from fravik.kinds.inplan import Picked
from fravik.model.paths import EditError
from fravik.model.project import Project

SNAP_MM, MIDDLE_MM = 1.0, 4.0  # to whole millimetres, and to the middle line


@dataclass(frozen=True)
class Held:
    """What was picked, where it stands as it is held, and by which spot of it it is held."""

    what: Picked
    x_mm: float
    y_mm: float
    grip_x_mm: float
    grip_y_mm: float
    paired: bool = False  # whether its mirror image can go along
    began: bool = False  # whether it was moved at all

    def at(self, x_mm: float, y_mm: float) -> Held:
        """As the mouse takes it to a point: on whole millimetres, and on the middle line where that is near."""
        x, y = x_mm - self.grip_x_mm, y_mm - self.grip_y_mm
        y = 0.0 if abs(y) < MIDDLE_MM or not self.what.across else round(y / SNAP_MM) * SNAP_MM
        x = round(x / SNAP_MM) * SNAP_MM
        return replace(self, x_mm=x, y_mm=y, began=self.began or (x, y) != (self.x_mm, self.y_mm))

    @property
    def text(self) -> str:
        """What it is, and where."""
        return f"{self.what.name}: {self.x_mm:.0f} forward, {self.y_mm:.0f} left"

    @property
    def label(self) -> str:
        """What the move is called in the history."""
        return f"{self.what.name} moved"

    def edits(self, project: Project, alike: bool) -> Edits:
        """What its move changes; with its mirror image where ``alike``. Nothing where it has not moved."""
        return self.what.moved(project, self.x_mm, self.y_mm, alike) if self.began else ()


def held(project: Project, what: Picked, x_mm: float, y_mm: float) -> Held:
    """What was picked, by the point of the plan at which it was."""
    far = (what.x_mm + 2 * MIDDLE_MM, what.y_mm + 2 * MIDDLE_MM if what.across else 0.0)
    try:
        paired = what.moved(project, *far, True) != what.moved(project, *far, False)
    except EditError:  # why it cannot be moved is told when it is let go of
        paired = False
    return Held(what, what.x_mm, what.y_mm, x_mm - what.x_mm, y_mm - what.y_mm, paired)
