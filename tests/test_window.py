"""The real window, driven as a maker would: the whole path, and every view."""

from __future__ import annotations

import os
import signal
from pathlib import Path
from typing import Any

import pytest
from conftest import until
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QMessageBox

from fravik.app import theme
from fravik.app.widgets.fields import ChoiceField, NumberField
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.store import open_file, project_from_json
from fravik.store.text import project_to_json
from fravik.study.words import value_text


def number(window: Any, path: str) -> NumberField:
    for form in window.view("Parts").controls.forms.values():
        if path in form.fields:
            return form.fields[path]
    raise KeyError(path)


def type_into(field: NumberField, text: str) -> None:
    field.edit.setFocus()
    field.edit.selectAll()
    QTest.keyClicks(field.edit, text)
    QTest.keyClick(field.edit, Qt.Key.Key_Return)


def shown(window: Any) -> dict[str, str]:
    return {t.margin.id: value_text(t.margin) for t in window.strip.tiles}


def test_the_whole_path(window: Any, qapp: Any, tmp_path: Path) -> None:
    # read the margins
    expected = {m.id: value_text(m) for m in Engine().evaluate(tern()).margins}
    assert shown(window) == expected
    verdicts = [t.margin.verdict for t in window.strip.tiles]
    assert verdicts.count("fails") == 2
    assert verdicts.count("tight") >= 1

    # change an arm, see the margins move, and take it back
    type_into(number(window, "parts.arm.shape.root_height_mm"), "13.5")
    after = shown(window)
    assert after["sag"] != expected["sag"]
    assert after["weight"] != expected["weight"]
    QTest.mouseClick(window.undo_button, Qt.MouseButton.LeftButton)
    assert shown(window) == expected
    QTest.mouseClick(window.redo_button, Qt.MouseButton.LeftButton)
    assert shown(window) == after
    window.session.undo()

    # try a way out, take it back, try again and keep it
    ways = window.view("Parts").ways
    # one comes after the other
    assert until(qapp, lambda: window.session.levers_for is window.session.project and len({s.lever.kind for s in ways.slips}) >= 4)
    slip = ways.slips[0]
    QTest.mouseClick(slip.button, Qt.MouseButton.LeftButton)
    assert window.session.trial is slip.lever
    assert [m.verdict for m in window.session.result.margins] == [m.verdict for m in slip.lever.scores.margins]
    QTest.mouseClick(ways.back, Qt.MouseButton.LeftButton)
    assert shown(window) == expected
    assert window.session.trial is None
    window.session.try_lever(slip.lever)
    QTest.mouseClick(ways.keep, Qt.MouseButton.LeftButton)
    kept = shown(window)
    assert window.session.trial is None
    assert kept != expected

    # export, and read back what was written
    written = window.export_to(tmp_path / "out")
    assert len(written) == 11
    assert "Exported 11 files" in window.banner_text.text()
    assert project_from_json(next(p for p in written if p.suffix == ".json").read_text()) == window.session.project

    # close and reopen: the same figures
    path = window.session.file.path
    window.close()
    from fravik.app.window import MainWindow

    again = MainWindow(*reversed(open_file(path)))
    again.show()
    assert shown(again) == kept
    again.close()


def test_every_edit_is_in_the_file_at_once(window: Any) -> None:
    path = window.session.file.path
    for text in ("11", "11.5"):
        type_into(number(window, "parts.arm.shape.root_height_mm"), text)
        assert open_file(path)[1] == window.session.project
    window.session.undo()
    assert open_file(path)[1] == window.session.project


@pytest.mark.parametrize(
    ("path", "text", "says"),
    [
        ("parts.arm.shape.root_height_mm", "95", "above the most allowed, 40"),
        ("parts.arm.shape.root_height_mm", "-3", "below the least allowed, 2"),
        ("parts.arm.shape.root_height_mm", "", "is empty"),
        ("parts.arm.shape.root_height_mm", "tall", "is not a number"),
        ("parts.arm.shape.root_height_mm", "nan", "needs a number"),
        ("parts.arm.recipe.core_density", "140", "above the most allowed"),
        ("parts.arm.recipe.walls", "2.5", "needs a whole number"),
    ],
)
def test_a_refused_value_says_why_and_changes_nothing(window: Any, path: str, text: str, says: str) -> None:
    before = window.session.project
    field = number(window, path)
    if text:
        type_into(field, text)
    else:
        field.edit.setFocus()
        field.edit.selectAll()
        QTest.keyClick(field.edit, Qt.Key.Key_Delete)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
    assert window.session.project is before
    assert says in field.message.text()
    assert not field.message.isHidden()
    assert field.edit.property("wrong") is True
    type_into(field, "13" if "height" in path else "4" if "walls" in path else "30")
    assert field.message.isHidden()
    assert window.session.project is not before


def test_a_contradiction_keeps_the_last_good_result(window: Any) -> None:
    good = shown(window)
    type_into(number(window, "parts.arm.shape.pocket_count"), "2")
    moved = shown(window)
    type_into(number(window, "parts.arm.shape.pocket_width_mm"), "30")
    assert window.session.stale
    assert shown(window) == moved
    assert all(t.stale for t in window.strip.tiles)
    assert window.banner.isVisible()
    assert "last good result" in window.banner_text.text()
    assert "cut the arm in two" in number(window, "parts.arm.shape.pocket_width_mm").message.text()
    window.session.undo()
    window.session.undo()
    assert not window.session.stale
    assert not window.banner.isVisible()
    assert shown(window) == good


def test_a_fault_in_a_figure_keeps_the_window_and_the_work(window: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    good = shown(window)

    def fault(_: Project) -> None:
        raise ZeroDivisionError("made up")

    real = window.session.engine.evaluate
    monkeypatch.setattr(window.session.engine, "evaluate", fault)
    window.session.edit("parts.arm.recipe.walls", 5)
    assert "could not be evaluated (ZeroDivisionError: made up)" in window.banner_text.text()
    assert shown(window) == good
    monkeypatch.setattr(window.session.engine, "evaluate", real)
    window.session.undo()
    assert not window.session.stale


@pytest.mark.parametrize("core_density", ["0", "100"])
def test_no_and_full_core_work(window: Any, core_density: str) -> None:
    type_into(number(window, "parts.arm.recipe.core_density"), core_density)
    assert not window.session.stale
    assert "nan" not in " ".join(shown(window).values()).lower()


def test_walls_that_fill_the_section_work(window: Any) -> None:
    type_into(number(window, "parts.arm.recipe.walls"), "30")
    assert not window.session.stale
    picture = window.view("Parts").section.picture
    assert {s.zone for s in picture.strips} == {0}


def test_carbon_that_does_not_fit_is_said_at_its_field(window: Any) -> None:
    view = window.view("Parts")
    view.controls.show_tab(3)
    view.controls.current.carbon_box.click()
    assert window.session.project.part("arm").carbon is not None
    view.controls.forms["carbon"].fields["parts.arm.carbon.stock"].commit("tube_10x8")
    assert window.session.stale
    assert "needs a part" in view.controls.forms["carbon"].fields["parts.arm.carbon.stock"].message.text()
    view.controls.forms["carbon"].fields["parts.arm.carbon.stock"].commit("tube_6x4")
    assert not window.session.stale
    assert any(name == "carbon" for name, _ in view.zone_key.items)
    view.controls.current.carbon_box.click()
    assert window.session.project.part("arm").carbon is None


def test_steps_by_key_and_button(window: Any) -> None:
    field = number(window, "parts.arm.recipe.walls")
    field.edit.setFocus()
    QTest.keyClick(field.edit, Qt.Key.Key_Up)
    assert window.session.value("parts.arm.recipe.walls") == 4
    field.step(-1)
    assert window.session.value("parts.arm.recipe.walls") == 3
    length = number(window, "parts.arm.shape.length_mm")
    assert length.edit.placeholderText() == "auto 110"
    length.step(1)
    assert window.session.value("parts.arm.shape.length_mm") == 111
    type_into(length, "120")
    length.edit.selectAll()
    QTest.keyClick(length.edit, Qt.Key.Key_Backspace)
    QTest.keyClick(length.edit, Qt.Key.Key_Return)
    assert window.session.value("parts.arm.shape.length_mm") is None


def test_choices_edit_the_recipe(window: Any) -> None:
    field = window.view("Parts").controls.forms["made"].fields["parts.arm.recipe.filament"]
    assert isinstance(field, ChoiceField)
    field.box.setCurrentIndex(field.box.findData("pa_cf"))
    field.box.activated.emit(field.box.currentIndex())
    assert window.session.value("parts.arm.recipe.filament") == "pa_cf"
    assert "hardened" in field.message.text()
    assert field.message.objectName() == "caution"


def test_the_ruler_station_moves_the_section(window: Any) -> None:
    view = window.view("Parts")
    view.ruler.setFocus()
    for _ in range(4):
        QTest.keyClick(view.ruler, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert view.ruler.position_mm == pytest.approx(20.0)
    assert "Section at 20 mm" in view.section_card.title.text()
    wide = view.section.picture.high_mm[0]
    view.ruler.pointer.setPos(105.0)
    assert view.section.picture.high_mm[0] > wide
    assert "105 mm" in view.ruler.reading.text()


def test_parts_and_load_cases_can_be_picked(window: Any, qapp: Any) -> None:
    view = window.view("Parts")
    view.picks.buttons["leg"].click()
    assert view.title.text() == "Landing leg"
    every = [view.cases.itemData(i) for i in range(view.cases.count())]
    assert every == ["worst of all", "hard_landing", "two_feet", "one_foot", "transport", "flat_drop"]
    view.cases.setCurrentIndex(5)
    view._pick_case(5)
    assert "In a flat drop at" in view.verdict.text()
    view.picks.buttons["top"].click()
    assert view.ruler_card.isVisible()
    assert until(qapp, lambda: "as stiff bent" in view.ruler_card.note.text())
    assert "strap_pull" in [view.cases.itemData(i) for i in range(view.cases.count())]
    view.picks.buttons["guard"].click()
    assert view.ruler.positions_mm[-1] > 300
    assert "guard_bump" in [view.cases.itemData(i) for i in range(view.cases.count())]
    view.picks.buttons["arm"].click()
    assert view.ruler_card.isVisible()


def test_a_tile_says_why_and_opens_its_stage(window: Any, qapp: Any) -> None:
    tile = next(t for t in window.strip.tiles if t.margin.id == "strike")
    QTest.mouseClick(tile, Qt.MouseButton.LeftButton)
    assert "Speed at which a front motor may hit a pole" in window.banner_text.text()
    assert "opens the page crash" in window.banner_text.text()
    assert window.banner_text.objectName() == "small"
    assert window.stage == "Parts"
    assert window.view("Parts").case == "arm_strike"
    assert "at 2.2 m/s" in window.view("Parts").verdict.text()
    QTest.keyClick(next(t for t in window.strip.tiles if t.margin.id == "modes"), Qt.Key.Key_Return)
    assert until(qapp, lambda: window.stage == "Vibration")
    assert "fails" in tile.accessibleName()


def test_brief_edits_targets_printer_and_shelf(window: Any) -> None:
    window.show_stage("Brief")
    view = window.view("Brief")
    count = len(window.strip.tiles)
    view.wanted.setCurrentIndex(view.wanted.findData("thrust_to_weight"))
    QTest.mouseClick(view.add_button, Qt.MouseButton.LeftButton)
    assert len(window.strip.tiles) == count + 1
    field, mark, now = view.target_fields["sag"]
    type_into(field, "9")
    assert next(t.margin.verdict for t in window.strip.tiles if t.margin.id == "sag") == "holds"
    assert mark.accessibleName() == "holds"
    assert now.text().endswith("mm")
    view._drop_target("sag")
    assert "sag" not in shown(window)
    before = shown(window)["time"]
    view.motion.open()
    motion = next(form for form in view.forms if "printer.wall_speed_mm_s" in form.fields)
    type_into(motion.fields["printer.wall_speed_mm_s"], "25")
    assert shown(window)["time"] != before
    spools = len(window.session.project.spools)
    view._add_spool()
    assert len(window.session.project.spools) == spools + 1
    view._drop_spool(window.session.project.spools[-1].id)
    view.purpose.setPlainText("Look for seals")
    assert open_file(window.session.file.path)[1].brief.purpose == "Look for seals"
    for _ in range(7):
        window.session.undo()
    assert window.session.project == tern()
    assert view.purpose.toPlainText() == tern().brief.purpose


def test_typing_a_name_is_one_step_of_the_history(window: Any) -> None:
    window.show_stage("Brief")
    edit = window.view("Brief").name.edit
    edit.setFocus()
    edit.selectAll()
    QTest.keyClicks(edit, "Petrel")
    assert window.session.project.name == "Petrel"
    assert window.title.text() == "Petrel"
    assert open_file(window.session.file.path)[1].name == "Petrel"
    window.session.undo()
    assert window.session.project.name == "Tern survey quad"


def test_airframe_shows_and_edits_the_craft(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    qapp.processEvents()
    assert view.figures["Flying weight"].text() == value_text(next(m for m in window.settler.margins() if m.metric == "flying_mass_g"))
    type_into(view.forms[0].fields["layout.motor_to_motor_mm"], "240")
    window.foresight.look()
    assert until(qapp, lambda: "propellers strike each other" in view.remark.text())
    window.session.undo()
    type_into(view.forms[3].fields["components.battery.x_mm"], "60")
    window.foresight.look()
    assert until(qapp, lambda: "off centre" in view.remark.text())
    assert "back" in view.slide.text()
    window.session.undo()
    blocks = len(window.session.project.components.blocks)
    view.blocks.add()
    assert len(view.blocks.folds) == blocks + 1
    view.blocks.drop(window.session.project.components.blocks[-1].id)
    assert len(view.blocks.folds) == blocks


def test_a_part_picked_in_plan_opens_in_parts(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    plan = window.view("Airframe").plan
    plan.repaint()
    assert until(qapp, lambda: plan.ready)
    k = (min(plan.width(), plan.height()) - 30) / (2 * (160 / 2**0.5 + 88.9))
    out = int(k * 90 / 2**0.5)
    QTest.mouseClick(plan, Qt.MouseButton.LeftButton, pos=QPoint(plan.width() // 2 - out, plan.height() // 2 - out))
    assert window.stage == "Parts"
    assert window.view("Parts").part_id == "arm"


def test_a_part_clicked_in_3d_opens_and_a_turn_does_not(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    scene = window.view("Airframe").scene
    assert until(qapp, lambda: scene.plotter is not None and not scene._dirty)
    renderer = scene.plotter.renderer
    renderer.SetWorldPoint(-80.0, -80.0, 12.0, 1.0)
    renderer.WorldToDisplay()
    x, y, _ = renderer.GetDisplayPoint()
    spot = QPoint(int(x), int(scene.plotter.height() - y))
    QTest.mousePress(scene.plotter, Qt.MouseButton.LeftButton, pos=spot)
    QTest.mouseRelease(scene.plotter, Qt.MouseButton.LeftButton, pos=spot + QPoint(40, 10))
    qapp.processEvents()
    assert window.stage == "Airframe"
    scene.home()
    QTest.mouseClick(scene.plotter, Qt.MouseButton.LeftButton, pos=spot)
    assert until(qapp, lambda: window.stage == "Parts", 3.0)
    assert window.view("Parts").part_id == "arm"


def test_no_search_disturbs_a_trial(window: Any, qapp: Any) -> None:
    assert until(qapp, lambda: window.session.levers_busy is None and bool(window.session.levers))
    window._look.setInterval(10)
    window.session.try_lever(window.session.levers[0])
    until(qapp, lambda: False, 0.3)
    assert window.session.levers_busy is None
    window.session.take()
    assert until(qapp, lambda: window.session.levers_busy is not None)
    # those that are still shown say what they were found for
    window.show_stage("Parts")
    note = window.view("Parts").ways.note
    assert until(qapp, lambda: window.session.levers_busy is None or "earlier design" in note.text())
    assert window.session.levers_busy is not None
    assert until(qapp, lambda: window.session.levers_busy is None and "earlier design" not in note.text())


def test_vibration_lists_every_crossing(window: Any, qapp: Any) -> None:
    window.show_stage("Vibration")
    view = window.view("Vibration")
    found = window.session.result.meetings
    inside = sum(m.where == "working" for m in found)
    assert view.crossing_card.note.text() == f"{inside} of {len(found)} within the working speeds"
    assert any(found[0].mode.name in w.text() for w in view.findChildren(QLabel))
    assert any(f"{found[0].rpm:.0f} rpm" in w.toolTip() for w in view.findChildren(QLabel))
    modes = window.session.result.modes
    assert view.picker.count() == len(modes)
    flat = next(i for i, m in enumerate(modes) if m.name.startswith("in-plane"))
    view.pick_mode(flat)
    assert "in-plane" in view.picker.currentText()
    assert view.mode_card.note.text() == f"{modes[flat].low_hz:.0f}–{modes[flat].high_hz:.0f} Hz"
    assert until(qapp, lambda: view.scene.plotter is not None and view._swing is not None)
    view.pick_mode(flat + 1)
    assert view.mode == flat + 1
    assert until(qapp, lambda: not view.scene._dirty and view.timer.isActive())
    first = view._surface.points.copy()
    assert until(qapp, lambda: abs(view._surface.points - first).max() > 0.1, 5.0)
    view.pause.click()
    assert not view.timer.isActive()


def test_the_part_picture_is_drawn_and_follows_edits(window: Any, qapp: Any) -> None:
    view = window.view("Parts")
    assert until(qapp, lambda: view.scene.plotter is not None and not view.scene._dirty and view.scene.plotter.kept)
    image = view.scene.picture()
    assert image.std() > 5
    window.session.edit("parts.arm.shape.root_height_mm", 25.0)
    assert until(qapp, lambda: not view.scene._dirty)
    low, high = view.scene.plotter.bounds[4:6]
    assert high - low >= 25.0


def test_light_and_dark(window: Any) -> None:
    window.toggle_theme()
    assert theme.mode() == "dark"
    assert window.grab().toImage().pixelColor(700, 40).lightness() < 80
    window.toggle_theme()
    assert theme.mode() == "light"
    assert window.grab().toImage().pixelColor(700, 40).lightness() > 180


def test_every_stage_can_be_reached_by_keyboard_and_fits(window: Any, qapp: Any) -> None:
    window.resize(1280, 800)
    for i, name in enumerate(("Brief", "Airframe", "Parts", "Propeller", "Vibration"), start=1):
        button = window.rail.buttons[name]
        assert button.shortcut().toString() == f"Ctrl+{i}"
        button.setFocus()
        QTest.keyClick(button, Qt.Key.Key_Space)
        assert until(qapp, lambda name=name: window.stage == name)  # type: ignore[misc]
        assert (window.width(), window.height()) == (1280, 800)


def test_stage_verdicts_are_the_worst_inside(window: Any) -> None:
    marks = {name: b.verdict for name, b in window.rail.buttons.items() if not b.isHidden()}
    assert marks == {
        "Brief": "fails",
        "Airframe": "holds",
        "Parts": "fails",
        "Propeller": "holds",
        "Vibration": "fails",
        "Print run": "holds",
    }


def test_trouble_with_files_is_said_and_nothing_is_lost(window: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    said: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(a[2]))
    before = window.session.project
    (tmp_path / "bad.fravik").write_text("hello")
    assert not window.open_path(tmp_path / "bad.fravik")
    assert not window.open_path(tmp_path / "none.fravik")
    assert not window.save_to(window.session.file.path)
    assert window.export_to(Path("/proc/nowhere")) == []
    assert len(said) == 4
    assert window.session.project is before
    assert window.save_to(tmp_path / "copy")
    assert window.session.file.path == tmp_path / "copy.fravik"
    assert window.open_path(tmp_path / "copy.fravik")
    assert window.session.project == before


def test_a_craft_as_json_is_opened_and_kept(window: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    said: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(a[2]))
    before = window.session.project
    (tmp_path / "bad.json").write_text("{}{")
    assert not window.open_path(tmp_path / "bad.json")
    assert "not JSON" in said[0]
    assert window.session.project is before
    other = set_many(before, (("name", "Another"),))
    (tmp_path / "other.json").write_text(project_to_json(other))
    assert window.open_path(tmp_path / "other.json")
    assert window.session.project == other
    assert window.session.file is None
    assert window.saved.text() == "not in a file yet"


def test_a_file_that_cannot_be_written_is_said_in_the_window(window: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    from fravik.store import FileProblem

    def fail(*_: object) -> None:
        raise FileProblem("craft.fravik could not be saved: the disk is full.")

    monkeypatch.setattr(window.session.file, "write", fail)
    window.session.edit("parts.arm.recipe.walls", 4)
    assert "disk is full" in window.banner_text.text()
    assert window.saved.text() == "not saved"
    assert window.session.value("parts.arm.recipe.walls") == 4


def test_search_can_be_stopped_and_a_dead_worker_is_survived(window: Any, qapp: Any) -> None:
    session = window.session
    session.ask_levers()
    assert session.levers_busy is not None
    session.cancel_levers()
    assert session.levers_busy is None
    session.ask_levers()
    os.kill(session.background.worker.pid, signal.SIGKILL)
    assert until(qapp, lambda: session.levers_busy is None)
    session.background._idle.setInterval(50)
    session.ask_levers()
    assert until(qapp, lambda: session.levers_busy is None and len(session.levers) > 3)
    # with nothing to do it rests, and is there again when asked
    assert until(qapp, lambda: session.background.worker.pid is None, 5.0)
    session.ask_levers()
    assert until(qapp, lambda: session.background.worker.pid is not None, 20.0)
    session.cancel_levers()


def test_a_new_craft_from_five_figures(qapp: Any) -> None:
    from fravik.app.newcraftdialog import NewCraftDialog

    dialog = NewCraftDialog()
    dialog.edits["motor_to_motor_mm"].setText("wide")
    dialog._make()
    assert "needs a number above zero" in dialog.message.text()
    dialog.edits["motor_to_motor_mm"].setText("9000")
    dialog._make()
    assert dialog.project is None
    assert "9000" in dialog.message.text()
    dialog.edits["motor_to_motor_mm"].setText("250")
    dialog._make()
    assert dialog.project is not None
    assert dialog.project.layout.motor_to_motor_mm == 250


def test_export_of_some_parts_and_kinds(window: Any, tmp_path: Path) -> None:
    from fravik.app.exportdialog import ExportDialog

    dialog = ExportDialog(window.session.project, window)
    for box in (*dialog.parts.values(), *dialog.kinds.values()):
        box.setChecked(False)
    dialog.parts["leg"].setChecked(True)
    dialog.kinds["stl"].setChecked(True)
    dialog.folder.setText(str(tmp_path / "some"))
    assert [p.name for p in window.export_to(*dialog.chosen())] == ["leg_x4.stl"]


def test_a_field_offers_what_suits_the_layout(window: Any) -> None:
    field = number(window, "parts.arm.shape.pad_diameter_mm")
    assert 24 < field.sensible() < 36
    field.commit(field.sensible())
    assert window.session.value("parts.arm.shape.pad_diameter_mm") == field.sensible()
    assert number(window, "parts.arm.recipe.walls").sensible() is None


def test_demo_and_empty_project_open(window: Any) -> None:
    window.load(Project(name="Empty"), None)
    for name in ("Brief", "Airframe", "Parts", "Vibration"):
        window.show_stage(name)
    assert window.saved.text() == "not in a file yet"
    window.open_demo()
    window.show_stage("Parts")
    assert shown(window)["weight"] == f"{window.session.result.craft.mass_g:.0f} g"


def test_working_copies_of_the_demo_keep_earlier_edits(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from fravik.app.main import working_copy
    from fravik.model.paths import set_at

    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    first, _ = working_copy(tern(), "tern")
    assert first is not None
    beside, _ = working_copy(tern(), "tern")  # while a window has the first, a second one works on its own
    assert beside is not None
    assert beside.path != first.path
    first.close()
    beside.close()
    again, _ = working_copy(tern(), "tern")
    assert again is not None
    assert again.path == first.path
    first.write(set_at(tern(), "name", "mine"))
    second, notice = working_copy(tern(), "tern")
    assert second is not None
    assert second.path != first.path
    assert notice == ""
    assert open_file(first.path)[1].name == "mine"


def test_the_why_line_names_the_corner_and_its_cure(window: Any) -> None:
    view = window.view("Parts")
    window.session.edit("parts.arm.shape.root_fillet_mm", 0.5)
    view.case = "hard_landing"
    view.refresh()
    assert "root fillet 0.5 mm raises the stress ×" in view.verdict.text()
    assert any(s.name == "root fillet 0.5 mm" and s.factor > 1.8 for s in view.ruler.spikes)
    window.session.edit("brief.landing_m_s", 4.0)
    text = view.verdict.text()
    assert "of about" in text
    radius = float(text.split("of about ")[1].split(" mm")[0])
    before = window.session.result.members["arm"].cases["typical"]["hard_landing"].reserve
    window.session.edit("parts.arm.shape.root_fillet_mm", radius)
    after = window.session.result.members["arm"].cases["typical"]["hard_landing"].reserve
    wanted = next(m for m in window.session.result.margins if m.id == "reserve").limit
    assert before < wanted
    assert after == pytest.approx(wanted, rel=0.06)


def test_the_pad_corner_is_the_weak_spot_when_it_is_sharp(window: Any) -> None:
    view = window.view("Parts")
    edits = (("parts.arm.shape.pad_fillet_mm", 0.5), ("parts.arm.shape.root_fillet_mm", 9.0), ("parts.arm.shape.tip_width_mm", 9.0),
             ("parts.arm.shape.tip_height_mm", 5.0))  # fmt: skip
    window.session.edit_many(edits)
    view.case = "out_of_step"
    view.refresh()
    assert "pad fillet 0.5 mm raises the stress" in view.verdict.text()


def test_pointing_at_the_section_tells_zone_stress_and_reserve(window: Any, qapp: Any) -> None:
    view = window.view("Parts")
    view.ruler.pointer.setPos(10.0)
    qapp.processEvents()
    view.section.repaint()
    view.section.pointed.emit(0.0, 11.4)
    assert view.why.text().startswith("cover: ")
    assert "MPa" in view.why.text()
    view.section.pointed.emit(9.5, 6.0)
    assert view.why.text().startswith("wall: ")
    view.section.pointed.emit(40.0, 6.0)
    assert "governs here" in view.why.text()
    QTest.mouseMove(view.section, QPoint(view.section.width() // 2, view.section.height() // 2))
    view.section.left.emit()
    assert "Layers run level" in view.why.text()


def test_two_designs_are_compared_on_one_ruler(window: Any) -> None:
    view = window.view("Parts")
    view.pin.click()
    assert view.pin.text() == "Unpin"
    window.session.edit("parts.arm.recipe.lies", "on_side")
    x, ghost = view.ruler.ghost.getData()
    assert len(x) == len(view.ruler.positions_mm)
    assert abs(ghost - view.ruler.curve.getData()[1]).max() > 0.02
    assert "pinned → now: reserve" in view.ruler_card.note.text()
    view.pin.click()
    assert view.ruler.ghost.getData()[0] is None or len(view.ruler.ghost.getData()[0]) == 0
    assert "plate edge" in view.ruler_card.note.text()


def test_orientations_stand_side_by_side_and_can_be_taken(window: Any, qapp: Any) -> None:
    view = window.view("Parts")
    view.show_page(1)
    page = view.bed_page
    assert until(qapp, lambda: len(page.stepper.choices) >= 7 and not page.stepper.busy)
    by_name = {c.name: c for c in page.stepper.choices}
    assert by_name["Standing, root down"].kind == "layer split"
    assert by_name["Standing, root down"].crash < by_name["Flat, as drawn"].crash
    assert by_name["On its right side"].support_cm3 > by_name["Flat, as drawn"].support_cm3
    page.use_buttons[1].click()
    assert window.session.value("parts.arm.recipe.lies") == "on_side"
    assert view.ruler_card.isHidden()
    view.show_page(0)
    assert view.ruler_card.isVisible()


def test_a_part_is_turned_by_its_knob_and_by_keys(window: Any, qapp: Any) -> None:
    view = window.view("Parts")
    view.show_page(1)
    qapp.processEvents()
    dial = view.bed_page.roll
    middle, r = dial._ring()
    QTest.mousePress(dial, Qt.MouseButton.LeftButton, pos=(middle).toPoint() + QPoint(int(r), 0))
    QTest.mouseMove(dial, middle.toPoint() + QPoint(int(0.866 * r), -int(0.5 * r)))
    QTest.mouseRelease(dial, Qt.MouseButton.LeftButton, pos=middle.toPoint() + QPoint(int(0.866 * r), -int(0.5 * r)))
    assert window.session.value("parts.arm.recipe.lies") == "free"
    assert window.session.value("parts.arm.recipe.roll_deg") == 30.0
    QTest.keyClick(dial, Qt.Key.Key_Right)
    assert window.session.value("parts.arm.recipe.roll_deg") == 25.0
    assert "parts.arm.recipe.roll_deg" in view.controls.forms["made"].fields
    assert view.section.picture.layers in ("leaning", "level")


def test_plastics_are_drawn_from_this_part_and_can_be_taken(window: Any, qapp: Any) -> None:
    view = window.view("Parts")
    view.show_page(3)
    page = view.plastics_page
    assert until(qapp, lambda: len(page.stepper.choices) == 12 and not page.stepper.busy)
    by_name = {c.name: c for c in page.stepper.choices}
    assert by_name["PLA"].flex > by_name["PETG"].flex > by_name["PA12"].flex
    assert by_name["PLA"].crash < by_name["PETG"].crash < by_name["PA12"].crash
    assert len(page.names) == 12
    page.pick("pa12")
    assert page.card.text().startswith("PA12: reserve")
    page.use.click()
    assert window.session.value("parts.arm.recipe.filament") == "pa12"


def test_a_plastic_of_ones_own(window: Any) -> None:
    from fravik.app.views.parts.plastic_dialog import PlasticDialog

    dialog = PlasticDialog(window.session.project, "petg", window)
    dialog.edits_by_name["e_road_mpa"][1].setText("tough")
    dialog.make()
    assert "'tough' is not a number" in dialog.message.text()
    dialog.edits_by_name["e_road_mpa"][1].setText("9000")
    dialog.make()
    assert "rise in this order" in dialog.message.text()
    for edit, text in zip(dialog.edits_by_name["e_road_mpa"], ("2300", "2500", "2700"), strict=True):
        edit.setText(text)
    dialog.name.setText("Grey from the corner shop")
    dialog.make()
    assert dialog.filament is not None
    stiffness = window.session.result.members["arm"].answers["typical"].section.ei_up_nmm2[3]
    window.view("Parts").controls.current.take_plastic(dialog.edits("arm"), "Grey")
    assert window.session.value("parts.arm.recipe.filament") == dialog.filament.id
    assert window.session.result.members["arm"].answers["typical"].section.ei_up_nmm2[3] > 1.1 * stiffness
    box = window.view("Parts").controls.forms["made"].fields["parts.arm.recipe.filament"].box
    assert box.currentText() == "Grey from the corner shop"
    again = PlasticDialog(window.session.project, dialog.filament.id, window)
    assert again.name.text() == "Grey from the corner shop"
    assert again.own == dialog.filament.id


def test_joint_and_sheet_are_edited_and_explained(window: Any, qapp: Any) -> None:
    view = window.view("Parts")
    view.controls.show_tab(2)
    view.controls.forms["joint"].fields["parts.arm.joint.kind"].commit("hinge")
    window.session.edit("parts.arm.shape.tongue_width_mm", 22.0)
    assert set(view.controls.forms["joint"].fields) >= {"parts.arm.joint.pin_mm", "parts.arm.joint.latch_strength_n"}
    assert "Free play at the tip" in view.controls.current.joint_note.text()
    window.session.edit("parts.arm.joint.kind", "bolted")
    window.session.edit("parts.arm.joint.tightness", 0.02)
    assert "it slips" in view.controls.current.joint_note.text()
    view.controls.show_tab(3)
    view.controls.current.facing_box.click()
    assert window.session.project.part("arm").facing is not None
    assert not window.session.stale
    view.controls.show_tab(3)
    assert "min by hand" in view.controls.current.carbon_note.text()
    assert until(qapp, lambda: "by the laminate's modulus" in view.controls.current.twin_note.text())
    assert "min by hand" in view.total.text()
    view.controls.current.facing_box.click()
    assert window.session.project.part("arm").facing is None


def test_parts_are_added_and_removed(window: Any) -> None:
    view = window.view("Parts")
    view.add_part("leg")
    assert view.part_id == "leg2"
    assert not window.session.stale
    view.drop_part("leg2")
    assert "leg2" not in view.picks.buttons
    for part_id in ("guard", "mount"):
        view.drop_part(part_id)
    view.add_part("guard")
    assert view.title.text() == "Propeller guard"
    assert window.session.result.members["guard"].breaks["typical"]["guard_bump"].speed_m_s > 0


def test_a_load_case_of_ones_own(window: Any) -> None:
    window.show_stage("Brief")
    own = window.view("Brief").own_cases
    own.add_button.click()
    assert len(own.forms) == 1
    window.session.edit("brief.own_cases.case1.name", "fence post")
    type_into(own.forms[0].fields["brief.own_cases.case1.force_y_n"], "60")
    parts = window.view("Parts")
    window.show_stage("Parts")
    assert ("own/case1", "Fence post") in [(parts.cases.itemData(i), parts.cases.itemText(i)) for i in range(parts.cases.count())]
    hard = window.session.result.members["arm"].cases["typical"]["own/case1"].reserve
    window.session.edit("brief.own_cases.case1.force_y_n", 30.0)
    window.session.edit("brief.own_cases.case1.force_z_n", 0.0)
    soft = window.session.result.members["arm"].cases["typical"]["own/case1"].reserve
    assert soft > 1.8 * hard
    own.drop("case1")
    assert "fence post" not in window.session.result.members["arm"].cases["typical"]


def test_the_brief_tells_its_size_class_and_demands_that_fight(window: Any, qapp: Any) -> None:
    window.show_stage("Brief")
    view, session = window.view("Brief"), window.session
    assert until(qapp, lambda: "falling 10 m" in view.size_class.text())
    assert view.size_class.text().startswith("Middle")
    assert not view.remark.isVisible()
    session.edit_many((("printer.bed_x_mm", 120.0), ("printer.bed_y_mm", 100.0)), "a small bed")
    window.foresight.look()
    assert until(qapp, lambda: view.remark.isVisible())
    assert "178 mm" in view.remark.text()
    assert "120 × 100 mm" in view.remark.text()
    time = next(m for m in session.result.margins if m.metric == "print_minutes")
    assert time.verdict == "not known yet"


def test_brief_says_prices_in_the_makers_currency_and_when_nothing_is_asked(qapp: Any, window: Any) -> None:
    view = window.view("Brief")
    window.show_stage("Brief")
    fields, prices = dict(view.target_fields), dict(view.prices)
    window.session.edit("brief.currency", "Kč")
    assert until(qapp, lambda: next(iter(view.prices.values())).unit.text() == "Kč/kg")
    # what is there stays: nothing of the page is built anew for a sign
    assert view.prices == prices
    assert view.target_fields == fields
    window.session.edit("targets", ())
    assert until(qapp, lambda: any(q.text().startswith("No targets yet") for q in view.findChildren(QLabel) if q.isVisible()))
