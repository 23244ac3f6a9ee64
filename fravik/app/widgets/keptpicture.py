"""A picture that is painted once and shown many times."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from fravik.app import painting, theme


class KeptPicture:
    """Paints anew only what shows something else, in another size, or in other colours."""

    def __init__(self) -> None:
        self._picture = QPixmap()
        self._of: object = None
        self._how: object = None

    def of(self, widget: QWidget, what: object, paint: Callable[[QPainter], None], how: object = None, side: int = 0,
           ground: QColor | None = None) -> QPixmap:  # fmt: skip
        """The picture of ``what``, the very same object as before, shown ``how`` as before; as large as the widget, or square.

        Where much has been painted before it in this turn of the window it is that of last time, and the widget is painted again.
        """
        ratio, size = widget.devicePixelRatioF(), QSize(side, side) if side else widget.size()
        wanted = (how, size, ratio, theme.current(), theme.mode())
        if self._of is not what or self._how != wanted:
            if painting.waits(widget):
                return self._last(size * ratio, ratio, ground)
            self._picture = QPixmap(size * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(ground or QColor(Qt.GlobalColor.transparent))
            painter = QPainter(self._picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint(painter)
            painter.end()
            self._of, self._how = what, wanted
        return self._picture

    def _last(self, size_px: QSize, ratio: float, ground: QColor | None) -> QPixmap:
        """The picture of last time, or an empty one where it has another size."""
        if self._picture.size() == size_px:
            return self._picture
        empty = QPixmap(size_px)
        empty.setDevicePixelRatio(ratio)
        empty.fill(ground or QColor(Qt.GlobalColor.transparent))
        return empty
