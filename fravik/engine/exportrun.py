"""The print run as files: batches, layers, schedule."""

from __future__ import annotations

from dataclasses import replace as replace_place
from pathlib import Path

from fravik.plan.layerfile import layer_dxf, layer_svg, layers_svg
from fravik.plan.timetable import schedule_csv, schedule_ics
from fravik.shape.build import mirrored
from fravik.shape.meshfile import MeshItem, PlacedItem, batch_3mf_bytes, laid_on_bed
from fravik.store import write_files
from fravik.study.words import clock

from .evaluate import Engine
from .export import sheet_rows
from .exportable import RUN_KINDS
from .results import Evaluation
from .settled import Settled

COLOURS = ((35, 79, 125), (28, 124, 114), (217, 154, 43), (127, 169, 207), (176, 118, 10), (124, 134, 132), (159, 192, 160), (200, 68, 43))


def export_run(
    engine: Engine, result: Evaluation, settled: Settled, folder: Path, kinds: tuple[str, ...] = RUN_KINDS, layer: int | None = None,
    replace: bool = False,
) -> list[Path]:  # fmt: skip
    """Write the chosen kinds of file into a folder: all of them whole, or none. ``layer`` is the layer of the roads files, counted from
    0, the middle one when left out. Returns what was written. Raises FileProblem, also when files are there already and ``replace``
    does not say that they may go; and ValueError when the run's first day is not a date."""
    files: dict[str, str | bytes] = {}
    if "batch.3mf" in kinds:
        files |= _plates(engine, result, settled)
    for part_id, job in settled.jobs.items():
        name = result.parts[part_id].part.name
        at = min(job.layers.count // 2 if layer is None else layer, job.layers.count - 1)
        if "layers.svg" in kinds:
            files[f"{part_id}-layers.svg"] = layers_svg(job, name)
        if "roads.svg" in kinds:
            files[f"{part_id}-layer-{at + 1}.svg"] = layer_svg(job, at, name)
        if "roads.dxf" in kinds:
            files[f"{part_id}-layer-{at + 1}.dxf"] = layer_dxf(job, at)
    run = settled.project.run
    if "schedule.csv" in kinds:
        files["schedule.csv"] = schedule_csv(settled.schedule, run)
    if "schedule.ics" in kinds:
        files["schedule.ics"] = schedule_ics(settled.schedule, run, settled.project.name)
    return write_files(folder, files, replace=replace)


def _plates(engine: Engine, result: Evaluation, settled: Settled) -> dict[str, bytes]:
    rows = {r.part.id: r for r in sheet_rows(result)}
    colour = {p.id: COLOURS[i % len(COLOURS)] for i, p in enumerate(settled.project.parts)}
    printers = {p.id: p.name for p in settled.project.printers}
    out = {}
    for batch in settled.batches.batches:
        placed = []
        for part_id in dict.fromkeys(c.part_id for c in batch.copies):
            shown = result.parts[part_id]
            mesh = laid_on_bed(engine.mesh(shown.given), shown.field.rotation)
            laying = shown.part.laying
            more = (("Supports", laying.support), ("Around the first layer", laying.edge), ("First layer", f"{laying.first_layer_mm:g} mm"))
            for other in (False, True):
                places = tuple(replace_place(c.place, mirrored=False).matrix() for c in batch.copies
                               if c.part_id == part_id and c.place.mirrored == other)  # fmt: skip
                if places:
                    name, one = (f"{shown.part.name}, other hand", mirrored(mesh)) if other else (shown.part.name, mesh)
                    item = MeshItem(name, one, len(places), (*rows[part_id].settings(), *more))
                    placed.append(PlacedItem(item, places, colour[part_id]))
        about = (("Batch", batch.id), ("Printer", printers[batch.printer_id]), ("Filament", batch.filament.name),
                 ("Time", clock(batch.minutes)), ("Grams", f"{batch.grams:.0f}"))  # fmt: skip
        out[f"{batch.id.replace(' ', '-')}.3mf"] = batch_3mf_bytes(placed, about)
    return out
