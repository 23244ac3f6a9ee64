"""A body plate as a true solid; its arm bolt holes follow the arms."""

from __future__ import annotations

from collections.abc import Sequence

from manifold3d import CrossSection, Manifold, OpType

from fravik.model.shapes import PlateShape, RootedArm

from .arm import tongue_bolts
from .outline import disc, polygon, rounded_rectangle
from .stations import Stand, in_plan


def arm_bolt_holes(arm: RootedArm, stand: Stand) -> list[tuple[float, float, float]]:
    """(x, y, diameter) of an arm's bolt holes in the craft's plan, where it leaves the plates at ``stand``."""
    return [(x, y, arm.tongue_bolt_mm) for x, y in in_plan(tongue_bolts(arm), stand)]


def plate_solid(plate: PlateShape, holes: tuple[tuple[float, float, float], ...], stands: Sequence[Stand] = ()) -> Manifold:
    """The plate as a closed solid, centred on the craft's axis."""
    return plate_plan(plate, holes, stands).extrude(plate.thickness_mm)


def plate_plan(plate: PlateShape, holes: tuple[tuple[float, float, float], ...], stands: Sequence[Stand] = ()) -> CrossSection:
    """The plate seen from above; its corners are cut square to the arms where those leave it."""
    lx, ly = plate.length_mm / 2, plate.width_mm / 2
    plan = rounded_rectangle(-lx, -ly, lx, ly, plate.corner_mm)
    for stand in stands:
        plan = plan ^ polygon(_inward(stand, 2 * (lx + ly)))
    p = plate.stack_pitch_mm / 2
    cuts = [disc(x, y, d) for x, y, d in holes]
    cuts += [disc(sx * p, sy * p, plate.stack_hole_mm) for sx in (-1, 1) for sy in (-1, 1)]
    if plate.window_length_mm > 0 and plate.window_width_mm > 0:
        wx, wy = plate.window_length_mm / 2, plate.window_width_mm / 2
        cuts.append(rounded_rectangle(-wx, -wy, wx, wy, 3.0))
    return plan - CrossSection.batch_boolean(cuts, OpType.Add)


def _inward(stand: Stand, far_mm: float) -> list[tuple[float, float]]:
    """Corners of what lies on the inner side of an arm's root, as far as anything goes."""
    return in_plan([(0.0, -far_mm), (0.0, far_mm), (-2 * far_mm, far_mm), (-2 * far_mm, -far_mm)], stand)
