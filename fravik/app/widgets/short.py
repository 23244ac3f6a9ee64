"""What may be narrower than what it says: the whole of it then stands in its tip and its accessible name."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QSizePolicy, QTabWidget

from fravik.app import theme


class _GivesWay:
    """Looks anew what of it can be read whenever it has another width; a tip of its own stands under what cannot."""

    _about = ""

    def setToolTip(self, a0: str | None) -> None:
        self._about = a0 or ""
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)  # type: ignore[misc]
        self._fit()

    def _fit(self) -> None:
        raise AssertionError("whatever gives way fits itself")

    def _tell(self, hidden: str) -> None:
        super().setToolTip("\n".join(x for x in (hidden, self._about) if x))  # type: ignore[misc]


class _Elided(_GivesWay):
    """Shows as much of its text as it has room for."""

    _whole = ""

    def text(self) -> str:
        """All that it says."""
        return self._whole

    def _say(self: Any, text: str | None) -> bool:
        """Keep another text; whether it is another."""
        if text == self._whole:
            return False
        self._whole = text or ""
        self.setAccessibleName(self._whole)
        self._fit()
        return True

    def _show(self: Any, room_px: int) -> str:
        """As much of it as goes into a width."""
        shown = self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, room_px)
        self._tell("" if shown == self._whole else self._whole)
        return str(shown)


class Short(_Elided, QLabel):
    """A label of one line."""

    def __init__(self, text: str = "", name: str = "", least_px: int = 0) -> None:
        """Takes what room is left; or as much as it needs, but gives way down to ``least_px``."""
        super().__init__()
        self._wraps, self._least_px = False, least_px
        if name:
            self.setObjectName(name)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setSizePolicy(QSizePolicy.Policy.Preferred if least_px else QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.setText(text)

    def sizeHint(self) -> QSize:
        whole = self.fontMetrics().horizontalAdvance(self._whole) + 2
        return QSize(whole, super().sizeHint().height()) if self._least_px else super().sizeHint()

    def minimumSizeHint(self) -> QSize:
        least = super().minimumSizeHint()
        return QSize(min(self._least_px, self.sizeHint().width()), least.height()) if self._least_px else least

    def setText(self, a0: str | None) -> None:
        if self._say(a0):
            self.updateGeometry()

    def wrap(self, on: bool) -> None:
        """Say all of it on as many lines as it takes, or again as much as one holds."""
        if on != self._wraps:
            self._wraps = on
            self.setWordWrap(on)
            self._fit()

    def _fit(self) -> None:
        if self._wraps:
            self._tell("")
            super().setText(self._whole)
        else:
            super().setText(self._show(max(self.contentsRect().width(), 20)))


class ShortButton(_Elided, QPushButton):
    """A button."""

    LEAST_PX, FRAME_PX, SLACK_PX = 44, 22, 3

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setText(text)

    def setText(self, text: str | None) -> None:
        if self._say(text):
            self.updateGeometry()

    def sizeHint(self) -> QSize:
        return QSize(self.fontMetrics().horizontalAdvance(self._whole) + self.FRAME_PX, super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(min(self.LEAST_PX, self.sizeHint().width()), super().minimumSizeHint().height())

    def changeEvent(self, e: QEvent | None) -> None:
        super().changeEvent(e)
        if e is not None and e.type() == QEvent.Type.FontChange:
            self._fit()
            self.updateGeometry()

    def _fit(self) -> None:
        super().setText(self._show(max(self.width() - self.FRAME_PX + self.SLACK_PX, 12)))


class Choices(_GivesWay, QComboBox):
    """A list to choose from, which may be narrower than what is chosen."""

    ARROW_PX = 34

    def __init__(self) -> None:
        super().__init__()
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.currentTextChanged.connect(lambda _: self._fit())
        self._fit()

    def sizeHint(self) -> QSize:
        texts = (self.itemText(i) for i in range(self.count()))
        wide = max((self.fontMetrics().horizontalAdvance(t) for t in texts), default=40)
        return QSize(wide + self.ARROW_PX, super().sizeHint().height())

    def _fit(self) -> None:
        text = self.currentText()
        self._tell(text if self.fontMetrics().horizontalAdvance(text) > self.width() - self.ARROW_PX else "")


class Line(_GivesWay, QLineEdit):
    """A line to type in, which may be narrower than its text."""

    FRAME_PX = 16

    def __init__(self) -> None:
        super().__init__()
        self.textChanged.connect(lambda _: self._fit())

    def _fit(self) -> None:
        hidden = self.fontMetrics().horizontalAdvance(self.text()) > self.width() - self.FRAME_PX
        self._tell(self.text() if hidden else "")


class Tabs(QTabWidget):
    """Pages under a row of names; names give way rather than hide behind arrows."""

    def __init__(self) -> None:
        super().__init__()
        self.setUsesScrollButtons(False)
        self.setElideMode(Qt.TextElideMode.ElideRight)
        self.setDocumentMode(True)  # no frame round the pages

    def tabInserted(self, index: int) -> None:
        self.setTabToolTip(index, self.tabText(index))
        super().tabInserted(index)


def share(of_px: int, part: float, least: int, most: int) -> int:
    """A part of a width, within limits that grow with the text."""
    return min(max(round(part * of_px), theme.sized(least)), theme.sized(most))
