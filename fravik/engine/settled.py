"""What the settled tier found: every part as it will be printed, the plates, the schedule, and the margins that follow."""

from __future__ import annotations

from dataclasses import dataclass, replace

from fravik.model.problem import Problem
from fravik.model.project import Project
from fravik.plan.place import Plates
from fravik.plan.schedule import Schedule
from fravik.printing.job import PrintJob
from fravik.study.margins import Margin, margin

from .results import Evaluation


@dataclass(frozen=True)
class Settled:
    """Every part as it will be printed, all plates, and what that makes of grams and minutes."""

    project: Project
    jobs: dict[str, PrintJob]
    plates: Plates
    problems: tuple[Problem, ...]
    schedule: Schedule

    @property
    def minutes(self) -> float:
        """Minutes of all plates, warm-ups and plate changes included."""
        by_id = {p.id: p for p in self.project.printers}
        return self.plates.minutes + sum(by_id[p.printer_id].plate_change_min for p in self.plates.plates)


def settled_margins(result: Evaluation, settled: Settled) -> tuple[Margin, ...]:
    """The margins with weight and print time from real roads in place of the live counts."""
    gained = sum((settled.jobs[k].grams - r.mass.mass_g) * r.part.count for k, r in result.parts.items() if k in settled.jobs)
    printer = result.project.printer
    out = []
    for m in result.margins:
        if m.value is None or m.low is None or m.high is None or isinstance(m.limit, tuple):
            out.append(m)
        elif m.metric == "flying_mass_g":
            out.append(replace(margin(m.id, m.metric, m.limit, (m.low + gained, m.value + gained, m.high + gained)), source="settled"))
        elif m.metric == "print_minutes":
            t = settled.minutes
            values = (t * printer.time_ratio_low, t, t * printer.time_ratio_high)
            out.append(replace(margin(m.id, m.metric, m.limit, values), source="settled"))
        else:
            out.append(m)
    return tuple(out)
