"""The margin strip: one tile per target with value, limit, uncertainty and verdict."""

from __future__ import annotations

from functools import lru_cache

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF, QRegion
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from fravik.app import theme
from fravik.study.margins import METRICS, SETTLES, Margin
from fravik.study.words import limit_text, spread_text, value_text

from .glyphs import draw_verdict


def scale_range(m: Margin) -> tuple[float, float]:
    """Range of a tile's scale: wide enough for the limit, the value and its whisker."""
    points = [m.limit, *(v for v in (m.value, m.low, m.high) if v is not None)]
    low, high = min(points), max(points)
    pad = max(0.22 * (high - low), 0.04 * max(abs(high), 1e-6))
    return max(0.0, low - pad), high + pad


@lru_cache(maxsize=256)
def _elided(name: str, width: int) -> str:
    return QFontMetricsF(theme.sans(8)).elidedText(name, Qt.TextElideMode.ElideRight, width)


class MarginTile(QWidget):
    """One target at a glance. Click or Enter asks why and for the ways out."""

    clicked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.margin: Margin | None = None
        self.stale = False
        self.picked = False
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumWidth(96)
        self.setMaximumWidth(220)

    def sizeHint(self) -> QSize:
        return QSize(140, 72)

    def show_margin(self, margin: Margin, stale: bool, picked: bool) -> bool:
        """Show a margin; a stale one is the last good result. Returns whether anything changed."""
        if (margin, stale, picked) == (self.margin, self.stale, self.picked):
            return False
        self.margin, self.stale, self.picked = margin, stale, picked
        text = f"{margin.name}: {value_text(margin)}, limit {limit_text(margin)}, {margin.verdict}"
        self.setAccessibleName(text + (" (last good result)" if stale else ""))
        self.setToolTip(f"{METRICS[margin.metric].about}\n{value_text(margin)} {spread_text(margin)}\n"
                        f"limit {limit_text(margin)}: {margin.verdict}\n{margin.source} figure")  # fmt: skip
        self.update()
        return True

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.margin is not None:
            self.clicked.emit(self.margin.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.margin is not None:
            self.clicked.emit(self.margin.id)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: object) -> None:
        m = self.margin
        if m is None:
            return
        c = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        edge = c.accent if self.hasFocus() or self.picked else c.rule
        p.setPen(QPen(QColor(edge), 1.4 if self.hasFocus() or self.picked else 1.0))
        p.setBrush(QColor(c.card))
        p.drawRoundedRect(box, 5, 5)
        if self.stale:
            p.setOpacity(0.45)
        w = self.width()
        p.setFont(theme.sans(8))
        name = _elided(m.name, w - 36)
        p.setPen(QColor(c.ink))
        p.drawText(QRectF(9, 6, w - 34, 16), Qt.AlignmentFlag.AlignVCenter, name)
        draw_verdict(p, QPointF(w - 15, 14), 10, m.verdict)
        self._figures(p, m, w)
        if m.value is not None:
            self._scale(p, m, QRectF(10, 55, w - 20, 5))

    def _figures(self, p: QPainter, m: Margin, w: int) -> None:
        c = theme.current()
        p.setFont(theme.mono(11))
        value, limit = value_text(m), limit_text(m)
        if m.metric in SETTLES and m.source == "live" and m.value is not None:
            value = f"≈{value}"  # real layers will replace it
        if m.value is None:
            p.setFont(theme.sans(8))
        for unit in (f" {m.unit}",) if m.unit else ():
            limit = limit.removesuffix(unit)
        p.setPen(QColor(c.ink))
        wide = QFontMetricsF(p.font()).horizontalAdvance(value)
        p.drawText(QRectF(9, 24, w - 18, 22), Qt.AlignmentFlag.AlignVCenter, value)
        p.setFont(theme.mono(7.5))
        if wide + QFontMetricsF(p.font()).horizontalAdvance(limit) + 26 > w:
            p.setFont(theme.mono(6.5))
            if wide + QFontMetricsF(p.font()).horizontalAdvance(limit) + 20 > w:
                limit = limit.replace(" ", "")
                if wide + QFontMetricsF(p.font()).horizontalAdvance(limit) + 20 > w:
                    return  # a narrow window: the scale and the tool tip still tell the limit
        p.setPen(QColor(c.muted))
        p.drawText(QRectF(9, 25, w - 18, 22), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, limit)

    def _scale(self, p: QPainter, m: Margin, bar: QRectF) -> None:
        c = theme.current()
        lo, hi = scale_range(m)

        def x(v: float) -> float:
            return bar.left() + (v - lo) / (hi - lo) * bar.width()

        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.denied))
        p.drawRect(bar)
        p.setBrush(QColor(c.allowed))
        left, right = (bar.left(), x(m.limit)) if m.sense == "at most" else (x(m.limit), bar.right())
        p.drawRect(QRectF(QPointF(left, bar.top()), QPointF(right, bar.bottom())))
        p.setPen(QPen(QColor(c.ink), 1.6))
        p.drawLine(QPointF(x(m.limit), bar.top() - 3), QPointF(x(m.limit), bar.bottom() + 3))
        assert m.value is not None
        assert m.low is not None
        assert m.high is not None
        colour = QColor(theme.verdict_colour(m.verdict))
        p.setPen(QPen(colour, 2.4))
        mid = bar.center().y()
        p.drawLine(QPointF(x(m.low), mid), QPointF(x(m.high), mid))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(colour)
        at = x(m.value)
        p.drawPolygon(QPolygonF([QPointF(at - 4, bar.top() - 5), QPointF(at + 4, bar.top() - 5), QPointF(at, bar.top() + 1)]))


class MarginStrip(QWidget):
    """All tiles in a row."""

    clicked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(7)
        self.tiles: list[MarginTile] = []
        self.setFixedHeight(72)
        self.setAccessibleName("Margins")

    def show_margins(self, margins: tuple[Margin, ...], stale: bool, picked: str | None) -> None:
        """One tile per margin. Changed tiles are painted at once, ahead of everything else that an edit brings."""
        while len(self.tiles) > len(margins):
            tile = self.tiles.pop()
            self._row.removeWidget(tile)
            tile.deleteLater()
        while len(self.tiles) < len(margins):
            tile = MarginTile()
            tile.clicked.connect(self.clicked)
            self.tiles.append(tile)
            self._row.addWidget(tile)
        changed = QRegion()
        for tile, m in zip(self.tiles, margins, strict=True):
            if tile.show_margin(m, stale, m.id == picked) and tile.isVisible():
                changed = changed.united(QRegion(tile.geometry()))
        if not changed.isEmpty():
            self.repaint(changed)  # all in one go: each trip to the screen costs more than the drawing
