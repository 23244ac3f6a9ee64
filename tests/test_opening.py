"""Pages that are shown for the first time: made in turns, dressed in the palette in force, and the last one asked for is shown."""

from __future__ import annotations

from typing import Any

from conftest import until
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QStackedWidget, QWidget

from fravik.app import theme
from fravik.app.opening import Opening


def press(window: Any, stage: str) -> None:
    QTest.mouseClick(window.rail.buttons[stage], Qt.MouseButton.LeftButton)


def test_a_page_comes_filled_and_the_window_answers_meanwhile(window: Any, qapp: Any) -> None:
    press(window, "Brief")
    assert "Brief" not in window.views
    assert window.stage == "Parts"  # nothing was made while the press was answered
    window.session.edit("name", "Meanwhile")
    assert until(qapp, lambda: window.stage == "Brief")
    assert window.stack.currentWidget() is window.views["Brief"]
    page = window.views["Brief"]
    assert page.property("whole") == theme.mode()

    def told() -> list[str]:
        return sorted(w.text() for w in page.findChildren(QLabel) if w.isVisible())

    before = told()
    assert len(before) > 20
    page.refresh()
    assert told() == before


def test_the_last_one_asked_for_is_shown(window: Any, qapp: Any) -> None:
    for stage in ("Brief", "Vibration", "Airframe"):
        press(window, stage)
    assert until(qapp, lambda: window.stage == "Airframe")
    until(qapp, lambda: False, 0.3)
    assert window.stage == "Airframe"
    assert window.rail.buttons["Airframe"].isChecked()
    press(window, "Print run")
    window.show_stage("Parts")  # at once, in its place
    until(qapp, lambda: False, 0.5)
    assert window.stage == "Parts"
    assert window.stack.currentWidget() is window.views["Parts"]


def test_a_change_of_palette_meanwhile_reaches_it_whole(window: Any, qapp: Any) -> None:
    press(window, "Airframe")
    assert until(qapp, lambda: "Airframe" in window.views)
    window.toggle_theme()
    try:
        assert until(qapp, lambda: window.stage == "Airframe" and not window.opening.busy)
        until(qapp, lambda: False, 0.4)
        worn = {w.property("dressed") for w in window.views["Airframe"].findChildren(QWidget) if w.property("dressed")}
        assert worn == {"dark"}
    finally:
        window.toggle_theme()


def test_a_place_on_a_page_not_seen_yet_is_revealed_there(window: Any, qapp: Any) -> None:
    window.show_path("Airframe", "layout.kind")
    assert until(qapp, lambda: window.stage == "Airframe")


def test_a_module_that_is_not_there_is_no_hang(qapp: Any) -> None:
    class Page(QWidget):
        def refresh(self) -> None:
            self.setObjectName("filled")

    stack, shown = QStackedWidget(), []
    page = Page()
    stack.addWidget(page)
    opening = Opening(stack, lambda _: page, tuple)
    opening.begin("Elsewhere", "fravik.app.views.nowhere", lambda: shown.append(page.objectName()))
    assert opening.busy
    assert until(qapp, lambda: bool(shown), 5.0)
    assert shown == ["filled"]


def bare(page: QWidget) -> set[str]:
    """What is seen of a page and wears no sheet, neither itself nor by what it is in."""

    def worn(widget: QWidget | None) -> bool:
        while widget is not None and widget.property("dressed") != theme.mode():
            widget = widget.parentWidget()
        return widget is not None

    kinds = QAbstractButton | QLineEdit | QComboBox
    return {
        f"{type(w).__name__} {w.accessibleName()}"
        for w in page.findChildren(QWidget)
        if w.isVisible() and isinstance(w, kinds) and not worn(w)
    }


def test_all_that_is_seen_is_dressed_whenever_it_came(window: Any, qapp: Any) -> None:
    for stage in ("Airframe", "Print run", "Parts"):
        press(window, stage)
        assert until(qapp, lambda stage=stage: window.stage == stage)  # type: ignore[misc]
        until(qapp, lambda: False, 0.3)
        assert not bare(window.views[stage])
    view = window.view("Parts")
    view.open_part("bottom")
    assert until(qapp, lambda: getattr(view.controls.current, "features", None) is not None or view.controls.current.count() > 1)
    editors = view.controls.current
    for i in range(editors.count()):
        if editors.isTabVisible(i):
            editors.setCurrentIndex(i)
            until(qapp, lambda: False, 0.2)
            assert not bare(view), editors.tabText(i)
