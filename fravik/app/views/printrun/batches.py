"""The batches as cards, in the order they print: what is on each, how long it takes, when it comes off, and the worst that is foreseen."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QColor, QFont, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QVBoxLayout, QWidget
from pyqtgraph.functions import arrayToQPath

from fravik.app import theme
from fravik.app.widgets.basics import clear, put_away, scrolled
from fravik.app.widgets.glyphs import draw_verdict
from fravik.app.widgets.keptpicture import KeptPicture
from fravik.engine.batchview import BatchView
from fravik.engine.settled import Settled
from fravik.engine.sliceloops import loops

from .colours import mixed

LINE, INSET = 15, 8
PICTURE, SMALL_PICTURE, NARROW = 56, 38, 150
BED_AFTER_MS = 40
BEGUN_PX = 8.0  # so far a card is pulled before it is dragged


def title_face() -> QFont:
    """The face of a card's title."""
    return theme.sans(9, bold=True)


class BatchCard(QAbstractButton):
    """One batch: a press opens it, a pull takes it to another place in the order."""

    pulled = pyqtSignal(float, QPointF)  # to a height in the list, and a place on the screen
    dropped = pyqtSignal()
    stepped = pyqtSignal(int)

    def __init__(self, batch: BatchView, place: int) -> None:
        super().__init__()
        self.batch = batch
        self.setCheckable(True)
        self.setFixedHeight(self._foot + theme.sized(40))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._pressed: QPointF | None = None
        self._pulling = False
        self._kept = KeptPicture()
        # the bed is painted when the rest of the page stands
        self._bed_due = QTimer(self)
        self._bed_due.setSingleShot(True)
        self._bed_due.timeout.connect(self.update)
        self._bed_due.start(BED_AFTER_MS * (1 + place))
        words = ". ".join((batch.title, *batch.words, batch.foreseen[1]))
        self.setAccessibleName(words)
        self.setToolTip(f"{words}.\nDrag it, or Ctrl and the arrow keys, to print it earlier or later")

    @property
    def _side(self) -> int:
        """Of its picture."""
        return PICTURE if self.width() >= NARROW else SMALL_PICTURE

    @property
    def _foot(self) -> int:
        """Where the lines begin that are as wide as the card: under its picture and the lines beside it."""
        return max(PICTURE + 14, 4 * theme.sized(LINE) + 8)

    def sizeHint(self) -> QSize:
        return QSize(180, self._foot + theme.sized(40))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._pressed, self._pulling = event.position(), False
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None:
            return
        self._pulling = self._pulling or abs(event.position().y() - self._pressed.y()) > BEGUN_PX
        if self._pulling:
            self.pulled.emit(self.y() + event.position().y(), event.globalPosition())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pulling, self._pressed, self._pulling = self._pulling, None, False
        if pulling:
            self.setDown(False)
            self.dropped.emit()
        else:
            super().mouseReleaseEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        ways = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if event is not None and event.modifiers() & Qt.KeyboardModifier.ControlModifier and Qt.Key(event.key()) in ways:
            self.stepped.emit(ways[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: object) -> None:
        c = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        picked = self.isChecked()
        edge = QColor(c.ink if picked else c.accent if self.hasFocus() else c.rule)
        p.setPen(QPen(edge, 2.0 if picked else 1.0))
        p.setBrush(QColor(c.card))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        p.drawPixmap(INSET, INSET, self._drawn())
        left, wide = INSET + self._side + 7.0, self.width() - INSET - self._side - 12.0
        y, line = 5.0, theme.sized(LINE)
        for text in self._title(wide):
            self._line(p, QRectF(left, y, wide, line), text, title_face(), c.ink)
            y += line
        for k, text in enumerate(self.batch.words[:2]):
            self._line(p, QRectF(left, y + 1 + line * k, wide, line), text, theme.sans(8.5), c.ink if k == 0 else c.muted)
        self._line(p, QRectF(INSET, self._foot, self.width() - 2 * INSET, line), self.batch.words[2], theme.sans(8), c.muted)
        verdict, told = self.batch.foreseen
        draw_verdict(p, QPointF(INSET + 6, self._foot + 1.6 * line), 10, verdict)
        colour = c.muted if verdict == "holds" else theme.verdict_colour(verdict)
        self._line(p, QRectF(INSET + 17, self._foot + 1.1 * line, self.width() - 2 * INSET - 18, line), told, theme.sans(8), colour)

    def _title(self, wide: float) -> list[str]:
        """On two lines where one does not hold it; what is left over is cut by dots."""
        metrics, words = QFontMetricsF(title_face()), self.batch.title.split(" ")
        for k in range(len(words), 0, -1):
            if metrics.horizontalAdvance(" ".join(words[:k])) <= wide:
                return [" ".join(words[:k]), *([" ".join(words[k:])] if k < len(words) else [])]
        return [self.batch.title]

    def _line(self, p: QPainter, box: QRectF, text: str, font: object, colour: str) -> None:
        p.setFont(font)  # type: ignore[arg-type]
        p.setPen(QColor(colour))
        short = QFontMetricsF(p.font()).elidedText(text, Qt.TextElideMode.ElideRight, box.width())
        p.drawText(box, Qt.AlignmentFlag.AlignVCenter, short)

    def _drawn(self) -> QPixmap:
        """The bed from above with all that is on it."""
        due = self._bed_due.isActive()
        ground = QColor(theme.current().sunk)
        return self._kept.of(self, self.batch, lambda p: None if due else self._paint_bed(p, self._side), due, self._side, ground)

    def _paint_bed(self, p: QPainter, side: int) -> None:
        c, batch = theme.current(), self.batch
        printer = batch.printer
        k = (side - 2) / max(printer.bed_x_mm, printer.bed_y_mm)
        x0, y0 = (side - k * printer.bed_x_mm) / 2, (side + k * printer.bed_y_mm) / 2
        p.setPen(QPen(QColor(c.rule), 1))
        p.drawRect(QRectF(x0, y0 - k * printer.bed_y_mm, k * printer.bed_x_mm, k * printer.bed_y_mm))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(mixed(c.wall, c.cover, 0.55))
        for copy in batch.copies():
            points, joined = loops(batch.job(copy.part_id), batch.job(copy.part_id).layers.count // 2)
            if len(points):
                at = copy.place.put(points)
                path = arrayToQPath(x0 + k * at[:, 0], y0 - k * at[:, 1], joined.astype(np.int32), finiteCheck=False)
                path.setFillRule(Qt.FillRule.OddEvenFill)
                p.drawPath(path)


class BatchList(QWidget):
    """All cards, one under the other; where there are several printers, each of them below to drop a card on."""

    picked = pyqtSignal(str)
    moved = pyqtSignal(str, int)  # a batch to a place in the order
    put_on = pyqtSignal(str, str)  # a batch on a printer

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.page = _Page()
        self.rows = QVBoxLayout(self.page)
        self.rows.setContentsMargins(0, 0, 5, 0)
        self.rows.setSpacing(7)
        self.rows.addStretch(1)
        column.addWidget(scrolled(self.page))
        self.printers: dict[str, PrinterSlip] = {}
        self.slips = QVBoxLayout()
        self.slips.setSpacing(4)
        column.addLayout(self.slips)
        self.cards: dict[str, BatchCard] = {}
        self._plan: Settled | None = None
        self._over: str | None = None  # the printer over which a card is held

    def show_batches(self, batches: tuple[BatchView, ...], picked: str) -> None:
        """Show these, in this order."""
        plan = batches[0].settled if batches else None
        if plan is not self._plan or len(batches) != len(self.cards):
            self._plan = plan
            for card in self.cards.values():
                put_away(self.rows, card)
            self.cards = {}
            self._show_printers(batches)
            for k, batch in enumerate(batches):
                card = BatchCard(batch, k)
                name = batch.batch.id
                card.clicked.connect(lambda _=False, n=name: self.picked.emit(n))
                card.pulled.connect(self._pulled)
                card.dropped.connect(lambda n=name: self._drop(n))
                card.stepped.connect(lambda way, n=name: self._step(n, way))
                self.cards[name] = card
                self._actions(card)
                self.rows.insertWidget(k, card)
        for name, card in self.cards.items():
            card.setChecked(name == picked)

    def _show_printers(self, batches: tuple[BatchView, ...]) -> None:
        """Those that a batch can be put on, where there is a choice."""
        printers = batches[0].settled.project.printers if batches else ()
        clear(self.slips)
        self.printers = {q.id: PrinterSlip(q.name) for q in printers} if len(printers) > 1 else {}
        for slip in self.printers.values():
            self.slips.addWidget(slip)

    def _actions(self, card: BatchCard) -> None:
        """The same by the menu of a card."""
        card.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        for printer_id, slip in self.printers.items():
            action = QAction(f"Print on the {slip.name}", card)
            action.setEnabled(printer_id != card.batch.printer.id)
            action.triggered.connect(lambda _=False, n=card.batch.batch.id, q=printer_id: self.put_on.emit(n, q))
            card.addAction(action)

    def _pulled(self, y: float, at: QPointF) -> None:
        over = None
        for printer_id, slip in self.printers.items():
            slip.mark(slip.rect().contains(slip.mapFromGlobal(at).toPoint()))
            over = printer_id if slip.marked else over
        self._over = over
        self.page.mark(self._place(y) if over is None else None)

    def _place(self, y: float) -> int:
        """Between which cards a height is: the number of those above it."""
        return sum(card.y() + card.height() / 2 < y for card in self.cards.values())

    def _drop(self, name: str) -> None:
        place, here, over = self.page.marked, list(self.cards).index(name), self._over
        self.page.mark(None)
        self._over = None
        for slip in self.printers.values():
            slip.mark(False)
        if over is not None and over != self.cards[name].batch.printer.id:
            self.put_on.emit(name, over)
            return
        if place is not None and place not in (here, here + 1):
            self.moved.emit(name, place - (place > here))

    def _step(self, name: str, way: int) -> None:
        place = list(self.cards).index(name) + way
        if 0 <= place < len(self.cards):
            self.moved.emit(name, place)


class PrinterSlip(QWidget):
    """A printer's name, to drop a batch on."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name, self.marked = name, False
        self.setFixedHeight(theme.sized(24))
        self.setAccessibleName(name)
        self.setToolTip("Drop a batch here to print it on this one, or use the batch's own menu")

    def mark(self, on: bool) -> None:
        """A card is held over it."""
        if on != self.marked:
            self.marked = on
            self.update()

    def paintEvent(self, event: object) -> None:
        c, p = theme.current(), QPainter(self)
        p.setPen(QPen(QColor(c.accent if self.marked else c.rule), 2.0 if self.marked else 1.0, Qt.PenStyle.DashLine))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        p.setFont(theme.sans(8.5))
        p.setPen(QColor(c.ink if self.marked else c.muted))
        text = QFontMetricsF(p.font()).elidedText(self.name, Qt.TextElideMode.ElideRight, self.width() - 12)
        p.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, text)


class _Page(QWidget):
    """What holds the cards, with a mark where one that is pulled would go."""

    marked: int | None = None

    def mark(self, place: int | None) -> None:
        self.marked = place
        self.update()

    def paintEvent(self, event: object) -> None:
        if self.marked is None:
            return
        cards = self.findChildren(BatchCard)
        cards.sort(key=lambda card: card.y())
        y = cards[self.marked].y() - 4 if self.marked < len(cards) else cards[-1].geometry().bottom() + 4
        QPainter(self).fillRect(0, y, self.width(), 2, QColor(theme.current().accent))
