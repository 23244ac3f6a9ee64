"""What all plots share."""

from __future__ import annotations

from typing import Any

import pyqtgraph as pg

from fravik.app import theme

# the tool kit may ask for a label's size while the library is still making the label
pg.LabelItem._sizeHint = {}


def dress_axes(plot: Any, figures_pt: float) -> None:
    """A plot's axes in the palette in force, with figures of a size."""
    c = theme.current()
    for side in ("left", "bottom"):
        axis = plot.getAxis(side)
        axis.setPen(c.rule)
        axis.setTextPen(c.muted)
        axis.setTickFont(theme.sans(figures_pt))
        axis.label.setFont(theme.sans(8))


def plain_plot(across: str, up: str) -> Any:
    """A plot that is only looked at, with its axes named."""
    plot = pg.PlotWidget()
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
