"""What every zone of a printed part is worth in the axes of a section: moduli, strengths, and the way into its own axes.

Wall roads run along the contour, so as nearly along the part as their layer allows. Covers alternate +-45 degrees (laminate
average). The core takes the homogenised constants of its pattern at its angle and at the share of the plan that its roads cover: where
lines cross in a layer they lie on one another, so a 40 % grid covers 36 %. Between covers a core cannot narrow or scissor as it would
alone; it keeps their width. The layer normal is a direction in the part, so turning the part on the plate turns every zone.

Member axes: x along the part, v and r in the section (see ``section``). Voigt order xx, yy, zz, yz, xz, xy.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fravik.library import core_table
from fravik.model.material import Corner, Filament
from fravik.model.recipe import Recipe
from fravik.printing.orientation import layer_normal

from .orthotropy import CARRIES_NOTHING, Orthotropic, stress_turn

Floats = NDArray[np.float64]

WALL, COVER, CORE = 0, 1, 2
ZONE_NAMES = ("wall", "cover", "core")
SOFT = 1e-4
STANDING_COSINE = 0.985


def hashin_shtrikman_upper(density: float, poisson: float) -> float:
    """Upper bound of E/Es of an isotropic porous solid (bulk and shear bounds combined; Hashin and Shtrikman 1963)."""
    if density <= 0.0:
        return 0.0
    k, g = 1.0 / (3 * (1 - 2 * poisson)), 1.0 / (2 * (1 + poisson))
    void = 1.0 - density
    kb = k + void / (-1.0 / k + 3 * density / (3 * k + 4 * g)) if density < 1 else k
    gb = g + void / (-1.0 / g + 6 * (k + 2 * g) * density / (5 * g * (3 * k + 4 * g))) if density < 1 else g
    return 9 * kb * gb / (3 * kb + gb)


def plane_stiffness(e1: float, e2: float, g12: float, nu12: float, angle_deg: float) -> Floats:
    """Plane-stress stiffness (3, 3) of roads at an angle, order xx, yy, xy (Jones)."""
    d = 1 - nu12 * nu12 * e2 / e1
    q11, q22, q12, q66 = e1 / d, e2 / d, nu12 * e2 / d, g12
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    return np.array([
        [q11 * c**4 + 2 * (q12 + 2 * q66) * c * c * s * s + q22 * s**4,
         (q11 + q22 - 4 * q66) * c * c * s * s + q12 * (c**4 + s**4),
         (q11 - q12 - 2 * q66) * s * c**3 + (q12 - q22 + 2 * q66) * s**3 * c],
        [(q11 + q22 - 4 * q66) * c * c * s * s + q12 * (c**4 + s**4),
         q11 * s**4 + 2 * (q12 + 2 * q66) * c * c * s * s + q22 * c**4,
         (q11 - q12 - 2 * q66) * s**3 * c + (q12 - q22 + 2 * q66) * s * c**3],
        [(q11 - q12 - 2 * q66) * s * c**3 + (q12 - q22 + 2 * q66) * s**3 * c,
         (q11 - q12 - 2 * q66) * s**3 * c + (q12 - q22 + 2 * q66) * s * c**3,
         (q11 + q22 - 2 * q12 - 2 * q66) * c * c * s * s + q66 * (c**4 + s**4)],
    ])  # fmt: skip


@dataclass(frozen=True)
class Laminate:
    """A balanced +-angle cover: its constants, and what a mean stress in the layer makes of each ply in the ply's axes."""

    e_mpa: float
    g_mpa: float
    poisson: float
    to_ply: Floats


def angle_ply(e1: float, e2: float, g12: float, nu12: float, angle_deg: float) -> Laminate:
    """Classical laminate theory of a symmetric +-angle stack. ``to_ply`` (2, 3, 3): ply stress 11, 22, 12 from mean xx, yy, xy."""
    plus, minus = (plane_stiffness(e1, e2, g12, nu12, a) for a in (angle_deg, -angle_deg))
    a = (plus + minus) / 2
    flex = np.linalg.inv(a)
    maps = []
    for q, angle in ((plus, angle_deg), (minus, -angle_deg)):
        c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
        turn = np.array([[c * c, s * s, 2 * c * s], [s * s, c * c, -2 * c * s], [-c * s, c * s, c * c - s * s]])
        maps.append(turn @ q @ flex)
    return Laminate(float(1 / flex[0, 0]), float(a[2, 2]), float(-flex[0, 1] / flex[0, 0]), np.stack(maps))


def plan_share(pattern: str, core_density: float) -> float:
    """Share of the plan that a pattern's roads cover when they are laid at a density: what crosses in a layer counts once.

    Families of straight roads: 1 - (1 - f/2)^2 for a grid; triangles meet in points, f - f^2 / 4; cubes' families meet anywhere,
    1 - (1 - f/3)^3. From 85 % on the roads are squeezed aside, up to solid at 100 %. Other patterns cross nowhere.
    """

    def crossed(f: float) -> float:
        if pattern == "grid":
            return f - f * f / 4
        if pattern == "triangles":
            return f - f * f / 4
        return 1 - (1 - f / 3) ** 3 if pattern == "cubic" else f

    full = 0.85
    if core_density <= full:
        return crossed(core_density)
    return crossed(full) + (1 - crossed(full)) * (core_density - full) / (1 - full)


def core_ratios(pattern: str, density: float) -> tuple[Floats, Floats]:
    """(E1 E2 E3 G23 G13 G12 nu12 nu13 nu23) over the solid's (9,), and strengths xx yy zz yz xz xy over the solid's (6,).

    A way in which the core carries nothing never breaks; from the density on at which it begins to carry, its strength grows from nothing.
    """
    table = core_table()
    at = min(max(density, 0.0), 1.0) * (len(table["density"]) - 1)
    i = min(int(at), len(table["density"]) - 2)
    t = at - i
    elastic, strength = table[f"{pattern}_elastic"], table[f"{pattern}_strength"]
    here = (1 - t) * elastic[i] + t * elastic[i + 1]
    begins = (elastic[i, :6] <= CARRIES_NOTHING) & (here[:6] > CARRIES_NOTHING)
    return here, np.where(begins, 0.0, 1 - t) * strength[i] + t * strength[i + 1]


@dataclass(frozen=True)
class Strengths:
    """Strengths of the plastic at one corner: 1 along the road, 2 across it in the layer, 3 across layers; t in shear. MPa."""

    road_mpa: float
    cross_mpa: float
    layer_mpa: float
    plane_shear_mpa: float
    layer_shear_mpa: float
    core_mpa: tuple[float, float, float, float, float, float]


@dataclass(frozen=True)
class PrintedMaterial:
    """Zone values for one or more section frames; arrays lead with (3 zones, frames).

    ``to_zone`` (3, frames, 6, 3) takes member stress (xx, xv, xr) to the zone's own axes: walls along the road, covers along
    the laminate, cores along the pattern; axis 3 is across the layers.
    """

    e_mpa: Floats
    g_v_mpa: Floats
    g_r_mpa: Floats
    to_zone: Floats
    to_ply: Floats
    strengths: Strengths
    ductility_road: float
    ductility_layer: float
    notch_sensitivity: float
    core_share: float
    poisson: float
    shear_scale_mpa: float


def core_solid(along: float, across: float, density: float) -> float:
    """Solid value behind a core: that of single roads when sparse, of crossed layers when full."""
    return along + (across - along) * density


@lru_cache(maxsize=128)
def zone_elastics(f: Filament, recipe: Recipe, corner: Corner) -> tuple[tuple[Orthotropic, Orthotropic, Orthotropic], Laminate]:
    """Wall, cover and core in their own axes (3 = across layers), and the cover's laminate."""
    e1, e2, e3 = f.e_road_mpa.at(corner), f.e_cross_mpa.at(corner), f.e_layer_mpa.at(corner)
    g12, g13, nu = f.g_plane_mpa.at(corner), f.g_layer_mpa.at(corner), f.poisson
    lam = angle_ply(e1, e2, g12, nu, 45.0)
    wall = Orthotropic(e1, e2, e3, g13, g13, g12, nu, nu, nu * min(1.0, e2 / e1))
    cover = Orthotropic(lam.e_mpa, lam.e_mpa, e3, g13, g13, lam.g_mpa, lam.poisson, nu, nu)
    share = plan_share(recipe.pattern, recipe.core_density)
    k, _ = core_ratios(recipe.pattern, share)
    plane = core_solid(e1, lam.e_mpa, share)
    shear = core_solid(g12, lam.g_mpa, share)
    floor = SOFT * e3
    core = Orthotropic(
        max(k[0] * plane, floor), max(k[1] * plane, floor), max(k[2] * e3, floor),
        max(k[3] * g13, floor / 3), max(k[4] * g13, floor / 3), max(k[5] * shear, floor / 3), k[6], 0.0, 0.0,
    )  # fmt: skip
    return (wall, cover, core), lam


def held_between(flex: Floats, cover: Floats, covers: float) -> Floats:
    """Compliance (6, 6) of a core as it works between covers, both in layer axes; ``covers`` is their area over its own.

    Core and covers share one stretch and one narrowing, without stress across the part as a whole (classical laminate theory). What the
    laminate has beyond the covers' own modulus is the core's; so a grid at 45 degrees, which would scissor by itself, holds.
    """
    if covers <= 0:
        return flex
    pick = np.ix_([0, 1, 5], [0, 1, 5])
    of_cover, of_core = np.linalg.inv(cover[pick]), np.linalg.inv(flex[pick])
    together = np.linalg.inv(covers * of_cover + of_core)
    out = flex.copy()
    e = [max(1 / float(together[i, i]) - covers / float(cover[i, i]), 1 / float(flex[i, i])) for i in (0, 1)]
    nu = min(-float(cover[0, 1] / cover[0, 0]), 0.9 * min(e) / max(e))
    out[[0, 1], [0, 1]] = 1 / e[0], 1 / e[1]
    out[[0, 1], [1, 0]] = -nu / max(e)
    out[[0, 1], 5] = out[5, [0, 1]] = 0.0
    return out


def _own_axes(frame: Floats, normal: Floats) -> Floats:
    """Rows: the road's direction (nearest to the part's length), across it in the layer, across the layers; in part axes."""
    along = frame[0] - (frame[0] @ normal) * normal
    size = float(np.linalg.norm(along))
    if size < math.sqrt(1 - STANDING_COSINE**2):
        # standing on end the walls ring the section; take the side walls' direction
        along = frame[2] - (frame[2] @ normal) * normal
        size = float(np.linalg.norm(along))
    along = along / size
    return np.stack([along, np.cross(normal, along), normal])


def _spun(axes: Floats, angle_deg: float) -> Floats:
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    return np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]]) @ axes


_COLUMNS = (0, 5, 4)  # xx, xv (= xy), xr (= xz)


def printed_material(f: Filament, recipe: Recipe, corner: Corner, frames: Floats | None = None, covers: float = 0.0) -> PrintedMaterial:
    """Zone values of a filament printed by a recipe, at the low, typical or high end of its spread.

    ``frames`` (n, 3, 3): rows are the directions x, v, r of each section in part axes; by default the part's own axes. ``covers`` is
    the area of the part's covers over that of the core that they hold; 0 is a core by itself.
    """
    frames = np.eye(3)[None] if frames is None else frames
    return _printed(f, recipe, corner, frames.tobytes(), len(frames), round(covers, 2))


def covers_over_core(zone_area: Floats) -> float:
    """Area of the covers over that of the core from the zones' areas along a part (3, S): the middle one where there is a core."""
    core = zone_area[CORE] > 1e-6 * np.maximum(zone_area.sum(axis=0), 1e-9)
    return float(np.median(zone_area[COVER][core] / zone_area[CORE][core])) if core.any() else 0.0


@lru_cache(maxsize=512)
def _printed(f: Filament, recipe: Recipe, corner: Corner, raw: bytes, count: int, covers: float) -> PrintedMaterial:
    frames = np.frombuffer(raw).reshape(count, 3, 3)
    normal = layer_normal(recipe)
    elastics, lam = zone_elastics(f, recipe, corner)
    flex = [z.compliance() for z in elastics]
    angle = 0.0 if recipe.pattern == "concentric" else recipe.core_angle_deg
    e, gv, gr = (np.empty((3, count)) for _ in range(3))
    to_zone = np.empty((3, count, 6, 3))
    for k, frame in enumerate(frames):
        own = _own_axes(frame, normal)
        for zone in range(3):
            axes = _spun(own, angle) if zone == CORE else own
            turn = stress_turn(axes @ frame.T)
            to_zone[zone, k] = turn[:, _COLUMNS]
            seen = turn.T @ flex[zone] @ turn
            if zone == CORE and covers > 0:
                in_layer, across = stress_turn(_spun(np.eye(3), angle)), stress_turn(own @ frame.T)
                seen = across.T @ held_between(in_layer.T @ flex[CORE] @ in_layer, flex[COVER], covers) @ across
            e[zone, k], gv[zone, k], gr[zone, k] = 1 / seen[0, 0], 1 / seen[5, 5], 1 / seen[4, 4]
    s1, s2, s3 = f.s_road_mpa.at(corner), f.s_cross_mpa.at(corner), f.s_layer_mpa.at(corner)
    t12, t13 = f.t_plane_mpa.at(corner), f.t_layer_mpa.at(corner)
    share = plan_share(recipe.pattern, recipe.core_density)
    _, k6 = core_ratios(recipe.pattern, share)
    solid = core_solid(s1, (s1 + s2) / 2, share)
    core = [float(max(r * s, 1e-6)) for r, s in zip(k6, (solid, solid, s3, t13, t13, t12), strict=True)]
    strengths = Strengths(s1, s2, s3, t12, t13, (core[0], core[1], core[2], core[3], core[4], core[5]))
    return PrintedMaterial(
        e, gv, gr, to_zone, lam.to_ply, strengths, f.ductility_road.at(corner), f.ductility_layer.at(corner),
        f.notch_sensitivity, recipe.core_density, f.poisson, 0.5 * (f.g_plane_mpa.at(corner) + f.g_layer_mpa.at(corner)),
    )  # fmt: skip
