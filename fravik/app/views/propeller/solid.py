"""The propeller in 3D, coloured as its plan is."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QTimer

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.scene import Actors, Scene, blend, poly
from fravik.engine.propeller import PropellerSight
from fravik.shape.build import Mesh

from .plan import BladePlan

SETTLED_MS = 120


class BladeScene(Scene):
    """Turned by dragging; made when it is first looked at."""

    def __init__(self, session: Session, plan: BladePlan) -> None:
        super().__init__(self._put, "The propeller in 3D")
        self.session, self.plan = session, plan
        self.view_from, self.room = (-0.5, -1.6, 1.3), 1.02
        self._actors = Actors()
        self._of: str | None = None
        self.prepare_by(session.aside, self._wanted)
        session.opened.connect(self.refit)
        self.ready.connect(lambda: QTimer.singleShot(SETTLED_MS, self._in_place))

    def show_sight(self, sight: PropellerSight | None) -> None:
        """Another propeller, or the same coloured otherwise."""
        name = sight.part.id if sight is not None else None
        if name != self._of:
            self._of = name
            self.refit()
        else:
            self.invalidate()

    def _in_place(self) -> None:
        """The 3D surface is a window of its own, which does not follow when only what holds it has moved."""
        self.holder.move(0, 1)
        self.holder.move(0, 0)

    def _wanted(self) -> Any:
        sight, engine = self.plan.sight, self.session.engine
        return None if sight is None else lambda: engine.fine_mesh(sight.spun.part.given)

    def _put(self, plotter: Any) -> None:
        mesh, c = self.prepared, theme.current()
        if not isinstance(mesh, Mesh) or self.plan.sight is None:
            return
        surface = poly(mesh.vertices_mm, mesh.faces)
        surface.point_data["share"] = np.clip(self.plan.shares_mm(np.hypot(mesh.vertices_mm[:, 0], mesh.vertices_mm[:, 1])), 0.0, 1.0)
        self._actors.begin()
        self._actors.put(plotter, "blade", object(), lambda: surface, {"scalars": "share", "cmap": blend(*c.reserve), "clim": (0.0, 1.0)})
        self._actors.end(plotter)
