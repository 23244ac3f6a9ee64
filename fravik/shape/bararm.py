"""Arms of bought bar, and the printed blocks that clamp their ends. x runs along the bar; its axis is at half the clamp's height."""

from __future__ import annotations

import math

from manifold3d import CrossSection, Manifold, OpType

from fravik.model.shapes import BarArmShape, MotorHolderShape, RootClampShape

from .arm import tongue_bolts
from .outline import disc, rectangle

EARS_MM = 5.0  # of a motor holder beside its slit, for the screws that close it
ROUND_CORNERS = 64
ROUND_FORMS = ("tube", "rod")
HOLLOW_FORMS = ("tube", "square_tube", "channel")


def is_round(bar: BarArmShape) -> bool:
    """Whether a clamp can let it turn."""
    return bar.form in ROUND_FORMS


def bar_outline(bar: BarArmShape, wider_mm: float = 0.0) -> CrossSection:
    """The bar's outside seen along it, about its axis; ``wider_mm`` all round for a bore."""
    side = bar.outer_mm + 2 * wider_mm
    return _fine_disc(side) if is_round(bar) else rectangle(-side / 2, -side / 2, side / 2, side / 2)


def _fine_disc(diameter_mm: float) -> CrossSection:
    """A disc of the same area with so many corners that a thin wall stays as thick all round."""
    angle = 2 * math.pi / ROUND_CORNERS
    return CrossSection.circle(diameter_mm / 2 * math.sqrt(angle / math.sin(angle)), ROUND_CORNERS)


def bar_section(bar: BarArmShape) -> CrossSection:
    """The bar cut across, about its axis; a channel is open below."""
    outside, r, t = bar_outline(bar), bar.outer_mm / 2, bar.wall_mm
    if bar.form == "tube":
        return outside - _fine_disc(bar.outer_mm - 2 * t)
    if bar.form == "square_tube":
        return outside - rectangle(-r + t, -r + t, r - t, r - t)
    if bar.form == "channel":
        return outside - rectangle(-r + t, -r - 1.0, r - t, r - t)
    return outside


def along_x(section: CrossSection, start_mm: float, end_mm: float, axis_mm: float) -> Manifold:
    """A section in (y, z) drawn along x, its own origin at height ``axis_mm``."""
    solid = section.extrude(end_mm - start_mm).rotate((90.0, 0.0, 90.0))
    return solid.translate((start_mm, 0.0, axis_mm))


def bar_ends_mm(bar: BarArmShape, length_mm: float) -> tuple[float, float]:
    """Where the bar begins and ends, from the plates' edge."""
    return -bar.tongue_length_mm, length_mm + bar.holder_grip_mm / 2


def bar_solid(bar: BarArmShape, length_mm: float) -> Manifold:
    """The bar, cut to length."""
    return along_x(bar_section(bar), *bar_ends_mm(bar, length_mm), bar.root_height_mm / 2)


def root_clamp_solid(clamp: RootClampShape, bar: BarArmShape) -> Manifold:
    """A block the height of the plates' gap with the bar's bore, a slit to either side, and holes for the bolts through the plates."""
    long, half, tall = bar.tongue_length_mm, bar.tongue_width_mm / 2, bar.root_height_mm
    plan = rectangle(-long, -half, 0.0, half)
    plan -= CrossSection.batch_boolean([disc(x, y, bar.tongue_bolt_mm) for x, y in tongue_bolts(bar)], OpType.Add)
    room = bar_outline(bar, clamp.fit_mm) + rectangle(0.0, -clamp.slit_mm / 2, half + 1.0, clamp.slit_mm / 2)
    return plan.extrude(tall) - along_x(room, -long - 1.0, 1.0, tall / 2)


def motor_holder_solid(holder: MotorHolderShape, bar: BarArmShape, both_sides: bool = False) -> Manifold:
    """A sleeve round the bar with ears under it and a round seat over it, about the motor's axis; z = 0 is the arm's underside.

    ``both_sides``: a second seat below, for a pair of rotors, with the slit to one side.
    """
    axis, grip = bar.root_height_mm / 2, bar.holder_grip_mm
    sleeve = bar_outline(bar, holder.fit_mm + holder.wall_mm)
    reach = bar.outer_mm / 2 + holder.fit_mm + holder.wall_mm
    ears = _ears(holder, reach)
    slit = rectangle(-holder.slit_mm / 2, -reach - 2 * EARS_MM, holder.slit_mm / 2, 0.0)
    if both_sides:
        ears, slit = ears.rotate(90.0), slit.rotate(90.0)
    room = bar_outline(bar, holder.fit_mm) + slit
    up = bar.face_mm - axis
    beside = 2 * (reach + 2 * EARS_MM)
    under = rectangle(-beside, -up if both_sides else -beside, beside, up)  # what stands higher than its seat is cut level with it
    body = along_x((sleeve + ears) ^ under, -grip / 2, grip / 2, axis)
    body += _seat(holder, up, reach).translate((0.0, 0.0, axis))
    if both_sides:
        body += _seat(holder, up, reach).rotate((180.0, 0.0, 0.0)).translate((0.0, 0.0, axis))
    far = max(grip, holder.pad_diameter_mm)
    return body - along_x(room, -far, far, axis) - _screws(holder, axis, reach, both_sides)


def _ears(holder: MotorHolderShape, reach_mm: float) -> CrossSection:
    wide = holder.wall_mm + holder.slit_mm / 2
    return rectangle(-wide, -reach_mm - 2 * EARS_MM, wide, 0.0)


def _seat(holder: MotorHolderShape, up_mm: float, reach_mm: float) -> Manifold:
    """A round seat ``up_mm`` over the axis, down to the bar's middle so that it stands on the sleeve."""
    plan = disc(0.0, 0.0, holder.pad_diameter_mm)
    around = [math.pi / 4 + k * math.pi / 2 for k in range(4)]
    r = holder.bolt_circle_mm / 2
    plan -= CrossSection.batch_boolean([disc(r * math.cos(a), r * math.sin(a), holder.bolt_hole_mm) for a in around], OpType.Add)
    # beside the sleeve the seat is a plate as thick as what lies over the bar
    thick = max(holder.wall_mm, up_mm - (reach_mm - holder.wall_mm))
    return plan.extrude(thick).translate((0.0, 0.0, up_mm - thick))


def _screws(holder: MotorHolderShape, axis_mm: float, reach_mm: float, both_sides: bool) -> Manifold:
    """Two holes through the ears for the screws that close the slit."""
    across = disc(0.0, 0.0, holder.bolt_hole_mm).extrude(8 * holder.wall_mm + 20).translate((0.0, 0.0, -4 * holder.wall_mm - 10))
    across = across.rotate((90.0, 0.0, 0.0))
    if both_sides:
        return across.rotate((90.0, 0.0, 0.0)).translate((0.0, reach_mm + EARS_MM, axis_mm))
    return across.translate((0.0, 0.0, axis_mm - reach_mm - EARS_MM))
