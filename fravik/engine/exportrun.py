"""The print run as files: plates, layers, schedule."""

from __future__ import annotations

from pathlib import Path

from fravik.plan.layerfile import layer_dxf, layer_svg, layers_svg
from fravik.plan.timetable import schedule_csv, schedule_ics
from fravik.shape.meshfile import MeshItem, PlacedItem, laid_on_plate, write_plate_3mf
from fravik.study.words import clock

from .evaluate import Engine
from .export import sheet_rows
from .kinds import RUN_KINDS
from .results import Evaluation
from .settled import Settled

COLOURS = ((35, 79, 125), (28, 124, 114), (217, 154, 43), (127, 169, 207), (176, 118, 10), (124, 134, 132), (159, 192, 160), (200, 68, 43))


def export_run(
    engine: Engine, result: Evaluation, settled: Settled, folder: Path, kinds: tuple[str, ...] = RUN_KINDS, layer: int | None = None
) -> list[Path]:
    """Write the chosen kinds of file into a folder. ``layer`` is the layer of the roads files, counted from 0, the middle one when
    left out. Returns what was written. Raises OSError, and ValueError when the run's first day is not a date."""
    folder.mkdir(parents=True, exist_ok=True)
    written: list[Path] = []

    def put(name: str, content: str | bytes) -> None:
        path = folder / name
        path.write_bytes(content if isinstance(content, bytes) else content.encode("utf-8"))
        written.append(path)

    if "plate.3mf" in kinds:
        written += _plates(engine, result, settled, folder)
    for part_id, job in settled.jobs.items():
        name = result.parts[part_id].part.name
        at = min(job.layers.count // 2 if layer is None else layer, job.layers.count - 1)
        if "layers.svg" in kinds:
            put(f"{part_id}-layers.svg", layers_svg(job, name))
        if "roads.svg" in kinds:
            put(f"{part_id}-layer-{at + 1}.svg", layer_svg(job, at, name))
        if "roads.dxf" in kinds:
            put(f"{part_id}-layer-{at + 1}.dxf", layer_dxf(job, at))
    run = settled.project.run
    if "schedule.csv" in kinds:
        put("schedule.csv", schedule_csv(settled.schedule, run))
    if "schedule.ics" in kinds:
        put("schedule.ics", schedule_ics(settled.schedule, run, settled.project.name))
    return written


def _plates(engine: Engine, result: Evaluation, settled: Settled, folder: Path) -> list[Path]:
    rows = {r.part.id: r for r in sheet_rows(result)}
    colour = {p.id: COLOURS[i % len(COLOURS)] for i, p in enumerate(settled.project.parts)}
    printers = {p.id: p.name for p in settled.project.printers}
    out = []
    for plate in settled.plates.plates:
        placed = []
        for part_id in dict.fromkeys(c.part_id for c in plate.copies):
            shown = result.parts[part_id]
            mesh = laid_on_plate(engine.mesh(shown.given), shown.field.rotation)
            places = tuple(c.place.matrix() for c in plate.copies if c.part_id == part_id)
            laying = shown.part.laying
            more = (("Supports", laying.support), ("Around the first layer", laying.edge), ("First layer", f"{laying.first_layer_mm:g} mm"))
            item = MeshItem(shown.part.name, mesh, len(places), (*rows[part_id].settings(), *more))
            placed.append(PlacedItem(item, places, colour[part_id]))
        path = folder / f"{plate.id.replace(' ', '-')}.3mf"
        about = (("Plate", plate.id), ("Printer", printers[plate.printer_id]), ("Filament", plate.filament.name),
                 ("Time", clock(plate.minutes)), ("Grams", f"{plate.grams:.0f}"))  # fmt: skip
        write_plate_3mf(path, placed, about)
        out.append(path)
    return out
