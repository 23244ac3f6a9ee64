"""The as-printed section to scale: walls, covers, core, carbon and the run of the layers; any point of it can be asked."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.structure.sectionpicture import SectionPicture

from .keptpicture import KeptPicture

At = Callable[[float, float], QPointF]


class SectionView(QWidget):
    """Draws a section picture with its width and height; the pointer's place in the section is told in mm."""

    pointed = pyqtSignal(float, float)
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.picture: SectionPicture | None = None
        self.core_density = 0.0
        self.pattern = "gyroid"
        self._scale, self._origin = 1.0, QPointF()
        self._kept = KeptPicture()
        self.setMinimumHeight(104)
        self.setMouseTracking(True)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Section as printed; point at it for the stress there")

    def show_picture(self, picture: SectionPicture | None, core_density: float, pattern: str) -> None:
        """Show another section."""
        self.picture, self.core_density, self.pattern = picture, core_density, pattern
        if picture is not None:
            w, h = picture.high_mm[0] - picture.low_mm[0], picture.high_mm[1] - picture.low_mm[1]
            self.setAccessibleDescription(f"{w:.1f} mm wide, {h:.1f} mm high, layers {picture.layers}")
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.picture is not None:
            at = event.position() - self._origin
            self.pointed.emit(at.x() / self._scale, -at.y() / self._scale)

    def leaveEvent(self, event: QEvent | None) -> None:
        self.left.emit()

    def paintEvent(self, event: object) -> None:
        if self.picture is not None:
            shown = self._kept.of(self, self.picture, self._paint, (self.core_density, self.pattern))
            QPainter(self).drawPixmap(0, 0, shown)

    def _paint(self, p: QPainter) -> None:
        pic = self.picture
        assert pic is not None
        c = theme.current()
        w, h = pic.high_mm[0] - pic.low_mm[0], pic.high_mm[1] - pic.low_mm[1]
        room = QRectF(self.rect()).adjusted(8, 4, -52, -24)
        k = min(room.width() / max(w, 1e-6), room.height() / max(h, 1e-6), 13.0)
        o = QPointF(room.center().x() - k * (pic.low_mm[0] + w / 2), room.center().y() + k * (pic.low_mm[1] + h / 2))
        self._scale, self._origin = k, o

        def at(y: float, z: float) -> QPointF:
            return QPointF(o.x() + k * y, o.y() - k * z)

        colours = (QColor(c.wall), QColor(c.cover), QColor(c.core))
        zones = [QPainterPath() for _ in colours]
        for s in pic.strips:
            zones[s.zone].addPolygon(QPolygonF([at(y, z) for y, z in s.corners]))
            zones[s.zone].closeSubpath()
        for zone in (2, 0, 1):
            zones[zone].setFillRule(Qt.FillRule.WindingFill)
            # a pen of the same colour closes the hairlines between strips
            p.setPen(QPen(colours[zone], 0.7))
            p.setBrush(colours[zone])
            p.drawPath(zones[zone])
            if zone == 2:  # its pattern, where it is and nowhere else
                p.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
                self._core_pattern(p, zones[2].boundingRect(), k)
                p.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        self._layers(p, pic, at, k)
        self._inlays(p, pic, at, k)
        self._sizes(p, QRectF(at(pic.low_mm[0], pic.high_mm[1]), at(pic.high_mm[0], pic.low_mm[1])), w, h)

    def _inlays(self, p: QPainter, pic: SectionPicture, at: At, k: float) -> None:
        c = theme.current()
        for i in pic.inlays:
            p.setPen(QPen(QColor(c.adhesive), max(1.0, 0.15 * k)))
            p.setBrush(QColor(c.carbon if i.colour == "carbon" else c.glass))
            w, h = k * i.width, max(k * i.height, 2.0)
            box = QRectF(at(i.y, i.z).x() - w / 2, at(i.y, i.z).y() - h / 2, w, h)
            p.drawEllipse(box) if i.round else p.drawRect(box)
            if i.hollow > 0:
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(QColor(c.card))
                hole = QRectF(0, 0, k * i.hollow, k * i.hollow)
                hole.moveCenter(box.center())
                p.drawEllipse(hole) if i.round else p.drawRect(hole)

    def _core_pattern(self, p: QPainter, around: QRectF, k: float) -> None:
        if self.core_density <= 0.0 or self.core_density >= 0.95 or around.isEmpty():
            return
        p.setPen(QPen(QColor(theme.current().core_line), 1.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        gap = max(5.0, 0.45 / self.core_density * k)
        x = around.left() - around.height()
        while x < around.right():
            if self.pattern in ("gyroid", "honeycomb"):
                wave = QPainterPath(QPointF(x, around.bottom()))
                steps = 6
                for i in range(1, steps + 1):
                    y = around.bottom() - around.height() * i / steps
                    side = gap / 3 * (1 if i % 2 else -1)
                    wave.quadTo(QPointF(x + side, y + around.height() / steps / 2), QPointF(x, y))
                p.drawPath(wave)
            elif self.pattern in ("grid", "lines", "concentric"):
                p.drawLine(QPointF(x, around.bottom()), QPointF(x, around.top()))
            else:
                p.drawLine(QPointF(x, around.bottom()), QPointF(x + 0.6 * around.height(), around.top()))
                p.drawLine(QPointF(x + 0.6 * around.height(), around.bottom()), QPointF(x, around.top()))
            x += gap

    def _layers(self, p: QPainter, pic: SectionPicture, at: At, k: float) -> None:
        if pic.layers == "facing you" or pic.layer_mm * k < 1.6:
            return
        line = QColor(theme.current().card)
        line.setAlpha(80)
        p.setPen(QPen(line, 0.6))
        for s in pic.strips:
            if s.zone != 2:
                p.drawLine(at(*s.corners[0]), at(*s.corners[1]))

    def _sizes(self, p: QPainter, r: QRectF, w: float, h: float) -> None:
        c = theme.current()
        p.setPen(QPen(QColor(c.ink), 1))
        y = r.bottom() + 8
        p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y))
        for x in (r.left(), r.right()):
            p.drawLine(QPointF(x, y - 3), QPointF(x, y + 3))
        x = r.right() + 8
        p.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()))
        for yy in (r.top(), r.bottom()):
            p.drawLine(QPointF(x - 3, yy), QPointF(x + 3, yy))
        p.setFont(theme.sans(8))
        p.drawText(QRectF(r.left() - 40, y + 1, r.width() + 80, theme.sized(15)), Qt.AlignmentFlag.AlignCenter, f"{w:.1f} mm")
        p.drawText(QRectF(x + 5, r.center().y() - 12, 60, 24), Qt.AlignmentFlag.AlignVCenter, f"{h:.1f}")


class ZoneKey(QWidget):
    """Colour key of the zones."""

    def __init__(self) -> None:
        super().__init__()
        self.items: list[tuple[str, str]] = []
        self.setFixedHeight(theme.sized(18))

    def show_items(self, items: list[tuple[str, str]]) -> None:
        """(colour name in the palette, text) pairs."""
        self.items = items
        self.setAccessibleName("Key: " + ", ".join(t for _, t in items))
        self.update()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        c = theme.current()
        p.setFont(theme.sans(7.5))
        metrics = p.fontMetrics()
        x = 0.0
        for name, text in self.items:
            p.fillRect(QRectF(x, 4, 10, 10), QColor(getattr(c, name)))
            p.setPen(QColor(c.muted))
            p.drawText(QPointF(x + 14, theme.sized(13)), text)
            x += 24 + math.ceil(metrics.horizontalAdvance(text))
