"""Garbage is collected while the window rests: a full sweep in the middle of an edit would be felt."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

YOUNG, OLDER, OLDEST = 60_000, 20, 100
REST_MS = 1500
# the first rests fall while libraries are still coming in; what is there after them stays for good and is swept no more
SETTLED_RESTS = 3


class Pace(QObject):
    """Raises the collector's thresholds and sweeps after each pause."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.set_threshold(YOUNG, OLDER, OLDEST)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self._sweep)
        self._rests = 0
        self.stir()

    def stir(self) -> None:
        """Something happened: sweep only once it has been quiet again."""
        self._rest.start()

    def _sweep(self) -> None:
        gc.collect()
        self._rests += 1
        if self._rests <= SETTLED_RESTS:
            gc.freeze()
