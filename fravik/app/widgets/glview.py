"""The 3D library's widget, drawing no picture twice."""

from __future__ import annotations

from functools import cache
from typing import Any


@cache
def view_class() -> Any:
    """The widget's class; the first call loads the 3D library.

    The library draws the whole scene at every paint, even where the window only shows again what was drawn before. Here a finished picture
    is kept until another is asked for, or the widget has another size. A page that comes into view shows the last picture at first, or an
    empty ground; what has changed is drawn when the rest of the page stands.
    """
    from PyQt6.QtCore import QTimer
    from PyQt6.QtGui import QColor, QPainter, QShowEvent
    from pyvistaqt import QtInteractor

    class View(QtInteractor):
        ground = QColor()  # shown until there is a picture
        kept = False
        drawn = False  # in this size, if ever
        appears = False

        def ask(self) -> None:
            """Draw anew at the next paint."""
            self.kept = False
            self.update()

        def draw_by_paints(self) -> None:
            """Let the mouse ask for a picture, as all else does. (The library would draw twice within one turn of the wheel.)"""
            interactor = self.iren.interactor
            interactor.EnableRenderOff()
            interactor.AddObserver("RenderEvent", lambda *_: None if self._in_paint else self.ask())

        def set_ground(self, colour: str) -> None:
            self.ground = QColor(colour)
            self.set_background(colour)  # type: ignore[arg-type]

        def initializeGL(self) -> None:
            self.kept = self.drawn = False
            super().initializeGL()

        def showEvent(self, event: QShowEvent | None) -> None:
            self.appears = True
            super().showEvent(event)

        def resizeGL(self, w: int, h: int) -> None:
            self.kept = self.drawn = False
            super().resizeGL(w, h)

        def _cb_frame(self, obj: Any, event: Any) -> None:
            self.kept = self.drawn = True
            super()._cb_frame(obj, event)

        def paintGL(self) -> None:
            later = self.appears and not self.kept
            self.appears = False
            if later:
                QTimer.singleShot(0, self.update)
                if not self.drawn:
                    QPainter(self).fillRect(self.rect(), self.ground)
                    return
            # the library takes a paint within a paint for one that needs no drawing: it only copies the picture
            within, self._in_paint = self._in_paint, self._in_paint or self.kept or later
            self.iren.interactor.EnableRenderOn()
            try:
                super().paintGL()
            finally:
                self._in_paint = within
                self.iren.interactor.EnableRenderOff()

    return View
