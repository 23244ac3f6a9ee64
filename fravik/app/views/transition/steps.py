"""The steps from bench to forward flight and back, as cards in a row."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import Card, Leaf, clear, label, set_role
from fravik.app.widgets.glyphs import VerdictMark
from fravik.engine.stepcards import GENERAL, StepCard

WIDE_PX = 152
MARKS = {"done": "holds", "next": "not known yet", "open": "not known yet", "stopped": "tight", "barred": "fails"}
WORDS = {"done": "done", "next": "next", "open": "not yet", "stopped": "stopped", "barred": "not to be flown"}


class _Step(Leaf):
    """One card; opened, it tells all."""

    opened = pyqtSignal(str)

    def __init__(self, number: int, card: StepCard) -> None:
        super().__init__("warm" if card.standing in ("barred", "stopped") else "card")
        self.card = card
        self.setFixedWidth(theme.sized(WIDE_PX))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        column = QVBoxLayout(self)
        column.setContentsMargins(9, 6, 9, 6)
        column.setSpacing(2)
        row = QHBoxLayout()
        row.addWidget(VerdictMark(MARKS[card.standing], 10))
        row.addWidget(label(f"{number}. {card.title}", "bold"), 1)
        column.addLayout(row)
        column.addWidget(label("; ".join(card.enter), "", wrap=True))
        words = card.barred or "; ".join(card.watch[:1])
        column.addWidget(label(words, "small", wrap=True), 1, Qt.AlignmentFlag.AlignTop)
        state = label(WORDS[card.standing], "figure" if card.standing in ("done", "next") else "muted")
        column.addWidget(state)
        self.setAccessibleName(f"Step {number}, {card.title}: {WORDS[card.standing]}")

    def mousePressEvent(self, event: object) -> None:
        self.opened.emit(self.card.id)


class StepsCard(Card):
    """All steps; the one that is opened below them, with what to do, watch and stop at, and a place for what happened."""

    noted = pyqtSignal(str)
    printed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__("One step at a time")
        self.note.setText("from what is known to what is not; one change a step")
        self.print_button = QPushButton("Cards to carry…")
        self.print_button.setObjectName("quiet")
        self.print_button.clicked.connect(self.printed.emit)
        self.head.addWidget(self.print_button)
        self.cards: tuple[StepCard, ...] = ()
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.inner = QWidget()
        self.row = QHBoxLayout(self.inner)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(8)
        self.area.setWidget(self.inner)
        self.column.addWidget(self.area, 1)
        self.general = label(GENERAL, "caution", wrap=True)
        self.column.addWidget(self.general)

    def show_cards(self, cards: tuple[StepCard, ...]) -> None:
        """Those of a craft."""
        if cards == self.cards:
            return
        self.cards = cards
        clear(self.row)
        for k, card in enumerate(cards):
            step = _Step(k + 1, card)
            step.opened.connect(self.noted.emit)
            self.row.addWidget(step)
        self.row.addStretch(1)


class StepPage(QWidget):
    """One step whole."""

    told = pyqtSignal(str, str, str)

    def __init__(self) -> None:
        super().__init__()
        self.card: StepCard | None = None
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 4, 4, 0)
        self.column.setSpacing(4)
        self.title, self.words = label("", "heading"), label("Click a step below.", "", wrap=True)
        self.column.addWidget(self.title)
        self.column.addWidget(self.words)
        row = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for state, text in (("done", "It went well"), ("stopped", "I stopped"), ("open", "Not flown yet")):
            b = QPushButton(text)
            b.setFixedHeight(theme.sized(24))
            b.clicked.connect(partial(self._tell, state))
            self.buttons[state] = b
            row.addWidget(b)
        row.addStretch(1)
        self.column.addLayout(row)
        self.happened = QLineEdit()
        self.happened.setPlaceholderText("What happened")
        self.happened.setAccessibleName("What happened in this step")
        self.happened.setMaxLength(300)
        self.happened.editingFinished.connect(self._note)
        self.column.addWidget(self.happened)
        self.column.addStretch(1)
        self.show_card(None)

    def show_card(self, card: StepCard | None) -> None:
        """Another step, or none."""
        self.card = card
        self._state: str = card.standing if card is not None else "open"
        self.happened.setVisible(card is not None)
        for state, b in self.buttons.items():
            b.setVisible(card is not None)
            b.setEnabled(card is not None and not (state == "done" and card.standing == "barred"))
        if card is None:
            return
        self.title.setText(card.title)
        if not self.happened.hasFocus():
            self.happened.setText(card.note)
        parts = [f"Enter with {'; '.join(card.enter)}.", card.do, f"Watch: {'; '.join(card.watch)}." if card.watch else "",
                 f"Stop when {'; or '.join(card.stop)}." if card.stop else ""]  # fmt: skip
        if card.barred:
            parts.insert(0, f"Not to be flown as it is: {card.barred}")
        set_role(self.words, "problem" if card.barred else "")
        self.words.setText("\n\n".join(p for p in parts if p))

    def _tell(self, state: str) -> None:
        if self.card is not None:
            self._state = state
            self.told.emit(self.card.id, state, self.happened.text())

    def _note(self) -> None:
        """A note alone, on a step that was flown."""
        if self.card is not None and self._state in ("done", "stopped") and self.happened.text() != self.card.note:
            self._tell(self._state)
