"""The part in 3D, coloured by reserve, with the weakest spot flagged."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter
from PyQt6.QtWidgets import QWidget

from fravik.app import theme
from fravik.app.widgets.scene import Actors, ball, lines, poly, standing_at
from fravik.engine.results import MemberResult, PlateResult
from fravik.engine.ruler import Shown, along_part, spot_of
from fravik.shape.build import Mesh, ShapeInput

RESERVE_BANDS = (1.0, 1.4, 2.0, 3.0)
LEAST_SPOT_MM = 0.8
BAND_NAMES = ("below 1", "1–1.4", "1.4–2", "2–3", "over 3")


class ReserveKey(QWidget):
    """Colour key of the reserve bands."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(theme.sized(16))
        self.setMinimumWidth(271)
        self.setAccessibleName("Reserve bands: " + ", ".join(BAND_NAMES))

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        c = theme.current()
        p.setFont(theme.sans(7.5))
        names = sum(QFontMetricsF(p.font()).horizontalAdvance(name) for name in BAND_NAMES)
        gap = min(13.0, (self.width() - names) / len(BAND_NAMES) - 15)
        x = 0.0
        for colour, name in zip(c.reserve, BAND_NAMES, strict=True):
            p.fillRect(QRectF(x, 3, 11, 10), QColor(colour))
            p.setPen(QColor(c.muted))
            p.drawText(QPointF(x + 15, theme.sized(12)), name)
            x += 15 + gap + QFontMetricsF(p.font()).horizontalAdvance(name)


def band_height(values: np.ndarray) -> np.ndarray:
    """Where a reserve lies among the bands, one a band: the colour changes just at their bounds, between points by straight lines."""
    bounds = (0.0, *RESERVE_BANDS, 2 * RESERVE_BANDS[-1])
    return np.interp(values, bounds, np.arange(len(bounds)) - 0.5)


def draw_part(
    plotter: Any,
    actors: Actors,
    given: ShapeInput,
    held: Mesh | None,
    mesh: Mesh,
    edges: np.ndarray,
    found: MemberResult | PlateResult | None,
    shown: Shown | None,
) -> None:
    """Put the part into the scene; ``held`` is what of it lies behind its ruler."""
    c = theme.current()
    plotter.remove_actor("flag", render=False)
    actors.begin()
    if held is not None:
        behind = held
        actors.put(plotter, "held", given, lambda: poly(behind.vertices_mm, behind.faces), {"color": c.rule})
    surface = poly(mesh.vertices_mm, mesh.faces)
    if found is not None and shown is not None:
        surface.point_data["band"] = band_height(along_part(found, shown, mesh.vertices_mm))
        # the colour is looked up at every spot of the picture, not at the corners of triangles
        look = {"scalars": "band", "cmap": list(c.reserve), "clim": (-0.5, 4.5), "n_colors": 5, "interpolate_before_map": True}
        actors.put(plotter, "part", object(), lambda: surface, look)
        spot, size = spot_of(found, shown, mesh)
        at = standing_at(spot, max(0.012 * size, LEAST_SPOT_MM))
        actors.put(plotter, "spot", "ball", ball, {"color": c.fails, "ambient": 0.8}, at)
        text = f"{shown.named}\nreserve {shown.reserve:.2f}"
        plotter.add_point_labels(
            np.array([spot + np.array([0.0, 0.0, 0.14 * size])]), [text], name="flag", font_size=11,
            font_file=theme.face_file(), text_color=c.ink,
            shape_color=c.card, shape="rect", shape_opacity=0.9, margin=4, show_points=False, always_visible=True, render=False,
            reset_camera=False,
        )  # fmt: skip
    else:
        actors.put(plotter, "part", object(), lambda: surface, {"color": c.cover})
    actors.put(plotter, "edges", given, lambda: lines(edges), {"color": c.ink, "line_width": 1.2, "opacity": 0.55})
    actors.end(plotter)
