"""The height of a batch as an upright ruler: minutes a layer by kind of road, what is foreseen at its height, and the layer on show."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QContextMenuEvent, QFontMetricsF, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QMenu, QSizePolicy, QToolTip, QWidget

from fravik.app import theme
from fravik.app.widgets.keptpicture import KeptPicture
from fravik.engine.batchview import KINDS_OF_TIME, BatchView
from fravik.engine.settled import GRAVE

from .colours import feature_colour

LEFT, RIGHT, TOP, BOTTOM = 36, 26, 14, 20
KNOB, PIN = 5.5, 8.5
NEAR_PX = 6.0
STEPS_MM = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0)
STEP_PX = 34.0  # at least so far apart are two figures
WIDE = 0.97  # share of the layers that the width is made for: the few that take longer are cut


class HeightRuler(QWidget):
    """Drag the cursor, step it by wheel and arrow keys; a pin is pressed to be read."""

    stepped = pyqtSignal(int)
    pin_clicked = pyqtSignal(int)
    play_asked = pyqtSignal()
    pause_asked = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.batch: BatchView | None = None
        self.index, self.picked_pin = 0, 0
        self._pins: list[tuple[QRectF, int]] = []
        self._held = False
        self._kept = KeptPicture()
        self.setMinimumSize(84, 120)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Layer, up the height: up and down step, space plays")

    def sizeHint(self) -> QSize:
        return QSize(150, 300)

    def show_batch(self, batch: BatchView | None) -> None:
        """Show another batch, or none."""
        self.batch = batch
        self.update()

    def show_layer(self, index: int, picked_pin: int) -> None:
        """Put the cursor on a layer."""
        self.index, self.picked_pin = index, picked_pin
        if self.batch is not None and len(self.batch.tops_mm):
            stops = "".join(f"; pauses for {s.words}" for s in self.batch.batch.stops)
            self.setAccessibleDescription(f"{self.batch.describe(index)}; {self._words(index)}{stops}")
        self.update()

    def _words(self, index: int) -> str:
        """The minutes of a layer by kind."""
        assert self.batch is not None
        each = self.batch.layer_minutes[index]
        named = [f"{name} {m * 60:.0f} s" for name, m in zip(KINDS_OF_TIME, each.tolist(), strict=True) if m * 60 >= 1.0]
        return f"{each.sum():.1f} min: {', '.join(named)}"

    def _top_mm(self) -> float:
        return float(self.batch.tops_mm[-1]) if self.batch is not None and len(self.batch.tops_mm) else 1.0

    def _y(self, height_mm: float) -> float:
        return self.height() - BOTTOM - (self.height() - TOP - BOTTOM) * height_mm / self._top_mm()

    def _layer_at(self, y: float) -> int:
        assert self.batch is not None
        height = (self.height() - BOTTOM - y) / max(self.height() - TOP - BOTTOM, 1) * self._top_mm()
        return self.batch.index_at(min(max(height, 0.0), self._top_mm()))

    def paintEvent(self, event: object) -> None:
        self._pins = []
        if self.batch is None or not len(self.batch.tops_mm):
            return
        p = QPainter(self)
        # the cursor is drawn over curves and axis many times
        p.drawPixmap(0, 0, self._kept.of(self, self.batch, self._drawn))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._stops(p)
        self._draw_pins(p)
        self._cursor(p)
        if self.hasFocus():
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(QColor(theme.current().accent), 1, Qt.PenStyle.DotLine))
            p.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _drawn(self, p: QPainter) -> None:
        self._curves(p)
        self._axis(p)

    def _curves(self, p: QPainter) -> None:
        """One band a kind, the outlines innermost; a layer is as high as it is thick."""
        assert self.batch is not None
        minutes, tops = self.batch.layer_minutes, self.batch.tops_mm
        grown = np.cumsum(minutes, axis=1)
        most = max(float(np.quantile(grown[:, -1], WIDE)) * 1.08, 1e-9)
        heights = np.repeat(np.concatenate([[0.0], tops]), 2)[1:-1]  # bottom and top of each layer
        y = [self._y(float(h)) for h in heights]
        x = LEFT + (self.width() - LEFT - RIGHT) * np.minimum(np.repeat(grown, 2, axis=0) / most, 1.0)
        inner = np.full(len(y), float(LEFT))
        p.setPen(Qt.PenStyle.NoPen)
        for k, name in enumerate(KINDS_OF_TIME):
            if minutes[:, k].max() > 0:
                edge = [QPointF(float(a), b) for a, b in zip(x[:, k], y, strict=True)]
                back = [QPointF(float(a), b) for a, b in zip(inner[::-1], y[::-1], strict=True)]
                p.setBrush(feature_colour(name))
                p.drawPolygon(QPolygonF([*edge, *back]))
            inner = x[:, k]

    def _axis(self, p: QPainter) -> None:
        c = theme.current()
        p.setPen(QPen(QColor(c.ink), 1.2))
        p.drawLine(QPointF(LEFT, self._y(0.0)), QPointF(LEFT, self._y(self._top_mm())))
        px = (self.height() - TOP - BOTTOM) / self._top_mm()
        step = next((s for s in STEPS_MM if s * px >= STEP_PX), STEPS_MM[-1])
        p.setFont(theme.sans(7.5))
        for k in range(int(self._top_mm() / step + 1e-6) + 1):
            y = self._y(k * step)
            p.setPen(QPen(QColor(c.ink), 1.2))
            p.drawLine(QPointF(LEFT - 5, y), QPointF(LEFT, y))
            p.setPen(QColor(c.muted))
            p.drawText(QRectF(0, y - 8, LEFT - 8, 16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{k * step:g}")
        p.drawText(QRectF(0, self.height() - theme.sized(13), LEFT - 8, theme.sized(13)), Qt.AlignmentFlag.AlignRight, "mm")
        room = self.width() - LEFT
        across = next((t for t in ("min/layer", "min") if QFontMetricsF(p.font()).horizontalAdvance(t) <= room), "")
        p.drawText(QRectF(LEFT, self.height() - theme.sized(13), room, theme.sized(13)), Qt.AlignmentFlag.AlignLeft, across)

    def _stops(self, p: QPainter) -> None:
        """A line across where it pauses: two bars on it, or a drop where another colour is loaded."""
        assert self.batch is not None
        ink, right = QColor(theme.current().ink), self.width() - RIGHT - 3.0
        for stop in self.batch.batch.stops:
            y = self._y(stop.height_mm)
            p.setPen(QPen(ink, 1.2, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(LEFT, y), QPointF(right - 9, y))
            p.setPen(QPen(ink, 2.2))
            if "colour" in stop.why:
                p.setBrush(ink)
                drop = ((4, -5), (0, 1), (4, 4), (8, 1))
                p.drawPolygon(QPolygonF([QPointF(right - x, y + up) for x, up in drop]))
            else:
                for x in (right - 6, right - 1):
                    p.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is None or self.batch is None or not len(self.batch.tops_mm):
            return
        by_mouse = event.reason() == QContextMenuEvent.Reason.Mouse
        k = self._layer_at(float(event.pos().y())) if by_mouse else min(self.index, len(self.batch.tops_mm) - 1)
        height, menu = float(self.batch.tops_mm[k]), QMenu(self)
        action = menu.addAction(f"Pause at {height:.1f} mm")
        assert action is not None
        action.triggered.connect(lambda: self.pause_asked.emit(height))
        menu.popup(event.globalPos() if by_mouse else self.mapToGlobal(self.rect().center()))

    def _draw_pins(self, p: QPainter) -> None:
        """Numbers at the right, at their height; those that would lie on each other are moved apart."""
        assert self.batch is not None
        c = theme.current()
        p.setFont(theme.sans(7.5, bold=True))
        taken: list[float] = []
        for pin in self.batch.pins:
            foot = self._y(min(max(float(pin.trouble.place_mm[2]), 0.0), self._top_mm()))
            y = min(max(foot, TOP + PIN), self.height() - BOTTOM - PIN)
            for away in (s * k * (2 * PIN + 2) for k in range(40) for s in (-1, 1)):
                if all(abs(y + away - t) >= 2 * PIN + 1 for t in taken) and PIN < y + away < self.height() - PIN:
                    y += away
                    break
            taken.append(y)
            middle = QPointF(self.width() - PIN - 2, y)
            picked = pin.number == self.picked_pin
            colour = QColor(c.fails if pin.trouble.weight >= GRAVE else c.tight)
            p.setPen(QPen(colour, 1.0))
            p.drawLine(QPointF(LEFT, foot), QPointF(self.width() - 2 * PIN - 4, y))
            p.setPen(QPen(colour, 1.4))
            p.setBrush(colour if picked else QColor(c.card))
            box = QRectF(middle.x() - PIN, middle.y() - PIN, 2 * PIN, 2 * PIN)
            p.drawRect(box)
            p.setPen(QColor(c.card if picked else c.ink))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(pin.number))
            self._pins.append((box.adjusted(-2, -2, 2, 2), pin.number))

    def _cursor(self, p: QPainter) -> None:
        assert self.batch is not None
        c = theme.current()
        height = float(self.batch.tops_mm[min(self.index, len(self.batch.tops_mm) - 1)])
        y = self._y(height)
        p.setPen(QPen(QColor(c.ink), 1.8))
        p.drawLine(QPointF(LEFT - 4, y), QPointF(self.width() - RIGHT + 2, y))
        p.setBrush(QColor(c.ink))
        p.drawEllipse(QPointF(self.width() - RIGHT + 2, y), KNOB, KNOB)
        p.setFont(theme.sans(8))
        text = f"{height:.1f} mm · layer {self.index + 1}"
        metrics, room, tall = QFontMetricsF(p.font()), self.width() - LEFT - 4.0, theme.sized(16)
        if metrics.horizontalAdvance(text) + 10 > room:
            text = f"{height:.1f} mm"
        if metrics.horizontalAdvance(text) + 10 > room:
            text = f"{height:.1f}"
        box = QRectF(LEFT + 3, y - tall - 3 if y > TOP + tall + 6 else y + 4, metrics.horizontalAdvance(text) + 10, tall)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.card))
        p.drawRect(box)
        p.setPen(QColor(c.ink))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and self.batch is not None and len(self.batch.tops_mm):
            k = self._layer_at(float(event.pos().y()))
            words = self._words(k).replace(": ", "\n", 1).replace(", ", "\n")
            near = [s.words for s in self.batch.batch.stops if abs(self._y(s.height_mm) - event.pos().y()) <= NEAR_PX]
            words += "".join(f"\nPauses for {w}" for w in near)
            QToolTip.showText(event.globalPos(), f"Layer {k + 1}, {self.batch.tops_mm[k]:.2f} mm\n{words}", self)
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.batch is None or not len(self.batch.tops_mm):
            return
        hit = next((n for box, n in self._pins if box.contains(event.position())), 0)
        if hit:
            self.pin_clicked.emit(hit)
            return
        self._held = True
        self.stepped.emit(self._layer_at(event.position().y()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held and self.batch is not None:
            self.stepped.emit(self._layer_at(event.position().y()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = False

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.angleDelta().y():
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self.stepped.emit(max(0, self.index + (times if event.angleDelta().y() > 0 else -times)))
            event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1, Qt.Key.Key_PageUp: 10, Qt.Key.Key_PageDown: -10, Qt.Key.Key_Home: -10**6,
                 Qt.Key.Key_End: 10**6}  # fmt: skip
        if event is None:
            return
        key = Qt.Key(event.key())
        if key in steps:
            self.stepped.emit(max(0, self.index + steps[key]))
        elif key == Qt.Key.Key_Space:
            self.play_asked.emit()
        else:
            super().keyPressEvent(event)
