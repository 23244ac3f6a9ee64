"""A picture that is painted once and shown many times."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from fravik.app import theme


class KeptPicture:
    """Paints anew only what shows something else, in another size, or in other colours."""

    def __init__(self) -> None:
        self._picture = QPixmap()
        self._of: object = None
        self._how: object = None

    def of(self, widget: QWidget, what: object, paint: Callable[[QPainter], None], how: object = None, side: int = 0,
           ground: QColor | None = None) -> QPixmap:  # fmt: skip
        """The picture of ``what``, the very same object as before, shown ``how`` as before; as large as the widget, or square."""
        ratio, size = widget.devicePixelRatioF(), QSize(side, side) if side else widget.size()
        wanted = (how, size, ratio, theme.current(), theme.mode())
        if self._of is not what or self._how != wanted:
            self._picture = QPixmap(size * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(ground or QColor(Qt.GlobalColor.transparent))
            painter = QPainter(self._picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint(painter)
            painter.end()
            self._of, self._how = what, wanted
        return self._picture
