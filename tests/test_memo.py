"""The memory of results: equal inputs are worked out once, and it is bounded by what it holds."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.memo import MOST_BYTES, Memo, held_bytes
from fravik.kinds.newpart import part_for
from fravik.model.paths import set_at
from fravik.model.project import Project


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


def heavy() -> Project:
    """The demo with as many unlike guards as make it the largest craft that anybody draws."""
    project = tern()
    while len(project.parts) < 24:
        guard = part_for("guard", project)
        shape = guard.shape.model_copy(update={"span_deg": 60.0 + 4 * len(project.parts)})
        project = set_at(project, "parts", (*project.parts, guard.model_copy(update={"shape": shape, "count": 1})))
    return project


def test_what_the_evaluation_before_touched_is_kept_however_much_it_is() -> None:
    project, engine = heavy(), Engine()
    engine.evaluate(project)
    assert engine.memo.bytes > MOST_BYTES
    misses = engine.memo.misses
    engine.evaluate(set_at(project, "brief.purpose", "the same parts"))
    assert engine.memo.misses == misses
    for _ in range(3):  # a small craft again: what nobody asks for any more goes
        engine.evaluate(set_at(tern(), "parts.arm.shape.root_height_mm", 9.0 + 0.1 * _))
    assert engine.memo.bytes <= MOST_BYTES


def test_even_what_is_in_use_has_an_end() -> None:
    memo = Memo(most_bytes=8_000, end_bytes=80_000)
    memo.turn()
    for k in range(50):
        memo.get("stage", k, lambda k=k: np.full(1000, k))  # type: ignore[misc]
    assert 40_000 < memo.bytes <= 80_000


def test_the_same_design_is_not_judged_again_and_an_undo_finds_the_one_before() -> None:
    engine, project = Engine(), tern()
    first = engine.evaluate(project)
    other = engine.evaluate(set_at(project, "parts.arm.shape.root_height_mm", 11.0))
    assert engine.evaluate(tern()) is first
    assert other.margins != first.margins
    engine.evaluate(set_at(project, "parts.arm.shape.root_height_mm", 13.0))
    assert engine.evaluate(set_at(project, "parts.arm.shape.root_height_mm", 11.0)) is not other
    engine.forget()
    assert engine.memo.bytes == 0
    assert engine.evaluate(project) is not first


def test_a_key_is_told_apart_by_stage_and_content_alone() -> None:
    memo, made = Memo(), []

    def make(what: str) -> str:
        made.append(what)
        return what

    for stage, key in (("a", (1, "x")), ("b", (1, "x")), ("a", (1, "x")), ("a", (1.0, "x")), ("a", (1, "y"))):
        memo.get(stage, key, lambda stage=stage, key=key: make(f"{stage}{key}"))  # type: ignore[misc]
    # equal contents are one, as 1 and 1.0 are
    assert made == ["a(1, 'x')", "b(1, 'x')", "a(1, 'y')"]
