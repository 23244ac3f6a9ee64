"""Angle along the blade with what was read, and what it lifts over speed with where it lets go."""

from __future__ import annotations

from functools import partial

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QPushButton

from fravik.app import theme
from fravik.app.widgets.basics import Card
from fravik.app.widgets.plots import dress_axes, name_axis, plain_plot
from fravik.engine.propeller import PropellerSight
from fravik.kinds.printedblades import drawn
from fravik.model.blade import BladeStation, PropellerShape
from fravik.shape.measured import PITCH_AT, Measured

THOUSAND = 1e-3


class AngleCard(Card):
    """The blade's angle over the radius; positions can be dragged up and down."""

    moved = pyqtSignal(int, object)

    def __init__(self) -> None:
        super().__init__("Angle along the blade")
        self.plot = plain_plot("mm from the axis", "Angle, °")
        self.plot.setAccessibleName("Angle along the blade")
        self.curve, self.read = pg.PlotCurveItem(), pg.ScatterPlotItem()
        self.bought, self.apart = pg.PlotCurveItem(), pg.ScatterPlotItem()
        for item in (self.bought, self.curve, self.read, self.apart):
            self.plot.addItem(item)
        self.targets: list[pg.TargetItem] = []
        self.words: list[pg.TextItem] = []
        self.column.addWidget(self.plot, 1)

    def show_sight(self, sight: PropellerSight | None, measured: Measured | None, bought_pitch_mm: float) -> None:
        """A blade, what was read of it, and the bought one's angle for its pitch."""
        for item in (*self.targets, *self.words):
            self.plot.removeItem(item)
        self.targets, self.words = [], []
        self.plot.setVisible(sight is not None)
        if sight is None:
            return
        c, shape, blade = theme.current(), drawn(sight.part), sight.blade
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        there = blade.radius_mm > shape.root_mm
        r, angle = blade.radius_mm[there], np.degrees(blade.angle_rad[there])
        self.curve.setData(r, angle, pen=pg.mkPen(c.wall, width=2))
        other = np.degrees(np.arctan2(bought_pitch_mm, 2 * np.pi * r))
        self.bought.setData(r, other, pen=pg.mkPen(c.muted, width=1.2, style=Qt.PenStyle.DashLine))
        at = blade.pitch_mm(PITCH_AT * shape.radius_mm)
        note = f"pitch {at:.0f} mm at 70 % · bought {bought_pitch_mm:.0f}, dashed"
        self.read.setData([], [])
        self.apart.setData([], [])
        if measured is not None:
            note = (
                f"pitch {measured.pitch_mm:.0f} mm, {measured.pitch_low_mm:.0f}–{measured.pitch_high_mm:.0f} · bought {bought_pitch_mm:.0f}"
            )
            self._show_read(measured, c)
        self.note.setText(note)
        self.plot.setYRange(0.0, max(float(angle.max()), *(measured.angle_deg.tolist() if measured is not None else (1.0,))), padding=0.06)
        self.plot.setXRange(0.0, shape.radius_mm, padding=0.02)
        if measured is None:
            self._show_targets(shape, c)

    def _show_read(self, measured: Measured, c: theme.Palette) -> None:
        out = {a.number - 1: a for a in measured.apart if a.what == "angle"}
        order = np.argsort(measured.radius_mm)
        good = [k for k in order.tolist() if k not in out]
        self.read.setData(measured.radius_mm[good], measured.angle_deg[good], size=9, pen=pg.mkPen(c.ink), brush=pg.mkBrush(c.card))
        bad = list(out)
        self.apart.setData(
            measured.radius_mm[bad], measured.angle_deg[bad], size=11, pen=pg.mkPen(c.fails, width=2), brush=pg.mkBrush(c.card)
        )
        for k, a in out.items():
            inner = measured.radius_mm[k] < 0.7 * measured.radius_mm.max()
            text = pg.TextItem(f"reading {a.number} is left out, {a.off}", color=QColor(c.fails), anchor=(0 if inner else 1, 1.1))
            text.setFont(theme.sans(8))
            text.setPos(float(measured.radius_mm[k]), float(measured.angle_deg[k]))
            self.plot.addItem(text)
            self.words.append(text)

    def _show_targets(self, shape: PropellerShape, c: theme.Palette) -> None:
        for i, s in enumerate(shape.stations):
            target = pg.TargetItem((s.radius_mm, s.angle_deg), 9, "o", pen=pg.mkPen(c.ink), brush=pg.mkBrush(c.card), movable=True)
            target.sigPositionChanged.connect(partial(self._keep_radius, s.radius_mm))
            target.sigPositionChangeFinished.connect(partial(self._moved, i, s))
            self.plot.addItem(target)
            self.targets.append(target)

    def _keep_radius(self, radius_mm: float, target: pg.TargetItem) -> None:
        if abs(target.pos().x() - radius_mm) > 1e-9:
            target.setPos(radius_mm, target.pos().y())

    def _moved(self, number: int, station: BladeStation, target: pg.TargetItem) -> None:
        angle = round(float(min(max(target.pos().y(), -10.0), 80.0)), 1)
        self.moved.emit(number, station.model_copy(update={"angle_deg": angle}))


class LiftCard(Card):
    """Thrust of one propeller over speed, its band, the bought one's, and the speeds that count."""

    def __init__(self) -> None:
        super().__init__("What it lifts, and where it lets go")
        self.flying = False
        self.sight: PropellerSight | None = None
        self.turn = QPushButton("In flight")
        self.turn.setObjectName("quiet")
        self.turn.clicked.connect(self.turn_over)
        self.head.addWidget(self.turn)
        self.plot = plain_plot("1000 rpm", "Thrust, N")
        self.plot.setAccessibleName("Thrust over speed")
        self.low, self.high = pg.PlotCurveItem(), pg.PlotCurveItem()
        self.band = pg.FillBetweenItem(self.low, self.high)
        self.own, self.bought = pg.PlotCurveItem(), pg.PlotCurveItem()
        self.barred = pg.LinearRegionItem(movable=False)
        self.lines = [pg.InfiniteLine(angle=90) for _ in range(3)]
        for item in (self.barred, self.band, self.low, self.high, self.bought, self.own, *self.lines):
            self.plot.addItem(item)
        self.stand = pg.ScatterPlotItem()
        self.plot.addItem(self.stand)
        self.words: list[pg.TextItem] = []
        self.column.addWidget(self.plot, 1)

    def turn_over(self) -> None:
        """Standing, over its turns; or at the motor's most, over the speed of flight."""
        self.flying = not self.flying
        self.turn.setText("Standing" if self.flying else "In flight")
        self.title.setText("What it pushes in flight" if self.flying else "What it lifts, and where it lets go")
        self.show_sight(self.sight)

    def show_sight(self, sight: PropellerSight | None) -> None:
        """A propeller, or none."""
        self.sight = sight
        for item in self.words:
            self.plot.removeItem(item)
        self.words = []
        self.plot.setVisible(sight is not None)
        if sight is None:
            return
        name_axis(self.plot, "bottom", "Speed along the shaft, m/s" if self.flying else "1000 rpm")
        for item in (self.band, self.low, self.high, self.stand, self.barred, *self.lines):
            item.setVisible(not self.flying)
        if self.flying:
            self._fly(sight)
            return
        c, curves, k = theme.current(), sight.curves, THOUSAND
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        wall = QColor(c.wall)
        wall.setAlpha(40)
        rpm, thrust = k * curves.rpm, curves.thrust_n
        for item, values in ((self.low, thrust[0]), (self.high, thrust[2])):
            item.setData(rpm, values, pen=pg.mkPen(None))
        self.band.setBrush(pg.mkBrush(wall))
        self.own.setData(rpm, thrust[1], pen=pg.mkPen(c.wall, width=2.2))
        self.bought.setData(rpm, curves.bought_thrust_n, pen=pg.mkPen(c.muted, width=1.4, style=Qt.PenStyle.DashLine))
        allowed, most, hover = k * sight.lets_go.allowed, k * sight.printed.most_rpm, k * sight.printed.hover_rpm
        right, top = float(rpm[-1]), float(max(thrust[2].max(), curves.bought_thrust_n.max()))
        red = QColor(c.fails)
        red.setAlpha(30)
        self.barred.setRegion((min(allowed, right), right))
        self.barred.setBrush(pg.mkBrush(red))
        for line in self.barred.lines:
            line.setPen(pg.mkPen(None))
        self.barred.setVisible(allowed < right)
        thin = pg.mkPen(c.ink, width=1, style=Qt.PenStyle.DashLine)
        for line, x, pen in zip(self.lines, (hover, most, allowed), (thin, thin, pg.mkPen(c.fails, width=2)), strict=True):
            line.setPos(x)
            line.setPen(pen)
        self.lines[2].setVisible(allowed < right)
        self.plot.setXRange(0.0, right, padding=0.01)
        self.plot.setYRange(0.0, top, padding=0.02)
        self._say("hover", hover, 0.85 * top, c.muted, (1.05, 0.0))
        self._say("motor's most", most, 0.03 * top, c.muted, (1.03, 1.0))
        if allowed < right:
            self._say(
                f"do not spin above {round(sight.lets_go.allowed, -2):,.0f}".replace(",", " "), allowed, 0.97 * top, c.fails, (1.03, 0.0)
            )
        shape = drawn(sight.part)
        spots = [(k * r.rpm, r.thrust_n) for r in shape.stand]
        self.stand.setData([x for x, _ in spots], [y for _, y in spots], size=8, pen=pg.mkPen(c.ink), brush=pg.mkBrush(c.card))
        self.note.setText("one of them, standing · bought one dashed" + (" · rings measured" if spots else ""))

    def _fly(self, sight: PropellerSight) -> None:
        c, flight = theme.current(), sight.in_flight
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        self.own.setData(flight.speed_m_s, flight.thrust_n[1], pen=pg.mkPen(c.wall, width=2.2))
        self.bought.setData(flight.speed_m_s, flight.thrust_n[0], pen=pg.mkPen(c.cover, width=1.6))
        top = float(flight.thrust_n[1].max())
        self.plot.setXRange(0.0, float(flight.speed_m_s[-1]), padding=0.01)
        self.plot.setYRange(0.0, top, padding=0.02)
        self._say("motor's most", 0.02 * float(flight.speed_m_s[-1]), 0.80 * float(flight.thrust_n[1, 0]), c.wall, (0.0, 0.0))
        self._say("as in hover", 0.02 * float(flight.speed_m_s[-1]), float(flight.thrust_n[0, 0]), c.muted, (0.0, 1.1))
        best, at = flight.best
        self.note.setText(f"best {best:.0%} of its power at {at:.0f} m/s; pushes up to {flight.no_thrust_m_s:.0f} m/s")

    def _say(self, text: str, x: float, y: float, colour: str, anchor: tuple[float, float]) -> None:
        item = pg.TextItem(text, color=QColor(colour), anchor=anchor)
        item.setFont(theme.sans(8, bold=colour == theme.current().fails))
        item.setPos(x, y)
        self.plot.addItem(item)
        self.words.append(item)
