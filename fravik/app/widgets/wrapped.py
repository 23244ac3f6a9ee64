"""A text in several lines that remembers how high it is."""

from __future__ import annotations

from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QLabel


class Wrapped(QLabel):
    """Layouts within layouts ask for its height over and over, and each time the tool kit would break the text into lines anew."""

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self._high_px: dict[int, int] = {}  # by its width
        self.setWordWrap(True)

    def heightForWidth(self, width_px: int) -> int:
        high = self._high_px.get(width_px)
        if high is None:
            high = self._high_px[width_px] = super().heightForWidth(width_px)
        return high

    def setText(self, text: str | None) -> None:
        if text != self.text():
            self._high_px.clear()
            super().setText(text)

    def setObjectName(self, name: str | None) -> None:
        self._high_px.clear()
        super().setObjectName(name or "")

    def changeEvent(self, event: QEvent | None) -> None:
        self._high_px.clear()
        super().changeEvent(event)

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.Polish, QEvent.Type.ContentsRectChange):
            self._high_px.clear()
        return super().event(event)
