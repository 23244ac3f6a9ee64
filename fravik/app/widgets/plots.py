"""What all plots share."""

from __future__ import annotations

from typing import Any

import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QRegion, QResizeEvent, QShowEvent

from fravik.app import painting, theme

# the tool kit may ask for a label's size while the library is still making the label
pg.LabelItem._sizeHint = {}


class _Waiting:
    """For a view: while it waits for its turn to be painted, what it painted last stays on the screen; nothing where that was not it."""

    _owed = QRegion()  # what is to be painted yet
    _stays = False

    def paintEvent(self: Any, event: QPaintEvent) -> None:
        pad, region = self.viewport(), event.region()
        pad.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # nobody clears its ground before it
        if painting.waits(pad):
            self._owed = self._owed.united(region)
            if not self._stays:
                ground = QPainter(pad)
                ground.fillRect(region.boundingRect(), self.backgroundBrush())
                ground.end()
            return
        super().paintEvent(event)  # type: ignore[misc]
        left, self._owed = self._owed.subtracted(region), QRegion()
        self._stays = self._stays or region.contains(pad.rect())
        if not left.isEmpty():
            pad.update(left)

    def showEvent(self: Any, event: QShowEvent) -> None:
        self._stays = False
        super().showEvent(event)  # type: ignore[misc]

    def resizeEvent(self: Any, event: QResizeEvent) -> None:
        self._stays = False
        super().resizeEvent(event)  # type: ignore[misc]


class Plot(_Waiting, pg.PlotWidget):
    """One plot."""


class Plots(_Waiting, pg.GraphicsLayoutWidget):
    """Several plots on one ground."""


def dress_axes(plot: Any, figures_pt: float) -> None:
    """A plot's axes in the palette in force, with figures of a size; nothing is done where they are so already."""
    c = theme.current()
    worn = getattr(plot, "axes_worn", None)
    if worn is not None and worn[0] is c and worn[1] == figures_pt:
        return
    plot.axes_worn = c, figures_pt
    for side in ("left", "bottom"):
        axis = plot.getAxis(side)
        axis.setPen(c.rule)
        axis.setTextPen(c.muted)
        axis.setTickFont(theme.sans(figures_pt))
        axis.label.setFont(theme.sans(8))


def name_axis(plot: Any, side: str, text: str) -> None:
    """Write along an axis, in its middle: the library moves what it wrote there only when the size changes."""
    plot.setLabel(side, text)
    plot.getAxis(side).resizeEvent()


def plain_plot(across: str, up: str) -> Any:
    """A plot that is only looked at, with its axes named."""
    plot = Plot(enableMenu=False)
    plot.setBackground(theme.current().card)
    plot.setMouseEnabled(False, False)
    plot.hideButtons()
    plot.setLabel("bottom", across)
    plot.setLabel("left", up)
    plot.showGrid(x=True, y=True, alpha=0.1)
    plot.setMinimumHeight(70)
    dress_axes(plot, 7.5)
    return plot
