"""Find anything by typing a part of its name: actions, stages, parts, fields, what is foreseen, and the pages."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

MOST_SHOWN = 60
WIDE, TALL = 520, 420


@dataclass(frozen=True)
class Entry:
    """Something that can be found: what it is called, what it belongs to or does, and what choosing it does."""

    title: str
    about: str
    call: Callable[[], object]


def matching(entries: Sequence[Entry], text: str) -> list[Entry]:
    """Those that hold every word typed; first where the title begins with it, then where a word of the title does."""
    words = text.lower().split()

    def rank(e: Entry) -> tuple[int, int]:
        title = e.title.lower()
        begins = title.startswith(words[0]) if words else True
        inner = all(any(t.startswith(w) for t in title.split()) for w in words)
        return (0 if begins and inner else 1 if begins else 2 if inner else 3, len(title))

    found = [e for e in entries if all(w in f"{e.title} {e.about}".lower() for w in words)]
    return sorted(found, key=rank) if words else found


class Finder(QDialog):
    """A line to type into, and what matches under it; Enter or a click goes there."""

    def __init__(self, entries: Sequence[Entry], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find")
        self.resize(WIDE, TALL)
        self.entries = entries
        self.chosen: Entry | None = None
        column = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setAccessibleName("What to find")
        self.line.setPlaceholderText("a part, a field, an action: root fillet, battery, export…")
        self.line.textChanged.connect(self._show)
        self.line.installEventFilter(self)
        column.addWidget(self.line)
        self.list = QListWidget()
        self.list.setAccessibleName("What was found")
        self.list.itemActivated.connect(lambda _: self.go())
        self.list.itemClicked.connect(lambda _: self.go())
        column.addWidget(self.list, 1)
        self.shown: list[Entry] = []
        self._show("")

    def _show(self, text: str) -> None:
        self.shown = matching(self.entries, text)[:MOST_SHOWN]
        self.list.clear()
        for e in self.shown:
            self.list.addItem(QListWidgetItem(f"{e.title}    {e.about}"))
        if not self.shown:
            nothing = QListWidgetItem("Nothing is called that.")
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(nothing)
        self.list.setCurrentRow(0)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            key = Qt.Key(event.key())
            if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                row = self.list.currentRow() + (1 if key == Qt.Key.Key_Down else -1)
                self.list.setCurrentRow(min(max(row, 0), self.list.count() - 1))
                return True
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.go()
                return True
        return super().eventFilter(watched, event)

    def go(self) -> None:
        """Close, and do what the chosen one does."""
        row = self.list.currentRow()
        if 0 <= row < len(self.shown):
            self.chosen = self.shown[row]
            self.accept()
            self.chosen.call()
