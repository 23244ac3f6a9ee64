"""The as-printed section to scale: walls, skins, core, carbon and the run of the layers."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QRegion
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.structure.picture import SectionPicture


class SectionView(QWidget):
    """Draws a section picture with its width and height."""

    def __init__(self) -> None:
        super().__init__()
        self.picture: SectionPicture | None = None
        self.infill = 0.0
        self.pattern = "gyroid"
        self.setMinimumHeight(110)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Section as printed")

    def show_picture(self, picture: SectionPicture | None, infill: float, pattern: str) -> None:
        """Show another section."""
        self.picture, self.infill, self.pattern = picture, infill, pattern
        if picture is not None:
            w, h = picture.high_mm[0] - picture.low_mm[0], picture.high_mm[1] - picture.low_mm[1]
            self.setAccessibleDescription(f"{w:.1f} mm wide, {h:.1f} mm high, layers {picture.layers}")
        self.update()

    def paintEvent(self, event: object) -> None:
        pic = self.picture
        if pic is None:
            return
        c = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        w, h = pic.high_mm[0] - pic.low_mm[0], pic.high_mm[1] - pic.low_mm[1]
        room = QRectF(self.rect()).adjusted(12, 6, -58, -26)
        k = min(room.width() / max(w, 1e-6), room.height() / max(h, 1e-6), 13.0)
        ox = room.center().x() - k * (pic.low_mm[0] + w / 2)
        oy = room.center().y() + k * (pic.low_mm[1] + h / 2)

        def box(y0: float, z0: float, y1: float, z1: float) -> QRectF:
            return QRectF(QPointF(ox + k * y0, oy - k * z1), QPointF(ox + k * y1, oy - k * z0))

        colours = (QColor(c.wall), QColor(c.skin), QColor(c.core))
        p.setPen(Qt.PenStyle.NoPen)
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        for s in pic.strips:
            p.fillRect(box(s.y0, s.z0, s.y1, s.z1).adjusted(0, -0.3, 0, 0.3), colours[s.zone])
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._core_pattern(p, pic, box, k)
        self._layers(p, pic, box, k)
        for y, z, half_w, inner, half_h in pic.carbon:
            p.setPen(QPen(QColor(c.adhesive), max(1.0, 0.15 * k)))
            p.setBrush(QColor(c.carbon))
            if abs(half_w - half_h) < 1e-9:
                at = QPointF(ox + k * y, oy - k * z)
                p.drawEllipse(at, k * half_w, k * half_w)
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(QColor(c.card))
                if inner > 0:
                    p.drawEllipse(at, k * inner, k * inner)
            else:
                p.drawRect(box(y - half_w, z - half_h, y + half_w, z + half_h))
        self._sizes(p, box(*pic.low_mm, *pic.high_mm), w, h)

    def _core_pattern(self, p: QPainter, pic: SectionPicture, box: Callable[[float, float, float, float], QRectF], k: float) -> None:
        if self.infill <= 0.0 or self.infill >= 0.95:
            return
        core = QRegion()
        for s in pic.strips:
            if s.zone == 2:
                core += box(s.y0, s.z0, s.y1, s.z1).toAlignedRect()
        if core.isEmpty():
            return
        p.save()
        p.setClipRegion(core)
        p.setPen(QPen(QColor(theme.current().core_line), 1.0))
        gap, around = max(5.0, 0.45 / self.infill * k), QRectF(core.boundingRect())
        x = around.left() - around.height()
        while x < around.right():
            p.drawLine(QPointF(x, around.bottom()), QPointF(x + 0.6 * around.height(), around.top()))
            x += gap
        p.restore()

    def _layers(self, p: QPainter, pic: SectionPicture, box: Callable[[float, float, float, float], QRectF], k: float) -> None:
        pitch = pic.layer_mm * k
        if pic.layers == "facing you" or pitch < 1.6:
            return
        line = QColor(theme.current().card)
        line.setAlpha(80)
        p.setPen(QPen(line, 0.6))
        for s in pic.strips:
            if s.zone == 2:
                continue
            r = box(s.y0, s.z0, s.y1, s.z1)
            if pic.layers == "level":
                p.drawLine(r.bottomLeft(), r.bottomRight())
            else:
                p.drawLine(r.topLeft(), r.bottomLeft())

    def _sizes(self, p: QPainter, r: QRectF, w: float, h: float) -> None:
        c = theme.current()
        p.setPen(QPen(QColor(c.ink), 1))
        y = r.bottom() + 9
        p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y))
        for x in (r.left(), r.right()):
            p.drawLine(QPointF(x, y - 3), QPointF(x, y + 3))
        x = r.right() + 9
        p.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()))
        for yy in (r.top(), r.bottom()):
            p.drawLine(QPointF(x - 3, yy), QPointF(x + 3, yy))
        p.setFont(theme.mono(8))
        p.drawText(QRectF(r.left() - 40, y + 2, r.width() + 80, 15), Qt.AlignmentFlag.AlignCenter, f"{w:.1f} mm")
        p.drawText(QRectF(x + 5, r.center().y() - 8, 48, 16), Qt.AlignmentFlag.AlignVCenter, f"{h:.1f}")


class ZoneKey(QWidget):
    """Colour key of the zones."""

    def __init__(self) -> None:
        super().__init__()
        self.items: list[tuple[str, str]] = []
        self.setFixedHeight(18)

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
            p.drawText(QPointF(x + 14, 13), text)
            x += 24 + metrics.horizontalAdvance(text)
