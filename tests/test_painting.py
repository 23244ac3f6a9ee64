"""How much is painted in one turn of the window, and what is kept while the rest waits."""

import time
from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np
import pyqtgraph as pg
import pytest
from conftest import until, work
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QEvent, QEventLoop, QTimer
from PyQt6.QtGui import QColor, QExposeEvent, QImage, QPainter, QRegion
from PyQt6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from fravik.app import loopturn, painting, theme
from fravik.app.widgets.basics import label, set_role
from fravik.app.widgets.gridrows import GridRows
from fravik.app.widgets.keptpicture import KeptPicture
from fravik.app.widgets.plots import Plot, Plots, name_axis

SLOW_S = 0.02
CORNER = (2000, 1000)  # of the screen: windows of tests that run beside these never lie there


class Top(QWidget):
    """A window that paints as the main one does."""

    turns = 0
    slow: list["Slow"]

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.UpdateRequest:
            self.turns += 1
            with painting.window_paints():
                return super().event(event)
        return super().event(event)


class Slow(QWidget):
    """Takes long to paint, and shows a colour."""

    def __init__(self) -> None:
        super().__init__()
        self.what, self.painted = QColor("red"), list[int]()
        self.kept = KeptPicture()
        self.setFixedSize(40, 30)

    def show_colour(self, colour: str) -> None:
        self.what = QColor(colour)
        self.update()

    def paintEvent(self, event: object) -> None:
        QPainter(self).drawPixmap(0, 0, self.kept.of(self, self.what, self._paint))

    def _paint(self, painter: QPainter) -> None:
        time.sleep(SLOW_S)
        painter.fillRect(self.rect(), self.what)
        top = self.window()
        self.painted.append(top.turns if isinstance(top, Top) else -1)


def shown(top: QWidget, widget: QWidget) -> str:
    """What stands on the screen at the widget's middle."""
    screen = top.screen()
    assert screen is not None
    at = widget.mapTo(top, widget.rect().center())
    return QColor(screen.grabWindow(top.winId()).toImage().pixel(at)).name()


@pytest.fixture
def top(qapp: Any) -> Iterator[Top]:
    """A window with four that take long to paint, painted once."""
    window = Top()
    column = QVBoxLayout(window)
    window.slow = [Slow() for _ in range(4)]
    for widget in window.slow:
        column.addWidget(widget)
    window.move(*CORNER)
    window.show()
    assert until(qapp, lambda: all(len(s.painted) == 1 for s in window.slow))
    yield window
    window.close()


def test_what_takes_long_is_painted_one_a_turn_and_shows_its_last_picture_meanwhile(top: Top, qapp: Any) -> None:
    slow = top.slow
    for widget in slow:
        widget.show_colour("blue")
    assert until(qapp, lambda: sum(len(s.painted) == 2 for s in slow) == 1)
    assert {shown(top, s) for s in slow if len(s.painted) == 1} == {QColor("red").name()}
    assert until(qapp, lambda: all(len(s.painted) == 2 for s in slow))
    assert len({s.painted[1] for s in slow}) == 4
    assert {shown(top, s) for s in slow} == {QColor("blue").name()}
    # a picture taken of it waits for nothing
    for widget in slow:
        widget.show_colour("lime")
    taken = top.grab().toImage()
    assert {QColor(taken.pixel(s.geometry().center())).name() for s in slow} == {QColor("lime").name()}


def test_none_waits_twice_however_busy_the_window_is(top: Top, qapp: Any) -> None:
    for k in range(8):  # more comes before what waits has had its turn
        for widget in top.slow:
            widget.show_colour(("blue", "lime")[k % 2])
        qapp.sendPostedEvents(top, QEvent.Type.UpdateRequest)
    assert all(len(s.painted) >= 1 + 3 for s in top.slow)


def test_what_the_screen_wants_anew_after_a_long_turn_comes_in_one_of_its_own(qapp: Any) -> None:
    loopturn.watch()
    window = Slow()
    painting.InTurns(window)
    window.setMinimumSize(60, 60)
    window.move(*CORNER)
    window.show()
    assert until(qapp, lambda: bool(window.painted))
    handle = window.windowHandle()
    assert handle is not None
    order: list[str] = []

    def wanted(after_s: float) -> None:
        work(after_s)
        window.painted.clear()
        window.show_colour("blue" if after_s else "lime")
        qapp.sendEvent(handle, QExposeEvent(QRegion(window.rect())))
        order.append("painted at once" if window.painted else "not yet")

    for after_s in (0.0, 2 * loopturn.LONG_S):
        loop = QEventLoop()
        QTimer.singleShot(50, partial(wanted, after_s))
        QTimer.singleShot(300, loop.quit)
        loop.exec()
        assert window.painted
    assert order == ["painted at once", "not yet"]
    window.close()


def pixels(widget: QWidget) -> np.ndarray:
    """A picture of a widget, (high, wide, 4)."""
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    bits = image.constBits()
    assert bits is not None
    return np.frombuffer(bits.asarray(image.sizeInBytes()), np.uint8).reshape(image.height(), image.width(), 4).copy()


def test_a_plot_that_keeps_its_picture_looks_like_one_that_does_not(qapp: Any) -> None:
    plots = [Plot(), pg.PlotWidget()]
    lines = []
    try:
        for plot in plots:
            plot.setBackground("#fffdf5")
            plot.resize(320, 200)
            plot.plot(np.linspace(0, 3, 50), np.sin(np.linspace(0, 9, 50)), pen="#204060")
            line = pg.InfiniteLine(1.0, angle=90, pen="#c03020")
            plot.addItem(line)
            lines.append(line)
            plot.show()
        qapp.processEvents()
        assert (pixels(plots[0]) == pixels(plots[1])).all()
        empty = pixels(plots[0])
        for line in lines:  # only a stripe is painted anew
            line.setValue(2.2)
        qapp.processEvents()
        assert (pixels(plots[0]) == pixels(plots[1])).all()
        assert (pixels(plots[0]) != empty).any()
        for plot in plots:
            plot.resize(260, 240)
        qapp.processEvents()
        assert (pixels(plots[0]) == pixels(plots[1])).all()
    finally:
        for plot in plots:
            plot.close()


def test_what_is_written_along_an_axis_stands_in_its_middle_however_long_it_becomes(qapp: Any) -> None:
    plot = Plot()
    plot.resize(400, 240)
    try:
        name_axis(plot, "bottom", "Seconds")
        plot.show()
        qapp.processEvents()
        for text in ("Seconds, in a descent, charged; going on", "s"):
            name_axis(plot, "bottom", text)
            axis = plot.getAxis("bottom")
            written = axis.label.mapRectToParent(axis.label.boundingRect())
            assert abs(written.center().x() - axis.size().width() / 2) < 2
    finally:
        plot.close()


def text_rows(grid: QGridLayout) -> list[str]:
    """The texts of the left column from top to bottom."""
    found: list[tuple[int, str]] = []
    for i in range(grid.count()):
        row, column, *_ = grid.getItemPosition(i)
        widget = grid.itemAt(i).widget()  # type: ignore[union-attr]
        if column == 0 and isinstance(widget, QLabel):
            found.append((row or 0, widget.text()))
    return [text for _, text in sorted(found)]


@settings(max_examples=40, deadline=None)
@given(st.lists(st.lists(st.sampled_from("abcdefg"), unique=True), max_size=6))
def test_rows_follow_their_keys_and_those_that_stay_are_not_made_anew(qapp: Any, steps: list[list[str]]) -> None:
    page = QWidget()
    grid = QGridLayout(page)
    made: dict[str, QLabel] = {}

    def make(line: int, key: str) -> None:
        made[key] = QLabel(key)
        grid.addWidget(made[key], line, 0)
        below = QVBoxLayout()
        below.addWidget(QLabel(f"about {key}"))
        grid.addLayout(below, line + 1, 0, 1, 2)

    rows: GridRows[str] = GridRows(grid, 2, make, first=1)
    last: dict[str, QLabel] = {}
    for keys in steps:
        rows.show(keys)
        assert text_rows(grid) == keys
        assert all(made[k] is last[k] for k in keys if k in last)
        assert grid.count() == 2 * len(keys)
        last = {k: made[k] for k in keys}


@settings(max_examples=30, deadline=None)
@given(
    st.lists(st.tuples(st.text("ab c", max_size=90), st.sampled_from(["", "small", "heading", "bold"]), st.integers(40, 400)), max_size=8)
)
def test_a_wrapped_text_is_as_high_as_any(qapp: Any, steps: list[tuple[str, str, int]]) -> None:
    ours, plain = label("", wrap=True), QLabel("")
    plain.setWordWrap(True)
    plain.setTextFormat(ours.textFormat())
    try:
        for widget in (ours, plain):
            theme.dress(widget)
            widget.show()
        for text, role, wide_px in steps:
            for widget in (ours, plain):
                widget.setText(text)
                set_role(widget, role)
            assert ours.heightForWidth(wide_px) == plain.heightForWidth(wide_px)
    finally:
        ours.close()
        plain.close()


@settings(max_examples=8)
@given(heights=st.lists(st.floats(0.2, 40.0), min_size=3, max_size=6), restyled=st.integers(0, 2))
def test_a_plot_shows_what_it_holds_whatever_was_painted_before(qapp: Any, heights: list[float], restyled: int) -> None:
    """Also after the tool kit has asked for all of its scene, as it does when palette, face or style change."""
    pad = Plots()
    plot = pad.addPlot()
    curve = plot.plot([0.0, 1.0], [1.0, 1.0])
    pad.resize(300, 160)
    pad.move(*CORNER)
    pad.show()
    until(qapp, lambda: False, 0.05)
    for k, height in enumerate(heights):
        if k == restyled:
            pad.scene().update()
            until(qapp, lambda: False, 0.02)
        curve.setData([0.0, 0.5, 1.0], [0.0, height, 0.3 * height])
        plot.setYRange(0.0, 1.2 * height)
        until(qapp, lambda: False, 0.05)
        held = pad.grab().toImage()
        assert until(qapp, lambda held=held: _on_screen(qapp, pad) == held.convertToFormat(_on_screen(qapp, pad).format()), 5.0)  # type: ignore[misc]
    pad.close()


def _on_screen(qapp: Any, pad: QWidget) -> QImage:
    return qapp.primaryScreen().grabWindow(pad.winId()).toImage()  # type: ignore[no-any-return]
