"""Cards, labels and small helpers shared by the views."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QDialogButtonBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QLayoutItem,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from fravik.app import theme

from .short import Short
from .wrapped import Wrapped


class Paper(QWidget):
    """What everything lies on. It paints itself: a style sheet on it would style all that lies there anew."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.current().paper))


class Leaf(QFrame, theme.Plain):
    """A sheet of paper with a rim: a ``card``, a ``warm`` one, or a ``slip`` on it. It paints itself, as what it lies on does."""

    CORNER_PX = {"slip": 4.0}

    def __init__(self, name: str = "card") -> None:
        super().__init__()
        self.setObjectName(name)
        self.setContentsMargins(1, 1, 1, 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        c, name = theme.current(), self.objectName()
        corner = self.CORNER_PX.get(name, 6.0)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QColor(c.rule if name == "card" else c.warm_rule))
        painter.setBrush(QColor(c.warm_card if name == "warm" else c.card))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), corner, corner)


class Card(Leaf):
    """A titled sheet of paper."""

    def __init__(self, title: str = "", name: str = "card") -> None:
        super().__init__(name)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(12, 9, 12, 10)
        self.column.setSpacing(5)
        self.head = QHBoxLayout()
        self.head.setSpacing(8)
        self.title = Short(title, "heading", least_px=60)
        self.note = Short("", "figureMuted")
        self.head.addWidget(self.title)
        self.head.addWidget(self.note, 1)
        if title:
            self.column.addLayout(self.head)
            self.setAccessibleName(title)


def label(text: str, name: str = "", wrap: bool = False) -> QLabel:
    """A label in one of the style sheet's roles."""
    out = Wrapped(text) if wrap else QLabel(text)
    if name:
        out.setObjectName(name)
    out.setTextFormat(Qt.TextFormat.PlainText)
    if wrap:
        out.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    return out


def drop_button(tip: str, name: str, press: Callable[[], object]) -> QToolButton:
    """The small cross that takes a row away."""
    button = QToolButton()
    button.setText("×")
    button.setFixedSize(20, theme.sized(21))
    button.setToolTip(tip)
    button.setAccessibleName(name)
    button.clicked.connect(lambda _=False: press())
    return button


def scrolled(inner: QWidget) -> QScrollArea:
    """A vertical scroll area around a widget."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setWidget(inner)
    theme.hold(area, area.viewport(), inner)
    return area


def put_away(layout: QLayout, widget: QWidget) -> None:
    """Take a widget out of a layout for good. (The tool kit deletes it later; until then it would stay to be seen.)"""
    layout.removeWidget(widget)
    widget.hide()
    widget.deleteLater()


def polish(widget: QWidget) -> None:
    """Style it, and all in it, now, and not when it is to be seen: in the turn of the window in which it is made."""
    widget.ensurePolished()
    for inner in widget.findChildren(QWidget):
        inner.ensurePolished()


def clear(layout: QLayout) -> None:
    """Remove everything from a layout."""
    while layout.count():
        item = layout.takeAt(0)
        if item is None:
            break
        dispose(item)


def dispose(item: QLayoutItem) -> None:
    """Do away with what was taken out of a layout."""
    widget, inner = item.widget(), item.layout()
    if widget is not None:
        widget.hide()
        widget.deleteLater()
    elif inner is not None:
        clear(inner)


@contextmanager
def laid_out_once(widget: QWidget) -> Iterator[None]:
    """While things in a widget come and go it is laid out once, at the end. (The tool kit would lay out the whole page for each.)"""
    layout = widget.layout()
    if layout is None:
        yield
        return
    layout.setEnabled(False)
    try:
        yield
    finally:
        layout.setEnabled(True)
        layout.invalidate()
        layout.activate()


def set_role(widget: QWidget, name: str) -> None:
    """Give a widget another of the style sheet's roles."""
    if widget.objectName() != name:
        widget.setObjectName(name)
        style = widget.style()
        if style is not None:
            style.polish(widget)


def answers(buttons: QDialogButtonBox.StandardButton) -> QDialogButtonBox:
    """The answers at the foot of a dialog, in words alone: the tool kit's little pictures are of another make."""
    box = QDialogButtonBox(buttons)
    for button in box.buttons():
        button.setIcon(QIcon())
    return box
