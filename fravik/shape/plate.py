"""A body plate as a true solid; its arm bolt holes follow the arms."""

from __future__ import annotations

from manifold3d import CrossSection, Manifold, OpType

from fravik.model.shapes import ArmShape, PlateShape

from .arm import tongue_bolts
from .outline import disc, rectangle, rounded_rectangle
from .stations import azimuths_rad, in_plan


def arm_bolt_holes(arm: ArmShape | None, clamp_radius_mm: float) -> list[tuple[float, float, float]]:
    """(x, y, diameter) of every arm bolt hole in the craft's plan."""
    if arm is None:
        return []
    return [(x, y, arm.tongue_bolt_mm) for a in azimuths_rad() for x, y in in_plan(tongue_bolts(arm), clamp_radius_mm, a)]


def plate_solid(plate: PlateShape, holes: tuple[tuple[float, float, float], ...], edge_mm: float) -> Manifold:
    """The plate as a closed solid, centred on the craft's axis."""
    return plate_plan(plate, holes, edge_mm).extrude(plate.thickness_mm)


def plate_plan(plate: PlateShape, holes: tuple[tuple[float, float, float], ...], edge_mm: float) -> CrossSection:
    """The plate seen from above; its corners are cut square to the arms at ``edge_mm``."""
    lx, ly = plate.length_mm / 2, plate.width_mm / 2
    plan = rounded_rectangle(-lx, -ly, lx, ly, plate.corner_mm)
    plan = plan ^ rectangle(-edge_mm, -edge_mm, edge_mm, edge_mm).rotate(45.0)
    p = plate.stack_pitch_mm / 2
    cuts = [disc(x, y, d) for x, y, d in holes]
    cuts += [disc(sx * p, sy * p, plate.stack_hole_mm) for sx in (-1, 1) for sy in (-1, 1)]
    if plate.window_length_mm > 0 and plate.window_width_mm > 0:
        wx, wy = plate.window_length_mm / 2, plate.window_width_mm / 2
        cuts.append(rounded_rectangle(-wx, -wy, wx, wy, 3.0))
    return plan - CrossSection.batch_boolean(cuts, OpType.Add)
