"""What flies besides printed panels and components: spar tubes, glass skins, tilting pods, pushers, a battery slide."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fravik.flight.mass import Placed
from fravik.library import stock_materials
from fravik.model.project import Part, Project
from fravik.model.wing import Tilt, WingShape
from fravik.printing.mass import MassProperties
from fravik.shape.stations import Station
from fravik.shape.wing import spar_spot

from .geometry import poses, to_craft, wing_of

Floats = NDArray[np.float64]
RESIN = 2.0  # cloth and resin over cloth, laid by hand: a working assumption
WETTED = 2.05  # surface over plan area, both sides of a thin section


def spar_g(s: WingShape) -> tuple[float, float]:
    """Grams of the main and the second tube of one copy, with what of them is beyond its root."""
    density = stock_materials()[s.spar_material].density_g_cm3.typical * 1e-3
    out = []
    for d in (s.spar_mm, s.rear_spar_mm):
        bore = max(d - 2 * s.spar_wall_mm, 0.0)
        out.append(math.pi / 4 * (d * d - bore * bore) * (s.length_mm + s.beyond_mm) * density if d > 0 else 0.0)
    return out[0], out[1]


def glass_g(s: WingShape) -> float:
    """Grams of cloth and resin on one copy."""
    return s.glass_g_m2 * RESIN * WETTED * s.area_mm2 * 1e-6


def _rod(name: str, title: str, grams: float, a: Floats, b: Floats, wide: float) -> Placed:
    along = b - a
    long = float(np.linalg.norm(along))
    u = along / max(long, 1e-9)
    inertia = grams * (long**2 / 12 * (np.eye(3) - np.outer(u, u)) + wide**2 / 8 * np.outer(u, u))
    size = np.maximum(np.abs(along), wide)
    return Placed(name, title, "flying", (a + b) / 2, size, MassProperties(grams, (a + b) / 2, inertia))


def _lump(name: str, title: str, grams: float, at: Floats, size: float) -> Placed:
    return Placed(name, title, "flying", at, np.full(3, size), MassProperties(grams, at, grams * size**2 / 6 * np.eye(3)))


def tilt_of(project: Project, station: str) -> Tilt | None:
    """What tilts a rotor, if anything."""
    return next((t for t in project.flying.tilts if station in t.rotors), None)


def pivot_mm(t: Tilt, station: Station) -> Floats:
    """Where the axis of a tilting rotor is, in the craft's axes."""
    return station.at_mm - np.array([t.pivot_back_mm, 0.0, t.pivot_under_mm])


def panel_bodies(part: Part, project: Project) -> list[Placed]:
    """Tubes and glass of a panel's copies, in the craft's axes."""
    out, s = list[Placed](), wing_of(part)
    for k, pose in enumerate(poses(part, project)):
        for grams, at, wide, title in zip(
            spar_g(s), (s.spar_at, s.rear_spar_at), (s.spar_mm, s.rear_spar_mm), ("spar", "second tube"), strict=True
        ):
            if grams > 0:
                ends = [
                    pose[:3, :3] @ np.array([t * s.length_mm, *spar_spot(s, t, at)]) + pose[:3, 3]
                    for t in (-s.beyond_mm / s.length_mm, 1.0)
                ]
                out.append(_rod(f"{part.id}_{title.replace(' ', '_')}_{k}", f"{part.name}, {title}", grams, ends[0], ends[1], wide))
        if s.glass_g_m2 > 0:
            ends = [pose[:3, :3] @ np.array([t * s.length_mm, *spar_spot(s, t, 0.4)]) + pose[:3, 3] for t in (0.0, 1.0)]
            out.append(_rod(f"{part.id}_glass_{k}", f"{part.name}, glass", glass_g(s), ends[0], ends[1], 10.0))
    return out


def bodies(project: Project, stations: tuple[Station, ...]) -> list[Placed]:
    """Pods with the rotors upright, pushers and the battery's slide, in the craft's axes."""
    out: list[Placed] = []
    by_id = {s.id: s for s in stations}
    for t in project.flying.tilts:
        for r in t.rotors:
            if r in by_id and t.pod_g > 0:
                at = pivot_mm(t, by_id[r]) + np.array([0.0, 0.0, t.pod_over_mm])
                out.append(_lump(f"pod_{r}", "Tilting pod", t.pod_g, at, 20.0))
    turn = to_craft(project)
    for p in project.flying.pushers:
        at = turn @ np.array([p.x_mm, p.y_mm, p.z_mm])
        out.append(_lump(f"{p.id}_drive", "Pusher", p.motor_g + p.propeller_g, at, 30.0))
    if project.flying.slide_g > 0:
        b = project.components.battery
        out.append(_lump("slide", "Battery slide", project.flying.slide_g, np.array([b.x_mm, 0.0, b.z_mm]), 20.0))
    return out
