"""Which spares to print: what breaks first in each crash goes first, since the craft is grounded until there is another."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.kinds.framing import owner_of
from fravik.model.run import Spare
from fravik.structure.loadcases import case_name

from .results import Evaluation
from .settled import Settled

MOST = 2


@dataclass(frozen=True)
class SpareAdvice:
    """A part worth spares: how many, why, and what they cost."""

    part_id: str
    count: int
    why: str
    minutes: float
    grams: float


def spare_advice(result: Evaluation, settled: Settled | None) -> tuple[SpareAdvice, ...]:
    """Parts that break first, with one spare for each crash they are first in, at most ``MOST``; most endangered first."""
    first: dict[str, list[tuple[float, str]]] = {}
    for case, order in result.break_order.items():
        if order:
            part_id, point = owner_of(order[0][0]), order[0][1]
            first.setdefault(part_id, []).append((point.speed_m_s, case))
    out = []
    for part_id, cases in sorted(first.items(), key=lambda item: min(item[1])):
        row = result.parts[part_id]
        job = settled.jobs.get(part_id) if settled is not None else None
        count = min(MOST, len(cases))
        minutes, grams = (job.minutes, job.grams + job.waste_grams) if job is not None else (row.figures.minutes, row.mass.mass_g)
        worst = ", ".join(f"{case_name(case, ())} at {speed:.1f} m/s" for speed, case in sorted(cases))
        out.append(SpareAdvice(part_id, count, f"{row.part.name} breaks first: {worst}", minutes * count, grams * count))
    return tuple(out)


def with_spares(spares: tuple[Spare, ...], advice: tuple[SpareAdvice, ...]) -> tuple[Spare, ...]:
    """The spares with the advice followed where it asks for more."""
    have = {s.id: s.count for s in spares}
    for a in advice:
        have[a.part_id] = max(have.get(a.part_id, 0), a.count)
    return tuple(Spare(id=k, count=n) for k, n in have.items())
