"""Local buckling of printed faces: thin walls and covers pressed along the part.

A face on a core wrinkles at 0.5 (Ef Ec Gc)^(1/3) (Hoff and Mautner) or buckles between the core's lines like a plate,
2 E/(1 - v^2) (t/s)^2; without a core it is a plate between its edges, 4 pi^2 E/(12 (1 - v^2)) (t/b)^2. It holds whichever of the
supported and the bare figure is greater.
"""

from __future__ import annotations

import math

import numpy as np

from fravik.model.recipe import Recipe

from .member import Member
from .printed import CORE, COVER, WALL, PrintedMaterial


def wrinkling_mpa(face_mpa: float, core_mpa: float, core_shear_mpa: float) -> float:
    """Stress at which a thin face on a thick core wrinkles."""
    return 0.5 * (face_mpa * core_mpa * core_shear_mpa) ** (1 / 3)


def between_lines_mpa(face_mpa: float, poisson: float, thickness_mm: float, spacing_mm: float) -> float:
    """Stress at which a face dimples between the core's lines."""
    return 2 * face_mpa / (1 - poisson**2) * (thickness_mm / spacing_mm) ** 2


def plate_mpa(face_mpa: float, poisson: float, thickness_mm: float, width_mm: float) -> float:
    """Buckling stress of a long plate on simple edges."""
    return 4 * math.pi**2 * face_mpa / (12 * (1 - poisson**2)) * (thickness_mm / width_mm) ** 2


def critical_stress_mpa(member: Member, m: PrintedMaterial, recipe: Recipe) -> tuple[float, float]:
    """Critical stress of the walls and of the covers of a member, MPa."""
    box = member.tables.extents
    wide, tall = float((box[1] - box[0]).max()), float((box[3] - box[2]).max())
    out = []
    for zone, thick, width in (
        (WALL, recipe.walls * recipe.line_width_mm, min(tall, wide)),
        (COVER, max(recipe.cover_layers, 1) * recipe.layer_height_mm, max(tall, wide)),
    ):
        e = float(m.e_mpa[zone].mean())
        bare = plate_mpa(e, m.poisson, thick, max(width, thick))
        held = 0.0
        if recipe.core_density > 0.005:
            ec, gc = float(m.e_mpa[CORE].mean()), float(np.minimum(m.g_v_mpa[CORE], m.g_r_mpa[CORE]).mean())
            held = min(wrinkling_mpa(e, ec, gc), between_lines_mpa(e, m.poisson, thick, recipe.line_width_mm / recipe.core_density))
        out.append(max(bare, held))
    return out[0], out[1]
