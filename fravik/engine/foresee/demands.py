"""Demands that fight each other: those that no frame can meet, as what is bought already breaks them were the frame to weigh nothing; a
propeller whose arms the bed cannot take; and budgets that add up to more than the whole."""

from __future__ import annotations

import math
from collections.abc import Iterable

from fravik.engine.budget import bought_prices
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds import kind_of
from fravik.kinds.drives import drives, in_pairs
from fravik.kinds.whole import placed_components
from fravik.model.project import Printer
from fravik.power.momentum import power_figures
from fravik.printing.toobig import rectangle_fits
from fravik.shape.stations import arrangement
from fravik.study.findings import Cure, Finding

from .disks import NEIGHBOUR_MM

LEAST_PROP_MM, LEAST_APART_MM = 25, 60.0  # the smallest there are


GROUPS = ("made_mass_g", "drive_mass_g", "battery_mass_g", "equipment_mass_g")
ROUNDS = 40  # of halving, to a millimetre and far below


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """All three."""
    yield from _bed(result)
    yield from _budgets(result)
    if not result.scope.flight:
        yield from _bounds(result)


def _budgets(result: Evaluation) -> Iterable[Finding]:
    limits = {m.metric: (m.id, m.limit) for m in result.margins}
    asked = [limits[g][1] for g in GROUPS if g in limits]
    if len(asked) < len(GROUPS) or "flying_mass_g" not in limits or sum(asked) <= limits["flying_mass_g"][1]:
        return
    name, most = limits["flying_mass_g"]
    yield Finding(
        "demands.budgets", "worth knowing", "Brief", f"targets.{name}", "The brief",
        f"The weights of the four groups may add up to {sum(asked):.0f} g, but the craft to {most:.0f} g.",
        "Each group can keep its own budget and the craft still be too heavy.", "Take from one of them.",
        (Cure(f"Flying weight at most {sum(asked):.0f} g", ((f"targets.{name}.limit", round(sum(asked), 1)),)),), "fit",
    )  # fmt: skip


def _bed(result: Evaluation) -> Iterable[Finding]:
    """An arm that the layout draws out beyond the bed."""
    project = result.project
    layout, prop, printer = project.layout, project.components.propeller, project.printer
    gap = result.clearances.prop_to_prop_mm
    for r in result.parts.values():
        kind = kind_of(r.part.shape)
        if not r.bed_problem or not kind.carries_rotor or layout.kind == "free" or not math.isfinite(gap):
            continue
        wide, long = sorted((r.field.high_mm - r.field.low_mm)[:2].tolist())
        fits = _longest_mm(wide, printer)
        if not 0.0 < fits < long:
            continue
        apart = layout.motor_to_motor_mm - 2 * (long - fits) / arrangement(layout).reach
        less = math.floor((prop.diameter_mm + gap) * apart / layout.motor_to_motor_mm - NEIGHBOUR_MM)
        cures: tuple[Cure, ...] = ()
        if less >= LEAST_PROP_MM and apart >= LEAST_APART_MM:
            cures = (Cure(f"Propellers of {less} mm, motors {math.floor(apart)} mm apart",
                          (("layout.motor_to_motor_mm", float(math.floor(apart))), ("components.propeller.diameter_mm", float(less)),
                           ("components.propeller.pitch_mm", round(prop.pitch_mm * less / prop.diameter_mm, 1)))),)  # fmt: skip
        yield Finding(
            f"demands.bed:{r.part.id}", "grave", "Brief", "printer.bed_x_mm", "The brief",
            f"A propeller of {prop.diameter_mm:.0f} mm and a bed of {printer.bed_x_mm:.0f} × {printer.bed_y_mm:.0f} mm do not go together: "
            f"the {r.part.name.lower()} for it is {long:.0f} mm long.",
            f"The bed takes {fits:.0f} mm at this width{f', which is the arm of propellers of {less} mm' if cures else ''}.",
            "Arms of bought tube, arms in two pieces, a larger bed, or a layout with shorter arms.", cures, "fit",
        )  # fmt: skip


def _longest_mm(wide_mm: float, printer: Printer) -> float:
    """The longest rectangle of a width that lies on the bed, turned as it likes; 0 where none does."""
    low, high = 0.0, math.hypot(printer.bed_x_mm, printer.bed_y_mm)
    for _ in range(ROUNDS):
        middle = (low + high) / 2
        low, high = (middle, high) if rectangle_fits(min(wide_mm, middle), max(wide_mm, middle), printer.bed_x_mm, printer.bed_y_mm) else (
            low, middle)  # fmt: skip
    return low


def _bounds(result: Evaluation) -> Iterable[Finding]:
    """Weight, endurance, lift and price against those of the bought things alone, a bound that no print goes beyond."""
    project = result.project
    bought = sum(x.mass.mass_g for x in placed_components(project))
    best = power_figures(bought, project.components, drives(project), in_pairs(project))
    limits = {m.metric: (m.id, m.limit) for m in result.margins}
    bounds = (
        ("flying_mass_g", bought, "g", "at most", "Motors, pack and all else that is bought weigh"),
        ("endurance_min", best.endurance_high_min, "min", "at least", "With a frame that weighs nothing it hovers for"),
        ("thrust_to_weight", best.thrust_to_weight, "", "at least", "With a frame that weighs nothing it lifts"),
        (
            "craft_cost",
            sum(n * each for _, n, each in bought_prices(project)),
            project.brief.currency,
            "at most",
            "Motors, pack and all else that is bought cost",
        ),
    )
    for metric, bound, unit, sense, text in bounds:
        if metric not in limits:
            continue
        name, limit = limits[metric]
        if (bound >= limit) if sense == "at most" else (bound <= limit):
            times = " times its weight" if metric == "thrust_to_weight" else f" {unit}"
            yield Finding(
                f"demands.{metric}", "grave", "Brief", f"targets.{name}", "The brief",
                "No frame meets this demand: change it, or what is bought.",
                f"{text} {bound:.4g}{times} at best; {sense} {limit:.4g}{f' {unit}' if unit else ''} is asked.",
                "A larger pack, larger propellers or lighter things; or ask for less.",
            )  # fmt: skip
