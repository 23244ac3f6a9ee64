"""Cures tried: what each costs, and whether it does away with what it is for."""

from __future__ import annotations

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.model.paths import EditError, set_many
from fravik.study.findings import Finding, TriedCure, heavier
from fravik.study.margins import RANK

from .every import foresee

WAY = "over."


def tried(engine: Engine, result: Evaluation, finding: Finding) -> tuple[TriedCure, ...]:
    """Those cures of a finding after which it is gone, or weighs less, cheapest harm first."""
    out = [t for t in (_try(engine, result, finding, k) for k in range(len(finding.cures))) if t is not None]
    return tuple(sorted(out, key=lambda t: (len(t.harms) + len(t.brings), abs(t.grams))))


def _try(engine: Engine, result: Evaluation, finding: Finding, index: int) -> TriedCure | None:
    cure = finding.cures[index]
    try:
        after = engine.evaluate(set_many(result.project, cure.edits))
    except (EditError, Refused):
        return None
    # the way over takes seconds: it is asked again for what it foresaw alone
    way = finding.id.startswith(WAY)
    before = {f.id: f for f in foresee(engine, result, way)}
    now = {f.id: f for f in foresee(engine, after, way)}
    left = now.get(finding.id)
    if left is not None and not heavier(finding.weight, left.weight):
        return None
    new = [f for f in now.values() if f.id not in before or heavier(f.weight, before[f.id].weight)]
    brings = tuple(f"{f.where}: {f.what[:1].lower()}{f.what[1:]}" for f in new if f.id != finding.id and f.weight != "worth knowing")
    old = {m.id: m for m in result.margins}
    harms = tuple(m.name for m in after.margins if m.id in old and RANK[m.verdict] > RANK[old[m.id].verdict])
    a, b = after.scores, result.scores
    return TriedCure(cure, a.grams - b.grams, a.minutes - b.minutes, a.cost - b.cost, harms, brings)
