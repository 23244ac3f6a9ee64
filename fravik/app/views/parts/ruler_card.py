"""What a part bears along its length, with a design kept to compare with."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from fravik.app.session import Session
from fravik.app.widgets.basics import Card
from fravik.app.widgets.ruler import Ruler
from fravik.engine.notes import pair_note
from fravik.engine.ruler import Ruler as Line
from fravik.engine.ruler import Shown, reserves_of, ruler_of

from .pinned import Pinned, pinned_text


class RulerCard(Card):
    """The ruler, and the press that pins what it shows."""

    pinned_anew = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__("Along the arm")
        self.session = session
        self.pinned: Pinned | None = None
        self.pin = QPushButton("Pin to compare")
        self.pin.setObjectName("quiet")
        self.pin.setCheckable(True)
        self.pin.setToolTip("Keep this design's curves on the ruler while you change it")
        self.pin.clicked.connect(self._pin)
        self.ruler = Ruler()
        self.head.addWidget(self.ruler.reading)
        self.head.addWidget(self.pin)
        self.column.addWidget(self.ruler, 1)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(196)

    def _pin(self, on: bool) -> None:
        result = self.session.result
        self.pinned = Pinned(result, f"edit {self.session.revision}") if on and result is not None else None
        self.pinned_anew.emit()

    def show_part(self, line: Line, shown: Shown, part_id: str, read_id: str, case: str) -> None:
        """A part's line and what it bears, beside those of the pinned design."""
        result = self.session.result
        assert result is not None  # the line is read off it
        self.ruler.show_line(line, shown.envelope())
        ghost = ghost_reserve = None
        if self.pinned is not None:
            ghost = ruler_of(self.pinned.result, read_id)
            kept = reserves_of(self.pinned.result, read_id, case)
            ghost_reserve = kept.envelope() if kept is not None else None
        self.ruler.show_ghost(ghost, ghost_reserve)
        self.pin.setChecked(self.pinned is not None)
        self.pin.setText("Unpin" if self.pinned is not None else "Pin to compare")
        self.title.setText(line.title)
        compared = pinned_text(self.pinned, result, part_id, read_id, case)
        self.note.setText(compared or pair_note(self.session.engine, result, read_id) or line.ends)
