"""Mass, centre of mass and inertia of a printed part from its zones."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .zones import Floats, Region, ZoneField


@dataclass(frozen=True)
class ZoneVolumes:
    """Volume of each zone of a part in mm3 (core is the whole core, core and air)."""

    wall_mm3: float
    cover_mm3: float
    core_mm3: float


@dataclass(frozen=True)
class MassProperties:
    """Mass, centre of mass and inertia tensor about it, in the axes the caller asked for."""

    mass_g: float
    com_mm: Floats
    inertia_gmm2: Floats


def zone_volumes(field: ZoneField) -> ZoneVolumes:
    """Zone volumes summed over the layers."""
    outer, inner, core = (float(r.areas_mm2().sum()) * field.pitch_mm for r in (field.outer, field.inner, field.core))
    return ZoneVolumes(outer - inner, inner - core, core)


def moments(region: Region) -> Floats:
    """Per layer (A, Su, Sv, Iuu, Ivv, Iuv) by Green's theorem, shape (6, layers)."""
    u0, v0 = region.start.T
    u1, v1 = region.end.T
    a = u0 * v1 - u1 * v0
    terms = (
        a / 2,
        a * (u0 + u1) / 6,
        a * (v0 + v1) / 6,
        a * (u0 * u0 + u0 * u1 + u1 * u1) / 12,
        a * (v0 * v0 + v0 * v1 + v1 * v1) / 12,
        a * (u0 * v1 + 2 * u0 * v0 + 2 * u1 * v1 + u1 * v0) / 24,
    )
    return np.array([region.sum_edges(t) for t in terms])


def part_mass(field: ZoneField, density_g_cm3: float) -> MassProperties:
    """Mass properties of one printed part in part axes: walls and covers solid, core at its core."""
    rho = density_g_cm3 * 1e-3
    m = (moments(field.outer) - (1.0 - field.recipe.core_density) * moments(field.core)) * rho * field.pitch_mm
    w, p = field.heights_mm, field.pitch_mm
    mass = float(m[0].sum())
    first = np.array([m[1].sum(), m[2].sum(), (m[0] * w).sum()])
    second = np.zeros((3, 3))
    second[0, 0], second[1, 1], second[0, 1] = m[3].sum(), m[4].sum(), m[5].sum()
    second[2, 2] = (m[0] * (w * w + p * p / 12)).sum()
    second[0, 2], second[1, 2] = (m[1] * w).sum(), (m[2] * w).sum()
    second = second + np.triu(second, 1).T
    com = first / mass if mass > 0 else np.zeros(3)
    second -= mass * np.outer(com, com)
    r = field.rotation
    second = r.T @ second @ r
    return MassProperties(mass, r.T @ com, np.trace(second) * np.eye(3) - second)


def move(props: MassProperties, transform: Floats) -> MassProperties:
    """The same body after a rigid 4x4 transform."""
    r = transform[:3, :3]
    return MassProperties(props.mass_g, r @ props.com_mm + transform[:3, 3], r @ props.inertia_gmm2 @ r.T)


def combine(bodies: list[MassProperties]) -> MassProperties:
    """Many bodies as one, by the parallel-axis theorem."""
    mass = sum(b.mass_g for b in bodies)
    if mass <= 0:
        return MassProperties(0.0, np.zeros(3), np.zeros((3, 3)))
    each = np.array([b.mass_g for b in bodies])
    at = np.array([b.com_mm for b in bodies])
    com = each @ at / mass
    d = at - com
    weighed = each[:, None] * d
    inertia = np.sum([b.inertia_gmm2 for b in bodies], axis=0) + float((weighed * d).sum()) * np.eye(3) - weighed.T @ d
    return MassProperties(mass, com, inertia)
