"""Words of our own: nothing that is shown, written or explained carries a label of the set that was given up."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from conftest import until
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QTabWidget, QWidget

import fravik
from fravik.printing.layerroads import FEATURES, ROAD_NAMES

ROOT = Path(fravik.__file__).parent
DOCS = ROOT.parent / "docs"
GIVEN_UP = re.compile(
    r"\b(outer walls?|inner walls?|infill|support interface|skirt|brim|(wall|skin|infill|travel) speed|top and bottom layers|"
    r"outer wall first|seam)\b",
    re.IGNORECASE,
)
READS_OLD_FILES = ROOT / "store" / "text.py"  # it has to know the words of files from before


def strings(path: Path) -> Iterator[tuple[int, str]]:
    """All strings of a module but its docstrings."""
    tree = ast.parse(path.read_text())
    documents = {
        id(n.body[0].value)
        for n in ast.walk(tree)
        if isinstance(n, ast.Module | ast.ClassDef | ast.FunctionDef) and n.body and isinstance(n.body[0], ast.Expr)
    }
    for n in ast.walk(tree):
        if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in documents:
            yield n.lineno, n.value


def told(text: str) -> bool:
    """Whether it is text for people, and no name of a file or a key."""
    return not re.fullmatch(r"[a-z_0-9.]+", text)


def test_no_string_of_the_program_carries_one() -> None:
    found = [f"{p.relative_to(ROOT)}:{line}: {text[:60]}" for p in ROOT.rglob("*.py") if p != READS_OLD_FILES
             for line, text in strings(p) if told(text) and GIVEN_UP.search(text)]  # fmt: skip
    assert not found


@pytest.mark.parametrize("page", [*sorted(DOCS.glob("*.md")), DOCS.parent / "README.md"], ids=lambda p: p.stem)
def test_no_page_carries_one(page: Path) -> None:
    assert not [line for line in page.read_text().splitlines() if GIVEN_UP.search(line)]


def test_roads_have_their_own_names() -> None:
    assert not [n for n in (*ROAD_NAMES, *FEATURES) if GIVEN_UP.search(n) or n == "skin"]


def shown(widget: QWidget) -> Iterator[str]:
    """All texts, tips and names of a widget and of what is in it, hidden or not."""
    for w in [widget, *widget.findChildren(QWidget)]:
        yield from (w.toolTip(), w.accessibleName(), w.accessibleDescription())
        if isinstance(w, QLabel | QAbstractButton):
            yield w.text()
        elif isinstance(w, QComboBox):
            yield from (w.itemText(i) for i in range(w.count()))
        elif isinstance(w, QTabWidget):
            yield from (w.tabText(i) for i in range(w.count()))
        yield from (a.text() for a in w.actions())


def test_nothing_in_the_window_carries_one(window: Any, qapp: Any) -> None:
    window.settler.ask()
    assert until(qapp, lambda: window.settler.fresh)
    for stage in ("Brief", "Airframe", "Parts", "Vibration", "Print run"):
        window.show_stage(stage)
        until(qapp, lambda: False, 0.1)
    texts = [t for t in shown(window) if t]
    assert len(texts) > 500
    assert not {t for t in texts if GIVEN_UP.search(t)}
    assert not {t for t in texts if re.search(r"\bdeg\b|mm/s2|\b\d+ off\b|Goes wrong|Take into the record|Undo drags", t)}
