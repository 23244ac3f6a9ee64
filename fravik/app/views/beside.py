"""A stage whose figures are worked out beside the window, asked anew as it comes on show; what it offers while there is nothing."""

from __future__ import annotations

from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from fravik.app.session import Session
from fravik.app.widgets.basics import Card, label


class AskingView(QWidget):
    """Base of such stages. ``_asked`` is what the figures on the way are of; ``_on_show`` whether anybody waits for them."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._asked: object = None
        self._on_show = False

    def refresh(self) -> None:
        """Show what is known, and ask for what is not."""
        raise AssertionError("every stage that asks says what it shows")

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._on_show, self._asked = True, None
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self._on_show = False

    def either(self, nothing: QWidget, page: QWidget) -> QStackedWidget:
        """One of two pages in the whole of the stage: without what it is about, and with it."""
        stack = QStackedWidget()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(stack)
        stack.addWidget(nothing)
        stack.addWidget(page)
        return stack


def first_card(title: str, words: str, first: QPushButton, caution: str = "") -> Card:
    """What is offered while there is nothing to show: why one would want it, and a press that makes the first one."""
    card = Card(title)
    card.column.addWidget(label(words, "", wrap=True))
    row = QHBoxLayout()
    first.setObjectName("strong")
    row.addWidget(first)
    row.addStretch(1)
    card.column.addLayout(row)
    if caution:
        card.column.addWidget(label(caution, "caution", wrap=True))
    card.column.addStretch(1)
    return card


def two_columns(left_share: int = 1, right_share: int = 1) -> tuple[QWidget, QVBoxLayout, QVBoxLayout]:
    """A page of two columns of cards."""
    page = QWidget()
    row = QHBoxLayout(page)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(8)
    left, right = QVBoxLayout(), QVBoxLayout()
    for column, share in ((left, left_share), (right, right_share)):
        column.setSpacing(8)
        row.addLayout(column, share)
    return page, left, right
