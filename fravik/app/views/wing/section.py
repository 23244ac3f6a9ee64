"""A section of a wing as it is printed: skin, webs and tubes to scale."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.engine.wingpicture import SectionPicture

SIDE = 10


class WingSection(QWidget):
    """Leading edge at the left."""

    def __init__(self) -> None:
        super().__init__()
        self.picture: SectionPicture | None = None
        self.setMinimumHeight(70)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Section as printed")

    def show_picture(self, picture: SectionPicture | None) -> None:
        """Another section, or none."""
        self.picture = picture
        self.setAccessibleDescription(picture.words if picture is not None else "")
        self.update()

    def paintEvent(self, event: object) -> None:
        if self.picture is None:
            return
        p, c, s = QPainter(self), theme.current(), self.picture
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        low, high = s.outline_mm.min(axis=0), s.outline_mm.max(axis=0)
        room = QRectF(self.rect()).adjusted(SIDE, 6, -SIDE, -6)
        k = min(room.width() / (high[0] - low[0]), room.height() / max(high[1] - low[1], 1.0))
        x0, y0 = room.center().x() - k * (low[0] + high[0]) / 2, room.center().y() + k * (low[1] + high[1]) / 2

        def at(x: float, y: float) -> QPointF:
            return QPointF(x0 + k * x, y0 - k * y)

        pen = QPen(QColor(c.wall), max(k * s.skin_mm, 1.4))
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        p.setPen(pen)
        p.setBrush(QColor(c.sunk))
        p.drawPolygon(QPolygonF([at(x, y) for x, y in s.outline_mm]))
        for x, bottom, top in s.webs:
            p.drawLine(at(x, bottom), at(x, top))
        for x, z, outside, bore in s.tubes:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(c.carbon if c is theme.LIGHT else c.muted))
            p.drawEllipse(at(x, z), k * outside / 2, k * outside / 2)
            p.setBrush(QColor(c.sunk))
            p.drawEllipse(at(x, z), k * bore / 2, k * bore / 2)
