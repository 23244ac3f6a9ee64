"""The 3D library's widget, drawing no picture twice."""

from __future__ import annotations

from functools import cache
from typing import Any


@cache
def view_class() -> Any:
    """The widget's class; the first call loads the 3D library.

    The library draws the whole scene at every paint, even where the window only shows again what was drawn before. Here a finished picture
    is kept until another is asked for, or the widget has another size.
    """
    from pyvistaqt import QtInteractor

    class View(QtInteractor):
        kept = False

        def ask(self) -> None:
            """Draw anew at the next paint."""
            self.kept = False
            self.update()

        def initializeGL(self) -> None:
            self.kept = False
            super().initializeGL()

        def resizeGL(self, w: int, h: int) -> None:
            self.kept = False
            super().resizeGL(w, h)

        def _cb_frame(self, obj: Any, event: Any) -> None:
            self.kept = True
            super()._cb_frame(obj, event)

        def paintGL(self) -> None:
            # the library takes a paint within a paint for one that needs no drawing: it only copies the picture
            within, self._in_paint = self._in_paint, self._in_paint or self.kept
            try:
                super().paintGL()
            finally:
                self._in_paint = within

    return View
