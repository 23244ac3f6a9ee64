"""Frequencies over motor speed: the craft's modes as bands, and the lines of what shakes them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath
from PyQt6.QtWidgets import QGraphicsPathItem, QGraphicsRectItem

from fravik.app import theme
from fravik.app.widgets.basics import Card, label
from fravik.app.widgets.plots import Plots, dress_axes, name_axis
from fravik.app.widgets.short import Choices
from fravik.engine.results import Evaluation
from fravik.engine.shake import orders_of
from fravik.engine.speedmap import SpeedMap
from fravik.structure.excitation import Order, Ringing

# labels of modes stand at least so far apart, of the height of the plot
APART = 0.045
UNDER = 0.7
DARKEST, FADES = 230, 0.4  # of 255, the shade where a spot is shaken most, and how slowly it fades
MOST_IN_A_LABEL = 3
MOST_ORDERS = 8  # of four unlike drives
TEXT_PT, TEXT_ROOM_PX = 8, 3


@dataclass(frozen=True)
class Word:
    """A text at a place of the plot; ``anchor`` is the point of it, of its width and height, that stands there."""

    text: str
    x: float
    y: float
    colour: str
    anchor: tuple[float, float]


class Words(pg.GraphicsObject):
    """All texts of a plot as one thing to draw, upright at any scale."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[Word] = []
        self.setZValue(10)

    def show_words(self, words: list[Word]) -> None:
        """Put these in place of those before."""
        self.words = words
        self.update()

    def boundingRect(self) -> QRectF:
        return QRectF(self.viewRect()) if self.getViewBox() is not None else QRectF()

    def dataBounds(self, *_: Any) -> None:
        """It asks for no room."""

    def paint(self, painter: QPainter, *_: Any) -> None:
        to_screen = painter.worldTransform()
        painter.resetTransform()
        painter.setFont(theme.sans(TEXT_PT))
        metrics, ground = QFontMetricsF(painter.font()), QColor(theme.current().card)
        ground.setAlpha(208)
        room, taken = to_screen.mapRect(self.boundingRect()), list[QRectF]()
        for word in self.words:
            wide, tall = metrics.horizontalAdvance(word.text) + 2 * TEXT_ROOM_PX, metrics.height() + 2 * TEXT_ROOM_PX
            at = to_screen.map(QPointF(word.x, word.y))
            wished = QRectF(at.x() - word.anchor[0] * wide, at.y() - word.anchor[1] * tall, wide, tall)
            box = _free(wished, taken, room)
            if box is None:
                continue
            taken.append(box)
            painter.fillRect(box, ground)
            painter.setPen(QColor(word.colour))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, word.text)


def _free(wished: QRectF, taken: list[QRectF], room: QRectF) -> QRectF | None:
    """The place nearest to the one wished for, of a few, where nothing is written yet; none where there is none."""
    up, side = wished.height(), wished.width()
    for dx, dy in ((0.0, 0.0), (0.0, -up), (0.0, up), (side, 0.0), (-side, 0.0), (0.0, -2 * up), (0.0, 2 * up)):
        box = wished.translated(dx, dy)
        box.moveLeft(min(max(box.left(), room.left()), room.right() - box.width()))
        box.moveTop(min(max(box.top(), room.top()), room.bottom() - box.height()))
        if not any(box.intersects(t) for t in taken):
            return box
    return None


def _named(modes: list[Ringing]) -> str:
    """What modes close together are called, all of them in one label."""
    by_name: dict[str, dict[str, None]] = {}
    for m in modes:
        by_name.setdefault(m.name.split(",")[0], {})[f"{m.freq_hz:.0f}"] = None
    if len(modes) > MOST_IN_A_LABEL:
        return f"{len(modes)} modes {modes[0].freq_hz:.0f}–{modes[-1].freq_hz:.0f} Hz"
    return ", ".join(f"{name} {', '.join(hz)}" for name, hz in by_name.items()) + " Hz"


class FrequencyPlot(Card):
    """What rings, what shakes, and where they meet. Its things to draw are made once and moved."""

    def __init__(self) -> None:
        super().__init__("Frequencies over speed")
        self.note.setText("shade: what a log shows at")
        self.place = Choices()
        self.place.setAccessibleName("The spot whose shake is shaded")
        self.place.setToolTip("The spot of the craft whose shake is shaded along the orders")
        self.head.addWidget(self.place)
        self.pad = Plots()
        self.plot = self.pad.addPlot()
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        self.plot.setMouseEnabled(False, False)
        self.plot.setLabel("bottom", "Motor speed, 1000 rpm")
        self.plot.setLabel("left", "Frequency, Hz")
        self.plot.showGrid(x=True, y=True, alpha=0.1)
        self.column.addWidget(self.pad, 1)
        self.legend = label("", "small", wrap=True)
        self.legend.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.column.addWidget(self.legend)
        self.shade = self._put(pg.ImageItem(axisOrder="col-major"))
        self.working, self.spread = (self._put(QGraphicsRectItem()) for _ in range(2))
        self.order_lines = [self._put(pg.PlotCurveItem()) for _ in range(MOST_ORDERS)]
        self.hover = self._put(pg.InfiniteLine(angle=90))
        self.levels, self.chosen = (self._put(pg.PlotCurveItem(connect="pairs")) for _ in range(2))
        self.bars, self.marks = (
            {inside: self._put(make()) for inside in (False, True)} for make in (QGraphicsPathItem, pg.ScatterPlotItem)
        )
        self.words = self._put(Words())
        self._dressed = ""

    def _put(self, item: Any) -> Any:
        self.plot.addItem(item, ignoreBounds=True)
        return item

    def show_modes(self, result: Evaluation | None, chosen: int, shown: SpeedMap | None = None) -> None:
        """Draw a result, one of its modes brought out, shaded with what a spot feels."""
        c = theme.current()
        if self._dressed != theme.mode():
            self._dressed = theme.mode()
            self.pad.setBackground(c.card)
            dress_axes(self.plot, 7.5)
        known = result is not None and bool(result.modes)
        for item in (self.working, self.spread, *self.order_lines, self.hover, self.levels, self.chosen, self.shade, *self.bars.values(),
                     *self.marks.values(), self.words):  # fmt: skip
            item.setVisible(known)
        self.pad.setVisible(known)
        self.note.setVisible(known)
        self.column.setStretchFactor(self.legend, 0 if known else 1)
        if result is None or not known:
            self.legend.setText(f"Not known yet. {result.scope.structure if result is not None else ''}".strip())
            return
        power = result.power
        alike = len({r.hover_rpm for r in power.rotors}) == 1
        name_axis(self.plot, "bottom", "Motor speed, 1000 rpm" if alike else "Speed of the hardest rotor, 1000 rpm")
        full, top_line = power.full_rpm / 1e3, power.full_rpm / 60
        some = [m for m in result.modes if m.freq_hz < 2.2 * top_line] or list(result.modes[:1])
        ceiling = min(max(max(m.high_hz for m in some) * 1.12, top_line * 1.05), 2.3 * top_line)
        self.plot.setXRange(0, full * 1.02, padding=0)
        self.plot.setYRange(0, ceiling, padding=0)
        lo, hi = (60 * f / 1e3 for f in result.working_hz)
        _band(self.working, lo, 0.0, hi, ceiling, c.tight + "24")
        words = [Word(f"working speeds {lo:.1f}–{hi:.1f}", (lo + hi) / 2, ceiling, c.tight, (0.5, 0))]
        every = orders_of(result.project, power)
        words += self._orders(every, power.idle_rpm / 1e3, full, ceiling)
        hover = power.hover_rpm / 1e3
        self.hover.setPos(hover)
        self.hover.setPen(pg.mkPen(c.muted, width=1, style=Qt.PenStyle.DashLine))
        words.append(Word(f"hover {power.hover_rpm:.0f} rpm", hover, 0, c.muted, (0, 1)))
        words += self._levels(result, chosen, ceiling, full)
        most = self._shaded(shown)
        self._meetings(result, 0.008 * full)
        self.words.show_words(words)
        self.legend.setText(f"A line a mode; a mark where it is driven, with the filament's spread. Cross: at speeds the craft flies at "
                            f"for long. Ring: below them it is met on the way up, above them in climbs and punches.{most}")  # fmt: skip

    def _orders(self, every: tuple[Order, ...], idle: float, full: float, ceiling: float) -> list[Word]:
        words = []
        for k, curve in enumerate(self.order_lines):
            if k >= len(every):
                curve.setData([], [])
                continue
            slope = every[k].per_rev * 1e3 / 60
            end, colour = min(full, ceiling / slope), _colour(every[k])
            usual = k < 2
            style = Qt.PenStyle.SolidLine if usual else Qt.PenStyle.DashLine
            curve.setData([idle, end], [idle * slope, end * slope], pen=pg.mkPen(colour, width=2 if usual else 1.4, style=style))
            # the names of other drives stand apart from the usual one's
            along = 0.86 if usual else 0.62
            words.append(Word(every[k].name, end * along, end * slope * along, colour, (0, 0)))
        return words

    def _shaded(self, shown: SpeedMap | None) -> str:
        """The shade of what a spot feels; says what is worst there."""
        self.shade.setVisible(shown is not None)
        if shown is None:
            return ""
        top = max(float(shown.loud.max()), 1e-12)
        ink, look = QColor(theme.current().accent), np.zeros((*shown.loud.shape, 4), dtype=np.uint8)
        look[..., :3] = (ink.red(), ink.green(), ink.blue())
        look[..., 3] = np.round(DARKEST * (shown.loud / top) ** FADES)
        self.shade.setImage(look, autoLevels=False)
        low, high = shown.rpm[0] / 1e3, shown.rpm[-1] / 1e3
        self.shade.setRect(QRectF(low, 0.0, high - low, float(shown.hz[-1])))
        return f" Darkest: {shown.by_order.max():.3g} {shown.unit}. {shown.worst}"

    def _levels(self, result: Evaluation, chosen: int, ceiling: float, full: float) -> list[Word]:
        c, right = theme.current(), 1.02 * full
        labels: list[tuple[bool, list[Ringing]]] = []
        mine = result.modes[chosen]
        _band(self.spread, 0.0, mine.low_hz, right, mine.high_hz, c.cover + "60")
        level = [m.freq_hz for m in result.modes if m.low_hz <= ceiling]
        self.levels.setData(np.tile([0.0, right], len(level)), np.repeat(level, 2), pen=pg.mkPen(c.rule, width=1))
        self.chosen.setData([0.0, right], [mine.freq_hz] * 2, pen=pg.mkPen(c.wall, width=2.4))
        for i, m in enumerate(result.modes):
            # under the lines of what shakes there is room at the right, above them at the left
            under = m.freq_hz < UNDER * full * 1e3 / 60
            # the chosen one is always named, by itself; of the others those that are driven
            if m.low_hz > ceiling or (i != chosen and not m.driven):
                continue
            last = next((group for side, group in reversed(labels) if side == under and mine not in (m, group[0])), [])
            if last and m.freq_hz - last[0].freq_hz < APART * ceiling:
                last.append(m)
            else:
                labels.append((under, [m]))
        labels.sort(key=lambda x: x[1][0] is not mine)
        return [
            Word(_named(group), right - 0.01 * full if under else 0.01 * full, group[0].freq_hz, c.ink, (1, 0.9) if under else (0, 0.9))
            for under, group in labels
        ]

    def _meetings(self, result: Evaluation, half_width: float) -> None:
        """Marks where a mode meets what drives it, each on a bar from its low to its high frequency."""
        c = theme.current()
        for inside in (False, True):
            met = [x for x in result.meetings if x.reached and (x.where == "working") == inside]
            colour = c.fails if inside else c.muted
            bars = QPainterPath()
            for x in met:
                bars.addRect(x.rpm / 1e3 - half_width, x.mode.low_hz, 2 * half_width, x.mode.high_hz - x.mode.low_hz)
            self.bars[inside].setPath(bars)
            self.bars[inside].setBrush(pg.mkBrush(colour + "50"))
            self.bars[inside].setPen(pg.mkPen(None))
            self.marks[inside].setData(
                [x.rpm / 1e3 for x in met], [x.mode.freq_hz for x in met], size=11 if inside else 8, symbol="x" if inside else "o",
                pen=pg.mkPen(colour, width=2 if inside else 1.2), brush=pg.mkBrush(colour if inside else c.card),
            )  # fmt: skip


def _colour(order: Order) -> str:
    c = theme.current()
    return c.fails if order.way == "sideways" else c.accent


def _band(item: QGraphicsRectItem, left: float, low: float, right: float, high: float, colour: str) -> None:
    item.setRect(left, low, right - left, high - low)
    item.setBrush(pg.mkBrush(colour))
    item.setPen(pg.mkPen(None))
