"""Where panels stand, in aeroplane axes and in the craft's."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fravik.model.project import Part, Project
from fravik.model.wing import WingShape
from fravik.shape.wing import lead_at

Floats = NDArray[np.float64]
KEPT = 16


def wing_of(part: Part) -> WingShape:
    """The shape of a panel. Raises TypeError for a part of another kind."""
    if not isinstance(part.shape, WingShape):
        raise TypeError(f"{part.id} is no panel of a wing.")
    return part.shape


def panels(project: Project) -> tuple[Part, ...]:
    """All panels, in their order."""
    return tuple(p for p in project.parts if isinstance(p.shape, WingShape))


def has_wing(project: Project) -> bool:
    """Whether anything is there to lift."""
    return any(isinstance(p.shape, WingShape) and p.shape.role == "wing" for p in project.parts)


def goes_over(project: Project) -> bool:
    """Whether the craft has a way from hover to forward flight: a wing, or rotors that tilt."""
    return has_wing(project) or bool(project.flying.tilts)


@dataclass(frozen=True, eq=False)
class Stand:
    """A panel's left copy in aeroplane axes: leading edge of its root, direction of its span, and angle of its root's chord (rad)."""

    root_mm: Floats
    along: Floats
    angle_rad: float


@lru_cache(maxsize=KEPT)
def stands(project: Project) -> dict[str, Stand]:
    """By part; panels whose root hangs on nothing that is there stand where their fields say."""
    by_id = {p.id: wing_of(p) for p in panels(project)}
    out: dict[str, Stand] = {}

    def stand(part_id: str, seen: tuple[str, ...]) -> Stand:
        if part_id in out:
            return out[part_id]
        s = by_id[part_id]
        d = math.radians(s.dihedral_deg)
        along = np.array([0.0, math.cos(d), math.sin(d)]) if s.hand != "upright" else np.array([0.0, 0.0, 1.0])
        at, angle = np.array([s.x_mm, s.y_mm if s.hand != "across" else 0.0, s.z_mm]), math.radians(s.incidence_deg)
        if s.on in by_id and s.on not in seen and s.on != part_id and s.hand == "pair":
            host, base = by_id[s.on], stand(s.on, (*seen, part_id))
            reach = host.length_mm / 2 if host.hand == "across" else host.length_mm
            at = base.root_mm + reach * base.along - np.array([lead_at(host, 1.0), 0.0, 0.0])
            at = at + np.array([(s.root_chord_mm - host.tip_chord_mm) / 4, 0.0, 0.0])
            angle = base.angle_rad - math.radians(host.washout_deg) + math.radians(s.incidence_deg)
        out[part_id] = Stand(at, along, angle)
        return out[part_id]

    for part_id in by_id:
        stand(part_id, ())
    return out


def to_craft(project: Project) -> Floats:
    """(3, 3) from aeroplane axes to the craft's: on its tail, ahead is up and up is back."""
    if project.flying.sits == "tail":
        return np.array([[0.0, 0.0, -1.0], [0.0, 1.0, 0.0], [1.0, 0.0, 0.0]])
    return np.eye(3)


def turned_up(angle_rad: float) -> Floats:
    """(3, 3) in aeroplane axes: nose up by an angle."""
    c, s = math.cos(angle_rad), math.sin(angle_rad)
    return np.array([[c, 0.0, -s], [0.0, 1.0, 0.0], [s, 0.0, c]])


def poses(part: Part, project: Project) -> list[Floats]:
    """(4, 4) of each copy in craft axes: of a pair the left, then the right as its mirror image."""
    s, at = wing_of(part), stands(project)[part.id]
    # span, aft, up of the panel in aeroplane axes
    along = at.along
    aft = np.array([-1.0, 0.0, 0.0])
    up = np.cross(along, aft)
    own = np.column_stack([along, aft, up])
    if s.hand != "upright":
        # about the quarter chord of its root
        own = turned_up(at.angle_rad) @ own
    pivot = at.root_mm - np.array([s.root_chord_mm / 4, 0.0, 0.0])
    start = pivot - own[:, 1] * s.root_chord_mm / 4
    if s.hand == "across":
        start = start - along * s.length_mm / 2
    out = []
    for side in (1.0, -1.0) if s.hand == "pair" else (1.0,):
        mirror = np.diag([1.0, side, 1.0])
        m = np.eye(4)
        m[:3, :3] = to_craft(project) @ mirror @ own
        m[:3, 3] = to_craft(project) @ mirror @ start
        out.append(m)
    return out


def tip_mm(part: Part, project: Project) -> Floats:
    """Leading edge of the left tip, aeroplane axes."""
    s, at = wing_of(part), stands(project)[part.id]
    reach = s.length_mm / 2 if s.hand == "across" else s.length_mm
    return np.asarray(at.root_mm + reach * at.along - np.array([lead_at(s, 1.0), 0.0, 0.0]))


@lru_cache(maxsize=KEPT)
def wing_reach_mm(project: Project) -> float:
    """How far panels reach from the middle, ahead, back or aside in the craft's plan; 0 without any."""
    out = [0.0]
    for part in panels(project):
        s = wing_of(part)
        for pose in poses(part, project):
            for along, aft in ((0.0, 0.0), (0.0, s.root_chord_mm), (s.length_mm, s.sweep_mm), (s.length_mm, s.sweep_mm + s.tip_chord_mm)):
                at = pose[:3, :3] @ np.array([along, aft, 0.0]) + pose[:3, 3]
                out.append(float(np.abs(at[:2]).max()))
    return max(out)
