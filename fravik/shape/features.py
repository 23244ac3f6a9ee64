"""Features of flat parts as outlines: discs, strips and arcs, cut-outs, holes and honeycombs, ribs and bosses."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

import numpy as np
from manifold3d import CrossSection, Manifold, OpType

from fravik.model.features import ADDS, CUTS, STANDS, PlateFeature

from .outline import disc, polygon, rectangle, rounded_rectangle, segments_for

ROUND = 0.499  # of a width: ends as round as they get
SIDES = {"none": ((1, 1),), "sides": ((1, 1), (1, -1)), "ends": ((1, 1), (-1, 1)), "both": ((1, 1), (1, -1), (-1, 1), (-1, -1))}


def added(features: Iterable[PlateFeature]) -> CrossSection:
    """All that is added to an outline."""
    return _together(features, ADDS)


def cut(features: Iterable[PlateFeature]) -> CrossSection:
    """All that is cut from it."""
    return _together(features, CUTS)


def bored(features: Iterable[PlateFeature]) -> CrossSection:
    """What is bored through bosses and what they stand on, from above."""
    return _joined([_everywhere(disc(0.0, 0.0, f.hole_mm), f) for f in features if f.kind == "boss" and f.hole_mm > 0])


def without_bores(solid: Manifold, features: Sequence[PlateFeature], thick_mm: float) -> Manifold:
    """A plate with its underside at 0, bored through where bosses are."""
    holes = bored(features)
    return solid if holes.is_empty() else solid - holes.extrude(thick_mm + 2.0).translate((0.0, 0.0, -1.0))


def raised(features: Sequence[PlateFeature], on: CrossSection, thick_mm: float) -> Manifold:
    """Ribs and bosses within an outline, standing on the faces of a plate whose underside is at 0."""
    within = on - bored(features)
    out = Manifold()
    for f in features:
        if f.kind in STANDS:
            plan = _everywhere(_own(f), f) ^ within
            if not plan.is_empty():
                body = plan.extrude(f.height_mm + thick_mm / 2)
                out = out + body.translate((0.0, 0.0, thick_mm / 2 if f.face == "above" else -f.height_mm))
    return out


def stands_on(features: Iterable[PlateFeature]) -> bool:
    """Whether anything stands on the faces."""
    return any(f.kind in STANDS for f in features)


def in_one(plan: CrossSection) -> CrossSection:
    """The largest piece of an outline, holes and all: what is judged as the plate."""
    if plan.num_contour() <= 1:
        return plan
    pieces = plan.decompose()
    return max(pieces, key=lambda p: p.area()) if len(pieces) > 1 else plan


def pieces(plan: CrossSection) -> int:
    """How many pieces an outline falls into."""
    return len(plan.decompose())


def plan_of(f: PlateFeature) -> CrossSection:
    """Where a feature is, mirror images included."""
    return _everywhere(_own(f), f)


def _together(features: Iterable[PlateFeature], kinds: tuple[str, ...]) -> CrossSection:
    return _joined([plan_of(f) for f in features if f.kind in kinds])


def _joined(plans: list[CrossSection]) -> CrossSection:
    return CrossSection.batch_boolean(plans, OpType.Add) if plans else CrossSection()


def _everywhere(plan: CrossSection, f: PlateFeature) -> CrossSection:
    """Where it stands, and its mirror images."""
    at = plan.rotate(f.turn_deg).translate((f.x_mm, f.y_mm))
    copies = []
    for x, y in SIDES[f.mirror]:
        one = at
        if x < 0:
            one = one.mirror((1.0, 0.0))
        if y < 0:
            one = one.mirror((0.0, 1.0))
        copies.append(one)
    return _joined(copies)


def _own(f: PlateFeature) -> CrossSection:
    """About its own middle, along x."""
    long, wide = f.length_mm / 2, f.width_mm / 2
    if f.kind in ("disc", "boss"):
        return disc(0.0, 0.0, f.width_mm)
    if f.kind in ("strip", "rib"):
        return rounded_rectangle(-long, -wide, long, wide, ROUND * f.width_mm) if f.kind == "strip" else rectangle(-long, -wide, long, wide)
    if f.kind == "arc":
        return _arc(f)
    if f.kind == "cutout":
        return rounded_rectangle(-long, -wide, long, wide, f.corner_mm)
    if f.kind == "holes":
        return _joined([disc(x, y, max(f.hole_mm, 0.1)) for x, y in hole_spots(f)])
    return _honeycomb(f)


def _arc(f: PlateFeature) -> CrossSection:
    outer, inner = f.radius_mm + f.width_mm / 2, max(f.radius_mm - f.width_mm / 2, 0.05)
    if f.span_deg >= 360.0:
        return disc(0.0, 0.0, 2 * outer) - disc(0.0, 0.0, 2 * inner)
    half = math.radians(f.span_deg) / 2
    at = np.linspace(-half, half, max(int(segments_for(outer) * f.span_deg / 360), 3) + 1)
    there = [(outer * math.cos(a), outer * math.sin(a)) for a in at]
    back = [(inner * math.cos(a), inner * math.sin(a)) for a in at[::-1]]
    return polygon([*there, *back])


def hole_spots(f: PlateFeature) -> list[tuple[float, float]]:
    """Of a row about its middle, or of a ring that begins where it is turned to."""
    if f.radius_mm > 0:
        return [(f.radius_mm * math.cos(a), f.radius_mm * math.sin(a)) for a in 2 * math.pi * np.arange(f.count) / f.count]
    return [((k - (f.count - 1) / 2) * f.pitch_mm, 0.0) for k in range(f.count)]


def _honeycomb(f: PlateFeature) -> CrossSection:
    """Hexagons across flats of ``hole_mm``, in rows that stand half a pitch apart, as many as lie whole within length and width."""
    side, row = f.hole_mm / math.sqrt(3), f.pitch_mm * math.sqrt(3) / 2
    corners = [(side * math.sin(a), side * math.cos(a)) for a in -math.pi / 3 * np.arange(6)]
    hexagon = polygon([(float(x), float(y)) for x, y in corners])
    rows = math.floor((f.width_mm / 2 - side) / row) if f.width_mm / 2 > side else 0
    out = []
    for j in range(-rows, rows + 1):
        shift = f.pitch_mm / 2 if j % 2 else 0.0
        reach = f.length_mm / 2 - f.hole_mm / 2
        n = math.floor((reach + abs(shift)) / f.pitch_mm) + 1
        out += [
            hexagon.translate((i * f.pitch_mm + shift, j * row)) for i in range(-n, n + 1) if abs(i * f.pitch_mm + shift) <= reach + 1e-9
        ]
    return _joined(out)
