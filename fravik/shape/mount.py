"""The camera mount as a true solid."""

from __future__ import annotations

from manifold3d import CrossSection, Manifold

from fravik.model.material import CarbonStock
from fravik.model.recipe import Carbon
from fravik.model.shapes import MountShape

from .inlay import StraightBody, carbon_room
from .outline import disc, fillet_inner, polygon, rectangle, rounded_rectangle


def mount_bolts(m: MountShape) -> list[tuple[float, float]]:
    """(x, y) of the two bolts that hold the tongue."""
    y = m.tongue_width_mm / 2 - max(1.6 * m.tongue_bolt_mm, m.tongue_bolt_mm / 2 + 2.0)
    return [(-m.tongue_length_mm / 2, -y), (-m.tongue_length_mm / 2, y)]


def mount_plan(m: MountShape) -> CrossSection:
    """The mount seen from above, with fillets and holes; position 0 is the plate's edge."""
    w0, w1 = m.root_width_mm / 2, m.tip_width_mm / 2
    tongue = rectangle(-m.tongue_length_mm, -m.tongue_width_mm / 2, 0.0, m.tongue_width_mm / 2)
    body = polygon([(-1.0, -w0), (0.0, -w0), (m.length_mm, -w1), (m.length_mm, w1), (0.0, w0), (-1.0, w0)])
    p, w = m.pad_length_mm / 2, m.pad_width_mm / 2
    pad = rounded_rectangle(m.length_mm - p, -w, m.length_mm + p, w, 2.0)
    middle = rectangle(-1e3, -1e3, max(m.length_mm - p, 0.5) / 2, 1e3)
    rooted = fillet_inner(tongue + body, m.root_fillet_mm) ^ middle
    padded = fillet_inner(body + pad, m.pad_fillet_mm) - middle
    plan = rooted + padded + body
    for x, y in mount_bolts(m):
        plan -= disc(x, y, m.tongue_bolt_mm)
    return plan


def mount_body(m: MountShape) -> StraightBody:
    """The mount as carbon and facings see it."""
    far = m.length_mm + m.pad_length_mm / 2
    return StraightBody(
        m.length_mm, m.root_width_mm, m.tip_width_mm, m.thickness_mm, m.thickness_mm, m.length_mm, m.tongue_length_mm, far, far,
        bolts=tuple(mount_bolts(m)), bolt_hole_mm=m.tongue_bolt_mm,
    )  # fmt: skip


def mount_solid(m: MountShape, carbon: Carbon | None = None, stock: CarbonStock | None = None) -> Manifold:
    """The mount as a closed solid."""
    solid = mount_plan(m).extrude(m.thickness_mm)
    if carbon is not None and stock is not None:
        solid = solid - carbon_room(mount_body(m), carbon, stock)
    return solid
