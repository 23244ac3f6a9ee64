"""The live tier: a project in, every margin out, recomputing only what an edit touches."""

from __future__ import annotations

import math
import time
from dataclasses import replace
from typing import Any

import numpy as np
from manifold3d import Manifold

from fravik.flight.mass import clearances, craft_mass
from fravik.library import filament
from fravik.model.material import Corner
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.shapes import ArmShape, LegShape
from fravik.power.momentum import PowerFigures, power_figures
from fravik.printing.checks import recipe_problems
from fravik.printing.mass import MassProperties, part_mass
from fravik.printing.roads import fits_bed, print_figures
from fravik.printing.zones import lay
from fravik.shape.build import Mesh, ShapeInput, build_solid, fine_mesh_of, mesh_of, motor_radius_mm, shape_input
from fravik.shape.checks import shape_problems
from fravik.structure.beams import TipBody
from fravik.structure.cases import (
    CRASH_CASES,
    STATIC_CASES,
    BreakPoint,
    CraftLoads,
    arm_combinations,
    break_point,
    leg_combinations,
    leg_stiffness_n_mm,
    tip_sag_mm,
    touchdown,
)
from fravik.structure.excitation import crossings
from fravik.structure.member import (
    Member,
    MemberAnswer,
    build_member,
    carbon_mass_g,
    carbon_price,
    solve_member,
)
from fravik.structure.reserves import all_reserves, stress_basis
from fravik.study.margins import Margin, Scores, margin

from .memo import Memo
from .results import Evaluation, MemberResult, PartResult, Refused

CORNERS: tuple[Corner, Corner, Corner] = ("low", "typical", "high")
Answers = dict[Corner, MemberAnswer]


class Engine:
    """Evaluates projects and remembers every stage by the content of its inputs."""

    def __init__(self) -> None:
        self.memo = Memo()

    def problems(self, project: Project) -> list[Problem]:
        """Contradictions and warnings over the whole project."""
        out: list[Problem] = []
        for part in project.parts:
            out += shape_problems(part, project)
            out += recipe_problems(part, project)
        return out

    def solid(self, given: ShapeInput) -> Manifold:
        """The part's solid."""
        return self.memo.get("solid", given, lambda: build_solid(given))

    def mesh(self, given: ShapeInput) -> Mesh:
        """The part's surface."""
        return self.memo.get("mesh", given, lambda: mesh_of(self.solid(given)))

    def fine_mesh(self, given: ShapeInput) -> Mesh:
        """The part's surface, fine enough to colour."""
        return self.memo.get("fine mesh", given, lambda: fine_mesh_of(self.solid(given), 3.0))

    def part(self, part: Part, project: Project) -> PartResult:
        """One part as printed. Raises Refused when nothing printable is left."""
        given = shape_input(part, project)
        key = (given, part.recipe, project.printer, project.spools, part.count, part.name, part.id, part.carbon)
        return self.memo.get("part", key, lambda: self._part(part, project, given))

    def _part(self, part: Part, project: Project, given: ShapeInput) -> PartResult:
        solid = self.solid(given)
        at = f"parts.{part.id}.shape"
        if solid.is_empty():
            raise Refused([Problem(at, f"{part.name}: nothing is left of the solid.")])
        # a bore closed at both ends is a cavity: a shell of negative volume, not a loose piece
        pieces = sum(p.volume() > 0 for p in solid.decompose())
        if pieces > 1:
            raise Refused([Problem(at, f"{part.name} falls into {pieces} pieces: make pockets or windows smaller.")])
        field = lay(solid, part.recipe)
        plastic = filament(part.recipe.filament)
        mass = part_mass(field, plastic.density_g_cm3.typical)
        figures = print_figures(field, plastic, project.printer)
        spool = next((s for s in project.spools if s.filament == part.recipe.filament), None)
        per_kg = spool.price_per_kg if spool else plastic.price_per_kg
        return PartResult(
            part, given, field, mass, figures, carbon_mass_g(part.carbon),
            mass.mass_g * 1e-3 * per_kg + carbon_price(part.carbon), fits_bed(field, project.printer),
        )  # fmt: skip

    def _member(self, result: PartResult) -> Member:
        shape, part = result.part.shape, result.part
        assert isinstance(shape, ArmShape | LegShape)
        key = (result.given, part.recipe)

        def make() -> Member:
            density = filament(part.recipe.filament).density_g_cm3.typical
            try:
                built = build_member(shape, result.given.length_mm, part.carbon, result.field, 0.0)
            except ValueError as err:
                raise Refused([Problem(f"parts.{part.id}.shape", f"{part.name}: {err}")]) from None
            along = built.tables.zone_widths().sum(axis=1) * built.tables.pitch_mm
            line = density * 1e-9 * (along[0] + along[1] + part.recipe.infill * along[2])
            # what lies beyond the last station rides with the tip
            return replace(built, overhang_mass_t=float(line[-1]) * _overhang_mm(shape))

        return self.memo.get("member", key, make)

    def _answers(self, result: PartResult, project: Project) -> tuple[Member, Answers]:
        member = self._member(result)
        part = result.part
        tip = _tip_body(project, part) if isinstance(part.shape, ArmShape) else None
        c = project.components
        key = (result.given, part.recipe, (c.motor, c.propeller) if tip else None)

        def make() -> Answers:
            return solve_member(member, filament(part.recipe.filament), part.recipe, part.carbon, tip)

        return member, self.memo.get("answers", key, make)

    def evaluate(self, project: Project) -> Evaluation:
        """Everything the live tier knows. Raises Refused with plain problems when the design contradicts itself."""
        started = time.perf_counter()
        problems = self.problems(project)
        errors = [p for p in problems if p.severity == "error"]
        if errors:
            raise Refused(errors)
        parts = {p.id: self.part(p, project) for p in project.parts}
        for r in parts.values():
            if r.bed_problem:
                problems.append(Problem(f"parts.{r.part.id}.recipe.lies", r.bed_problem, "warning"))
        craft = craft_mass(project, {k: r.mass for k, r in parts.items()}, {k: r.carbon_g for k, r in parts.items()})
        power = power_figures(craft.mass_g, project.components)
        members = self._members(project, parts, craft, power)
        return self._judge(project, problems, parts, members, craft, power, started)

    def _members(self, project: Project, parts: dict[str, PartResult], craft: MassProperties,
                 power: PowerFigures) -> dict[str, MemberResult]:  # fmt: skip
        solved = {k: self._answers(r, project) for k, r in parts.items() if isinstance(r.part.shape, ArmShape | LegShape)}
        arms = [k for k in solved if isinstance(parts[k].part.shape, ArmShape)]
        legs = [k for k in solved if isinstance(parts[k].part.shape, LegShape)]
        if not arms:
            return {}
        loads = craft_loads(project, craft, power)
        out: dict[str, MemberResult] = {}
        lead_arm, lead_leg = arms[0], legs[0] if legs else None
        leg_count = sum(parts[k].part.count for k in legs)
        arm_count = sum(parts[k].part.count for k in arms)
        per_corner: dict[str, tuple[dict[Corner, Any], ...]] = {k: ({}, {}, {}) for k in solved}
        for corner in CORNERS:
            leg_shape = parts[lead_leg].part.shape if lead_leg else None
            leg_k = leg_stiffness_n_mm(
                solved[lead_leg][1][corner] if lead_leg else None, leg_shape if isinstance(leg_shape, LegShape) else None
            )
            down = touchdown(loads, solved[lead_arm][1][corner], arm_count, leg_k, leg_count)
            for k, (member, answers) in solved.items():
                shape = parts[k].part.shape
                basis = self.memo.get(
                    "basis", (parts[k].given, parts[k].part.recipe, corner, project.components.motor, project.components.propeller),
                    lambda m=member, a=answers[corner], c=parts[k].part.carbon: stress_basis(m, a, c),  # type: ignore[misc]
                )  # fmt: skip
                if isinstance(shape, LegShape):
                    combos = leg_combinations(loads, shape, down)
                else:
                    combos = arm_combinations(loads, answers[corner], down)
                cases = all_reserves(basis, combos)
                bases, all_cases, breaks = per_corner[k]
                bases[corner], all_cases[corner] = basis, cases
                breaks[corner] = {n: break_point(cases[n], basis) for n in CRASH_CASES if n in cases}
        for k, (member, answers) in solved.items():
            out[k] = MemberResult(k, member, answers, *per_corner[k])
        return out

    def _judge(
        self, project: Project, problems: list[Problem], parts: dict[str, PartResult], members: dict[str, MemberResult],
        craft: MassProperties, power: PowerFigures, started: float,
    ) -> Evaluation:  # fmt: skip
        printer = project.printer
        minutes = sum(r.figures.minutes * r.part.count for r in parts.values())
        minutes += printer.start_up_min * max(1, len(parts))
        cost = sum(r.cost * r.part.count for r in parts.values())
        metrics = self._metrics(project, parts, members, craft, power, minutes, cost)
        b = project.brief
        working = (power.hover_rpm / 60 * math.sqrt(b.working_low), power.hover_rpm / 60 * math.sqrt(b.working_high))
        margins: list[Margin] = []
        for t in project.targets:
            limit: float | tuple[float, float] = t.limit
            if t.metric == "first_mode_hz":
                limit = (working[0] * (1 - t.limit / 100), working[1] * (1 + t.limit / 100))
            margins.append(margin(t.id, t.metric, limit, metrics.get(t.metric)))
        working_rpm = (working[0] * 60, working[1] * 60)
        crossed = {
            k: crossings(m.mode_table(), project.components.propeller.blades, power.idle_rpm, power.full_rpm, working_rpm)
            for k, m in members.items() if isinstance(m.member.shape, ArmShape)
        }  # fmt: skip
        order: dict[str, list[tuple[str, BreakPoint]]] = {}
        for case in CRASH_CASES:
            hit = [(k, m.breaks["typical"][case]) for k, m in members.items() if case in m.breaks["typical"]]
            order[case] = sorted(hit, key=lambda pair: pair[1].speed_m_s)
        return Evaluation(
            project, tuple(problems), parts, members, craft, power, clearances(project), tuple(margins), working,
            crossed, order, Scores(tuple(margins), craft.mass_g, minutes, cost), time.perf_counter() - started,
        )  # fmt: skip

    def _metrics(
        self, project: Project, parts: dict[str, PartResult], members: dict[str, MemberResult],
        craft: MassProperties, power: PowerFigures, minutes: float, cost: float,
    ) -> dict[str, tuple[float, float, float]]:  # fmt: skip
        spread = sum(
            r.mass.mass_g * r.part.count * (filament(r.part.recipe.filament).density_g_cm3.high
                                            / filament(r.part.recipe.filament).density_g_cm3.typical - 1 + 0.02)
            for r in parts.values()
        )  # fmt: skip
        out = {
            "flying_mass_g": (craft.mass_g - spread, craft.mass_g, craft.mass_g + spread),
            "print_minutes": (minutes * project.printer.time_ratio_low, minutes, minutes * project.printer.time_ratio_high),
            "endurance_min": (power.endurance_low_min, power.endurance_min, power.endurance_high_min),
            "thrust_to_weight": (power.thrust_to_weight * 0.92, power.thrust_to_weight, power.thrust_to_weight * 1.08),
            "material_cost": (cost * 0.97, cost, cost * 1.03),
        }
        arms = [m for m in members.values() if isinstance(m.member.shape, ArmShape)]
        if not arms:
            return out

        def three(values: list[float]) -> tuple[float, float, float]:
            return values[0], values[1], values[2]

        loads = craft_loads(project, craft, power)
        full = np.array([0.0, 0.0, loads.full_thrust_n, 0.0, -9806.65])
        out["tip_sag_mm"] = three([max(tip_sag_mm(m.answers[c], full) for m in arms) for c in CORNERS])
        out["first_mode_hz"] = three([min(float(m.answers[c].freqs_hz[0]) for m in arms) for c in CORNERS])
        out["least_reserve"] = three([min(m.worst_static(STATIC_CASES, c)[1].reserve for m in members.values()) for c in CORNERS])
        out["flat_drop_m"] = three([min(m.breaks[c]["flat drop"].height_m for m in members.values()) for c in CORNERS])
        out["arm_strike_m_s"] = three([min(m.breaks[c]["arm strike"].speed_m_s for m in arms) for c in CORNERS])
        return out

    def scores(self, project: Project) -> Scores | None:
        """The scores alone, or None when the design cannot be built."""
        try:
            return self.evaluate(project).scores
        except (Refused, ValueError, ArithmeticError, np.linalg.LinAlgError):
            return None


def craft_loads(project: Project, craft: MassProperties, power: PowerFigures) -> CraftLoads:
    """The figures of the craft that the load cases need."""
    c = project.components
    return CraftLoads(
        craft.mass_g, float(craft.inertia_gmm2[2, 2]), power.hover_thrust_n, power.full_thrust_n, project.brief.pull_up_g,
        project.brief.landing_m_s, project.brief.ground_stiffness_n_mm, c.motor.mass_g + c.propeller.mass_g, motor_radius_mm(project),
    )  # fmt: skip


def _overhang_mm(shape: ArmShape | LegShape) -> float:
    # the half disc beyond the last station weighs as much as pi/4 of its bounding strip
    reach = shape.pad_diameter_mm / 2 if isinstance(shape, ArmShape) else shape.tip_width_mm / 2
    return math.pi / 4 * reach


def _tip_body(project: Project, part: Part) -> TipBody:
    motor, prop = project.components.motor, project.components.propeller
    shape = part.shape
    assert isinstance(shape, ArmShape)
    mass = motor.mass_g + prop.mass_g
    up = shape.tip_height_mm / 2 + (motor.mass_g * motor.height_mm / 2 + prop.mass_g * (motor.height_mm + 3)) / mass
    r, h = motor.diameter_mm / 2, motor.height_mm
    side = motor.mass_g * (3 * r * r + h * h) / 12 + prop.mass_g * prop.diameter_mm**2 / 48
    spin = motor.mass_g * r * r / 2 + prop.mass_g * prop.diameter_mm**2 / 24
    return TipBody(mass * 1e-6, np.diag([side, side, spin]) * 1e-6, np.array([0.0, 0.0, up]))
