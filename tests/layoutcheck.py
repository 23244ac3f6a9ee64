"""What does not hold in a window as it is laid out: text cut off, widgets over one another or out of place, texts over texts."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pyqtgraph as pg
from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QTextDocument
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QComboBox,
    QLabel,
    QLineEdit,
    QScrollArea,
    QScrollBar,
    QSizeGrip,
    QStyle,
    QStyleOptionComboBox,
    QTabBar,
    QWidget,
)

SLACK = 2  # px by which a frame may be thicker than its widget knows


def where(widget: QWidget) -> str:
    """A widget by its own class, name and text, and those it lies in."""
    out: list[str] = []
    w: QWidget | None = widget
    while w is not None and len(out) < 4:
        text = w.text()[:30] if isinstance(w, QLabel | QAbstractButton | QLineEdit) else w.accessibleName()[:30]
        out.append(f"{type(w).__name__}{f' {text!r}' if text else ''}")
        w = w.parentWidget()
    return " in ".join(out)


def plain(text: str) -> str:
    """Text without the mark of a key or of markup."""
    if Qt.mightBeRichText(text):
        document = QTextDocument()
        document.setHtml(text)
        return document.toPlainText()
    return text.replace("&&", "\0").replace("&", "").replace("\0", "&")


def widest(widget: QWidget, text: str) -> float:
    """Width of the widest line."""
    metrics = QFontMetricsF(widget.font())
    return max((metrics.horizontalAdvance(line) for line in text.split("\n")), default=0.0)


def cut(widget: QWidget) -> str:
    """What of a widget's own text cannot be read, and is told by no tooltip."""
    if isinstance(widget, QLabel):
        if not widget.text() or (widget.pixmap() and not widget.pixmap().isNull()):
            return ""
        room = widget.contentsRect()
        if widget.wordWrap():
            need = widget.heightForWidth(widget.width())
            return f"{need} px high, has {widget.height()}" if need > widget.height() + SLACK else ""
        need = widest(widget, plain(widget.text()))
        shown = plain(widget.text())
        if shown.endswith("…") and widget.toolTip():
            return ""
        return f"{need:.0f} px wide, has {room.width()}" if need > room.width() + SLACK and not widget.toolTip() else ""
    if isinstance(widget, QAbstractButton) and widget.text():
        need = widest(widget, plain(widget.text()))
        over = need > widget.width() - 2
        return f"{need:.0f} px wide, has {widget.width()}" if over and not widget.toolTip() else ""
    if isinstance(widget, QComboBox):
        option = QStyleOptionComboBox()
        widget.initStyleOption(option)
        room = widget.style().subControlRect(QStyle.ComplexControl.CC_ComboBox, option, QStyle.SubControl.SC_ComboBoxEditField, widget)
        need = widest(widget, widget.currentText())
        return f"{need:.0f} px wide, has {room.width()}" if need > room.width() + SLACK and not widget.toolTip() else ""
    if isinstance(widget, QLineEdit):
        need = widest(widget, widget.text())
        return f"{need:.0f} px wide, has {widget.width()}" if need > widget.width() - 6 and not widget.toolTip() else ""
    return ""


def scrolled_in(widget: QWidget) -> bool:
    """Whether it is what a scroll area shows a part of."""
    area = widget.parentWidget()
    return area is not None and isinstance(area.parentWidget(), QAbstractScrollArea)


def out_of_place(widget: QWidget) -> str:
    """By how much it reaches out of what it lies in."""
    parent = widget.parentWidget()
    if parent is None or widget.isWindow() or isinstance(parent, QAbstractScrollArea):
        return ""
    box, room = widget.geometry(), parent.rect()
    if scrolled_in(widget):
        area = parent.parentWidget()
        sideways = isinstance(area, QScrollArea) and area.horizontalScrollBarPolicy() == Qt.ScrollBarPolicy.ScrollBarAlwaysOff
        over = box.width() - room.width() if sideways else 0
        return f"{over} px wider than it can be scrolled" if over > SLACK else ""
    over = max(room.left() - box.left(), box.right() - room.right(), room.top() - box.top(), box.bottom() - room.bottom())
    return f"reaches {over} px out" if over > SLACK and box.width() > 0 and box.height() > 0 else ""


def over_another(widget: QWidget, lies_over: tuple[type, ...]) -> list[str]:
    """Children of one widget that lie over each other."""
    kids = [k for k in widget.children() if isinstance(k, QWidget) and k.isVisible() and not k.isWindow()
            and not isinstance(k, (*lies_over, QScrollBar, QSizeGrip))]  # fmt: skip
    out = []
    for i, a in enumerate(kids):
        for b in kids[i + 1 :]:
            both = a.geometry().intersected(b.geometry())
            if both.width() > SLACK and both.height() > SLACK:
                out.append(f"{where(a)} lies {both.width()} × {both.height()} px over {where(b)}")
    return out


class Painted:
    """Texts that are painted, with their boxes in the window."""

    def __init__(self) -> None:
        self.texts: list[tuple[QWidget, str, QRectF]] = []


@contextmanager
def painting(window: QWidget) -> Iterator[Painted]:
    """Notes every text that the program's own painting writes."""
    found, plain_draw = Painted(), QPainter.__dict__["drawText"]

    def draw(p: QPainter, *args: Any) -> Any:
        text = next((a for a in args if isinstance(a, str)), "")
        device = p.device()
        if text.strip() and isinstance(device, QWidget):
            box = box_of(p, args, text)
            if box is not None:
                on = p.combinedTransform().mapRect(box)
                k = 1 / device.devicePixelRatioF()
                found.texts.append((device, text, QRectF(k * on.x(), k * on.y(), k * on.width(), k * on.height())))
        return plain_draw.__get__(p)(*args)

    QPainter.drawText = draw  # type: ignore[method-assign,assignment]
    try:
        yield found
    finally:
        QPainter.drawText = plain_draw


def box_of(p: QPainter, args: tuple[Any, ...], text: str) -> QRectF | None:
    """Where a text comes to lie."""
    metrics = QFontMetricsF(p.font())
    first = args[0]
    if isinstance(first, QRectF | QRect):
        flags = next((a for a in args[1:] if isinstance(a, int | Qt.AlignmentFlag | Qt.TextFlag)), 0)
        return metrics.boundingRect(QRectF(first), int(getattr(flags, "value", flags)), text)
    if hasattr(first, "x") and hasattr(first, "y"):
        return metrics.boundingRect(text).translated(float(first.x()), float(first.y()))
    return None


def plot_labels(plot: pg.PlotWidget) -> list[tuple[str, QRectF]]:
    """Texts that lie in a plot, with their boxes."""
    out = []
    for item in plot.scene().items():
        if isinstance(item, pg.TextItem) and item.isVisible() and item.toPlainText().strip():
            out.append((item.toPlainText(), item.textItem.sceneBoundingRect().adjusted(4, 4, -4, -4)))
    return out


def faults(window: QWidget, lies_over: tuple[type, ...] = ()) -> list[str]:
    """Everything that does not hold, as lines; nothing where all does."""
    out: list[str] = []
    for widget in [window, *window.findChildren(QWidget)]:
        if not widget.isVisible() or widget.width() <= 0 or widget.height() <= 0:
            continue
        why = cut(widget)
        if why:
            out.append(f"cut off: {where(widget)}: {why}")
        why = out_of_place(widget)
        if why:
            out.append(f"out of place: {where(widget)}: {why}")
        out += over_another(widget, lies_over)
        if isinstance(widget, QTabBar):
            for i in range(widget.count()):
                room = widget.tabRect(i).width()
                if widest(widget, plain(widget.tabText(i))) > room and not widget.tabToolTip(i):
                    out.append(f"cut off: tab {widget.tabText(i)!r} of {where(widget)}")
            whole = sum(widget.tabRect(i).width() for i in range(widget.count()))
            if whole > widget.width() + SLACK:
                out.append(f"cut off: tabs of {where(widget)}: {whole} px wide, has {widget.width()}")
        if isinstance(widget, pg.PlotWidget):
            labels = plot_labels(widget)
            for i, (a, one) in enumerate(labels):
                out += [f"labels over each other: {a!r} and {b!r}" for b, other in labels[i + 1 :] if one.intersects(other)]
    return out


def painted_faults(painted: Painted) -> list[str]:
    """Painted texts over one another in one widget, or out of it."""
    by_widget: dict[QWidget, dict[tuple[str, int, int], QRectF]] = {}
    for widget, text, box in painted.texts:
        by_widget.setdefault(widget, {})[(text, round(box.x()), round(box.y()))] = box
    out = []
    for widget, texts in by_widget.items():
        room = QRectF(widget.rect()).adjusted(-SLACK, -SLACK, SLACK, SLACK)
        boxes = [(key[0], box.adjusted(0, 3, 0, -3)) for key, box in texts.items()]
        for i, (text, box) in enumerate(boxes):
            if not room.contains(box):
                out.append(f"painted out of its place: {text!r} in {where(widget)}")
            for other, there in boxes[i + 1 :]:
                both = box.intersected(there)
                if both.width() > 2 and both.height() > 2:
                    out.append(f"painted over one another: {text!r} and {other!r} in {where(widget)}")
    return out


def shorten(lines: list[str]) -> list[str]:
    """The same without those that differ in figures alone."""
    return list({re.sub(r"\d+", "#", x): x for x in lines}.values())
