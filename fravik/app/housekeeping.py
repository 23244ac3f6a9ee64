"""Garbage is collected while the window rests: a full sweep in the middle of an edit would be felt."""

from __future__ import annotations

import ctypes
import gc
from collections.abc import Callable
from itertools import count

from PyQt6.QtCore import QObject, QTimer

YOUNG, OLDER, OLDEST = 60_000, 20, 100
REST_MS = 1500
# the first rests fall while libraries are still coming in; what is there after them stays for good and is swept no more
CALM_RESTS = 3


# mallopt's name for the number of heaps (malloc.h); each thread would have its own, and give little of it back
_M_ARENA_MAX = -8


def one_heap() -> None:
    """For all threads to come. Without effect where the C library has no such way."""
    try:
        ctypes.CDLL(None).mallopt(_M_ARENA_MAX, 1)
    except (AttributeError, OSError):
        return


def _find_trim() -> Callable[[int], int] | None:
    """The C library's way to give freed memory back to the machine; it keeps it otherwise. None where it has none."""
    try:
        return ctypes.CDLL(None).malloc_trim
    except (AttributeError, OSError):
        return None


_give_back = _find_trim()
_windows = count(1)
_rests = count(1)  # of the whole process: what a second window leaves behind is to be swept


class Pace(QObject):
    """Raises the collector's thresholds and sweeps after each pause."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.set_threshold(YOUNG, OLDER, OLDEST)
        if next(_windows) == 1:
            gc.freeze()  # what has been loaded so far stays for good
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self._sweep)
        self.stir()

    def stir(self) -> None:
        """Something happened: sweep only once it has been quiet again."""
        self._rest.start()

    def _sweep(self) -> None:
        calm = next(_rests) <= CALM_RESTS
        gc.collect(0 if calm else 2)  # all that the libraries bring would take 0.1 s
        if _give_back is not None:
            _give_back(0)
        if calm:
            gc.freeze()
