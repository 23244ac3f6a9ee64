"""Rows of a grid by what they are of: only those that come are made, those that stay are moved at most."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Generic, TypeVar

from PyQt6.QtWidgets import QGridLayout, QLayoutItem

from .basics import dispose

Key = TypeVar("Key")
Lifted = list[tuple[QLayoutItem, int, int, int, int]]  # an item, its line in the row, its column, and its spans


class GridRows(Generic[Key]):
    """``make`` fills ``lines`` lines of a grid, from the one it is told on, with the row of a key."""

    def __init__(self, grid: QGridLayout, lines: int, make: Callable[[int, Key], None], first: int = 0) -> None:
        self.grid, self.lines, self.make, self.first = grid, lines, make, first
        self._at: dict[Key, int] = {}  # the first line of each row

    def show(self, keys: Sequence[Key]) -> None:
        """Have a row for each of these, in this order."""
        wanted = {key: self.first + self.lines * i for i, key in enumerate(keys)}
        for key in self._at.keys() - wanted.keys():
            for item, *_ in self._lift(self._at.pop(key)):
                dispose(item)
        moved = {key: self._lift(line) for key, line in self._at.items() if line != wanted[key]}
        for key, line in wanted.items():
            if key in moved:
                self._put(line, moved[key])
            elif key not in self._at:
                self.make(line, key)
        self._at = wanted

    def _lift(self, line: int) -> Lifted:
        lifted: Lifted = []
        for i in reversed(range(self.grid.count())):
            row, column, rows, columns = (k or 0 for k in self.grid.getItemPosition(i))
            item = self.grid.takeAt(i) if line <= row < line + self.lines else None
            if item is not None:
                lifted.append((item, row - line, column, rows, columns))
        return lifted[::-1]

    def _put(self, line: int, lifted: Lifted) -> None:
        for item, row, column, rows, columns in lifted:
            inner = item.layout()
            if inner is not None:
                self.grid.addLayout(inner, line + row, column, rows, columns)
            else:
                self.grid.addItem(item, line + row, column, rows, columns)
