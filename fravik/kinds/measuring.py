"""A propeller part from what was read off a blade."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from fravik.model.blade import BladeStation, PropellerShape, Reading
from fravik.model.project import Part, Project
from fravik.shape.blade import blade_of
from fravik.shape.measured import blade_from

from .newpart import part_for
from .printedblades import SPINS, rotors_of
from .registry import kind_of

BEYOND_LAST = 0.97  # of the radius: where a last reading is usually taken
CHORD_AT = 0.75


def tip_to_tip_mm(readings: Sequence[Reading]) -> float:
    """A diameter for readings that come without one."""
    return round(2 * max((r.radius_mm for r in readings), default=12.5) / BEYOND_LAST, 0)


def drawn_from(shape: PropellerShape) -> PropellerShape:
    """A shape whose blade is drawn from its readings. Raises ValueError with what is missing."""
    found = blade_from(shape.readings, shape.radius_mm)
    at = min(found.stations, key=lambda s: abs(s.radius_mm - CHORD_AT * shape.radius_mm))
    share = min(max(at.chord_mm / shape.radius_mm, 0.05), 0.45)
    return shape.model_copy(update={
        "stations": tuple(s for s in found.stations if s.radius_mm <= shape.radius_mm), "pitch_mm": min(max(found.pitch_mm, 10.0), 500.0),
        "chord_share": round(share, 3),
    })  # fmt: skip


def by_hand(shape: PropellerShape, count: int = 8) -> PropellerShape:
    """The same blade as positions that can be moved."""
    r = np.linspace(max(1.3 * shape.root_mm, 0.15 * shape.radius_mm), 0.96 * shape.radius_mm, count)
    there = blade_of(shape).at(r)
    return shape.model_copy(update={"stations": tuple(
        BladeStation(radius_mm=round(float(a), 1), chord_mm=round(float(b), 1), angle_deg=round(float(np.degrees(c)), 1),
                     thickness_mm=round(float(d), 2), ahead_mm=round(float(e), 1))
        for a, b, c, d, e in zip(r, there.chord_mm, there.angle_rad, there.thickness_mm, there.ahead_mm, strict=True)
    )})  # fmt: skip


def measured_part(project: Project, readings: Sequence[Reading], diameter_mm: float) -> Part:
    """A new part, its blade drawn from readings. Raises ValueError with what is missing."""
    part = part_for("propeller", project)
    shape = kind_of(part.shape).default(project).model_copy(update={"diameter_mm": diameter_mm, "readings": tuple(readings)})
    return part.model_copy(update={"name": "Measured propeller", "shape": drawn_from(shape)})


def other_hand(part: Part, project: Project) -> Part:
    """Its mirror, as a part of its own: on as many rotors as turn that way."""
    assert isinstance(part.shape, PropellerShape)
    turns = "clockwise" if part.shape.turns == "anticlockwise" else "anticlockwise"
    taken = {p.id for p in project.parts}
    stem = f"{part.id[:30]}_{'right' if SPINS[turns] < 0 else 'left'}"
    new = next(i for i in (stem, *(f"{stem}{n}" for n in range(2, 99))) if i not in taken)
    shape = part.shape.model_copy(update={"turns": turns})
    other = part.model_copy(update={"id": new, "name": f"{part.name}, other hand"[:60], "shape": shape})
    return other.model_copy(update={"count": max(len(rotors_of(other.model_copy(update={"count": 99}), project)), 1)})
