"""Work of the window's own thread in small steps, a few in each turn of its loop, so that it paints and answers between them."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Iterator
from math import ceil

from PyQt6.QtCore import QObject, QTimer

from fravik.app import loopturn
from fravik.app.aside import undisturbed

REST_MS = 4  # between two turns, for what else the window has to do
TURN_S = 0.010  # so long a turn takes one step after another


class _Last:
    """The last turn of any sequence."""

    ended_s = 0.0


def later(owner: QObject, wait_ms: int, call: Callable[[], object]) -> None:
    """Call it after a while, unless its owner is gone by then."""
    timer = QTimer(owner)
    timer.setSingleShot(True)
    timer.timeout.connect(call)
    timer.timeout.connect(timer.deleteLater)
    timer.start(wait_ms)


class Turns(QObject):
    """One sequence of steps at a time; whoever begins another lets go of what was left of the last.

    A step is a call, or what a generator does up to its next ``yield``.
    """

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._steps: Iterator[Callable[[], None] | None] | None = None
        self._let_by = False  # once a time: where every turn of the loop is long, this goes on too
        self._turn = QTimer(self)
        self._turn.setSingleShot(True)
        self._turn.timeout.connect(self._some)

    @property
    def busy(self) -> bool:
        """Whether there are steps left."""
        return self._steps is not None

    def begin(self, steps: Iterable[Callable[[], None] | None], now: bool = False) -> None:
        """Take these from the next turn on; ``now`` takes the first of them at once."""
        self._steps = iter(steps)
        if now:
            _Last.ended_s, self._let_by = 0.0, True
            self._some()
        else:
            self._turn.start(REST_MS)

    def finish(self) -> None:
        """Take all that is left at once."""
        while self._steps is not None:
            self.step()

    def stop(self) -> None:
        """Let go of what is left."""
        self._steps = None
        self._turn.stop()

    def _some(self) -> None:
        started = time.perf_counter()
        rests_ms = REST_MS - 1e3 * (started - _Last.ended_s)
        if rests_ms > 0:  # another sequence had its turn just now; that one comes a little later than this next time
            self._turn.start(ceil(rests_ms))
            return
        if loopturn.is_long() and not self._let_by:
            self._let_by = True
            self._turn.start(1)
            return
        self._let_by = False
        with undisturbed():
            while self._steps is not None and time.perf_counter() - started < TURN_S:
                self.step()
        _Last.ended_s = time.perf_counter()
        if self._steps is not None:
            self._turn.start(REST_MS + 1)

    def step(self) -> None:
        """Take one of what is left."""
        steps = self._steps
        if steps is None:
            return
        try:
            call = next(steps)
        except StopIteration:
            if self._steps is steps:  # a step may have begun another sequence
                self._steps = None
            return
        if call is not None:
            call()
