"""Where a part's print pauses, and what for."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import clear, drop_button, label
from fravik.app.widgets.fields import ChoiceField, NumberField
from fravik.model.laying import PAUSE_LABELS, Pause

MOST = 999


def add_pause(session: Session, part_id: str, height_mm: float) -> None:
    """Another pause of a part, at a height up from the bed."""
    pauses = session.project.part(part_id).laying.pauses
    taken = {p.id for p in pauses}
    new = Pause(id=next(f"pause_{n}" for n in range(1, MOST) if f"pause_{n}" not in taken), height_mm=round(max(height_mm, 0.1), 2))
    session.edit(f"parts.{part_id}.laying.pauses", (*pauses, new), f"pause at {new.height_mm:g} mm")


class Pauses(QWidget):
    """Editors of every pause of a part, and a button for one at the layer on show."""

    asked = pyqtSignal()

    def __init__(self, session: Session, part_id: str) -> None:
        super().__init__()
        self.session, self.part_id = session, part_id
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(3)
        column.addWidget(label("Pauses", "heading"))
        self.rows = QGridLayout()
        self.rows.setHorizontalSpacing(5)
        self.rows.setVerticalSpacing(3)
        self.rows.setColumnStretch(1, 1)
        column.addLayout(self.rows)
        self.add_button = QPushButton("Pause at the layer on show")
        self.add_button.clicked.connect(self.asked)
        column.addWidget(self.add_button)
        self.fields: dict[str, tuple[NumberField, ChoiceField]] = {}

    def refresh(self) -> None:
        """Show the project's own."""
        ids = tuple(p.id for p in self.session.project.part(self.part_id).laying.pauses)
        if ids != tuple(self.fields):
            self._fill(ids)
        for pair in self.fields.values():
            for field in pair:
                field.refresh()

    def _fill(self, ids: tuple[str, ...]) -> None:
        clear(self.rows)
        self.fields = {}
        for k, name in enumerate(ids):
            at = f"parts.{self.part_id}.laying.pauses.{name}."
            height = NumberField(self.session, at + "height_mm", buttons=False)
            why = ChoiceField(self.session, at + "why", list(PAUSE_LABELS.items()))
            drop = drop_button("Remove this pause", f"Remove the pause {k + 1}", partial(self.drop, name))
            height.setFixedWidth(theme.sized(86))
            why.box.setMinimumWidth(60)
            for col, w in enumerate((height, why, drop)):
                self.rows.addWidget(w, 2 * k, col)
            self.rows.addWidget(height.message, 2 * k + 1, 0, 1, 3)
            self.fields[name] = (height, why)

    def drop(self, pause_id: str) -> None:
        """Remove a pause."""
        pauses = self.session.project.part(self.part_id).laying.pauses
        self.session.edit(f"parts.{self.part_id}.laying.pauses", tuple(p for p in pauses if p.id != pause_id), "pause removed")
