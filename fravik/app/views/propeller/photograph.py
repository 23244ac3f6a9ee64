"""A photograph laid under a blade's plan: its axis and its tip are clicked, which sets its scale and its turn."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QImageReader, QPainter, QTransform

from fravik.app import theme

MOST_PX, SHOWN = 3000, 0.55
ASKS = ("Click the middle of the shaft on the photograph.", "Now click the tip of the blade.")


def read_photograph(path: Path) -> QImage | None:
    """A picture as the camera held it, no larger than is of use; None for what is none."""
    reader = QImageReader(str(path))
    reader.setAutoTransform(True)
    size = reader.size()
    if size.isValid() and max(size.width(), size.height()) > MOST_PX:
        reader.setScaledSize(size.scaled(MOST_PX, MOST_PX, Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    return None if image.isNull() else image


@dataclass
class Photograph:
    """The picture, and its points that were clicked: the axis, then the tip, in its own pixels."""

    image: QImage
    points: list[QPointF] = field(default_factory=list)

    @property
    def asks(self) -> str:
        """What is to be clicked next; nothing once it lies."""
        return ASKS[len(self.points)] if len(self.points) < len(ASKS) else ""

    def fitted(self, room: QRectF) -> tuple[float, QPointF]:
        """Scale and corner with which all of it is seen while it is being clicked on."""
        k = min(room.width() / self.image.width(), room.height() / self.image.height())
        return k, QPointF(room.center().x() - k * self.image.width() / 2, room.center().y() - k * self.image.height() / 2)

    def click(self, at: QPointF, room: QRectF) -> None:
        """Take the next point; a tip on the axis is no tip."""
        k, corner = self.fitted(room)
        point = (at - corner) / k
        if self.points and (point - self.points[0]).manhattanLength() < 5:
            return
        self.points.append(point)

    def laid(self, axis: QPointF, tip_px: float, mirrored: bool) -> QTransform:
        """From its pixels to a plan whose axis is there and whose tip lies so far to the right of it."""
        d = self.points[1] - self.points[0]
        k = tip_px / math.hypot(d.x(), d.y())
        out = QTransform()
        out.translate(axis.x(), axis.y())
        if mirrored:
            out.scale(1.0, -1.0)
        out.rotate(-math.degrees(math.atan2(d.y(), d.x())))
        out.scale(k, k)
        out.translate(-self.points[0].x(), -self.points[0].y())
        return out

    def paint(self, p: QPainter, room: QRectF, axis: QPointF, tip_px: float, mirrored: bool) -> None:
        """Under the plan, or whole while it is being clicked on."""
        p.save()
        if self.asks:
            k, corner = self.fitted(room)
            p.drawImage(QRectF(corner.x(), corner.y(), k * self.image.width(), k * self.image.height()), self.image)
            p.setPen(QColor(theme.current().fails))
            p.setFont(theme.sans(9, bold=True))
            for point in self.points:
                p.drawEllipse(corner + k * point, 5.0, 5.0)
            p.fillRect(QRectF(room.left(), room.top(), room.width(), 20), QColor(theme.current().card))
            p.drawText(QRectF(room.left(), room.top(), room.width(), 20), Qt.AlignmentFlag.AlignCenter, self.asks)
        else:
            p.setOpacity(SHOWN)
            p.setClipRect(room)
            p.setTransform(self.laid(axis, tip_px, mirrored), True)
            p.drawImage(QPointF(0, 0), self.image)
        p.restore()
