"""A ready-made G-code file beside the plan: run in the background, shown in the window and by the command line."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from fravik.model.project import Project
from fravik.printing.gcode import Difference, GcodeRoads, bounds_problem, compared, read_gcode

from .evaluate import Engine
from .plateview import plate_of


@dataclass(frozen=True)
class GcodeReading:
    """What a file holds, and how it differs from a plate of the plan; no rows without a plate."""

    name: str
    roads: GcodeRoads
    minutes: float
    grams: float
    bounds: str
    off_bed: str
    against: str
    rows: tuple[Difference, ...]


def read_beside(
    engine: Engine, project: Project, path: Path, plate_id: str,
    progress: Callable[[int, int], None] | None = None, cancelled: Callable[[], bool] | None = None,
) -> GcodeReading:  # fmt: skip
    """Read a file and set it beside a plate. Raises GcodeError, OSError or GivenUpError."""
    from .settle import settle

    roads = read_gcode(path, progress, cancelled)
    view = plate_of(settle(engine, project, None, cancelled), plate_id)
    printer = project.printer
    density, against = 1.24, ""
    rows: tuple[Difference, ...] = ()
    if view is not None:
        plate, tall = view.plate, float(view.tops_mm[-1])
        printer = next(p for p in project.printers if p.id == plate.printer_id)
        density, against = plate.filament.density_g_cm3.typical, plate.id
        rows = compared(roads, printer, density, plate.minutes - printer.start_up_min, plate.grams, len(view.tops_mm), tall)
    low, high = roads.bounds_mm()
    words = " × ".join(f"{b - a:.1f}" for a, b in zip(low, high, strict=True))
    bounds = f"{words} mm, from ({low[0]:.1f}, {low[1]:.1f}, {low[2]:.2f})"
    minutes, grams = roads.minutes(printer), roads.grams(density)
    return GcodeReading(path.name, roads, minutes, grams, bounds, bounds_problem(roads, printer), against, rows)
