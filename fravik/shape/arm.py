"""The arm as a true solid: tongue, tapered body, pad, fillets, pockets, bars, bores and slots."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from numpy.typing import NDArray

from fravik.model.joint import Joint
from fravik.model.material import CarbonStock
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape, RootedArm

from .comb import comb_cuts
from .inlay import StraightBody, carbon_room
from .outline import disc, fillet_inner, polygon, rectangle, rounded_rectangle, shifted

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class RootForm:
    """What of the root joint shows in the solid: its kind, and its flare, pin or bore with the bore's length."""

    kind: str = "bolted"
    size_mm: float = 0.0
    length_mm: float = 0.0


BOLTED = RootForm()


def root_form(joint: Joint) -> RootForm:
    """The geometry of a joint; joints that differ in screws or glue alone share one."""
    if joint.kind == "dovetail":
        return RootForm("dovetail", joint.dovetail_depth_mm)
    if joint.kind == "hinge":
        return RootForm("hinge", joint.pin_mm)
    if joint.kind == "clamp":
        return RootForm("clamp", joint.tube_mm, joint.clamp_length_mm)
    return RootForm(joint.kind)


def pocket_spans(arm: ArmShape, length_mm: float) -> list[tuple[float, float]]:
    """Start and end position of each pocket, spread evenly over the free body."""
    if arm.pocket_count == 0:
        return []
    lo = arm.root_fillet_mm + 4.0
    hi = length_mm - arm.pad_diameter_mm / 2 - 4.0
    pitch = (hi - lo) / arm.pocket_count
    half = arm.pocket_length_mm / 2
    mids = [lo + pitch * (i + 0.5) for i in range(arm.pocket_count)]
    return [(m - half, m + half) for m in mids]


def tongue_bolts(arm: RootedArm) -> list[tuple[float, float]]:
    """(x, y) of the bolts that hold the tongue between the plates: pairs astride the middle, in rows."""
    n, length, d = arm.tongue_bolt_rows, arm.tongue_length_mm, arm.tongue_bolt_mm
    y = arm.tongue_width_mm / 2 - max(1.6 * d, d / 2 + 2.0)
    edge = max(1.6 * d, 0.18 * length)
    xs = [-length / 2] if n == 1 else [-edge - (length - 2 * edge) * i / (n - 1) for i in range(n)]
    return [(x, side * y) for x in xs for side in (-1.0, 1.0)]


def pin_mm(arm: ArmShape) -> float:
    """Along the arm, where a hinge's pin goes through."""
    return min(-arm.tongue_length_mm + arm.tongue_width_mm / 2, 0.0)


def tongue_outline(arm: ArmShape, root: RootForm) -> CrossSection:
    """The tongue seen from above, by the kind of root joint, without its holes."""
    a, half = arm, arm.tongue_width_mm / 2
    if root.kind == "dovetail":
        wide = half + root.size_mm
        return polygon([(-a.tongue_length_mm, -wide), (0.0, -half), (0.0, half), (-a.tongue_length_mm, wide)])
    if root.kind == "hinge":
        x = pin_mm(a)
        return rectangle(x, -half, 0.0, half) + disc(x, 0.0, a.tongue_width_mm)
    return rectangle(-a.tongue_length_mm, -half, 0.0, half)


def tongue_holes(arm: ArmShape, root: RootForm) -> CrossSection:
    """Bolt holes of a bolted tongue, or a hinge's pin hole."""
    if root.kind == "hinge":
        return disc(pin_mm(arm), 0.0, root.size_mm)
    if root.kind == "bolted":
        return CrossSection.batch_boolean([disc(x, y, arm.tongue_bolt_mm) for x, y in tongue_bolts(arm)], OpType.Add)
    return CrossSection()


def arm_plan(arm: ArmShape, length_mm: float, root: RootForm = BOLTED) -> CrossSection:
    """The arm seen from above, with fillets, holes and pockets."""
    body, padded = arm_blade(arm, length_mm)
    rooted = fillet_inner(tongue_outline(arm, root) + body, arm.root_fillet_mm)
    return bowed(
        rooted + padded - CrossSection.batch_boolean([tongue_holes(arm, root), *arm_cuts(arm, length_mm)], OpType.Add), arm, length_mm
    )


def bow_mm(arm: ArmShape, length_mm: float, x_mm: Floats) -> Floats:
    """How far its middle line lies aside at places along it: straight on from the root and into the pad."""
    end = max(length_mm - arm.pad_diameter_mm / 2, 1.0)
    return np.asarray(arm.bow_mm / 2 * (1 - np.cos(2 * math.pi * np.clip(x_mm / end, 0.0, 1.0))))


def bowed(plan: CrossSection, arm: ArmShape, length_mm: float) -> CrossSection:
    """A plan of the straight arm, moved aside with its middle line."""
    return shifted(plan, lambda x: bow_mm(arm, length_mm, x)) if arm.bow_mm else plan


def arm_blade(arm: ArmShape, length_mm: float) -> tuple[CrossSection, CrossSection]:
    """Its tapered body, begun a little inside the root, and the same with its filleted pad beyond the root; without holes."""
    w0, w1 = arm.root_width_mm / 2, arm.tip_width_mm / 2
    body = polygon([(-2.0, -w0), (0.0, -w0), (length_mm, -w1), (length_mm, w1), (0.0, w0), (-2.0, w0)])
    padded = fillet_inner(body + disc(length_mm, 0.0, arm.pad_diameter_mm), arm.pad_fillet_mm)
    # the closing may not grow past the root corner or beyond the pad
    return body, padded ^ rectangle(0.0, -1e3, length_mm + arm.pad_diameter_mm / 2, 1e3)


def arm_cuts(a: ArmShape, length_mm: float) -> list[CrossSection]:
    """The motor's holes, the pockets and the honeycomb."""
    cuts = []
    for i in range(4):
        ang = math.pi / 4 + i * math.pi / 2
        cuts.append(disc(length_mm + a.bolt_circle_mm / 2 * math.cos(ang), a.bolt_circle_mm / 2 * math.sin(ang), a.bolt_hole_mm))
    if a.shaft_hole_mm > 0:
        cuts.append(disc(length_mm, 0.0, a.shaft_hole_mm))
    for x0, x1 in pocket_spans(a, length_mm):
        for row in range(a.pocket_rows):
            y = row * (a.pocket_width_mm + a.pocket_web_mm) - a.pockets_mm / 2
            cuts.append(rounded_rectangle(x0, y, x1, y + a.pocket_width_mm, a.pocket_corner_mm))
    return cuts + comb_cuts(a, length_mm)


def _side_view(arm: ArmShape, length_mm: float, raise_mm: float = 0.0) -> list[tuple[float, float]]:
    end = length_mm - arm.pad_diameter_mm / 2
    far = length_mm + arm.pad_diameter_mm / 2 + 1.0
    h0, h1 = arm.root_height_mm + raise_mm, arm.tip_height_mm + raise_mm
    near = -arm.tongue_length_mm - 1.0
    return [(near, 0.0), (far, 0.0), (far, h1), (end, h1), (0.0, h0), (near, h0)]


def _extrude_side(points: list[tuple[float, float]], half_width_mm: float) -> Manifold:
    return polygon(points).extrude(2 * half_width_mm).rotate((90.0, 0.0, 0.0)).translate((0.0, half_width_mm, 0.0))


def arm_body(arm: ArmShape, length_mm: float, bolted: bool = True) -> StraightBody:
    """The arm as carbon and facings see it; tongue bolts are in their way only where there are any."""
    return StraightBody(
        length_mm, arm.root_width_mm, arm.tip_width_mm, arm.root_height_mm, arm.tip_height_mm, length_mm - arm.pad_diameter_mm / 2,
        arm.tongue_length_mm, length_mm - (arm.shaft_hole_mm / 2 + 1), length_mm - (arm.bolt_circle_mm / 2 + arm.bolt_hole_mm),
        "into the motor mount", bolts=tuple(tongue_bolts(arm)) if bolted else (), bolt_hole_mm=arm.tongue_bolt_mm,
        pockets=tuple(pocket_spans(arm, length_mm)), pocket_width_mm=arm.pockets_mm, barred=arm.bar_height_mm > 0,
    )  # fmt: skip


def arm_solid(
    arm: ArmShape, length_mm: float, carbon: Carbon | None, stock: CarbonStock | None, root: RootForm = BOLTED
) -> Manifold:  # fmt: skip
    """The arm as a closed solid, with room cut for carbon and its glue."""
    wide = max(arm.tongue_width_mm, arm.pad_diameter_mm, arm.root_width_mm, arm.tip_width_mm) + 2 * root.size_mm + 2 * abs(arm.bow_mm)
    tall = max(arm.root_height_mm, arm.tip_height_mm)
    solid = arm_plan(arm, length_mm, root).extrude(tall)
    if abs(arm.root_height_mm - arm.tip_height_mm) > 1e-6:
        solid = solid ^ _extrude_side(_side_view(arm, length_mm), wide)
    if arm.bar_height_mm > 0:
        solid = solid + _bars(arm, length_mm, wide)
    if root.kind == "clamp":
        bore = disc(0.0, 0.0, root.size_mm).extrude(root.length_mm).rotate((0.0, 90.0, 0.0))
        solid = solid - bore.translate((-arm.tongue_length_mm - 0.01, 0.0, arm.root_height_mm / 2))
    if arm.channel_width_mm > 0:
        solid = solid - channel_room(arm, length_mm)
    if carbon is not None and stock is not None:
        solid = solid - carbon_room(arm_body(arm, length_mm), carbon, stock)
    return solid


def bar_plan(arm: ArmShape, length_mm: float) -> CrossSection:
    """The stiffener bars seen from above."""
    end = max(2.0, length_mm - arm.pad_diameter_mm / 2 - 1.0)
    w0 = arm.root_width_mm / 2
    w1 = arm_body(arm, length_mm).width_mm(end) / 2
    bw = arm.bar_width_mm
    if arm.bar_way == "middle":
        return bowed(rectangle(0.0, -bw / 2, end, bw / 2), arm, length_mm)
    strip = polygon([(0.0, w0 - bw), (end, w1 - bw), (end, w1), (0.0, w0)])
    other = strip.mirror((0.0, 1.0))
    return bowed({"left": strip, "right": other}.get(arm.bar_way, strip + other), arm, length_mm)


RIB_MM = 1.8  # of a rib across a channel: four roads


def channel_spans(arm: ArmShape, length_mm: float) -> list[tuple[float, float]]:
    """Where the channel under an arm is open: from inside the tongue to short of the pad's screws, between its ribs."""
    if arm.channel_width_mm <= 0:
        return []
    end = length_mm - max(arm.pad_diameter_mm / 2, arm.bolt_circle_mm / 2 + arm.bolt_hole_mm) - 1.0
    at = [end * (i + 1) / (arm.channel_ribs + 1) for i in range(arm.channel_ribs)]
    starts = [-arm.tongue_length_mm - 1.0, *(x + RIB_MM / 2 for x in at)]
    return list(zip(starts, [*(x - RIB_MM / 2 for x in at), end], strict=True))


def channel_room(arm: ArmShape, length_mm: float) -> Manifold:
    """What the channel takes of the arm, from below."""
    half = arm.channel_width_mm / 2
    rooms = [rectangle(x0, -half, x1, half) for x0, x1 in channel_spans(arm, length_mm) if x1 > x0]
    plan = CrossSection.batch_boolean(rooms, OpType.Add) if rooms else CrossSection()
    return bowed(plan, arm, length_mm).extrude(arm.channel_depth_mm + 1.0).translate((0.0, 0.0, -1.0))


def _bars(arm: ArmShape, length_mm: float, wide: float) -> Manifold:
    tall = max(arm.root_height_mm, arm.tip_height_mm) + arm.bar_height_mm
    return bar_plan(arm, length_mm).extrude(tall) ^ _extrude_side(_side_view(arm, length_mm, arm.bar_height_mm), wide)
