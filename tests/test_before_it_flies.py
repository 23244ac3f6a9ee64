"""The panel of what will go wrong: over any view, by weight, each to its place; cures tried and taken back; set aside with a reason."""

from typing import Any

from conftest import until
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel

from fravik.app.widgets.beforeitflies import NOTHING
from fravik.store import open_file

CLASH = "fit.clash:battery:receiver"
LEFT = Qt.MouseButton.LeftButton


def opened(window: Any, qapp: Any) -> Any:
    """The panel, with what there is; from now on it follows every edit."""
    window.foresight.auto = True
    window.foresight.look()
    assert until(qapp, lambda: window.foresight.fresh)
    if window.flies.isHidden():
        QTest.mouseClick(window.rail.flies, LEFT)
    assert until(qapp, lambda: window.flies.note.text() != "looking…" and not window.flies.turns.busy)
    return window.flies


def test_the_foot_of_the_rail_counts_and_opens_it_over_any_stage(window: Any, qapp: Any) -> None:
    panel = opened(window, qapp)
    assert "1 grave" in window.rail.flies.told
    assert "1 grave" in window.rail.flies.accessibleName()
    assert window.rail.buttons["Airframe"].verdict == "fails"
    for stage in ("Brief", "Airframe", "Parts", "Vibration", "Print run"):
        window.show_stage(stage)
        qapp.processEvents()
        assert panel.isVisible()
        assert panel.geometry().right() < window.width()
        assert panel.geometry().bottom() < window.height()
    assert next(iter(panel.rows)) == CLASH
    QTest.keyClick(panel, Qt.Key.Key_Escape)
    assert panel.isHidden()
    assert not window.rail.flies.isChecked()


def test_each_opens_its_place(window: Any, qapp: Any) -> None:
    window.session.edit_many((("parts.arm.shape.root_height_mm", 4.0), ("parts.arm.shape.tip_height_mm", 4.0)))
    panel = opened(window, qapp)
    assert until(qapp, lambda: "strength:arm" in panel.rows)
    window.show_stage("Brief")
    QTest.mouseClick(panel.rows["strength:arm"].show_button, LEFT)
    assert window.stage == "Parts"
    assert window.view("Parts").part_id == "arm"
    assert window.view("Parts").controls.current.currentIndex() == 1
    QTest.mouseClick(panel.rows[CLASH].show_button, LEFT)
    assert until(qapp, lambda: window.stage == "Airframe")
    window.view("Airframe").reveals.finish()
    field = next(f for form in window.view("Airframe").blocks.forms.values() for k, f in form.fields.items() if k.endswith("receiver.name"))
    area = window.view("Airframe").fields_area
    assert until(qapp, lambda: 0 <= field.mapTo(area, field.rect().topLeft()).y() < area.height())


def test_what_it_concerns_is_marked_in_the_tree(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    card = window.view("Airframe").on_it
    window.foresight.look()
    assert until(qapp, lambda: window.foresight.fresh)

    def marked(title: str) -> str:
        item = next(i for i, n in card._rows if n.title == title)
        return f"{item.data(1, Qt.ItemDataRole.AccessibleTextRole)} {item.toolTip(1)}"

    assert until(qapp, lambda: marked("Receiver and positioning").startswith("fails"))
    assert "does not go in" in marked("Receiver and positioning")
    assert marked("Flight stack").startswith("None")
    item = next(i for i, n in card._rows if n.title == "Receiver and positioning")
    card._open(item)
    window.view("Airframe").reveals.finish()
    field = next(f for form in window.view("Airframe").blocks.forms.values() for k, f in form.fields.items() if k.endswith("receiver.name"))
    area = window.view("Airframe").fields_area
    assert until(qapp, lambda: 0 <= field.mapTo(area, field.rect().topLeft()).y() < area.height())


def test_a_cure_is_tried_kept_or_taken_back(window: Any, qapp: Any) -> None:
    panel = opened(window, qapp)
    before = window.session.project
    QTest.mouseClick(panel.rows[CLASH].cure_button, LEFT)
    assert until(qapp, lambda: panel.rows[CLASH].tries)
    title = next(t for t in panel.rows[CLASH].tries if "back" in t)
    QTest.mouseClick(panel.rows[CLASH].tries[title], LEFT)
    assert window.session.trial is not None
    assert title in panel.trying.text()
    assert until(qapp, lambda: window.foresight.fresh and CLASH not in panel.rows)
    assert "grave" not in window.rail.flies.told
    window.session.take_back()
    assert window.session.project == before
    assert until(qapp, lambda: window.foresight.fresh and CLASH in panel.rows)
    assert panel.trial.isHidden()


def test_what_is_set_aside_counts_no_more_and_stays_so_in_the_file(window: Any, qapp: Any) -> None:
    panel = opened(window, qapp)
    row = panel.rows[CLASH]
    QTest.mouseClick(row.aside_button, LEFT)
    assert row.reason.isVisible()
    QTest.keyClicks(row.reason, "strapped on outside")
    QTest.keyClick(row.reason, Qt.Key.Key_Return)
    assert until(qapp, lambda: window.foresight.fresh and "grave" not in window.rail.flies.told)
    assert list(panel.rows)[-1] == CLASH
    assert until(qapp, lambda: window.rail.buttons["Airframe"].verdict != "fails")
    assert until(qapp, lambda: window.session.save_state is not None and window.session.save_state.kind == "saved")
    kept = open_file(window.session.file.path)[1]
    assert [(s.id, s.reason) for s in kept.set_aside] == [(CLASH, "strapped on outside")]
    QTest.mouseClick(panel.rows[CLASH].aside_button, LEFT)
    assert until(qapp, lambda: "1 grave" in window.rail.flies.told)


def test_it_is_filtered_by_stage_and_by_cures(window: Any, qapp: Any) -> None:
    panel = opened(window, qapp)
    panel.stages.setCurrentText("Vibration")
    panel.stages.activated.emit(panel.stages.currentIndex())
    assert panel.rows == {}
    panel.stages.setCurrentIndex(0)
    panel.stages.activated.emit(0)
    QTest.mouseClick(panel.curable, LEFT)
    assert CLASH in panel.rows
    assert all(r.finding.cures for r in panel.rows.values())


def test_a_craft_with_nothing_to_find_says_what_no_model_sees(window: Any, qapp: Any) -> None:
    panel = opened(window, qapp)
    window.foresight.found = ()
    panel.refresh()
    assert any(w.text() == NOTHING for w in panel.findChildren(QLabel))


def test_another_craft_brings_its_own(window: Any, qapp: Any) -> None:
    panel = opened(window, qapp)
    window.open_demo("wren")
    assert until(qapp, lambda: window.foresight.fresh and CLASH not in panel.rows and "disks.strike:battery" in panel.rows)


def test_a_trouble_of_the_print_run_opens_its_plate(window: Any, qapp: Any) -> None:
    window.settler.ask()
    assert until(qapp, lambda: window.settler.fresh)
    panel = opened(window, qapp)
    name = next(k for k in panel.rows if k.startswith("print."))
    part = panel.rows[name].finding.part_id
    QTest.mouseClick(panel.rows[name].show_button, LEFT)
    assert until(qapp, lambda: window.stage == "Print run")
    view = window.view("Print run")
    plate = next(p for p in window.settler.settled.batches.batches if p.id == view.batch_id)
    assert part in {c.part_id for c in plate.copies}


def test_the_panel_follows_the_window_in_size(window: Any, qapp: Any) -> None:
    panel = opened(window, qapp)
    for width, height in ((1000, 640), (1500, 950)):
        window.resize(width, height)
        assert until(qapp, lambda h=height: panel.geometry().bottom() in range(window.centralWidget().height() - 14, h))
