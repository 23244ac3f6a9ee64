"""What several kinds need to know of the craft round a part: the arm that the layout stands on, the plates, the stations."""

from __future__ import annotations

import math
from functools import lru_cache

from fravik.model.craft import Layout
from fravik.model.project import Part, Project
from fravik.model.shapes import ArmShape, PlateShape
from fravik.shape.stations import QUAD_X, Station


def arm_length_mm(arm: ArmShape, layout: Layout) -> float:
    """Root edge to motor axis: the arm's own length, or what the layout asks for."""
    if arm.length_mm is not None:
        return arm.length_mm
    return max(25.0, layout.motor_to_motor_mm / 2 - layout.clamp_radius_mm)


def first_arm(project: Project) -> Part | None:
    """The arm whose tongue the plates are drilled for."""
    return next((p for p in project.parts if p.shape.kind == "arm"), None)


def arm_shape(project: Project) -> ArmShape | None:
    """The shape of that arm."""
    return next((p.shape for p in project.parts if isinstance(p.shape, ArmShape)), None)


def motor_radius_mm(project: Project) -> float:
    """Craft centre to motor axis."""
    arm = arm_shape(project)
    if arm is None:
        return project.layout.motor_to_motor_mm / 2
    return project.layout.clamp_radius_mm + arm_length_mm(arm, project.layout)


def plate_gap_mm(project: Project) -> float:
    """Height between the plates: the arm's root height."""
    arm = arm_shape(project)
    return arm.root_height_mm if arm is not None else 8.0


def motor_face_mm(project: Project) -> float:
    """Height of the arm's motor face above the bottom plate's top."""
    arm = arm_shape(project)
    return arm.tip_height_mm if arm is not None else plate_gap_mm(project)


def bottom_plate(project: Project) -> PlateShape | None:
    """The plate below the arms."""
    return next((p.shape for p in project.parts if isinstance(p.shape, PlateShape) and p.shape.place == "bottom"), None)


def bottom_plate_mm(project: Project) -> float:
    """Its thickness, 0 where there is none."""
    plate = bottom_plate(project)
    return plate.thickness_mm if plate is not None else 0.0


def stations(project: Project) -> tuple[Station, ...]:
    """One for each rotor."""
    return _stations(motor_radius_mm(project), motor_face_mm(project))


@lru_cache(maxsize=256)
def _stations(radius_mm: float, face_mm: float) -> tuple[Station, ...]:
    out = []
    for name, degrees, spin in QUAD_X:
        a = math.radians(degrees)
        out.append(Station(name, radius_mm * math.cos(a), radius_mm * math.sin(a), face_mm, a, spin))
    return tuple(out)
