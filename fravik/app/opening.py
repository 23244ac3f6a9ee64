"""A page that is shown for the first time: what it is made from is fetched beside the window, and it is made, dressed and filled in turns,
while the window goes on answering."""

from __future__ import annotations

import importlib
import sys
import threading
from collections.abc import Callable, Iterator
from functools import partial

from PyQt6 import sip
from PyQt6.QtCore import QObject, Qt, QTimer
from PyQt6.QtWidgets import QLabel, QStackedWidget, QWidget

from fravik.app import theme
from fravik.app.turns import Turns, later

LOOK_MS = 20


class Opening(QObject):
    """One page at a time; whoever opens another, or shows one, lets go of it. What pages are filled with comes from ``state``."""

    def __init__(self, stack: QStackedWidget, page: Callable[[str], QWidget], state: Callable[[], tuple[object, ...]]) -> None:
        super().__init__(stack)
        self._stack, self._page, self._state = stack, page, state
        self._filled: tuple[QWidget, tuple[object, ...]] | None = None
        self._turns = Turns(self)
        self._look = QTimer(self)
        self._look.setInterval(LOOK_MS)
        self._look.timeout.connect(self._fetched)
        self._wait = QLabel("")
        self._wait.setObjectName("muted")
        self._wait.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._thread: threading.Thread | None = None
        self._name = ""
        self._then: Callable[[], None] | None = None
        self._made: QWidget | None = None

    @property
    def busy(self) -> bool:
        """Whether a page is on its way."""
        return self._then is not None

    def stands(self, page: QWidget) -> bool:
        """Whether a page that was just made is filled with all that is known now; asked once."""
        filled, self._filled = self._filled, None
        return filled is not None and filled[0] is page and all(a is b for a, b in zip(filled[1], self._state(), strict=True))

    def begin(self, name: str, module: str | None, then: Callable[[], None]) -> None:
        """Fetch the module that the page comes from, make it ready, and ``then`` show it. A page that cannot be made says so as it would
        without this."""
        self.stop()
        self._name, self._then = name, then
        if module is None or module in sys.modules:
            self._turns.begin(self._steps())
            return
        self._thread = threading.Thread(target=_fetch, args=(module,), daemon=True)
        self._thread.start()
        self._wait.setText(f"{name} opens…")
        if self._stack.indexOf(self._wait) < 0:
            self._stack.addWidget(self._wait)
        self._stack.setCurrentWidget(self._wait)
        self._look.start()

    def stop(self) -> None:
        """Let go of the page that is on its way."""
        self._look.stop()
        self._turns.stop()
        if self._made is not None:
            theme.put_off(self._made, False)
        self._then = self._made = None

    def _fetched(self) -> None:
        if self._thread is None or not self._thread.is_alive():
            self._look.stop()
            self._turns.begin(self._steps())

    def _steps(self) -> Iterator[None]:
        page = self._made = self._page(self._name)
        theme.put_off(page)
        yield
        yield from theme.dressing(page)
        theme.put_off(page)
        page.resize(self._stack.size())
        self._filled = page, self._state()
        page.refresh()  # type: ignore[attr-defined]
        yield
        yield from theme.dressing(page)  # what it has been filled with
        for ready in (QWidget.ensurePolished, _lay_out):
            for inner in (page, *page.findChildren(QWidget)):
                if not sip.isdeleted(inner):
                    ready(inner)
                    yield
        later(self, 0, partial(self._end, self._then))

    def _end(self, then: Callable[[], None] | None) -> None:
        if then is not None and then is self._then:  # nothing else has been asked for since
            self._then = self._made = None
            then()


def _lay_out(widget: QWidget) -> None:
    layout = widget.layout()
    if layout is not None:
        layout.activate()


def _fetch(module: str) -> None:
    try:
        importlib.import_module(module)
    except ImportError:
        return  # told when the page is made
