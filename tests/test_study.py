"""Margins judge fairly, and ways out are what they say they are."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.engine.aloft import ALOFT
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.validate import as_markdown, as_table
from fravik.engine.validate.check import Check
from fravik.kinds import ladders
from fravik.model.paths import set_at, set_many
from fravik.model.project import Project
from fravik.study.levers import Lever, find_levers, open_margins
from fravik.study.margins import METRICS, Margin, judge, margin
from fravik.study.words import clock, limit_text, moment, number, spread_text, value_text


@pytest.mark.parametrize(
    ("low", "high", "limit", "sense", "verdict"),
    [
        (1.0, 2.0, 2.5, "at most", "holds"),
        (1.0, 2.0, 1.5, "at most", "tight"),
        (1.0, 2.0, 0.5, "at most", "fails"),
        (1.0, 2.0, 0.5, "at least", "holds"),
        (1.0, 2.0, 1.5, "at least", "tight"),
        (1.0, 2.0, 2.5, "at least", "fails"),
    ],
)
def test_judge(low: float, high: float, limit: float, sense: str, verdict: str) -> None:
    assert judge(low, high, limit, sense) == verdict  # type: ignore[arg-type]


@given(st.floats(0.1, 100), st.floats(0, 50), st.floats(0.1, 200))
def test_verdict_agrees_with_headroom(value: float, spread: float, limit: float) -> None:
    m = margin("a", "tip_sag_mm", limit, (value, value, value + spread))
    assert (m.safe_headroom >= 0) == (m.verdict == "holds")
    if m.verdict == "fails":
        assert m.headroom < 0


def test_unknown_values_are_not_judged() -> None:
    for values in (None, (float("nan"), 1.0, 2.0), (1.0, float("inf"), 2.0)):
        m = margin("a", "tip_sag_mm", 1.0, values)
        assert m.verdict == "not known yet"
        assert value_text(m) == "not known yet"
        assert spread_text(m) == ""
        assert m.headroom != m.headroom


def test_words() -> None:
    assert number(1150.4, 0) == "1 150"
    assert clock(449.4) == "7 h 29"
    assert clock(59.4) == "59 min"
    heavy = margin("w", "flying_mass_g", 1150.0, (860.0, 870.0, 880.0))
    assert (value_text(heavy), limit_text(heavy)) == ("870 g", "≤ 1 150 g")
    mode = margin("m", "modes_clear_pct", 10.0, (-4.0, 6.0, 12.0))
    assert (mode.verdict, limit_text(mode), spread_text(mode)) == ("tight", "≥ 10 %", "from -4 to 12 %")
    time = margin("t", "print_minutes", 960.0, (800.0, 850.0, 900.0))
    assert (value_text(time), limit_text(time), spread_text(time)) == ("14 h 10", "≤ 16 h 00", "from 13 h 20 to 15 h 00")


def test_every_metric_can_be_a_target(engine: Engine, project: Project) -> None:
    from fravik.model.project import Target

    targets = tuple(Target(id=f"t{i}", metric=k, limit=v.first_limit) for i, (k, v) in enumerate(METRICS.items()))
    result = engine.evaluate(project.model_copy(update={"targets": targets}))
    # a craft without a wing is asked what only a wing answers
    unknown = {m.metric for m in result.margins if m.verdict == "not known yet"}
    assert unknown == set(ALOFT)
    assert len(result.margins) == len(METRICS)


@pytest.fixture(scope="module")
def levers(engine: Engine, project: Project, result: Evaluation) -> list[Lever]:
    return find_levers(project, result.scores, engine.scores)


def test_at_least_four_kinds_of_lever_are_found(levers: list[Lever]) -> None:
    kinds = {v.kind for v in levers}
    assert {"height", "fillet", "carbon", "plate"} <= kinds
    assert kinds & {"walls", "core"}


def test_levers_do_what_they_claim(levers: list[Lever], engine: Engine, project: Project, result: Evaluation) -> None:
    assert len(levers) > 5
    for lever in levers:
        again = engine.scores(set_many(project, lever.edits))
        assert again is not None
        assert again.margins == lever.scores.margins
        assert lever.grams == pytest.approx(again.grams - result.scores.grams)
        assert lever.minutes == pytest.approx(again.minutes - result.scores.minutes)
        before = {m.id: m.verdict for m in result.margins}
        after = {m.id: m.verdict for m in again.margins}
        assert all(before[k] != after[k] for k in (*lever.cures, *lever.harms))
        assert lever.gain > 0


def test_the_first_lever_of_every_kind_comes_before_seconds(levers: list[Lever]) -> None:
    kinds = [v.kind for v in levers]
    distinct = len(set(kinds))
    assert len(set(kinds[:distinct])) == distinct


def test_ways_out_lead_to_a_craft_that_meets_all(engine: Engine, project: Project) -> None:
    for _ in range(10):
        scores = engine.scores(project)
        assert scores is not None
        if all(m.verdict == "holds" for m in scores.margins):
            return
        found = find_levers(project, scores, engine.scores)
        assert found, "a design with open targets has no way out"
        project = set_many(project, found[0].edits)
    pytest.fail("ten ways out did not lead to a craft that meets all its targets")


def test_nothing_open_no_levers(engine: Engine, project: Project) -> None:
    eased = project.model_copy(update={"targets": ()})
    scores = engine.scores(eased)
    assert scores is not None
    assert find_levers(eased, scores, engine.scores) == []
    assert open_margins(scores) == []


def test_the_search_can_be_cancelled_and_reports_progress(engine: Engine, project: Project, result: Evaluation) -> None:
    seen: list[tuple[int, int]] = []
    find_levers(project, result.scores, engine.scores, parts=("leg",), progress=lambda a, b: seen.append((a, b)))
    assert seen
    assert seen[-1][0] == seen[-1][1]
    calls = []

    def stop() -> bool:
        calls.append(1)
        return len(calls) > 3

    find_levers(project, result.scores, engine.scores, cancelled=stop)
    assert len(calls) == 4


def test_ladders_only_offer_filaments_that_the_printer_can_run(project: Project) -> None:
    part = project.part("arm")
    titles = [s.title for ladder in ladders(project, part) for s in ladder]
    assert not any("Carbon-filled" in t for t in titles)
    hard = set_at(project, "printer.hardened_nozzle", True)
    assert any("Carbon-filled" in s.title for ladder in ladders(hard, part) for s in ladder)


def test_a_wrong_figure_would_fail_its_check() -> None:
    right = Check("sag of a bar", "closed form", 2.0, 2.01, 0.01)
    wrong = replace(right, got=right.got * (1 + 3 * right.within))
    assert right.passed
    assert not wrong.passed
    assert "NO" in as_table([wrong])
    assert "| yes |" in as_markdown([right])
    assert not replace(right, expected=1.0, got=float("nan"), within=0.1).passed


def test_margin_type_is_plain_data() -> None:
    assert isinstance(margin("a", "tip_sag_mm", 1.0, (0.1, 0.2, 0.3)), Margin)


def test_moments_roll_over_midnight() -> None:
    assert moment(9.0, 0.0) == "day 1, 09:00"
    assert moment(22.0, 1.99999) == "day 2, 00:00"
    assert moment(9.0, 24.5) == "day 2, 09:30"


def test_prices_carry_the_makers_currency(engine: Engine, project: Project) -> None:
    from fravik.model.project import Target
    from fravik.study.words import money, value_text

    asked = (*project.targets, Target(id="cost", metric="material_cost", limit=20.0))
    result = engine.evaluate(set_many(project, (("targets", asked), ("brief.currency", "Kč"))))
    cost = next(m for m in result.margins if m.metric == "material_cost")
    assert value_text(cost).endswith(" Kč")
    assert money(3.456, "€") == "3.46 €"
    assert money(-0.001, "€", signed=True) == "+0.00 €"
    assert money(2.0, "") == "2.00"
