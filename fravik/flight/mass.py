"""The whole craft's mass, centre of mass and inertia from printed parts and components."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from fravik.model.craft import Block
from fravik.model.project import Project
from fravik.power.propeller import propeller_inertia_gmm2
from fravik.printing.mass import MassProperties, combine, move
from fravik.printing.zones import Floats
from fravik.shape.places import places_of
from fravik.shape.stations import stations


@dataclass(frozen=True)
class Placed:
    """A body on the craft, for pictures and for the mass table."""

    id: str
    name: str
    kind: str
    centre_mm: Floats
    size_mm: Floats
    mass: MassProperties


def _box(block_id: str, name: str, kind: str, mass_g: float, size: tuple[float, float, float], at: Floats) -> Placed:
    lx, ly, lz = size
    inertia = mass_g / 12 * np.diag([ly**2 + lz**2, lx**2 + lz**2, lx**2 + ly**2])
    return Placed(block_id, name, kind, at, np.array(size), MassProperties(mass_g, at, inertia))


def placed_components(project: Project) -> list[Placed]:
    """Every bought component where it sits."""
    c = project.components
    out: list[Placed] = []
    for k, station in enumerate(stations(project)):
        m, p, at = c.motor, c.propeller, station.at_mm
        centre = at + np.array([0.0, 0.0, m.height_mm / 2])
        r, h = m.diameter_mm / 2, m.height_mm
        side = m.mass_g * (3 * r * r + h * h) / 12
        body = MassProperties(m.mass_g, centre, np.diag([side, side, m.mass_g * r * r / 2]))
        out.append(Placed(f"motor{k}", m.name, "motor", centre, np.array([2 * r, 2 * r, h]), body))
        hub = at + np.array([0.0, 0.0, h + 3.0])
        disk = MassProperties(p.mass_g, hub, propeller_inertia_gmm2(p))
        out.append(Placed(f"prop{k}", "Propeller", "prop", hub, np.array([p.diameter_mm, p.diameter_mm, 6.0]), disk))
    b = c.battery
    at = np.array([b.x_mm, 0.0, b.z_mm])
    out.append(_box("battery", "Battery", "battery", b.mass_g, (b.length_mm, b.width_mm, b.height_mm), at))
    out.extend(_block(x) for x in c.blocks)
    return out


def _block(x: Block) -> Placed:
    size = (x.length_mm, x.width_mm, x.height_mm)
    return _box(x.id, x.name, "block", x.mass_g, size, np.array([x.x_mm, x.y_mm, x.z_mm]))


def craft_mass(project: Project, part_mass: dict[str, MassProperties], carbon_g: dict[str, float]) -> MassProperties:
    """All parts in place and all components as one body; carbon rides at its part's centre of mass."""
    bodies = [p.mass for p in placed_components(project)]
    for part in project.parts:
        one = part_mass[part.id]
        if carbon_g.get(part.id):
            one = MassProperties(one.mass_g + carbon_g[part.id], one.com_mm, one.inertia_gmm2)
        bodies.extend(move(one, place.pose) for place in places_of(part, project))
    return combine(bodies)


@dataclass(frozen=True)
class Clearances:
    """Plan clearances that decide whether the craft can fly at all."""

    prop_to_prop_mm: float
    prop_to_body_mm: float
    prop_to_ground_mm: float


def clearances(project: Project) -> Clearances:
    """Gap between propeller disks, from a disk to the plates' edge or the battery, and above the ground."""
    every, d = stations(project), project.components.propeller.diameter_mm
    pack, edge = project.components.battery, project.layout.clamp_radius_mm
    apart = min(math.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm) for a, b in combinations(every, 2))
    beside = min(
        math.hypot(max(abs(s.x_mm - pack.x_mm) - pack.length_mm / 2, 0.0), max(abs(s.y_mm) - pack.width_mm / 2, 0.0)) for s in every
    )
    inward = min(min(s.radius_mm for s in every) - edge, beside) - d / 2
    ground = 0.0
    for p in project.parts:
        if p.shape.kind == "leg":
            drop = (p.shape.length_mm + p.shape.flange_length_mm) * math.cos(math.radians(p.shape.splay_deg))
            ground = max(ground, drop)
    top = min(s.z_mm for s in every) + project.components.motor.height_mm
    return Clearances(apart - d, inward, ground + top)
