"""The stage rail: stages in the order makers work, each with the worst verdict inside it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QVBoxLayout, QWidget

from fravik.app import theme

from .glyphs import draw_verdict


class StageButton(QAbstractButton):
    """One stage."""

    def __init__(self, name: str, shortcut: str) -> None:
        super().__init__()
        self.setText(name)
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setShortcut(shortcut)
        self.setToolTip(f"{name}  ({shortcut})")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.verdict = "holds"

    def sizeHint(self) -> QSize:
        return QSize(theme.sized(110), theme.sized(30))

    def show_verdict(self, verdict: str) -> None:
        """Mark the stage."""
        if verdict == self.verdict and self.accessibleName():
            return
        self.verdict = verdict
        self.setAccessibleName(f"{self.text()}: {verdict}")
        self.update()

    def paintEvent(self, event: object) -> None:
        c = theme.current()
        p = QPainter(self)
        if self.isChecked():
            p.fillRect(self.rect(), QColor(c.rail_pick))
        text = c.ink if self.isChecked() else c.rail_text
        p.setPen(QColor(text))
        p.setFont(theme.sans(9.5, self.isChecked()))
        p.drawText(QRectF(16, 0, self.width() - 34, self.height()), Qt.AlignmentFlag.AlignVCenter, self.text())
        at = QPointF(self.width() - 15, self.height() / 2)
        if self.verdict == "holds":
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(c.holds if self.isChecked() else "#4fb8a9"))
            p.drawEllipse(at, 3, 3)
        else:
            lifted = {"fails": "#ee7559", "tight": "#e0a63c"}.get(self.verdict, c.rail_muted)
            draw_verdict(p, at, 8, self.verdict, None if self.isChecked() else lifted)
        if self.hasFocus():
            p.setPen(QPen(QColor("#8db8e0"), 1))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(self.rect().adjusted(2, 2, -3, -3))


class _Caption(QWidget):
    def __init__(self, text: str) -> None:
        super().__init__()
        self._text = text
        self.setFixedHeight(theme.sized(28))

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setPen(QColor(theme.current().rail_muted))
        p.setFont(theme.sans(7))
        p.drawText(QRectF(16, 8, self.width() - 16, self.height() - 8), Qt.AlignmentFlag.AlignVCenter, self._text)


class _Mark(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(theme.sized(52))

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QColor("#f5f1e8"))
        p.setFont(theme.sans(15, True))
        p.drawText(QRectF(16, 8, self.width(), theme.sized(28)), Qt.AlignmentFlag.AlignVCenter, "fravik")
        p.setPen(QPen(QColor("#c98a12"), 2))
        line, end = theme.sized(41), theme.sized(80)
        p.drawLine(QPointF(17, line), QPointF(end, line))
        p.drawLine(QPointF(end, line - 4), QPointF(end, line + 4))


class FliesButton(QAbstractButton):
    """What will go wrong, in two lines: what it is, and how much of it there is."""

    def __init__(self) -> None:
        super().__init__()
        self.setText("Before it flies")
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setFixedHeight(theme.sized(48))
        self.told, self.grave = "", False
        self.show_counts("", False)

    def show_counts(self, told: str, grave: bool) -> None:
        """``told`` is how much was found, in words."""
        self.told, self.grave = told, grave
        self.setAccessibleName(f"Before it flies: {told or 'looking'}")
        self.setToolTip("\n".join(x for x in (told, "What will go wrong, and what cures it  (Ctrl+B)") if x))
        self.update()

    def paintEvent(self, event: object) -> None:
        c = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        on = self.isChecked()
        p.setPen(QPen(QColor("#8db8e0" if self.hasFocus() else c.rail_muted), 1))
        p.setBrush(QColor(c.rail_pick) if on else Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(QRectF(self.rect()).adjusted(7.5, 3.5, -6.5, -4.5), 4, 4)
        p.setPen(QColor(c.ink if on else c.rail_text))
        p.setFont(theme.sans(8.5, True))
        p.drawText(QRectF(14, theme.sized(7), self.width() - 22, theme.sized(18)), Qt.AlignmentFlag.AlignVCenter, self.text())
        p.setPen(QColor((c.fails if self.grave else c.muted) if on else ("#ee7559" if self.grave else c.rail_text)))
        p.setFont(theme.sans(7.5))
        room = self.width() - 22
        fits = p.fontMetrics().horizontalAdvance(self.told) <= room
        shown = self.told if fits else self.told.split(",")[0]  # the gravest; the tooltip says all
        p.drawText(QRectF(14, theme.sized(23), room, theme.sized(16)), Qt.AlignmentFlag.AlignVCenter, shown)


class StageRail(QWidget):
    """All stages, grouped; at the foot what stands between the craft and its flight."""

    picked = pyqtSignal(str)

    def __init__(self, groups: list[tuple[str, list[str]]], last: tuple[str, ...] = ()) -> None:
        super().__init__()
        self.setFixedWidth(theme.sized(110))
        self.setAccessibleName("Stages")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(_Mark())
        self.buttons: dict[str, StageButton] = {}
        # stages that only some crafts need count last, so that the others keep their keys
        order = [n for _, names in groups for n in names if n not in last] + list(last)
        for caption, names in groups:
            column.addWidget(_Caption(caption))
            for name in names:
                button = StageButton(name, f"Ctrl+{order.index(name) + 1}")
                button.clicked.connect(lambda _=False, n=name: self.picked.emit(n))
                self.buttons[name] = button
                column.addWidget(button)
        column.addStretch(1)
        self.flies = FliesButton()
        column.addWidget(self.flies)
        column.addSpacing(6)

    def paintEvent(self, event: object) -> None:
        QPainter(self).fillRect(self.rect(), QColor(theme.current().rail))

    def pick(self, name: str) -> None:
        """Show a stage as chosen."""
        self.buttons[name].setChecked(True)
