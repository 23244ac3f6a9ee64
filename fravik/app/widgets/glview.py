"""The 3D library's widget, drawing no picture twice."""

from __future__ import annotations

from functools import cache
from typing import Any

from fravik.app import painting

# OpenGL's own numbers (its registry's header)
GL_COLOR_BUFFER_BIT, GL_SCISSOR_TEST, GL_DRAW_FRAMEBUFFER, GL_NEAREST = 0x4000, 0x0C11, 0x8CA9, 0x2600
# what graphics drivers without a graphics processor call themselves
DRAWN_BY_PROCESSOR = ("llvmpipe", "softpipe", "swrast", "software rasterizer")
SIZE_RESTS_MS = 70  # after the last change of size, before the picture is drawn anew in it


@cache
def view_class() -> Any:
    """The widget's class; the first call loads the 3D library.

    The library draws the whole scene at every paint, even where the window only shows again what was drawn before. Here a finished picture
    is kept until another is asked for, or the widget has another size. A page that comes into view shows the last picture at first, or an
    empty ground; what has changed is drawn when the rest of the page stands. While the size still changes, the last picture stays in the
    middle, as large as it was: without a graphics processor a larger or smaller copy takes as long as drawing it anew.
    """
    from PyQt6.QtCore import QTimer
    from PyQt6.QtGui import QColor, QShowEvent
    from pyvistaqt import QtInteractor, rwi

    rwi.GL_LINEAR = GL_NEAREST  # pixel for pixel: else the driver first compiles what blends them, for as long as a picture takes

    class View(QtInteractor):
        ground = QColor()  # shown until there is a picture
        kept = False
        drawn = False  # in this size, if ever
        made_ready = False  # to draw at all, see there
        appears = True  # its first paint comes before it is told that it is shown
        size_to_come: tuple[int, int] | None = None

        def __init__(self, *args: Any, **kwargs: Any) -> None:
            super().__init__(*args, **kwargs)
            self.size_rests = QTimer(self)
            self.size_rests.setSingleShot(True)
            self.size_rests.setInterval(SIZE_RESTS_MS)
            self.size_rests.timeout.connect(self.update)

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
            self.kept = self.drawn = self.made_ready = False
            super().initializeGL()
            window = self.GetRenderWindow()
            if any(word in str(window.ReportCapabilities()).lower() for word in DRAWN_BY_PROCESSOR):
                window.SetMultiSamples(0)  # it would take twice as long to draw

        def showEvent(self, event: QShowEvent | None) -> None:
            self.appears = True
            super().showEvent(event)

        def resizeGL(self, w: int, h: int) -> None:
            self.kept = False
            if self.drawn:
                self.size_to_come = (w, h)
                self.size_rests.start()
            else:
                super().resizeGL(w, h)

        def _cb_frame(self, obj: Any, event: Any) -> None:
            self.kept = self.drawn = True
            super()._cb_frame(obj, event)

        def paintGL(self) -> None:
            later = (self.appears or painting.hastens()) and not self.kept
            self.appears = False
            if later:
                QTimer.singleShot(0, self.update)
                if not self.drawn:
                    self.show_ground()
                    return
            if self.size_to_come is not None:
                if later or self.size_rests.isActive():
                    self.show_last_in_this_size()
                    return
                super().resizeGL(*self.size_to_come)
                self.size_to_come = None
            # the library takes a paint within a paint for one that needs no drawing: it only copies the picture
            within, self._in_paint = self._in_paint, self._in_paint or self.kept or later
            self.iren.interactor.EnableRenderOn()
            try:
                things = [] if self.made_ready or self._in_paint else [a for a in self.renderer.actors.values() if a.GetVisibility()]
                if things:
                    self.make_ready(things[1:])
                else:
                    super().paintGL()
            finally:
                self._in_paint = within
                self.iren.interactor.EnableRenderOff()

        def make_ready(self, others: list[Any]) -> None:
            """The first picture takes four times as long as the next: one thing of it is drawn unseen, and all in the next turn."""
            self.made_ready = True
            for actor in others:
                actor.SetVisibility(False)
            try:
                super().paintGL()
            finally:
                for actor in others:
                    actor.SetVisibility(True)
            self.show_ground()
            self.kept = self.drawn = False
            QTimer.singleShot(0, self.update)

        def show_ground(self) -> None:
            # (a painter of the tool kit would first have its shaders compiled, for as long as a picture takes)
            gl, colour = self._gl, self.ground
            if gl is not None:
                gl.glBindFramebuffer(GL_DRAW_FRAMEBUFFER, self.defaultFramebufferObject())
                gl.glDisable(GL_SCISSOR_TEST)
                gl.glClearColor(colour.redF(), colour.greenF(), colour.blueF(), 1.0)
                gl.glClear(GL_COLOR_BUFFER_BIT)

        def show_last_in_this_size(self) -> None:
            """Only what lies within both: for a copy that reaches beyond either the driver would first make ready for 0.05 s."""
            self.show_ground()
            gl, ratio, drawn = self._gl, self.devicePixelRatioF(), self.GetRenderWindow()
            if gl is None:
                return
            across, up = (_overlap(round(n * ratio), m) for n, m in zip((self.width(), self.height()), drawn.GetSize(), strict=True))
            size = across[2], up[2]
            gl.draw_buffer_attachment0()
            drawn.BlitDisplayFramebuffer(0, across[0], up[0], *size, across[1], up[1], *size, GL_COLOR_BUFFER_BIT, GL_NEAREST)
            gl.glColorMask(False, False, False, True)  # nothing behind the window shines through
            gl.glClear(GL_COLOR_BUFFER_BIT)
            gl.glColorMask(True, True, True, True)

    return View


def _overlap(room: int, length: int) -> tuple[int, int, int]:
    """Of a length in the middle of some room: where what lies within both begins in the one and in the other, and how long it is."""
    return max(length - room, 0) // 2, max(room - length, 0) // 2, min(room, length)
