"""Frequencies over motor speed: the craft's modes as bands, and the lines of what shakes them."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainterPath
from PyQt6.QtWidgets import QGraphicsPathItem, QGraphicsRectItem

from fravik.app import theme
from fravik.app.widgets.basics import Card, dress_axes, label
from fravik.engine.results import Evaluation
from fravik.structure.excitation import orders

# labels of modes stand at least so far apart, of the height of the plot
APART = 0.045
UNDER = 0.7
DOT_PX, DOT_SIZES = 30.0, 8  # the largest dot, and how many sizes there are


class FrequencyPlot(Card):
    """What rings, what shakes, and where they meet."""

    def __init__(self) -> None:
        super().__init__("Frequencies over speed")
        self.note.setText("dots: shake of the gyro; bars: filament low to high")
        self.pad = pg.GraphicsLayoutWidget()
        self.plot = self.pad.addPlot()
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        self.plot.setMouseEnabled(False, False)
        self.plot.setLabel("bottom", "Motor speed, 1000 rpm")
        self.plot.setLabel("left", "Frequency, Hz")
        self.plot.showGrid(x=True, y=True, alpha=0.1)
        self.column.addWidget(self.pad, 1)
        self.legend = label("", "small", wrap=True)
        self.column.addWidget(self.legend)

    def show_modes(self, result: Evaluation | None, chosen: int) -> None:
        """Draw a result, one of its modes brought out."""
        c = theme.current()
        self.pad.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        self.plot.clear()
        if result is None or not result.modes:
            self.legend.setText("Not known yet: no arm is judged.")
            return
        power = result.power
        full, idle, top_line = power.full_rpm / 1e3, power.idle_rpm / 1e3, power.full_rpm / 60
        shown = [m for m in result.modes if m.freq_hz < 2.2 * top_line] or list(result.modes[:1])
        ceiling = min(max(max(m.high_hz for m in shown) * 1.12, top_line * 1.05), 2.3 * top_line)
        lo, hi = (60 * f / 1e3 for f in result.working_hz)
        self._band(lo, 0.0, hi, ceiling, c.tight + "24")
        self._text(f"working speeds {lo:.1f}–{hi:.1f}", (lo + hi) / 2, ceiling, c.tight, (0.5, 0))
        colours = {"1/rev": c.fails, "blade pass": c.accent}
        for order in orders(result.project.components.propeller.blades):
            slope = order.per_rev * 1e3 / 60
            end = min(full, ceiling / slope)
            self.plot.plot([idle, end], [idle * slope, end * slope], pen=pg.mkPen(colours[order.name], width=2))
            self._text(order.name, end * 0.86, end * slope * 0.86, colours[order.name], (0, 0))
        hover = power.hover_rpm / 1e3
        self.plot.addItem(pg.InfiniteLine(hover, angle=90, pen=pg.mkPen(c.muted, width=1, style=Qt.PenStyle.DashLine)))
        self._text(f"hover {power.hover_rpm:.0f} rpm", hover, 0, c.muted, (0, 1))
        self._lines(result, chosen, ceiling, full)
        most = self._shake(result, colours, ceiling)
        self._meetings(result, 0.008 * full)
        self.plot.setXRange(0, full * 1.02, padding=0)
        self.plot.setYRange(0, ceiling, padding=0)
        self.legend.setText(f"A line a mode; a mark where it is driven, with the filament's spread. Cross: at speeds the craft flies at "
                            f"for long. Ring: below them it is met on the way up, above them in climbs and punches.{most}")  # fmt: skip

    def _shake(self, result: Evaluation, colours: dict[str, str], ceiling: float) -> str:
        """Dots along what shakes, the larger the more the gyro turns to and fro; says what the largest is."""
        if result.whole is None:
            return ""
        felt, every = result.whole.shake.map, result.whole.shake.orders
        usual = felt.gyro_dps[1]
        top = float(usual.max())
        if top <= 0:
            return ""
        for order, dps in zip(every, usual, strict=True):
            # a few sizes only: the plot draws each kind of mark once and stamps it
            size = np.ceil(DOT_SIZES * np.sqrt(dps / top)) / DOT_SIZES * DOT_PX
            hz = felt.rpm / 60 * order.per_rev
            there = (size > DOT_PX / DOT_SIZES) & (hz < ceiling)
            self.plot.addItem(pg.ScatterPlotItem(felt.rpm[there] / 1e3, hz[there], size=size[there], pen=None,
                                                 brush=pg.mkBrush(colours[order.name] + "30")))  # fmt: skip
        at = int(usual.max(axis=0).argmax())
        return f" Largest dot: {top:.0f} °/s at {felt.rpm[at]:.0f} rpm."

    def _lines(self, result: Evaluation, chosen: int, ceiling: float, full: float) -> None:
        c, right = theme.current(), 1.02 * full
        written: dict[bool, float] = {}
        mine = result.modes[chosen]
        self._band(0.0, mine.low_hz, right, mine.high_hz, c.skin + "60")
        # all lines as one thing to draw, and the chosen one over it
        level = [m.freq_hz for m in result.modes if m.low_hz <= ceiling]
        self.plot.addItem(
            pg.PlotCurveItem(
                np.tile([0.0, right], len(level)), np.repeat(level, 2), connect="pairs", pen=pg.mkPen(c.rule, width=1)
            )
        )  # fmt: skip
        self.plot.plot([0, right], [mine.freq_hz] * 2, pen=pg.mkPen(c.wall, width=2.4))
        for i, m in enumerate(result.modes):
            # under the lines of what shakes there is room at the right, above them at the left
            under = m.freq_hz < UNDER * full * 1e3 / 60
            near = abs(m.freq_hz - mine.freq_hz) < APART * ceiling or m.freq_hz - written.get(under, -ceiling) < APART * ceiling
            # the chosen one is always named; of the others those that are driven, where there is room
            if m.low_hz > ceiling or (i != chosen and (near or not m.driven)):
                continue
            written[under] = m.freq_hz
            text = f"{m.name.split(',')[0]} {m.freq_hz:.0f} Hz"
            self._text(text, right - 0.01 * full if under else 0.01 * full, m.freq_hz, c.ink, (1, 0.9) if under else (0, 0.9))

    def _meetings(self, result: Evaluation, half_width: float) -> None:
        """Marks where a mode meets what drives it, each on a bar from its low to its high frequency."""
        c = theme.current()
        for inside in (False, True):
            met = [x for x in result.meetings if x.reached and (x.where == "working") == inside]
            colour = c.fails if inside else c.muted
            bars = QPainterPath()
            for x in met:
                bars.addRect(x.rpm / 1e3 - half_width, x.mode.low_hz, 2 * half_width, x.mode.high_hz - x.mode.low_hz)
            item = QGraphicsPathItem(bars)
            item.setBrush(pg.mkBrush(colour + "50"))
            item.setPen(pg.mkPen(None))
            self.plot.addItem(item, ignoreBounds=True)
            marks = pg.ScatterPlotItem(
                [x.rpm / 1e3 for x in met], [x.mode.freq_hz for x in met], size=11 if inside else 8, symbol="x" if inside else "o",
                pen=pg.mkPen(colour, width=2 if inside else 1.2), brush=pg.mkBrush(colour if inside else c.card),
            )  # fmt: skip
            self.plot.addItem(marks)

    def _band(self, left: float, low: float, right: float, high: float, colour: str) -> None:
        item = QGraphicsRectItem(left, low, right - left, high - low)
        item.setBrush(pg.mkBrush(colour))
        item.setPen(pg.mkPen(None))
        self.plot.addItem(item, ignoreBounds=True)

    def _text(self, text: str, x: float, y: float, colour: str, anchor: tuple[float, float]) -> None:
        item = pg.TextItem(text, color=colour, anchor=anchor, fill=pg.mkBrush(theme.current().card + "d0"))
        item.setZValue(10)
        item.setFont(theme.sans(8))
        item.setPos(x, y)
        self.plot.addItem(item)
