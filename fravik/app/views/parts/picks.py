"""Rows of buttons of the Parts view: which part is in view, what can be added, and which piece of a part in pieces is read."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QToolButton, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import clear
from fravik.app.widgets.flowing import Flowing
from fravik.app.widgets.short import ShortButton
from fravik.kinds.newpart import addable
from fravik.model.project import Part


class PartPicks(Flowing):
    """A button for each part, with a menu to remove it, and one that adds."""

    chosen, removed, added = pyqtSignal(str), pyqtSignal(str), pyqtSignal(str)
    mesh_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.buttons: dict[str, QPushButton] = {}

    def show_parts(self, parts: Sequence[Part], part_id: str) -> None:
        """Show the craft's parts, one of them in view."""
        new = list(self.buttons) != [p.id for p in parts]
        if new:
            self.buttons = {p.id: self._button(p) for p in parts}
        for p in parts:
            self.buttons[p.id].setText(f"{p.name} × {p.count}" if p.count > 1 else p.name)
            self.buttons[p.id].setChecked(p.id == part_id)
        if new:
            self.hold((*self.buttons.values(), self._more()))
        else:
            self.lay()

    def _button(self, part: Part) -> QPushButton:
        button = ShortButton()
        button.setCheckable(True)
        button.setFixedHeight(theme.sized(24))
        button.clicked.connect(lambda _=False, i=part.id: self.chosen.emit(i))
        button.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        remove = button.addAction(f"Remove {part.name.lower()}")
        if remove is not None:
            remove.triggered.connect(lambda _=False, i=part.id: self.removed.emit(i))
        return button

    def _more(self) -> QToolButton:
        more = QToolButton()
        more.setText("+")
        more.setFixedHeight(theme.sized(24))
        more.setToolTip("Add a part")
        more.setAccessibleName("Add a part")
        more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(more)
        for kind, name in addable().items():
            action = menu.addAction(name)
            if action is not None:
                action.triggered.connect(lambda _=False, k=kind: self.added.emit(k))
        action = menu.addAction("Imported mesh…")
        if action is not None:
            action.triggered.connect(self.mesh_asked)
        more.setMenu(menu)
        return more


class PiecePicks(QWidget):
    """A button for each piece of a part that is judged in pieces; nothing for one that is judged whole."""

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(4)
        self.buttons: list[QPushButton] = []

    def show_pieces(self, names: Sequence[str], index: int) -> None:
        """Show the pieces by name, one of them read."""
        if [b.text() for b in self.buttons] != list(names):
            clear(self.row)
            self.buttons = []
            for i, name in enumerate(names):
                button = QPushButton(name)
                button.setCheckable(True)
                button.setFixedHeight(theme.sized(23))
                button.clicked.connect(lambda _=False, i=i: self.chosen.emit(i))
                self.buttons.append(button)
                self.row.addWidget(button)
        for i, button in enumerate(self.buttons):
            button.setChecked(i == index)
