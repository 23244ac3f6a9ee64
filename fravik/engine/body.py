"""The body's plates through the pipeline: each condensed to its points, the pair under the arms' roots, and the plates' own reserves."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from fravik.model.material import Corner
from fravik.model.project import Part, Project
from fravik.model.shapes import ArmShape, PlateShape
from fravik.printing.zones import Floats
from fravik.shape.arm import tongue_bolts
from fravik.shape.build import first_arm
from fravik.structure.body import (
    BATTERY,
    LEGS,
    STRAP,
    BodyAnswer,
    BodyPoints,
    Tongues,
    body_points,
    solve_body,
    stiffer_together,
    used_slots,
)
from fravik.structure.cases import CRASH_CASES, LOADS, Touchdown, break_point, toughness
from fravik.structure.plate import PER_CELL, PlateAnswer, plate_grid, plate_section, plate_tables, solve_plate
from fravik.structure.platestress import plate_reserves
from fravik.structure.rows import RowTables

from .memo import Memo
from .results import MemberResult, PartResult, PlateResult

CORNERS: tuple[Corner, Corner, Corner] = ("low", "typical", "high")


@dataclass(frozen=True)
class Body:
    """The pair at the typical material; ``key`` names all it depends on, ``soften`` how much more it gives at each corner."""

    answer: BodyAnswer
    plates: dict[str, PlateAnswer]
    tables: dict[str, RowTables]
    ids: dict[str, str]
    points: BodyPoints
    tongues: Tongues
    radius_mm: float
    key: Any
    soften: dict[Corner, float]

    def stiffer(self) -> tuple[float, float]:
        """How much stiffer the pair is than its plates apart, fore and aft and in twist."""
        return stiffer_together(self.plates, self.points, self.tongues, self.radius_mm)


def _plan_bolts(arm: Part, project: Project) -> list[list[tuple[float, float]]]:
    """Plan places of each arm's bolts; joints without bolts hold at the tongue's corners."""
    shape = arm.shape
    assert isinstance(shape, ArmShape)
    if arm.joint.kind == "bolted":
        local = tongue_bolts(shape)
    else:
        w = 0.35 * shape.tongue_width_mm
        local = [(x, y) for x in (-0.15 * shape.tongue_length_mm, -0.85 * shape.tongue_length_mm) for y in (-w, w)]
    r = project.layout.clamp_radius_mm
    out = []
    for k in range(4):
        a = math.pi / 4 + k * math.pi / 2
        c, s = math.cos(a), math.sin(a)
        out.append([((r + x) * c - y * s, (r + x) * s + y * c) for x, y in local])
    return out


def solve_pair(memo: Memo, project: Project, parts: dict[str, PartResult]) -> Body | None:
    """The plates under the arms' roots; None without plates or arms."""
    arm = first_arm(project)
    found: dict[str, Part] = {p.shape.place: p for p in reversed(project.parts) if isinstance(p.shape, PlateShape)}
    if arm is None or not found or not isinstance(arm.shape, ArmShape):
        return None
    names: list[str] = [n for n in ("bottom", "top") if n in found]
    main = found[names[0]].shape
    assert isinstance(main, PlateShape)
    b = project.components.battery
    bolts = _plan_bolts(arm, project)
    points = body_points(bolts, main.stack_pitch_mm, main.length_mm / 2, main.width_mm / 2 - 4.0, b.x_mm, b.length_mm / 2,
                         min(project.layout.leg_radius_mm, project.layout.clamp_radius_mm - 2.0))  # fmt: skip
    plates: dict[str, PlateAnswer] = {}
    tables: dict[str, RowTables] = {}
    soften: dict[Corner, float] = dict.fromkeys(CORNERS, 1.0)
    keys: list[Any] = []
    for name in names:
        r = parts[found[name].id]
        key = (r.given, r.part.recipe, r.part.facing, r.filament, points.xy_mm.tobytes())
        keys.append(key)

        def make(r: PartResult = r) -> tuple[RowTables, PlateAnswer, dict[Corner, float]]:
            t = plate_tables(r.field)
            grid = plate_grid(r.field, t)
            each = {c: plate_section(t, r.filament, r.part.recipe, c, r.part.facing) for c in CORNERS}
            answer = solve_plate(grid, each["typical"], points.xy_mm, used_slots(points))
            return t, answer, {c: each["typical"].d_nmm[0] / max(each[c].d_nmm[0], 1e-9) for c in CORNERS}

        tables[name], plates[name], ratio = memo.get("plate", key, make)
        soften = {c: max(soften[c], ratio[c]) if c == "low" else ratio[c] for c in CORNERS}
    shape, f = arm.shape, parts[arm.id].filament
    tongues = Tongues(shape.root_height_mm, shape.tongue_length_mm * shape.tongue_width_mm,
                      f.g_layer_mpa.typical * 0.6, f.e_layer_mpa.typical * 0.6)  # fmt: skip
    radius = project.layout.clamp_radius_mm
    whole = (tuple(keys), tongues, radius)
    answer = memo.get("body", whole, lambda: solve_body(plates, points, tongues, radius))
    return Body(answer, plates, tables, {n: found[n].id for n in names}, points, tongues, radius, whole, soften)


def _all_roots(arm: MemberResult, corner: Corner, pattern: tuple[tuple[str, float, bool], ...]) -> Floats:
    """Forces at the four roots (24,): for each arm a case, how much of it, and whether its motor turns the other way."""
    answer, out = arm.answers[corner], []
    for case, share, flip in pattern:
        if not case:
            out.append(np.zeros(6))
            continue
        combo = share * arm.combos[corner][case]
        if flip:
            combo = combo.copy()
            combo[LOADS.index("mz")] *= -1
        out.append(answer.root @ combo)
    return np.concatenate(out)


def _even(case: str, share: float = 1.0) -> tuple[tuple[str, float, bool], ...]:
    return tuple((case, share, k % 2 == 1) for k in range(4))


def plate_cases(
    project: Project, arm: MemberResult, corner: Corner, down: Touchdown, body: Body, leg_count: int
) -> dict[str, dict[str, Floats]]:
    """Forces on each plate's points (5 P,) by case. Crash cases are per m/s."""
    brief = project.brief
    slow = max(1.0 - brief.yaw_share, 0.0)
    patterns: dict[str, tuple[tuple[str, float, bool], ...]] = {
        "hover": _even("hover"), "full throttle": _even("full throttle"), "pull-up": _even("pull-up"),
        "hard yaw": tuple(("hard yaw", 1.0, False) if k % 2 == 0 else ("hover", slow, True) for k in range(4)),
        "motor out of step": (("motor out of step", 1.0, False), *_even("hover")[1:]),
        "hard landing": _even("hard landing"),
        "transport": tuple(("transport", 1.0 if k % 2 == 0 else -1.0, False) for k in range(4)),
        "flat drop": _even("flat drop"),
        "arm strike": (("arm strike", 1.0, False), *((("", 0.0, False),) * 3)),
    }  # fmt: skip
    roots = {case: _all_roots(arm, corner, p) for case, p in patterns.items()}
    out: dict[str, dict[str, Floats]] = {}
    for name in body.plates:
        forces = {case: body.answer.on_points[name] @ v for case, v in roots.items()}
        legs = body.answer.spots[LEGS][name].sum(axis=1) * down.leg_n * (4 / max(leg_count, 4))
        forces["hard landing"] = forces["hard landing"] + legs * brief.landing_m_s
        forces["flat drop"] = forces["flat drop"] + legs
        # the strap lifts the plate's edges and presses the battery down between them
        strap = body.answer.spots[STRAP][name].sum(axis=1) * brief.strap_pull_n / 2
        press = body.answer.spots[BATTERY][name].sum(axis=1) * brief.strap_pull_n
        forces["strap pull"] = strap - press
        out[name] = forces
    return out


def judge_plates(
    memo: Memo, project: Project, parts: dict[str, PartResult], body: Body | None, members: dict[str, MemberResult],
    downs: dict[Corner, Touchdown],
) -> dict[str, PlateResult]:  # fmt: skip
    """Reserves and break points of both plates at every corner."""
    arm = next((m for m in members.values() if isinstance(m.member.shape, ArmShape)), None)
    if body is None or arm is None:
        return {}
    leg_count = sum(p.count for p in project.parts if p.shape.kind == "leg")
    forces = {c: plate_cases(project, arm, c, downs[c], body, leg_count) for c in CORNERS}
    out = {}
    for name, answer in body.plates.items():
        r, tables = parts[body.ids[name]], body.tables[name]
        stations = tables.stations_mm.reshape(-1, PER_CELL).mean(axis=1)
        cases = plate_reserves(answer, r.filament, r.part.recipe, {c: forces[c][name] for c in CORNERS}, stations)
        f = r.filament
        tough = {c: toughness(f.ductility_road.at(c), f.ductility_layer.at(c)) for c in CORNERS}
        breaks = {
            c: {n: break_point(cases[c][n], tough[c], stations) for n in CRASH_CASES if n in cases[c]} for c in CORNERS
        }  # fmt: skip
        width = answer.grid.cover.sum(axis=1) * answer.grid.cell_mm[1]
        out[r.part.id] = PlateResult(
            r.part.id, tables, answer, stations, answer.section.d_nmm[0] * width, cases, breaks, tough["typical"], body.key
        )  # fmt: skip
    return out
