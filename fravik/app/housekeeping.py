"""Garbage is collected on the window's thread alone, and thoroughly while it rests: a full sweep in the middle of an edit would be felt,
and one on a thread beside the window would take widgets apart while the window uses them."""

from __future__ import annotations

import ctypes
import gc
from collections.abc import Callable
from itertools import count

from PyQt6.QtCore import QObject, QTimer

YOUNG, OLDER = 20_000, 20  # objects that have come to be and not gone by themselves; sweeps of the young for each of the older
LOOK_MS, REST_MS = 100, 1500
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
    """Sweeps in place of the interpreter, which would do so on whichever thread makes the next object."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        if next(_windows) == 1:
            gc.freeze()  # what has been loaded so far stays for good
        self._sweeps = count(1)
        self._look = QTimer(self)
        self._look.timeout.connect(self._sweep_young)
        self._look.start(LOOK_MS)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self._sweep)
        self.stir()

    def stir(self) -> None:
        """Something happened: sweep thoroughly only once it has been quiet again."""
        self._rest.start()

    def _sweep_young(self) -> None:
        if gc.get_count()[0] > YOUNG:
            gc.collect(0 if next(self._sweeps) % OLDER else 1)

    def _sweep(self) -> None:
        calm = next(_rests) <= CALM_RESTS
        gc.collect(0 if calm else 2)  # all that the libraries bring would take 0.1 s
        if _give_back is not None:
            _give_back(0)
        if calm:
            gc.freeze()
