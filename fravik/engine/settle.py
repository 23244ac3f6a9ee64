"""The settled tier: real layers, roads, minutes and grams of every part, and the batches they go on.

Heavy imports (compiled loops, polygon library) happen here, in the background process, never while the window starts.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import numpy as np

from fravik.kinds import kind_of, printed_parts
from fravik.library import adhesive, filaments_of
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.plan.beds import Lot, arrange
from fravik.plan.nest import Outline
from fravik.plan.schedule import BenchWork, schedule
from fravik.printing.job import PrintJob
from fravik.printing.layerroads import CHANGE, WAIT
from fravik.printing.layroads import print_job

from .aloft import CORRIDOR, corridor_found
from .budget import Found
from .evaluate import Engine
from .results import Evaluation
from .settled import Settled

# what decides how long roads take; the rest of a printer decides what it takes on
MOTION = ("wall_speed_mm_s", "cover_speed_mm_s", "core_speed_mm_s", "travel_speed_mm_s", "acceleration_mm_s2",
          "travel_acceleration_mm_s2", "wall_acceleration_mm_s2", "corner_speed_mm_s", "first_layer_speed", "retract_s")  # fmt: skip


def settle(
    engine: Engine, project: Project, progress: Callable[[int, int], None] | None = None, cancelled: Callable[[], bool] | None = None
) -> Settled:
    """Slice and lay every part and arrange the batches. Raises Refused, ValueError or GivenUpError."""
    jobs: dict[str, PrintJob] = {}
    keys: list[tuple[object, ...]] = []
    result = engine.evaluate(project)
    made = printed_parts(project)
    for n, part in enumerate(made):
        row = result.parts[part.id]
        key = (row.given, part.recipe, part.laying.model_copy(update={"pauses": ()}), row.filament, project.printer)
        keys.append(key)
        solid = engine.solid(row.given)

        def tell(done: int, total: int, n: int = n) -> None:
            if progress is not None:
                progress(1000 * n + 1000 * done // total, 1000 * len(made))

        jobs[part.id] = engine.memo.get(
            "print job", key, lambda r=row, s=solid, p=part, t=tell: print_job(  # type: ignore[misc]
                s, p.recipe, p.laying, r.filament, project.printer, t, cancelled)
        )  # fmt: skip
    lots = lots_of(project, result, jobs, _elsewhere(engine, project, result, cancelled))
    batches = engine.memo.get("batches", (project.printers, project.run, project.parts, tuple(keys)),
                             lambda: arrange(lots, project.printers, project.run))  # fmt: skip
    wet = {s.filament: filaments_of(project)[s.filament].drying_h for s in project.spools
           if not s.dried and s.filament in filaments_of(project)}  # fmt: skip
    plan = schedule(batches, project.printers, project.run, [bench_work(p, result) for p in made], wet)
    return Settled(project, jobs, batches, shelf_problems(project, result, jobs), plan, _corridor(engine, result, cancelled))


def _corridor(engine: Engine, result: Evaluation, cancelled: Callable[[], bool] | None) -> Found | None:
    """The corridor's target, where there is one."""
    if not any(m.metric == CORRIDOR for m in result.margins) or result.scope.flight:
        return None
    from .transition import transition_sight  # compiled code loads only for crafts that fly on a wing

    try:
        s = transition_sight(engine, result, lambda: cancelled is None or not cancelled())
    except ValueError as err:
        return None, str(err)
    return corridor_found(s) if s is not None else None


def bench_work(part: Part, result: Evaluation) -> BenchWork:
    """What a copy needs once it is off the batch."""
    glued = result.parts[part.id].bonded
    cure = [adhesive(b.adhesive).cure_h for b in (part.carbon, part.facing) if b is not None]
    support: Literal["none", "break-away", "soluble"] = "none"
    if part.laying.support != "none":
        support = "soluble" if part.laying.soluble else "break-away"
    kind = kind_of(part.shape)
    screws = kind.screw_holes(part.shape) if part.joint.fixing == "heat_set" else 0
    return BenchWork(part.id, part.name, screws, glued.handwork_min, max(cure, default=0.0), support, kind.bench_tested,
                     part.laying.bath_h)  # fmt: skip


def _road_seconds(job: PrintJob) -> np.ndarray:
    """Time of each layer's roads and lifts (n,), without the layer change and waiting, which a batch shares."""
    return np.asarray(np.delete(job.seconds, [CHANGE, WAIT], axis=1).sum(axis=1))


def _elsewhere(
    engine: Engine, project: Project, result: Evaluation, cancelled: Callable[[], bool] | None
) -> dict[str, dict[str, np.ndarray]]:  # fmt: skip
    """Layer times of every part on printers that move unlike the first, by printer and part."""
    out: dict[str, dict[str, np.ndarray]] = {}
    for printer in project.more_printers:
        if all(getattr(printer, name) == getattr(project.printer, name) for name in MOTION):
            continue
        out[printer.id] = {}
        for part in printed_parts(project):
            row = result.parts[part.id]
            key = (row.given, part.recipe, part.laying.model_copy(update={"pauses": ()}), row.filament, printer)
            solid = engine.solid(row.given)
            out[printer.id][part.id] = engine.memo.get(
                "layer times", key, lambda r=row, s=solid, p=part, q=printer: _road_seconds(  # type: ignore[misc]
                    print_job(s, p.recipe, p.laying, r.filament, q, None, cancelled))
            )  # fmt: skip
    return out


def lots_of(
    project: Project, result: Evaluation, jobs: dict[str, PrintJob], elsewhere: dict[str, dict[str, np.ndarray]] | None = None
) -> list[Lot]:  # fmt: skip
    """What is to be printed: every copy on the craft, less what came off good already, and the spares.

    Arms and legs come first: they are tested on the bench and in crashes before the rest is needed.
    """
    spares = {s.id: s.count for s in project.run.spares}
    done: dict[str, int] = {}
    for r in project.run.records:
        if r.outcome == "good":
            done[r.part] = done.get(r.part, 0) + 1
    out = []
    for part in printed_parts(project):
        job, row = jobs[part.id], result.parts[part.id]
        want = part.count + spares.get(part.id, 0) - done.get(part.id, 0)
        if want <= 0:
            continue
        seconds = _road_seconds(job)
        out.append(Lot(
            part.id, part.name, want, Outline(job.outline), job.layers.top_mm, seconds, job.grams + job.waste_grams, row.filament,
            float(job.layers.top_mm[-1]), job.risk, kind_of(part.shape).printed_first, _size(job),
            {printer: times[part.id] for printer, times in (elsewhere or {}).items()}, part.laying.pauses,
            frozenset(k + 1 for k in range(want) if k % part.count + 1 in kind_of(part.shape).other_hands(part, part.shape, project)),
        ))  # fmt: skip
    return out


def _size(job: PrintJob) -> tuple[float, float, float]:
    """Size of a part along its own axes, from its box as it lies. A part that lies askew keeps the box it lies in."""
    box = job.layers.high_mm - job.layers.low_mm
    own = np.abs(job.layers.rotation.T @ box)
    return float(own[0]), float(own[1]), float(own[2])


def shelf_problems(project: Project, result: Evaluation, jobs: dict[str, PrintJob]) -> tuple[Problem, ...]:
    """Filaments of which the shelf holds less than the run takes."""
    spares = {s.id: s.count for s in project.run.spares}
    need: dict[str, float] = {}
    for part in printed_parts(project):
        job = jobs[part.id]
        grams = (job.grams + job.waste_grams) * (part.count + spares.get(part.id, 0))
        need[part.recipe.filament] = need.get(part.recipe.filament, 0.0) + grams
    out = []
    for kind, grams in need.items():
        left = sum(s.grams_left for s in project.spools if s.filament == kind)
        name = next(r.filament.name for r in result.parts.values() if r.part.recipe.filament == kind)
        if grams > left:
            out.append(Problem("spools", f"{name}: the run takes {grams:.0f} g, the shelf holds {left:.0f} g. Buy "
                               f"{grams - left:.0f} g or print less.", "warning"))  # fmt: skip
    return tuple(out)
