"""Everything that leaves the program for the printer and the bench."""

from __future__ import annotations

from pathlib import Path

from fravik.plan.sheet import Sheet, sheet_html, write_sheet_pdf
from fravik.plan.table import SheetRow, parts_csv
from fravik.shape.build import Mesh
from fravik.shape.meshfile import MeshItem, laid_on_plate, write_3mf, write_stl
from fravik.store.text import project_to_json
from fravik.study.words import limit_text, value_text

from .evaluate import Engine
from .kinds import KINDS
from .results import Evaluation


def sheet_rows(result: Evaluation) -> list[SheetRow]:
    """One row per part."""
    out = []
    for r in result.parts.values():
        size = r.field.high_mm - r.field.low_mm
        box = (float(size[0]), float(size[1]), float(size[2]))
        out.append(SheetRow(r.part, r.grams, r.figures.minutes, r.cost, box, r.bed_problem))
    return out


def plate_meshes(engine: Engine, result: Evaluation) -> list[Mesh]:
    """Each part's surface as it lies on the plate."""
    return [laid_on_plate(engine.mesh(r.given), r.field.rotation) for r in result.parts.values()]


def settings_sheet(engine: Engine, result: Evaluation) -> Sheet:
    """The settings sheet of an evaluated project."""
    rows = sheet_rows(result)
    margins = tuple((m.name, value_text(m), limit_text(m), m.verdict) for m in result.margins)
    return Sheet(
        result.project.name, result.project.brief.purpose, result.project.printer.name, tuple(rows),
        tuple(plate_meshes(engine, result)), margins, sum(r.grams * r.part.count for r in rows), result.minutes,
    )  # fmt: skip


def report_html(engine: Engine, result: Evaluation) -> str:
    """The settings sheet as HTML."""
    return sheet_html(settings_sheet(engine, result))


def export_all(
    engine: Engine, result: Evaluation, folder: Path, kinds: tuple[str, ...] = KINDS, part_ids: tuple[str, ...] | None = None
) -> list[Path]:
    """Write the chosen kinds of file into a folder, for all parts or some. Returns what was written. Raises OSError."""
    folder.mkdir(parents=True, exist_ok=True)
    rows, meshes = sheet_rows(result), plate_meshes(engine, result)
    chosen = [(r, m) for r, m in zip(rows, meshes, strict=True) if part_ids is None or r.part.id in part_ids]
    stem = "".join(c if c.isalnum() or c in "-_" else "-" for c in result.project.name.lower()).strip("-") or "craft"
    written: list[Path] = []

    def put(name: str) -> Path:
        written.append(folder / name)
        return written[-1]

    if "stl" in kinds:
        for row, mesh in chosen:
            write_stl(put(f"{row.part.id}_x{row.part.count}.stl"), mesh)
    if "3mf" in kinds:
        items = [MeshItem(row.part.name, mesh, row.part.count, row.settings()) for row, mesh in chosen]
        write_3mf(put(f"{stem}.3mf"), items)
    if "csv" in kinds:
        put(f"{stem}-parts.csv").write_text(parts_csv(rows), encoding="utf-8")
    if "json" in kinds:
        put(f"{stem}.json").write_text(project_to_json(result.project), encoding="utf-8")
    if "sheet.html" in kinds:
        put(f"{stem}-sheet.html").write_text(sheet_html(settings_sheet(engine, result)), encoding="utf-8")
    if "sheet.pdf" in kinds:
        write_sheet_pdf(put(f"{stem}-sheet.pdf"), settings_sheet(engine, result))
    return written
