"""The propeller guard as a true solid, and its middle line: hub, strut, arc, strut, hub."""

from __future__ import annotations

import itertools
import math

import numpy as np
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from fravik.model.shapes import GuardShape

from .outline import disc, fillet_inner, polygon, segments_for

Floats = NDArray[np.float64]

PEAK_MM = 1.2
CLEARANCE_MM = 6.0


def guard_radius_mm(guard: GuardShape, propeller_mm: float) -> float:
    """Motor axis to the middle of the arc: the guard's own radius, or what clears the propeller."""
    if guard.radius_mm is not None:
        return guard.radius_mm
    return propeller_mm / 2 + CLEARANCE_MM + guard.width_mm / 2


def _ring(radius: float, half_angle: float, width: float) -> CrossSection:
    n = max(8, round(segments_for(radius, 0.03) * half_angle / math.pi))
    angles = np.linspace(-half_angle, half_angle, n + 1)
    outer = [((radius + width / 2) * math.cos(a), (radius + width / 2) * math.sin(a)) for a in angles]
    inner = [((radius - width / 2) * math.cos(a), (radius - width / 2) * math.sin(a)) for a in angles[::-1]]
    return polygon(outer + inner)


def _strut(angle: float, start: float, end: float, width: float) -> CrossSection:
    c, s = math.cos(angle), math.sin(angle)
    h = width / 2
    return polygon([(start * c + h * s, start * s - h * c), (end * c + h * s, end * s - h * c),
                    (end * c - h * s, end * s + h * c), (start * c - h * s, start * s + h * c)])  # fmt: skip


def guard_plan(g: GuardShape, radius_mm: float) -> CrossSection:
    """Ring and struts seen from above, corners rounded inside and out."""
    half = math.radians(g.span_deg) / 2
    plan = _ring(radius_mm, half, g.width_mm)
    for side in (-1, 1):
        plan += _strut(side * half, 0.0, radius_mm + g.width_mm / 2, g.width_mm)
    hub = disc(0.0, 0.0, g.hub_diameter_mm)
    corner = fillet_inner(plan, min(g.corner_mm, radius_mm / 4))
    rooted = fillet_inner(plan + hub, min(g.root_fillet_mm, radius_mm / 4))
    reach = g.hub_diameter_mm / 2 + 2 * g.root_fillet_mm
    near = disc(0.0, 0.0, 2 * min(reach, radius_mm / 2))
    return (corner - near) + (rooted ^ near) + plan


def guard_solid(g: GuardShape, radius_mm: float) -> Manifold:
    """The guard as a closed solid: ring and struts at full height, a thinner hub with the motor's holes."""
    hub = disc(0.0, 0.0, g.hub_diameter_mm)
    solid = (guard_plan(g, radius_mm) + hub).simplify(0.004).extrude(g.height_mm)
    # inside the hub only the hub's own thickness stays, so that the motor sits down on it; a hair wider, for a clean cut
    above = disc(0.0, 0.0, g.hub_diameter_mm + 0.04).extrude(g.height_mm + 1.0)
    solid = solid - above.translate((0.0, 0.0, min(g.hub_thickness_mm, g.height_mm)))
    cuts = disc(0.0, 0.0, max(4.0, g.bolt_circle_mm - g.bolt_hole_mm - 3.0) if g.bolt_circle_mm > 9 else 3.0)
    for i in range(4):
        a = math.pi / 4 + i * math.pi / 2
        cuts += disc(g.bolt_circle_mm / 2 * math.cos(a), g.bolt_circle_mm / 2 * math.sin(a), g.bolt_hole_mm)
    tall = max(g.height_mm, g.hub_thickness_mm) + 2.0
    return solid - cuts.extrude(tall).translate((0.0, 0.0, -1.0))


def _crowded(low: float, high: float, step: float, fine: dict[float, float]) -> Floats:
    """Places from ``low`` to ``high`` about a step apart, with one a short way to each side of the ``fine`` ones."""
    marks = sorted({low, high, *(min(max(f + k, low), high) for f, short in fine.items() for k in (-short, 0.0, short))})
    out = [low]
    for a, b in itertools.pairwise(marks):
        n = max(1, math.ceil((b - a) / step - 1e-9))
        out += [a + (b - a) * (i + 1) / n for i in range(n)]
    return np.array(out)


def guard_line(g: GuardShape, radius_mm: float, step_mm: float) -> Floats:
    """Nodes (n, 3) of the middle line from the hub's edge along a strut, round the arc and back; z on the plate's side.

    Bending peaks at the hub, where strut and arc meet, and under a load at the middle of the arc: nodes stand close there.
    """
    half, start = math.radians(g.span_deg) / 2, g.hub_diameter_mm / 2
    room = min((radius_mm - start) / 4, radius_mm * half / 4)
    # nearer than this to the corner a section would run along the other leg
    load, corner = min(PEAK_MM, room), min(g.width_mm + 1.5, room)
    out = _crowded(start, radius_mm, step_mm, {start: load, radius_mm: corner})
    angles = _crowded(-half, half, step_mm / radius_mm, {-half: corner / radius_mm, 0.0: load / radius_mm, half: corner / radius_mm})
    first = np.stack([out * math.cos(half), -out * math.sin(half)], axis=1)
    ring = radius_mm * np.stack([np.cos(angles), np.sin(angles)], axis=1)
    back = np.stack([out[::-1] * math.cos(half), out[::-1] * math.sin(half)], axis=1)
    plan = np.concatenate([first, ring[1:], back[1:]])
    return np.concatenate([plan, np.zeros((len(plan), 1))], axis=1)
