"""The body's plates through the pipeline: each condensed to its points, the pair under the arms' roots, and the plates' own reserves."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from fravik.kinds import kind_of
from fravik.kinds.around import arm_ends
from fravik.kinds.body import body_plan
from fravik.model.material import CORNERS, Corner
from fravik.model.project import Project
from fravik.printing.zones import Floats
from fravik.shape.stations import arrangement
from fravik.structure.body import (
    BATTERY,
    LEGS,
    STRAP,
    BodyAnswer,
    BodyPoints,
    Condensed,
    bonded_slots,
    condense,
    root_compliances,
    solve_body,
    stiffer_together,
    tie_faces,
    used_slots,
)
from fravik.structure.cases import LOADS, Touchdown, break_points, toughness
from fravik.structure.plate import (
    PER_CELL,
    PlateAnswer,
    PlateFactors,
    PlateGrid,
    bonded_under,
    factor_plate,
    loads_on,
    plate_grid,
    plate_tables,
    solve_faces,
    solve_loads,
)
from fravik.structure.plateface import FaceLoads
from fravik.structure.platesection import PlateSection, plate_sections
from fravik.structure.platestress import plate_reserves
from fravik.structure.rows import RowTables

from .bare import bare_field
from .memo import Memo
from .results import MemberResult, PartResult, PlateResult, told

# what the arms' roots stand on at each corner: the soft bound, the mean of both, and the stiff bound
Bearing = tuple[str, ...]
BEARINGS: dict[Corner, Bearing] = {"low": ("washers",), "typical": ("washers", "bonded"), "high": ("bonded",)}


@dataclass(frozen=True)
class PlateCells:
    """What of a plate does not depend on what it carries: its cells, its sections at every corner of the material, its factors."""

    tables: RowTables
    grid: PlateGrid
    sections: dict[Corner, PlateSection]
    factors: PlateFactors


@dataclass(frozen=True)
class SolvedPlate:
    """A plate condensed under both bounds of how its tongues bear; ``answer`` is the soft one's."""

    cells: PlateCells
    answer: PlateAnswer
    by_bearing: dict[str, Condensed]

    def condensed(self, bearing: str, corner: Corner) -> Condensed:
        """Bending and stretching scale with the corner's own figures."""
        if corner == "typical":
            return self.by_bearing[bearing]
        here, typical = self.cells.sections[corner], self.cells.sections["typical"]
        return self.by_bearing[bearing].scaled(
            *(max(x[0], 1e-9) / max(y[0], 1e-9) for x, y in ((here.d_nmm, typical.d_nmm), (here.a_n_mm, typical.a_n_mm)))
        )


@dataclass(frozen=True)
class Body:
    """What the arms' roots stand on. ``root`` (6, 6) a corner, by arm; ``arms`` is the arm at each place; ``answer`` is that of the soft
    bound, whose washers load the plates hardest; ``key`` names all it depends on."""

    answer: BodyAnswer
    root: dict[str, dict[Corner, Floats]]
    arms: tuple[str, ...]
    plates: dict[str, SolvedPlate]
    ids: dict[str, str]
    points: BodyPoints
    gap_mm: float
    radius_mm: float
    glued: bool
    key: Any

    def stiffer(self) -> tuple[float, float]:
        """How much stiffer the pair is than its plates apart, fore and aft and in twist."""
        return stiffer_together({n: p.answer for n, p in self.plates.items()}, self.points, self.gap_mm, self.radius_mm)


def _cells(r: PartResult) -> PlateCells:
    form, field = kind_of(r.part.shape).stiffening(r.given, r.part.shape), bare_field(r)
    tables = plate_tables(field)
    grid = replace(plate_grid(field, tables), holed=form.holed)
    each = plate_sections(tables, r.filament, r.part.recipe, CORNERS, r.part.facing, form.ribs)
    return PlateCells(tables, grid, each, factor_plate(grid, each["typical"]))


def plate_cells(memo: Memo, r: PartResult) -> PlateCells:
    """A plate's cells and sections, remembered by what it is."""
    own = (r.given, r.part.recipe, r.part.facing, r.filament)
    return memo.get("plate cells", own, lambda: told(r.part, lambda: _cells(r)))


@dataclass(frozen=True)
class Held:
    """What holds a plate: unit loads on all its faces and on the few that tell how a bonded root gives, and what ties them to the
    tongues."""

    every: FaceLoads
    few: FaceLoads
    ties: tuple[Floats, Floats]


def _held(grid: PlateGrid, points: BodyPoints) -> Held:
    slots, few = used_slots(points), bonded_slots(points)
    every = loads_on(grid, points.xy_mm, points.radii_mm, slots)
    return Held(every, every.some(few), (tie_faces(points, slots), tie_faces(points, few)))


def _solve_one(cells: PlateCells, points: BodyPoints, held: Held) -> SolvedPlate:
    typical = cells.sections["typical"]
    answer = solve_loads(cells.grid, typical, points.xy_mm, held.every, cells.factors)
    rigid = factor_plate(bonded_under(cells.grid, points.outlines, typical.thickness_mm), typical)
    faces = solve_faces(rigid, typical, points.xy_mm, held.few)
    return SolvedPlate(cells, answer, {"washers": condense(answer, held.ties[0]), "bonded": condense(faces, held.ties[1])})


Groups = tuple[tuple[str, tuple[int, ...]], ...]


def _solve_bounds(
    plates: dict[str, SolvedPlate], points: BodyPoints, gap_mm: float, radius_mm: float, glued: bool, groups: Groups
) -> tuple[BodyAnswer, dict[str, dict[Corner, Floats]]]:
    """The soft bound whole, and what the roots of each kind of arm stand on at every corner.

    The typical one is the mean of its bounds and of all its places that are unlike; of those the low corner takes the softest root and the
    high one the stiffest, so that the spread of the figures holds every arm.
    """

    def at(how: str, corner: Corner) -> dict[str, Condensed]:
        return {n: p.condensed(how, corner) for n, p in plates.items()}

    every = tuple(k for _, some in groups for k in some)
    soft = solve_body(at("washers", "typical"), points, gap_mm, radius_mm)
    known = {("washers", "typical"): soft.roots[list(every)]}
    roots: dict[str, dict[Corner, Floats]] = {arm: {} for arm, _ in groups}
    for corner in CORNERS:
        hows = ("bonded",) if glued else BEARINGS[corner]
        each = [
            known[how, corner] if (how, corner) in known else root_compliances(at(how, corner), points, gap_mm, radius_mm, every)
            for how in hows
        ]
        mean, first = np.asarray(np.mean(each, axis=0)), 0
        for arm, some in groups:
            roots[arm][corner] = _of_arms(mean[first : first + len(some)], corner)
            first += len(some)
    return soft, roots


def _of_arms(roots: Floats, corner: Corner) -> Floats:
    """One of (arms, 6, 6): the softest or stiffest against an arm's bending up and down, or the mean."""
    if corner == "typical":
        return np.asarray(roots.mean(axis=0))
    give = roots[:, 4, 4]
    return np.asarray(roots[int(give.argmax() if corner == "low" else give.argmin())])


def solve_pair(memo: Memo, project: Project, parts: dict[str, PartResult]) -> Body | None:
    """The plates under the arms' roots; None without plates or arms. Raises Refused when a plate cannot be solved."""
    plan = body_plan(project)
    if plan is None:
        return None
    points, found, names = plan.points, plan.plates, list(plan.plates)
    place = (points.xy_mm.tobytes(), points.radii_mm.tobytes(), tuple(o.tobytes() for o in points.outlines))
    plates: dict[str, SolvedPlate] = {}
    keys: list[Any] = []
    for name in names:
        r = parts[found[name].id]
        own = (r.given, r.part.recipe, r.part.facing, r.filament)
        cells = plate_cells(memo, r)
        keys.append((own, place))
        # plates of one outline are held alike
        where = (cells.grid.x_mm.tobytes(), cells.grid.y_mm.tobytes(), (cells.grid.cover > 0).tobytes(), place)
        held = memo.get("plate faces", where, lambda cells=cells: _held(cells.grid, points))  # type: ignore[misc]
        plates[name] = memo.get(
            "plate", keys[-1], lambda r=r, c=cells, h=held: told(r.part, lambda: _solve_one(c, points, h))  # type: ignore[misc]
        )  # fmt: skip
    gap, radius, glued = plan.gap_mm, plan.root_radius_mm, plan.glued
    whole = (tuple(keys), gap, radius, glued, plan.groups)
    answer, roots = memo.get(
        "body", whole, lambda: told(found[names[0]], lambda: _solve_bounds(plates, points, gap, radius, glued, plan.groups))
    )
    return Body(answer, roots, plan.arms, plates, {n: found[n].id for n in names}, points, gap, radius, glued, whole)


def _at_roots(arm: MemberResult, corner: Corner) -> dict[tuple[str, bool], Floats]:
    """Force at an arm's root (6,) in every case, and with the motor turning the other way."""
    root, combos = arm.answers[corner].root, arm.at_root[corner]
    packed = np.stack(list(combos.values()), axis=1)
    forces = root @ packed
    mz = LOADS.index("mz")
    turned = forces - 2 * root[:, mz : mz + 1] * packed[mz]
    return {(n, flip): v[:, i] for flip, v in ((False, forces), (True, turned)) for i, n in enumerate(combos)}


@dataclass(frozen=True)
class AtRoot:
    """What acts at an arm's root: a case, how much of it, and whether its motor turns against the first one's."""

    case: str
    share: float = 1.0
    against: bool = False


NOTHING = AtRoot("", 0.0)


def _all_roots(known: list[dict[tuple[str, bool], Floats]], pattern: tuple[AtRoot, ...]) -> Floats:
    """Forces at all roots (6 arms,); ``known`` of the arm at each place."""
    return np.concatenate([x.share * own[x.case, x.against] if x.case else np.zeros(6) for own, x in zip(known, pattern, strict=True)])


def _patterns(project: Project) -> dict[str, tuple[AtRoot, ...]]:
    """What acts at each arm's root, by case."""
    ends, there = arm_ends(project), arrangement(project.layout)
    tilts, against = any(s.tilt_deg for s in ends), [s.spin != ends[0].spin for s in ends]
    pairs = [there.paired(k) for k in range(len(ends))]
    slow = max(1.0 - project.brief.yaw_share, 0.0)

    def even(case: str) -> tuple[AtRoot, ...]:
        return tuple(AtRoot(case, 1.0, other and not pair) for other, pair in zip(against, pairs, strict=True))

    def yawing(other: bool, pair: bool) -> AtRoot:
        return AtRoot("hover", slow, True) if other and not pair else AtRoot("hard_yaw")

    def first(case: str, rest: tuple[AtRoot, ...]) -> tuple[AtRoot, ...]:
        return (AtRoot(case), *rest[1:])

    return {
        **{case: even(case) for case in ("hover", "full_throttle", "pull_up", "hard_landing", "flat_drop")},
        # those of one turn speed up, the others slow down; of a pair on one arm one does each, and rotors that tilt do neither
        "hard_yaw": even("hard_yaw") if tilts else tuple(yawing(other, pair) for other, pair in zip(against, pairs, strict=True)),
        "out_of_step": first("out_of_step", even("hover")),
        "transport": tuple(AtRoot("transport", -1.0 if other else 1.0) for other in against),
        "arm_strike": first("arm_strike", (NOTHING,) * len(against)),
    }


def plate_cases(
    project: Project, members: dict[str, MemberResult], corner: Corner, down: Touchdown, body: Body
) -> dict[str, dict[str, Floats]]:  # fmt: skip
    """Forces on each plate's points (5 P,) by case. Crash cases are per m/s."""
    brief, patterns = project.brief, _patterns(project)
    by_arm = {k: _at_roots(members[k], corner) for k in set(body.arms)}
    known = [by_arm[k] for k in body.arms]
    roots = np.stack([_all_roots(known, p) for p in patterns.values()], axis=1)
    out: dict[str, dict[str, Floats]] = {}
    for name in body.plates:
        forces = dict(zip(patterns, (body.answer.on_points[name] @ roots).T, strict=True))
        legs = body.answer.spots[LEGS][name].sum(axis=1) * down.leg_n
        forces["hard_landing"] = forces["hard_landing"] + legs * brief.landing_m_s
        forces["flat_drop"] = forces["flat_drop"] + legs
        # the strap lifts the plate's edges and presses the battery down between them
        strap = body.answer.spots[STRAP][name].sum(axis=1) * brief.strap_pull_n / 2
        press = body.answer.spots[BATTERY][name].sum(axis=1) * brief.strap_pull_n
        forces["strap_pull"] = strap - press
        out[name] = forces
    return out


def judge_plates(
    memo: Memo, project: Project, parts: dict[str, PartResult], body: Body | None, members: dict[str, MemberResult],
    downs: dict[Corner, Touchdown],
) -> dict[str, PlateResult]:  # fmt: skip
    """Reserves and break points of both plates at every corner."""
    if body is None or not all(k in members for k in body.arms):
        return {}
    forces = {c: plate_cases(project, members, c, downs[c], body) for c in CORNERS}
    out = {}
    for name, solved in body.plates.items():
        r = parts[body.ids[name]]
        out[r.part.id] = plate_result(r, solved.cells, solved.answer, {c: forces[c][name] for c in CORNERS}, body.key)
    return out


def plate_result(r: PartResult, cells: PlateCells, answer: PlateAnswer, forces: dict[Corner, dict[str, Floats]], key: Any) -> PlateResult:
    """A plate judged under forces (5 P,) on its points, by corner and case."""
    f, at_mm = r.filament, cells.tables.positions_mm.reshape(-1, PER_CELL).mean(axis=1)
    cases = plate_reserves(answer, f, r.part.recipe, forces, at_mm)
    tough = {c: toughness(f.ductility_road.at(c), f.ductility_layer.at(c)) for c in CORNERS}
    breaks = {c: break_points(cases[c], tough[c], at_mm) for c in CORNERS}
    width = answer.grid.cover.sum(axis=1) * answer.grid.cell_mm[1]
    return PlateResult(
        r.part.id, cells.tables, answer, at_mm, answer.section.d_nmm[0] * width, cases, breaks, tough["typical"], key
    )  # fmt: skip
