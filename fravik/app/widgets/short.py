"""What may be narrower than what it says: the whole of it then stands in its tip and its accessible name."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QSizePolicy


class Short(QLabel):
    """A label of one line that says as much as it has room for; the whole of it stands in its tip and its accessible name."""

    def __init__(self, text: str = "", name: str = "", least_px: int = 0) -> None:
        """Takes what room is left; or as much as it needs, but gives way down to ``least_px``."""
        super().__init__()
        self._whole, self._wraps, self._about, self._least_px = "", False, "", least_px
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

    def text(self) -> str:
        """All that it says."""
        return self._whole

    def setToolTip(self, a0: str | None) -> None:
        self._about = a0 or ""
        self._fit()

    def setText(self, a0: str | None) -> None:
        if a0 != self._whole:
            self._whole = a0 or ""
            self.setAccessibleName(self._whole)
            self._fit()

    def wrap(self, on: bool) -> None:
        """Say all of it on as many lines as it takes, or again as much as one holds."""
        if on != self._wraps:
            self._wraps = on
            self.setWordWrap(on)
            self._fit()

    def resizeEvent(self, a0: QResizeEvent | None) -> None:
        super().resizeEvent(a0)
        self._fit()

    def changeEvent(self, e: QEvent | None) -> None:
        super().changeEvent(e)
        if e is not None and e.type() == QEvent.Type.FontChange:
            self._fit()
            self.updateGeometry()

    def _fit(self) -> None:
        room = max(self.contentsRect().width(), 20)
        shown = self._whole if self._wraps else self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, room)
        super().setToolTip(_tip("" if shown == self._whole else self._whole, self._about))
        super().setText(shown)


class ShortButton(QPushButton):
    """A button that may be narrower than its text, which then stands whole in its tip."""

    LEAST_PX, FRAME_PX, SLACK_PX = 44, 22, 3

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self._whole = ""
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setText(text)

    def text(self) -> str:
        """All that it says."""
        return self._whole

    def setText(self, text: str | None) -> None:
        if text != self._whole:
            self._whole = text or ""
            self._fit()
            self.updateGeometry()

    def sizeHint(self) -> QSize:
        return QSize(self.fontMetrics().horizontalAdvance(self._whole) + self.FRAME_PX, super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(min(self.LEAST_PX, self.sizeHint().width()), super().minimumSizeHint().height())

    def resizeEvent(self, a0: QResizeEvent | None) -> None:
        super().resizeEvent(a0)
        self._fit()

    def changeEvent(self, e: QEvent | None) -> None:
        super().changeEvent(e)
        if e is not None and e.type() == QEvent.Type.FontChange:
            self._fit()
            self.updateGeometry()

    def _fit(self) -> None:
        room = max(self.width() - self.FRAME_PX + self.SLACK_PX, 12)
        shown = self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, room)
        self.setToolTip("" if shown == self._whole else self._whole)
        self.setAccessibleName(self._whole)
        super().setText(shown)


class Choices(QComboBox):
    """A list to choose from that may be narrower than what is chosen."""

    ARROW_PX = 34

    def __init__(self) -> None:
        super().__init__()
        self._about = ""
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.currentTextChanged.connect(lambda _: self._fit())
        self._fit()

    def sizeHint(self) -> QSize:
        texts = (self.itemText(i) for i in range(self.count()))
        wide = max((self.fontMetrics().horizontalAdvance(t) for t in texts), default=40)
        return QSize(wide + self.ARROW_PX, super().sizeHint().height())

    def setToolTip(self, a0: str | None) -> None:
        self._about = a0 or ""
        self._fit()

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self._fit()

    def _fit(self) -> None:
        text = self.currentText()
        hidden = self.fontMetrics().horizontalAdvance(text) > self.width() - self.ARROW_PX
        super().setToolTip(_tip(text if hidden else "", self._about))


class Line(QLineEdit):
    """A line to type in that may be narrower than its text."""

    FRAME_PX = 16

    def __init__(self) -> None:
        super().__init__()
        self._about = ""
        self.textChanged.connect(lambda _: self._fit())

    def setToolTip(self, a0: str | None) -> None:
        self._about = a0 or ""
        self._fit()

    def resizeEvent(self, a0: QResizeEvent | None) -> None:
        super().resizeEvent(a0)
        self._fit()

    def _fit(self) -> None:
        hidden = self.fontMetrics().horizontalAdvance(self.text()) > self.width() - self.FRAME_PX
        super().setToolTip(_tip(self.text() if hidden else "", self._about))


def _tip(hidden: str, about: str) -> str:
    """What cannot be read where it stands, and what is told of it anyway."""
    return "\n".join(x for x in (hidden, about) if x)


def share(of_px: int, part: float, least: int, most: int) -> int:
    """A part of a width, within limits."""
    return min(max(round(part * of_px), least), most)
