"""Decks on standoffs: over the body, under it, over one another."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.demo import DEMOS
from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee
from fravik.engine.results import Evaluation
from fravik.engine.validate.plates import even_plate
from fravik.kinds import kind_of, places_of
from fravik.kinds.newpart import part_for
from fravik.kinds.whole import placed_components
from fravik.model.paths import set_at, set_many
from fravik.model.project import Part, Project
from fravik.model.shapes import DeckShape
from fravik.shape.build import loose_pieces
from fravik.shape.deck import deck_plan, grid, standoffs
from fravik.structure.onpins import on_pins
from fravik.structure.plate import factor_plate


def _with(project: Project, *decks: Part) -> Project:
    return project.model_copy(update={"parts": (*project.parts, *decks)})


def _deck(part_id: str, **more: Any) -> Part:
    fields = {"length_mm": 70.0, "width_mm": 50.0, "pitch_x_mm": 56.0, "pitch_y_mm": 36.0, **more}
    return Part(id=part_id, name=part_id.replace("_", " ").capitalize(), shape=DeckShape(**fields))


@pytest.fixture(scope="module")
def stacked(engine: Engine, project: Project) -> Evaluation:
    decks = _deck("first", standoff_mm=30.0), _deck("second", over="first", standoff_mm=20.0), _deck("hung", side="below", standoff_mm=15.0)
    return engine.evaluate(_with(project, *decks))


def test_any_number_of_them_stand_where_they_must(stacked: Evaluation, project: Project) -> None:
    high = {p: float(places_of(stacked.project.part(p), stacked.project)[0].at_mm[2]) for p in ("first", "second", "hung")}
    top = project.part("top")
    roof = float(places_of(top, project)[0].at_mm[2]) + top.shape.thickness_mm  # type: ignore[union-attr]
    bottom = -project.part("bottom").shape.thickness_mm  # type: ignore[union-attr]
    assert high["first"] == pytest.approx(roof + 30.0)
    assert high["second"] == pytest.approx(roof + 30.0 + 2.4 + 20.0)
    assert high["hung"] == pytest.approx(bottom - 15.0 - 2.4)


def test_they_weigh_and_leave_the_rest_judged(engine: Engine, project: Project, result: Evaluation, stacked: Evaluation) -> None:
    decks = sum(stacked.parts[p].grams for p in ("first", "second", "hung"))
    assert stacked.craft.mass_g - result.craft.mass_g == pytest.approx(decks + 12 * 1.5, rel=1e-6)
    assert not stacked.scope.structure
    reserve = next(m for m in stacked.margins if m.metric == "least_reserve")
    assert reserve.value is not None
    assert "not judged" not in reserve.detail
    # nothing hangs from this one: it bears itself with ease
    assert {"first", "second", "hung"} <= set(stacked.plates)
    assert all(c.reserve > 10 for c in stacked.plates["hung"].cases["typical"].values())


def _loaded(project: Project, **more: Any) -> Project:
    """The pack on a deck over the body."""
    high = float(places_of(project.part("top"), project)[0].at_mm[2]) + project.part("top").shape.thickness_mm  # type: ignore[union-attr]
    deck = _deck("roof", standoff_mm=25.0, **more)
    b = project.components.battery
    top = high + 25.0 + deck.shape.thickness_mm  # type: ignore[union-attr]
    return set_at(_with(project, deck), "components.battery.z_mm", top + b.height_mm / 2)


def test_a_deck_bears_what_stands_on_it(engine: Engine, project: Project) -> None:
    def worst(made: Project) -> float:
        result = engine.evaluate(made)
        for corner in ("low", "typical", "high"):
            assert set(result.plates["roof"].cases[corner]) == {"pull_up", "hard_landing", "flat_drop"}  # type: ignore[index]
        low, usual = (result.plates["roof"].cases[c]["hard_landing"].reserve for c in ("low", "typical"))  # type: ignore[index]
        assert low <= usual
        return usual

    plain = worst(_loaded(project))
    assert plain < 5, "a pack is a load"
    assert worst(_loaded(project, thickness_mm=4.0)) > 1.5 * plain
    heavy = set_at(_loaded(project), "components.battery.mass_g", 2 * project.components.battery.mass_g)
    assert worst(heavy) < 0.75 * plain
    # one deck over another: the lower one bears both
    both = _with(_loaded(project), _deck("over", over="roof", standoff_mm=45.0))
    assert worst(both) <= plain * 1.05
    weak = engine.evaluate(_loaded(project, thickness_mm=1.2))
    assert any(f.id == "strength:roof" for f in foresee(engine, weak))
    assert next(m for m in weak.margins if m.metric == "least_reserve").detail.startswith("roof")
    steps = [s for ladder in kind_of(weak.project.part("roof").shape).ladders(weak.project.part("roof"), weak.project.part("roof").shape,
             weak.project) for s in ladder]  # fmt: skip
    assert worst(set_many(weak.project, steps[-1].edits)) > worst(weak.project)


@pytest.mark.parametrize("name", ["wren", "tern", "redshank", "dunlin"])
def test_a_new_one_stands_on_the_body_and_clear_of_what_lies_there(engine: Engine, name: str) -> None:
    craft = DEMOS[name]()
    new = part_for("deck", craft)
    found = engine.evaluate(_with(craft, new))
    upper = max((p for p in craft.parts if kind_of(p.shape).seat == "body"), key=lambda p: float(places_of(p, craft)[0].at_mm[2]))
    face = float(places_of(upper, craft)[0].at_mm[2]) + upper.shape.thickness_mm  # type: ignore[union-attr]
    stand = [b for b in placed_components(found.project) if b.name == "Standoff"]
    assert stand
    if "frame" in upper.shape.kind:  # its upper face is where heights are counted from
        face = 0.0
    assert {round(float(b.centre_mm[2] - b.size_mm[2] / 2), 6) for b in stand} == {round(face, 6)}
    assert not [f.id for f in foresee(engine, found) if f.id.startswith("fit.clash") and f.id.endswith(new.id)]
    assert found.plates[new.id].cases["low"]["flat_drop"].reserve > 2.0  # nothing stands on it yet, nor hangs from it


@settings(max_examples=25)
@given(long=st.floats(50.0, 160.0), wide=st.floats(40.0, 120.0), x=st.floats(-0.4, 0.4), y=st.floats(-0.4, 0.4), push=st.floats(0.5, 60.0))
def test_pins_balance_what_stands_on_a_plate(long: float, wide: float, x: float, y: float, push: float) -> None:
    grid, section = even_plate(long, wide, 3.0, 12, 10)
    pins = np.array([(sx * 0.4 * long, sy * 0.4 * wide) for sx in (-1, 1) for sy in (-1, 1)])
    at = np.array([(x * long, y * wide), (0.0, 0.0)])
    loads = np.array([-push, -0.3 * push])
    answer, forces, sag = on_pins(grid, section, factor_plate(grid, section), pins, 2.0, at, loads)
    take, points = forces[2 : 5 * 4 : 5], np.concatenate([pins, at])
    assert take.sum() == pytest.approx(-loads.sum(), rel=1e-6)
    assert np.abs((points * forces[2::5, None]).sum(axis=0)).max() < 1e-5 * push * long
    twice = on_pins(grid, section, factor_plate(grid, section), pins, 2.0, at, 2 * loads)
    assert twice[2] == pytest.approx(2 * sag, rel=1e-9)
    assert np.isfinite(answer.strains(forces[:, None])[0]).all()


def test_what_keeps_a_deck_from_standing(engine: Engine, project: Project) -> None:
    for edit, field in (
        ({"pitch_x_mm": 69.0}, "pitch_x_mm"), ({"corner_mm": 40.0}, "corner_mm"), ({"over": "nowhere"}, "over"),
        ({"window_length_mm": 65.0}, "window_length_mm"), ({"grid_pitch_mm": 4.0}, "grid_hole_mm"),
    ):  # fmt: skip
        found = engine.problems(_with(project, _deck("deck", **edit)))
        assert any(p.path == f"parts.deck.shape.{field}" and p.severity == "error" for p in found), field
    ring = _with(project, _deck("a", over="b"), _deck("b", over="a"))
    assert any("ring" in p.message for p in engine.problems(ring))


def test_a_deck_through_the_pack_is_foreseen(engine: Engine, project: Project) -> None:
    low = _with(project, _deck("deck", standoff_mm=5.0))
    assert any(f.id == "fit.clash:battery:deck" for f in foresee(engine, engine.evaluate(low)))


def test_the_one_that_is_added_fits(engine: Engine, project: Project) -> None:
    first = part_for("deck", project)
    one = _with(project, first)
    second = part_for("deck", one)
    assert second.shape.over == first.id  # type: ignore[union-attr]
    two = engine.evaluate(_with(one, second))
    assert two.parts[second.id].grams > 1
    moved = engine.evaluate(set_many(two.project, ((f"parts.{first.id}.shape.standoff_mm", 60.0),)))
    assert moved.craft.com_mm[2] > two.craft.com_mm[2]
    assert set_at(two.project, f"parts.{first.id}.shape.side", "below")


@settings(max_examples=25)
@given(st.floats(30, 200), st.floats(30, 200), st.floats(5, 40), st.floats(2.5, 20), st.floats(0, 60))
def test_grids_keep_clear(long: float, wide: float, pitch: float, hole: float, window: float) -> None:
    s = DeckShape(length_mm=long, width_mm=wide, corner_mm=5.0, pitch_x_mm=long - 12, pitch_y_mm=wide - 12, grid_pitch_mm=pitch,
                  grid_hole_mm=min(hole, pitch - 1.6), window_length_mm=min(window, long - 20), window_width_mm=min(window,
                      wide - 20))  # fmt: skip
    solid = deck_plan(s).extrude(s.thickness_mm)
    assert loose_pieces(solid) == 1
    clear = (s.window_length_mm / 2, s.window_width_mm / 2) if s.window_length_mm > 0 else None
    for x, y in grid(s, clear):
        assert all((x - a) ** 2 + (y - b) ** 2 > (s.grid_hole_mm / 2 + s.screw_hole_mm / 2) ** 2 for a, b in standoffs(s))
