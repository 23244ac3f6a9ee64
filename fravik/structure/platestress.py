"""Reserves of the body's plates: bending and stretching of every cell to stress at both faces, by failure kind.

At the faces the covers are judged (walls where a plate has no covers), and the core where it begins. Cells that hold a hole carry the
factor of a hole in a plate bent out of its plane. Shear through the thickness and bearing at the bolts are not judged.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from fravik.model.material import Corner, Filament
from fravik.model.recipe import Recipe
from fravik.printing.orientation import layer_normal
from fravik.printing.zones import Floats

from .failure import CAP, CROSS, CRUSH, KINDS, ROAD, SLIDE, SPLIT, CaseReserves, governing
from .indices import in_core, in_cover, in_wall
from .orthotropy import stress_turn
from .plate import PlateAnswer
from .printed import CORE, COVER, WALL, Strengths, printed_material, zone_elastics
from .raisers import flatwise_share, hole_tension, notched

WHOLE = 0.985
TYPICAL_HOLE = (3.2, 12.0)


@lru_cache(maxsize=64)
def _plane(f: Filament, recipe: Recipe, zone: int) -> Floats:
    """Stress (6, 3) in a zone's own axes from the plate's plane strain xx, yy, xy."""
    elastics, _ = zone_elastics(f, recipe, "typical")
    normal = layer_normal(recipe)
    along = np.array([1.0, 0.0, 0.0]) - normal[0] * normal
    if np.linalg.norm(along) < 0.2:
        along = np.array([0.0, 1.0, 0.0]) - normal[1] * normal
    along = along / np.linalg.norm(along)
    own = np.stack([along, np.cross(normal, along), normal])
    turn = stress_turn(own)
    flex = turn.T @ elastics[zone].compliance() @ turn
    pick = [0, 1, 5]
    return np.asarray(turn[:, pick] @ np.linalg.inv(flex[np.ix_(pick, pick)]), dtype=np.float64)


@lru_cache(maxsize=64)
def _face(f: Filament, recipe: Recipe, zone: int) -> Floats:
    """Rows (1, 6 or 9, 3) of ``Limits.wall`` or ``Limits.cover``, over the plane strain at a face."""
    m, own = printed_material(f, recipe, "typical"), _plane(f, recipe, zone)
    s = m.strengths
    plies = m.to_ply @ own[[0, 1, 5]] if zone == COVER else own[None, [0, 1, 5]]
    plane = plies / np.array([s.road_mpa, s.cross_mpa, s.plane_shear_mpa])[:, None]
    between = own[2:5] / np.array([s.layer_mpa, s.layer_shear_mpa, s.layer_shear_mpa])[:, None]
    return np.concatenate([plane.reshape(-1, 3), between])[None]


def plate_reserves(
    answer: PlateAnswer, f: Filament, recipe: Recipe, forces: dict[Corner, dict[str, Floats]], positions_mm: Floats
) -> dict[Corner, dict[str, CaseReserves]]:
    """Reserves by position along a plate in every case at every corner; ``forces`` are on the plate's points, (5 P,) each.

    ``positions_mm`` (nx,) are the cells' middles. Stress follows the loads alone; the strengths of each corner are set against it.
    """
    index = _indices(answer, f, recipe, forces["typical"])
    names = list(forces["typical"])
    base = printed_material(f, recipe, "typical").strengths
    size = np.stack([np.abs(np.stack([cases[n] for n in names])).max(axis=1) for cases in forces.values()])
    more = size / np.maximum(size[list(forces).index("typical")], 1e-12)
    ratios = np.stack([_ratios(base, printed_material(f, recipe, corner).strengths) for corner in forces])
    rows = np.full((len(forces), len(KINDS), index.shape[1], len(names)), CAP)
    rows[:, : CRUSH + 1] = 1.0 / np.maximum(index * (more[:, None, None, :] / ratios[:, :, None, None]), 1.0 / CAP)
    return dict(zip(forces, governing(rows, names, positions_mm, [""] * len(forces), [""] * len(forces)), strict=True))


def _ratios(base: Strengths, here: Strengths) -> Floats:
    """How much stronger another corner of the material is than the typical one, by kind (the first five)."""
    out = np.ones(CRUSH + 1)
    for kind, strengths in ((ROAD, ("road_mpa",)), (CROSS, ("cross_mpa", "plane_shear_mpa")),
                            (SPLIT, ("layer_mpa", "layer_shear_mpa")), (SLIDE, ("layer_mpa", "layer_shear_mpa"))):  # fmt: skip
        out[kind] = min(getattr(here, k) / getattr(base, k) for k in strengths)
    out[CRUSH] = min(a / b for a, b in zip(here.core_mpa, base.core_mpa, strict=True))
    return out


def _indices(answer: PlateAnswer, f: Filament, recipe: Recipe, forces: dict[str, Floats]) -> Floats:
    """Stress over typical strength by kind (the first five), worst across the plate at each position, and case: (5, nx, cases)."""
    packed = np.stack(list(forces.values()), axis=1)
    bend, pull = answer.strains(packed)
    bend[:2] += answer.under_faces(packed)
    cover = answer.grid.cover
    sensitivity = printed_material(f, recipe, "typical").notch_sensitivity
    kt = 1 + flatwise_share(TYPICAL_HOLE[0], answer.section.thickness_mm) * (hole_tension(*TYPICAL_HOLE) - 1)
    factor = np.where((cover > 0) & (cover < WHOLE), notched(kt, sensitivity), 1.0)
    half, reach = answer.section.thickness_mm / 2, np.array(answer.section.reaches_mm)[:, None, None, None]
    nx, ny, cases = bend.shape[1:]

    def faces(from_middle: Floats | float, more: Floats | float = 1.0) -> Floats:
        """Strains so far from the middle, both ways, (1, 3, all)."""
        return np.asarray(more * np.stack([pull - from_middle * bend, pull + from_middle * bend], axis=1)).reshape(1, 3, -1)

    def worst(squared: Floats) -> Floats:
        return np.sqrt(squared.reshape(2, nx, ny, cases).max(axis=(0, 2)))

    covered = answer.section.cover_share > 0.02
    strain = faces(reach, factor[..., None])
    found = in_cover(_face(f, recipe, COVER), strain) if covered else in_wall(_face(f, recipe, WALL), strain)
    out = np.zeros((CRUSH + 1, nx, cases))
    for kind, squared in zip((ROAD, CROSS, SPLIT, SLIDE), (found.road, found.across, *found.between()), strict=True):
        out[kind] = worst(squared)
    for k, tip in enumerate(answer.section.tips_mm):
        if tip > 0:
            # ribs are of roads along them: their tips are pulled and pressed that way alone
            strained = np.abs(pull[k]) + tip * np.abs(bend[k])
            share = f.e_road_mpa.typical / printed_material(f, recipe, "typical").strengths.road_mpa
            out[ROAD] = np.maximum(out[ROAD], share * strained.max(axis=1))
    if 0.0 < recipe.core_density < 1.0:
        rows = _plane(f, recipe, CORE) / np.array(printed_material(f, recipe, "typical").strengths.core_mpa)[:, None]
        start = max(half - recipe.cover_layers * recipe.layer_height_mm, 0.0)
        out[CRUSH] = worst(in_core(rows[None], faces(start))[0])
    return out
