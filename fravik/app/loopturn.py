"""How long the window's loop has been at work since it last looked for keys and presses."""

from __future__ import annotations

import time

from PyQt6.QtCore import QAbstractEventDispatcher, QObject

LONG_S = 0.010  # after so long what can wait lets the loop look first


class _LoopTurn(QObject):
    """The turn that the loop is in. Waiting for something to happen uses no time of the thread's own, and so does not count."""

    def __init__(self, loop: QAbstractEventDispatcher) -> None:
        super().__init__(loop)
        self.began_s = time.thread_time()
        loop.aboutToBlock.connect(self._begin)

    def _begin(self) -> None:
        self.began_s = time.thread_time()


_turn: list[_LoopTurn] = []


def watch() -> None:
    """Follow the loop of this thread; asked again, it goes on."""
    loop = QAbstractEventDispatcher.instance()
    if loop is not None and not _turn:
        _turn.append(_LoopTurn(loop))


def spent_s() -> float:
    """The time that this turn has taken; none where no loop is followed."""
    return time.thread_time() - _turn[0].began_s if _turn else 0.0


def is_long() -> bool:
    """Whether what can wait should let the loop look for keys and presses first."""
    return spent_s() > LONG_S
