"""Demands that no frame can meet: what is bought already breaks them, were the frame to weigh nothing."""

from __future__ import annotations

from collections.abc import Iterable

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds.around import stations
from fravik.kinds.whole import placed_components
from fravik.power.momentum import power_figures
from fravik.study.findings import Finding


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Weight, endurance and lift against those of the bought things alone, a bound that no print goes beyond."""
    if result.scope.flight:
        return
    project = result.project
    bought = sum(x.mass.mass_g for x in placed_components(project))
    rotors = stations(project)
    best = power_figures(bought, project.components, len(rotors), any(s.up < 0 for s in rotors))
    limits = {m.metric: (m.id, m.limit) for m in result.margins}
    bounds = (
        ("flying_mass_g", bought, "g", "at most", "Motors, pack and all else that is bought weigh"),
        ("endurance_min", best.endurance_high_min, "min", "at least", "With a frame that weighs nothing it hovers for"),
        ("thrust_to_weight", best.thrust_to_weight, "", "at least", "With a frame that weighs nothing it lifts"),
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
