"""Verdict marks: told by shape as well as by colour."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from fravik.app import theme
from fravik.study.margins import RANK, Verdict


def worst(verdicts: Sequence[str]) -> str:
    """The worst of some verdicts; holds when there is none."""
    return max(verdicts, key=lambda v: RANK.get(v, 0), default="holds")


def draw_verdict(p: QPainter, at: QPointF, size: float, verdict: str, colour: str | None = None) -> None:
    """Tick, open triangle, cross or dashed ring, centred on a point."""
    pen = QPen(QColor(colour or theme.verdict_colour(verdict)), max(1.6, size * 0.17))
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setBrush(Qt.BrushStyle.NoBrush)
    r, x, y = size / 2, at.x(), at.y()
    if verdict == "holds":
        p.setPen(pen)
        p.drawPolyline(QPolygonF([QPointF(x - r, y), QPointF(x - r * 0.25, y + r * 0.7), QPointF(x + r, y - r * 0.75)]))
    elif verdict == "tight":
        p.setPen(pen)
        p.drawPolygon(QPolygonF([QPointF(x, y - r * 0.9), QPointF(x + r, y + r * 0.8), QPointF(x - r, y + r * 0.8)]))
    elif verdict == "fails":
        p.setPen(pen)
        d = r * 0.8
        p.drawLine(QPointF(x - d, y - d), QPointF(x + d, y + d))
        p.drawLine(QPointF(x - d, y + d), QPointF(x + d, y - d))
    else:
        pen.setStyle(Qt.PenStyle.DotLine)
        p.setPen(pen)
        p.drawEllipse(QRectF(x - r * 0.8, y - r * 0.8, r * 1.6, r * 1.6))
    p.restore()


# the mark of a finding by its weight: those of the verdicts, and a dot for what is no more than worth knowing
WEIGHT_MARK: dict[str, Verdict] = {"grave": "fails", "likely": "tight"}


class WeightMark(QWidget):
    """A finding's weight, told by shape as well as by colour."""

    def __init__(self, weight: str, size: int = 11) -> None:
        super().__init__()
        self._weight, self._size = weight, size
        self.setFixedSize(size + 6, size + 6)
        self.setAccessibleName(weight)
        self.setToolTip(weight)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        middle = QPointF(self.width() / 2, self.height() / 2)
        if self._weight in WEIGHT_MARK:
            draw_verdict(p, middle, self._size, WEIGHT_MARK[self._weight])
            return
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(theme.current().muted))
        p.drawEllipse(middle, 2.6, 2.6)


class VerdictMark(QWidget):
    """A verdict mark as a widget."""

    def __init__(self, verdict: str = "holds", size: int = 12) -> None:
        super().__init__()
        self._verdict, self._size = verdict, size
        self.setFixedSize(size + 4, size + 4)
        self.setAccessibleName(verdict)

    def set_verdict(self, verdict: str) -> None:
        """Change the mark."""
        self._verdict = verdict
        self.setAccessibleName(verdict)
        self.update()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        draw_verdict(p, QPointF(self.width() / 2, self.height() / 2), self._size, self._verdict)
