"""Tables as CSV text. Spreadsheets take a cell that begins with = + - or @ for a formula and may run it: such text stays text."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

_FORMULA = ("=", "+", "-", "@", "\t")


def cell(value: object) -> object:
    """Text that a spreadsheet would run is marked as text, with the apostrophe that spreadsheets know, and has line ends of one kind, or
    a lone one would end the row; numbers stay as they are."""
    if not isinstance(value, str):
        return value
    text = value.replace("\r\n", "\n").replace("\r", "\n")
    return "'" + text if text.lstrip(" \n").startswith(_FORMULA) else text


def csv_text(rows: Iterable[Sequence[object]]) -> str:
    """Rows as CSV."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows([cell(v) for v in row] for row in rows)
    return out.getvalue()
