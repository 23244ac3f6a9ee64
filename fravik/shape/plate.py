"""A body plate as a true solid; its arm bolt holes follow the arms."""

from __future__ import annotations

import math
from collections.abc import Sequence

from manifold3d import CrossSection, Manifold, OpType

from fravik.model.shapes import ArmShape, PlateShape

from .arm import tongue_bolts
from .outline import disc, polygon, rounded_rectangle
from .stations import azimuths_rad, in_plan

QUAD = azimuths_rad()


def arm_bolt_holes(arm: ArmShape | None, clamp_radius_mm: float, around_rad: Sequence[float]) -> list[tuple[float, float, float]]:
    """(x, y, diameter) of every arm bolt hole in the craft's plan; the arms stand in the directions ``around_rad``."""
    if arm is None:
        return []
    return [(x, y, arm.tongue_bolt_mm) for a in around_rad for x, y in in_plan(tongue_bolts(arm), clamp_radius_mm, a)]


def plate_solid(
    plate: PlateShape, holes: tuple[tuple[float, float, float], ...], edge_mm: float, around_rad: Sequence[float] = QUAD
) -> Manifold:
    """The plate as a closed solid, centred on the craft's axis."""
    return plate_plan(plate, holes, edge_mm, around_rad).extrude(plate.thickness_mm)


def plate_plan(
    plate: PlateShape, holes: tuple[tuple[float, float, float], ...], edge_mm: float, around_rad: Sequence[float] = QUAD
) -> CrossSection:
    """The plate seen from above; its corners are cut square to the arms at ``edge_mm``."""
    lx, ly = plate.length_mm / 2, plate.width_mm / 2
    plan = rounded_rectangle(-lx, -ly, lx, ly, plate.corner_mm)
    plan = plan ^ polygon(_cut_square(edge_mm, around_rad))
    p = plate.stack_pitch_mm / 2
    cuts = [disc(x, y, d) for x, y, d in holes]
    cuts += [disc(sx * p, sy * p, plate.stack_hole_mm) for sx in (-1, 1) for sy in (-1, 1)]
    if plate.window_length_mm > 0 and plate.window_width_mm > 0:
        wx, wy = plate.window_length_mm / 2, plate.window_width_mm / 2
        cuts.append(rounded_rectangle(-wx, -wy, wx, wy, 3.0))
    return plan - CrossSection.batch_boolean(cuts, OpType.Add)


def _cut_square(edge_mm: float, around_rad: Sequence[float]) -> list[tuple[float, float]]:
    """Corners of what lies within ``edge_mm`` of the middle along every arm."""
    out = []
    for k, a in enumerate(around_rad):
        half = ((around_rad[(k + 1) % len(around_rad)] - a) % (2 * math.pi)) / 2
        far = edge_mm / math.cos(half)
        out.append((far * math.cos(a + half), far * math.sin(a + half)))
    return out
