"""The live tier: a project in, every margin out, recomputing only what an edit touches."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np
from manifold3d import Manifold

from fravik.flight.allocation import Allocation
from fravik.kinds import as_made, build_solid, holders_of, is_printed, kind_of, rising_of, shape_input, shape_problems
from fravik.kinds.around import stations
from fravik.kinds.boughtbody import body_problems
from fravik.kinds.drives import drive_faults, drives
from fravik.kinds.framing import owner_of, told_apart
from fravik.kinds.plate.reach import reach_problems
from fravik.kinds.things import mesh_problems
from fravik.kinds.whole import clearances, craft_mass
from fravik.kinds.wing.checks import flying_problems
from fravik.library import filament_of
from fravik.model.material import CORNERS, Corner
from fravik.model.problem import Problem
from fravik.model.project import Metric, Part, Project
from fravik.power.momentum import THRUST_SPREAD, PowerFigures, drive_problems
from fravik.power.pack import pack_problems
from fravik.printing.checks import pause_problems, recipe_problems
from fravik.printing.mass import MassProperties, part_mass
from fravik.printing.roads import UNPRINTED, PrintFigures, fits_bed, print_figures
from fravik.printing.zones import ZoneField, lay
from fravik.shape.build import Mesh, ShapeInput, fine_mesh_of, loose_pieces, mesh_of
from fravik.shape.edges import sharp_edges
from fravik.structure.bonded import bonded
from fravik.structure.cases import BreakPoint, load, sag_mm
from fravik.structure.craft.body import G_TO_T
from fravik.structure.excitation import Meeting, clearance, meetings
from fravik.structure.joints import Holder
from fravik.structure.loadcases import CRASH_CASES
from fravik.structure.service import in_service, service_of, service_problems, spool_of
from fravik.study.margins import Margin, Scores, limit_of, margin, unit_of

from .aloft import ALOFT, aloft
from .body import judge_plates, solve_pair
from .budget import COST_SPREAD, Found, budgets
from .craft import whole_craft
from .decks import judge_decks
from .drivetrain import ASKED, answered, drive_of
from .members import judge_members, solve, working_band_hz
from .memo import Memo
from .results import Evaluation, Judged, MemberResult, PartResult, PlateResult, Refused, WholeCraft, mode_bands
from .ring import ring_of
from .rotors import carried
from .scope import Scope, scope_of
from .shake import BAND_POINTS, PUSH_SPREAD, orders_of

COLOUR_EDGE_MM = 3.0
MODES_REACH = 1.25  # the craft's modes are sought up to so many times the highest that anything shakes over the working speeds
LAST = 2  # whole evaluations that are kept: this design's, and that of the one before
# what the shake of the whole craft answers: worked out where a target asks
SHAKES: tuple[Metric, ...] = ("gyro_shake_dps", "camera_shake_px")


class Engine:
    """Evaluates projects and remembers every stage by the content of its inputs."""

    def __init__(self) -> None:
        self.memo = Memo()
        self._last: dict[Project, Evaluation] = {}

    def problems(self, project: Project) -> list[Problem]:
        """Contradictions and warnings over the whole project."""
        out: list[Problem] = []
        for part in project.parts:
            out += shape_problems(part, project)
            if is_printed(part):
                out += recipe_problems(part, project, kind_of(part.shape).may_flex)
        for found in (reach_problems(project), body_problems(project), mesh_problems(project), drive_faults(project),
                      flying_problems(project, {s.id for s in stations(project)})):  # fmt: skip
            out += found
        return out + pack_problems(project.components)

    def solid(self, given: ShapeInput) -> Manifold:
        """The part's solid."""

        def make() -> Manifold:
            built = build_solid(given)
            built.num_tri()  # worked out here, not at first use: two threads may use it
            return built

        return self.memo.get("solid", given, make)

    def mesh(self, given: ShapeInput) -> Mesh:
        """The part's surface."""
        return self.memo.get("mesh", given, lambda: mesh_of(self.solid(given)))

    def fine_mesh(self, given: ShapeInput) -> Mesh:
        """The part's surface, fine enough to colour."""
        return self.memo.get("fine mesh", given, lambda: fine_mesh_of(self.solid(given), COLOUR_EDGE_MM))

    def coloured_meshes(self, given: ShapeInput, held_behind_mm: float | None) -> tuple[Mesh | None, Mesh]:
        """The surface of what is held, and that of the rest, fine enough to colour: cut square where one ends."""

        def make() -> tuple[Mesh | None, Mesh]:
            solid = self.solid(given)
            if held_behind_mm is None or solid.bounding_box()[0] >= held_behind_mm:
                return None, self.fine_mesh(given)
            along, held = solid.split_by_plane((1.0, 0.0, 0.0), held_behind_mm)
            return mesh_of(held), fine_mesh_of(along, COLOUR_EDGE_MM)

        return self.memo.get("coloured meshes", (given, held_behind_mm), make)

    def edges(self, given: ShapeInput) -> np.ndarray:
        """The part's sharp edges: end points (n, 2, 3) mm."""
        return self.memo.get("edges", given, lambda: sharp_edges(self.mesh(given)))

    def outline(self, given: ShapeInput, place: np.ndarray) -> list[np.ndarray]:
        """What a part covers in plan when it stands at a place (4, 4): loops (n, 2) in mm, holes the other way round."""
        key = (given, place.tobytes())
        return self.memo.get(
            "outline", key, lambda: [np.asarray(q) for q in self.solid(given).transform(place[:3]).project().to_polygons()]
        )

    def field(self, given: ShapeInput, part: Part) -> ZoneField:
        """The part's zones as it lies on the plate; its filament plays no part in them. Raises Refused when nothing is left."""
        layup = part.recipe.model_copy(update={"filament": ""})

        def make() -> ZoneField:
            rising = rising_of(given, layup)
            if rising is not None:
                empty, pieces = rising.is_empty(), rising.pieces
            else:
                solid = self.solid(given)
                empty, pieces = solid.is_empty(), loose_pieces(solid)
            at = f"parts.{part.id}.shape"
            if empty:
                raise Refused([Problem(at, f"{part.name}: nothing is left of the solid.")])
            if pieces > 1:
                raise Refused([Problem(at, f"{part.name} falls into {pieces} pieces: make pockets or windows smaller.")])
            return lay(rising if rising is not None else solid, layup, fine=not is_printed(part), bends=kind_of(part.shape).bends)

        return self.memo.get("field", (given, layup), make)

    def part(self, part: Part, project: Project) -> PartResult:
        """One part as it is made. Raises Refused when nothing is left of it."""
        given, printed, part = shape_input(part, project), is_printed(part), as_made(part)
        plastic = filament_of(project, part.recipe.filament)
        spool = spool_of(project, part.recipe.filament)
        key = (given, part, project.printer, plastic, project.brief.service_temp_c, project.brief.sun, project.brief.damp, spool,
               project.run.most_in_batch)  # fmt: skip

        def make() -> PartResult:
            field = self.field(given, part)
            mass = part_mass(field, plastic.density_g_cm3.typical)
            figures = print_figures(field, plastic, project.printer) if printed else UNPRINTED
            state = service_of(project, part, layer_seconds(part, field, figures, project) if printed else None)
            per_kg = spool.price_per_kg if spool else plastic.price_per_kg
            kind = kind_of(part.shape)
            glued = bonded(part, kind.straight(part, part.shape, given.length_mm), kind.flat_mm2(part.shape))
            return PartResult(part, given, field, mass, figures, glued, mass.mass_g * 1e-3 * per_kg + glued.price,
                              fits_bed(field, project.printer) if printed else None, in_service(plastic, state), state,
                              printed)  # fmt: skip

        return self.memo.get("part", key, make)

    def evaluate(self, project: Project) -> Evaluation:
        """Everything the live tier knows. Raises Refused with plain problems when the design contradicts itself."""
        found = self._last.pop(project, None) or self._evaluate(project)
        self._last[project] = found
        while len(self._last) > LAST:
            self._last.pop(next(iter(self._last)), None)
        return found

    def forget(self) -> None:
        """Let go of everything that was found."""
        self._last.clear()
        self.memo.clear()

    def _evaluate(self, project: Project) -> Evaluation:
        started = time.perf_counter()
        self.memo.turn()
        problems = self.problems(project)
        errors = [p for p in problems if p.severity == "error"]
        if errors:
            raise Refused(errors)
        built = told_apart(project)
        scope = scope_of(built)
        problems += scope.problems
        parts = {p.id: self.part(p, project) for p in project.parts}
        for r in parts.values():
            problems += service_problems(project, r.part, filament_of(project, r.part.recipe.filament), r.service, r.printed)
            if r.printed:
                problems += pause_problems(r.part, float(r.field.high_mm[2] - r.field.low_mm[2]))
            if r.bed_problem:
                problems.append(Problem(f"parts.{r.part.id}.recipe.lies", r.bed_problem, "warning"))
        craft = craft_mass(project, {k: r.mass for k, r in parts.items()}, {k: r.bonded.grams for k, r in parts.items()})
        power, shares = carried(project, craft)
        if not scope.flight:
            problems += drive_problems(power, drives(project))
        pieces = self._pieces(project, built, parts)
        judged = self._structure(built, pieces, craft, power, shares) if not scope.structure else Judged({}, {}, None)
        return self._judge(project, built, problems, scope, parts, pieces, judged, craft, power, shares, started)

    def _pieces(self, project: Project, built: Project, parts: dict[str, PartResult]) -> dict[str, PartResult]:
        """The parts as strength is judged; what a frame is told apart into weighs together what the frame does."""
        if built is project:
            return parts
        out = {p.id: parts[p.id] if p.id in parts else self.part(p, built) for p in built.parts}
        for frame in (p for p in project.parts if p.id not in out):
            mine = [p for p in built.parts if owner_of(p.id) == frame.id and p.id != frame.id]
            share = parts[frame.id].mass.mass_g * frame.count / sum(out[p.id].mass.mass_g * p.count for p in mine)
            for p in mine:
                m = out[p.id].mass
                out[p.id] = replace(out[p.id], mass=MassProperties(m.mass_g * share, m.com_mm, m.inertia_gmm2 * share))
        return out

    def _structure(
        self, project: Project, parts: dict[str, PartResult], craft: MassProperties, power: PowerFigures, shares: Allocation
    ) -> Judged:
        """Every part that bends, judged, and all of them together."""
        body = solve_pair(self.memo, project, parts)
        solved = {}
        for k, r in parts.items():
            if kind_of(r.part.shape).bends:
                base = body.root.get(k) if body is not None else None
                key = (body.key, k) if body is not None and base is not None else None
                solved[k] = solve(self.memo, r, project, base, key, _holders(project, r.part, parts))
        members, downs = judge_members(self.memo, project, solved, craft, power, shares)
        plates = judge_plates(self.memo, project, parts, body, members, downs)
        plates |= judge_decks(self.memo, project, parts, downs)
        reach = max(working_band_hz(project, power)[1] * max(o.per_rev for o in orders_of(project, power)), 1.0)
        return Judged(members, plates, whole_craft(self.memo, project, parts, solved, body, power, MODES_REACH * reach))

    def _judge(
        self, project: Project, built: Project, problems: list[Problem], scope: Scope, parts: dict[str, PartResult],
        pieces: dict[str, PartResult], judged: Judged, craft: MassProperties, power: PowerFigures, shares: Allocation, started: float,
    ) -> Evaluation:  # fmt: skip
        printer = project.printer
        minutes = sum(r.figures.minutes * r.part.count for r in parts.values())
        minutes += printer.start_up_min * max(1, sum(r.printed for r in parts.values()))
        cost = sum(r.cost * r.part.count for r in parts.values())
        working = working_band_hz(project, power)
        members, plates = judged.members, judged.plates
        met = meetings(mode_bands(members, judged.whole), orders_of(project, power), power.idle_rpm, power.full_rpm, working)
        found = self._metrics(project, parts, pieces, judged, craft, power, minutes, cost, met)
        margins: list[Margin] = []
        for t in project.targets:
            values, detail = found.get(t.metric, (None, ""))
            if t.metric in scope.unknown:
                values, detail = None, scope.unknown[t.metric]
            margins.append(margin(t.id, t.metric, limit_of(project, t), values, detail, unit_of(project, t.metric)))
        order: dict[str, list[tuple[str, BreakPoint]]] = {}
        for case in CRASH_CASES:
            every: dict[str, MemberResult | PlateResult] = {**members, **plates}
            hit = [(k, m.breaks["typical"][case]) for k, m in every.items() if case in m.breaks["typical"]]
            order[case] = sorted(hit, key=lambda pair: pair[1].speed_m_s)
        found_all = Evaluation(
            project, built, tuple(problems), scope, parts, pieces, members, plates, judged.whole, craft, power, clearances(project), shares,
            tuple(margins), working, met, order, Scores(tuple(margins), craft.mass_g, minutes, cost), time.perf_counter() - started,
        )  # fmt: skip
        if any(t.metric == "ring_margin_db" for t in project.targets):
            found_all = _with_ring(found_all)
        if any(t.metric in ALOFT for t in project.targets) and not scope.flight:
            found_all = with_found(found_all, aloft(self.memo, found_all))
        return _with_drive(found_all) if any(t.metric in ASKED for t in project.targets) else found_all

    def _metrics(
        self, project: Project, parts: dict[str, PartResult], pieces: dict[str, PartResult], judged: Judged,
        craft: MassProperties, power: PowerFigures, minutes: float, cost: float, met: tuple[Meeting, ...],
    ) -> dict[Metric, Found]:  # fmt: skip
        members, whole = judged.members, judged.whole
        spread = sum(
            r.mass.mass_g * r.part.count * (r.filament.density_g_cm3.high / r.filament.density_g_cm3.typical - 1 + 0.02)
            for r in parts.values()
        )
        lift = power.thrust_to_weight
        out: dict[Metric, Found] = {
            "flying_mass_g": ((craft.mass_g - spread, craft.mass_g, craft.mass_g + spread), ""),
            "print_minutes": _print_time(project, parts, minutes),
            "endurance_min": ((power.endurance_low_min, power.endurance_min, power.endurance_high_min), ""),
            "thrust_to_weight": ((lift * (1 - THRUST_SPREAD), lift, lift * (1 + THRUST_SPREAD)), ""),
            "material_cost": ((cost * (1 - COST_SPREAD), cost, cost * (1 + COST_SPREAD)), ""),
            **budgets(project, parts, spread, cost),
        }
        arms = {k: m for k, m in members.items() if kind_of(m.member.shape).carries_rotor}
        if not arms:
            return out
        every: dict[str, MemberResult | PlateResult] = {**members, **judged.plates}
        name = {k: r.part.name.lower() for k, r in pieces.items()}
        alone = [r.part for k, r in pieces.items() if k not in every and not kind_of(r.part.shape).judged_with_another]
        left = [p.name.lower() for p in alone]
        apart = f"; without {', '.join(left)}: not judged" if left else ""

        def least(of: dict[str, Any], figure: Callable[[Any, Corner], float], sign: float = 1.0) -> Found:
            each = [min(of, key=lambda k, c=c: sign * figure(of[k], c)) for c in CORNERS]  # type: ignore[misc]
            low, typical, high = (figure(of[k], c) for k, c in zip(each, CORNERS, strict=True))
            return (low, typical, high), name[each[CORNERS.index("typical")]]

        if whole is not None:
            worst = [whole.worst_rise(c) for c in CORNERS]
            lowest = whole.lowest
            at = stations(project)[worst[CORNERS.index("typical")][1]].side
            out["tip_sag_mm"] = ((worst[0][0], worst[1][0], worst[2][0]), f"{at} rotor")
            out["mode_floor_hz"] = ((lowest.low_hz, lowest.freq_hz, lowest.high_hz), f"{name[lowest.part_id]}: {lowest.name}")
            if any(t.metric in SHAKES for t in project.targets):
                out.update(_shaken(whole, working_band_hz(project, power), name))
        else:
            # what an arm weighs and carries holds against its own rotor as the whole craft speeds up
            rising = power.all_thrust_n / (craft.mass_g * G_TO_T)
            full = load(fz=power.full_thrust_n, mz=power.full_torque_nmm, az=-rising)
            out["tip_sag_mm"] = least(arms, lambda m, c: _sag(m, full, c), -1.0)
            out["mode_floor_hz"] = least(arms, lambda m, c: float(m.answers[c].freqs_hz[0]))
        clear = clearance(met)
        if clear is not None:
            out["modes_clear_pct"] = (clear[0], f"{name[clear[1].mode.part_id]}: {clear[1].named}")
        values, where = least(every, lambda m, c: m.worst_static(c)[1].reserve)
        out["least_reserve"] = (values, where + apart)
        out["flat_drop_m"] = self._survived(every, least, ("flat_drop",), "height_m", apart)
        out["arm_strike_m_s"] = self._survived(every, least, ("arm_strike", "first_blow"), "speed_m_s", apart)
        return out

    @staticmethod
    def _survived(judged: dict[str, Any], least: Callable[..., Found], cases: tuple[str, ...], figure: str, apart: str) -> Found:
        """The lowest crash figure of all parts in some cases that make one crash."""
        hit = {k: m for k, m in judged.items() if any(n in m.breaks["typical"] for n in cases)}
        values, where = least(hit, lambda m, c: min(getattr(m.breaks[c][n], figure) for n in cases if n in m.breaks[c]))
        return values, where + apart

    def scores(self, project: Project) -> Scores | None:
        """The scores alone, or None when the design cannot be built."""
        try:
            return self.evaluate(project).scores
        except (Refused, ValueError, ArithmeticError, np.linalg.LinAlgError):
            return None


def _holders(project: Project, part: Part, parts: dict[str, PartResult]) -> tuple[Holder | None, Holder | None]:
    """The plastic that holds a part's root and end, where it is not its own."""
    root, end = (Holder(parts[p.id].filament, parts[p.id].part.recipe) if p is not None else None for p in holders_of(part, project))
    return root, end


def _shaken(whole: WholeCraft, working_hz: tuple[float, float], name: dict[str, str]) -> dict[Metric, Found]:
    """The worst that the gyro, and the camera where there is one, feel over the working speeds."""
    felt = whole.shake.over(60.0 * np.linspace(*working_hz, BAND_POINTS))
    out: dict[Metric, Found] = {}
    for metric, every, there in zip(SHAKES, (felt.gyro_dps, felt.camera_px), (True, felt.camera), strict=True):
        if not there:
            continue
        # orders ring at different pitches: their squares add
        together = np.sqrt((every**2).sum(axis=1))
        worst = together.max(axis=1)
        order, at = (int(i) for i in np.unravel_index(int(every[1].argmax()), every[1].shape))
        mode = whole.shake.nearest(order, float(felt.rpm[at]))
        part, moves = name[whole.modes[mode].part_id], whole.modes[mode].name
        text = f"{part}: {moves} by {whole.shake.orders[order].name} at {felt.rpm[at]:.0f} rpm"
        out[metric] = (float(worst.min()) / PUSH_SPREAD, float(worst[1]), float(worst.max()) * PUSH_SPREAD), text
    return out


def with_found(result: Evaluation, found: Mapping[Metric, Found]) -> Evaluation:
    """The same with what some targets have to be asked of the craft as a whole."""
    margins = tuple(
        margin(m.id, m.metric, m.limit, *found[m.metric], m.unit) if m.metric in found and m.metric not in result.scope.unknown else m
        for m in result.margins
    )
    return replace(result, margins=margins, scores=replace(result.scores, margins=margins))


def _with_drive(result: Evaluation) -> Evaluation:
    return result if result.scope.flight else with_found(result, answered(result, drive_of(result)))


def _with_ring(result: Evaluation) -> Evaluation:
    ring = ring_of(result)
    worst = ring.worst if ring is not None else None
    told = f"{worst.axis}, {worst.at.words}: {worst.rings}" if worst is not None else "modes not judged, or no thrust to spare in hover"
    values = worst.spread_db if worst is not None else None
    return with_found(result, {"ring_margin_db": (values, told)})


def _print_time(project: Project, parts: dict[str, PartResult], minutes: float) -> Found:
    """Not known while a part fits no bed."""
    out = [r.part.name.lower() for r in parts.values() if r.printed and all(fits_bed(r.field, p) for p in project.printers)]
    if out:
        return None, f"{out[0]} fits no bed"
    return (minutes * project.printer.time_ratio_low, minutes, minutes * project.printer.time_ratio_high), ""


def layer_seconds(part: Part, field: ZoneField, figures: PrintFigures, project: Project) -> float:
    """Mean time of a layer while a part is printed with as many of its copies as go on one bed together."""
    layers = max(len(field.heights_mm) * field.pitch_mm / part.recipe.layer_height_mm, 1.0)
    return figures.minutes * 60.0 / layers * min(part.count, project.run.most_in_batch)


def _sag(m: MemberResult, full: np.ndarray, corner: Corner) -> float:
    answer = m.answers[corner]
    return sag_mm(answer, np.concatenate([full, np.zeros(answer.tip.shape[1] - len(full))]))
