"""The landing leg as a true solid."""

from __future__ import annotations

from manifold3d import CrossSection, Manifold

from fravik.model.material import CarbonStock
from fravik.model.recipe import Carbon
from fravik.model.shapes import LegShape

from .inlay import StraightBody, carbon_room
from .outline import disc, fillet_inner, polygon, rectangle


def leg_plan(leg: LegShape) -> CrossSection:
    """The leg seen flat: flange at negative positions, tapered blade, round toe."""
    w0, w1 = leg.root_width_mm / 2, leg.tip_width_mm / 2
    half = leg.flange_width_mm / 2
    flange = rectangle(-leg.flange_length_mm, -half, 0.0, half)
    blade = polygon([(-2.0, -w0), (0.0, -w0), (leg.length_mm, -w1), (leg.length_mm, w1), (0.0, w0), (-2.0, w0)])
    plan = fillet_inner(flange + blade, leg.root_fillet_mm) + disc(leg.length_mm, 0.0, leg.tip_width_mm)
    return plan


def flange_bolt_offset_mm(leg: LegShape) -> float:
    """Sideways distance of each flange bolt from the leg's axis."""
    return leg.flange_width_mm / 2 - max(1.1 * leg.flange_bolt_mm, 3.0)


def leg_body(leg: LegShape) -> StraightBody:
    """The leg as carbon and facings see it; a bore is pushed in through the flange."""
    return StraightBody(
        leg.length_mm, leg.root_width_mm, leg.tip_width_mm, leg.thickness_mm, leg.thickness_mm, leg.length_mm, leg.flange_length_mm,
        leg.length_mm, leg.length_mm, closed_behind=False,
    )  # fmt: skip


def leg_solid(leg: LegShape, carbon: Carbon | None = None, stock: CarbonStock | None = None) -> Manifold:
    """The leg as a closed solid; its two bolts run along it through the flange, nuts on the shoulders."""
    solid = leg_plan(leg).extrude(leg.thickness_mm)
    bolt = disc(0.0, 0.0, leg.flange_bolt_mm).extrude(leg.flange_length_mm + 2.0).rotate((0.0, 90.0, 0.0))
    for side in (-1.0, 1.0):
        y = side * flange_bolt_offset_mm(leg)
        solid -= bolt.translate((-leg.flange_length_mm - 1.0, y, leg.thickness_mm / 2))
    if carbon is not None and stock is not None:
        solid = solid - carbon_room(leg_body(leg), carbon, stock)
    return solid
