"""Light and dark: everything to be seen takes the palette, what comes later too, and no page holds the window up."""

import time
from typing import Any

import numpy as np
from conftest import until
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QLabel, QLineEdit, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import Card, label, scrolled


def ink(widget: QWidget) -> str:
    """The colour that a widget writes in."""
    return widget.palette().color(widget.foregroundRole()).name()


def bare(widget: QWidget) -> list[QWidget]:
    """What is to be seen there and neither wears a sheet nor lies in anything that does."""

    def worn(w: QWidget | None) -> bool:
        while w is not None:
            if w.styleSheet():
                return True
            w = w.parentWidget()
        return False

    return [w for w in widget.findChildren((QLabel, QLineEdit)) if w.isVisible() and not worn(w)]  # type: ignore[call-overload]


def test_every_text_of_every_stage_is_dressed(window: Any, qapp: Any) -> None:
    for stage in ("Brief", "Airframe", "Parts", "Vibration", "Print run"):
        window.show_stage(stage)
        qapp.processEvents()
        assert bare(window) == [], stage


def test_the_other_palette_reaches_all_that_is_there_in_the_end(window: Any, qapp: Any) -> None:
    for stage in ("Brief", "Airframe", "Parts"):
        window.show_stage(stage)
    assert len(window.view("Airframe").forms) == 4  # of groups that are closed, too
    window.toggle_theme()
    dark = QColor(theme.DARK.ink).name()
    lines = [w for name in ("Brief", "Airframe", "Parts") for w in window.view(name).findChildren(QLineEdit)]
    assert len(lines) > 60
    assert until(qapp, lambda: all(ink(w) == dark for w in lines))
    assert theme.mode() == "dark"


def test_what_comes_into_a_dressed_page_later_is_dressed_when_it_appears(window: Any, qapp: Any) -> None:
    window.show_stage("Brief")
    card = Card("New")
    late = label("late", "muted")
    card.column.addWidget(late)
    inner = window.view("Brief").layout()
    inner.addWidget(card)
    card.show()
    qapp.processEvents()
    assert ink(late) == QColor(theme.current().muted).name()
    card.setParent(None)


def test_a_large_page_is_dressed_in_many_turns_and_none_of_them_is_long(qapp: Any) -> None:
    page = QWidget()
    column = QVBoxLayout(page)
    for _ in range(600):
        column.addWidget(QLabel("row"))
    area = scrolled(page)
    area.resize(300, 300)
    area.show()
    theme.dress(area)
    beats: list[float] = []
    between = QTimer()
    between.timeout.connect(lambda: beats.append(time.perf_counter()))
    between.start(1)
    try:
        theme.set_mode("dark")
        theme.dress_in_turns([area])
        rows = page.findChildren(QLabel)
        assert until(qapp, lambda: {ink(r) for r in rows} == {QColor(theme.DARK.ink).name()})
        assert len(beats) > 3
    finally:
        between.stop()
        theme.set_mode("light")
        area.close()


def test_a_picture_is_drawn_once_and_kept_until_another_is_asked_for(window: Any, qapp: Any) -> None:
    window.show_stage("Parts")
    scene = window.view("Parts").scene
    assert until(qapp, lambda: scene.plotter is not None and not scene._dirty and scene.plotter.kept)
    drawn: list[int] = []
    seen = scene.plotter.render_window.AddObserver("StartEvent", lambda *_: drawn.append(1))
    scene.plotter.repaint()
    scene.plotter.repaint()
    assert drawn == []
    scene.redraw()
    assert until(qapp, lambda: len(drawn) == 1)
    before = scene.picture().copy()
    assert before.std() > 5  # not an empty sheet
    scene.plotter.render_window.RemoveObserver(seen)


def test_the_first_picture_comes_in_two_turns_and_is_whole(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    scene = window.view("Airframe").scene
    assert until(qapp, lambda: scene.plotter is not None)
    seen: list[int] = []

    def count(*_: Any) -> None:
        seen.append(sum(bool(a.GetVisibility()) for a in scene.plotter.renderer.actors.values()))

    scene.plotter.render_window.AddObserver("StartEvent", count)
    assert until(qapp, lambda: scene.plotter.made_ready and not scene._dirty and scene.plotter.kept)
    every = len(scene.plotter.renderer.actors)
    assert every > 10
    assert [n for n in seen if n] == [1, every]
    first = scene.picture().copy()
    scene.redraw()
    assert until(qapp, lambda: len(seen) > seen.index(every) + 1)
    assert np.array_equal(scene.picture(), first)


def test_a_page_opened_while_others_take_the_palette_comes_next(window: Any, qapp: Any) -> None:
    for stage in ("Brief", "Airframe", "Parts"):
        window.show_stage(stage)
    qapp.processEvents()
    window.toggle_theme()
    window.show_stage("Brief")
    dark = QColor(theme.current().ink).name()
    assert until(qapp, lambda: all(ink(w) == dark for w in window.view("Brief").findChildren(QLineEdit)))


def test_the_editors_of_a_part_come_after_its_figures_and_stay(window: Any, qapp: Any) -> None:
    window.show_stage("Parts")
    view = window.view("Parts")
    arm = view.controls.current
    view.open_part("leg")
    assert view.title.text() == "Landing leg"
    blank = view.controls.currentWidget()
    assert blank is not arm
    assert not hasattr(blank, "forms")
    assert until(qapp, lambda: getattr(view.controls.currentWidget(), "part_id", "") == "leg")
    window.session.edit("parts.arm.recipe.walls", 5)
    view.open_part("arm")
    assert view.controls.currentWidget() is arm
    assert arm.forms["made"].fields["parts.arm.recipe.walls"].current() == 5
    window.session.edit("parts.arm.joint.kind", "hinge")
    assert view.controls.current is not arm, "a joint of another kind has other fields"


def test_editors_that_are_being_made_are_not_begun_again(window: Any) -> None:
    from fravik.app.views.parts.editors import PartEditors

    window.show_stage("Parts")
    controls, leg = window.view("Parts").controls, window.session.project.part("leg")
    arm = controls.current
    controls.show_part(leg)
    while len(controls.findChildren(PartEditors)) < 2:
        controls._turns.step()
    half = next(e for e in controls.findChildren(PartEditors) if e is not arm)
    controls.show_part(leg)  # figures of another edit came
    assert controls.current is half
    controls.show_part(window.session.project.part("mount"))
    controls.show_part(leg)
    assert controls.current is half


def test_editors_of_no_more_parts_than_a_craft_usually_has_are_kept(window: Any) -> None:
    from fravik.app.views.parts.controls import MOST_KEPT

    window.show_stage("Parts")
    view = window.view("Parts")
    for kind in ("bolted", "hinge", "dovetail", "glued") * 2:
        window.session.edit("parts.arm.joint.kind", kind)
        for part in ("bottom", "arm", "leg"):
            view.open_part(part)
            assert view.controls.current.part_id == part
    assert view.controls.count() <= MOST_KEPT + 1
