"""The maker's own shelf of motors, propellers, batteries and components: one CSV file for all crafts, in his data folder.

A line is a thing: its kind, its name, and its figures under the names that the model gives them, with a unit of their own where one is
written (``1.6 oz``). What is empty keeps the model's usual figure. A line that cannot be read is left out and named, with the reason.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from fravik.kinds import Edits
from fravik.kinds.slips import slips
from fravik.model.base import explain
from fravik.model.craft import Battery, Block, Motor, Propeller
from fravik.model.paths import get_at
from fravik.model.project import Project
from fravik.model.typed import NotANumber, number_of
from fravik.plan.csvtext import csv_text

from .fileproblem import FileProblem
from .folder import write_file
from .reading import text_of

Item = Motor | Propeller | Battery | Block
SHELF_FILE = "shelf.csv"
MODELS: dict[str, type[Item]] = {"motor": Motor, "propeller": Propeller, "battery": Battery, "component": Block}
# where it stands on one craft is no figure of the thing, and a mesh does not go into a table
NOT_OF_THE_THING = ("id", "name", "x_mm", "y_mm", "z_mm", "mesh", "form", "plug_side")
MOST_BYTES, MOST_LINES = 4_000_000, 5000
YES, NO = ("yes", "true", "1", "x"), ("no", "false", "0", "")


@dataclass(frozen=True)
class Row:
    """One thing on the shelf."""

    kind: str
    name: str
    item: Item


@dataclass(frozen=True)
class Shelf:
    """What is on it, in the order of the file, and what was not read or looks like a slip, by line."""

    rows: tuple[Row, ...]
    told: tuple[str, ...] = ()

    def of(self, kind: str) -> tuple[Row, ...]:
        """All of one kind."""
        return tuple(r for r in self.rows if r.kind == kind)

    def with_row(self, row: Row) -> Shelf:
        """The same with a thing more, or in place of the one that has its name."""
        return Shelf((*(r for r in self.rows if (r.kind, r.name) != (row.kind, row.name)), row))


def fields_of(kind: str) -> dict[str, Any]:
    """The figures that a thing of a kind has, by name."""
    return {k: v for k, v in MODELS[kind].model_fields.items() if k not in NOT_OF_THE_THING}


def columns() -> tuple[str, ...]:
    """All columns of the file, in their order."""
    return ("kind", "name", *dict.fromkeys(name for kind in MODELS for name in fields_of(kind)))


def shelf_text(rows: Iterable[Row]) -> str:
    """The shelf as CSV."""
    head = columns()
    return csv_text([head, *([r.kind, r.name, *(_cell(r, c) for c in head[2:])] for r in rows)])


def _cell(row: Row, column: str) -> object:
    if column not in fields_of(row.kind):
        return ""
    value = getattr(row.item, column)
    return ("yes" if value else "no") if isinstance(value, bool) else value


def shelf_of(text: str) -> Shelf:
    """A shelf from CSV text. Raises FileProblem where it is no such table at all."""
    try:
        lines = list(csv.reader(io.StringIO(text.removeprefix("\ufeff")), strict=True))
    except csv.Error as err:
        raise FileProblem(f"This is no table of comma-separated values: {err}.", "file.foreign") from None
    if not lines or not {"kind", "name"} <= {h.strip().lower() for h in lines[0]}:
        raise FileProblem("Its first line names the columns; kind and name must be among them.", "file.foreign")
    if len(lines) > MOST_LINES:
        raise FileProblem(f"It has {len(lines)} lines; a shelf has {MOST_LINES} at most.", "file.too_large")
    head = [h.strip().lower() for h in lines[0]]
    rows: dict[tuple[str, str], Row] = {}
    told = [f"Column {h!r} is not known; it is passed over." for h in head if h and h not in columns()]
    for number, line in enumerate(lines[1:], start=2):
        if not any(c.strip() for c in line):
            continue
        try:
            row = _row(dict(zip(head, (c.strip().removeprefix("'") for c in line), strict=False)))
        except ValueError as err:
            told.append(f"Line {number} is left out: {err}")
            continue
        if (row.kind, row.name) in rows:
            told.append(f"Line {number}: there are two {row.kind} lines called {row.name}; this one stays.")
        told += [f"Line {number}, {row.name}: {text}" for text in slips(row.item)]
        rows[row.kind, row.name] = row
    return Shelf(tuple(rows.values()), tuple(told))


def _row(cells: dict[str, str]) -> Row:
    kind, name = cells.get("kind", "").lower(), cells.get("name", "")
    if kind not in MODELS:
        raise ValueError(f"there is no kind {kind!r}; there is {', '.join(MODELS)}.")
    if not name:
        raise ValueError("it has no name.")
    values: dict[str, Any] = {"name": name} if "name" in MODELS[kind].model_fields else {}
    for column, info in fields_of(kind).items():
        text = cells.get(column, "")
        if text:
            values[column] = _value(text, column, info)
    try:
        return Row(kind, name, MODELS[kind].model_validate({"id": "new", **values} if kind == "component" else values))
    except ValidationError as err:
        raise ValueError(explain(err, MODELS[kind])[0][1]) from None


def _value(text: str, column: str, info: Any) -> Any:
    if info.annotation is bool:
        if text.lower() not in (*YES, *NO):
            raise ValueError(f"{column} is yes or no, not {text!r}.")
        return text.lower() in YES
    if info.annotation not in (int, float):
        return text
    try:
        figure = number_of(text, str((info.json_schema_extra or {}).get("unit") or ""))
    except NotANumber as err:
        raise ValueError(f"{column}: {err}.") from None
    return int(figure) if info.annotation is int and figure == int(figure) else figure


def read_shelf(path: Path) -> Shelf:
    """A shelf from a file. Raises FileProblem."""
    return shelf_of(text_of(path, MOST_BYTES, "list of things"))


def write_shelf(path: Path, shelf: Shelf) -> None:
    """Write it whole, or leave what was there. Raises FileProblem."""
    write_file(path, shelf_text(shelf.rows))


def row_of(project: Project, kind: str, this: str = "") -> Row:
    """A thing of the craft as it would stand on the shelf; ``this`` is a component's id, or the path of another than the usual motor or
    propeller."""
    c = project.components
    here = get_at(project, this) if "." in this else getattr(c, kind, None)
    if isinstance(here, Motor):
        return Row(kind, here.name, here)
    if isinstance(here, Propeller):
        return Row(kind, f"{here.diameter_mm:g} × {here.pitch_mm:g} mm, {here.blades} blades", here)
    if kind == "battery":
        return Row(kind, f"{c.battery.cells} cells, {c.battery.capacity_mah:g} mAh", c.battery)
    block = next(b for b in c.blocks if b.id == this)
    return Row(kind, block.name, block)


def put_on(project: Project, row: Row, onto: str = "") -> Edits:
    """A thing from the shelf on the craft: in place of its motor, propeller or battery, of what stands at the path ``onto``, or one
    component more."""
    if "." in onto:
        return ((onto, row.item),)
    if row.kind != "component":
        here = getattr(project.components, row.kind)
        place = {k: getattr(here, k) for k in ("x_mm", "z_mm") if hasattr(here, k)}
        return ((f"components.{row.kind}", row.item.model_copy(update=place)),)
    taken = {b.id for b in project.components.blocks}
    name = next(n for n in (f"block{i}" for i in range(1, 999)) if n not in taken)
    return (("components.blocks", (*project.components.blocks, row.item.model_copy(update={"id": name}))),)
