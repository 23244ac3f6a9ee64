"""A deck as a solid: a rounded rectangle with its screw holes, a window and a grid of holes; z = 0 at its underside, about its own
middle."""

from __future__ import annotations

import math

from manifold3d import CrossSection, Manifold, OpType

from fravik.model.shapes import DeckShape

from .features import added, cut, in_one, raised, stands_on, without_bores
from .outline import disc, rectangle, rounded_rectangle

CORNER_MM, EDGE_MM, HEAD = 3.0, 3.0, 2.6  # of a window's corners; of deck round a grid's holes; what a screw's head wants, of its hole


def standoffs(s: DeckShape) -> tuple[tuple[float, float], ...]:
    """Where its four standoffs are, about its own middle."""
    return tuple((sx * s.pitch_x_mm / 2, sy * s.pitch_y_mm / 2) for sx in (-1, 1) for sy in (-1, 1))


def deck_plan(s: DeckShape) -> CrossSection:
    """Seen from above."""
    lx, ly = s.length_mm / 2, s.width_mm / 2
    cuts = [disc(x, y, s.screw_hole_mm) for x, y in standoffs(s)]
    window = None
    if s.window_length_mm > 0 and s.window_width_mm > 0:
        wx, wy = s.window_length_mm / 2, s.window_width_mm / 2
        cuts.append(rounded_rectangle(-wx, -wy, wx, wy, min(CORNER_MM, wx, wy)))
        window = wx, wy
    cuts += [disc(x, y, s.grid_hole_mm) for x, y in grid(s, window)]
    whole = rounded_rectangle(-lx, -ly, lx, ly, s.corner_mm)
    if s.features:
        whole = whole + added(s.features)
        cuts.append(cut(s.features))
    return whole - CrossSection.batch_boolean(cuts, OpType.Add)


def deck_solid(s: DeckShape) -> Manifold:
    """The deck with what stands on it, z = 0 at its underside."""
    plan = deck_plan(s)
    solid = in_one(plan).extrude(s.thickness_mm)
    if not stands_on(s.features):
        return solid
    return without_bores(solid, s.features, s.thickness_mm) + raised(s.features, plan, s.thickness_mm)


def grid(s: DeckShape, window: tuple[float, float] | None) -> list[tuple[float, float]]:
    """Holes of its grid that keep clear of edge, standoffs and window."""
    if s.grid_pitch_mm <= 0:
        return []
    out, r = [], s.grid_hole_mm / 2
    inside = rounded_rectangle(-s.length_mm / 2, -s.width_mm / 2, s.length_mm / 2, s.width_mm / 2, s.corner_mm).offset(-(r + EDGE_MM))
    nx, ny = int(s.length_mm / 2 / s.grid_pitch_mm), int(s.width_mm / 2 / s.grid_pitch_mm)
    for i in range(-nx, nx + 1):
        for j in range(-ny, ny + 1):
            x, y = i * s.grid_pitch_mm, j * s.grid_pitch_mm
            near = any(math.hypot(x - a, y - b) < r + HEAD * s.screw_hole_mm / 2 + 1 for a, b in standoffs(s))
            through = window is not None and abs(x) < window[0] + r + EDGE_MM and abs(y) < window[1] + r + EDGE_MM
            there = not (inside ^ rectangle(x - 0.05, y - 0.05, x + 0.05, y + 0.05)).is_empty()
            if there and not near and not through:
                out.append((x, y))
    return out
