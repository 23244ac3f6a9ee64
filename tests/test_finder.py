"""Finding anything by its name, the pages in the window, and the keys."""

from __future__ import annotations

from typing import Any

import pytest
from conftest import until
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QMessageBox

from fravik.app.finder import Entry, Finder, matching
from fravik.app.menus import found_by_name
from fravik.app.pages import Pages, page_names
from fravik.app.stages import STAGES
from fravik.demo import DEMOS
from fravik.kinds.fieldindex import field_places
from fravik.model.paths import get_at
from fravik.study.margins import METRICS
from fravik.study.words import several, so_many

NAMES = [name for _, names in STAGES for name in names]


@pytest.mark.parametrize("demo", DEMOS)
def test_every_field_that_can_be_found_is_there(demo: str) -> None:
    project = DEMOS[demo]()
    places = field_places(project)
    assert len({p.path for p in places}) == len(places) > 100
    for place in places:
        get_at(project, place.path)
        assert place.stage in NAMES


def test_what_begins_with_the_words_comes_first() -> None:
    names = ("Root fillet", "Pad fillet", "Fillet", "Motor", "Front root")
    entries = [Entry(n, "Arm, Parts", lambda: None) for n in names]
    assert [e.title for e in matching(entries, "fil")] == ["Fillet", "Pad fillet", "Root fillet"]
    assert [e.title for e in matching(entries, "root fil")] == ["Root fillet"]
    assert [e.title for e in matching(entries, "arm")] == [e.title for e in matching(entries, "ARM ")]
    assert matching(entries, "no such thing") == []
    assert matching(entries, "") == entries


def test_a_field_a_part_and_an_action_are_found_and_opened(window: Any, qapp: Any) -> None:
    def choose(text: str, title: str) -> None:
        finder = Finder(found_by_name(window, NAMES), window.ground)
        QTest.keyClicks(finder.line, text)
        for _ in range(finder.list.count()):
            if finder.shown[finder.list.currentRow()].title == title:
                break
            QTest.keyClick(finder.line, Qt.Key.Key_Down)
        QTest.keyClick(finder.line, Qt.Key.Key_Return)
        assert finder.chosen is not None
        assert finder.chosen.title == title
        qapp.processEvents()

    choose("camera mount", "Camera mount")
    assert (window.stage, window.view("Parts").part_id) == ("Parts", "mount")
    choose("capacity", "Capacity")
    assert until(qapp, lambda: window.stage == "Airframe")
    field = window.view("Airframe").forms[3].fields["components.battery.capacity_mah"]
    assert until(qapp, lambda: field.control().hasFocus() or window.focusWidget() is field.control())
    choose("root fillet arm", "Root fillet")
    assert window.view("Parts").part_id == "arm"
    wanted = "parts.arm.shape.root_fillet_mm"
    assert until(qapp, lambda: getattr(getattr(window.focusWidget(), "parent", lambda: None)(), "path", "") == wanted)
    choose("pull-up", "Pull-up")
    assert until(qapp, lambda: window.stage == "Brief")
    before = window.session.project.name
    window.session.edit("name", "Another")
    choose("undo", "Undo")
    assert window.session.project.name == before


def test_nothing_found_says_so_and_goes_nowhere(window: Any) -> None:
    finder = Finder(found_by_name(window, NAMES), window.ground)
    finder.line.setText("zzzz")
    assert finder.list.item(0).text() == "Nothing is called that."
    finder.go()
    assert finder.chosen is None


def test_pages_are_read_in_the_window_and_lead_to_each_other(window: Any, qapp: Any) -> None:
    assert {info.page for info in METRICS.values()} <= set(page_names())
    window.ask_why("strike")
    window.show_page()
    assert window.pages.page == "crash"
    assert "strike" in window.pages.text.toPlainText()
    for name in page_names():
        window.show_page(name)
        assert len(window.pages.text.toPlainText()) > 400
        assert window.pages.names.currentItem().text() == name
    window.pages._follow(QUrl("craft.md"))
    assert window.pages.page == "craft"
    window.pages._follow(QUrl("https://nowhere.invalid/craft.html"))
    assert window.pages.page == "craft"
    window.pages.close()


def test_a_page_that_did_not_come_along_is_named(window: Any, tmp_path: Any) -> None:
    pages = Pages(window.ground, tmp_path)
    pages.show_page("craft")
    assert "did not come" in pages.text.toPlainText()


def test_all_keys_are_told(window: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "information", lambda *a: told.append(a[-1]))
    window.actions_by_name["Keys"].trigger()
    for action in window.actions_by_name.values():
        if not action.shortcut().isEmpty():
            assert action.shortcut().toString() in told[0]


def test_numbers_of_parts_in_words() -> None:
    assert several(4, "Arm") == "four arms"
    assert several(1, "Camera mount") == "camera mount"
    assert several(13, "Leg") == "13 legs"
    assert so_many(2) == "two on the craft"


def test_components_fold_tell_their_figures_and_open_where_needed(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view, session = window.view("Airframe"), window.session
    motor, battery = (next(f for f in view.folds if f.path == f"components.{k}") for k in ("motor", "battery"))
    assert motor.body is None, "made when it is opened first"
    assert motor.short.text() == "44 g, 740 rpm/V"
    motor.arrow.click()
    assert until(qapp, lambda: motor.body is not None and motor.body.isVisible())
    assert motor.short.text() == ""
    session.edit("components.battery.mass_g", 400.0)
    assert "400 g" in battery.short.text()
    window.toggle_inches()
    assert "14.11 oz" in battery.short.text()
    window.toggle_inches()
    # a field that is asked for is never hidden, nor what has to be put right
    view.reveal("components.battery.cells")
    view.reveals.finish()
    assert battery.body.isVisible()
    window.show_stage("Brief")
    brief = window.view("Brief")
    assert not brief.motion.body.isVisible()
    brief.reveal("printer.travel_speed_mm_s")
    assert brief.motion.body.isVisible()
    # which are open stays so while components come and go
    window.show_stage("Airframe")
    next(f for f in view.blocks.folds if f.path.endswith(".camera")).open()
    session.edit("components.blocks", session.project.components.blocks[1:])
    assert [f.arrow.isChecked() for f in view.blocks.folds if f.path.endswith(".camera")] == [True]
