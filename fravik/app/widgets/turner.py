"""How a part lies on the bed, turned by hand: two outlines standing on the bed, each with a knob to drag."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from fravik.app import theme

Floats = NDArray[np.float64]
SNAP_DEG = 5.0


class TurnDial(QWidget):
    """One outline seen along an axis, with the bed under it, layers across it, and a knob on a ring."""

    turned = pyqtSignal(float)

    def __init__(self, name: str, low_deg: float, high_deg: float) -> None:
        super().__init__()
        self.name, self._low, self._high = name, low_deg, high_deg
        self.angle_deg = 0.0
        self._outline: Floats = np.zeros((0, 2))
        self._drag = False
        self.setMinimumSize(84, 74)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{name}: arrow keys turn it")
        self.setToolTip(f"Drag the knob, or use the arrow keys: {name.lower()}")

    def show_part(self, outline: Floats, angle_deg: float) -> None:
        """Hull of the part as seen along the axis, before the turn (n, 2), and the turn in degrees."""
        self._outline, self.angle_deg = outline, angle_deg
        self.setAccessibleDescription(f"{angle_deg:g} degrees")
        self.update()

    def _ring(self) -> tuple[QPointF, float]:
        return QPointF(self.width() / 2, self.height() / 2), min(self.width(), self.height()) / 2 - 14

    def paintEvent(self, event: object) -> None:
        c = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle, r = self._ring()
        p.setPen(QPen(QColor(c.rule), 1.4, Qt.PenStyle.DotLine))
        p.drawEllipse(middle, r, r)
        if len(self._outline):
            a = math.radians(self.angle_deg)
            turn = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
            pts = self._outline @ turn.T
            size = max(float(np.abs(pts).max()), 1e-6)
            k = 0.74 * r / size
            shape = QPolygonF([QPointF(middle.x() + k * x, middle.y() - k * y) for x, y in pts])
            floor = max(q.y() for q in (shape.at(i) for i in range(shape.count())))
            p.setPen(QPen(QColor(c.wall), 1.2))
            p.setBrush(QColor(c.cover))
            p.drawPolygon(shape)
            clip = QPainterPath()
            clip.addPolygon(shape)
            p.save()
            p.setClipPath(clip)
            line = QColor(c.card)
            line.setAlpha(150)
            p.setPen(QPen(line, 1))
            y = floor
            while y > middle.y() - r:
                p.drawLine(QPointF(middle.x() - r, y), QPointF(middle.x() + r, y))
                y -= 4
            p.restore()
            p.setPen(QPen(QColor(c.ink), 2))
            p.drawLine(QPointF(middle.x() - r, floor + 1), QPointF(middle.x() + r, floor + 1))
        a = math.radians(self.angle_deg)
        knob = QPointF(middle.x() + r * math.cos(a), middle.y() - r * math.sin(a))
        p.setPen(QPen(QColor(c.accent if self.hasFocus() or self._drag else c.ink), 2))
        p.setBrush(QColor(c.card))
        p.drawEllipse(knob, 7, 7)
        p.setFont(theme.sans(8))
        p.setPen(QColor(c.muted))
        p.drawText(4, 12, f"{self.name} {self.angle_deg:g}°")

    def _angle_at(self, at: QPointF, fine: bool) -> float:
        middle, _ = self._ring()
        a = math.degrees(math.atan2(middle.y() - at.y(), at.x() - middle.x()))
        snap = 1.0 if fine else SNAP_DEG
        return min(max(round(a / snap) * snap, self._low), self._high)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._drag = True
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if not self._drag:
            return
        new = self._angle_at(event.position(), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        if new != self.angle_deg:
            self.angle_deg = new
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag:
            self._drag = False
            self.turned.emit(self.angle_deg)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = 1.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else SNAP_DEG
        way = {Qt.Key.Key_Left: 1, Qt.Key.Key_Up: 1, Qt.Key.Key_Right: -1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()))
        if way is None:
            super().keyPressEvent(event)
            return
        self.angle_deg = min(max(self.angle_deg + way * step, self._low), self._high)
        self.update()
        self.turned.emit(self.angle_deg)
