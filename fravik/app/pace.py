"""Garbage is collected while the window rests: a full sweep in the middle of an edit would be felt."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

YOUNG, OLDER, OLDEST = 60_000, 20, 100
REST_MS = 1500


class Pace(QObject):
    """Raises the collector's thresholds and sweeps after each pause."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.set_threshold(YOUNG, OLDER, OLDEST)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(gc.collect)
        self.stir()

    def stir(self) -> None:
        """Something happened: sweep only once it has been quiet again."""
        self._rest.start()
