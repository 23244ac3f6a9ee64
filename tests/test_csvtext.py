"""Text that a spreadsheet would run stays text in every table."""

from __future__ import annotations

import csv
import io

from hypothesis import example, given
from hypothesis import strategies as st

from fravik.engine.evaluate import Engine
from fravik.engine.export import sheet_rows
from fravik.model.paths import set_at
from fravik.model.project import Project
from fravik.plan.csvtext import csv_text
from fravik.plan.table import parts_csv


@example(["\r0"])
@given(st.lists(st.one_of(st.text(), st.integers(), st.floats(allow_nan=False)), min_size=1, max_size=6))
def test_no_text_cell_begins_like_a_formula_and_nothing_is_lost(row: list[object]) -> None:
    (back,) = csv.reader(io.StringIO(csv_text([row]), newline=""))
    assert len(back) == len(row)
    for value, found in zip(row, back, strict=True):
        if isinstance(value, str):
            text = value.replace("\r\n", "\n").replace("\r", "\n")
            assert found.removeprefix("'") in (text, text.removeprefix("'"))
            assert not found.lstrip(" \n").startswith(("=", "+", "-", "@", "\t"))
        else:
            assert type(value)(found) == value


def test_a_part_named_like_a_formula(engine: Engine, project: Project) -> None:
    nasty = set_at(project, "parts.arm.name", "=HYPERLINK(1)")
    assert "'=HYPERLINK(1)" in parts_csv(sheet_rows(engine.evaluate(nasty)))
