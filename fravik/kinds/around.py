"""What several kinds need to know of the craft round a part: the arm that the layout stands on, the plates, the stations."""

from __future__ import annotations

import math
from collections.abc import Sequence, Set
from functools import lru_cache

from fravik.model.base import Frozen
from fravik.model.project import Part, Project
from fravik.model.shapes import BarArmShape, LegShape, MountShape, PlateShape, RootedArm
from fravik.shape.stations import ARRANGEMENTS, Arrangement, Floats, Stand, Station, arrangement, turned

from .base import Posed
from .following import shared_out
from .framing import told_apart

MANY_ARMS, LEAST_FEET = 6, 3
LEAST_ARM_MM = 10.0
KEPT = 16  # crafts of which it is remembered: these are asked for many times in one judgement


def arm_length_mm(arm: RootedArm, project: Project, part: Part | None = None) -> float:
    """Root edge to motor axis: the arm's own length, or what the layout asks for."""
    if arm.length_mm is not None:
        return arm.length_mm
    return max(LEAST_ARM_MM, wanted_length_mm(project, arm, part))


def wanted_length_mm(project: Project, arm: RootedArm | None = None, part: Part | None = None) -> float:
    """How long the layout leaves an arm, from its root to the motor's axis; the shortest of its places, where they differ.

    Stations of the maker's own ask for lengths of their own: then the part says which they are, or else the shape as far as it can.
    """
    around, clamp = arrangement(project.layout), project.layout.clamp_radius_mm
    if not around.radii_mm:
        return around.reach * project.layout.motor_to_motor_mm / 2 - clamp
    slots = arms_by_slot(project)
    mine = [k for k, p in enumerate(slots) if part is not None and p.id == part.id]
    mine = mine or [k for k, p in enumerate(slots) if arm is None or _same_but_length(p, arm)]
    return min((around.radii_mm[k] for k in mine), default=min(around.radii_mm)) - clamp


def _same_but_length(part: Part, arm: RootedArm) -> bool:
    return bool(part.shape.model_copy(update={"length_mm": None}) == arm.model_copy(update={"length_mm": None}))


def first_arm(project: Project) -> Part | None:
    """The arm whose tongue the plates are drilled for."""
    return next((p for p in told_apart(project).parts if isinstance(p.shape, RootedArm)), None)


def arm_shape(project: Project) -> RootedArm | None:
    """The shape of that arm."""
    return next((p.shape for p in told_apart(project).parts if isinstance(p.shape, RootedArm)), None)


@lru_cache(maxsize=KEPT)
def arms_by_slot(project: Project) -> tuple[Part, ...]:
    """Which arm stands at each of the layout's places, in its order; empty where there is none."""
    arms = [p for p in told_apart(project).parts if isinstance(p.shape, RootedArm)]
    names = [name for name, _ in arrangement(project.layout).arms]
    out: list[Part | None] = [None] * len(names)
    for part in arms:
        for k in shared_out(arms, names)[part.id]:
            out[k] = out[k] or part
    return tuple(p or arms[-1] for p in out) if arms else ()


def arm_shapes_by_slot(project: Project) -> tuple[RootedArm, ...]:
    """Their shapes."""
    return tuple(p.shape for p in arms_by_slot(project) if isinstance(p.shape, RootedArm))


@lru_cache(maxsize=KEPT)
def motor_radii_mm(project: Project) -> tuple[float, ...]:
    """Craft centre to motor axis, an arm."""
    around, clamp = arrangement(project.layout), project.layout.clamp_radius_mm
    if around.radii_mm:
        return around.radii_mm
    shapes = arm_shapes_by_slot(project)
    if not shapes:
        return (project.layout.motor_to_motor_mm / 2,) * len(around.arms)
    return tuple((clamp + arm_length_mm(s, project)) / around.reach for s in shapes)


def motor_radius_mm(project: Project) -> float:
    """The farthest of them."""
    return max(motor_radii_mm(project))


@lru_cache(maxsize=KEPT)
def stands(project: Project) -> tuple[Stand, ...]:
    """Where each arm leaves the plates, in the order of the layout."""
    return arrangement(project.layout).stands(project.layout.clamp_radius_mm, motor_radii_mm(project))


def bolted_through(part: Part) -> bool:
    """Whether bolts through both plates hold it: by its root joint, or because it stands in a block between them."""
    return part.joint.kind == "bolted" or (isinstance(part.shape, RootedArm) and part.shape.in_block)


def plate_gap_mm(project: Project) -> float:
    """Height between the plates: the arm's root height; none over a frame."""
    arm = arm_shape(project)
    return arm.root_height_mm - arm.sunk_mm if arm is not None else 8.0


def bottom_plate(project: Project) -> PlateShape | None:
    """The plate below the arms."""
    return next((p.shape for p in told_apart(project).parts if isinstance(p.shape, PlateShape) and p.shape.place == "bottom"), None)


def bottom_plate_mm(project: Project) -> float:
    """Its thickness, 0 where there is none."""
    plate = bottom_plate(project)
    return plate.thickness_mm if plate is not None else 0.0


@lru_cache(maxsize=KEPT)
def stations(project: Project) -> tuple[Station, ...]:
    """One for each rotor."""
    radii = motor_radii_mm(project)
    faces = tuple((s.face_mm - s.sunk_mm, s.under_mm - s.sunk_mm) for s in arm_shapes_by_slot(project)) or (
        (plate_gap_mm(project), 0.0),
    ) * len(radii)
    return _stations(arrangement(project.layout), radii, faces)


def arm_ends(project: Project) -> tuple[Station, ...]:
    """The station at the end of each arm: of two rotors on one arm, the upper one's."""
    return tuple(s for s in stations(project) if s.up > 0)


def bar_ends(project: Project) -> tuple[Station, ...]:
    """The ends of those arms that are bars."""
    return tuple(s for s, arm in zip(arm_ends(project), arm_shapes_by_slot(project), strict=False) if isinstance(arm, BarArmShape))


def bar_at(project: Project, posed: Sequence[Posed]) -> BarArmShape | None:
    """The bar that the first of some copies stands at."""
    ids = [s.id for s in arm_ends(project)]
    for p in posed:
        arm = arm_shapes_by_slot(project)[ids.index(p.follows)] if p.follows in ids else None
        if isinstance(arm, BarArmShape):
            return arm
    return None


def serving(project: Project, shape_type: type[Frozen], stations: Set[str | None]) -> Part | None:
    """The part of a kind that holds the bars at any of some stations; of two, the first."""
    alike, ids = [p for p in project.parts if isinstance(p.shape, shape_type)], [s.id for s in bar_ends(project)]
    shares = shared_out(alike, ids)
    return next((p for p in alike if any(ids[k] in stations for k in shares[p.id])), None)


def foot_spots_mm(project: Project, most_out_mm: float = math.inf) -> tuple[tuple[float, float], ...]:
    """(x, y) of where the legs hold to the bottom plate; of a craft without legs, where they would. Those that stand where the layout puts
    them, no farther out than ``most_out_mm``; detached ones where their maker did."""
    legs, there = [p for p in project.parts if isinstance(p.shape, LegShape)], feet(project)
    r = min(project.layout.leg_radius_mm, most_out_mm)
    polar = [(r * math.cos(s.bearing_rad), r * math.sin(s.bearing_rad)) for s in there]
    out: list[tuple[float, float]] = []
    slots = shared_out(legs, [s.id for s in there])
    for p in legs:
        assert isinstance(p.shape, LegShape)
        # its root lies a flange's length down its slope from where its middle would be screwed on, by its inner face
        lean = math.radians(p.shape.splay_deg)
        back = p.shape.flange_length_mm * math.sin(lean) - p.shape.thickness_mm / 2 * math.cos(lean)
        own = [
            (o.x_mm - back * math.cos(math.radians(o.turn_deg)), o.y_mm - back * math.sin(math.radians(o.turn_deg))) for o in p.own_places
        ]
        out += [own[k] if k < len(own) else polar[slot] for k, slot in enumerate(slots[p.id])]
    return tuple(out) if legs else tuple(polar)


def lain_on(project: Project) -> tuple[tuple[float, float, float], ...]:
    """(x, y, diameter) of the spots under the bottom plate that legs and mounts lie on."""
    out = []
    for p in project.parts:
        if isinstance(p.shape, LegShape):
            out += [(x, y, p.shape.flange_width_mm + 2.0) for x, y in foot_spots_mm(project)]
        plate = bottom_plate(project)
        if isinstance(p.shape, MountShape) and plate is not None:
            long, wide = p.shape.tongue_length_mm, p.shape.tongue_width_mm
            spots = max(1, round(wide / long)) + 1
            for k in range(spots):
                y = (k / (spots - 1) - 0.5) * (wide - long) if wide > long else 0.0
                out.append((plate.length_mm / 2 - long / 2, y, math.hypot(long, min(wide, long)) + 2.0))
    return tuple(out)


def rooted_at(station: Station, project: Project) -> Floats:
    """(4, 4) pose of what leaves the plates towards an arm's end."""
    m = turned(station.azimuth_rad)
    at = stands(project)[[s.id for s in arm_ends(project)].index(station.id)]
    m[:2, 3] = at.x_mm, at.y_mm
    return m


def feet(project: Project) -> tuple[Station, ...]:
    """In whose direction a leg stands: every arm's end, or every second where there are many; where there are but two, a square of four."""
    ends = arm_ends(project)
    if len(ends) < LEAST_FEET:
        r = ends[0].radius_mm
        return tuple(Station(name, r * math.cos(a), r * math.sin(a), 0.0, a, 0) for name, a in _square())
    return ends[::2] if len(ends) >= MANY_ARMS else ends


def _square() -> tuple[tuple[str, float], ...]:
    square = ARRANGEMENTS["quad_x"]
    return tuple(zip((name for name, _ in square.arms), square.ends_rad, strict=True))


@lru_cache(maxsize=256)
def _stations(layout: Arrangement, radii_mm: tuple[float, ...], faces_mm: tuple[tuple[float, float], ...]) -> tuple[Station, ...]:
    out = []
    for k, (name, end, way) in enumerate(zip((n for n, _ in layout.arms), layout.ends_rad, layout.ways_rad, strict=True)):
        x, y, tilt, spin = radii_mm[k] * math.cos(end), radii_mm[k] * math.sin(end), layout.tilt_deg(k), layout.spin(k)
        out.append(Station(name, x, y, faces_mm[k][0], way, spin, 1, tilt))
        if layout.paired(k):
            out.append(Station(f"{name}_below", x, y, faces_mm[k][1], way, -spin, -1, tilt))
    return tuple(out)
