"""The window's menus, and what can be found by name."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMessageBox

from fravik.demo import DEMOS
from fravik.kinds.fieldindex import field_places

from .finder import Entry
from .pages import page_names

Item = tuple[str, str, Callable[[], Any]] | None


def fill_menus(window: Any) -> dict[str, QAction]:
    """Put all menus in the window's bar; every action by its name."""
    session = window.session
    actions: dict[str, QAction] = {}
    _menu(window, actions, "File", [
        ("New craft…", "Ctrl+N", window.ask_new), ("Open…", "Ctrl+O", window.ask_open), *(
            (f"Open the {name.capitalize()} demo", "", partial(window.open_demo, name)) for name in DEMOS
        ),
        ("Kept crafts…", "", window.ask_kept), ("Save a copy…", "Ctrl+Shift+S", window.ask_save),
        None, ("Export for the printer…", "Ctrl+E", window.ask_export), ("Export the print run…", "Ctrl+Shift+E", window.ask_export_run),
        ("Read project JSON…", "", window.ask_json), ("Compare with a G-code file…", "Ctrl+G", window.ask_gcode), None,
        ("Close", "Ctrl+Q", window.close),
    ])  # fmt: skip
    _menu(window, actions, "Edit", [
        ("Undo", "Ctrl+Z", session.undo), ("Redo", "Ctrl+Shift+Z", session.redo), None, ("Find…", "Ctrl+K", window.ask_find), None,
        ("Look for ways out", "Ctrl+L", lambda: session.ask_levers()), ("Keep the trial", "Ctrl+Return", session.take),
        ("Take the trial back", "Ctrl+Backspace", session.take_back),
    ])  # fmt: skip
    _menu(window, actions, "View", [
        ("Before it flies", "Ctrl+B", window.show_flies), ("Light or dark", "Ctrl+D", window.toggle_theme),
        ("Inches and ounces, or millimetres and grams", "Ctrl+I", window.toggle_inches),
    ])  # fmt: skip
    _menu(window, actions, "Help", [
        ("Where to begin", "", window.show_first),
        ("How figures are computed", "F1", window.show_page), ("Keys", "Ctrl+/", lambda: tell_keys(window, actions)),
        ("About", "", window.about),
    ])  # fmt: skip
    return actions


def _menu(window: Any, actions: dict[str, QAction], title: str, items: Sequence[Item]) -> None:
    menu = window.menuBar().addMenu(title)
    for item in items:
        if item is None:
            menu.addSeparator()
            continue
        text, keys, call = item
        action = QAction(text, window)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _=False, c=call: c())
        menu.addAction(action)
        actions[text] = action


STAGE_KEYS = (("Ctrl+1 to 5", "the stages, from the top"), ("Wheel, arrows, page keys", "layers of a batch, figures in a field"),
              ("Space", "play a batch's layers"), ("Ctrl+Up, Ctrl+Down", "on a batch's card: print it earlier or later"),
              ("Shift with the wheel", "ten at a time"))  # fmt: skip


def tell_keys(window: Any, actions: dict[str, QAction]) -> None:
    """All keys on one page."""
    named = [(a.shortcut().toString(), text.rstrip("…")) for text, a in actions.items() if not a.shortcut().isEmpty()]
    rows = "".join(f"<tr><td><b>{keys}</b>&nbsp;&nbsp;</td><td>{what}</td></tr>" for keys, what in (*named, *STAGE_KEYS))
    QMessageBox.information(window.ground, "Keys", f"<table>{rows}</table>")


def found_by_name(window: Any, stages: Sequence[str]) -> list[Entry]:
    """Everything that can be gone to or done, by name."""
    out = [Entry(stage, "stage", partial(window.ask_stage, stage)) for stage in stages]
    out += [Entry(p.name, "part", partial(window.open_part, p.id)) for p in window.session.project.parts]
    out += [Entry(text.rstrip("…"), a.shortcut().toString() or "action", a.trigger) for text, a in window.actions_by_name.items()
            if a.isEnabled()]  # fmt: skip
    out += [Entry(f"{f.where}: {f.what}", f"foreseen, {f.weight}", partial(window.show_place, f)) for f in window.foresight.open]
    out += [Entry(f.title, f"{f.of}, {f.stage}", partial(window.show_path, f.stage, f.path)) for f in field_places(window.session.project)]
    return out + [Entry(name.capitalize(), "page", partial(window.show_page, name)) for name in page_names()]
