"""Readings taken off a blade, from a table: one position a line."""

from __future__ import annotations

import csv
import io
from pathlib import Path
from typing import TypeVar

from pydantic import ValidationError

from fravik.model.base import explain
from fravik.model.blade import Reading, ThrustReading

from .fileproblem import FileProblem

M = TypeVar("M", Reading, ThrustReading)
STAND_COLUMNS = ("rpm", "thrust_n", "power_w")
COLUMNS = ("radius_mm", "chord_mm", "leading_mm", "trailing_mm", "thickness_mm")
MOST_BYTES, MOST_LINES = 200_000, 200


def read_readings(path: Path) -> tuple[Reading, ...]:
    """From a .csv file whose first line names the columns. Raises FileProblem with the line and what is wrong there."""
    return tuple(_read(path, COLUMNS, (), Reading))


def read_stand(path: Path) -> tuple[ThrustReading, ...]:
    """What a thrust stand told, the same way; the power may be left out. Raises FileProblem."""
    return tuple(_read(path, STAND_COLUMNS[:2], STAND_COLUMNS[2:], ThrustReading))


def _read(path: Path, columns: tuple[str, ...], optional: tuple[str, ...], made: type[M]) -> list[M]:
    raw = path.read_bytes()
    if len(raw) > MOST_BYTES:
        raise FileProblem(f"{path.name} is too large for a list of readings.")
    text = raw.decode("utf-8-sig", errors="replace")
    first = text.splitlines()[0] if text.strip() else ""
    table = list(csv.reader(io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ","))
    names: list[str] = [c.strip().lower() for c in table[0]] if table else []
    missing = [c for c in columns if c not in names]
    if missing:
        raise FileProblem(f"{path.name} has no column {missing[0]}; its first line names {', '.join(columns)}.")
    there = [*columns, *(c for c in optional if c in names)]
    out: list[M] = []
    for number, row in enumerate(table[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        if len(out) >= MOST_LINES:
            raise FileProblem(f"{path.name} has over {MOST_LINES} readings.")
        try:
            values = {c: float(row[names.index(c)].replace(",", ".")) for c in there}
            out.append(made(**values))
        except (ValueError, IndexError) as err:
            why = explain(err, made)[0][1].rstrip(".") if isinstance(err, ValidationError) else "a number is missing or cannot be read"
            raise FileProblem(f"{path.name}, line {number}: {why}.") from None
    return out
