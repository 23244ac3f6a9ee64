"""The body as arms and plates make it: what stands where on its plates."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.library import screw, screw_through
from fravik.model.project import Part, Project
from fravik.model.shapes import PlateShape
from fravik.shape.arm import tongue_bolts
from fravik.shape.stations import arrangement, in_plan
from fravik.structure.body import BodyPoints, body_points

from .around import arm_shape, arm_shapes_by_slot, arms_by_slot, bolted_through, first_arm, foot_spots_mm, stands
from .framing import told_apart


@dataclass(frozen=True)
class BodyPlan:
    """The plates by where they are, bottom first, the points that hold and load them, the gap between them and the arms' root radius.

    ``glued`` says that the tongues bear on their whole faces; arms of one piece with a plate do, and lie in its middle (the gap is as
    far below none as the plate is thick). ``arms`` is the arm at each of the layout's places, ``groups`` the places of
    each: where there is one kind of arm, those of which none is the mirror image of another across one of the craft's axes, as what
    stands on the others' roots is the same.
    """

    points: BodyPoints
    plates: dict[str, Part]
    gap_mm: float
    root_radius_mm: float
    glued: bool
    arms: tuple[str, ...]
    groups: tuple[tuple[str, tuple[int, ...]], ...]


def body_plan(project: Project) -> BodyPlan | None:
    """None for a craft without plates or without arms."""
    arm, shape, slots = first_arm(project), arm_shape(project), arms_by_slot(project)
    found: dict[str, tuple[Part, PlateShape]] = {}
    for part in told_apart(project).parts:
        if isinstance(part.shape, PlateShape):
            found.setdefault(part.shape.place, (part, part.shape))
    if arm is None or shape is None or not found:
        return None
    plates: dict[str, Part] = {name: found[name][0] for name in ("bottom", "top") if name in found}
    main = next(found[name][1] for name in plates)
    arms = tuple(p.id for p in slots)
    each = {k: tuple(i for i, a in enumerate(arms) if a == k) for k in dict.fromkeys(arms)}
    if len(each) == 1:
        each = {arms[0]: _unlike(arrangement(project.layout).ways_rad)}
    return BodyPlan(_points(arm, main, project), plates, shape.root_height_mm - 2 * shape.sunk_mm, project.layout.clamp_radius_mm,
                    arm.joint.kind == "glued" or shape.sunk_mm > 0, arms, tuple(each.items()))  # fmt: skip


def _unlike(around_rad: tuple[float, ...]) -> tuple[int, ...]:
    seen: dict[tuple[float, float], int] = {}
    for k, a in enumerate(around_rad):
        seen.setdefault((round(abs(math.cos(a)), 6), round(abs(math.sin(a)), 6)), k)
    return tuple(seen.values())


def _points(first: Part, plate: PlateShape, project: Project) -> BodyPoints:
    """Bearing faces of the tongues' bolts (of their corners, for joints without bolts), and the body's named spots."""
    bolts, outlines, around = [], [], stands(project)
    for arm, s, stand in zip(arms_by_slot(project), arm_shapes_by_slot(project), around, strict=True):
        long, wide = s.tongue_length_mm, s.tongue_width_mm
        corners = [(x, y) for x in (-0.15 * long, -0.85 * long) for y in (-0.35 * wide, 0.35 * wide)]
        bolts.append(in_plan(tongue_bolts(s) if bolted_through(arm) else corners, stand))
        outlines.append(np.array(in_plan([(-long, -wide / 2), (0.0, -wide / 2), (0.0, wide / 2), (-long, wide / 2)], stand)))
    b, reach = project.components.battery, project.layout.clamp_radius_mm - 2.0
    roots = np.array([(s.x_mm, s.y_mm) for s in around]) if arrangement(project.layout).ways_deg else None
    # a standoff bears on the ring between its hole and its flange: on a face as large as the middle of it
    seat = (plate.stack_hole_mm + screw_through(plate.stack_hole_mm).washer_mm) / 2
    return body_points(
        tuple(s.azimuth_rad for s in around), bolts, outlines, screw(first.joint.screw).washer_mm, plate.stack_pitch_mm, seat,
        plate.length_mm / 2, plate.width_mm / 2 - 4.0, b.x_mm, b.length_mm / 2,
        foot_spots_mm(project, reach), roots,
    )  # fmt: skip
