"""The Airframe: who carries what, and the press that evens it out."""

from __future__ import annotations

from typing import Any

import pytest
from conftest import until
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from fravik.app.widgets.fold import Fold
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.tables import as_data
from fravik.model.paths import set_many
from fravik.study.words import value_text


def test_one_press_brings_the_mass_under_the_thrust(window: Any, qapp: Any) -> None:
    window.session.edit("components.battery.x_mm", 25.0)
    window.show_stage("Airframe")
    view = window.view("Airframe")
    before = window.session.result
    assert before.craft.com_mm[0] > 5
    assert before.allocation.hover_n.max() > 1.05 * before.allocation.hover_n.min()
    assert view.slide.isVisible()
    assert "back" in view.slide.text()
    window.foresight.look()
    assert until(qapp, lambda: "off centre" in view.remark.text())
    QTest.mouseClick(view.slide, Qt.MouseButton.LeftButton)
    after = window.session.result
    assert after.craft.com_mm[0] == pytest.approx(0.0, abs=0.05)
    assert after.allocation.hover_n == pytest.approx([after.power.hover_thrust_n] * 4, rel=0.01)
    assert not view.slide.isVisible()
    window.foresight.look()
    assert until(qapp, lambda: "off centre" not in view.remark.text())
    window.session.undo()
    assert window.session.result.craft.com_mm[0] == pytest.approx(before.craft.com_mm[0])


def test_a_slide_beyond_what_a_battery_may_is_refused_in_words(window: Any) -> None:
    light = (("components.battery.mass_g", 5.0), ("components.blocks", ()), ("components.battery.x_mm", 250.0))
    window.show_stage("Airframe")
    assert window.session.edit_many((*light, ("parts.mount.shape.carried_g", 1500.0))) is None
    view = window.view("Airframe")
    at = window.session.value("components.battery.x_mm")
    QTest.mouseClick(view.slide, Qt.MouseButton.LeftButton)
    assert window.session.value("components.battery.x_mm") == at
    assert "300" in view.remark.text()


def test_authority_comes_after_the_other_figures(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    told = window.view("Airframe").figures["Roll, pitch, yaw"]
    assert until(qapp, lambda: "rad/s²" in told.text())
    roll, pitch, yaw = (float(v) for v in told.text().split()[:3])
    assert roll > 5 * yaw > 0
    assert pitch > 5 * yaw


def test_places_and_rotors_are_told_to_scripts() -> None:
    data = as_data(Engine().evaluate(tern()))
    assert [r["spin"] for r in data["rotors"]] == [-1, 1, -1, 1]
    assert sum(r["hover_n"] for r in data["rotors"]) == pytest.approx(data["craft"]["mass_g"] * 9.80665e-3)
    assert sum(r["share_pull_up"] for r in data["rotors"]) == pytest.approx(1.0)
    assert sum(r["share_yaw"] for r in data["rotors"]) == pytest.approx(1.0)
    counts = {p["id"]: p["count"] for p in data["parts"]}
    for part, count in counts.items():
        assert sum(p["part"] == part for p in data["places"]) == count
    assert {p["follows"] for p in data["places"] if p["part"] == "arm"} == {r["id"] for r in data["rotors"]}


def test_a_heavier_nose_loads_the_front_rotors_only() -> None:
    ahead = set_many(tern(), (("components.battery.x_mm", 40.0),))
    rows = as_data(Engine().evaluate(ahead))["rotors"]
    front = [r["hover_n"] for r in rows if r["x_mm"] > 0]
    rear = [r["hover_n"] for r in rows if r["x_mm"] < 0]
    assert min(front) > max(rear)
    assert all(r["hover_rpm"] > 0 for r in rows)


def test_what_is_on_it_stands_in_a_tree_and_opens(window: Any, qapp: Any) -> None:
    from PyQt6.QtCore import Qt

    window.show_stage("Airframe")
    card = window.view("Airframe").on_it
    tops = {card.tree.topLevelItem(i).text(0): card.tree.topLevelItem(i) for i in range(card.tree.topLevelItemCount())}
    assert list(tops) == ["Bottom plate", "Top plate", "Arm × 4"]
    below = [tops["Arm × 4"].child(i).text(0) for i in range(tops["Arm × 4"].childCount())]
    assert below == ["Bolted tongue, M3", "Rotor × 4", "Front guard × 2"]
    mount = next(tops["Bottom plate"].child(i) for i in range(tops["Bottom plate"].childCount())
                 if tops["Bottom plate"].child(i).text(0) == "Camera mount")  # fmt: skip
    assert "Thermal camera" in [mount.child(i).text(0) for i in range(mount.childCount())]
    heard: list[str] = []
    card.part_clicked.connect(heard.append)
    card.tree.itemClicked.emit(mount, 0)
    assert heard == ["mount"]
    assert window.stage == "Parts"
    # a thing that is bought opens nothing
    window.show_stage("Airframe")
    assert tops["Arm × 4"].child(1).data(0, Qt.ItemDataRole.UserRole) == ""


def test_no_part_is_green_in_the_tree_while_a_target_that_names_it_fails(window: Any) -> None:
    from fravik.engine.onit import what_is_on_it

    result = window.session.result
    nodes = {n.part_id: n for n in what_is_on_it(result)}
    failing = [m for m in result.margins if m.verdict == "fails" and m.detail.split(":")[0] == "arm"]
    assert failing
    assert nodes["arm"].verdict == "fails"
    assert all(m.name in nodes["arm"].why for m in failing)
    assert nodes["bottom"].verdict == "holds"


def test_the_plan_gives_way_to_what_the_camera_sees(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    QTest.mouseClick(view.plan_card.through, Qt.MouseButton.LeftButton)
    assert until(qapp, lambda: view.lens.picture is not None)
    assert "nothing of the craft" in view.lens.told
    window.session.edit("components.blocks.camera.view_deg", 150.0)
    assert until(qapp, lambda: view.lens.picture.any())
    assert "% craft" in view.lens.told
    window.session.edit("components.blocks.camera.view_deg", 0.0)
    assert until(qapp, lambda: "No component has a lens" in view.lens.told)
    QTest.mouseClick(view.plan_card.through, Qt.MouseButton.LeftButton)
    assert view.plan.isVisible()


def test_the_weight_among_the_figures_is_that_of_the_strip(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    window.settler.ask()
    assert until(qapp, lambda: window.settler.fresh)
    shown = next(m for m in window.settler.margins() if m.metric == "flying_mass_g")
    assert shown.source == "settled"
    weight = window.view("Airframe").figures["Flying weight"]
    assert weight.text() == value_text(shown)
    window.show_stage("Brief")
    window.show_stage("Airframe")
    assert weight.text() == value_text(shown)
    window.refresh()
    assert weight.text() == value_text(shown)


def test_a_craft_that_grows_stays_in_its_picture_unless_that_was_moved(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    scene = window.view("Airframe").scene
    assert until(qapp, lambda: scene.plotter is not None and not scene._dirty and scene._fitted)

    def seen_at(motor_to_motor_mm: float) -> float:
        was = scene.plotter.bounds
        window.session.edit("layout.motor_to_motor_mm", motor_to_motor_mm)
        assert until(qapp, lambda: scene.plotter.bounds != was)
        assert until(qapp, lambda: not scene._dirty)
        return float(scene.plotter.camera.parallel_scale)

    small = scene.plotter.camera.parallel_scale
    assert seen_at(326.0) == small  # not for every mm
    large = seen_at(480.0)
    assert large > 1.15 * small
    assert seen_at(320.0) == pytest.approx(small, rel=0.05)
    scene.plotter.camera.parallel_scale = 30.0
    assert seen_at(480.0) == 30.0
    scene.home()
    assert scene.plotter.camera.parallel_scale == pytest.approx(large, rel=0.05)


def test_another_craft_is_shown_whole_and_nothing_of_the_last_one_stays(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    scene = view.scene
    assert until(qapp, lambda: scene.plotter is not None and not scene._dirty and scene._fitted)
    small = scene.plotter.camera.parallel_scale
    window.open_demo("redshank")
    assert until(qapp, lambda: not scene._dirty and scene._fitted)
    large = scene.plotter.camera.parallel_scale
    assert large > 1.3 * small
    scene.home()
    assert large == pytest.approx(scene.plotter.camera.parallel_scale)
    shown = [f.title.text() for f in view.blocks.findChildren(Fold) if not f.isHidden()]
    assert sorted(shown) == sorted(b.name for b in window.session.project.components.blocks)
