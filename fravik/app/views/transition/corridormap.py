"""Where it can fly: speed across, how far over upwards; the ways out and back, whose points can be dragged."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.app.widgets.scene import blend
from fravik.engine.transition import TransitionSight, WayFlown
from fravik.flight.aero.corridor import WHY
from fravik.model.wing import Waypoint

LEFT, RIGHT, TOP, FOOT = 46, 14, 10, 34
HANDLES, NEAR_PX = 7, 10
LEAST_EDGE = 12  # points of a line: what is shorter is an island of a cell or two
LABEL_CELLS = 30  # a region of fewer cells of the map has no room for words


class CorridorMap(QWidget):
    """A point is picked by clicking; ways are dragged by their points."""

    picked = pyqtSignal(float, float)
    moved = pyqtSignal(str, object)

    def __init__(self) -> None:
        super().__init__()
        self.sight: TransitionSight | None = None
        self.at = (0.0, 0.0)
        self._image: QImage | None = None
        self._edges: list[list[tuple[float, float]]] = []
        self._dragged: tuple[str, int] | None = None
        self._ghost: list[tuple[float, float]] = []
        self.setMinimumHeight(180)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Where it can fly; arrow keys move the point that is looked at")

    def show_sight(self, s: TransitionSight | None) -> None:
        """Another map, or none."""
        self.sight, self._dragged, self._ghost = s, None, []
        self._image = _painted(s) if s is not None else None
        self._edges = _edges(s) if s is not None else []
        self.update()

    def _room(self) -> QRectF:
        return QRectF(self.rect()).adjusted(LEFT, TOP, -RIGHT, -FOOT)

    def _px(self, speed: float, over: float) -> QPointF:
        assert self.sight is not None
        r = self._room()
        return QPointF(r.left() + r.width() * speed / float(self.sight.corridor.speed_m_s[-1]), r.bottom() - r.height() * over)

    def _value(self, p: QPointF) -> tuple[float, float]:
        assert self.sight is not None
        r = self._room()
        top = float(self.sight.corridor.speed_m_s[-1])
        return min(max((p.x() - r.left()) / r.width(), 0.0), 1.0) * top, min(max((r.bottom() - p.y()) / r.height(), 0.0), 1.0)

    def paintEvent(self, event: object) -> None:
        s = self.sight
        if s is None or self._image is None:
            return
        p, c = QPainter(self), theme.current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        r = self._room()
        p.drawImage(r, self._image)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(c.holds), 1.4))
        p.setClipRect(r)
        for line in self._edges:
            p.drawPolyline(QPolygonF([self._px(v, o) for v, o in line]))
        p.setClipping(False)
        p.setPen(QPen(QColor(c.rule), 1))
        p.drawRect(r)
        self._axes(p, r, c)
        self._words(p, c)
        for name, way, dash in (("out", s.out, False), ("back", s.back, True)):
            self._way(p, name, way, dash, c)
        at = self._px(*self.at)
        p.setPen(QPen(QColor(c.ink), 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(at, 8, 8)
        p.drawLine(QPointF(at.x() - 12, at.y()), QPointF(at.x() + 12, at.y()))
        p.drawLine(QPointF(at.x(), at.y() - 12), QPointF(at.x(), at.y() + 12))

    def _axes(self, p: QPainter, r: QRectF, c: theme.Palette) -> None:
        s = self.sight
        assert s is not None
        p.setFont(theme.sans(8))
        p.setPen(QColor(c.muted))
        unit, whole = s.unit
        sign = "°" if unit.startswith("°") else "%"
        for k in range(4):
            y = r.bottom() - r.height() * k / 3
            p.drawText(
                QRectF(0, y - 9, LEFT - 6, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{whole * k / 3:.0f}{sign}"
            )
        top = float(s.corridor.speed_m_s[-1])
        step = 2 if top < 16 else 4 if top < 34 else 8
        for v in np.arange(0, top + 0.01, step):
            x = r.left() + r.width() * v / top
            p.drawText(QRectF(x - 20, r.bottom() + 3, 40, 14), Qt.AlignmentFlag.AlignHCenter, f"{v:.0f}")
        p.drawText(QRectF(r.left(), r.bottom() + 17, r.width(), 14), Qt.AlignmentFlag.AlignLeft, "m/s through the air")
        p.drawText(
            QRectF(r.left(), r.bottom() + 17, r.width(), 14),
            Qt.AlignmentFlag.AlignRight,
            "drag the line's points; click for the forces there",
        )

    def _words(self, p: QPainter, c: theme.Palette) -> None:
        """Why it does not fly, in the middle of each region that has room."""
        s = self.sight
        assert s is not None
        why = s.corridor.why
        p.setFont(theme.sans(8.5))
        p.setPen(QColor(c.fails))
        taken = [self._named(s.out, False), self._named(s.back, True)]
        for code in np.unique(why[why > 0]):
            cells = np.argwhere(why == code)
            if len(cells) < LABEL_CELLS:
                continue
            middle = cells.mean(axis=0)
            k = int(((cells - middle) ** 2).sum(axis=1).argmin())
            at = self._px(float(s.corridor.speed_m_s[cells[k, 1]]), float(s.corridor.over[cells[k, 0]]))
            wide = 178.0
            room = self._room()
            box = QRectF(min(max(at.x() - wide / 2, room.left() + 4), room.right() - wide - 4), at.y() - 18, wide, 36)
            while any(box.intersects(t) for t in taken):
                box.translate(0, 38)
            if box.bottom() > room.bottom():
                continue
            taken.append(box)
            p.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, WHY[int(code)])

    def handles(self, w: WayFlown, name: str) -> list[tuple[float, float]]:
        """Points of a way that can be dragged."""
        s = self.sight
        assert s is not None
        if self._dragged is not None and self._dragged[0] == name:
            return self._ghost
        n = len(w.way.speed_m_s)
        at = np.unique(np.linspace(0, n - 1, min(HANDLES, n)).astype(int))
        return [(float(w.way.speed_m_s[k]), float(w.way.over[k])) for k in at]

    def _way(self, p: QPainter, name: str, w: WayFlown, dash: bool, c: theme.Palette) -> None:
        points = [self._px(float(v), float(o)) for v, o in zip(w.way.speed_m_s, w.way.over, strict=True)]
        p.setPen(QPen(QColor(c.wall), 2.2, Qt.PenStyle.DashLine if dash else Qt.PenStyle.SolidLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        if not (self._dragged is not None and self._dragged[0] == name):
            p.drawPolyline(QPolygonF(points))
        spots = [self._px(v, o) for v, o in self.handles(w, name)]
        if self._dragged is not None and self._dragged[0] == name:
            p.drawPolyline(QPolygonF(spots))
        p.setPen(QPen(QColor(c.wall), 1.6))
        p.setBrush(QColor(c.card))
        for q in spots:
            p.drawEllipse(q, 4.5, 4.5)
        least = int(np.argmin(w.way.reserve))
        if w.reserve < 0.25:
            p.setPen(QPen(QColor(c.fails if w.reserve < 0.1 else c.tight), 2.2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(points[least], 8, 8)
        p.setFont(theme.sans(8.5, True))
        p.setPen(QColor(c.wall))
        p.drawText(
            self._named(w, dash), Qt.AlignmentFlag.AlignRight if not dash else Qt.AlignmentFlag.AlignLeft, f"{name}, {w.way.seconds:.0f} s"
        )

    def _named(self, w: WayFlown, dash: bool) -> QRectF:
        """Where a way's name stands."""
        n = len(w.way.speed_m_s)
        k = n // 3 if not dash else 2 * n // 3
        at, room = self._px(float(w.way.speed_m_s[k]), float(w.way.over[k])), self._room()
        box = QRectF(at.x() - 90, at.y() - 24, 84, 16) if not dash else QRectF(at.x() + 10, at.y() + 6, 84, 16)
        box.moveTo(min(max(box.x(), room.left() + 3), room.right() - 90), min(max(box.y(), room.top() + 2), room.bottom() - 18))
        return box

    # what the maker does

    def _handle_at(self, pos: QPointF) -> tuple[str, int] | None:
        s = self.sight
        if s is None:
            return None
        for name, w in (("out", s.out), ("back", s.back)):
            for k, (v, o) in enumerate(self.handles(w, name)):
                q = self._px(v, o)
                if (q - pos).manhattanLength() < NEAR_PX and 0 < k < len(self.handles(w, name)) - 1:
                    return name, k
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.sight is None:
            return
        found = self._handle_at(event.position())
        if found is not None:
            self._ghost = self.handles(self.sight.out if found[0] == "out" else self.sight.back, found[0])
            self._dragged = found
        else:
            self.pick(*self._value(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.sight is None:
            return
        if self._dragged is None:
            if event.buttons() & Qt.MouseButton.LeftButton:
                self.pick(*self._value(event.position()))
            return
        _, over = self._value(event.position())
        k = self._dragged[1]
        self._ghost[k] = (self._ghost[k][0], over)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragged is None:
            return
        name, ghost = self._dragged[0], self._ghost
        self._dragged, self._ghost = None, []
        self.moved.emit(name, tuple(Waypoint(speed_m_s=round(v, 2), over_pct=round(100 * o, 1)) for v, o in ghost))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Left: (-0.5, 0.0), Qt.Key.Key_Right: (0.5, 0.0), Qt.Key.Key_Up: (0.0, 0.02), Qt.Key.Key_Down: (0.0, -0.02)}
        if event is not None and event.key() in steps and self.sight is not None:
            v, o = steps[Qt.Key(event.key())]
            top = float(self.sight.corridor.speed_m_s[-1])
            self.pick(min(max(self.at[0] + v, 0.0), top), min(max(self.at[1] + o, 0.0), 1.0))
        else:
            super().keyPressEvent(event)

    def pick(self, speed: float, over: float) -> None:
        """Look at a point."""
        self.at = (speed, over)
        self.update()
        self.picked.emit(speed, over)


def _painted(s: TransitionSight) -> QImage:
    """One pixel a cell: shades of what is in hand where it flies, warm where it does not."""
    c = theme.current()
    reserve, flies = s.corridor.reserve, s.corridor.flies
    parts, speeds = reserve.shape
    image = QImage(speeds, parts, QImage.Format.Format_RGB32)
    shades = [QColor(x) for x in blend(c.card, c.allowed)]
    bad, sinks = QColor(c.warm_rule), QColor(c.warm_card)
    for p in range(parts):
        for v in range(speeds):
            if flies[p, v]:
                share = 0.35 + 0.65 * min(max(float(reserve[p, v]), 0.0), 1.0)
                colour = shades[int(share * (len(shades) - 1))]
            else:
                colour = sinks if s.corridor.why[p, v] in (1, 4) else bad
            image.setPixelColor(v, parts - 1 - p, colour)
    return image


def _edges(s: TransitionSight) -> list[list[tuple[float, float]]]:
    """Where flying begins and ends, as lines of speed and part over."""
    flies = np.pad(s.corridor.flies.astype(np.float64), 1, mode="edge")
    soft = (flies + np.roll(flies, 1, 0) + np.roll(flies, -1, 0) + np.roll(flies, 1, 1) + np.roll(flies, -1, 1))[1:-1, 1:-1] / 5
    speed, over = s.corridor.speed_m_s, s.corridor.over
    out = []
    for line in pg.functions.isocurve(soft, 0.5, connected=True):
        points = np.asarray(line) - 0.5
        if len(points) >= LEAST_EDGE:
            out.append(
                [(float(np.interp(v, np.arange(len(speed)), speed)), float(np.interp(o, np.arange(len(over)), over))) for o, v in points]
            )
    return out
