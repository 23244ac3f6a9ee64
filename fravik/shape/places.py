"""Where every copy of every part stands: one place a copy, with its pose and the station it follows."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.model.project import Part, Project
from fravik.model.shapes import ArmShape, GuardShape, ImportedShape, LegShape, MountShape, PlateShape

from .stations import Floats, Station, bottom_plate, plate_gap_mm, stations, turned


@dataclass(frozen=True, eq=False)
class Place:
    """One copy of a part. ``pose`` (4, 4) takes the part's own axes to the craft's; ``follows`` is the station it goes with, or none."""

    id: str
    part_id: str
    pose: Floats
    follows: str | None = None

    @property
    def at_mm(self) -> Floats:
        """(3,) where the part's own origin stands."""
        return self.pose[:3, 3]


def places(project: Project) -> tuple[Place, ...]:
    """All copies of all parts, in the order of the parts."""
    return tuple(place for part in project.parts for place in places_of(part, project))


def places_of(part: Part, project: Project) -> tuple[Place, ...]:
    """The copies of one part. Those that the layout has only one spot for stand in it together."""
    shape = part.shape
    found: list[tuple[Floats, str | None]]
    if isinstance(shape, ArmShape | GuardShape | LegShape):
        found = _at_stations(part, shape, project)
    else:
        found = [(_single(shape, project), None)] * part.count
    return tuple(Place(f"{part.id}_{k + 1}", part.id, pose, follows) for k, (pose, follows) in enumerate(found))


def _single(shape: PlateShape | MountShape | ImportedShape, project: Project) -> Floats:
    m = np.eye(4)
    if isinstance(shape, PlateShape):
        m[2, 3] = -shape.thickness_mm if shape.place == "bottom" else plate_gap_mm(project)
    elif isinstance(shape, ImportedShape):
        m[:3, 3] = shape.x_mm, shape.y_mm, shape.z_mm
    else:
        return _mount_pose(shape, project)
    return m


def _at_stations(part: Part, shape: ArmShape | GuardShape | LegShape, project: Project) -> list[tuple[Floats, str | None]]:
    """One station after another; copies of an earlier part of the same kind have theirs already."""
    first = 0
    for other in project.parts:
        if other.id == part.id:
            break
        if other.shape.kind == shape.kind:
            first += other.count
    every = stations(project)
    if isinstance(shape, GuardShape):
        # the front is what meets things first
        every = tuple(sorted(every, key=lambda s: (-round(s.x_mm, 3), -round(s.y_mm, 3))))
    out: list[tuple[Floats, str | None]] = []
    for k in range(part.count):
        station = every[(first + k) % len(every)]
        out.append((_pose(shape, station, project), station.id))
    return out


def _pose(shape: ArmShape | GuardShape | LegShape, station: Station, project: Project) -> Floats:
    if isinstance(shape, LegShape):
        return _leg_pose(shape, station.azimuth_rad, project)
    m = turned(station.azimuth_rad)
    if isinstance(shape, GuardShape):
        m[:3, 3] = station.at_mm
    else:
        r = project.layout.clamp_radius_mm
        m[:3, 3] = r * math.cos(station.azimuth_rad), r * math.sin(station.azimuth_rad), 0.0
    return m


def _leg_pose(shape: LegShape, azimuth_rad: float, project: Project) -> Floats:
    """Under the bottom plate, splayed outwards."""
    c, s = math.cos(azimuth_rad), math.sin(azimuth_rad)
    tilt = math.radians(shape.splay_deg)
    ct, st = math.cos(tilt), math.sin(tilt)
    along = np.array([c * st, s * st, -ct])
    thick = np.array([c * ct, s * ct, st])
    m = np.eye(4)
    m[:3, 0], m[:3, 1], m[:3, 2] = along, np.cross(thick, along), thick
    r, plate = project.layout.leg_radius_mm, bottom_plate(project)
    root = np.array([r * c, r * s, -plate.thickness_mm if plate is not None else 0.0])
    m[:3, 3] = root + along * shape.flange_length_mm - thick * shape.thickness_mm / 2
    return m


def _mount_pose(shape: MountShape, project: Project) -> Floats:
    """Under the front edge of the bottom plate, nose down by its tilt."""
    plate = bottom_plate(project)
    edge = plate.length_mm / 2 if plate is not None else project.layout.clamp_radius_mm
    t = math.radians(shape.tilt_deg)
    m = np.eye(4)
    m[:3, :3] = [[math.cos(t), 0.0, math.sin(t)], [0.0, 1.0, 0.0], [-math.sin(t), 0.0, math.cos(t)]]
    m[:3, 3] = edge, 0.0, -(plate.thickness_mm if plate is not None else 0.0) - shape.thickness_mm
    return m
