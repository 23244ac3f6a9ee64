"""What is painted in one turn of the window: what takes long waits for a turn of its own when much has been painted before it."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6 import sip
from PyQt6.QtCore import QCoreApplication, QEvent, QObject, Qt, QTimer
from PyQt6.QtWidgets import QWidget

from fravik.app import loopturn
from fravik.app.aside import handing_over, undisturbed

MOST_S = 0.008  # after so long what takes long has to wait
REST_MS = 4  # between two turns, for what else the window has to do
UNSEEN_MS = 60  # so long one that has its turn is waited for


class _Painting(QObject):
    """Widgets that wait are painted one in a turn. None waits twice, however often the window is painted meanwhile."""

    def __init__(self) -> None:
        super().__init__()
        self._began: float | None = None  # none but while the window answers its own wish to be painted
        self._waiting: list[QWidget] = []
        self._called: list[QWidget] = []  # whose turn it is, until they paint
        self.in_haste = False
        self.let_by = False
        self._turn = QTimer(self)
        self._turn.setSingleShot(True)
        self._turn.timeout.connect(self._next)

    @contextmanager
    def turn(self) -> Iterator[None]:
        self._began = time.perf_counter() - loopturn.spent_s()
        try:
            yield
        finally:
            self._began = None

    @contextmanager
    def haste(self) -> Iterator[None]:
        self.in_haste = True
        try:
            yield
        finally:
            self.in_haste = False

    def waits(self, widget: QWidget) -> bool:
        if self.in_haste:
            if widget not in self._waiting:
                self._waiting.insert(0, widget)
                self._called = [w for w in self._called if w is not widget]
                self._turn.start(REST_MS)
            return True
        if widget in self._waiting or widget in self._called:
            for some in (self._waiting, self._called):
                some[:] = [w for w in some if w is not widget]
            if self._waiting:
                self._turn.start(REST_MS)
            return False
        if self._began is None or time.perf_counter() - self._began < MOST_S:
            return False
        self._waiting.append(widget)
        self._turn.start(REST_MS)
        return True

    def _next(self) -> None:
        self._called = [w for w in self._called if not sip.isdeleted(w)]
        self._waiting = [w for w in self._waiting if not sip.isdeleted(w)]
        if self._waiting:
            self._called.append(self._waiting.pop(0))
            self._called[-1].update()
        if self._waiting:
            self._turn.start(UNSEEN_MS)  # sooner once it has been painted, if it is to be seen at all


_painting: list[_Painting] = []


def _the_painting() -> _Painting:
    if not _painting:
        _painting.append(_Painting())
    return _painting[0]


def comes_again(window: QWidget) -> bool:
    """Asked by the window before it paints: after a long turn its loop looks for keys and presses first, and it is asked again."""
    painting = _the_painting()
    if painting.in_haste or painting.let_by or not loopturn.is_long():
        painting.let_by = False
        return False
    painting.let_by = True

    def again() -> None:
        if not sip.isdeleted(window):
            QCoreApplication.sendEvent(window, QEvent(QEvent.Type.UpdateRequest))

    QTimer.singleShot(1, again)
    return True


@contextmanager
def window_paints() -> Iterator[None]:
    """While the window paints what it was asked to. Beyond it, as when a picture is taken of it, nothing waits."""
    with undisturbed(), _the_painting().turn():  # laying out counts: after a long one, what takes long waits
        with handing_over():
            for due in (QEvent.Type.LayoutRequest, QEvent.Type.UpdateLater):  # all that they ask for would be painted once more
                QCoreApplication.sendPostedEvents(None, due.value)
        yield


@contextmanager
def in_haste() -> Iterator[None]:
    """While an answer is painted ahead of everything else: what takes long waits, though its turn had come."""
    with _the_painting().haste():
        yield


def hastens() -> bool:
    """Whether it is."""
    return _the_painting().in_haste


class InTurns(QObject):
    """Follows a native widget's own handle: what waits to be painted when the screen is to show it anew, as where a 3D picture comes or
    has gone, is painted as its window paints by itself, and not all in one go; after a long turn, in one of its own."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget)
        self._widget = widget
        self._put_off: deque[QEvent] = deque()
        self._let_by = False
        widget.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        kind = event.type() if event is not None else None
        if watched is self._widget:
            handle = self._widget.windowHandle() if kind == QEvent.Type.WinIdChange else None
            if handle is not None:
                handle.installEventFilter(self)
        elif watched is not None and event is not None and kind in (QEvent.Type.Expose, QEvent.Type.Paint):
            if self._comes_again(watched, event):
                return True
            _the_painting().let_by = True  # what is not painted now is, all in one go, as soon as this returns
            QCoreApplication.sendEvent(self._widget.window(), QEvent(QEvent.Type.UpdateRequest))
        return False

    def _comes_again(self, handle: QObject, event: QEvent) -> bool:
        """Put off what comes within a long turn, and all that comes after it until then. A window's first showing is never put off."""
        if self._let_by or not (self._put_off or loopturn.is_long()) or not self._widget.testAttribute(Qt.WidgetAttribute.WA_Mapped):
            return False
        copy = event.clone()
        if copy is None:
            return False
        self._put_off.append(copy)

        def again() -> None:
            shown = self._put_off.popleft()
            if not sip.isdeleted(handle) and not sip.isdeleted(self):
                self._let_by = True
                QCoreApplication.sendEvent(handle, shown)
                self._let_by = False

        QTimer.singleShot(1, again)
        return True


def waits(widget: QWidget) -> bool:
    """Asked by what takes long before it paints; if it waits, ``widget`` is painted in a later turn and shows what it last showed."""
    return _the_painting().waits(widget)
