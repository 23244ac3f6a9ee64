"""The margin strip: one tile per target with value, limit, uncertainty and verdict."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QImage, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF, QRegion
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from fravik.app import painting, theme
from fravik.study.margins import METRICS, SETTLES, Margin
from fravik.study.words import limit_text, spread_text, value_text

from .basics import put_away
from .glyphs import draw_verdict

STALE_OPACITY = 0.45
TALL = 72
VALUE_PT = (11.0, 9.5, 8.0)  # as large as the tile has room for
UNKNOWN_PT = (9.0, 8.0, 7.0)
WIDE = 1000  # a tile stretches so much more than the empty end of the strip


def scale_range(m: Margin) -> tuple[float, float]:
    """Range of a tile's scale: wide enough for the limit, the value and its whisker."""
    points = [m.limit, *(v for v in (m.value, m.low, m.high) if v is not None)]
    low, high = min(points), max(points)
    pad = max(0.22 * (high - low), 0.04 * max(abs(high), 1e-6))
    return max(0.0, low - pad), high + pad


@lru_cache(maxsize=16)
def _face(size: float) -> QFont:
    return theme.sans(size)


@lru_cache(maxsize=256)
def _elided(name: str, width: int) -> str:
    return QFontMetricsF(_face(8)).elidedText(name, Qt.TextElideMode.ElideRight, width)


@lru_cache(maxsize=512)
def _advance(size: float, text: str) -> float:
    return QFontMetricsF(_face(size)).horizontalAdvance(text)


@dataclass(frozen=True)
class _Ground:
    """What a tile's card looks like; ``ratio`` is the screen's pixels per point."""

    width: int
    height: int
    ratio: float
    card: str
    edge: str
    line: float


def _blank(width: float, height: float, ratio: float) -> QImage:
    out = QImage(math.ceil(width * ratio), math.ceil(height * ratio), QImage.Format.Format_ARGB32_Premultiplied)
    out.setDevicePixelRatio(ratio)
    out.fill(Qt.GlobalColor.transparent)
    return out


@lru_cache(maxsize=64)
def _card(ground: _Ground) -> QImage:
    out = _blank(ground.width, ground.height, ground.ratio)
    p = QPainter(out)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(QColor(ground.edge), ground.line))
    p.setBrush(QColor(ground.card))
    p.drawRoundedRect(QRectF(0.5, 0.5, ground.width - 1, ground.height - 1), 5, 5)
    p.end()
    return out


@lru_cache(maxsize=64)
def _verdict(verdict: str, colour: str, ratio: float) -> QImage:
    out = _blank(16, 16, ratio)
    p = QPainter(out)
    draw_verdict(p, QPointF(8, 8), 10, verdict, colour)
    p.end()
    return out


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
        self.setMinimumWidth(84)
        self.setMaximumWidth(330)

    def sizeHint(self) -> QSize:
        return QSize(theme.sized(140), theme.sized(TALL))

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
        c, w, chosen = theme.current(), self.width(), self.hasFocus() or self.picked
        p = QPainter(self)
        ground = _Ground(w, self.height(), self.devicePixelRatioF(), c.card, c.accent if chosen else c.rule, 1.4 if chosen else 1.0)
        p.drawImage(0, 0, _card(ground))
        if self.stale:
            p.setOpacity(STALE_OPACITY)
        p.drawImage(QPointF(w - 23, 6), _verdict(m.verdict, theme.verdict_colour(m.verdict), ground.ratio))
        p.setFont(_face(8))
        p.setPen(QColor(c.ink))
        p.drawText(QRectF(9, 6, w - 34, theme.sized(16)), Qt.AlignmentFlag.AlignVCenter, _elided(m.name, w - 36))
        self._figures(p, m, w)
        if m.value is not None:
            self._scale(p, m, QRectF(10, self.height() - 17, w - 20, 5))

    def _figures(self, p: QPainter, m: Margin, w: int) -> None:
        c = theme.current()
        value, limit = value_text(m), limit_text(m)
        if m.metric in SETTLES and m.source == "live" and m.value is not None:
            value = f"≈{value}"  # real layers will replace it
        if m.unit:
            limit = limit.removesuffix(f" {m.unit}")
        sizes = VALUE_PT if m.value is not None else UNKNOWN_PT
        large = next((s for s in sizes if _advance(s, value) <= w - 16), sizes[-1])
        p.setFont(_face(large))
        p.setPen(QColor(c.ink))
        p.drawText(QRectF(9, theme.sized(24), w - 12, theme.sized(22)), Qt.AlignmentFlag.AlignVCenter, value)
        left = w - _advance(large, value)
        for size, gap, text in ((7.5, 26, limit), (6.5, 20, limit), (6.5, 20, limit.replace(" ", ""))):
            if _advance(size, text) + gap <= left:
                break
        else:
            return  # a narrow window: the scale and the tool tip still tell the limit
        p.setFont(_face(size))
        p.setPen(QColor(c.muted))
        p.drawText(QRectF(9, theme.sized(25), w - 18, theme.sized(22)), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, text)

    def _scale(self, p: QPainter, m: Margin, bar: QRectF) -> None:
        c = theme.current()
        lo, hi = scale_range(m)
        per_unit = bar.width() / (hi - lo)

        def x(v: float) -> float:
            return bar.left() + (v - lo) * per_unit

        limit = x(m.limit)
        p.fillRect(bar, QColor(c.denied))
        left, right = (bar.left(), limit) if m.sense == "at most" else (limit, bar.right())
        p.fillRect(QRectF(left, bar.top(), right - left, bar.height()), QColor(c.allowed))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(QColor(c.ink), 1.6))
        p.drawLine(QPointF(limit, bar.top() - 3), QPointF(limit, bar.bottom() + 3))
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
        self._row.addStretch(1)
        self.tiles: list[MarginTile] = []
        self.setFixedHeight(theme.sized(TALL))
        self.setAccessibleName("Margins")

    def show_margins(self, margins: tuple[Margin, ...], stale: bool, picked: str | None, at_once: bool = False) -> None:
        """One tile per margin. After an edit, changed tiles are painted at once, ahead of everything else that it brings."""
        while len(self.tiles) > len(margins):
            put_away(self._row, self.tiles.pop())
        while len(self.tiles) < len(margins):
            tile = MarginTile()
            tile.clicked.connect(self.clicked)
            self.tiles.append(tile)
            self._row.insertWidget(len(self.tiles) - 1, tile, WIDE)
        changed = QRegion()
        for tile, m in zip(self.tiles, margins, strict=True):
            if tile.show_margin(m, stale, m.id == picked) and tile.isVisible():
                changed = changed.united(QRegion(tile.geometry()))
        if at_once and not changed.isEmpty():
            with painting.in_haste():  # (the tool kit paints whatever else is due in the window too)
                self.repaint(changed)  # all in one go: each trip to the screen costs more than the drawing
