"""A batch on its bed, turned with the mouse and stepped through layer by layer."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPixmap, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.app.turns import Turns
from fravik.engine.batchview import BatchView

from .bedpicture import BedPicture, Loops, Sight

# turn, tilt and nearness of the usual view
USUAL = (-17.0, 36.0, 1.0)


class BatchPicture(QWidget):
    """Drag turns the batch, the wheel steps through layers, Ctrl and the wheel come nearer; a click on a pin names its trouble."""

    stepped = pyqtSignal(int)
    pin_clicked = pyqtSignal(int)
    play_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.batch: BatchView | None = None
        self.index = 0
        self.picked_pin = 0
        self.turn_deg, self.tilt_deg, self.zoom = USUAL
        self._look = QPointF()
        self._drag: QPointF | None = None
        self._moved = False
        self._plates = 0  # shown so far
        self._loops: Loops = {}
        self._pins: list[tuple[QRectF, int]] = []
        self._drawn: QPixmap | None = None
        self._shows: tuple[object, ...] = ()
        self._turns = Turns(self)
        self.setMinimumSize(240, 140)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The bed, layer by layer: up and down step, space plays, left and right turn it")

    def show_batch(self, batch: BatchView | None) -> None:
        """Show a batch; the same height is kept when it has one."""
        if batch is not self.batch:
            self._loops, self.batch, self._plates = {}, batch, self._plates + 1
        self.show_layer(min(self.index, len(batch.tops_mm) - 1) if batch is not None else 0)

    def show_layer(self, index: int) -> None:
        """Show the batch as it is when this layer is done."""
        self.index = max(0, index)
        if self.batch is not None and len(self.batch.tops_mm):
            self.index = min(self.index, len(self.batch.tops_mm) - 1)
            self.setAccessibleDescription(self.batch.describe(self.index))
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        way = 1 if event.angleDelta().y() > 0 else -1
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom = min(12.0, max(0.6, self.zoom * 1.15**way))
            self.update()
        else:
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self.stepped.emit(self.index + way * times)
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1, Qt.Key.Key_PageUp: 10, Qt.Key.Key_PageDown: -10, Qt.Key.Key_Home: -10**6,
                 Qt.Key.Key_End: 10**6}  # fmt: skip
        key = Qt.Key(event.key())
        if key in steps:
            self.stepped.emit(max(0, self.index + steps[key]))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.turn_deg += 5.0 if key == Qt.Key.Key_Right else -5.0
            self.update()
        elif key == Qt.Key.Key_Space:
            self.play_asked.emit()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._drag, self._moved = event.position(), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        step = event.position() - self._drag
        if not self._moved and abs(step.x()) + abs(step.y()) < 4:
            return
        self._moved, self._drag = True, event.position()
        if event.buttons() & Qt.MouseButton.RightButton or event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._look += step
        else:
            self.turn_deg += 0.4 * step.x()
            self.tilt_deg = min(90.0, max(12.0, self.tilt_deg + 0.4 * step.y()))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and not self._moved:
            hit = next((n for box, n in self._pins if box.contains(event.position())), 0)
            if hit:
                self.pin_clicked.emit(hit)
        self._drag = None

    def home(self) -> None:
        """The whole batch, from the usual side."""
        (self.turn_deg, self.tilt_deg, self.zoom), self._look = USUAL, QPointF()
        self.update()

    def come_near(self) -> None:
        """As near as the whole of what is on the batch allows."""
        self.home()
        if self.batch is not None and self.batch.copies():
            near = BedPicture(self.batch, self.index, self._sight(), 0, self._loops).nearest()
            self.zoom = min(12.0, max(1.0, near))

    def from_above(self) -> None:
        """The batch seen square on."""
        self.turn_deg, self.tilt_deg, self._look = 0.0, 90.0, QPointF()
        self.update()

    def grab(self, *args: Any) -> QPixmap:
        """As the tool kit's, and what is shown is all there."""
        if self._wanted() != self._shows:
            self._begin()
        self._turns.finish()
        return super().grab(*args)

    def _sight(self) -> Sight:
        return Sight(self.turn_deg, self.tilt_deg, self.zoom, self._look.x(), self._look.y(), self.width(), self.height())

    def _wanted(self) -> tuple[object, ...]:
        return (self._plates, self.index, self._sight(), self.devicePixelRatioF(), self.picked_pin, theme.current())

    def paintEvent(self, event: object) -> None:
        if self._wanted() != self._shows and not self._turns.busy:
            self._begin()
        if self.batch is not None and self._drawn is not None:
            QPainter(self).drawPixmap(0, 0, self._drawn)

    def _begin(self) -> None:
        """Draw anew in the next turns of the window, as four tall parts take a tenth of a second; the last picture stays till then."""
        if self.batch is None:
            self._turns.stop()
            self._drawn, self._shows, self._pins = None, self._wanted(), []
        else:
            bed = BedPicture(self.batch, self.index, self._sight(), self.picked_pin, self._loops)
            self._turns.begin(self._drawing(bed, self._wanted()))

    def _drawing(self, bed: BedPicture, wanted: tuple[object, ...]) -> Iterator[None]:
        ratio = self.devicePixelRatioF()
        canvas = QPixmap(math.ceil(self.width() * ratio), math.ceil(self.height() * ratio))
        canvas.setDevicePixelRatio(ratio)
        canvas.fill(Qt.GlobalColor.transparent)
        painter = QPainter(canvas)
        try:
            yield from bed.steps(painter)
        finally:
            painter.end()
        self._drawn, self._shows, self._pins = canvas, wanted, bed.pins
        self.update()
