"""The memory of results: equal inputs are worked out once, and it is bounded by what it holds."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.memo import Memo, held_bytes
from fravik.model.paths import set_at


def test_an_array_counts_once_however_often_it_is_seen() -> None:
    one = np.zeros(1000)
    assert 8000 <= held_bytes({"a": one, "b": (one, one[10:])}) < 9000


@given(st.lists(st.integers(0, 40), min_size=1, max_size=200))
def test_it_never_holds_more_than_it_may_and_answers_rightly(keys: list[int]) -> None:
    memo = Memo(most_bytes=20 * 8000)
    for k in keys:
        assert memo.get("stage", k, lambda k=k: np.full(1000, k))[0] == k  # type: ignore[misc]
        assert memo.bytes <= 20 * 8000
    assert memo.hits + memo.misses == len(keys)
    misses = memo.misses
    memo.get("stage", keys[-1], lambda: np.zeros(1))
    assert memo.misses == misses


def test_a_craft_of_many_parts_is_remembered_whole() -> None:
    project = tern()
    leg = project.part("leg")
    legs = tuple(
        leg.model_copy(update={"id": f"leg{i}", "count": 1, "shape": leg.shape.model_copy(update={"thickness_mm": 6.0 + 0.1 * i})})
        for i in range(20)
    )
    many = project.model_copy(update={"parts": (*(p for p in project.parts if p.id != "leg"), *legs)})
    engine = Engine()
    engine.evaluate(many)
    misses = engine.memo.misses
    engine.evaluate(set_at(many, "brief.purpose", "the same parts"))
    assert engine.memo.misses == misses
