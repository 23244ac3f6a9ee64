"""Stations of the maker's own: set free, moved with their mirror image, added, taken away, typed and dragged."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest

from fravik.app import theme
from fravik.demo import tern
from fravik.engine.copies import copy_names
from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee
from fravik.kinds import places_of, shape_problems
from fravik.kinds.around import arm_length_mm, arms_by_slot, stations
from fravik.kinds.drives import in_pairs
from fravik.kinds.freely import added, freed, moved, partner, removed
from fravik.kinds.inplan import CopyPicked, copy_picked
from fravik.kinds.newcraft import Wish, relaid, sized
from fravik.model.paths import EditError, set_many
from fravik.model.project import Project
from fravik.power.momentum import COAXIAL_POWER, GRAVITY_M_S2
from fravik.store.text import project_from_json, project_to_json

FREE = set_many(tern(), freed(tern()))


def test_setting_free_moves_nothing(engine: Engine) -> None:
    was, now = engine.evaluate(tern()), engine.evaluate(FREE)
    for a, b in zip(was.margins, now.margins, strict=True):
        assert b.value == pytest.approx(a.value, rel=5e-4), a.metric
    assert [(s.id, s.spin) for s in stations(FREE)] == [(s.id, s.spin) for s in stations(tern())]
    assert project_from_json(project_to_json(FREE)) == FREE


@settings(max_examples=15)
@given(st.floats(60.0, 260.0), st.floats(60.0, 260.0), st.booleans())
def test_a_station_takes_its_mirror_image_along_and_arms_reach_it(x: float, y: float, both: bool) -> None:
    out = set_many(FREE, moved(FREE, "front_left", x, y, both))
    at = {s.id: s for s in stations(out)}
    assert (at["front_left"].x_mm, at["front_left"].y_mm) == (pytest.approx(x), pytest.approx(y))
    if both:
        assert (at["front_right"].x_mm, at["front_right"].y_mm) == (pytest.approx(x), pytest.approx(-y))
    # every arm is as long as its stations leave it, and none is shared by stations at two distances
    assert not [p for q in out.parts for p in shape_problems(q, out) if "would reach" in p.message]
    ends = {s.id: s for s in stations(out)}
    for (name, s), part in zip(ends.items(), arms_by_slot(out), strict=True):
        assert arm_length_mm(part.shape, out, part) == pytest.approx(max(25.0, s.radius_mm - out.layout.clamp_radius_mm), abs=0.51), name
    assert sum(p.count for p in out.parts if p.shape.kind == "arm") == 4


def test_a_station_that_moves_again_needs_no_third_arm() -> None:
    there = set_many(FREE, moved(FREE, "front_left", 140.0, 100.0))
    again = set_many(there, moved(there, "front_left", 150.0, 90.0))
    assert [p.id for p in again.parts if p.shape.kind == "arm"] == ["arm", "arm_2"]


def test_partners_are_mirror_images_and_the_middle_has_none() -> None:
    assert partner(FREE, "rear_left") == "rear_right"
    tri = set_many(sized(Wish("tri")), freed(sized(Wish("tri"))))
    assert partner(tri, "arm_2") is None
    assert next(s.tilt_deg for s in stations(tri) if s.id == "arm_2") == 30.0


def test_stations_come_and_go_with_their_arms() -> None:
    five = set_many(FREE, added(FREE))
    assert five.part("arm").count == 5
    assert len(stations(five)) == 5
    new = next(s for s in five.layout.stations if s.id not in {q.id for q in FREE.layout.stations})
    # in the middle of a gap: as far from both neighbours
    gaps = sorted(math.dist((new.x_mm, new.y_mm), (s.x_mm, s.y_mm)) for s in FREE.layout.stations)
    assert gaps[0] == pytest.approx(gaps[1], rel=1e-3)
    assert set_many(five, removed(five, new.id)) == FREE
    two = set_many(FREE, removed(FREE, "front_left"))
    two = set_many(two, removed(two, "rear_right"))
    with pytest.raises(EditError, match="two stations at least"):
        removed(two, "rear_left")


def test_a_bare_free_layout_is_refused() -> None:
    with pytest.raises(EditError, match="two stations"):
        set_many(tern(), (("layout.kind", "free"),))
    assert set_many(FREE, relaid(FREE, "quad_x")).layout.kind == "quad_x"
    with pytest.raises(ValueError, match="one that has a name"):
        sized(Wish("free"))


@pytest.mark.parametrize("layout", ["y6", "x8"])
def test_pairs_set_free_stay_pairs(engine: Engine, layout: Any) -> None:
    tied = sized(Wish(layout))
    out = set_many(tied, freed(tied))
    assert len(out.layout.stations) == len(stations(tied)) / 2
    assert [(s.id, s.spin, s.up) for s in stations(out)] == [(s.id, s.spin, s.up) for s in stations(tied)]
    was, now = engine.evaluate(tied), engine.evaluate(out)
    for a, b in zip(was.margins, now.margins, strict=True):
        assert b.value == pytest.approx(a.value, rel=5e-3), a.metric
    assert project_from_json(project_to_json(out)) == out


def test_some_arms_may_carry_pairs(engine: Engine) -> None:
    rear = (("layout.stations.rear_left.pair", True), ("layout.stations.rear_right.pair", True))
    single, mixed = engine.evaluate(FREE), engine.evaluate(set_many(FREE, rear))
    each = stations(mixed.project)
    assert [s.id for s in each if s.up < 0] == ["rear_left_below", "rear_right_below"]
    assert in_pairs(mixed.project) == (False, True, True, True, True, False)
    # the wake costs those alone that stand in it: at the same thrust they draw 1.22 times as much
    power = {s.id: r.hover_torque_nmm / r.hover_thrust_n**1.5 for s, r in zip(each, mixed.power.rotors, strict=True)}
    assert power["rear_left"] / power["front_left"] == pytest.approx(COAXIAL_POWER, rel=1e-9)
    # two rotors behind and one ahead: balance shares the thrust, and all of it is the weight
    shares = dict(zip([s.id for s in each], mixed.allocation.hover_n.tolist(), strict=True))
    assert sum(shares.values()) == pytest.approx(mixed.craft.mass_g * 1e-3 * GRAVITY_M_S2)
    assert shares["rear_left"] + shares["rear_left_below"] < 1.3 * shares["front_left"]
    # the arms that carry two motors are what rings lowest and pulls most
    names = copy_names(mixed, "arm")
    full = {names[place]: c.reserve for (case, place), c in mixed.members["arm"].copies["typical"].items() if case == "full_throttle"}
    assert max(full["rear left"], full["rear right"]) < 0.6 * min(full["front left"], full["front right"])
    assert mixed.whole is not None
    assert single.whole is not None
    assert mixed.whole.lowest.freq_hz < single.whole.lowest.freq_hz


def test_one_arm_for_stations_at_two_distances_is_refused_at_its_length() -> None:
    apart = set_many(FREE, (("layout.stations.rear_left.x_mm", -150.0),))
    found = [p for p in shape_problems(apart.part("arm"), apart) if p.severity == "error"]
    assert [p.path for p in found] == ["parts.arm.shape.length_mm"]
    assert "an arm of their own" in found[0].message


def test_an_uneven_craft_is_judged_and_shares_its_thrust(engine: Engine) -> None:
    out = set_many(FREE, moved(FREE, "rear_left", -130.0, 110.0))
    result = engine.evaluate(out)
    assert result.allocation.short == ()
    at = np.array([s.at_mm[:2] for s in stations(out)])
    assert result.allocation.hover_n @ at / result.allocation.hover_n.sum() == pytest.approx(result.craft.com_mm[:2], abs=1e-6)
    assert all(m.value is not None for m in result.margins)
    assert set(result.members) >= {"arm", "arm_2"}


def test_balance_is_told_against_the_middle_of_thrust_and_its_cure_heals(engine: Engine) -> None:
    ahead = set_many(FREE, moved(FREE, "front_left", 150.0, 113.14))
    found = [f for f in foresee(engine, engine.evaluate(ahead)) if f.id == "balance.off_centre"]
    assert found
    healed = engine.evaluate(set_many(ahead, found[0].cures[0].edits))
    assert not [f for f in foresee(engine, healed) if f.id == "balance.off_centre"]
    hover = healed.allocation.hover_n
    assert hover.max() == pytest.approx(hover.min(), rel=0.02)


# the window


def drag(
    plan: Any, start: tuple[float, float], end: tuple[float, float], keys: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier
) -> None:
    """With the mouse, from one place of the craft to another, in mm."""
    plan.grab()  # painted, so that it knows where its motors are
    to_screen = plan._to_mm.inverted()[0]

    def at(place: tuple[float, float]) -> QPoint:
        return to_screen.map(QPointF(*place)).toPoint()

    QTest.mousePress(plan, Qt.MouseButton.LeftButton, pos=at(start))
    QTest.mouseMove(plan, at(end))
    plan.grab()
    QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, keys, at(end))


def test_stations_are_typed_and_dragged(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    assert not view.station_forms.isVisible()
    assert view.forms[0].fields["layout.kind"].commit("free")
    qapp.processEvents()
    assert view.station_forms.isVisible()
    assert until(qapp, lambda: len(view.station_forms.forms) == 4)  # they are made in turns
    field = view.station_forms.forms[0].fields["layout.stations.front_left.x_mm"]
    assert field.commit(130.0)
    own = {s.id: s for s in window.session.project.layout.stations}
    assert own["front_right"].x_mm == 130.0
    assert until(qapp, lambda: window.session.result is not None and window.session.result.project is window.session.project)
    rear = own["rear_left"]
    drag(view.plan, (rear.x_mm, rear.y_mm), (-140.0, 80.0))
    there = {s.id: s for s in window.session.project.layout.stations}
    assert math.dist((there["rear_left"].x_mm, there["rear_left"].y_mm), (-140.0, 80.0)) < 4.0
    assert there["rear_right"].y_mm == -there["rear_left"].y_mm
    assert there["rear_left"].x_mm == round(there["rear_left"].x_mm)
    window.session.undo()
    assert {s.id: s for s in window.session.project.layout.stations}["rear_left"] == rear
    window.session.undo()
    window.session.undo()
    assert window.session.project.layout.kind == "quad_x"
    qapp.processEvents()
    assert not view.station_forms.isVisible()


def test_a_craft_that_cannot_be_evaluated_can_be_dragged_right_again(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    assert view.forms[0].fields["layout.kind"].commit("free")
    qapp.processEvents()
    assert not view.forms[0].fields["layout.motor_to_motor_mm"].isVisible()
    # neighbours so near each other that their tongues meet
    assert view.station_forms.forms[0].fields["layout.stations.front_left.y_mm"].commit(20.0)
    assert until(qapp, lambda: window.session.stale)
    assert view.plan.grab().toImage().pixelColor(2, 2).isValid()
    drag(view.plan, (113.14, 20.0), (113.0, 113.0))
    assert until(qapp, lambda: not window.session.stale)
    assert {s.id: s for s in window.session.project.layout.stations}["front_right"].y_mm < -100.0


def test_a_motor_of_a_named_layout_is_dragged_out_of_it(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    plan, session = window.view("Airframe").plan, window.session
    before: Project = session.project
    s = stations(before)[1]
    heard: list[str] = []
    plan.part_clicked.disconnect()
    plan.part_clicked.connect(heard.append)
    assert until(qapp, lambda: plan.ready)
    # a click beside the hole in the middle of its pad, as unsteady as clicks are, opens what lies there
    drag(plan, (0.93 * s.x_mm, 0.93 * s.y_mm), (0.93 * s.x_mm + 1.0, 0.93 * s.y_mm))
    assert heard == ["arm"]
    assert session.project == before
    drag(plan, (s.x_mm, s.y_mm), (s.x_mm - 30.0, s.y_mm))
    after = {t.id: t for t in stations(session.project)}
    assert session.project.layout.kind == "free"
    for t in stations(before):
        there = (t.x_mm - 30.0 if t.x_mm * s.x_mm > 0 else t.x_mm, t.y_mm)
        assert math.dist((after[t.id].x_mm, after[t.id].y_mm), there) < 2.5
    assert len([p for p in session.project.parts if p.shape.kind == "arm"]) == 2  # both moved arms are one part now
    session.undo()
    assert session.project == before


def test_the_plan_takes_all_the_room_and_shows_both_sides_of_what_is_held(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    plan, s = view.plan, stations(window.session.project)[0]
    assert until(qapp, lambda: plan.ready)
    small = plan.width() * plan.height()
    QTest.mouseClick(view.plan_card.larger, Qt.MouseButton.LeftButton)
    qapp.processEvents()
    assert plan.width() * plan.height() > 3 * small
    assert not view.scene.isVisible()
    plan.grab()
    scale = plan._to_mm.inverted()[0]
    spots = [scale.map(QPointF(s.x_mm + 40.0, side * (s.y_mm + 30.0))).toPoint() for side in (1, -1)]

    def inked() -> list[bool]:
        picture = plan.grab().toImage()
        ink = QColor(theme.current().accent).rgb()
        return [any(picture.pixel(p.x() + dx, p.y() + dy) == ink for dx in range(-7, 8) for dy in range(-7, 8)) for p in spots]

    assert inked() == [False, False]
    QTest.mousePress(plan, Qt.MouseButton.LeftButton, pos=scale.map(QPointF(s.x_mm, s.y_mm)).toPoint())
    QTest.mouseMove(plan, spots[0])
    assert inked() == [True, True]
    QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, pos=spots[0])
    # why something cannot stand where it was put is said beside the plan, until the next change
    plan.refused.emit("It cannot stand there.")
    assert view.plan_card.refusal.isVisible()
    window.session.undo()
    assert not view.plan_card.refusal.isVisible()
    QTest.mouseClick(view.plan_card.larger, Qt.MouseButton.LeftButton)
    qapp.processEvents()
    assert view.scene.isVisible()


def test_a_leg_is_dragged_to_where_it_should_stand(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    plan, session = window.view("Airframe").plan, window.session
    assert until(qapp, lambda: plan.ready)
    plan.grab()
    before = session.project
    spots = ((x, y) for x in range(plan.width()) for y in range(plan.height()))
    spot = next(q for q in (QPointF(x, y) for x, y in spots) if isinstance(plan._picked(q), CopyPicked))
    held = plan._picked(spot)
    assert held.part.id == "leg"
    grip = plan._to_mm.map(spot)
    drag(plan, (grip.x(), grip.y()), (grip.x() - 12.0, grip.y()))
    own = {o.id: o for o in session.project.part("leg").own_places}
    assert len(own) == 4
    there, mirrored = sorted((o for o in own.values() if abs(o.x_mm - held.x_mm + 12.0) < 2.5), key=lambda o: abs(o.y_mm - held.y_mm))
    assert (there.y_mm, mirrored.y_mm) == (pytest.approx(held.y_mm, abs=2.5), -there.y_mm)
    assert session.label == "landing leg moved"
    session.undo()
    assert session.project == before
    # one side alone, with Shift
    assert until(qapp, lambda: bool(plan.grab()) and plan.ready)
    drag(plan, (grip.x(), grip.y()), (grip.x() - 12.0, grip.y()), Qt.KeyboardModifier.ShiftModifier)
    assert sum(abs(o.x_mm - held.x_mm + 12.0) < 2.5 for o in session.project.part("leg").own_places) == 1


@given(forward=st.integers(-25, 10), left=st.integers(-15, 15))
def test_a_mount_takes_along_what_it_carries(forward: float, left: float) -> None:
    project = tern()
    mount, was = copy_picked(project, "mount", 0), next(b for b in project.components.blocks if b.id == "camera")
    assert mount is not None
    after = set_many(project, mount.moved(project, mount.x_mm + forward, mount.y_mm + left, True))
    now = next(b for b in after.components.blocks if b.id == "camera")
    assert (now.x_mm - was.x_mm, now.y_mm - was.y_mm) == (forward, left)
    assert places_of(after.part("mount"), after)[0].at_mm[:2] == pytest.approx([mount.x_mm + forward, mount.y_mm + left])
    assert copy_picked(project, "arm", 0) is None  # an arm goes with its station


def test_stations_of_a_part_are_picked_from_a_menu(window: Any, qapp: Any) -> None:
    window.open_part("guard")
    form = window.view("Parts").controls.forms["made"]
    field = form.fields["parts.guard.at"]
    assert field.button.text() == "those that are left"
    field.actions_by_id["rear_left"].trigger()
    field.actions_by_id["rear_right"].trigger()
    assert window.session.project.part("guard").at == ("rear_left", "rear_right")
    assert field.button.text() == "Rear left, Rear right"
    field.actions_by_id["rear_left"].trigger()
    assert window.session.project.part("guard").at == ("rear_right",)
    window.session.undo()
    window.session.undo()
    window.session.undo()
    assert window.session.project.part("guard").at == ()
    assert field.button.text() == "those that are left"


def test_a_thing_is_dragged_in_plan_or_opened(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view, session = window.view("Airframe"), window.session
    pack = session.project.components.battery
    drag(view.plan, (pack.x_mm + 34.0, 10.0), (pack.x_mm + 24.0, 30.0))
    moved = session.project.components.battery
    assert moved.x_mm == pytest.approx(pack.x_mm - 10.0, abs=1.5)
    assert moved.x_mm == round(moved.x_mm)
    assert session.label == "Battery moved"
    camera = next(b for b in session.project.components.blocks if b.id == "camera")
    drag(view.plan, (camera.x_mm + 8.0, 3.0), (camera.x_mm + 28.0, -27.0))
    after = next(b for b in session.project.components.blocks if b.id == "camera")
    assert (after.x_mm, after.y_mm) == (pytest.approx(camera.x_mm + 20.0, abs=2.5), pytest.approx(-30.0, abs=2.5))
    session.undo()
    # near the middle line it snaps to it; not moved at all, its fields are opened
    drag(view.plan, (camera.x_mm + 8.0, 3.0), (camera.x_mm + 18.0, 5.0))
    assert next(b for b in session.project.components.blocks if b.id == "camera").y_mm == 0.0
    count, opened = session.revision, []
    view.plan.thing_clicked.connect(opened.append)
    drag(view.plan, (camera.x_mm + 8.0, 3.0), (camera.x_mm + 8.0, 3.0))
    assert (session.revision, opened) == (count, ["components.blocks.camera"])


def test_a_pair_is_set_free_in_the_window_and_loses_its_lower_rotor(window: Any, qapp: Any) -> None:
    window.open_demo("dunlin")
    window.show_stage("Airframe")
    view = window.view("Airframe")
    box = view.forms[0].fields["layout.kind"].box
    box.setCurrentIndex(box.findData("free"))
    box.activated.emit(box.currentIndex())
    assert window.session.project.layout.kind == "free"
    assert [s.pair for s in window.session.project.layout.stations] == [True, True, True]
    until(qapp, lambda: len(view.station_forms.forms) == 3)
    tail = next(s.id for s in window.session.project.layout.stations if s.x_mm < -1)
    form = next(f for f in view.station_forms.forms if f"layout.stations.{tail}.pair" in f.fields)
    form.fields[f"layout.stations.{tail}.pair"].box.click()
    assert [s.id for s in stations(window.session.project)].count(f"{tail}_below") == 0
    assert len(stations(window.session.project)) == 5
    window.session.undo()
    assert len(stations(window.session.project)) == 6
