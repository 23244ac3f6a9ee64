"""The controller's loop on the frame: margins, verdicts, cures in the tune and in the frame, the page."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.cli import main
from fravik.demo import DEMOS, tern
from fravik.engine.compare import plastics, weigh_choice
from fravik.engine.evaluate import Engine
from fravik.engine.foresee.ring import found, other_tunes, tune_edits
from fravik.engine.loopneed import need_words
from fravik.engine.results import Evaluation
from fravik.engine.ring import IDLE, PUNCH, PUNCHED, WANTED_DB, bears_hz, craft_of, ring_of, second_of
from fravik.engine.ringview import in_words, sight, watched
from fravik.engine.validate.loop import MOTORS, bending_craft, loop_of, right_poles
from fravik.flight.loop import margins, tuned, unstable_poles
from fravik.flight.looptime import simulate
from fravik.kinds.newcraft import Wish, sized
from fravik.model.paths import set_many
from fravik.model.project import Project, Target
from fravik.model.tune import HOUSE, Tune, in_force


@pytest.fixture(scope="module")
def engine() -> Engine:
    return Engine()


@pytest.fixture(scope="module")
def flown(engine: Engine) -> Evaluation:
    return engine.evaluate(quick())


@pytest.fixture(scope="module")
def y6(engine: Engine) -> Evaluation:
    return engine.evaluate(DEMOS["dunlin"]())


def quick() -> Project:
    """Tern with the loop that its brief asks for."""
    return set_many(tern(), (("tune", Tune()),))


def asked(project: Project, limit: float = 6.0) -> Project:
    return set_many(project, (("targets", (*project.targets, Target(id="ring", metric="ring_margin_db", limit=limit))),))


# the loop by itself

tunes = st.tuples(st.floats(0.0, 1.2), st.floats(3.0, 12.0), st.floats(5e-4, 6e-3))
crafts = st.builds(bending_craft, st.floats(-1.0, 1.0), st.tuples(st.floats(35.0, 80.0), st.floats(100.0, 250.0)), st.floats(0.005, 0.05))


@given(crafts, tunes)
@settings(max_examples=25)
def test_the_count_is_that_of_the_poles(plant: Any, tune: tuple[float, float, float]) -> None:
    lead, lowpass, delay_s = tune
    c = tuned(plant, MOTORS, 20.0, lead, lowpass, (), 4.0, delay_s)
    w, loop = loop_of(plant, MOTORS, c)
    found = margins(w, loop)
    # where any of its turns runs through the very edge the two may be a hair apart
    if np.abs(1 + loop).min() > 0.06:
        assert found.unstable == right_poles(plant, c)
        assert (found.gain_db < 0) == (found.unstable > 0)


@given(crafts, tunes, st.floats(0.5, 12.0))
@settings(max_examples=25)
def test_more_gain_never_leaves_more_margin(plant: Any, tune: tuple[float, float, float], db: float) -> None:
    c = tuned(plant, MOTORS, 20.0, tune[0], tune[1], (), 4.0, tune[2])
    w, loop = loop_of(plant, MOTORS, c)
    before, after = margins(w, loop).gain_db, margins(w, loop * 10 ** (db / 20)).gain_db
    if before < 55.0:
        assert after <= before + 1e-6
    if 0 < before < 55.0 and db < before - 0.1:
        assert after == pytest.approx(before - db, abs=0.05)


@given(st.floats(-1.0, 1.0), st.floats(0.3, 3.0))
@settings(max_examples=25)
def test_a_rigid_loop_crosses_where_it_was_told_to(bend: float, times: float) -> None:
    plant = bending_craft(bend).rigid()
    c = tuned(plant, MOTORS, 20.0 * times, 0.7, 6.0, (), 4.0, 0.002)
    w, loop = loop_of(plant, MOTORS, c)
    at = w[np.flatnonzero(np.abs(loop) < 1.0)[0]] / (2 * np.pi)
    assert at == pytest.approx(20.0 * times, rel=0.04)  # within a step of the frequencies
    assert unstable_poles(loop) % 2 == 0


def test_what_is_quiet_dies_away_and_what_runs_away_goes_from_stop_to_stop() -> None:
    low, high = np.full(4, -2.0), np.full(4, 3.0)
    calm = bending_craft(-0.05)
    c = tuned(calm, MOTORS, 20.0, 0.7, 6.0, (), 4.0, 0.002)
    assert margins(*loop_of(calm, MOTORS, c)).gain_db > 3.0
    assert simulate(calm, MOTORS, c, low, high).swing < 0.01
    soft = bending_craft(0.8)
    c = tuned(soft, MOTORS, 20.0, 0.7, 6.0, (), 4.0, 0.002)
    assert margins(*loop_of(soft, MOTORS, c)).gain_db < 0
    assert simulate(soft, MOTORS, c, low, high, 2.0).swing > 0.9


def test_a_notch_on_the_mode_quiets_it() -> None:
    plant = bending_craft(0.6, (60.0,))
    plain, notched = (tuned(plant, MOTORS, 20.0, 0.7, 6.0, notch, 2.0, 0.002) for notch in ((), (60.0,)))
    assert margins(*loop_of(plant, MOTORS, notched)).gain_db > margins(*loop_of(plant, MOTORS, plain)).gain_db + 3.0
    assert replace(plain, notch_hz=(60.0,)) != notched  # its gain was found with the notch in it


# on crafts


def test_a_craft_that_runs_away_as_drawn_is_quiet_in_a_calmer_tune(flown: Evaluation, engine: Engine) -> None:
    craft = craft_of(flown)
    assert craft is not None
    ring = ring_of(flown, None, craft)
    assert ring is not None
    assert ring.worst is not None
    assert ring.worst.verdict == "runs away"
    assert second_of(craft, flown, flown.project.tune, ring.worst.axis, ring.worst.at).swing > 0.8
    (finding,) = found(engine, flown)
    assert finding.weight == "grave"
    assert "never hold a craft" in finding.advice
    after = engine.evaluate(set_many(flown.project, finding.cures[0].edits))
    calm = ring_of(after)
    assert calm is not None
    assert all(a.verdict == "quiet" for a in calm.axes)
    assert calm.crossover_hz < ring.crossover_hz  # which is what it costs
    assert not list(found(engine, after))


def test_a_second_at_idle_and_in_a_punch(flown: Evaluation, engine: Engine) -> None:
    """What runs away at its worst is driven hard there too, between stops that lie where the throttle puts them."""
    ring = ring_of(flown)
    assert ring is not None
    assert ring.worst is not None
    idle, hover, punch = (watched(engine, flown, ring.worst, when) for when in (IDLE, "hover", PUNCHED))
    assert idle.second.asked[0].max() < 0.05  # motors begin at the least that they turn
    assert 0.2 < hover.second.asked[0].mean() < 0.6
    assert 0.6 < punch.second.asked[0].mean() <= PUNCH + 0.01
    assert min(idle.second.swing, punch.second.swing) > 0.3
    for w in (idle, hover, punch):
        assert 0 <= w.second.asked.min() <= w.second.asked.max() <= 1
        assert w.warm_c.typical > flown.project.brief.service_temp_c


def test_tern_flies_calm(engine: Engine) -> None:
    ring = ring_of(engine.evaluate(tern()))
    assert ring is not None
    assert ring.quiet
    assert ring.crossover_hz < 0.5 * tern().brief.loop_crossover_hz


def test_the_same_craft_is_quiet_with_a_stiffer_frame(engine: Engine) -> None:
    sizes = {"root_height_mm": 22.0, "tip_height_mm": 20.0, "root_width_mm": 28.0, "tip_width_mm": 26.0}
    tune = in_force(HOUSE["easy"]).model_copy(update={"house": "own", "follows": 0.57, "lowpass": 4.0})
    drawn = engine.evaluate(quick())
    stiffer = engine.evaluate(set_many(quick(), tuple((f"parts.arm.shape.{k}", v) for k, v in sizes.items())))
    before, after = ring_of(drawn, tune), ring_of(stiffer, tune)
    assert before is not None
    assert before.worst is not None
    assert before.worst.verdict == "runs away"
    assert after is not None
    assert after.quiet
    assert stiffer.craft.mass_g > drawn.craft.mass_g + 50  # which is what it costs


def test_a_softer_plastic_alone_can_make_it_ring(y6: Evaluation, engine: Engine) -> None:
    arms = [p.id for p in y6.project.parts if p.shape.kind == "arm"]
    soft = engine.evaluate(set_many(y6.project, tuple((f"parts.{k}.recipe.filament", "tpu") for k in arms)))
    usual, changed = (ring_of(r, HOUSE["easy"]) for r in (y6, soft))
    assert usual is not None
    assert usual.worst is not None
    assert changed is not None
    assert changed.worst is not None
    assert usual.worst.typical.gain_db > 0 > changed.worst.typical.gain_db


def test_another_plastic_says_what_it_moves_and_the_tune_that_it_needs(y6: Evaluation, engine: Engine) -> None:
    project = set_many(y6.project, (("tune", HOUSE["easy"]),))
    arm = next(p.id for p in project.parts if p.shape.kind == "arm")
    ways = {str(edits[0][1]): edits for _, edits in plastics(project, arm)}
    here, soft = (weigh_choice(engine, project, arm, "", ways[k]).loop for k in (project.part(arm).recipe.filament, "tpu"))
    assert here is not None
    assert soft is not None
    assert soft.bears_hz < here.bears_hz
    assert soft.gain_db < here.gain_db
    words = need_words(soft, here)
    assert f"loop {soft.verdict} about {soft.axis} ({here.verdict} today)" in words
    assert f"→ {soft.modes[0][1]:.0f} Hz" in words
    assert "today" not in need_words(here, None)
    turned = weigh_choice(engine, project, arm, "", ((f"parts.{arm}.recipe.lies", "on_side"),))
    assert turned.loop is None


def test_what_a_frame_bears_it_bears(y6: Evaluation) -> None:
    craft = craft_of(y6)
    assert craft is not None
    most = bears_hz(y6, craft)
    wanted = y6.project.brief.loop_crossover_hz
    assert 0 < most < wanted
    for share, quiet in ((0.97, True), (1.2, False)):
        own = in_force(y6.project.tune).model_copy(update={"house": "own", "follows": share * most / wanted})
        ring = ring_of(y6, own, craft)
        assert ring is not None
        assert ring.worst is not None
        assert (ring.worst.typical.gain_db >= WANTED_DB) == quiet


def test_turning_a_craft_about_changes_no_axis_but_by_name(y6: Evaluation) -> None:
    ring = ring_of(y6)
    assert ring is not None
    assert [a.axis for a in ring.axes] == ["roll", "pitch", "yaw"]
    low, usual, high = ring.axes[0].spread_db
    assert low <= usual <= high


def test_yaw_that_a_servo_turns_is_not_judged(engine: Engine) -> None:
    tri = engine.evaluate(sized(Wish("tri")))
    ring = ring_of(tri)
    assert ring is not None
    assert [a.axis for a in ring.axes] == ["roll", "pitch"]
    assert ring.left_out[0][0] == "yaw"


def test_the_target_asks_for_it_and_says_what_rings(engine: Engine, flown: Evaluation) -> None:
    margin = next(m for m in engine.evaluate(asked(quick())).margins if m.metric == "ring_margin_db")
    ring = ring_of(flown)
    assert ring is not None
    assert ring.worst is not None
    assert margin.value == pytest.approx(ring.worst.typical.gain_db)
    assert margin.verdict == "fails"
    assert ring.worst.axis in margin.detail
    bare = set_many(asked(tern()), (("parts", tuple(p for p in tern().parts if p.shape.kind != "plate")),))
    unknown = next(m for m in engine.evaluate(bare).margins if m.metric == "ring_margin_db")
    assert unknown.verdict == "not known yet"


def test_calmer_tunes_come_nearest_first() -> None:
    every = [t for _, t in other_tunes(Tune(house="keen", delay_ms=3.0))]
    assert [t.follows for t in every] == sorted((t.follows for t in every), reverse=True)
    assert all(t.delay_ms == 3.0 for t in every)
    assert set_many(tern(), tune_edits(every[0])).tune == every[0]


def test_on_the_command_line(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["evaluate", "--demo", "dunlin", "--json", "--tune", "easy"]) == 0
    rows = json.loads(capsys.readouterr().out)["ring"]
    assert [r["axis"] for r in rows] == ["roll", "pitch", "yaw"]
    assert {"verdict", "gain_margin_db", "phase_margin_deg", "freq_hz", "mode", "tune"} <= set(rows[0])
    assert all(r["tune"] == "easy" for r in rows)


def test_in_the_window(window: Any, qapp: Any) -> None:
    window.session.edit("tune.house", "usual")
    window.show_stage("Vibration")
    view, session = window.view("Vibration"), window.session
    view.reveal("tune.house")
    assert view.left.currentIndex() == 1
    assert until(qapp, lambda: view.ring.seen is not None and bool(view.ring.lines))
    assert set(view.ring.lines) == {"roll", "pitch", "yaw"}
    seen = sight(session.engine, session.result)
    assert seen is not None
    assert in_words(seen) in view.ring.told.text()
    view.ring.pick("roll")
    assert view.mode == next(a.mode for a in seen.ring.axes if a.axis == "roll")
    for key, words in (("worst", "in a descent"), ("idle", "at idle"), ("punch", "in a punch")):
        view.ring.when.setCurrentIndex(view.ring.when.findData(key))
        assert until(qapp, lambda words=words: words in view.ring.second.getAxis("bottom").labelText)
        assert view.ring.second.listDataItems()
    view.tune.add_target()
    assert any(m.metric == "ring_margin_db" and m.verdict == "fails" for m in session.result.margins)
    view.tune.use(seen.tried[0])
    assert session.project.tune.house == "own"
    assert until(qapp, lambda: view.ring.seen is not None and view.ring.seen.ring.tune == session.project.tune)
    assert view.tune.form.fields["tune.follows"].isVisible()
    view.show_page(0)
    assert view.left.currentIndex() == 0
