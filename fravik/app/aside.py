"""Work done beside the window's own thread, so that it paints and answers the screen meanwhile.

One thread does one thing at a time, in the order asked. Who waits for an answer does so with the maker's keys and clicks left in their
queue: they come after the answer, never in the middle of it.
"""

from __future__ import annotations

import sys
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import wait as wait_for
from contextlib import contextmanager
from typing import Any, TypeVar

from PyQt6.QtCore import QCoreApplication, QEventLoop, QObject, Qt, QThread, QTimer, pyqtSignal

from fravik.app import loopturn

T = TypeVar("T")
# an answer that comes this soon is waited for without a look at the screen
SOON_S = 0.02
# how long the thread keeps the interpreter from the window; at the usual 5 ms, a paint that calls back twenty times would take 0.1 s
HAND_OVER_S = 0.0005
# and how long the window keeps it from the thread while it fills or paints itself; at half a millisecond, each would take half the time
UNDISTURBED_S = 0.05


class Aside(QObject):
    """The thread, and the way back from it."""

    _answered = pyqtSignal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        sys.setswitchinterval(HAND_OVER_S)
        self.closed = False
        self._late: deque[tuple[Future[Any], Callable[[Any], None]]] = deque()
        loopturn.watch()
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="fravik aside")
        self._answered.connect(self._tell, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]

    def start(self, call: Callable[[], T]) -> Future[T]:
        """Begin, or stand in line."""
        return self._pool.submit(call)

    def ask(self, call: Callable[[], T], then: Callable[[Future[T]], None]) -> Future[T]:
        """Begin; ``then`` is told on the window's thread, unless the work is cancelled before it begins or all is closed already."""
        if self.closed:
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

    def bring(self, call: Callable[[], T], then: Callable[[Future[T]], None]) -> Future[T]:
        """As ``ask``; where no loop of the window turns that could bring the answer, it is waited for."""
        if not no_loop_turns():
            return self.ask(call, then)
        future = self.start(call)
        self.wait(future)
        then(future)
        return future

    def run(self, call: Callable[[], T]) -> T:
        """The answer, waited for; what goes wrong is raised here."""
        future = self.start(call)
        self.wait(future)
        return future.result()

    def close(self) -> None:
        """Begin nothing more."""
        self.closed = True
        self._pool.shutdown(wait=False, cancel_futures=True)

    def _tell(self, future: Future[T], then: Callable[[Future[T]], None]) -> None:
        if self._late or loopturn.is_long():  # each answer brings work: the loop looks for keys and presses first
            self._late.append((future, then))
            QTimer.singleShot(1, self._tell_late)
        elif not self.closed:  # who asked may be gone with the window
            then(future)

    def _tell_late(self) -> None:
        if self._late and not self.closed:
            future, then = self._late.popleft()
            then(future)


class _Depth:
    """How many that are not to be disturbed lie within each other."""

    now = 0


@contextmanager
def undisturbed() -> Iterator[None]:
    """While the window's thread does what its user waits for, what is worked out beside it stands back."""
    _Depth.now += 1
    sys.setswitchinterval(UNDISTURBED_S)
    try:
        yield
    finally:
        _Depth.now -= 1
        if not _Depth.now:
            sys.setswitchinterval(HAND_OVER_S)


@contextmanager
def handing_over() -> Iterator[None]:
    """Around a call within that lets go of the interpreter, as one does that waits or delivers what was posted: the window gets it back as
    soon as ever. Else each time could take as long as the thread is to stand back."""
    sys.setswitchinterval(HAND_OVER_S)
    try:
        yield
    finally:
        if _Depth.now:
            sys.setswitchinterval(UNDISTURBED_S)


def no_loop_turns() -> bool:
    """Whether nothing that comes later could be told: as in a script, or in a test that presses and looks."""
    thread = QThread.currentThread()
    return thread is None or thread.loopLevel() == 0


class _Bell(QObject):
    rung = pyqtSignal()


def _never() -> Future[T]:
    future: Future[T] = Future()
    future.cancel()
    return future
