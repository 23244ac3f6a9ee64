"""The way over: rotors in streams, balance, the corridor, flights, hover under a wing, tilt, centre of mass, steps, the command and the
stage."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from fravik.app.window import MainWindow
from fravik.cli import main
from fravik.demo import ruff, wheatear, whimbrel
from fravik.engine.aloft import corridor_found
from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee
from fravik.engine.hovering import hover_sight
from fravik.engine.remedies import remedies
from fravik.engine.results import Refused
from fravik.engine.sideview import side_view
from fravik.engine.stepcards import step_cards
from fravik.engine.tilting import has_nmm, tilts_of
from fravik.engine.transition import TransitionSight, transition_sight, way_rows
from fravik.engine.validate.wings import plain_flyer
from fravik.engine.wing import flyer, wing_sight
from fravik.flight.aero.corridor import Corridor, corridor, row_of, way_through
from fravik.flight.aero.flyer import Flyer
from fravik.flight.aero.forces import FX, FZ, NOSE_UP, forces
from fravik.flight.aero.trim import (
    C_LIFT,
    C_RESIDUAL,
    C_STALLED,
    C_WHY,
    FLIES,
    GAIN,
    SINKS,
    SURFACE,
    THRUST_A,
    THRUST_B,
)
from fravik.kinds.newcraft import Wish, sized
from fravik.kinds.newpart import part_for
from fravik.model.craft import FreeStation, Layout
from fravik.model.paths import set_at, set_many
from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.model.wing import Flying, StepDone, Tilt, TiltDrive, Waypoint, WingShape
from fravik.power.bem import RHO
from fravik.power.oblique import disk, inflow, most_n, shaft_w, turns

G = 9.80665
FOAM = Recipe(filament="pla_foam", lies="on_end", walls=1, cover_layers=0, core_density=0.0, line_width_mm=0.5)


@pytest.fixture(scope="module")
def sights(engine: Engine) -> dict[str, TransitionSight]:
    out = {}
    for name, made in (("wheatear", wheatear()), ("whimbrel", whimbrel()), ("ruff", ruff())):
        found = transition_sight(engine, engine.evaluate(made))
        assert found is not None
        out[name] = found
    return out


@pytest.fixture(scope="module")
def small() -> tuple[Flyer, Corridor]:
    f = plain_flyer()
    return f, corridor(f, 14, 9)


# rotors and balance


@settings(max_examples=40)
@given(st.floats(0.08, 0.5), st.floats(0.4, 1.0), st.floats(0.2, 20.0), st.floats(-2.0, 25.0), st.floats(0.0, 25.0))
def test_a_rotor_in_any_stream(wide: float, steep: float, thrust: float, along: float, across: float) -> None:
    d = disk(wide, steep * wide, 0.1, 0.6, 15.0, 1000.0, 0.08, 0.7)
    v = inflow(thrust, d.area, along, across)
    still = math.sqrt(thrust / (2 * RHO * d.area))
    through = max(along, -0.5 * still) + v
    assert 2 * RHO * d.area * v * math.hypot(through, across) == pytest.approx(thrust, rel=1e-6)
    w = turns(d, thrust, along, across, v)
    assert w > 0
    if along >= 0:
        # no less than what the air is given
        assert shaft_w(d, thrust, along, across, v, w) >= thrust * (along + v) * 0.999
    assert inflow(thrust, d.area, along + 5, across) < v + 1e-9


def test_thrust_falls_with_speed_and_ends() -> None:
    d = disk(0.23, 0.12, 0.105, 0.6, 15.0, 900.0, 0.09, 0.8)
    each = [most_n(d, v, 0.0) for v in (0.0, 5.0, 10.0, 20.0, 60.0)]
    assert all(a > b for a, b in itertools.pairwise(each))
    assert each[-1] < 0.02 * each[0]


def test_what_is_balanced_is_balanced(small: tuple[Flyer, Corridor]) -> None:
    f, c = small
    good = np.argwhere(c.flies)
    assert len(good) > 40
    assert float(c.points[..., C_RESIDUAL][c.flies].max()) < 1e-8
    # beyond stall more than one load can hold: which, its history says
    for p, v in [i for i in good if c.points[*i, C_STALLED] == 0][::5]:
        row, over, speed = c.points[p, v], float(c.over[p]), float(c.speed_m_s[v])
        cs, sn = math.cos(row[0]), math.sin(row[0])
        acts, _ = forces(f.air, over, speed * cs, speed * sn, 0.0, np.array([row[THRUST_A], row[THRUST_B], 0.0]), row[SURFACE], row[5],
                         np.zeros(len(f.air.width)))  # fmt: skip
        ahead, up = acts[FX] * cs - acts[FZ] * sn, acts[FX] * sn + acts[FZ] * cs
        assert ahead == pytest.approx(f.mass_kg * row[GAIN], abs=1e-5)
        assert up == pytest.approx(f.weight_n, rel=1e-6)
        assert acts[NOSE_UP] == pytest.approx(0.0, abs=1e-5)


def test_the_corridor_has_the_shape_that_it_must(small: tuple[Flyer, Corridor]) -> None:
    f, c = small
    assert c.flies[0, 0], "it hovers upright"
    assert c.why[-1, 0] == SINKS, "and sinks lying flat without speed"
    fast = int(np.searchsorted(c.speed_m_s, 14.0))
    assert c.flies[-1, fast], "and flies on its wing"
    assert c.points[-1, fast, C_LIFT] > 0.7
    assert c.points[0, 0, C_LIFT] < 0.1
    heavy = Flyer(f.surfaces, f.rotors, f.body, 3 * f.mass_kg, f.inertia, f.com_m, top_m_s=f.top_m_s)
    assert row_of(heavy, 0.0, np.array([0.0]))[0, C_WHY] != FLIES, "too heavy to hover"


def test_a_way_never_goes_back_on_itself(small: tuple[Flyer, Corridor]) -> None:
    _, c = small
    for gain in (1.0, -1.0):
        way = way_through(c, 14.0, gain)
        assert (np.diff(way.over) >= 0).all()
        assert way.over[0] == 0.0
        assert way.over[-1] == 1.0
        assert way.seconds > 0


# whole crafts


@pytest.mark.parametrize("name", ["wheatear", "whimbrel", "ruff"])
def test_demos_hover_and_arrive(sights: dict[str, TransitionSight], name: str) -> None:
    s = sights[name]
    assert s.hover is not None
    assert s.hover.throttle < 1
    assert s.hover.power_w >= s.hover.bare_w
    assert s.out.as_planned.reached
    assert not s.out.as_planned.lost
    assert s.out.way.breaks is None
    data = way_rows(s.out)
    assert data["seconds"] > 2
    assert len(data["flights"]) >= 3


def test_going_over_at_once_cannot_work(sights: dict[str, TransitionSight]) -> None:
    flights = {f.name: f for f in sights["wheatear"].out.flights}
    assert not flights["as planned"].lost
    assert flights["all at once"].lost


def test_a_stuck_tilt_does_not_arrive(sights: dict[str, TransitionSight]) -> None:
    back = {f.name: f for f in sights["wheatear"].back.flights}
    assert back["as planned"].reached
    assert not back["the tilt sticks half way"].reached


def test_a_wing_under_its_rotors_costs(engine: Engine) -> None:
    base = wheatear()
    under = hover_sight(engine.evaluate(base), flyer(engine.memo, engine.evaluate(base)))
    away = set_at(base, "parts.inner.shape.x_mm", -60.0)
    clear = hover_sight(engine.evaluate(away), flyer(engine.memo, engine.evaluate(away)))
    hung = set_at(base, "flying.flaps_hover_deg", 60.0)
    down = hover_sight(engine.evaluate(hung), flyer(engine.memo, engine.evaluate(hung)))
    assert under is not None
    assert clear is not None
    assert down is not None
    assert under.download > 0.015 > clear.download
    assert under.power_w > under.bare_w


def test_wind_on_the_wing_of_a_tail_sitter(engine: Engine) -> None:
    project = whimbrel()
    result = engine.evaluate(project)
    calm = hover_sight(result, flyer(engine.memo, result))
    assert calm is not None
    assert math.degrees(calm.lean_rad) > 5
    folded = set_many(project, tuple((f"parts.{p}.shape.folded_in_hover", True) for p in ("outer", "tip")))
    result = engine.evaluate(folded)
    small = hover_sight(result, flyer(engine.memo, result))
    assert small is not None
    assert small.lean_rad < calm.lean_rad


def test_yaw_is_helped_by_what_turns(engine: Engine) -> None:
    project = ruff()
    result = engine.evaluate(project)
    alone = hover_sight(result, flyer(engine.memo, result))
    result = engine.evaluate(set_at(project, "flying.vectoring_deg", 15.0))
    helped = hover_sight(result, flyer(engine.memo, result))
    assert alone is not None
    assert helped is not None
    assert helped.both_s < alone.both_s


# tilt and centre of mass


def test_the_mass_centre_moves_by_the_pods(engine: Engine) -> None:
    project = wheatear()
    result = engine.evaluate(project)
    f = flyer(engine.memo, result)
    t, d = project.flying.tilts[0], project.components
    up = [(d.motor.mass_g, t.pivot_under_mm + d.motor.height_mm / 2), (d.propeller.mass_g, t.pivot_under_mm + d.motor.height_mm + 3.0),
          (t.pod_g, t.pod_over_mm)]  # fmt: skip
    want = 2 * sum(m * z for m, z in up) / result.craft.mass_g
    assert 1e3 * (f.com_m[-1, 0] - f.com_m[0, 0]) == pytest.approx(want, rel=1e-6)
    assert 1e3 * (f.com_m[-1, 1] - f.com_m[0, 1]) == pytest.approx(-want, rel=1e-6)


def test_remedies_do_what_they_say(engine: Engine) -> None:
    project = wheatear()
    result = engine.evaluate(project)
    found = remedies(engine, result)
    assert {r.title.split()[0] for r in found} >= {"Pods", "Battery", "Counterweights"}
    first = next(r for r in found if r.title.startswith("Pods"))
    other = flyer(engine.memo, engine.evaluate(set_many(project, first.edits)))
    assert 1e3 * float(np.ptp(other.com_m[:, 0])) < 0.2
    assert next(r for r in found if r.title.startswith("Battery")).travel_mm < 3


def test_tilt_torque_by_hand(engine: Engine) -> None:
    project = wheatear()
    t = project.flying.tilts[0].model_copy(update={"friction_nmm": 0.0, "pivot_back_mm": 0.0})
    result = engine.evaluate(set_at(project, "flying.tilts", (t,)))
    (found,) = tilts_of(result)
    m, p = project.components.motor, project.components.propeller
    flat = G * 1e-3 * (m.mass_g * (t.pivot_under_mm + 12.0) + p.mass_g * (t.pivot_under_mm + 27.0) + t.pod_g * t.pod_over_mm)
    assert found.parts_nmm["weight of the pod"][-1] == pytest.approx(flat, rel=1e-6)
    assert found.parts_nmm["weight of the pod"][0] == pytest.approx(0.0, abs=1e-9)
    assert found.has_nmm == pytest.approx(180.0 * 5 / 6)


@pytest.mark.parametrize("kind", ["servo", "gear", "linear"])
def test_drives_of_a_tilt(engine: Engine, kind: str) -> None:
    project = wheatear()
    drive = TiltDrive(kind=kind, torque_nmm=200.0, ratio=3.0 if kind == "gear" else 1.0, efficiency=0.4 if kind == "gear" else 0.85)
    t = project.flying.tilts[0].model_copy(update={"drive": drive})
    (found,) = tilts_of(engine.evaluate(set_at(project, "flying.tilts", (t,))))
    assert found.has_nmm == has_nmm(t) > 0
    assert found.seconds > 0
    assert (found.tooth_mpa is not None) == (kind == "gear")
    assert found.holds == (kind == "gear"), "a gear that passes on under a half holds by itself"
    assert (found.flights is not None) == (kind == "gear"), "only teeth wear"


def test_teeth_wear_by_what_they_bear(engine: Engine) -> None:
    project = wheatear()

    def flights(rubs: float = 15.0, **more: Any) -> Any:
        drive = TiltDrive(**{"kind": "gear", "torque_nmm": 200.0, "ratio": 2.0, **more})
        t = project.flying.tilts[0].model_copy(update={"drive": drive, "friction_nmm": rubs})
        made = set_at(project, "flying.tilts", (t,))
        result = engine.evaluate(made)
        (found,) = tilts_of(result)
        return found.flights, {f.id for f in foresee(engine, result)}, made

    plain = flights()[0]
    assert plain.low < plain.typical < plain.high
    assert flights(face_mm=16.0)[0].typical == pytest.approx(2 * plain.typical, rel=1e-6), "twice the face, half the depth"
    assert flights(ratio=4.0)[0].typical > plain.typical, "less torque at the pinion"
    # six turns of the pinion for each way use every tooth that often
    assert flights(ratio=30.0)[0].typical < flights(ratio=4.0)[0].typical * 30 / 4
    _, soon, worn = flights(1500.0, module_mm=0.4, face_mm=1.0, teeth=8, ratio=0.5)
    assert "tilt.wear:front" in soon
    cure = next(f for f in foresee(engine, engine.evaluate(worn)) if f.id == "tilt.wear:front").cures[0]
    assert (
        tilts_of(engine.evaluate(set_many(worn, cure.edits)))[0].flights.typical > 1.9 * tilts_of(engine.evaluate(worn))[0].flights.typical
    )


@pytest.mark.parametrize(
    ("edit", "field"),
    [
        (Flying(tilts=(Tilt(id="a", rotors=("nowhere",)),)), "rotors"),
        (Flying(tilts=(Tilt(id="a", rotors=()),)), "rotors"),
        (Flying(tilts=(Tilt(id="a", rotors=("front_left",), wings=("nothing",)),)), "wings"),
        (Flying(tilts=(Tilt(id="a", rotors=("front_left",), pivot_under_mm=290.0),)), "pivot"),
        (Flying(sits="tail", tilts=(Tilt(id="a", rotors=("front_left",)),)), "sits"),
        (Flying(stopped=("nobody",)), "stopped"),
    ],
)
def test_what_cannot_tilt_is_told(engine: Engine, project: Project, edit: Flying, field: str) -> None:
    with pytest.raises(Refused) as told:
        engine.evaluate(project.model_copy(update={"flying": edit}))
    assert any(field in p.path for p in told.value.problems)


# crafts that the model must hold as well


def _winged(base: Project, shape: WingShape, flying: Flying, *more: Part) -> Project:
    wing = Part(id="wing", name="Wing", count=2, shape=shape, recipe=FOAM)
    return base.model_copy(update={"parts": (*base.parts, wing, *more), "flying": flying})


def test_two_tilting_rotors_with_the_wing_under_them(engine: Engine) -> None:
    base = sized(Wish("side_by_side", motor_to_motor_mm=520.0, propeller_mm=230.0))
    tail = Part(id="tail", name="Tail", count=2, recipe=FOAM, shape=WingShape(
        role="tail", length_mm=180.0, root_chord_mm=110.0, tip_chord_mm=100.0, x_mm=-380.0, z_mm=40.0, thickness=0.08, camber=0.0,
        surface="elevator", surface_share=0.4, surface_from=0.0, surface_to=1.0, spar_mm=0.0))  # fmt: skip
    project = _winged(
        base, WingShape(length_mm=420.0, root_chord_mm=120.0, tip_chord_mm=110.0, x_mm=58.0, z_mm=-25.0, spar_mm=5.0),
        Flying(tilts=(Tilt(id="both", rotors=tuple(n for n in ("left", "right")), drive=TiltDrive(torque_nmm=2000.0)),)), tail,
    )  # fmt: skip
    names = {s.id for s in _stations(project)}
    project = set_at(project, "flying.tilts.both.rotors", tuple(sorted(names)))
    # its own weight hangs behind its rotors until the battery goes ahead
    heavy = engine.evaluate(project)
    assert any(x.id == "hover.balance:craft" for x in foresee(engine, heavy))
    ahead = -float(heavy.craft.com_mm[0]) * heavy.craft.mass_g / project.components.battery.mass_g
    result = engine.evaluate(set_at(project, "components.battery.x_mm", project.components.battery.x_mm + ahead))
    f = flyer(engine.memo, result)
    assert f.balances_by_turning
    s = transition_sight(engine, result)
    assert s is not None
    assert s.hover is not None
    assert s.hover.download > 0.1, "a wing right under its disks"
    assert s.corridor.flies[0, 0]
    assert s.corridor.flies.mean() > 0.1


def _stations(project: Project) -> Any:
    from fravik.kinds.around import stations

    return stations(project)


def test_six_rotors_of_which_some_tilt_in_pairs(engine: Engine) -> None:
    base = sized(Wish("hexa_x", motor_to_motor_mm=560.0, propeller_mm=200.0))
    front = [s.id for s in _stations(base) if s.x_mm > 50]
    rear = [s.id for s in _stations(base) if s.x_mm < -50]
    shape = WingShape(length_mm=520.0, root_chord_mm=190.0, tip_chord_mm=150.0, x_mm=50.0, z_mm=70.0, y_mm=60.0, spar_mm=8.0)
    some = _winged(base, shape, Flying(tilts=(Tilt(id="front", rotors=tuple(front), drive=TiltDrive(torque_nmm=2000.0)),)))
    every = _winged(base, shape, Flying(tilts=(Tilt(id="front", rotors=tuple(front)), Tilt(id="rear", rotors=tuple(rear)))))
    for project in (some, every):
        f = flyer(engine.memo, engine.evaluate(project))
        c = corridor(f, 12, 7)
        assert c.flies[0, 0]
        assert c.flies.sum() > 15
    tilting = flyer(engine.memo, engine.evaluate(every))
    assert sum(r.along > 0 for r in tilting.rotors) == len(front) + len(rear)


def test_a_wing_that_unfolds_for_cruise(engine: Engine) -> None:
    project = whimbrel()
    folded = set_many(project, tuple((f"parts.{p}.shape.folded_in_hover", True) for p in ("outer", "tip")))
    a, b = (wing_sight(engine.memo, engine.evaluate(p)) for p in (project, folded))
    assert a is not None
    assert b is not None
    assert a.alone.stall_m_s == pytest.approx(b.alone.stall_m_s, rel=1e-6), "spread in cruise it is the same wing"


def test_a_wing_tilts_along(engine: Engine) -> None:
    project = wheatear()
    along = set_at(project, "flying.tilts.front.wings", ("inner", "outer", "tip"))
    result = engine.evaluate(along)
    f = flyer(engine.memo, result)
    assert f.strips.tilts.any()
    row = row_of(f, 0.0, np.array([0.0]))[0]
    assert row[C_WHY] == FLIES


# steps


def test_steps_open_one_after_another(sights: dict[str, TransitionSight]) -> None:
    s = sights["ruff"]
    cards = step_cards(s, (), 4)
    assert [c.id for c in cards] == ["bench", "hover", "wind", "quarter", "half", "whole", "back"]
    assert cards[0].standing == "next"
    assert all(c.standing in ("open", "barred") for c in cards[1:])
    done = step_cards(s, (StepDone(step="bench", state="done"), StepDone(step="hover", state="stopped")), 4)
    assert [c.standing for c in done[:3]] == ["done", "stopped", "open"]
    heights = [int(c.enter[0].split(" m")[0]) for c in cards[3:6]]
    assert heights == sorted(heights)
    assert "hand" in cards[1].do, "it is never held by hand"


def test_what_has_nothing_in_hand_is_barred(sights: dict[str, TransitionSight]) -> None:
    cards = {c.id: c for c in step_cards(sights["whimbrel"], (), 4)}
    assert cards["back"].standing == "barred"
    assert "in hand" in cards["back"].barred


def test_the_corridor_answers_its_target(engine: Engine, sights: dict[str, TransitionSight]) -> None:
    values, detail = corridor_found(sights["wheatear"])
    assert values is not None
    assert values[0] <= values[1] <= values[2]
    assert "way" in detail
    live = engine.evaluate(wheatear())
    assert next(m for m in live.margins if m.metric == "corridor_reserve_pct").verdict == "not known yet"


def test_more_surface_leads_the_tail_sitter_home(engine: Engine, sights: dict[str, TransitionSight]) -> None:
    found = {f.id: f for f in foresee(engine, engine.evaluate(whimbrel()))}
    cure = found["over.back:craft"].cures[0]
    after = transition_sight(engine, engine.evaluate(set_many(whimbrel(), cure.edits)))
    assert after is not None
    assert after.back.reserve >= sights["whimbrel"].back.reserve


def test_a_way_of_ones_own(engine: Engine) -> None:
    own = (Waypoint(speed_m_s=0.0, over_pct=0.0), Waypoint(speed_m_s=6.0, over_pct=10.0), Waypoint(speed_m_s=12.0, over_pct=100.0))
    s = transition_sight(engine, engine.evaluate(set_at(wheatear(), "flying.out", own)))
    assert s is not None
    assert s.own_way
    assert float(np.interp(6.0, s.out.way.speed_m_s, s.out.way.over)) == pytest.approx(0.10, abs=0.02)


def test_forces_in_the_picture_balance(engine: Engine, sights: dict[str, TransitionSight]) -> None:
    s = sights["wheatear"]
    result = engine.evaluate(wheatear())
    view = side_view(result, s, 12.5, 1.0)
    assert view.flies
    total = sum((a.force_n for a in view.arrows), np.zeros(2))
    assert abs(total[1]) < 0.05 * s.flyer.weight_n
    sunk = side_view(result, s, 0.5, 1.0)
    assert not sunk.flies
    assert not sunk.arrows


def test_cards_are_written(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["cards", "--demo", "ruff", "-o", str(tmp_path)]) == 0
    names = sorted(p.name for p in tmp_path.iterdir())
    assert names == ["ruff-fence-counter-cards.html", "ruff-fence-counter-cards.pdf"]
    text = (tmp_path / names[0]).read_text()
    assert "Never tied down and never by hand" in text
    assert "local rules" in text.lower()
    assert (tmp_path / names[1]).read_bytes().startswith(b"%PDF")
    assert main(["cards", "--demo", "tern", "-o", str(tmp_path)]) == 2
    assert "nothing to go over to" in capsys.readouterr().err


# the stage


@pytest.fixture(scope="module")
def flown(qapp: Any, tmp_path_factory: pytest.TempPathFactory) -> Any:
    window = MainWindow(ruff(), keep_in=tmp_path_factory.mktemp("kept"))
    window.resize(1280, 800)
    window.show()
    window.show_stage("Transition")
    view = window.view("Transition")
    assert until(qapp, lambda: view.known, 120), "the way over was not worked out"
    yield window, view
    window.close()


def test_the_stage_tells_and_takes(qapp: Any, flown: Any, tmp_path: Path) -> None:
    window, view = flown
    assert view.state.isHidden()
    assert view.side.view is not None
    room = view.map._room()
    QTest.mouseClick(view.map, Qt.MouseButton.LeftButton, pos=room.center().toPoint())
    assert view.side_card.title.text().startswith("At ")
    before = view.side_card.title.text()
    QTest.keyClick(view.map, Qt.Key.Key_Right)
    assert view.side_card.title.text() != before
    for k in range(view.tabs.count()):
        view.tabs.setCurrentIndex(k)
    view.open_step("bench")
    view.step_page.buttons["done"].click()
    assert window.session.project.flying.steps == (StepDone(step="bench", state="done"),)
    view.step_page.happened.setText("left pod slow")
    view.step_page.happened.editingFinished.emit()
    assert until(qapp, lambda: view.known and view.steps.cards[0].standing == "done", 60)
    assert view.steps.cards[1].standing == "next"
    assert window.session.project.flying.steps[0].note == "left pod slow"
    view.write_cards(tmp_path / "cards")
    assert "cards.pdf" in view.steps.note.text()
    window.session.undo()
    view.reveal("flying.wind_m_s")
    assert view.tabs.tabText(view.tabs.currentIndex()) == "Settings"


def test_a_point_of_the_way_is_dragged(qapp: Any, flown: Any) -> None:
    window, view = flown
    speed, over = view.map.handles(view.sight.out, "out")[2]
    start = view.map._px(speed, over)
    end = QPointF(start.x(), start.y() - 30)
    QTest.mousePress(view.map, Qt.MouseButton.LeftButton, pos=start.toPoint())
    QTest.mouseMove(view.map, end.toPoint())
    QTest.mouseRelease(view.map, Qt.MouseButton.LeftButton, pos=end.toPoint())
    own = window.session.project.flying.out
    assert len(own) == len(view.map.handles(view.sight.out, "out"))
    assert own[2].over_pct > 100 * over + 2
    view.let_go()
    assert not window.session.project.flying.out


def test_tilts_and_pushers_are_added_in_settings(qapp: Any, flown: Any) -> None:
    window, view = flown
    view.settings.add_tilt()
    assert window.session.project.flying.tilts[0].rotors
    view.settings.add_pusher()
    assert len(window.session.project.flying.pushers) == 2
    view.settings.refresh()
    for fold in view.settings.folds:
        fold.open()
    view.settings.drop("tilts", "tilt")
    view.settings.drop("pushers", "pusher_2")
    assert not window.session.project.flying.tilts


def test_free_layouts_keep_their_stations(engine: Engine) -> None:
    project = wheatear()
    assert isinstance(project.layout, Layout)
    assert all(isinstance(s, FreeStation) for s in project.layout.stations)
    make: Callable[[str, Project], Part] = part_for
    assert make("outer", project).shape.on == "inner"  # type: ignore[union-attr]
