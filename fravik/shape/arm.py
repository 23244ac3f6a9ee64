"""The arm as a true solid: tongue, tapered body, pad, fillets, pockets, bars, bores and slots."""

from __future__ import annotations

import math

from manifold3d import CrossSection, Manifold

from fravik.model.material import CarbonStock
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape

from .outline import disc, fillet_inner, polygon, rectangle, rounded_rectangle


def arm_height_mm(arm: ArmShape, length_mm: float, x_mm: float) -> float:
    """Height of the arm body without bars at a station: root height, straight taper, tip height under the pad."""
    end = max(1.0, length_mm - arm.pad_diameter_mm / 2)
    t = min(1.0, max(0.0, x_mm / end))
    return arm.root_height_mm + t * (arm.tip_height_mm - arm.root_height_mm)


def arm_width_mm(arm: ArmShape, length_mm: float, x_mm: float) -> float:
    """Width of the tapered body (fillets and pad apart) at a station."""
    t = min(1.0, max(0.0, x_mm / length_mm))
    return arm.root_width_mm + t * (arm.tip_width_mm - arm.root_width_mm)


def pocket_spans(arm: ArmShape, length_mm: float) -> list[tuple[float, float]]:
    """Start and end station of each pocket, spread evenly over the free body."""
    if arm.pocket_count == 0:
        return []
    lo = arm.root_fillet_mm + 4.0
    hi = length_mm - arm.pad_diameter_mm / 2 - 4.0
    pitch = (hi - lo) / arm.pocket_count
    half = arm.pocket_length_mm / 2
    mids = [lo + pitch * (i + 0.5) for i in range(arm.pocket_count)]
    return [(m - half, m + half) for m in mids]


def tongue_bolts(arm: ArmShape) -> list[tuple[float, float]]:
    """(x, y) of the bolts that hold the tongue between the plates: pairs astride the middle, in rows."""
    n, length, d = arm.tongue_bolt_rows, arm.tongue_length_mm, arm.tongue_bolt_mm
    y = arm.tongue_width_mm / 2 - max(1.6 * d, d / 2 + 2.0)
    edge = max(1.6 * d, 0.18 * length)
    xs = [-length / 2] if n == 1 else [-edge - (length - 2 * edge) * i / (n - 1) for i in range(n)]
    return [(x, side * y) for x in xs for side in (-1.0, 1.0)]


def bore_places(arm: ArmShape, carbon: Carbon, stock: CarbonStock, length_mm: float) -> list[tuple[float, float]]:
    """(y, z) of each profile's axis. Bores lie at mid-height of the tip; two stand side by side.

    Strips lie in slots on the faces: the first on the underside, the second on top.
    """
    if stock.form == "strip":
        t = stock.thickness_mm
        top = min(arm.root_height_mm, arm.tip_height_mm)
        return [(0.0, t / 2), (0.0, top - t / 2)][: carbon.count]
    z = min(arm.root_height_mm, arm.tip_height_mm) / 2
    if carbon.count == 1:
        return [(0.0, z)]
    off = min(arm.root_width_mm, arm.tip_width_mm) / 4
    return [(-off, z), (off, z)]


def arm_plan(arm: ArmShape, length_mm: float) -> CrossSection:
    """The arm seen from above, with fillets, holes and pockets."""
    a, rp = arm, arm.pad_diameter_mm / 2
    w0, w1 = a.root_width_mm / 2, a.tip_width_mm / 2
    tongue = rectangle(-a.tongue_length_mm, -a.tongue_width_mm / 2, 0.0, a.tongue_width_mm / 2)
    body = polygon([(-2.0, -w0), (0.0, -w0), (length_mm, -w1), (length_mm, w1), (0.0, w0), (-2.0, w0)])
    rooted = fillet_inner(tongue + body, a.root_fillet_mm)
    padded = fillet_inner(body + disc(length_mm, 0.0, a.pad_diameter_mm), a.pad_fillet_mm)
    # the closing may not grow past the root corner or beyond the pad
    keep = rectangle(0.0, -1e3, length_mm + rp, 1e3)
    plan = rooted + (padded ^ keep)
    cuts = CrossSection()
    for x, y in tongue_bolts(a):
        cuts += disc(x, y, a.tongue_bolt_mm)
    for i in range(4):
        ang = math.pi / 4 + i * math.pi / 2
        cuts += disc(length_mm + a.bolt_circle_mm / 2 * math.cos(ang), a.bolt_circle_mm / 2 * math.sin(ang), a.bolt_hole_mm)
    if a.shaft_hole_mm > 0:
        cuts += disc(length_mm, 0.0, a.shaft_hole_mm)
    for x0, x1 in pocket_spans(a, length_mm):
        cuts += rounded_rectangle(x0, -a.pocket_width_mm / 2, x1, a.pocket_width_mm / 2, a.pocket_corner_mm)
    return plan - cuts


def _side_view(arm: ArmShape, length_mm: float, raise_mm: float = 0.0) -> list[tuple[float, float]]:
    end = length_mm - arm.pad_diameter_mm / 2
    far = length_mm + arm.pad_diameter_mm / 2 + 1.0
    h0, h1 = arm.root_height_mm + raise_mm, arm.tip_height_mm + raise_mm
    near = -arm.tongue_length_mm - 1.0
    return [(near, 0.0), (far, 0.0), (far, h1), (end, h1), (0.0, h0), (near, h0)]


def _extrude_side(points: list[tuple[float, float]], half_width_mm: float) -> Manifold:
    return polygon(points).extrude(2 * half_width_mm).rotate((90.0, 0.0, 0.0)).translate((0.0, half_width_mm, 0.0))


def arm_solid(arm: ArmShape, length_mm: float, carbon: Carbon | None, stock: CarbonStock | None) -> Manifold:
    """The arm as a closed solid, with room cut for carbon and its glue."""
    wide = max(arm.tongue_width_mm, arm.pad_diameter_mm, arm.root_width_mm, arm.tip_width_mm)
    tall = max(arm.root_height_mm, arm.tip_height_mm)
    solid = arm_plan(arm, length_mm).extrude(tall)
    if abs(arm.root_height_mm - arm.tip_height_mm) > 1e-6:
        solid = solid ^ _extrude_side(_side_view(arm, length_mm), wide)
    if arm.bar_height_mm > 0:
        solid = solid + _bars(arm, length_mm, wide)
    if carbon is not None and stock is not None:
        solid = solid - _carbon_room(arm, carbon, stock, length_mm)
    return solid


def _bars(arm: ArmShape, length_mm: float, wide: float) -> Manifold:
    end = max(2.0, length_mm - arm.pad_diameter_mm / 2 - 1.0)
    w0 = arm.root_width_mm / 2
    w1 = arm_width_mm(arm, length_mm, end) / 2
    bw = arm.bar_width_mm
    strips = polygon([(0.0, w0 - bw), (end, w1 - bw), (end, w1), (0.0, w0)])
    strips += strips.mirror((0.0, 1.0))
    tall = max(arm.root_height_mm, arm.tip_height_mm) + arm.bar_height_mm
    return strips.extrude(tall) ^ _extrude_side(_side_view(arm, length_mm, arm.bar_height_mm), wide)


def _carbon_room(arm: ArmShape, carbon: Carbon, stock: CarbonStock, length_mm: float) -> Manifold:
    span, gap = carbon.end_mm - carbon.start_mm, carbon.adhesive_gap_mm
    room = Manifold()
    for i, (y, z) in enumerate(bore_places(arm, carbon, stock, length_mm)):
        if stock.form == "strip":
            w, t = stock.outer_mm + 2 * gap, stock.thickness_mm + gap
            z0 = -1.0 if i == 0 else z - stock.thickness_mm / 2 - gap
            height = t + 1.0 if i == 0 else t + 40.0
            cut = Manifold.cube((span, w, height)).translate((carbon.start_mm, y - w / 2, z0))
        else:
            bore = disc(0.0, 0.0, stock.outer_mm + 2 * gap).extrude(span)
            cut = bore.rotate((0.0, 90.0, 0.0)).translate((carbon.start_mm, y, z))
        room = room + cut
    return room
