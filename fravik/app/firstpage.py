"""Where to begin: what is shown when the window has never been used, over the demo that is open behind it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QToolButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.newcraftdialog import layout_picture
from fravik.app.widgets.basics import Card, label
from fravik.demo.about import ABOUT
from fravik.shape.stations import ARRANGEMENTS

if TYPE_CHECKING:
    from fravik.app.window import MainWindow

PICTURE_PX, COLUMNS = 44, 2
OWN = "Pick a layout and say what you know of it: size, propeller, bed, payload. What you leave empty follows, each with its reason."
READING = (
    ("The tiles above", "One for each target of the brief: its figure, its limit, a whisker for what the plastic may do, and a verdict."),
    ("The list at the left", "The stages in the order makers work; each shows the worst that is inside it."),
    ("Before it flies", "What will go wrong, foreseen from the design, with cures that are tried before they are offered."),
    ("Ways out", "The cheapest changes for what fails, each with its price; one press tries, one takes back."),
)
SAFETY = ("A margin that holds is no permission to fly. Propellers off on the bench, nobody below, and local rules and licensed practice "
          "decide.")  # fmt: skip


class FirstPage(QWidget):
    """A craft of one's own, one that has a file, a demo, or on with what is open."""

    new_asked, open_asked, kept_asked, left = pyqtSignal(), pyqtSignal(), pyqtSignal(), pyqtSignal()
    demo_asked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        across = QHBoxLayout(self)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(8)
        left, right = QVBoxLayout(), QVBoxLayout()
        for column, share in ((left, 5), (right, 7)):
            column.setSpacing(8)
            across.addLayout(column, share)
        self.new = self._press("New craft…", self.new_asked.emit, "strong")
        self.open = self._press("Open a craft…", self.open_asked.emit)
        self.kept = self._press("Kept crafts…", self.kept_asked.emit)
        left.addWidget(_card("A craft of your own", OWN, self.new))
        left.addWidget(_card("One that you have begun", "A craft that has a file, or one that was kept without.", self.open, self.kept))
        left.addWidget(self._reading(), 1)
        right.addWidget(self._demos(), 1)
        self.on = self._press("", self.left.emit)
        low = QHBoxLayout()
        low.addWidget(label(SAFETY, "caution", wrap=True), 1)
        low.addWidget(self.on, 0, Qt.AlignmentFlag.AlignBottom)
        right.addLayout(low)
        self.restyle()
        theme.on_change(self.restyle)

    def restyle(self) -> None:
        """Draw the layouts in the palette in force."""
        for name, button in self.demos.items():
            button.setIcon(QIcon(layout_picture(ARRANGEMENTS[ABOUT[name][1]], PICTURE_PX, self.devicePixelRatioF())))

    def show_open(self, name: str) -> None:
        """What is open behind it."""
        self.on.setText(f"Go on with {name}")

    def _press(self, text: str, call: Callable[[], object], role: str = "") -> QPushButton:
        button = QPushButton(text)
        if role:
            button.setObjectName(role)
        button.clicked.connect(lambda: call())
        return button

    def _demos(self) -> Card:
        card = Card("Look round in a demo")
        card.note.setText("all made up; a fresh copy each time")
        grid = QGridLayout()
        grid.setSpacing(6)
        self.demos: dict[str, QToolButton] = {}
        for k, (name, (title, _, about)) in enumerate(ABOUT.items()):
            button = QToolButton()
            button.setText(title)
            button.setAccessibleName(f"{title}: {about}")
            button.setToolTip(about)
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setIconSize(QSize(PICTURE_PX, PICTURE_PX))
            button.setFixedSize(theme.sized(92), theme.sized(74))
            button.clicked.connect(partial(self.demo_asked.emit, name))
            self.demos[name] = button
            row, column = divmod(k, COLUMNS)
            grid.addWidget(button, row, 2 * column)
            words = label(about, "small", wrap=True)
            words.setAlignment(Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(words, row, 2 * column + 1)
            grid.setColumnStretch(2 * column + 1, 1)
        card.column.addLayout(grid)
        card.column.addStretch(1)
        return card

    def _reading(self) -> Card:
        card = Card("How it is read")
        for what, about in READING:
            card.column.addWidget(label(what, "heading"))
            card.column.addWidget(label(about, "small", wrap=True))
        card.column.addStretch(1)
        return card


def first_page(window: MainWindow) -> FirstPage:
    """The page of a window, whatever is picked on it done there; it goes when another craft is opened, in whatever way."""
    page = FirstPage()

    def leave() -> None:
        if page.isVisible():
            window.show_stage(window.stage)

    page.new_asked.connect(window.ask_new)
    page.open_asked.connect(window.ask_open)
    page.kept_asked.connect(window.ask_kept)
    page.demo_asked.connect(window.open_demo)
    page.left.connect(leave)
    window.session.opened.connect(leave)
    return page


def _card(title: str, about: str, *buttons: QPushButton) -> Card:
    card, row = Card(title), QHBoxLayout()
    words: QLabel = label(about, "", wrap=True)
    card.column.addWidget(words)
    for button in buttons:
        row.addWidget(button)
    row.addStretch(1)
    card.column.addLayout(row)
    return card
