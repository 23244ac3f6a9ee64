"""Along the arm: reserve and stiffness over positions, the weakest spot flagged, and a position that can be dragged."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import label
from fravik.app.widgets.besidemarks import named
from fravik.app.widgets.plots import Plots
from fravik.engine.ruler import Ruler as RulerData
from fravik.engine.ruler import Spike, nearest_position

RESERVE_TOP = 4.0
AXIS_PX, TEXT_EDGE_PX = 62, 10  # beside the plots, and around what is written in them
SPIKES_FROM, SPIKES_TO = 4.3, 5.9  # the band above the curve in which raisers hang


class Ruler(QWidget):
    """Two plots on one position axis with a shared cursor."""

    position_changed = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Along the part: left and right arrows move the position")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.pad = Plots()
        column.addWidget(self.pad)
        self.top = self.pad.addPlot(row=0, col=0)
        self.low = self.pad.addPlot(row=1, col=0)
        self.low.setXLink(self.top)
        self.pad.ci.layout.setRowStretchFactor(0, 3)
        self.pad.ci.layout.setRowStretchFactor(1, 2)
        self.pad.ci.setSpacing(2)
        self.pad.ci.setContentsMargins(0, 2, 4, 0)
        for plot in (self.top, self.low):
            plot.setMenuEnabled(False)
            plot.hideButtons()
            plot.setMouseEnabled(False, False)
            plot.disableAutoRange()
            plot.getAxis("left").setWidth(46)
            plot.getAxis("left").enableAutoSIPrefix(False)
            plot.showGrid(y=True, alpha=0.12)
        self.top.getAxis("bottom").setStyle(showValues=False)
        self.top.setLabel("left", "Reserve")
        self.low.setLabel("left", "EI, N·m²")
        self.top.setYRange(0, SPIKES_TO, padding=0)
        self.top.getAxis("left").setTicks([[(v, str(v)) for v in (0, 1, 2, 3)] + [(4, "4+")]])
        self.below = pg.LinearRegionItem((0, 1), orientation="horizontal", movable=False)
        self.top.addItem(self.below)
        self.one = pg.InfiniteLine(1.0, angle=0)
        self.top.addItem(self.one)
        self.curve = self.top.plot()
        self.weak = pg.ScatterPlotItem(size=10, symbol="t")
        self.top.addItem(self.weak)
        self.up, self.side = self.low.plot(), self.low.plot()
        self.up_text, self.side_text = pg.TextItem("EI up", anchor=(0.5, 0.8)), pg.TextItem("EI side", anchor=(0.5, 0.9))
        self.low.addItem(self.up_text)
        self.low.addItem(self.side_text)
        self.pointer = pg.InfiniteLine(0.0, angle=90, movable=True)
        self.pointer_low = pg.InfiniteLine(0.0, angle=90, movable=True)
        self.top.addItem(self.pointer)
        self.low.addItem(self.pointer_low)
        self.reading = label("", "figure")
        self.stems = self.top.plot(connect="pairs")
        self.spike_texts: list[pg.TextItem] = []
        self._ruler: RulerData | None = None
        self.ghost, self.ghost_up = self.top.plot(), self.low.plot()
        self._low, self._high = 0.0, 1.0
        self._x: NDArray[np.float64] = np.zeros(1)
        self._reserve: NDArray[np.float64] = np.zeros(1)
        self._spikes: tuple[Spike, ...] = ()
        self.pointer.sigPositionChanged.connect(lambda: self._moved(self.pointer))
        self.pointer_low.sigPositionChanged.connect(lambda: self._moved(self.pointer_low))
        self.pad.scene().sigMouseClicked.connect(self._clicked)
        self._quiet = False
        self.restyle()
        theme.on_change(self.restyle)

    def restyle(self) -> None:
        """Take the palette in force."""
        c = theme.current()
        self.pad.setBackground(c.card)
        for plot in (self.top, self.low):
            for side in ("left", "bottom"):
                axis = plot.getAxis(side)
                axis.setPen(c.rule)
                axis.setTextPen(c.muted)
                axis.setTickFont(theme.sans(7))
                axis.label.setFont(theme.sans(7.5))
        self.below.setBrush(pg.mkBrush(c.fails + "26"))
        for line in self.below.lines:
            line.setPen(pg.mkPen(None))
        self.one.setPen(pg.mkPen(c.fails, width=1, style=Qt.PenStyle.DashLine))
        self.curve.setPen(pg.mkPen(c.fails, width=2))
        self.up.setPen(pg.mkPen(c.accent, width=2))
        self.side.setPen(pg.mkPen(c.cover, width=2, style=Qt.PenStyle.DashLine))
        self.weak.setBrush(c.fails)
        self.weak.setPen(None)
        self.up_text.setColor(c.accent)
        self.side_text.setColor(c.muted)
        for item in (self.up_text, self.side_text):
            item.setFont(theme.sans(7.5))
        self.stems.setPen(pg.mkPen(c.tight, width=2))
        for item in self.spike_texts:
            item.setColor(c.tight)
        self.ghost.setPen(pg.mkPen(c.muted, width=1.6, style=Qt.PenStyle.DashLine))
        self.ghost_up.setPen(pg.mkPen(c.muted, width=1.4, style=Qt.PenStyle.DashLine))
        for line in (self.pointer, self.pointer_low):
            line.setPen(pg.mkPen(c.ink, width=1.6))
            line.setHoverPen(pg.mkPen(c.accent, width=3))

    def show_line(self, ruler: RulerData, reserve: NDArray[np.float64]) -> None:
        """Show another part, load case or recipe."""
        self._x, self._reserve = ruler.positions_mm, reserve
        self._low, self._high = ruler.low_mm, ruler.high_mm
        self.curve.setData(ruler.positions_mm, np.minimum(reserve, RESERVE_TOP))
        worst = int(np.argmin(reserve))
        self.weak.setData([float(ruler.positions_mm[worst])], [min(float(reserve[worst]), RESERVE_TOP) + 0.28])
        self.up.setData(ruler.positions_mm, ruler.ei_up_nm2)
        self.side.setData(ruler.positions_mm, ruler.ei_side_nm2)
        both = np.concatenate([ruler.ei_up_nm2, ruler.ei_side_nm2])
        self.side_text.setVisible(bool(ruler.ei_side_nm2.any()))
        self.side.setVisible(bool(ruler.ei_side_nm2.any()))
        self.low.setYRange(0, float(np.percentile(both, 90)) * 1.35 + 1e-9, padding=0)
        self.top.setXRange(ruler.low_mm, ruler.high_mm, padding=0.01)
        # apart along the ruler, so that they never lie on one another where a part is as stiff both ways
        for text, values, share in ((self.up_text, ruler.ei_up_nm2, 0.62), (self.side_text, ruler.ei_side_nm2, 0.4)):
            near = min(int(share * len(ruler.positions_mm)), len(ruler.positions_mm) - 1)
            text.setPos(float(ruler.positions_mm[near]), float(values[near]))
        for line in (self.pointer, self.pointer_low):
            line.setBounds((ruler.low_mm, ruler.high_mm))
        self._show_spikes(ruler)
        self._read()

    def show_ghost(self, ruler: RulerData | None, reserve: NDArray[np.float64] | None) -> None:
        """Show a pinned design's curves behind, or none."""
        if ruler is None or reserve is None:
            self.ghost.setData([], [])
            self.ghost_up.setData([], [])
            return
        self.ghost.setData(ruler.positions_mm, np.minimum(reserve, RESERVE_TOP))
        self.ghost_up.setData(ruler.positions_mm, ruler.ei_up_nm2)

    def _show_spikes(self, ruler: RulerData) -> None:
        """Stems hang from the top, as long as the factor is large; the largest are named where there is room."""
        self._ruler, self._spikes = ruler, ruler.spikes
        places = [min(max((s.start_mm + s.end_mm) / 2, ruler.low_mm), ruler.high_mm) for s in ruler.spikes]
        ends = [SPIKES_TO - min(0.9 * (s.factor - 1.0) + 0.12, SPIKES_TO - SPIKES_FROM) for s in ruler.spikes]
        self.stems.setData(np.repeat(places, 2), np.array([[SPIKES_TO, e] for e in ends]).ravel() if ends else [])
        first = sorted(range(len(places)), key=lambda k: -ruler.spikes[k].factor)
        texts = [f"×{s.factor:.2f} {s.name}" for s in ruler.spikes]
        metrics, mm_per_px = QFontMetricsF(theme.sans(7.5)), (ruler.high_mm - ruler.low_mm) / max(self.width() - AXIS_PX, AXIS_PX)
        wide = [mm_per_px * (metrics.horizontalAdvance(t) + TEXT_EDGE_PX) for t in texts]
        after = named(places, wide, first, ruler.low_mm, ruler.high_mm)
        for item, k in zip((self._spike_text(n) for n in range(len(after))), after, strict=True):
            item.setText(texts[k])
            item.setAnchor((0, 0.5) if after[k] else (1, 0.5))
            item.setPos(places[k], (SPIKES_FROM + SPIKES_TO) / 2)
        for n, item in enumerate(self.spike_texts):
            item.setVisible(n < len(after))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if self._ruler is not None:
            self._show_spikes(self._ruler)

    def _spike_text(self, k: int) -> pg.TextItem:
        if k == len(self.spike_texts):
            item = pg.TextItem()
            item.setFont(theme.sans(7.5))
            item.setColor(theme.current().tight)
            self.top.addItem(item)
            self.spike_texts.append(item)
        return self.spike_texts[k]

    @property
    def spikes(self) -> tuple[Spike, ...]:
        """The raisers on show."""
        return self._spikes

    def set_position(self, position_mm: float) -> None:
        """Put the cursor somewhere without telling anyone."""
        self._quiet = True
        for line in (self.pointer, self.pointer_low):
            line.setPos(position_mm)
        self._quiet = False
        self._read()

    @property
    def position_mm(self) -> float:
        """Where the cursor is."""
        return float(self.pointer.value())

    @property
    def positions_mm(self) -> NDArray[np.float64]:
        """Positions of the curves on show."""
        return self._x

    def _read(self) -> None:
        x = self.position_mm
        r = float(self._reserve[nearest_position(self._x, x)])
        self.reading.setText(f"{x:.0f} mm: reserve {r:.2f}" if r < 90 else f"{x:.0f} mm: reserve over 90")

    def _moved(self, line: pg.InfiniteLine) -> None:
        if self._quiet:
            return
        self.set_position(float(line.value()))
        self.position_changed.emit(self.position_mm)

    def _clicked(self, event: object) -> None:
        at = self.top.vb.mapSceneToView(event.scenePos())  # type: ignore[attr-defined]
        if self._low <= at.x() <= self._high:
            self.pointer.setPos(at.x())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = 5.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        if event.key() == Qt.Key.Key_Left:
            self.pointer.setPos(max(self._low, self.position_mm - step))
        elif event.key() == Qt.Key.Key_Right:
            self.pointer.setPos(min(self._high, self.position_mm + step))
        else:
            super().keyPressEvent(event)
