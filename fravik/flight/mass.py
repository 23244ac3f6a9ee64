"""The whole craft's mass, centre of mass and inertia from printed parts and components."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from fravik.model.craft import Block, Components
from fravik.power.drive import Drive
from fravik.power.propeller import propeller_inertia_gmm2
from fravik.printing.mass import MassProperties, combine, move
from fravik.printing.zones import Floats
from fravik.shape.meshbody import unit_moments
from fravik.shape.stations import Station

HUB_OVER_MM = 3.0  # the propeller's middle over its motor


@dataclass(frozen=True)
class Placed:
    """A body on the craft, for pictures and for the mass table."""

    id: str
    name: str
    kind: str
    centre_mm: Floats
    size_mm: Floats
    mass: MassProperties
    form: str = "box"
    mesh: str = ""


def _box(block_id: str, name: str, kind: str, mass_g: float, size: tuple[float, float, float], at: Floats) -> Placed:
    lx, ly, lz = size
    inertia = mass_g / 12 * np.diag([ly**2 + lz**2, lx**2 + lz**2, lx**2 + ly**2])
    return Placed(block_id, name, kind, at, np.array(size), MassProperties(mass_g, at, inertia))


def _round(block_id: str, name: str, kind: str, mass_g: float, along_mm: float, across_mm: float, axis: int, at: Floats) -> Placed:
    """A uniform cylinder, its axis along x (0) or z (2)."""
    size, r = np.full(3, across_mm), across_mm / 2
    size[axis] = along_mm
    inertia = np.full(3, mass_g * (3 * r * r + along_mm**2) / 12)
    inertia[axis] = mass_g * r * r / 2
    return Placed(block_id, name, kind, at, size, MassProperties(mass_g, at, np.diag(inertia)), "upright" if axis == 2 else "lying")


def placed_components(c: Components, stations: Sequence[Station], drives: Sequence[Drive]) -> list[Placed]:
    """Every bought component where it sits, rotors first; ``drives`` are those of the stations."""
    out: list[Placed] = []
    for k, (station, drive) in enumerate(zip(stations, drives, strict=True)):
        m, p, at = drive.motor, drive.propeller, station.at_mm
        centre = at + station.up * np.array([0.0, 0.0, m.height_mm / 2])
        r, h = m.diameter_mm / 2, m.height_mm
        side = m.mass_g * (3 * r * r + h * h) / 12
        body = MassProperties(m.mass_g, centre, np.diag([side, side, m.mass_g * r * r / 2]))
        out.append(Placed(f"motor{k}", m.name, "motor", centre, np.array([2 * r, 2 * r, h]), body))
        hub = at + station.up * np.array([0.0, 0.0, h + HUB_OVER_MM])
        disk = MassProperties(p.mass_g, hub, propeller_inertia_gmm2(p))
        out.append(Placed(f"prop{k}", "Propeller", "prop", hub, np.array([p.diameter_mm, p.diameter_mm, 6.0]), disk))
    b = c.battery
    at = np.array([b.x_mm, 0.0, b.z_mm])
    out.append(_box("battery", "Battery", "battery", b.mass_g, (b.length_mm, b.width_mm, b.height_mm), at))
    out.extend(_block(x) for x in c.blocks)
    return out


def _block(x: Block) -> Placed:
    size, at = (x.length_mm, x.width_mm, x.height_mm), np.array([x.x_mm, x.y_mm, x.z_mm])
    if x.form == "upright":
        return _round(x.id, x.name, "block", x.mass_g, x.height_mm, x.width_mm, 2, at)
    if x.form == "lying":
        return _round(x.id, x.name, "block", x.mass_g, x.length_mm, x.width_mm, 0, at)
    if x.form == "mesh":
        return _meshed(x, np.array(size), at)
    return _box(x.id, x.name, "block", x.mass_g, size, at)


def _meshed(x: Block, size_mm: Floats, at: Floats) -> Placed:
    """A uniform body in the form of its mesh; one whose mesh is damaged is taken as its box, and the design says so."""
    try:
        mean, product = unit_moments(x.mesh)
    except ValueError:
        return _box(x.id, x.name, "block", x.mass_g, (x.length_mm, x.width_mm, x.height_mm), at)
    off = mean * size_mm
    spread = product * np.outer(size_mm, size_mm) - np.outer(off, off)
    inertia = x.mass_g * (np.trace(spread) * np.eye(3) - spread)
    return Placed(x.id, x.name, "block", at, size_mm, MassProperties(x.mass_g, at + off, inertia), "mesh", x.mesh)


def craft_mass(bought: Sequence[Placed], parts: Sequence[tuple[MassProperties, Sequence[Floats]]]) -> MassProperties:
    """All components and all copies of all parts as one body. ``parts``: one of each with the poses (4, 4) of its copies."""
    bodies = [p.mass for p in bought]
    for one, poses in parts:
        bodies.extend(move(one, pose) for pose in poses)
    return combine(bodies)


@dataclass(frozen=True)
class Clearances:
    """Plan clearances that decide whether the craft can fly at all."""

    prop_to_prop_mm: float
    prop_to_body_mm: float


def clearances(c: Components, stations: Sequence[Station], drives: Sequence[Drive], arms_mm: Sequence[float]) -> Clearances:
    """Gap between propeller disks, and from a disk to the plates' edge or the battery.

    ``arms_mm`` is the way from the plates' edge to each rotor.
    """
    pack, radii = c.battery, [d.propeller.diameter_mm / 2 for d in drives]
    apart = min(
        (math.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm) - p - q for (a, p), (b, q) in combinations(zip(stations, radii, strict=True), 2)
         if a.up == b.up),
        default=math.inf,
    )  # fmt: skip
    inward = math.inf
    for s, radius, arm in zip(stations, radii, arms_mm, strict=True):
        off = max(abs(s.x_mm - pack.x_mm) - pack.length_mm / 2, 0.0), max(abs(s.y_mm) - pack.width_mm / 2, 0.0)
        inward = min(inward, min(arm, math.hypot(*off)) - radius)
    return Clearances(apart, inward)
