"""What the settled tier found: every part as it will be printed, the batches, the schedule, and the margins that follow."""

from __future__ import annotations

from dataclasses import dataclass, replace

from fravik.model.problem import Problem
from fravik.model.project import Project
from fravik.plan.place import Batches
from fravik.plan.record import learned_ratios
from fravik.plan.schedule import PAUSE_MIN, Schedule
from fravik.printing.job import PrintJob
from fravik.study.margins import Margin, Verdict, limit_of, margin, unit_of

from .budget import Found
from .results import Evaluation

# troubles of this weight and more are likely to cost the part
GRAVE = 0.7


@dataclass(frozen=True)
class Settled:
    """Every part as it will be printed, all batches, and what that makes of grams and minutes."""

    project: Project
    jobs: dict[str, PrintJob]
    batches: Batches
    problems: tuple[Problem, ...]
    schedule: Schedule
    corridor: Found | None = None

    @property
    def minutes(self) -> float:
        """Minutes of all batches, warm-ups and bed changes and pauses included, at the pace each printer's record shows."""
        return self.minutes_range()[1]

    @property
    def verdict(self) -> Verdict:
        """Of the run as a whole: it fails when a part is on no batch or it is late, and is tight when something grave may go wrong."""
        if self.batches.left_out or self.schedule.late_h > 0:
            return "fails"
        on_plates = {c.part_id for p in self.batches.batches for c in p.copies}
        grave = any(t.weight >= GRAVE for k in on_plates for t in self.jobs[k].troubles)
        return "tight" if grave or self.problems else "holds"

    def minutes_range(self) -> tuple[float, float, float]:
        """Low, typical and high: by the printer's record of real over planned time, or the printer's own range without one."""
        by_id = {p.id: p for p in self.project.printers}
        learned = learned_ratios(self.project.run.records)
        total = [0.0, 0.0, 0.0]
        for batch in self.batches.batches:
            printer = by_id[batch.printer_id]
            known = learned.get(printer.id)
            ratios = (known.low, known.mean, known.high) if known else (printer.time_ratio_low, 1.0, printer.time_ratio_high)
            for i, ratio in enumerate(ratios):
                total[i] += batch.minutes * ratio + printer.bed_change_min + len(batch.stops) * PAUSE_MIN
        return total[0], total[1], total[2]


def settled_margins(result: Evaluation, settled: Settled) -> tuple[Margin, ...]:
    """The margins with weight and print time from real roads in place of the live counts."""
    gained = sum((settled.jobs[k].grams - r.mass.mass_g) * r.part.count for k, r in result.parts.items() if k in settled.jobs)
    out = []
    for m in result.margins:
        if m.metric == "corridor_reserve_pct" and settled.corridor is not None:
            out.append(replace(margin(m.id, m.metric, m.limit, *settled.corridor), source="settled"))
        elif m.value is None or m.low is None or m.high is None:
            out.append(m)
        elif m.metric == "flying_mass_g":
            out.append(
                replace(margin(m.id, m.metric, m.limit, (m.low + gained, m.value + gained, m.high + gained), m.detail), source="settled")
            )
        elif m.metric == "print_minutes":
            left = settled.batches.left_out
            told = (None, "a part is on no bed") if left else (settled.minutes_range(), "")
            out.append(replace(margin(m.id, m.metric, m.limit, *told), source="settled"))
        else:
            out.append(m)
    return tuple(out)


def unknown_margins(project: Project) -> tuple[Margin, ...]:
    """Every target of a craft that could not be evaluated, not known yet."""
    return tuple(
        margin(t.id, t.metric, limit_of(project, t), None, "the design contradicts itself", unit_of(project, t.metric))
        for t in project.targets
    )
