"""The body as arms and plates make it: what stands where on its plates."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.library import screw, screw_through
from fravik.model.project import Part, Project
from fravik.model.shapes import ArmShape, PlateShape
from fravik.shape.arm import tongue_bolts
from fravik.shape.stations import ARRANGEMENTS, in_plan
from fravik.structure.body import BodyPoints, body_points

from .around import arm_shape, feet, first_arm, stands


@dataclass(frozen=True)
class BodyPlan:
    """The plates by where they are, bottom first, the points that hold and load them, the gap between them and the arms' root radius.

    ``glued`` says that the tongues bear on their whole faces. ``unlike`` are arms of which none is the mirror image of another across
    one of the craft's axes: what stands on the others' roots is the same as on one of theirs.
    """

    points: BodyPoints
    plates: dict[str, Part]
    gap_mm: float
    root_radius_mm: float
    glued: bool
    unlike: tuple[int, ...]


def body_plan(project: Project) -> BodyPlan | None:
    """None for a craft without plates or without arms."""
    arm, shape = first_arm(project), arm_shape(project)
    found: dict[str, tuple[Part, PlateShape]] = {}
    for part in project.parts:
        if isinstance(part.shape, PlateShape):
            found.setdefault(part.shape.place, (part, part.shape))
    if arm is None or shape is None or not found:
        return None
    plates: dict[str, Part] = {name: found[name][0] for name in ("bottom", "top") if name in found}
    main = next(found[name][1] for name in plates)
    return BodyPlan(_points(arm, shape, main, project), plates, shape.root_height_mm, project.layout.clamp_radius_mm,
                    arm.joint.kind == "glued", _unlike(ARRANGEMENTS[project.layout.kind].ways_rad))  # fmt: skip


def _unlike(around_rad: tuple[float, ...]) -> tuple[int, ...]:
    seen: dict[tuple[float, float], int] = {}
    for k, a in enumerate(around_rad):
        seen.setdefault((round(abs(math.cos(a)), 6), round(abs(math.sin(a)), 6)), k)
    return tuple(seen.values())


def _points(arm: Part, shape: ArmShape, plate: PlateShape, project: Project) -> BodyPoints:
    """Bearing faces of the tongues' bolts (of their corners, for joints without bolts), and the body's named spots."""
    long, wide = shape.tongue_length_mm, shape.tongue_width_mm
    local = tongue_bolts(shape) if arm.joint.kind == "bolted" else [
        (x, y) for x in (-0.15 * long, -0.85 * long) for y in (-0.35 * wide, 0.35 * wide)
    ]  # fmt: skip
    r, b, around = project.layout.clamp_radius_mm, project.components.battery, stands(project)
    roots = np.array([(s.x_mm, s.y_mm) for s in around]) if ARRANGEMENTS[project.layout.kind].ways_deg else None
    # a standoff bears on the ring between its hole and its flange: on a face as large as the middle of it
    seat = (plate.stack_hole_mm + screw_through(plate.stack_hole_mm).washer_mm) / 2
    tongue = [(-long, -wide / 2), (0.0, -wide / 2), (0.0, wide / 2), (-long, wide / 2)]
    return body_points(
        tuple(s.azimuth_rad for s in around), [in_plan(local, s) for s in around], [np.array(in_plan(tongue, s)) for s in around],
        screw(arm.joint.screw).washer_mm, plate.stack_pitch_mm, seat,
        plate.length_mm / 2, plate.width_mm / 2 - 4.0, b.x_mm, b.length_mm / 2, min(project.layout.leg_radius_mm, r - 2.0),
        tuple(s.bearing_rad for s in feet(project)), roots,
    )  # fmt: skip
