"""Pages beside the map: the centre of mass, flights along the way, hover, tilt."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import clear, label
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.plots import dress_axes, name_axis, plain_plot
from fravik.app.widgets.short import Short
from fravik.engine.compare import Edits
from fravik.engine.remedies import Remedy
from fravik.engine.transition import TransitionSight
from fravik.flight.aero.simulate import Z
from fravik.study.rounded import about

Take = Callable[[str, Edits], None]
PLOT_PX = 124


def _low(plot: QWidget) -> None:
    """As high as can be read, so that what stands below it is seen as well."""
    plot.setFixedHeight(theme.sized(PLOT_PX))


class MassPage(QWidget):
    """Centre of mass over the way, with what control can hold behind it, and what evens it out."""

    def __init__(self, take: Take) -> None:
        super().__init__()
        self.take = take
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 4, 0)
        self.words = label("", "small", wrap=True)
        column.addWidget(self.words)
        self.plot = plain_plot("", "mm ahead")
        self.plot.setAccessibleName("Centre of mass over the way")
        self.low, self.high, self.curve = pg.PlotCurveItem(), pg.PlotCurveItem(), pg.PlotCurveItem()
        self.band = pg.FillBetweenItem(self.low, self.high)
        for item in (self.band, self.low, self.high, self.curve):
            self.plot.addItem(item)
        column.addWidget(self.plot, 1)
        _low(self.plot)
        inner = QWidget()
        self.grid = QGridLayout(inner)
        self.grid.setContentsMargins(0, 0, 4, 0)
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(3)
        self.grid.setColumnStretch(0, 1)
        column.addWidget(inner)
        column.addStretch(1)

    def show_sight(self, s: TransitionSight, found: Sequence[Remedy] | None) -> None:
        """A craft's, and what was tried."""
        c = theme.current()
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        unit, whole = s.unit
        x = np.linspace(0.0, whole, len(s.com_mm))
        over, forward, back = s.trim_range_mm()
        order = np.argsort(over)
        at, ahead, behind = over[order] * whole, forward[order], back[order]
        com = np.interp(at, x, s.com_mm[:, 0])
        for item, v in ((self.low, com - behind), (self.high, com + ahead)):
            item.setData(at, np.clip(v, com - 60, com + 60), pen=pg.mkPen(None))
        colour = QColor(c.allowed)
        colour.setAlpha(150)
        self.band.setBrush(pg.mkBrush(colour))
        self.curve.setData(x, s.com_mm[:, 0], pen=pg.mkPen(c.wall, width=2.2))
        name_axis(self.plot, "bottom", unit)
        self.plot.setXRange(0.0, whole, padding=0.02)
        reach = max(float(np.ptp(s.com_mm[:, 0])), 10.0)
        middle = float(s.com_mm[:, 0].mean())
        self.plot.setYRange(middle - 1.6 * reach, middle + 1.6 * reach, padding=0)
        self.words.setText(f"It goes {s.travel_mm:.1f} mm. Shaded: where control could still hold it on the way out.")
        clear(self.grid)
        if found is None:
            self.grid.addWidget(label("remedies are being tried…", "small"), 0, 0)
        for k, r in enumerate(found or ()):
            self.grid.addWidget(label(r.title, "", wrap=True), k, 0)
            self.grid.addWidget(label(r.words, "muted"), k, 1)
            b = QPushButton("Try")
            b.setFixedHeight(theme.sized(20))
            b.setAccessibleName(f"Try: {r.title}")
            b.clicked.connect(partial(self.take, r.title, r.edits))
            self.grid.addWidget(b, k, 2)


class FlightsPage(QWidget):
    """What happens along the way, flown in time."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 4, 0)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(2)
        self.grid.setColumnStretch(1, 1)
        column.addLayout(self.grid)
        self.plot = plain_plot("s", "height, m")
        self.plot.setAccessibleName("Height along the way out and back")
        _low(self.plot)
        self.curves = [pg.PlotCurveItem() for _ in range(2)]
        for item in self.curves:
            self.plot.addItem(item)
        column.addWidget(self.plot, 1)
        self.energy = label("", "small", wrap=True)
        column.addWidget(self.energy)
        column.addWidget(
            label("In the upright plane, with one simple stabiliser for all crafts: roll and yaw are not told.", "small", wrap=True)
        )

    def show_sight(self, s: TransitionSight) -> None:
        """A craft's flights."""
        c = theme.current()
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        clear(self.grid)
        k = 0
        for name, w in (("Out", s.out), ("Back", s.back)):
            for f in w.flights:
                verdict = "fails" if f.lost else "holds" if f.reached else "tight"
                outcome = "lost" if f.lost else ("arrives" if f.reached else "does not arrive")
                self.grid.addWidget(VerdictMark(verdict, 9), k, 0)
                self.grid.addWidget(Short(f"{name}, {f.name}"), k, 1)
                told = f"{outcome}, sinks {f.height_lost_m:.1f} m, {math.degrees(f.overshoot_rad):.0f}° past"
                self.grid.addWidget(label(told, "muted"), k, 2)
                k += 1
        for item, w, style in ((self.curves[0], s.out, Qt.PenStyle.SolidLine), (self.curves[1], s.back, Qt.PenStyle.DashLine)):
            rows = w.as_planned.rows
            item.setData(w.as_planned.seconds, rows[:, Z], pen=pg.mkPen(c.wall, width=2, style=style))
        self.energy.setText(s.energy_words)
        heights = np.concatenate([s.out.as_planned.rows[:, Z], s.back.as_planned.rows[:, Z]])
        self.plot.setYRange(min(float(heights.min()), -2.0), max(float(heights.max()), 2.0), padding=0.05)


class HoverPage(QWidget):
    """Hover under a wing."""

    def __init__(self) -> None:
        super().__init__()
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 4, 4, 0)
        self.grid.setHorizontalSpacing(10)
        self.grid.setVerticalSpacing(4)
        self.grid.setColumnStretch(1, 1)

    def show_sight(self, s: TransitionSight) -> None:
        """A craft's."""
        clear(self.grid)
        h = s.hover
        if h is None:
            self.grid.addWidget(label("It does not hover in balance as it is drawn.", "problem", wrap=True), 0, 0, 1, 2)
            return
        lean = (
            "cannot hold it"
            if math.isnan(h.lean_rad)
            else f"leans {math.degrees(h.lean_rad):.0f}°, {100 * h.wind_control:.0f} % of control left"
        )
        rows = [
            ("Throttle", f"{100 * h.throttle:.0f} % of full voltage; {100 * h.bare_throttle:.0f} % without the wing"),
            ("Power", f"{h.power_w:.0f} W, {h.extra_pct:+.0f} % for the wing in the wash"),
            ("Pushed down by the wash", f"{100 * h.download:.1f} % of the weight"),
            (f"Broadside in {h.wind_m_s:.0f} m/s", f"{lean}; {h.most_wind_m_s:.0f} m/s at most"),
            *((f"Quarter turn by {k}", f"{v:.1f} s" if math.isfinite(v) else "not at all") for k, v in h.turn_s.items()),
            ("Quarter turn by all", f"{h.both_s:.1f} s" if math.isfinite(h.both_s) else "not at all"),
        ]
        for k, (name, text) in enumerate(rows):
            self.grid.addWidget(label(name, "muted", wrap=True), k, 0)
            self.grid.addWidget(label(text, "figure", wrap=True), k, 1)
        self.grid.setRowStretch(len(rows), 1)


class TiltPage(QWidget):
    """Torque over the angle against what the drive has."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 4, 0)
        self.words = label("", "small", wrap=True)
        self.plot = plain_plot("° tilt", "N mm")
        self.plot.setAccessibleName("Torque of tilting over the angle")
        _low(self.plot)
        self.curve = pg.PlotCurveItem()
        self.parts = [pg.PlotCurveItem() for _ in range(3)]
        self.limits = [pg.InfiniteLine(angle=0) for _ in range(2)]
        for item in (*self.parts, self.curve, *self.limits):
            self.plot.addItem(item)
        column.addWidget(self.plot)
        column.addWidget(self.words)
        column.addStretch(1)

    def show_sight(self, s: TransitionSight) -> None:
        """The tilt that asks most of its drive."""
        self.plot.setVisible(bool(s.tilts))
        if not s.tilts:
            self.words.setText("Nothing tilts on this craft." if not s.flyer.on_tail else "It goes over as a whole: nothing tilts.")
            return
        c, t = theme.current(), max(s.tilts, key=lambda x: x.share)
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        self.curve.setData(t.angle_deg, t.torque_nmm, pen=pg.mkPen(c.wall, width=2.4))
        for item, (_, v), colour in zip(self.parts, list(t.parts_nmm.items())[:3], (c.muted, c.core_line, c.cover), strict=False):
            item.setData(t.angle_deg, v, pen=pg.mkPen(colour, width=1.2, style=Qt.PenStyle.DashLine))
        for line, most in zip(self.limits, (t.has_nmm, -t.has_nmm), strict=True):
            line.setPos(most)
            line.setPen(pg.mkPen(c.fails, width=1.5))
        most = 1.1 * max(t.has_nmm, t.most_nmm)
        self.plot.setYRange(-most, most, padding=0)
        tooth = f" Teeth: {t.tooth_reserve:.1f} times what they are bent with." if t.tooth_reserve is not None else ""
        if t.flights is not None:
            tooth += f" They are worn after {about(t.flights.low)} to {about(t.flights.high)} times over and back."
        stays = "stays where it is" if t.holds else f"is driven back by {t.back_nmm:.0f} N mm"
        self.words.setText(f"{t.most_nmm:.0f} of {t.has_nmm:.0f} N mm ({100 * t.share:.0f} %), end to end in {t.seconds:.1f} s at "
                           f"{t.amps:.1f} A. With its drive dead "
                           f"it {stays}. Its bearings take {t.gyro_nmm:.0f} N mm of gyroscopic moment.{tooth} Dashed: weight of the "
                           f"pod, thrust beside "
                           "the axis, air.")  # fmt: skip


__all__ = ["FlightsPage", "HoverPage", "MassPage", "TiltPage"]
