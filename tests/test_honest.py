"""Figures that must not mislead: what is judged, what is not, and why; each holds where it once went wrong."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.compare import plastics, weigh_choice
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.engine.ruler import WORST, governing_at, nearest_position, reserves_of
from fravik.engine.why import why
from fravik.kinds.newpart import part_for
from fravik.library import filament, filaments
from fravik.model.material import Filament
from fravik.model.paths import set_at, set_many
from fravik.model.problem import Problem
from fravik.model.project import OwnCase, Part, Project
from fravik.model.shapes import ImportedShape
from fravik.store import project_from_json, project_to_json
from fravik.structure.bond import Welding, layer_bond
from fravik.structure.excitation import ModeBand, clear_pct, clearance, meetings, orders
from fravik.structure.faults import StructureFault
from fravik.structure.sectionfe import Grids, solve_sections
from fravik.structure.solve import solve_positive
from fravik.study.margins import margin
from fravik.study.words import spread_text, value_text

STRUCTURE = {"tip_sag_mm", "modes_clear_pct", "mode_floor_hz", "least_reserve", "flat_drop_m", "arm_strike_m_s"}


def by_metric(result: Evaluation) -> dict[str, Any]:
    return {m.metric: m for m in result.margins}


def with_parts(*extra: Part, without: str = "") -> Project:
    t = tern()
    return t.model_copy(update={"parts": (*(p for p in t.parts if p.id != without), *extra)})


# modes


def test_rubber_arms_do_not_hold(with_edits: Callable[..., Evaluation]) -> None:
    found = by_metric(with_edits({"parts.arm.recipe.filament": "tpu"}))["mode_floor_hz"]
    assert found.verdict == "fails"
    assert found.value < 20
    assert found.limit == pytest.approx(2.5 * 16.0)


def test_the_floor_follows_the_loop(with_edits: Callable[..., Evaluation]) -> None:
    slow = by_metric(with_edits({"brief.loop_crossover_hz": 8.0}))["mode_floor_hz"]
    assert slow.limit == pytest.approx(20.0)
    assert slow.verdict == "holds"


def test_a_mode_in_the_band_is_never_green_while_another_is_clear(with_edits: Callable[..., Evaluation]) -> None:
    # a slower loop and a wider band of working speeds: one of the craft's many modes rings inside, the lowest far below
    result = with_edits({"brief.working_low": 0.6, "brief.working_high": 1.9})
    tile, worst = by_metric(result)["modes_clear_pct"], result.meetings[0]
    assert tile.verdict == "fails"
    assert worst.where == "working"
    assert worst.named in tile.detail
    assert any(m.where != "working" and result.verdict_of(m) == "holds" for m in result.meetings)


def test_the_tile_is_as_red_as_the_reddest_row(result: Evaluation) -> None:
    rank = {"holds": 0, "tight": 1, "fails": 2}
    worst = max((result.verdict_of(m) for m in result.meetings), key=lambda v: rank[v])
    assert rank[by_metric(result)["modes_clear_pct"].verdict] >= rank[worst]
    assert {m.mode.part_id for m in result.meetings} <= set(result.parts)
    assert {m.order.name for m in result.meetings} == {"1/rev", "blade pass"}


@given(st.floats(5.0, 900.0), st.floats(0.0, 0.2), st.floats(40.0, 120.0), st.floats(1.05, 2.0), st.integers(2, 5))
def test_clearance_is_of_the_worst_of_its_spread(freq: float, spread: float, low: float, ratio: float, blades: int) -> None:
    band = ModeBand("arm", "torsion", freq * (1 - spread), freq, freq * (1 + spread))
    met = meetings([band], orders(blades), 500.0, 30000.0, (low, low * ratio))
    for m in met:
        inside = (low * m.order.per_rev, low * ratio * m.order.per_rev)
        every = [clear_pct(f, inside) for f in np.linspace(band.low_hz, band.high_hz, 41)]
        assert m.clear_low_pct <= min(every) + 1e-6
        assert m.clear_high_pct >= max(clear_pct(band.low_hz, inside), clear_pct(band.high_hz, inside)) - 1e-9
        assert (m.where == "working") == (m.clear_low_pct < 0)
    found = clearance(met)
    assert found is not None
    assert found[0][1] == pytest.approx(min(m.clear_pct for m in met))


def test_what_is_met_above_the_working_speeds_says_so() -> None:
    (met, *_) = meetings([ModeBand("arm", "torsion", 195.0, 200.0, 205.0)], orders(2), 1000.0, 15000.0, (100.0, 150.0))
    above = next(m for m in meetings([met.mode], orders(2), 1000.0, 15000.0, (100.0, 150.0)) if m.order.name == "1/rev")
    assert above.where == "above"
    assert above.reached


def test_files_with_the_old_mode_target_get_both_new_ones() -> None:
    text = project_to_json(tern()).replace('"modes_clear_pct"', '"first_mode_hz"').replace('"mode_floor_hz"', '"tip_sag_mm"')
    metrics = [t.metric for t in project_from_json(text).targets]
    assert metrics.count("modes_clear_pct") == 1
    assert metrics.count("mode_floor_hz") == 1


# own cases


def test_own_cases_stand_beside_built_in_ones(engine: Engine, result: Evaluation) -> None:
    cases = (
        OwnCase(id="a", name="arm strike", force_z_n=0.0),
        OwnCase(id="b", name="tow", force_z_n=5.0),
        OwnCase(id="c", name="tow", force_z_n=50.0),
    )
    changed = engine.evaluate(set_at(tern(), "brief.own_cases", cases))
    assert by_metric(changed)["arm_strike_m_s"].value == pytest.approx(by_metric(result)["arm_strike_m_s"].value)
    arm = changed.members["arm"].cases["typical"]
    assert {"own/a", "own/b", "own/c", "arm_strike"} <= set(arm)
    assert arm["own/b"].reserve > arm["own/c"].reserve


# what is not judged


@pytest.mark.parametrize("count", [1, 3, 5, 6, 8])
def test_other_numbers_of_arms_are_not_judged(with_edits: Callable[..., Evaluation], count: int) -> None:
    result = with_edits({"parts.arm.count": count})
    unknown = {m.metric for m in result.margins if m.verdict == "not known yet"}
    assert unknown >= STRUCTURE | {"flying_mass_g", "endurance_min"}
    assert not result.members
    assert any(p.path == "parts.arm.count" and "Not judged" in p.message for p in result.problems)


def test_second_arm_third_plate_and_no_arm_are_not_judged(engine: Engine) -> None:
    t = tern()
    for craft in (with_parts(part_for("arm", t)), with_parts(part_for("top", t)), with_parts(without="arm")):
        result = engine.evaluate(craft)
        unknown = {m.metric for m in result.margins if m.verdict == "not known yet"}
        assert unknown >= STRUCTURE, craft.parts[-1].id
        assert all(m.detail for m in result.margins if m.metric in STRUCTURE)
        assert any("Not judged" in p.message for p in result.problems)


def test_copies_on_one_spot_are_told(engine: Engine) -> None:
    cube = "v 0 0 0 10 0 0 0 10 0 0 0 10"
    shape = ImportedShape.model_construct(kind="imported", mesh=cube, source="", scale=1.0, x_mm=0.0, y_mm=0.0, z_mm=0.0)
    from fravik.engine.scope import scope_of

    part = Part.model_construct(id="m", name="Cover", count=4, shape=shape)
    scope = scope_of(tern().model_copy(update={"parts": (*tern().parts, part)}))
    assert "arm_strike_m_s" in scope.unknown
    assert any("lie on one spot" in p.message for p in scope.problems)


def test_a_reserve_that_leaves_a_part_out_says_so(result: Evaluation) -> None:
    assert "not judged" not in by_metric(result)["least_reserve"].detail
    assert by_metric(result)["least_reserve"].detail


# advice, figures


def test_advice_is_for_the_brief_s_own_target(engine: Engine) -> None:
    result = engine.evaluate(set_many(tern(), (("targets.reserve.limit", 3.4), ("parts.leg.shape.root_fillet_mm", 0.5))))
    shown = reserves_of(result, "leg", "hard_landing")
    assert shown is not None
    assert "3.4" in why(result, "leg", shown)
    assert "1.5" not in why(result, "leg", shown).replace("1.5 ", "")


def test_ruler_and_card_read_one_figure(result: Evaluation) -> None:
    shown = reserves_of(result, "arm", WORST)
    assert shown is not None
    along = result.members["arm"].member.positions_mm
    for x in (0.0, 3.3, 41.7, 88.8):
        found = governing_at(result, "arm", WORST, x)
        assert found is not None
        assert found[2] == pytest.approx(float(shown.envelope()[nearest_position(along, x)]))


def test_falls_beyond_sense_do_not_break() -> None:
    m = margin("d", "flat_drop_m", 0.8, (300.0, 559.0, 900.0))
    assert value_text(m) == "does not break"
    assert "559" not in spread_text(m)
    assert m.verdict == "holds"


def test_endurance_carries_fifteen_percent(result: Evaluation) -> None:
    m = by_metric(result)["endurance_min"]
    assert m.low < 0.88 * m.value
    assert m.high > 1.12 * m.value


# layer bond


def test_warping_plastic_in_the_open_loses_to_pla(engine: Engine) -> None:
    crash = {}
    for enclosed in (False, True):
        craft = set_at(tern(), "printer.enclosed", enclosed)
        every = dict(plastics(craft, "arm"))
        crash[enclosed] = {n: weigh_choice(engine, craft, "arm", n, every[n]).crash for n in ("PLA", "ABS")}
    assert crash[False]["ABS"] < crash[False]["PLA"]
    assert crash[True]["ABS"] > crash[True]["PLA"]


@given(st.sampled_from(sorted(filaments())), st.floats(0, 1), st.floats(1, 2000), st.booleans(), st.booleans())
def test_bond_never_gains_from_open_air_fan_time_or_damp(kind: str, fan: float, layer_s: float, enclosed: bool, dried: bool) -> None:
    f = filament(kind)
    here = Welding(enclosed, fan, layer_s, dried)
    at = layer_bond(f, here)
    assert 0.2 <= at <= 1.0
    for better in (Welding(True, fan, layer_s, dried), Welding(enclosed, min(fan, f.usual_fan), layer_s, dried),
                   Welding(enclosed, fan, min(layer_s, 25.0), dried), Welding(enclosed, fan, layer_s, True)):  # fmt: skip
        assert layer_bond(f, better) >= at


def test_a_part_says_what_its_bond_lost(with_edits: Callable[..., Evaluation]) -> None:
    result = with_edits({"parts.arm.recipe.filament": "abs"})
    assert any("in the open" in p.message for p in result.problems if p.path == "parts.arm.recipe.filament")


# solvers


def test_a_section_that_cannot_be_solved_is_told() -> None:
    bad = np.full((1, 4, 4), np.nan)
    with pytest.raises(StructureFault) as err:
        solve_sections(Grids(np.arange(5.0)[None], np.arange(5.0)[None], bad, bad, bad))
    assert err.value.code == "section.unsolved"


def test_what_is_not_held_is_told() -> None:
    with pytest.raises(StructureFault):
        solve_positive(np.diag([1.0, 0.0]), np.ones((2, 1)))


def test_a_structure_that_fails_becomes_a_refusal_at_its_part(monkeypatch: pytest.MonkeyPatch) -> None:
    def fail(*_: object, **__: object) -> None:
        raise StructureFault("plate.loose", "The plate hangs together by nothing.")

    monkeypatch.setattr("fravik.engine.body.solve_loads", fail)
    with pytest.raises(Refused) as err:
        Engine().evaluate(tern())
    assert err.value.problems[0].path == "parts.bottom.shape"


@pytest.mark.parametrize("edits", [
    {"components.battery.x_mm": 300.0}, {"layout.clamp_radius_mm": 124.0},
    {"components.battery.x_mm": -300.0, "layout.leg_radius_mm": 400.0},
])  # fmt: skip
def test_ordinary_extremes_are_answered(with_edits: Callable[..., Evaluation], edits: dict[str, Any]) -> None:
    figures: list[float | None] = []
    problems: list[Problem] = []
    try:
        figures = [m.value for m in with_edits(edits).margins]
    except Refused as err:
        problems = err.problems
    assert bool(figures) != bool(problems)  # answered, or refused in words at a field
    assert all(p.path and p.message for p in problems)
    assert all(v is None or np.isfinite(v) for v in figures)


def test_a_single_plate_with_one_row_of_bolts_is_answered(engine: Engine) -> None:
    result = engine.evaluate(set_at(with_parts(without="top"), "parts.arm.shape.tongue_bolt_rows", 1))
    assert result.members["arm"].answers["typical"].freqs_hz[0] > 0


@pytest.mark.parametrize("nu", [10.0, -5.0, 0.5])
def test_impossible_poisson_ratios_are_refused(nu: float) -> None:
    with pytest.raises(ValueError, match="poisson"):
        Filament.model_validate({**filament("pla").model_dump(), "poisson": nu})


def test_a_pack_over_the_edge_is_told(with_edits: Callable[..., Evaluation]) -> None:
    found = [p for p in with_edits({"components.battery.x_mm": 70.0}).problems if p.path == "components.battery.x_mm"]
    assert found
    assert "past the plate" in found[0].message


@pytest.mark.parametrize(("part", "field"), [("bottom", "width_mm"), ("top", "length_mm")])
def test_a_plate_larger_than_the_craft_is_told_at_its_own_field(engine: Engine, part: str, field: str) -> None:
    at = f"parts.{part}.shape.{field}"
    with pytest.raises(Refused) as told:
        engine.evaluate(set_many(tern(), ((at, 990.0),)))
    assert [p.path for p in told.value.problems] == [at]
    assert "990 mm" in str(told.value)
    assert "whole craft" in str(told.value)
