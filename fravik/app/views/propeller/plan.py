"""A blade in plan, coloured by its reserve at the motor's most; its positions can be dragged, and a cursor picks the section."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.app.widgets.scene import blend
from fravik.engine.propeller import PropellerSight
from fravik.kinds.printedblades import drawn
from fravik.model.blade import BladeStation, PropellerShape
from fravik.power.drawn import rotor
from fravik.printing.zones import Floats

from .photograph import Photograph

NEAR_PX, HANDLE_PX = 9, 4.0
LOW, HIGH = 0.5, 3.0  # reserves between which the colours run
STALLED_DEG, CLEAR_DEG = -2.0, 8.0  # to stall, in hover
SIDE, FOOT = 14, 30
LEAST_CHORD_MM = 2.0


class BladePlan(QWidget):
    """Leading edge up, axis at the left."""

    picked = pyqtSignal(float)
    moved = pyqtSignal(int, object)

    def __init__(self) -> None:
        super().__init__()
        self.sight: PropellerSight | None = None
        self.at_mm, self.by_stall = 0.0, False
        self.photo: Photograph | None = None
        self._dragged: tuple[int, bool] | None = None
        self._ghost: BladeStation | None = None
        self.setMinimumHeight(90)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Blade in plan; left and right move the cursor")

    def show_sight(self, sight: PropellerSight | None) -> None:
        """Another blade, or none."""
        self.sight, self._dragged, self._ghost = sight, None, None
        if sight is not None:
            self.at_mm = min(max(self.at_mm, self._low()), self._high())
        self.update()

    def _low(self) -> float:
        return self._shape().root_mm + 0.5

    def _high(self) -> float:
        return 0.98 * self._shape().radius_mm

    def _shape(self) -> PropellerShape:
        assert self.sight is not None
        shape = drawn(self.sight.part)
        return shape

    def _scale(self) -> tuple[float, QPointF]:
        shape, blade = self._shape(), self.sight.blade  # type: ignore[union-attr]
        c = np.cos(blade.angle_rad)
        top, low = float((blade.ahead_mm * c).max()), float(((blade.ahead_mm - blade.chord_mm) * c).min())
        top, low = max(top, shape.hub_diameter_mm / 2), min(low, -shape.hub_diameter_mm / 2)
        wide = shape.radius_mm + shape.hub_diameter_mm / 2
        room = QRectF(self.rect()).adjusted(SIDE, 6, -SIDE, -FOOT)
        k = min(room.width() / wide, room.height() / max(top - low, 1.0))
        left = room.center().x() - k * wide / 2 + k * shape.hub_diameter_mm / 2
        return k, QPointF(left, room.center().y() + k * (top + low) / 2)

    def _edges(self) -> tuple[Floats, Floats, Floats]:
        blade = self.sight.blade  # type: ignore[union-attr]
        c = np.cos(blade.angle_rad)
        return blade.radius_mm, blade.ahead_mm * c, (blade.ahead_mm - blade.chord_mm) * c

    def paintEvent(self, event: object) -> None:
        if self.sight is None:
            return
        p, c = QPainter(self), theme.current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        k, o = self._scale()
        shape = self._shape()
        r, lead, trail = self._edges()
        if self.photo is not None:
            self.photo.paint(p, QRectF(self.rect()), o, k * shape.radius_mm, shape.turns == "clockwise")
            if self.photo.asks:
                return

        def at(x: float, y: float) -> QPointF:
            return QPointF(o.x() + k * x, o.y() - k * y)

        colours = [QColor(x) for x in blend(*c.reserve)]
        share_at = self.shares_mm(r)
        for i in range(len(r) - 1):
            share = (share_at[i] + share_at[i + 1]) / 2
            colour = colours[int(np.clip(share, 0, 1) * (len(colours) - 1))]
            if self.photo is not None:
                colour.setAlpha(70)  # to be traced over
            p.setPen(QPen(colour, 0.7))
            p.setBrush(colour)
            p.drawPolygon(QPolygonF([at(r[i], lead[i]), at(r[i + 1], lead[i + 1]), at(r[i + 1], trail[i + 1]), at(r[i], trail[i])]))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(c.ink), 1.3))
        p.drawPolyline(QPolygonF([at(x, y) for x, y in zip(r, lead, strict=True)]))
        p.drawPolyline(QPolygonF([at(x, y) for x, y in zip(r, trail, strict=True)]))
        p.drawLine(at(r[-1], lead[-1]), at(r[-1], trail[-1]))
        self._hub(p, at(0, 0), k, shape)
        self._ruler(p, at, k, shape)
        self._handles(p, at, shape)
        p.setPen(QPen(QColor(c.ink), 1.2, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(at(self.at_mm, 0).x(), 4), QPointF(at(self.at_mm, 0).x(), self.height() - FOOT + 4))

    def shares_mm(self, r: Floats) -> Floats:
        """Along the ramp from what is bad to what is good."""
        if self.by_stall:
            there = self.sight.at_hover  # type: ignore[union-attr]
            left = np.degrees(np.interp(r, rotor(self._shape()).r_m * 1e3, there.to_stall_rad[0]))
            return np.asarray((left - STALLED_DEG) / (CLEAR_DEG - STALLED_DEG))
        return np.asarray((np.log(np.maximum(self._reserve(r), 1e-3)) - np.log(LOW)) / (np.log(HIGH) - np.log(LOW)))

    def reserve_at(self, at_mm: float) -> float:
        """The least of all kinds there, at the motor's most."""
        return float(self._reserve(np.array([at_mm]))[0])

    def _reserve(self, r: Floats) -> Floats:
        sight = self.sight
        assert sight is not None
        member = sight.spun.member
        along = member.path.line.origin_mm[:, 0]
        return np.interp(r, along, np.minimum(sight.lets_go.at.envelope(), 50.0))

    def _hub(self, p: QPainter, o: QPointF, k: float, shape: PropellerShape) -> None:
        c = theme.current()
        p.setPen(QPen(QColor(c.ink), 1.3))
        p.setBrush(QColor(c.denied))
        p.drawEllipse(o, k * shape.hub_diameter_mm / 2, k * shape.hub_diameter_mm / 2)
        if shape.bush_mm > 0:
            p.setBrush(QColor(c.adhesive))
            wide = k * (shape.bore_mm / 2 + shape.bush_mm)
            p.drawEllipse(o, wide, wide)
        p.setBrush(QColor(c.card))
        p.drawEllipse(o, k * shape.bore_mm / 2, k * shape.bore_mm / 2)

    def _ruler(self, p: QPainter, at: object, k: float, shape: PropellerShape) -> None:
        c, foot = theme.current(), self.height() - FOOT + 10
        left, right = at(0, 0).x(), at(shape.radius_mm, 0).x()  # type: ignore[operator]
        p.setPen(QPen(QColor(c.muted), 1.0))
        p.drawLine(QPointF(left, foot), QPointF(right, foot))
        p.setFont(theme.sans(7.5))
        step = next(s for s in (2, 5, 10, 20, 25, 50, 100) if shape.radius_mm / s <= 10)
        for x in np.arange(0.0, shape.radius_mm + 1e-6, step):
            px = left + k * x
            p.drawLine(QPointF(px, foot), QPointF(px, foot + 4))
            p.drawText(QRectF(px - 30, foot + 4, 60, 14), Qt.AlignmentFlag.AlignCenter, f"{x:g}")

    def _handles(self, p: QPainter, at: object, shape: PropellerShape) -> None:
        c = theme.current()
        for i, s in enumerate(self._shown()):
            cos = float(np.cos(np.radians(s.angle_deg)))
            dragged = self._dragged is not None and self._dragged[0] == i
            p.setPen(QPen(QColor(c.ink), 0.8, Qt.PenStyle.DotLine))
            ends = [at(s.radius_mm, s.ahead_mm * cos), at(s.radius_mm, (s.ahead_mm - s.chord_mm) * cos)]  # type: ignore[operator]
            p.drawLine(*ends)
            p.setPen(QPen(QColor(c.ink), 1.2))
            p.setBrush(QColor(c.tight if dragged else c.card))
            for end in ends:
                p.drawEllipse(end, HANDLE_PX, HANDLE_PX)

    def _shown(self) -> list[BladeStation]:
        out = list(self._shape().stations)
        if self._dragged is not None and self._ghost is not None:
            out[self._dragged[0]] = self._ghost
        return out

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if self.sight is None or event is None:
            return
        if self.photo is not None and self.photo.asks:
            self.photo.click(event.position(), QRectF(self.rect()))
            self.update()
            return
        k, o = self._scale()
        for i, s in enumerate(self._shape().stations):
            cos = float(np.cos(np.radians(s.angle_deg)))
            for leading, y in ((True, s.ahead_mm * cos), (False, (s.ahead_mm - s.chord_mm) * cos)):
                spot = QPointF(o.x() + k * s.radius_mm, o.y() - k * y)
                if (event.position() - spot).manhattanLength() < NEAR_PX:
                    self._dragged = i, leading
                    return
        self._pick((event.position().x() - o.x()) / k)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if self.sight is None or event is None or not event.buttons():
            return
        k, o = self._scale()
        if self._dragged is None:
            self._pick((event.position().x() - o.x()) / k)
            return
        i, leading = self._dragged
        s = self._shape().stations[i]
        y = (o.y() - event.position().y()) / k / max(float(np.cos(np.radians(s.angle_deg))), 0.2)
        back = s.ahead_mm - s.chord_mm
        chord = max(y - back, LEAST_CHORD_MM) if leading else max(s.ahead_mm - y, LEAST_CHORD_MM)
        ahead = back + chord if leading else s.ahead_mm
        self._ghost = s.model_copy(update={"chord_mm": round(min(chord, 150.0), 1), "ahead_mm": round(ahead, 1)})
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragged is not None and self._ghost is not None:
            number, ghost = self._dragged[0], self._ghost
            self._dragged = self._ghost = None
            self.moved.emit(number, ghost)
        self._dragged = None
        self.update()

    def keyPressEvent(self, event: object) -> None:
        step = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(event.key(), 0.0)  # type: ignore[attr-defined]
        if step and self.sight is not None:
            self._pick(self.at_mm + step)
        else:
            super().keyPressEvent(event)  # type: ignore[arg-type]

    def _pick(self, at_mm: float) -> None:
        self.at_mm = float(min(max(at_mm, self._low()), self._high()))
        self.update()
        self.picked.emit(self.at_mm)
