"""What a camera of the craft sees: its picture, with what of the craft stands in it."""

from __future__ import annotations

from concurrent.futures import Future
from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.engine.foresee.lens import cameras, sight
from fravik.engine.results import Evaluation

NONE = "No component has a lens: say in its fields how many degrees it sees."
FOOT_PX = 36


class LensView(QWidget):
    """The picture of the first camera; worked out beside the window when it is looked at."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setMinimumSize(180, 150)
        self._of: Evaluation | None = None
        self.picture: Any = None
        self.told = NONE
        self.setAccessibleName("Through the lens")

    def sizeHint(self) -> QSize:
        return QSize(280, 230)

    def refresh(self) -> None:
        """Work the picture out, if there is one to show."""
        result, engine = self.session.result, self.session.engine
        if result is None or not self.isVisible() or result is self._of:
            return
        self._of = result
        lenses = cameras(result)
        if not lenses:
            self.picture, self.told = None, NONE
            self.update()
            return
        camera = lenses[0]

        def take(answer: Future[tuple[float, Any]]) -> None:
            if self._of is not result:
                return
            share, self.picture = answer.result()
            seen = "nothing of the craft" if share == 0 else f"{share:.1%} craft and propellers"
            self.told = f"{camera.name}, {camera.view_deg:.0f}° across: {seen}"
            self.setAccessibleDescription(self.told)
            self.update()

        self.session.aside.ask(lambda: sight(engine, result, camera), take)

    def showEvent(self, event: Any) -> None:
        super().showEvent(event)
        self.refresh()

    def paintEvent(self, event: object) -> None:
        c, p = theme.current(), QPainter(self)
        p.setFont(theme.sans(8.5))
        p.setPen(QColor(c.muted))
        if self.picture is None:
            p.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.told)
            return
        rows, columns = self.picture.shape
        cell = min(self.width() / columns, (self.height() - FOOT_PX) / rows)
        frame = QRectF((self.width() - cell * columns) / 2, 0.0, cell * columns, cell * rows)
        p.fillRect(frame, QColor(c.sunk))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(c.cover))
        for j in range(rows):
            i = 0
            while i < columns:
                start = i
                while i < columns and self.picture[j, i]:
                    i += 1
                if i > start:
                    p.drawRect(QRectF(frame.x() + start * cell, j * cell, (i - start) * cell + 0.5, cell + 0.5))
                i += 1
        p.setPen(QPen(QColor(c.rule), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(frame.adjusted(0.5, 0.5, -0.5, -0.5))
        middle, arm = frame.center(), 6.0
        p.setPen(QPen(QColor(c.muted), 1))
        p.drawLine(int(middle.x() - arm), int(middle.y()), int(middle.x() + arm), int(middle.y()))
        p.drawLine(int(middle.x()), int(middle.y() - arm), int(middle.x()), int(middle.y() + arm))
        p.setPen(QColor(c.ink))
        p.drawText(QRectF(0, frame.bottom(), self.width(), FOOT_PX), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.told)
