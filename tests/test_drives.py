"""Several motors and propellers on one craft: each rotor by its own."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from fravik.demo import DEMOS, tern
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.rotors import full_thrusts_n, mix_of, rotor_rows
from fravik.engine.shake import orders_of
from fravik.flight.allocation import allocate, least_norm
from fravik.kinds.around import stations
from fravik.kinds.drives import drive_title, drives, new_drive, unlike
from fravik.kinds.whole import placed_components
from fravik.model.craft import Block, Components, Motor, OtherDrive, Propeller
from fravik.model.paths import set_many
from fravik.model.project import Project, Target
from fravik.power.momentum import GRAVITY_M_S2
from fravik.power.pack import supply
from fravik.store.text import project_from_json, project_to_json

REAR = ("rear_left", "rear_right")


def with_drive(project: Project, at: tuple[str, ...] = REAR, motor: dict[str, Any] | None = None, **propeller: Any) -> Project:
    c = project.components
    other = OtherDrive(id="other", at=at, motor=c.motor.model_copy(update=motor or {}), propeller=c.propeller.model_copy(update=propeller))
    return set_many(project, (("components.other_drives", (other,)),))


@pytest.fixture(scope="module")
def engine() -> Engine:
    return Engine()


@pytest.fixture(scope="module")
def usual(engine: Engine) -> Evaluation:
    return engine.evaluate(tern())


@pytest.fixture(scope="module")
def mixed(engine: Engine) -> Evaluation:
    return engine.evaluate(with_drive(tern(), REAR, {"mass_g": 60.0, "kv_rpm_per_v": 1000.0}, diameter_mm=200.0, mass_g=9.0, blades=3))


def test_a_drive_like_the_usual_one_changes_no_margin(engine: Engine, usual: Evaluation) -> None:
    found = engine.evaluate(with_drive(tern()))
    for a, b in zip(usual.margins, found.margins, strict=True):
        assert b.value == pytest.approx(a.value, rel=1e-9)
        assert b.low == pytest.approx(a.low, rel=1e-9)


def test_each_rotor_weighs_and_reaches_as_its_own(mixed: Evaluation, usual: Evaluation) -> None:
    assert mixed.craft.mass_g - usual.craft.mass_g == pytest.approx(
        2 * (69.0 - usual.project.components.motor.mass_g - usual.project.components.propeller.mass_g)
    )
    assert mixed.craft.com_mm[0] < usual.craft.com_mm[0]
    wide = [x.size_mm[0] for x in placed_components(mixed.project) if x.kind == "prop"]
    assert sorted(wide) == pytest.approx([177.8, 177.8, 200.0, 200.0])
    # the two wide ones are the nearest neighbours now
    apart = min(np.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm) - 200.0 for a, b in [_pair(mixed.project, REAR)])
    assert mixed.clearances.prop_to_prop_mm == pytest.approx(min(apart, usual.clearances.prop_to_prop_mm - 11.1), abs=1e-6)


def _pair(project: Project, ids: tuple[str, str]) -> tuple[Any, Any]:
    every = {s.id: s for s in stations(project)}
    return every[ids[0]], every[ids[1]]


def test_the_weight_is_carried_level_and_the_strong_carry_more(mixed: Evaluation) -> None:
    hover, rows = mixed.allocation.hover_n, {r["id"]: r for r in rotor_rows(mixed)}
    level = mix_of(mixed.project, mixed.craft, mixed.power) @ hover
    assert level == pytest.approx([mixed.craft.mass_g * 1e-3 * GRAVITY_M_S2, 0.0, 0.0, 0.0], abs=1e-6)
    assert rows["rear_left"]["full_n"] != pytest.approx(rows["front_left"]["full_n"], rel=0.01)
    assert mixed.power.thrust_to_weight == pytest.approx(sum(r["full_n"] for r in rows.values()) / level[0])
    assert full_thrusts_n(mixed).sum() == pytest.approx(mixed.power.all_thrust_n)


@given(st.lists(st.floats(0.2, 5.0), min_size=4, max_size=8), st.floats(1.0, 60.0), st.randoms())
@settings(max_examples=40)
def test_what_each_is_asked_for_is_least_in_shares_of_its_strength(strength: list[float], weight: float, dice: Any) -> None:
    n = len(strength)
    mix = np.stack([np.ones(n), *(np.array([dice.uniform(-200, 200) for _ in range(n)]) for _ in range(3))])
    own, wanted = np.array(strength), np.array([weight, 0.0, 0.0, 0.0])
    thrust = least_norm(mix, wanted, own)
    missed = mix @ thrust - wanted
    # whatever else gives the same asks for no less of the rotors' strengths
    for _ in range(5):
        other = thrust + (np.eye(n) - np.linalg.pinv(mix) @ mix) @ np.array([dice.uniform(-1, 1) for _ in range(n)])
        assert np.allclose(mix @ other - wanted, missed, atol=1e-6 * max(1.0, weight))
        assert np.linalg.norm(other / own) >= np.linalg.norm(thrust / own) * (1 - 1e-6)  # moments in N mm cost some digits


def test_shares_of_two_strong_and_two_weak_rotors_by_hand() -> None:
    # on a square level flight leaves no choice, whatever each one's strength; in a row the strong one in the middle carries more
    square = np.array([[1.0, 1, 1, 1], [1, 1, -1, -1], [1, -1, -1, 1], [1, -1, 1, -1]])
    assert allocate(square, 8.0, 0.0, strength=np.array([1.5, 1.5, 0.5, 0.5])).hover_n == pytest.approx([2, 2, 2, 2])
    row = np.array([[1.0, 1, 1], [0, 0, 0], [-1, 0, 1], [0, 0, 0]])
    # t = (a, b, a): least of 2 a^2 + (b / 2)^2 with 2 a + b = 6 gives a = 1, b = 4
    assert allocate(row, 6.0, 0.0, strength=np.array([1.0, 2.0, 1.0])).hover_n == pytest.approx([1, 4, 1])


def test_what_shakes_is_told_apart_by_drive(mixed: Evaluation, usual: Evaluation) -> None:
    lines = orders_of(mixed.project, mixed.power)
    assert [o.name for o in lines] == ["1/rev", "blade pass", "1/rev of rear left and rear right", "blade pass of rear left and rear right"]
    slow = next(r for s, r in zip(stations(mixed.project), mixed.power.rotors, strict=True) if s.id == "rear_left")
    ratio = slow.hover_rpm / mixed.power.hover_rpm
    theirs = lines[2:]
    assert {round(o.per_rev / ratio, 6) for o in theirs if o.rotors is not None} == {1.0, 3.0}
    assert len(orders_of(usual.project, usual.power)) == 2
    assert mixed.whole is not None
    felt = mixed.whole.shake.over(np.array([mixed.power.hover_rpm]))
    assert felt.gyro_dps.shape[1] == 4
    assert (felt.gyro_dps[1] > 0).all()


def test_shake_of_one_drive_split_in_two_adds_up_to_no_more(engine: Engine, usual: Evaluation) -> None:
    # the same rotors under two names: their pushes add in squares instead of in step, which is never above their sum
    same = engine.evaluate(with_drive(tern(), mass_g=tern().components.propeller.mass_g + 1e-9))
    assert usual.whole is not None
    assert same.whole is not None
    rpm = np.array([usual.power.hover_rpm])
    one, two = usual.whole.shake.over(rpm).gyro_dps[1, :, 0], same.whole.shake.over(rpm).gyro_dps[1, :, 0]
    assert one[0] <= two[0] + two[2] + 1e-9
    assert two[0] <= one[0] + two[2] + 1e-9


def test_contradictions_are_told(engine: Engine) -> None:
    def told(project: Project) -> list[str]:
        return [p.message for p in engine.problems(project) if "drive" in p.path]

    assert "There is no rotor nose" in told(with_drive(tern(), ("nose",)))[0]
    assert "on no rotor" in told(with_drive(tern(), ()))[0]
    pad = [p for p in engine.problems(with_drive(tern(), REAR, {"mount_circle_mm": 25.0})) if p.path.endswith("bolt_circle_mm")]
    assert "the motor has 25" in pad[0].message
    with pytest.raises(ValidationError, match="given two drives"):
        Components(other_drives=(OtherDrive(id="a", at=("x",)), OtherDrive(id="b", at=("x",))))


def test_it_is_kept_and_new_ones_begin_where_they_are_wanted() -> None:
    craft = with_drive(tern(), diameter_mm=160.0)
    assert project_from_json(project_to_json(craft)) == craft
    assert [d.path for d in unlike(craft)] == ["components", "components.other_drives.other"]
    y6 = DEMOS["dunlin"]()
    lower = new_drive(y6)
    assert all(r.endswith("_below") for r in lower.at)
    assert drive_title(y6, lower) == "Drive of the lower rotors"
    assert new_drive(tern()).at == REAR
    assert len(drives(y6)) == 6


@given(st.floats(20.0, 120.0), st.floats(100.0, 260.0))
@settings(max_examples=15)
def test_any_motor_and_propeller_evaluates(mass: float, diameter: float) -> None:
    project = set_many(tern(), (("components.other_drives", (OtherDrive(
        id="x", at=("rear_left",), motor=Motor(mass_g=mass), propeller=Propeller(diameter_mm=diameter)),)),))  # fmt: skip
    scores = Engine().scores(project)
    assert scores is None or all(np.isfinite(m.value) for m in scores.margins if m.value is not None)


def test_in_the_window(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view, session = window.view("Airframe"), window.session
    view.drive_forms.add_button.click()
    drive = session.project.components.other_drives[0]
    assert drive.at == REAR
    view.drive_forms.folds[-1].open()  # else its editors come in turns
    form = view.drive_forms.forms[drive.id]
    field = form.fields[f"components.other_drives.{drive.id}.propeller.diameter_mm"]
    assert field.commit(150.0)
    assert view.figures["Hover speed"].text().count("–") == 1
    assert "Drive of rear left and rear right" in view.drive_forms.folds[0].title.text()
    at = form.fields[f"components.other_drives.{drive.id}.at"]
    at.actions_by_id["rear_left"].trigger()
    assert session.project.components.other_drives[0].at == ("rear_right",)
    at.actions_by_id["rear_left"].trigger()
    assert set(session.project.components.other_drives[0].at) == set(REAR)
    window.show_stage("Vibration")
    window.show_stage("Airframe")
    view.reveal(f"components.other_drives.{drive.id}.motor.kv_rpm_per_v")
    view.reveals.finish()
    view.drive_forms.drop(drive.id)
    assert not session.project.components.other_drives
    session.undo()
    assert session.project.components.other_drives[0].propeller.diameter_mm == 150.0


def test_a_drive_that_goes_before_its_editors_are_made_takes_them_along(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    forms, session = window.view("Airframe").drive_forms, window.session
    forms.add_button.click()
    assert until(qapp, lambda: bool(forms.folds))
    fold = forms.folds[-1]
    session.edit("components.other_drives", ())  # its fields would be made in the next turn, the figures come later
    fold.arrow.setChecked(False)
    fold.arrow.setChecked(True)
    assert until(qapp, lambda: not forms.folds)
    session.undo()
    assert until(qapp, lambda: bool(forms.folds))


def second_pack(project: Project, **fields: Any) -> Project:
    pack = Block(id="pack2", name="Second pack", mass_g=300.0, x_mm=-30.0, z_mm=40.0, **fields)
    return set_many(project, (("components.blocks", (*project.components.blocks, pack)),))


def test_a_second_pack_beside_the_first_adds_charge_and_one_behind_it_volts(usual: Evaluation, engine: Engine) -> None:
    own = tern().components.battery
    beside = engine.evaluate(second_pack(tern(), pack_cells=own.cells, pack_mah=own.capacity_mah))
    dead_weight = engine.evaluate(second_pack(tern()))
    assert beside.power.energy_wh == pytest.approx(2 * usual.power.energy_wh)
    # twice the charge, and half the resistance: it sags less
    assert beside.power.endurance_min == pytest.approx(2 * dead_weight.power.endurance_min, rel=0.02)
    assert beside.power.endurance_min > 2 * dead_weight.power.endurance_min
    assert usual.power.full_rpm < beside.power.full_rpm < 1.05 * usual.power.full_rpm
    behind = engine.evaluate(second_pack(tern(), pack_cells=2, pack_mah=own.capacity_mah, pack_joined="series"))
    assert supply(behind.project.components).volts == pytest.approx(supply(usual.project.components).volts * (own.cells + 2) / own.cells)
    assert behind.power.full_rpm > usual.power.full_rpm
    assert behind.power.energy_wh == pytest.approx(usual.power.energy_wh * (own.cells + 2) / own.cells)


def test_packs_that_must_not_be_joined_are_refused(engine: Engine) -> None:
    own = tern().components.battery
    unlike_volts = second_pack(tern(), pack_cells=own.cells - 1)
    assert [p for p in engine.problems(unlike_volts) if p.severity == "error" and "can burn" in p.message]
    small = second_pack(tern(), pack_cells=2, pack_mah=0.5 * own.capacity_mah, pack_joined="series")
    assert [p for p in engine.problems(small) if p.severity == "warning" and "empty first" in p.message]
    assert supply(small.components).capacity_mah == pytest.approx(0.5 * own.capacity_mah)


def test_a_pack_counts_with_the_batteries_weight(engine: Engine) -> None:
    craft = second_pack(
        set_many(tern(), (("targets", (*tern().targets, Target(id="packs", metric="battery_mass_g", limit=2000.0))),)), pack_cells=6
    )
    margin = next(m for m in engine.evaluate(craft).margins if m.metric == "battery_mass_g")
    assert margin.value == pytest.approx(tern().components.battery.mass_g + 300.0)
