"""Names beside marks of a ruler, and buttons that flow onto a second line."""

from __future__ import annotations

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from fravik.app.widgets.besidemarks import named
from fravik.app.widgets.flowing import Flowing
from fravik.app.widgets.short import ShortButton

MARKS = st.lists(st.tuples(st.floats(0.0, 100.0), st.floats(1.0, 60.0)), min_size=1, max_size=12)


@given(MARKS)
def test_no_name_lies_on_another_or_over_the_end(marks: list[tuple[float, float]]) -> None:
    places, wide = [m for m, _ in marks], [w for _, w in marks]
    shown = named(places, wide, range(len(marks)), 0.0, 100.0)
    spans = [(places[k], places[k] + wide[k]) if after else (places[k] - wide[k], places[k]) for k, after in shown.items()]
    assert all(a >= 0.0 and b <= 100.0 for a, b in spans)
    for i, (a, b) in enumerate(spans):
        assert all(b <= c or a >= d for c, d in spans[i + 1 :])
    # the one that counts most has its name wherever it fits beside its mark at all
    assert (0 in shown) == (places[0] + wide[0] <= 100.0 or places[0] - wide[0] >= 0.0)


def test_a_name_stands_where_no_mark_crosses_it_if_it_can() -> None:
    assert named([50.0, 60.0], [20.0, 20.0], (0, 1), 0.0, 100.0) == {0: False, 1: True}


def test_buttons_flow_onto_a_second_line_and_back(qapp: Any) -> None:
    row = Flowing()
    buttons = [ShortButton(f"Landing leg × {k}") for k in range(8)]
    row.resize(2000, 60)
    row.hold(buttons)
    row.show()
    qapp.processEvents()
    assert len({b.y() for b in buttons}) == 1
    row.resize(600, 60)
    qapp.processEvents()
    assert len({b.y() for b in buttons}) == 2
    assert [b.text() for b in sorted(buttons, key=lambda b: (b.y(), b.x()))] == [b.text() for b in buttons]
    row.keep_low(True)
    qapp.processEvents()
    assert len({b.y() for b in buttons}) == 1
    row.hold(buttons[:0])
