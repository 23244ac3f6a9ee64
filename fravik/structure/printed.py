"""What a zone of a printed part is worth along the part's x axis, for one filament, recipe and orientation.

Walls run along the contour, so along the arm when it lies flat or on its side. Skins alternate +-45 degrees (laminate
average). The core takes a closed-form scaling of its pattern: E/Es = c p^n / (1 - (1 - c) p), which is monotone, exact at
0 and 100 % and below the Hashin-Shtrikman upper bound for the patterns here. Standing on end every road lies across the
load, and the layer bond carries it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.model.material import Corner, Filament
from fravik.model.recipe import Recipe

WALL, SKIN, CORE = 0, 1, 2
ZONE_NAMES = ("wall", "skin", "core")

# (c, n) of the stiffness scaling and of the strength scaling for each pattern, loaded along the arm.
PATTERN_STIFFNESS: dict[str, tuple[float, float]] = {
    "lines": (0.22, 1.15),
    "grid": (0.26, 1.15),
    "triangles": (0.33, 1.05),
    "honeycomb": (0.26, 1.25),
    "gyroid": (0.30, 1.30),
}
# The cell walls fail at no less strain than the solid, so strength falls more slowly than stiffness.
PATTERN_STRENGTH: dict[str, tuple[float, float]] = {
    "lines": (0.24, 1.05),
    "grid": (0.28, 1.05),
    "triangles": (0.35, 1.0),
    "honeycomb": (0.29, 1.12),
    "gyroid": (0.34, 1.12),
}


def cellular_ratio(density: float, c: float, n: float) -> float:
    """Property of a cellular core over that of the solid, for relative density 0 to 1."""
    if density <= 0.0:
        return 0.0
    return c * density**n / (1.0 - (1.0 - c) * density)


def hashin_shtrikman_upper(density: float, poisson: float) -> float:
    """Upper bound of E/Es of an isotropic porous solid (bulk and shear bounds combined; Hashin and Shtrikman 1963)."""
    if density <= 0.0:
        return 0.0
    k, g = 1.0 / (3 * (1 - 2 * poisson)), 1.0 / (2 * (1 + poisson))
    void = 1.0 - density
    kb = k + void / (-1.0 / k + 3 * density / (3 * k + 4 * g)) if density < 1 else k
    gb = g + void / (-1.0 / g + 6 * (k + 2 * g) * density / (5 * g * (3 * k + 4 * g))) if density < 1 else g
    return 9 * kb * gb / (3 * kb + gb)


def angle_ply_modulus_mpa(e1: float, e2: float, g12: float, nu12: float, angle_deg: float) -> tuple[float, float]:
    """(Ex, Gxy) of a balanced +-angle laminate by classical laminate theory (plane stress, symmetric)."""
    nu21 = nu12 * e2 / e1
    d = 1 - nu12 * nu21
    q11, q22, q12, q66 = e1 / d, e2 / d, nu12 * e2 / d, g12
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    a11 = q11 * c**4 + 2 * (q12 + 2 * q66) * c * c * s * s + q22 * s**4
    a22 = q11 * s**4 + 2 * (q12 + 2 * q66) * c * c * s * s + q22 * c**4
    a12 = (q11 + q22 - 4 * q66) * c * c * s * s + q12 * (c**4 + s**4)
    a66 = (q11 + q22 - 2 * q12 - 2 * q66) * c * c * s * s + q66 * (c**4 + s**4)
    return a11 - a12 * a12 / a22, a66


def off_axis_strength_mpa(s1: float, s2: float, t12: float, angle_deg: float) -> float:
    """Tensile strength of roads pulled at an angle, by the Tsai-Hill criterion."""
    c2, s2_ = math.cos(math.radians(angle_deg)) ** 2, math.sin(math.radians(angle_deg)) ** 2
    return float((c2 * c2 / s1**2 + (1 / t12**2 - 1 / s1**2) * c2 * s2_ + s2_ * s2_ / s2**2) ** -0.5)


@dataclass(frozen=True)
class PrintedMaterial:
    """Zone values along the part's x axis. Tuples are (wall, skin, core)."""

    e_mpa: tuple[float, float, float]
    g_xy_mpa: tuple[float, float, float]
    g_xz_mpa: tuple[float, float, float]
    strength_mpa: tuple[float, float, float]
    layer_split_mpa: float
    layer_shear_mpa: float
    plane_shear_mpa: float
    ductility_road: float
    ductility_layer: float
    notch_sensitivity: float
    core_share: float
    core_shear_share: float
    across_layers: bool


def printed_material(filament: Filament, recipe: Recipe, corner: Corner) -> PrintedMaterial:
    """Zone values of a filament printed by a recipe, at the low, typical or high end of its spread."""
    f = filament
    e1, e2, e3 = f.e_road_mpa.at(corner), f.e_cross_mpa.at(corner), f.e_layer_mpa.at(corner)
    g12, g13 = f.g_plane_mpa.at(corner), f.g_layer_mpa.at(corner)
    s1, s2, s3 = f.s_road_mpa.at(corner), f.s_cross_mpa.at(corner), f.s_layer_mpa.at(corner)
    t12, t13 = f.t_plane_mpa.at(corner), f.t_layer_mpa.at(corner)
    e_skin, g_skin = angle_ply_modulus_mpa(e1, e2, g12, f.poisson, 45.0)
    s_skin = off_axis_strength_mpa(s1, s2, t12, 45.0)
    ratio_e = cellular_ratio(recipe.infill, *PATTERN_STIFFNESS[recipe.pattern])
    ratio_s = cellular_ratio(recipe.infill, *PATTERN_STRENGTH[recipe.pattern])
    across = recipe.lies == "on_end"
    if across:
        e = (e3, e3, e3 * recipe.infill)
        g_xy = g_xz = (g13, g13, g13 * ratio_e)
        s = (s3, s3, s3)
    else:
        e = (e1, e_skin, e_skin * ratio_e)
        plane, layer = (g12, g_skin, g_skin * ratio_e), (g13, g13, g13 * ratio_e)
        g_xy, g_xz = (plane, layer) if recipe.lies == "flat" else (layer, plane)
        s = (s1, s_skin, s_skin * ratio_s)
    return PrintedMaterial(
        e, g_xy, g_xz, s, s3, t13, t12,
        f.ductility_road.at(corner), f.ductility_layer.at(corner), f.notch_sensitivity,
        recipe.infill, ratio_s, across,
    )  # fmt: skip
