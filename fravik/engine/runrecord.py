"""Between the plan and the printer: a batch as a printer takes it, what comes back, and what that teaches."""

from __future__ import annotations

import numpy as np

from fravik.library import filaments_of
from fravik.model.project import Project
from fravik.model.run import PrintRecord
from fravik.plan.record import Weighing, judge_weight
from fravik.printing.layerroads import CHANGE, WAIT
from fravik.standin.printer import BatchTask, CopyTask, Outcome

from .batchview import BatchView
from .settled import Settled

BED_OVER_TRANSITION_C = 5.0
MOST_HOURS = 5000.0


def batch_task(view: BatchView) -> BatchTask:
    """A batch as the printer takes it; layer times add up to the plan's."""
    batch = view.batch
    tops = view.tops_mm
    seconds = np.zeros(len(tops))
    for c in batch.copies:
        job = view.job(c.part_id)
        at = np.searchsorted(tops, np.round(job.layers.top_mm, 3) - 1e-6)
        np.add.at(seconds, np.minimum(at, len(tops) - 1), np.delete(job.seconds, [CHANGE, WAIT], axis=1).sum(axis=1))
    warm = next(p.start_up_min for p in view.settled.project.printers if p.id == batch.printer_id) * 60
    # hops, layer changes and waiting are spread over the layers
    rest = batch.minutes * 60 - warm - float(seconds.sum())
    seconds += rest / max(len(tops), 1)
    f = batch.filament
    copies = tuple(
        CopyTask(c.key, c.part_id, view.job(c.part_id).grams, float(view.job(c.part_id).layers.top_mm[-1])) for c in batch.copies
    )
    bed = float(np.clip(f.glass_transition_c - BED_OVER_TRANSITION_C, 40.0, 110.0))
    pauses = tuple((view.index_at(s.height_mm), s.words) for s in batch.stops)
    return BatchTask(batch.id, batch.printer_id, copies, np.maximum(seconds, 0.1), tops, warm, f.nozzle_c, bed, batch.minutes, pauses)


def records_of(project: Project, task: BatchTask, outcomes: tuple[Outcome, ...], real_min: float, weighed: dict[str, float]) -> tuple[
    PrintRecord, ...
]:  # fmt: skip
    """The project's records with a batch's copies added. ``weighed`` gives grams by copy for those that were weighed."""
    records = project.run.records
    taken = {r.id for r in records}
    batch = f"run {1 + len({r.batch for r in records})}, {task.batch_id}"
    finished = any(o.good for o in outcomes)  # a batch that was stopped tells nothing of how long it takes
    times = (round(task.planned_min, 1), round(real_min, 1)) if finished else (0.0, 0.0)
    new = []
    for o in outcomes:
        name = next(f"print {i}" for i in range(1, len(taken) + 2) if f"print {i}" not in taken)
        taken.add(name)
        new.append(PrintRecord(
            id=name, part=o.copy.part_id, printer=task.printer_id, batch=batch, outcome="good" if o.good else "failed",
            planned_min=times[0], real_min=times[1], planned_g=round(o.copy.grams, 2),
            weighed_g=round(weighed[o.copy.key], 2) if o.copy.key in weighed else None, note=o.note,
        ))  # fmt: skip
    return (*records, *new)


def came_off(
    project: Project, task: BatchTask, outcomes: tuple[Outcome, ...], elapsed_s: float, weighed: dict[str, float]
) -> tuple[tuple[str, object], ...]:  # fmt: skip
    """The edits that take a batch into the record: its copies, and the hours that it and its change have taken."""
    change = next((p.bed_change_min for p in project.printers if p.id == task.printer_id), 0.0)
    spent = round(project.run.done_h + (elapsed_s / 60 + change) / 60, 2)
    records = records_of(project, task, outcomes, elapsed_s / 60, weighed)
    return (("run.records", records), ("run.done_h", min(spent, MOST_HOURS)))


def weighing_of(record: PrintRecord, project: Project, settled: Settled) -> Weighing | None:
    """What a record's weight says, None when it was not weighed or its part is gone."""
    job = settled.jobs.get(record.part)
    part = next((p for p in project.parts if p.id == record.part), None)
    if record.weighed_g is None or job is None or part is None or record.outcome != "good":
        return None
    wall, cover, core = (v * job.density_g_cm3 * 1e-3 for v in job.layers.zone_volumes_mm3())
    table = filaments_of(project)
    kinds = dict.fromkeys(s.filament for s in project.spools if s.filament != part.recipe.filament and s.filament in table)
    others = [(table[k].name, table[k].density_g_cm3.typical) for k in kinds]
    return judge_weight(record.planned_g, record.weighed_g, wall + cover, core, part.recipe.core_density, job.density_g_cm3, others)
