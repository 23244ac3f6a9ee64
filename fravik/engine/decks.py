"""Plates on standoffs: what stands on each, and whether it bears it when the craft pulls up, lands hard or drops."""

from __future__ import annotations

import numpy as np

from fravik.kinds import kind_of, places_of
from fravik.kinds.base import Pins
from fravik.kinds.whole import placed_components
from fravik.library.air import GRAVITY_M_S2
from fravik.model.material import CORNERS, Corner
from fravik.model.project import Project
from fravik.printing.zones import Floats
from fravik.structure.cases import Touchdown
from fravik.structure.onpins import on_pins, spread_over

from .body import plate_cells, plate_result
from .memo import Memo
from .results import PartResult, PlateResult, told

TOUCHES_MM = 4.0  # what lies so near over or under it stands on it or hangs from it
CORNERS_AT = 0.8  # of half its size, where a box presses


def judge_decks(memo: Memo, project: Project, parts: dict[str, PartResult], downs: dict[Corner, Touchdown]) -> dict[str, PlateResult]:
    """Reserves of every plate that stands on pins; none before it is known how hard the craft lands."""
    pins = {p.id: kind_of(p.shape).pins(p, p.shape, project) for p in project.parts}
    mine = {k: v for k, v in pins.items() if v is not None}
    if not downs or not mine:
        return {}
    return {k: _judge(memo, project, parts, mine, k, downs) for k in mine if k in parts}


def _carried(project: Project, parts: dict[str, PartResult], pins: dict[str, Pins], part_id: str) -> list[tuple[Floats, float]]:
    """What stands on a deck: where in the craft's plan, and grams."""
    part = project.part(part_id)
    pose, thick = places_of(part, project)[0].pose, pins[part_id].thick_mm
    low, high = float(pose[2, 3]), float(pose[2, 3]) + thick
    half = np.array(pins[part_id].size_mm) / 2
    out: list[tuple[Floats, float]] = []
    for b in placed_components(project):
        bottom, top = b.centre_mm[2] - b.size_mm[2] / 2, b.centre_mm[2] + b.size_mm[2] / 2
        inside = (np.abs(b.centre_mm[:2] - pose[:2, 3]) <= half).all()
        if inside and (abs(bottom - high) <= TOUCHES_MM or abs(top - low) <= TOUCHES_MM) and b.kind not in ("motor", "prop"):
            reach = np.minimum(CORNERS_AT * b.size_mm[:2] / 2, half)
            out += [(b.centre_mm[:2] + reach * [x, y], b.mass.mass_g / 4) for x in (-1, 1) for y in (-1, 1)]
    for other, theirs in pins.items():
        if theirs.on == part_id and other in parts:
            whole = parts[other].grams + sum(g for _, g in _carried(project, parts, pins, other))
            out += [(at, whole / len(theirs.at_mm)) for at in theirs.at_mm]
    return out


def _judge(
    memo: Memo, project: Project, parts: dict[str, PartResult], pins: dict[str, Pins], part_id: str, downs: dict[Corner, Touchdown]
) -> PlateResult:
    r, own = parts[part_id], pins[part_id]
    origin = places_of(r.part, project)[0].pose[:2, 3]
    cells = plate_cells(memo, r)
    carried = _carried(project, parts, pins, part_id)
    at, share = spread_over(cells.grid)
    places = np.concatenate([at, np.array([p - origin for p, _ in carried]).reshape(-1, 2)])
    grams = np.concatenate([share * r.grams, [g for _, g in carried]])
    key = (r.given, r.part.recipe, r.part.facing, r.filament, own.at_mm.tobytes(), origin.tobytes(), places.tobytes(), grams.tobytes())
    pinned = own.at_mm - origin
    answer, forces, _ = memo.get("deck", key, lambda: told(r.part, lambda: on_pins(
        cells.grid, cells.sections["typical"], cells.factors, pinned, own.radius_mm, places, -grams * 1e-3 * GRAVITY_M_S2)))  # fmt: skip
    brief = project.brief
    by_corner = {
        c: {"pull_up": forces * brief.pull_up_g, "hard_landing": forces * (1 + downs[c].body_g * brief.landing_m_s),
            "flat_drop": forces * downs[c].body_g} for c in CORNERS
    }  # fmt: skip
    return plate_result(r, cells, answer, by_corner, None)
