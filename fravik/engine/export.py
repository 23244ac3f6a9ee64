"""Everything that leaves the program for the printer and the bench."""

from __future__ import annotations

from pathlib import Path

from fravik.kinds import kind_of
from fravik.kinds.printedblades import drawn, is_propeller
from fravik.model.project import Part, Project
from fravik.plan.sheet import sheet_html, sheet_pdf
from fravik.plan.table import SheetRow, parts_csv
from fravik.shape.build import Mesh, mirrored
from fravik.shape.meshfile import MeshItem, parts_3mf_bytes, stl_bytes
from fravik.store import project_to_json, write_files

from .evaluate import Engine
from .exportable import BLADE_KINDS, KINDS
from .results import Evaluation
from .settled import Settled
from .sheetcontent import plate_meshes, sheet_of


def sheet_rows(result: Evaluation) -> list[SheetRow]:
    """One row per part."""
    out = []
    for r in result.parts.values():
        size = r.field.high_mm - r.field.low_mm
        box = (float(size[0]), float(size[1]), float(size[2]))
        out.append(SheetRow(r.part, r.grams, r.figures.minutes, r.cost, box, r.bed_problem, r.filament.name, r.printed))
    return out


def craft_stem(name: str) -> str:
    """What the files of a craft are called."""
    return "".join(c if c.isalnum() or c in "-_" else "-" for c in name.lower()).strip("-")[:80] or "craft"


def export_all(
    engine: Engine, result: Evaluation, folder: Path, kinds: tuple[str, ...] = KINDS, part_ids: tuple[str, ...] | None = None,
    replace: bool = False, settled: Settled | None = None, paper: str = "a4",
) -> list[Path]:  # fmt: skip
    """Write the chosen kinds of file into a folder, for all parts or some: all of them whole, or none. Returns what was written.

    The sheet tells the batches of ``settled``, the print run of the same design, and is laid out for ``paper``. Raises FileProblem, also
    when files are there already and ``replace`` does not say that they may go.
    """
    rows, meshes = sheet_rows(result), plate_meshes(engine, result)
    chosen = [(r, m) for r, m in zip(rows, meshes, strict=True) if part_ids is None or r.part.id in part_ids]
    stem = craft_stem(result.project.name)
    files: dict[str, str | bytes] = {}
    if "stl" in kinds:
        for row, mesh in chosen:
            other = len(kind_of(row.part.shape).other_hands(row.part, row.part.shape, result.project))
            files[f"{row.part.id}_x{row.part.count - other}.stl"] = stl_bytes(mesh)
            if other:
                files[f"{row.part.id}_other_hand_x{other}.stl"] = stl_bytes(mirrored(mesh))
    if "3mf" in kinds:
        files[f"{stem}.3mf"] = parts_3mf_bytes([i for row, mesh in chosen if row.printed for i in _hands(row, mesh, result.project)])
    if "csv" in kinds:
        files[f"{stem}-parts.csv"] = parts_csv(rows)
    if "json" in kinds:
        files[f"{stem}.json"] = project_to_json(result.project)
    if "sheet.html" in kinds or "sheet.pdf" in kinds:
        content = sheet_of(engine, result, settled)
        if "sheet.html" in kinds:
            files[f"{stem}-sheet.html"] = sheet_html(content, paper)
        if "sheet.pdf" in kinds:
            files[f"{stem}-sheet.pdf"] = sheet_pdf(content, paper)
    for part in (row.part for row, _ in chosen):
        files.update(blade_files(part, kinds, paper))
    return write_files(folder, files, replace=replace)


def blade_files(part: Part, kinds: tuple[str, ...], paper: str) -> dict[str, str | bytes]:
    """Section templates and a measuring sheet of a propeller; none of other parts."""
    if not is_propeller(part) or not any(k in kinds for k in BLADE_KINDS):
        return {}
    from fravik.plan.templates import measuring_pdf, templates_dxf, templates_svg

    shape = drawn(part)
    out: dict[str, str | bytes] = {}
    if "sections.svg" in kinds:
        out[f"{part.id}-sections.svg"] = templates_svg(shape, part.name)
    if "sections.dxf" in kinds:
        out[f"{part.id}-sections.dxf"] = templates_dxf(shape)
    if "measuring.pdf" in kinds:
        out[f"{part.id}-measuring.pdf"] = measuring_pdf(shape, part.name, paper)
    return out


def _hands(row: SheetRow, mesh: Mesh, project: Project) -> list[MeshItem]:
    """A part as it is drawn, and its other hand where it has one."""
    other = len(kind_of(row.part.shape).other_hands(row.part, row.part.shape, project))
    out = [MeshItem(row.part.name, mesh, row.part.count - other, row.settings())]
    return out + ([MeshItem(f"{row.part.name}, other hand", mirrored(mesh), other, row.settings())] if other else [])
