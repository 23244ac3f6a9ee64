"""When everything comes off, as bars on a time axis."""

from __future__ import annotations

import math

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from fravik.app import theme
from fravik.model.run import PrintRun
from fravik.plan.schedule import Schedule, Task
from fravik.study.words import moment

from .colours import mixed

LEAST_NAMED_PX = 26.0
HANDS = "By hand"  # the row that tells when somebody has to be there


class ScheduleBars(QWidget):
    """Rows of bars on a time axis; a print's bar can be dragged to start later, and a click picks its batch."""

    batch_picked = pyqtSignal(str)
    batch_moved = pyqtSignal(str, float)
    LEFT, TOP = 104, 20
    MOST_ROW, LEAST_ROW, FOOT = 23, 19, 14

    def __init__(self) -> None:
        super().__init__()
        self.schedule: Schedule | None = None
        self.run = PrintRun()
        self.picked = ""
        self._drag: tuple[Task, float, float] | None = None
        self._boxes: list[tuple[QRectF, Task]] = []
        self.setMinimumHeight(theme.sized(94))
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Schedule of the print run")

    def show_schedule(self, found: Schedule | None, run: PrintRun, picked: str) -> None:
        """Show other bars."""
        self.schedule, self.run, self.picked = found, run, picked
        if found is not None:
            self.setAccessibleDescription(
                "; ".join(f"{t.row}: {t.label}, {self.when(t.start_h)} to {self.when(t.end_h)}" for t in found.tasks)
            )
            self.setMinimumHeight(round(self._top + theme.sized(self.LEAST_ROW) * (1 + len(found.rows())) + self._foot()))
        self.update()

    @property
    def _left(self) -> int:
        return theme.sized(self.LEFT)

    @property
    def _top(self) -> int:
        return theme.sized(self.TOP)

    def _foot(self) -> int:
        """Room under the rows, for what marks the present."""
        return theme.sized(self.FOOT) if self.run.done_h > 0 else 2

    def when(self, hours: float) -> str:
        """A moment as 'day 2, 14:30'."""
        return moment(self.run.start_hour, hours)

    def _span(self) -> float:
        if self.schedule is None:
            return 24.0
        return max(self.schedule.ready_h * 1.04, min(self.schedule.deadline_h, 1.6 * self.schedule.ready_h) + 1.0, 6.0)

    def _x(self, hours: float) -> float:
        return self._left + (self.width() - self._left - 10) * hours / self._span()

    def _colour(self, task: Task) -> QColor:
        c = theme.current()
        return {"print": QColor(c.wall), "change": QColor(c.muted), "pause": QColor(c.tight),
                "dry": mixed(c.adhesive, c.card, 0.3), "supports": QColor(c.glass),
                "inserts": QColor(c.adhesive), "glue": QColor(c.tight), "cure": mixed(c.tight, c.card, 0.55), "test": QColor(c.holds),
                "assemble": QColor(c.ink)}[task.kind]  # fmt: skip

    def paintEvent(self, event: object) -> None:
        self._boxes = []
        if self.schedule is None:
            return
        c = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        rows = [*self.schedule.rows(), HANDS]
        row_px = min(max((self.height() - self._top - self._foot()) / len(rows), theme.sized(self.LEAST_ROW)), theme.sized(self.MOST_ROW))
        bottom = self._top + row_px * len(rows)
        self._axis(p, bottom)
        p.setFont(theme.sans(8))
        for i, row in enumerate(rows):
            p.setPen(QColor(c.ink))
            name = QFontMetricsF(p.font()).elidedText(row, Qt.TextElideMode.ElideRight, self._left - 8)
            p.drawText(QRectF(0, self._top + row_px * i, self._left - 6, row_px), Qt.AlignmentFlag.AlignVCenter, name)
        for t in self.schedule.tasks:
            shift = self._drag[2] if self._drag is not None and self._drag[0] is t else 0.0
            y = self._top + row_px * rows.index(t.row) + 2.5
            box = QRectF(self._x(t.start_h + shift), y, max(2.0, self._x(t.end_h) - self._x(t.start_h)), row_px - 5)
            self._boxes.append((box, t))
            p.setPen(QPen(QColor(c.accent), 2.0) if t.batch_id and t.batch_id == self.picked and t.kind == "print" else Qt.PenStyle.NoPen)
            p.setBrush(self._colour(t))
            p.drawRoundedRect(box, 2, 2)
            if t.batch_id and t.batch_id == self.picked and t.kind == "print":
                p.setPen(QPen(QColor(c.card), 1.0))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRoundedRect(box.adjusted(2, 2, -2, -2), 2, 2)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.muted))
        middle = self._top + row_px * rows.index(HANDS) + row_px / 2
        for t in self.schedule.by_hand:
            p.drawRect(QRectF(self._x(t.start_h), middle - 3, max(2.0, self._x(t.end_h) - self._x(t.start_h)), 6))
        p.setFont(theme.sans(7.5))
        for box, t in self._boxes:
            self._name(p, box, t)
        self._ends(p, bottom)

    def _name(self, p: QPainter, box: QRectF, task: Task) -> None:
        """In its bar where it fits, or else beside it where there is room up to the next; shortened in it as a last resort."""
        c, metrics = theme.current(), QFontMetricsF(p.font())
        wide, light = metrics.horizontalAdvance(task.label) + 8, task.kind in ("print", "assemble", "test", "change", "glue")
        after = [b.left() for b, t in self._boxes if t.row == task.row and b.left() > box.left()]
        if task.kind == "pause":
            return  # told by its tip: it lies within the bar of its batch
        if after and min(after) < box.right():
            box = QRectF(box.x(), box.y(), min(after) - box.x(), box.height())
        if wide > box.width() and wide < min([*after, float(self.width())]) - box.right():
            p.setPen(QColor(c.ink))
            p.drawText(QRectF(box.right() + 5, box.y(), wide, box.height()), Qt.AlignmentFlag.AlignVCenter, task.label)
        elif box.width() > LEAST_NAMED_PX:
            p.setPen(QColor(c.card if light else c.ink))
            text = metrics.elidedText(task.label, Qt.TextElideMode.ElideRight, box.width() - 6)
            p.drawText(box.adjusted(4, 0, -2, 0), Qt.AlignmentFlag.AlignVCenter, text)

    def _axis(self, p: QPainter, bottom: float) -> None:
        """Hours nobody is there, hour marks and days."""
        c, run = theme.current(), self.run
        span = self._span()
        p.setFont(theme.sans(7))
        day = -1
        while 24.0 * day - run.start_hour < span:
            zero = 24.0 * day - run.start_hour
            for low, high in ((zero + run.attended_to, zero + 24.0 + run.attended_from),):
                a, b = max(low, 0.0), min(high, span)
                if b > a:
                    box = QRectF(self._x(a), self._top, self._x(b) - self._x(a), bottom - self._top)
                    p.fillRect(box, QColor(c.sunk))
                    p.fillRect(box, QBrush(QColor(c.rule), Qt.BrushStyle.BDiagPattern))
            day += 1
        step = next((s for s in (1, 2, 3, 6, 12, 24) if (self.width() - self._left) / span * s > theme.sized(44)), 24)
        first = math.ceil(run.start_hour / step) * step
        for k in range(int(span / step) + 2):
            hours = first + k * step - run.start_hour
            if not 0 <= hours <= span:
                continue
            clock_hour = (first + k * step) % 24
            x = self._x(hours)
            p.setPen(QPen(QColor(c.rule), 1.4 if clock_hour == 0 else 0.7))
            p.drawLine(QPointF(x, self._top - 3), QPointF(x, bottom))
            p.setPen(QColor(c.muted))
            text = f"day {int((first + k * step) // 24) + 1}" if clock_hour == 0 else f"{int(clock_hour):02d}:00"
            p.drawText(QRectF(x - 40, 2, 80, theme.sized(14)), Qt.AlignmentFlag.AlignHCenter, text)

    def _ends(self, p: QPainter, bottom: float) -> None:
        """When it is ready, and when it must be."""
        assert self.schedule is not None
        c = theme.current()
        if self.run.done_h > 0:
            x = self._x(self.run.done_h)
            p.setPen(QPen(QColor(c.accent), 1.6))
            p.drawLine(QPointF(x, self._top - 3), QPointF(x, bottom + 2))
            p.setFont(theme.sans(7.5))
            p.drawText(QRectF(x - 34, bottom + 1, 68, theme.sized(13)), Qt.AlignmentFlag.AlignHCenter, "now")
        if self.schedule.deadline_h <= self._span():
            x = self._x(self.schedule.deadline_h)
            p.setPen(QPen(QColor(c.fails), 1.6, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(x, self._top - 3), QPointF(x, bottom + 2))

    def _task_at(self, at: QPointF) -> Task | None:
        return next((t for box, t in reversed(self._boxes) if box.adjusted(-2, 0, 2, 0).contains(at)), None)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent):
            t = self._task_at(QPointF(event.pos()))
            if t is not None:
                QToolTip.showText(
                    event.globalPos(), f"{t.label[:1].upper()}{t.label[1:]}\n{self.when(t.start_h)} to {self.when(t.end_h)}", self
                )
                return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        t = self._task_at(event.position())
        if t is not None and t.batch_id:
            self.batch_picked.emit(t.batch_id)
            if t.kind == "print":
                self._drag = (t, event.position().x(), 0.0)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None:
            task, x, _ = self._drag
            moved = (event.position().x() - x) / max(1.0, self.width() - self._left - 10) * self._span()
            self._drag = (task, x, max(-task.start_h, moved))
            self.update()
        else:
            found = self._task_at(event.position())
            draggable = found is not None and found.kind == "print"
            self.setCursor(Qt.CursorShape.SizeHorCursor if draggable else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        task, _, moved = self._drag
        self._drag = None
        if abs(moved) > 0.1:
            self.batch_moved.emit(task.batch_id, round(max(0.0, task.start_h + moved) * 4) / 4)
        self.update()
