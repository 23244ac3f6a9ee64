"""Readings taken off a blade, from a table: one position a line."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from pydantic import ValidationError

from fravik.model.base import explain
from fravik.model.blade import Reading

from .fileproblem import FileProblem

COLUMNS = ("radius_mm", "chord_mm", "leading_mm", "trailing_mm", "thickness_mm")
MOST_BYTES, MOST_LINES = 200_000, 200


def read_readings(path: Path) -> tuple[Reading, ...]:
    """From a .csv file whose first line names the columns. Raises FileProblem with the line and what is wrong there."""
    raw = path.read_bytes()
    if len(raw) > MOST_BYTES:
        raise FileProblem(f"{path.name} is too large for a list of readings.")
    text = raw.decode("utf-8-sig", errors="replace")
    first = text.splitlines()[0] if text.strip() else ""
    rows = csv.reader(io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ",")
    names = [c.strip().lower() for c in next(rows, [])]
    missing = [c for c in COLUMNS if c not in names]
    if missing:
        raise FileProblem(f"{path.name} has no column {missing[0]}; its first line names {', '.join(COLUMNS)}.")
    out: list[Reading] = []
    for number, row in enumerate(rows, start=2):
        if not any(cell.strip() for cell in row):
            continue
        if len(out) >= MOST_LINES:
            raise FileProblem(f"{path.name} has over {MOST_LINES} readings.")
        try:
            values = {c: float(row[names.index(c)].replace(",", ".")) for c in COLUMNS}
            out.append(Reading(**values))
        except (ValueError, IndexError) as err:
            why = explain(err, Reading)[0][1].rstrip(".") if isinstance(err, ValidationError) else "a number is missing or cannot be read"
            raise FileProblem(f"{path.name}, line {number}: {why}.") from None
    return tuple(out)
