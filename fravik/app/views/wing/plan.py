"""The wing in plan with its load along the span; panels are picked and a cursor goes along the left half."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme
from fravik.app.widgets.scene import blend
from fravik.engine.wing import WingSight
from fravik.engine.wingpicture import PanelPicture
from fravik.printing.zones import Floats

SIDE, TOP, FOOT = 16, 10, 20
LOAD_SHARE = 0.28  # of the height, for the load's curve
STALLED_DEG, CLEAR_DEG = 0.0, 12.0
STEP_MM = 5.0


class WingPlan(QWidget):
    """Nose up, left hand at the left: the way it is seen from above with its nose ahead."""

    moved = pyqtSignal(float)
    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.sight: WingSight | None = None
        self.panels: tuple[PanelPicture, ...] = ()
        self.y_mm, self.part_id = 0.0, ""
        self.setMinimumHeight(150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Wing in plan; left and right move the cursor along the span")

    def show_sight(self, sight: WingSight | None, panels: tuple[PanelPicture, ...]) -> None:
        """Another wing, or none."""
        self.sight, self.panels = sight, panels
        if sight is not None:
            y = sight.spar.half.y_mm
            self.y_mm = min(max(self.y_mm, float(y[0])), float(y[-1]))
        self.update()

    def _scale(self) -> tuple[float, float, float]:
        every = np.concatenate([p.corners_mm for p in self.panels])
        wide = 2 * float(every[:, 1].max())
        low, high = float(every[:, 0].min()), float(every[:, 0].max())
        room = QRectF(self.rect()).adjusted(SIDE, TOP, -SIDE, -FOOT)
        load = room.height() * LOAD_SHARE
        k = min(room.width() / max(wide, 1.0), (room.height() - load - 8) / max(high - low, 1.0))
        return k, room.center().x(), room.top() + load + 8 - k * low

    def _at(self, aft: float, left: float) -> QPointF:
        k, x0, y0 = self._scale()
        return QPointF(x0 - k * left, y0 + k * aft)

    def paintEvent(self, event: object) -> None:
        if self.sight is None or not self.panels:
            return
        p, c = QPainter(self), theme.current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._load(p)
        for panel in self.panels:
            for side in (1.0, -1.0):
                self._panel(p, panel, side, c)
        self._cursor(p, c)

    def _panel(self, p: QPainter, panel: PanelPicture, side: float, c: theme.Palette) -> None:
        corners = QPolygonF([self._at(a, side * left) for a, left in panel.corners_mm])
        mine = panel.part_id == self.part_id
        p.setPen(QPen(QColor(c.accent if mine else c.ink), 2.0 if mine else 1.1))
        fill = QColor(c.cover)
        fill.setAlpha(150 if panel.role == "wing" else 80)
        p.setBrush(fill)
        p.drawPolygon(corners)
        if panel.surface_mm is not None:
            fill.setAlpha(230)
            p.setBrush(fill)
            p.setPen(QPen(QColor(c.ink), 0.8))
            p.drawPolygon(QPolygonF([self._at(a, side * left) for a, left in panel.surface_mm]))
        if panel.spar_at > 0:
            self._tube(p, panel, side, c)

    def _tube(self, p: QPainter, panel: PanelPicture, side: float, c: theme.Palette) -> None:
        a = panel.corners_mm
        lead, trail = a[[0, 1]], a[[3, 2]]
        spot = lead + panel.spar_at * (trail - lead)
        p.setPen(QPen(QColor(c.carbon if c is theme.LIGHT else c.muted), 1.6))
        p.drawLine(self._at(spot[0, 0], side * spot[0, 1]), self._at(spot[1, 0], side * spot[1, 1]))

    def _load(self, p: QPainter) -> None:
        """Lift over span, coloured by room to stall."""
        s, c = self.sight, theme.current()
        assert s is not None
        mine = s.carries.surface == 0
        y, lift, room = 1e3 * s.carries.y_m[mine], s.carries.lift_n_m[mine], np.degrees(s.carries.room_rad[mine])
        k, x0, _ = self._scale()
        base, tall = TOP + (self.height() - TOP - FOOT) * LOAD_SHARE, (self.height() - TOP - FOOT) * LOAD_SHARE - 12
        most = max(float(lift.max()), 1e-9)
        colours = [QColor(x) for x in blend(*c.reserve)]
        for side in (1.0, -1.0):
            edges = np.concatenate([[y[0] - (y[1] - y[0]) / 2], (y[1:] + y[:-1]) / 2, [1e3 * s.alone.span_m / 2]])
            edges[0] = max(edges[0], 0.0)
            for i in range(len(y)):
                share = np.clip((room[i] - STALLED_DEG) / (CLEAR_DEG - STALLED_DEG), 0, 1)
                colour = colours[int(share * (len(colours) - 1))]
                x1, x2 = x0 - k * side * edges[i], x0 - k * side * edges[i + 1]
                high = tall * max(float(lift[i]), 0.0) / most
                p.fillRect(QRectF(min(x1, x2), base - high, abs(x2 - x1) + 0.5, high), colour)
        p.setPen(QPen(QColor(c.muted), 1))
        p.drawLine(QPointF(SIDE, base), QPointF(self.width() - SIDE, base))
        self._ellipse(p, base, tall, y, lift, most)
        p.setFont(theme.sans(8))
        p.setPen(QColor(c.muted))
        p.drawText(QRectF(SIDE, TOP - 6, 260, 16), Qt.AlignmentFlag.AlignLeft, f"lift, up to {most:.1f} N/m; dashed: least drag")

    def _ellipse(self, p: QPainter, base: float, tall: float, y: Floats, lift: Floats, most: float) -> None:
        """The load of least induced drag with the same lift."""
        s = self.sight
        assert s is not None
        k, x0, _ = self._scale()
        half = 1e3 * s.alone.span_m / 2
        total = float(np.trapezoid(np.concatenate([[lift[0]], lift, [0.0]]), np.concatenate([[0.0], y, [half]])))
        peak = total / (np.pi / 4 * half)
        t = np.linspace(-1, 1, 81)
        pen = QPen(QColor(theme.current().ink), 1.1, Qt.PenStyle.DashLine)
        p.setPen(pen)
        p.drawPolyline(QPolygonF([QPointF(x0 - k * half * u, base - tall * peak / most * float(np.sqrt(1 - u * u))) for u in t]))

    def _cursor(self, p: QPainter, c: theme.Palette) -> None:
        x = self._at(0.0, self.y_mm).x()
        p.setPen(QPen(QColor(c.ink), 1.2, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(x, TOP + 8), QPointF(x, self.height() - FOOT + 2))
        p.setFont(theme.sans(8))
        words = f"{self.y_mm:.0f} mm"
        left = min(max(x - 40, 2.0), self.width() - 82.0)
        p.drawText(QRectF(left, self.height() - FOOT + 2, 80, 16), Qt.AlignmentFlag.AlignHCenter, words)

    # what the maker does

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self.panels:
            return
        for panel in self.panels:
            for side in (1.0, -1.0):
                shape = QPolygonF([self._at(a, side * left) for a, left in panel.corners_mm])
                if shape.containsPoint(event.position(), Qt.FillRule.OddEvenFill):
                    self.picked.emit(panel.part_id)
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.sight is None:
            return
        k, x0, _ = self._scale()
        self.move_to(abs(x0 - event.position().x()) / k)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Left: STEP_MM, Qt.Key.Key_Right: -STEP_MM}
        if event is not None and event.key() in steps:
            self.move_to(self.y_mm + steps[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)

    def move_to(self, y_mm: float) -> None:
        """Put the cursor so far from the middle."""
        if self.sight is None:
            return
        y = self.sight.spar.half.y_mm
        self.y_mm = min(max(y_mm, float(y[0])), float(y[-1]))
        self.update()
        self.moved.emit(self.y_mm)
