"""The style sheet put on piece by piece.

Styling a widget anew costs a tenth of a millisecond or two for each one in it, and a page holds hundreds: a page dressed in one go would
hold the window up. What only holds others, and paints itself or nothing, goes without a sheet; those in it are dressed a few at a time.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from PyQt6 import sip
from PyQt6.QtCore import QChildEvent, QEvent, QObject, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QAbstractButton, QDialog, QLabel, QScrollArea, QStackedWidget, QTabWidget, QWidget

from fravik.app.turns import Turns

from .palette import current, mode
from .style import style_sheet, style_sheet_alone

MOST_AT_ONCE = 16
HOLDERS: tuple[type[QWidget], ...] = (QScrollArea, QStackedWidget, QTabWidget)


class Plain:
    """Marks a widget that looks the same without a style sheet, whatever it is made from, or however little it holds at first."""


class _Dresser(QObject):
    """Dresses what is queued, a piece a turn, and what is new in a holder when it first appears."""

    def __init__(self) -> None:
        super().__init__()
        self.queue: list[QWidget] = []
        self._turns = Turns(self)

    @property
    def busy(self) -> bool:
        """Whether any wait to be dressed."""
        return self._turns.busy

    def later(self, widgets: Iterable[QWidget]) -> None:
        """Dress these one after another."""
        self.queue = list(widgets)
        self._turns.begin(self.pieces(self.queue))

    def first(self, widget: QWidget) -> None:
        """Dress this before all else: at once, or in the turns that are under way. What is new in it has been dressed by itself."""
        if self.queue:
            self.queue.insert(0, widget)
        elif not wears(widget):
            self.at_once(widget)
            widget.setProperty("whole", mode())

    def pieces(self, queue: list[QWidget]) -> Iterator[None]:
        """Dress what is queued, or comes to be so meanwhile, a piece a step."""
        while queue:
            widget = queue.pop(0)
            if sip.isdeleted(widget):
                continue
            inner = self.held_by(widget)
            if inner:
                queue[:0] = inner
            elif not widget.property("holder"):
                _put_on(widget)
            yield

    def at_once(self, widget: QWidget) -> None:
        """Dress all of it."""
        for inner in self.held_by(widget):
            self.at_once(inner)
        if not widget.property("holder"):
            _put_on(widget)

    def held_by(self, widget: QWidget) -> list[QWidget]:
        """What is dressed in place of a widget that only holds others; nothing where it is dressed as one."""
        if not widget.property("holder"):
            if not _only_holds(widget):
                return []
            self.hold(widget)
        if isinstance(widget, QDialog):
            ground = widget.palette()
            ground.setColor(ground.ColorRole.Window, QColor(current().paper))
            widget.setPalette(ground)
        widget.update()
        return widget.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly)

    def hold(self, widget: QWidget) -> None:
        """Never put a sheet on it, however little it holds yet."""
        if not widget.property("holder"):
            widget.setProperty("holder", True)
            widget.installEventFilter(self)
        if isinstance(widget, QScrollArea):
            for ground in (widget.viewport(), widget.widget()):
                if ground is not None:
                    ground.setAutoFillBackground(False)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ChildPolished:  # of the few that are looked at of very many
            child = event.child() if isinstance(event, QChildEvent) else None
            if isinstance(child, QWidget) and not _put_off(child):
                dress(child)
        return super().eventFilter(watched, event)


def _only_holds(widget: QWidget) -> bool:
    """Whether it needs no sheet itself, and holds much: all that a card or a page may come to hold, or as much as is there."""
    if widget.property("dressed"):  # it was small when it was dressed first, and wears a sheet
        return False
    around = widget.parentWidget()
    if isinstance(widget, (Plain, *HOLDERS)) or isinstance(around, QStackedWidget | QScrollArea):
        return True
    if type(widget) is QWidget and not widget.objectName() and around is not None and isinstance(around.parentWidget(), QScrollArea):
        return True  # what is scrolled
    base = next(c for c in type(widget).__mro__ if c.__module__.startswith("PyQt6."))
    return base is QDialog or (base is QWidget and len(widget.findChildren(QWidget)) > MOST_AT_ONCE)


def _put_off(widget: QWidget | None) -> bool:
    """Whether it is in what will be dressed in steps."""
    while widget is not None and not widget.property("in steps"):
        widget = widget.parentWidget()
    return widget is not None


def _put_on(widget: QWidget) -> None:
    if widget.property("dressed") != mode():
        widget.setProperty("dressed", mode())
        # what may yet come to hold others takes the whole sheet
        alone = isinstance(widget, QLabel | QAbstractButton)
        kinds = tuple(c.__name__ for c in type(widget).__mro__ if c.__module__.startswith("PyQt6."))
        widget.setStyleSheet(style_sheet_alone(kinds) if alone else style_sheet())


_dresser: list[_Dresser] = []


def _the_dresser() -> _Dresser:
    if not _dresser:
        _dresser.append(_Dresser())
    return _dresser[0]


def dress(widget: QWidget) -> None:
    """Give a widget, and all in it, the style sheet of the palette in force, unless it wears it already."""
    _the_dresser().at_once(widget)


def put_off(widget: QWidget, off: bool = True) -> None:
    """Dress nothing of what comes into it before ``dressing`` does, or again as it comes."""
    widget.setProperty("in steps", off or None)


def dressing(widget: QWidget) -> Iterator[None]:
    """The same in steps, for turns of the window, and not before, even if it comes into a holder meanwhile."""
    worn = mode()
    put_off(widget)
    try:
        yield from _the_dresser().pieces([widget])
        widget.setProperty("whole", worn)
    finally:  # it may also be let go of half way
        if not sip.isdeleted(widget):
            put_off(widget, False)


def dress_in_turns(widgets: Iterable[QWidget]) -> None:
    """The same for some widgets, a piece in each turn of the window; those first are dressed first."""
    _the_dresser().later(widgets)


def dresses() -> bool:
    """Whether the palette in force is still being put on."""
    return _the_dresser().busy


def dress_first(widget: QWidget) -> None:
    """Give one widget the style sheet now; while others are dressed in turns, in the next of those."""
    _the_dresser().first(widget)


def wears(widget: QWidget) -> bool:
    """Whether all of it has been dressed in the palette in force; what comes into it later is dressed by itself."""
    return bool(widget.property("whole") == mode())


def hold(*widgets: QWidget | None) -> None:
    """Widgets that only hold others, more and more of them with time: those are dressed each by itself."""
    for widget in widgets:
        if widget is not None:
            _the_dresser().hold(widget)
