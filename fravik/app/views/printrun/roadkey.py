"""What the colours of roads mean."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fravik.app import theme

from .colours import feature_colour


class RoadKey(QWidget):
    """What the colours of roads mean, on one line or two."""

    def __init__(self) -> None:
        super().__init__()
        self.kinds: tuple[str, ...] = ()
        self.setFixedHeight(theme.sized(17))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Kinds of road")

    def show_kinds(self, kinds: tuple[str, ...]) -> None:
        """Show others."""
        self.kinds = tuple(k for k in kinds if k != "warm-up")
        self.setAccessibleDescription(", ".join(self.kinds))
        self._fit()
        self.update()

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def _boxes(self) -> list[tuple[str, QRectF]]:
        metrics = QFontMetricsF(theme.sans(8))
        out, x, y = [], 0.0, 1.0
        for name in self.kinds:
            wide = metrics.horizontalAdvance(name) + 26
            if x > 0 and x + wide - 12 > self.width():
                x, y = 0.0, y + theme.sized(16)
            out.append((name, QRectF(x, y, wide, theme.sized(15))))
            x += wide
        return out

    def _fit(self) -> None:
        tall = round(max((box.bottom() for _, box in self._boxes()), default=16.0)) + 1
        if tall != self.height():
            self.setFixedHeight(tall)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setFont(theme.sans(8))
        for name, box in self._boxes():
            p.fillRect(QRectF(box.x(), box.center().y() - 4.5, 9, 9), feature_colour(name))
            p.setPen(QColor(theme.current().ink))
            p.drawText(box.adjusted(13, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, name)
