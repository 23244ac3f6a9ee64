"""The window where it once misled: opening, failing searches, what is not judged, menus that lost their actions."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from conftest import until
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QComboBox, QLabel, QMenu, QToolButton
from test_window import type_into

from fravik.app import menus
from fravik.app.background import Message
from fravik.app.files import FileActions
from fravik.app.session import Session
from fravik.app.window import MainWindow
from fravik.demo import tern
from fravik.model.paths import set_at, set_many
from fravik.model.project import OwnCase


def texts(widget: Any) -> list[str]:
    """What its labels say; those that were taken off, and wait for the event loop to go, do not count."""

    def off(w: QLabel) -> bool:
        return w.isHidden() and w.testAttribute(Qt.WidgetAttribute.WA_WState_ExplicitShowHide)

    return [w.text() for w in widget.findChildren(QLabel) if w.parent() is not None and not off(w)]


def refused() -> Any:
    return set_many(tern(), (("name", "Contradiction"), ("parts.arm.shape.pocket_count", 8), ("parts.arm.shape.pocket_length_mm", 100.0)))


def test_every_menu_entry_does_something_and_every_action_is_on_a_menu(window: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    entries: list[QAction] = []

    def walk(menu: QMenu) -> None:
        for action in menu.actions():
            sub = action.menu()
            if sub is not None:
                walk(sub)
            elif not action.isSeparator():
                entries.append(action)

    for top in window.menuBar().actions():
        walk(top.menu())
    assert {a.text() for a in entries} == set(window.actions_by_name)
    called: list[str] = []
    every = [n for n in vars(FileActions) if n.startswith(("ask_", "open_demo"))]
    for name in every:
        monkeypatch.setattr(FileActions, name, lambda self, *_, n=name: called.append(n))
    others = ("about", "toggle_theme", "toggle_inches", "ask_find", "show_page", "show_flies", "show_first")
    for name in others:
        monkeypatch.setattr(MainWindow, name, lambda self, n=name: called.append(n))
    monkeypatch.setattr(menus, "tell_keys", lambda *_: called.append("keys"))
    fresh = MainWindow(tern())
    fresh.settler.auto = False
    for text, action in fresh.actions_by_name.items():
        if text not in ("Close", "Undo", "Redo", "Look for ways out", "Keep the trial", "Take the trial back"):
            action.trigger()
    fresh.close()
    assert set(called) >= {*every, *others, "keys"}, "an action is on no menu"
    public = {n for n in vars(Session) if n in ("undo", "redo", "take", "take_back", "ask_levers")}
    assert len(public) == 5
    shortcuts = [a.shortcut().toString() for a in entries if not a.shortcut().isEmpty()]
    assert len(shortcuts) == len(set(shortcuts))
    assert window.actions_by_name["New craft…"].shortcut().toString() == "Ctrl+N"


def test_a_new_craft_from_the_menu(window: Any, qapp: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    from fravik.app import files

    def answer(dialog: Any) -> bool:
        dialog.edits["name"].setText("Plover")
        dialog._make()
        return True

    monkeypatch.setattr(files.NewCraftDialog, "exec", answer)
    window.actions_by_name["New craft…"].trigger()
    assert window.session.project.name == "Plover"
    assert all(t.margin.value is not None for t in window.strip.tiles)


@pytest.mark.parametrize(("part", "entry"), [("arm", "Arm"), ("bottom", "Bottom plate"), ("top", "Top plate"), ("leg", "Landing leg")])
def test_a_removed_part_can_be_added_again(window: Any, part: str, entry: str) -> None:
    view = window.view("Parts")
    view.drop_part(part)
    assert part not in {p.id for p in window.session.project.parts}
    more = next(b for b in view.findChildren(QToolButton) if b.accessibleName() == "Add a part")
    next(a for a in more.menu().actions() if a.text() == entry).trigger()
    assert part in {p.id for p in window.session.project.parts}
    assert all(t.margin.value is not None for t in window.strip.tiles)


def test_opening_a_craft_that_is_refused_shows_nothing_of_the_last(window: Any, qapp: Any) -> None:
    for stage in ("Brief", "Airframe", "Parts", "Vibration", "Print run"):
        window.show_stage(stage)
    window.view("Parts").pin.click()
    window.settler.ask()
    assert until(qapp, lambda: window.settler.settled is not None, 60.0)
    window.view("Print run").standin.printers["first"] = object()
    window.load(refused(), None)
    assert window.session.result is None
    assert {t.margin.verdict for t in window.strip.tiles} == {"not known yet"}
    assert "cannot be evaluated" in window.banner_text.text()
    assert "last good" not in window.banner_text.text()
    assert window.settler.settled is None
    assert window.view("Parts").ruler_card.pinned is None
    assert not window.view("Print run").standin.printers
    for stage in ("Airframe", "Parts", "Vibration", "Print run"):
        window.show_stage(stage)
    assert {f.text() for f in window.view("Airframe").figures.values()} == {"not known yet"}
    parts = window.view("Parts")
    assert not parts.ruler_card.isVisible()
    assert "contradicts itself" in parts.verdict.text()
    # and it comes back when it is put right
    window.session.edit("parts.arm.shape.pocket_count", 0)
    assert all(t.margin.value is not None for t in window.strip.tiles)
    assert window.view("Parts").title.text() == "Arm"


def test_a_window_may_start_on_a_refused_craft(qapp: Any) -> None:
    made = MainWindow(refused())
    made.settler.auto = False
    made.show()
    for stage in ("Brief", "Airframe", "Parts", "Vibration", "Print run"):
        made.show_stage(stage)
        qapp.processEvents()
    assert {t.margin.verdict for t in made.strip.tiles} == {"not known yet"}
    made.close()


def test_a_search_that_fails_says_so_and_why(window: Any, qapp: Any) -> None:
    s = window.session
    s.cancel_levers()
    s.levers_for, s.levers_busy = s.project, (1, 10)
    s._hear(Message(1, "error", "The background worker stopped."))
    ways = window.view("Parts").ways
    assert until(qapp, lambda: "failed: The background worker stopped." in " ".join(texts(ways)))
    said = " ".join(texts(ways))
    assert "No single change helps" not in said


def test_six_arms_are_not_judged_anywhere(window: Any) -> None:
    window.session.edit("parts.arm.count", 6)
    known = {t.margin.metric for t in window.strip.tiles if t.margin.value is not None}
    assert known <= {"print_minutes", "material_cost"}
    assert "6 arms" in window.banner_text.text()
    window.show_stage("Airframe")
    figures = window.view("Airframe").figures
    assert figures["Hover power"].text() == "not known yet"
    assert figures["Propeller to ground"].text() != "not known yet"
    window.show_stage("Vibration")
    assert any("6 arms" in t for t in texts(window.view("Vibration")))
    window.show_stage("Parts")
    assert "Not judged" in window.view("Parts").verdict.text()
    assert window.rail.buttons["Vibration"].verdict != "holds"


def test_the_vibration_list_and_its_tile_agree(window: Any) -> None:
    window.session.edit("parts.guard.shape.span_deg", 110.0)
    window.show_stage("Vibration")
    view = window.view("Vibration")
    worst = window.session.result.meetings[0]
    rows = texts(view)
    assert any(worst.mode.name in t for t in rows)
    tile = next(t.margin for t in window.strip.tiles if t.margin.metric == "modes_clear_pct")
    assert tile.value == pytest.approx(worst.clear_pct)
    assert worst.named in tile.detail
    assert not any("in passing" in t for t in rows)


def test_own_cases_are_shown_by_name_and_kept_apart(window: Any) -> None:
    cases = (OwnCase(id="a", name="arm strike", force_z_n=0.0), OwnCase(id="b", name="tow line"))
    window.session.replace(set_at(tern(), "brief.own_cases", cases), "own cases")
    view = window.view("Parts")
    view.refresh()
    box: QComboBox = view.cases
    shown = [box.itemText(i) for i in range(box.count())]
    assert shown.count("Arm strike") == 2
    assert "Tow line" in shown
    assert len({box.itemData(i) for i in range(box.count())}) == box.count()
    window.session.edit("brief.own_cases.b.name", "kite line")
    assert "Kite line" in [box.itemText(i) for i in range(box.count())]


def test_the_bath_is_a_field(window: Any) -> None:
    window.show_stage("Print run")
    laying = window.view("Print run").laying
    window.view("Print run").tabs.setCurrentWidget(laying)
    laying.show_part("arm")
    field = laying.form.fields["parts.arm.laying.bath_h"]
    type_into(field, "0.5")
    assert window.session.project.part("arm").laying.bath_h == 0.5


def test_saving_a_new_craft_keeps_it(window: Any, tmp_path: Path) -> None:
    window.load(tern(), None)
    assert window.save_to(tmp_path / "kept.fravik")
    assert window.session.file.read() == window.session.project


def test_a_part_that_is_cut_and_cannot_be_keeps_its_page(window: Any, qapp: Any) -> None:
    window.open_part("bottom")
    window.session.edit_many((("parts.bottom.shape.rib_height_mm", 4.0),))
    assert not window.session.stale
    window.session.edit("parts.bottom.cut_from", "carbon_plate")  # no plate on sale has ribs
    assert window.session.stale
    fields = window.view("Parts").controls.forms["made"].fields
    assert "parts.bottom.cut_from" in fields
    assert "parts.bottom.recipe.filament" not in fields
    window.session.undo()
    assert until(qapp, lambda: "g on the shelf" in " ".join(texts(window.view("Parts").controls)))


def test_a_craft_that_cannot_be_judged_says_so_on_every_stage(window: Any, qapp: Any) -> None:
    window.show_stage("Parts")
    parts = window.view("Parts")
    assert until(qapp, lambda: bool(parts.picks.buttons))
    parts.add_part("top")
    assert until(qapp, lambda: "top2" in parts.picks.buttons)
    assert "Not judged" in parts.verdict.text()
    assert not parts.ruler_card.isVisible()
    window.show_stage("Vibration")
    view = window.view("Vibration")
    assert until(qapp, lambda: view.diagram.legend.text().startswith("Not known yet"))
    # no axes of nothing, no modes to step through
    assert not view.diagram.pad.isVisible()
    assert not any(b.isVisible() for b in view.steps)
    window.show_stage("Airframe")
    tree = window.view("Airframe").on_it.tree
    every = [i.text(0) for i in tree.findItems("Battery", Qt.MatchFlag.MatchContains | Qt.MatchFlag.MatchRecursive)]
    assert every == ["Battery"]
    window.session.undo()
    window.show_stage("Vibration")
    assert until(qapp, view.diagram.pad.isVisible)
    assert all(b.isVisible() for b in view.steps)
