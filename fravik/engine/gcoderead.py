"""A ready-made G-code file beside the plan: run in the background, shown in the window and by the command line."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from fravik.model.project import Project
from fravik.printing.gcode import Difference, GcodeRoads, bounds_problem, compared, read_gcode

from .batchview import batch_of
from .evaluate import Engine


@dataclass(frozen=True)
class GcodeReading:
    """What a file holds, and how it differs from a batch of the plan; no rows without a batch."""

    name: str
    roads: GcodeRoads
    minutes: float
    grams: float
    bounds: str
    off_bed: str
    against: str
    rows: tuple[Difference, ...]


def read_beside(
    engine: Engine, project: Project, path: Path, batch_id: str,
    progress: Callable[[int, int], None] | None = None, cancelled: Callable[[], bool] | None = None,
) -> GcodeReading:  # fmt: skip
    """Read a file and set it beside a batch. Raises GcodeError, OSError or GivenUpError."""
    from .settle import settle

    roads = read_gcode(path, progress, cancelled)
    view = batch_of(settle(engine, project, None, cancelled), batch_id)
    printer = project.printer
    density, against = 1.24, ""
    rows: tuple[Difference, ...] = ()
    if view is not None:
        batch, tall = view.batch, float(view.tops_mm[-1])
        printer = next(p for p in project.printers if p.id == batch.printer_id)
        density, against = batch.filament.density_g_cm3.typical, batch.id
        rows = compared(roads, printer, density, batch.minutes - printer.start_up_min, batch.grams, len(view.tops_mm), tall)
    low, high = roads.bounds_mm()
    words = " × ".join(f"{b - a:.1f}" for a, b in zip(low, high, strict=True))
    bounds = f"{words} mm, from ({low[0]:.1f}, {low[1]:.1f}, {low[2]:.2f})"
    minutes, grams = roads.minutes(printer), roads.grams(density)
    return GcodeReading(path.name, roads, minutes, grams, bounds, bounds_problem(roads, printer), against, rows)
