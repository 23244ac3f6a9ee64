"""Reserves of the body's plates: bending and stretching of every cell to stress at both faces, by failure kind.

At the faces the skins are judged (walls where a plate has no skins), and the core where it begins. Cells that hold a hole carry the
factor of a hole in a plate bent out of its plane. Shear through the thickness and bearing at the bolts are not judged.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from fravik.model.material import Corner, Filament
from fravik.model.recipe import Recipe
from fravik.printing.orientation import layer_normal
from fravik.printing.zones import Floats

from .orthotropy import stress_turn
from .plate import PlateAnswer
from .printed import CORE, SKIN, WALL, printed_material, zone_elastics
from .raisers import flatwise_share, hole_tension, notched
from .reserves import CAP, CROSS, CRUSH, KINDS, ROAD, SLIDE, SPLIT, CaseReserves, governing

WHOLE = 0.985
TYPICAL_HOLE = (3.2, 12.0)


@lru_cache(maxsize=64)
def _plane(f: Filament, recipe: Recipe, zone: int) -> tuple[Floats, Floats]:
    """Plane-stress stiffness (3, 3) of a zone in the plate's axes, and the way of xx, yy, xy into the zone's own axes (6, 3)."""
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
    return np.asarray(np.linalg.inv(flex[np.ix_(pick, pick)]), dtype=np.float64), turn[:, pick]


def plate_reserves(
    answer: PlateAnswer, f: Filament, recipe: Recipe, forces: dict[Corner, dict[str, Floats]], stations_mm: Floats
) -> dict[Corner, dict[str, CaseReserves]]:
    """Reserves by station along a plate in every case at every corner; ``forces`` are on the plate's points, (5 P,) each.

    ``stations_mm`` (nx,) are the cells' middles. Stress follows the loads alone; the strengths of each corner are set against it.
    """
    index = _indices(answer, f, recipe, forces["typical"]).max(axis=2)
    names = list(forces["typical"])
    base = printed_material(f, recipe, "typical").strengths
    size = np.maximum(np.abs(np.stack([forces["typical"][n] for n in names])).max(axis=1), 1e-12)
    out: dict[Corner, dict[str, CaseReserves]] = {}
    for corner, cases in forces.items():
        s = printed_material(f, recipe, corner).strengths
        ratio = np.ones(CRUSH + 1)
        for kind, strengths in ((ROAD, ("road_mpa",)), (CROSS, ("cross_mpa", "plane_shear_mpa")),
                                (SPLIT, ("layer_mpa", "layer_shear_mpa")), (SLIDE, ("layer_mpa", "layer_shear_mpa"))):  # fmt: skip
            ratio[kind] = min(getattr(s, k) / getattr(base, k) for k in strengths)
        ratio[CRUSH] = min(a / b for a, b in zip(s.core_mpa, base.core_mpa, strict=True))
        more = np.abs(np.stack([cases[n] for n in names])).max(axis=1) / size
        rows = np.full((len(KINDS), index.shape[1], len(names)), CAP)
        rows[: CRUSH + 1] = np.minimum(1.0 / np.maximum(index / ratio[:, None, None] * more, 1.0 / CAP), CAP)
        out[corner] = governing(rows, names, stations_mm)
    return out


def _indices(answer: PlateAnswer, f: Filament, recipe: Recipe, forces: dict[str, Floats]) -> Floats:
    """Stress over typical strength by kind (the first five), cell and case: (5, nx, ny, cases)."""
    names = list(forces)
    bend, pull = answer.strains(np.stack([forces[n] for n in names], axis=1))
    m = printed_material(f, recipe, "typical")
    s, cover = m.strengths, answer.grid.cover
    kt = 1 + flatwise_share(TYPICAL_HOLE[0], answer.section.thickness_mm) * (hole_tension(*TYPICAL_HOLE) - 1)
    hole = notched(kt, f.notch_sensitivity)
    factor = np.where((cover > 0) & (cover < WHOLE), hole, 1.0)[None, ..., None]
    half = answer.section.thickness_mm / 2
    zone = SKIN if answer.section.skin_share > 0.02 else WALL
    index = np.zeros((CRUSH + 1, *cover.shape, len(names)))
    q, turn = _plane(f, recipe, zone)
    for side in (-1.0, 1.0):
        strain = factor * (pull + side * half * bend)
        own = np.einsum("pi,ijkc->pjkc", turn @ q, strain)
        if zone == SKIN:
            ply = np.einsum("aij,jklc->aiklc", m.to_ply, own[[0, 1, 5]])
            road = np.abs(ply[:, 0]).max(axis=0) / s.road_mpa
            cross = np.hypot(ply[:, 1] / s.cross_mpa, ply[:, 2] / s.plane_shear_mpa).max(axis=0)
        else:
            road, cross = np.abs(own[0]) / s.road_mpa, np.hypot(own[1] / s.cross_mpa, own[5] / s.plane_shear_mpa)
        lift, slide = np.maximum(own[2], 0) / s.layer_mpa, np.hypot(own[3], own[4]) / s.layer_shear_mpa
        both = np.hypot(lift, slide)
        rows = ((ROAD, road), (CROSS, cross), (SPLIT, np.where(lift >= slide, both, 0.0)), (SLIDE, np.where(lift < slide, both, 0.0)))
        for kind, value in rows:
            index[kind] = np.maximum(index[kind], value)
    if 0.0 < recipe.infill < 1.0:
        qc, turn_c = _plane(f, recipe, CORE)
        start = max(half - recipe.skin_layers * recipe.layer_height_mm, 0.0)
        strength = np.array(s.core_mpa)[:, None, None, None]
        for side in (-1.0, 1.0):
            own = np.einsum("pi,ijkc->pjkc", turn_c @ qc, pull + side * start * bend)
            index[CRUSH] = np.maximum(index[CRUSH], np.sqrt(((own / strength) ** 2).sum(axis=0)))
    return index
