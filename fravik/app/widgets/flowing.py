"""Buttons beside each other, on a second line where one does not hold them."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from .basics import clear

GAP_PX, MOST_LINES = 5, 2


class Flowing(QWidget):
    """Takes one line while they fit on it as wide as they want to be, else two that share them; there they give way."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(GAP_PX)
        self._lines = [QHBoxLayout() for _ in range(MOST_LINES)]
        for line in self._lines:
            line.setSpacing(GAP_PX)
            column.addLayout(line)
        self._shown: list[QWidget] = []
        self._split: list[int] = []
        self._most = MOST_LINES

    def keep_low(self, low: bool) -> None:
        """One line, whatever there is to hold, or as many as it takes."""
        self._most = 1 if low else MOST_LINES
        self.lay()

    def hold(self, widgets: Sequence[QWidget]) -> None:
        """These in place of those before, which go."""
        for line in self._lines:
            clear(line)
        self._shown, self._split = list(widgets), []
        self.lay()

    def lay(self) -> None:
        """Share them over the lines, once they or the room have changed."""
        split = self._shares()
        if split == self._split:
            return
        self._split = split
        for line in self._lines:
            while line.count():
                line.takeAt(0)
        start = 0
        for line, many in zip(self._lines, split, strict=False):
            for widget in self._shown[start : start + many]:
                line.addWidget(widget)
            line.addStretch(1)
            start += many

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.lay()

    def _shares(self) -> list[int]:
        """How many stand on each line."""
        wide = [w.sizeHint().width() + GAP_PX for w in self._shown]
        if sum(wide) - GAP_PX <= self.width() or self._most == 1:
            return [len(wide)]
        most, first, room = max(self.width(), sum(wide) / 2), 0, 0.0
        while first < len(wide) - 1 and room + wide[first] - GAP_PX <= most:
            room += wide[first]
            first += 1
        return [max(first, 1), len(wide) - max(first, 1)]
