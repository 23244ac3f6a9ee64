"""Work done beside the window's own thread, so that it paints and answers the screen meanwhile.

One thread does one thing at a time, in the order asked. Who waits for an answer does so with the maker's keys and clicks left in their
queue: they come after the answer, never in the middle of it.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import wait as wait_for
from typing import TypeVar

from PyQt6.QtCore import QCoreApplication, QEventLoop, QObject, Qt, pyqtSignal

T = TypeVar("T")
# an answer that comes this soon is waited for without a look at the screen
SOON_S = 0.02
# how long the thread keeps the interpreter from the window; at the usual 5 ms, a paint that calls back twenty times would take 0.1 s
HAND_OVER_S = 0.0005


class Aside(QObject):
    """The thread, and the way back from it."""

    _answered = pyqtSignal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        sys.setswitchinterval(HAND_OVER_S)
        self._closed = False
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="fravik aside")
        self._answered.connect(self._tell, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]

    def start(self, call: Callable[[], T]) -> Future[T]:
        """Begin, or stand in line."""
        return self._pool.submit(call)

    def ask(self, call: Callable[[], T], then: Callable[[Future[T]], None]) -> Future[T]:
        """Begin; ``then`` is told on the window's thread, unless the work is cancelled before it begins or all is closed already."""
        if self._closed:
            return _never()
        future = self._pool.submit(call)
        future.add_done_callback(lambda f: None if f.cancelled() else self._answered.emit(f, then))
        return future

    def wait(self, future: Future[T]) -> None:
        """Until it is done: painting and timers go on, keys and clicks stay in their queue."""
        if QCoreApplication.instance() is None:
            wait_for([future])
            return
        if wait_for([future], SOON_S).done:
            return
        loop, bell = QEventLoop(), _Bell()
        bell.rung.connect(loop.quit, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]
        future.add_done_callback(lambda _: bell.rung.emit())
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)

    def run(self, call: Callable[[], T]) -> T:
        """The answer, waited for; what goes wrong is raised here."""
        future = self.start(call)
        self.wait(future)
        return future.result()

    def close(self) -> None:
        """Begin nothing more."""
        self._closed = True
        self._pool.shutdown(wait=False, cancel_futures=True)

    def _tell(self, future: Future[T], then: Callable[[Future[T]], None]) -> None:
        if not self._closed:  # who asked may be gone with the window
            then(future)


class _Bell(QObject):
    rung = pyqtSignal()


def _never() -> Future[T]:
    future: Future[T] = Future()
    future.cancel()
    return future
