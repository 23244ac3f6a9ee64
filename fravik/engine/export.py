"""Everything that leaves the program for the printer and the bench."""

from __future__ import annotations

from pathlib import Path

from fravik.plan.sheet import Sheet, sheet_html, sheet_pdf
from fravik.plan.table import SheetRow, parts_csv
from fravik.shape.build import Mesh
from fravik.shape.meshfile import MeshItem, laid_on_plate, parts_3mf_bytes, stl_bytes
from fravik.store import project_to_json, write_files
from fravik.study.findings import Finding
from fravik.study.words import limit_text, value_text

from .evaluate import Engine
from .exportable import KINDS
from .foresee import foresee
from .results import Evaluation


def sheet_rows(result: Evaluation) -> list[SheetRow]:
    """One row per part."""
    out = []
    for r in result.parts.values():
        size = r.field.high_mm - r.field.low_mm
        box = (float(size[0]), float(size[1]), float(size[2]))
        out.append(SheetRow(r.part, r.grams, r.figures.minutes, r.cost, box, r.bed_problem, r.filament.name, r.printed))
    return out


def plate_meshes(engine: Engine, result: Evaluation) -> list[Mesh]:
    """Each part's surface as it lies on the plate."""
    return [laid_on_plate(engine.mesh(r.given), r.field.rotation) for r in result.parts.values()]


def settings_sheet(engine: Engine, result: Evaluation) -> Sheet:
    """The settings sheet of an evaluated project."""
    rows = sheet_rows(result)
    aside = {s.id: s.reason for s in result.project.set_aside}
    margins = tuple((m.name, value_text(m), limit_text(m), m.verdict) for m in result.margins)
    return Sheet(
        result.project.name, result.project.brief.purpose, result.project.printer.name, tuple(rows),
        tuple(plate_meshes(engine, result)), margins, sum(r.grams * r.part.count for r in rows), result.minutes,
        tuple(_told(f, aside) for f in foresee(engine, result) if f.weight != "worth knowing"),
    )  # fmt: skip


def _told(finding: Finding, aside: dict[str, str]) -> tuple[str, str, str]:
    kept = f" Set aside: {aside[finding.id] or 'no reason given'}." if finding.id in aside else ""
    return finding.weight, finding.where, f"{finding.what} {finding.why}{kept}"


def report_html(engine: Engine, result: Evaluation) -> str:
    """The settings sheet as HTML."""
    return sheet_html(settings_sheet(engine, result))


def craft_stem(name: str) -> str:
    """What the files of a craft are called."""
    return "".join(c if c.isalnum() or c in "-_" else "-" for c in name.lower()).strip("-")[:80] or "craft"


def export_all(
    engine: Engine, result: Evaluation, folder: Path, kinds: tuple[str, ...] = KINDS, part_ids: tuple[str, ...] | None = None,
    replace: bool = False,
) -> list[Path]:  # fmt: skip
    """Write the chosen kinds of file into a folder, for all parts or some: all of them whole, or none. Returns what was written.
    Raises FileProblem, also when files are there already and ``replace`` does not say that they may go."""
    rows, meshes = sheet_rows(result), plate_meshes(engine, result)
    chosen = [(r, m) for r, m in zip(rows, meshes, strict=True) if part_ids is None or r.part.id in part_ids]
    stem = craft_stem(result.project.name)
    files: dict[str, str | bytes] = {}
    if "stl" in kinds:
        for row, mesh in chosen:
            files[f"{row.part.id}_x{row.part.count}.stl"] = stl_bytes(mesh)
    if "3mf" in kinds:
        files[f"{stem}.3mf"] = parts_3mf_bytes(
            [MeshItem(row.part.name, mesh, row.part.count, row.settings()) for row, mesh in chosen if row.printed]
        )
    if "csv" in kinds:
        files[f"{stem}-parts.csv"] = parts_csv(rows)
    if "json" in kinds:
        files[f"{stem}.json"] = project_to_json(result.project)
    if "sheet.html" in kinds:
        files[f"{stem}-sheet.html"] = sheet_html(settings_sheet(engine, result))
    if "sheet.pdf" in kinds:
        files[f"{stem}-sheet.pdf"] = sheet_pdf(settings_sheet(engine, result))
    return write_files(folder, files, replace=replace)
