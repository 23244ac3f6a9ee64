"""What all plots share."""

from __future__ import annotations

from typing import Any

import pyqtgraph as pg
from PyQt6.QtCore import QRect, QRectF
from PyQt6.QtGui import QPainter, QPaintEvent, QPixmap, QRegion

from fravik.app import painting, theme

# the tool kit may ask for a label's size while the library is still making the label
pg.LabelItem._sizeHint = {}


A_SPOT = QRect(0, 0, 1, 1)


class _Kept:
    """For a view: it paints into a picture of its own, which is shown as it was while the view waits for its turn."""

    _picture: QPixmap | None = None
    _owed = QRegion()  # what shows an older picture

    def paintEvent(self: Any, event: QPaintEvent) -> None:
        pad, region = self.viewport(), event.region()
        ratio = pad.devicePixelRatioF()
        if self._picture is None or self._picture.size() != pad.size() * ratio:
            self._picture = QPixmap(pad.size() * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(self.backgroundBrush().color())
        if painting.waits(pad):
            self._owed = self._owed.united(region)
        else:
            left, self._owed = self._owed.subtracted(region), QRegion()
            painter = QPainter(self._picture)
            self.render(painter, QRectF(pad.rect()), pad.rect())  # all of it: of a part, what is written beside it would be written over
            painter.end()
            # a scene only takes what its view paints itself for painted, and until then may ask for nothing more
            super().paintEvent(QPaintEvent(A_SPOT))  # type: ignore[misc]
            if not left.isEmpty():
                pad.update(left)
        shown = QPainter(pad)
        shown.setClipRegion(region)
        shown.drawPixmap(0, 0, self._picture)
        shown.end()


class Plot(_Kept, pg.PlotWidget):
    """One plot."""


class Plots(_Kept, pg.GraphicsLayoutWidget):
    """Several plots on one ground."""


def dress_axes(plot: Any, figures_pt: float) -> None:
    """A plot's axes in the palette in force, with figures of a size."""
    c = theme.current()
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
    plot = Plot()
    plot.setBackground(theme.current().card)
    plot.setMenuEnabled(False)
    plot.setMouseEnabled(False, False)
    plot.hideButtons()
    plot.setLabel("bottom", across)
    plot.setLabel("left", up)
    plot.showGrid(x=True, y=True, alpha=0.1)
    plot.setMinimumHeight(70)
    dress_axes(plot, 7.5)
    return plot
