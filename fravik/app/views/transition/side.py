"""The craft from its side with the forces on it."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.engine.sideview import Arrow, SideView

MARGIN, LONGEST = 14, 0.36  # of the picture's height, the longest arrow
HEAD_PX = 7.0
LOW_PX = 140


def _colour(a: Arrow) -> QColor:
    c = theme.current()
    return QColor({"rotor": c.wall, "wing": c.holds, "drag": c.muted, "weight": c.ink}[a.kind])


class SidePicture(QWidget):
    """Nose at the left, as it flies to the left."""

    def __init__(self) -> None:
        super().__init__()
        self.view: SideView | None = None
        self.setMinimumHeight(96)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Forces on the craft, from its side")

    def show_view(self, view: SideView | None) -> None:
        """Another point, or none."""
        self.view = view
        self.setAccessibleDescription(" ".join(a.text for a in view.arrows) if view is not None else "")
        self.update()

    def paintEvent(self, event: object) -> None:
        v = self.view
        if v is None:
            return
        p, c = QPainter(self), theme.current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        every = np.concatenate([v.body_m, *v.wings_m, *[np.array(d) for d in v.disks_m]])
        low, high = every.min(axis=0), every.max(axis=0)
        listed = self._listed(p, v)
        room = QRectF(self.rect()).adjusted(MARGIN + listed, MARGIN, -MARGIN, -MARGIN)
        k = min(0.6 * room.width() / max(high[0] - low[0], 0.05), 0.62 * room.height() / max(high[1] - low[1], 0.05))
        x0, y0 = room.center().x() + k * (low[0] + high[0]) / 2, room.center().y() + k * (low[1] + high[1]) / 2

        def at(q: np.ndarray) -> QPointF:
            return QPointF(x0 - k * float(q[0]), y0 - k * float(q[1]))

        p.setPen(QPen(QColor(c.ink), 1.2))
        body = QColor(c.core)
        body.setAlpha(170)
        p.setBrush(body)
        p.drawPolygon(QPolygonF([at(q) for q in v.body_m]))
        wing = QColor(c.cover)
        p.setBrush(wing)
        for w in v.wings_m:
            p.drawPolygon(QPolygonF([at(q) for q in w]))
        for a, b, foot in v.disks_m:
            p.setPen(QPen(QColor(c.carbon if c is theme.LIGHT else c.muted), 4))
            p.drawLine(at((np.array(a) + np.array(b)) / 2), at(foot))
            p.setPen(QPen(QColor(c.wall), 2.6))
            p.drawLine(at(a), at(b))
        p.setPen(QPen(QColor(c.fails), 2))
        p.setBrush(QColor(c.card))
        p.drawEllipse(at(v.com_m), 5, 5)
        self._forces(p, v, at)

    def _listed(self, p: QPainter, v: SideView) -> float:
        """Where there is little height, forces are named in a column; its width."""
        if self.height() >= theme.sized(LOW_PX) or not v.arrows:
            return 0.0
        p.setFont(theme.sans(8.5))
        wide = max(p.fontMetrics().horizontalAdvance(a.text) for a in v.arrows) + 6.0
        for k, a in enumerate(v.arrows):
            p.setPen(_colour(a))
            p.drawText(QRectF(2, 2 + 16 * k, wide, 16), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, a.text)
        return wide

    def _forces(self, p: QPainter, v: SideView, at) -> None:  # type: ignore[no-untyped-def]
        if not v.arrows:
            return
        most = max(float(np.hypot(*a.force_n)) for a in v.arrows)
        px = LONGEST * self.height() / most
        taken: list[QRectF] = []
        for a in v.arrows:
            self._arrow(p, a, at(a.at_m), px, taken)

    def _arrow(self, p: QPainter, a: Arrow, start: QPointF, px: float, taken: list[QRectF]) -> None:
        c = theme.current()
        colour = _colour(a)
        end = QPointF(start.x() - px * float(a.force_n[0]), start.y() - px * float(a.force_n[1]))
        p.setPen(QPen(colour, 2))
        p.drawLine(start, end)
        way = math.atan2(end.y() - start.y(), end.x() - start.x())
        p.setBrush(colour)
        p.drawPolygon(
            QPolygonF(
                [end, *(QPointF(end.x() - HEAD_PX * math.cos(way + t), end.y() - HEAD_PX * math.sin(way + t)) for t in (0.45, -0.45))]
            )
        )
        if self.height() < theme.sized(LOW_PX):
            return
        p.setFont(theme.sans(8.5))
        wide = p.fontMetrics().horizontalAdvance(a.text) + 4.0
        left = end.x() + 8 if math.cos(way) >= -0.3 else end.x() - wide - 8
        if abs(math.cos(way)) < 0.3:
            left = end.x() + 9
        box = QRectF(min(max(left, 2.0), self.width() - wide - 2), min(max(end.y() - 8, 1.0), self.height() - 17.0), wide, 16)
        for _ in range(6):
            if not any(box.intersects(t) for t in taken):
                break
            box.translate(0, 15 if box.bottom() + 15 < self.height() else -15)
        taken.append(box)
        veil = QColor(c.card)
        veil.setAlpha(190)
        p.fillRect(box, veil)
        p.setPen(colour)
        p.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, a.text)
