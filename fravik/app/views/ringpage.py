"""The controller's loop: whether it rings with the frame, on which axis, and what it would look like."""

from __future__ import annotations

import math
from concurrent.futures import Future
from functools import partial

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns
from fravik.app.widgets.basics import Card, clear, label, scrolled
from fravik.app.widgets.fieldforms import Form
from fravik.app.widgets.fields import ChoiceField, FlagField, NumberField
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.plots import dress_axes, name_axis, plain_plot
from fravik.app.widgets.short import Short, ShortButton
from fravik.app.widgets.waysout import price_text
from fravik.engine.foresee.heat import warm as in_degrees
from fravik.engine.foresee.ring import tune_edits
from fravik.engine.results import Evaluation
from fravik.engine.ring import AxisRing
from fravik.engine.ringview import WHEN, RingSight, TriedTune, Watched, axis_verdict, in_frame, in_words, sight, watched
from fravik.model.project import Target
from fravik.model.tune import HOUSE_LABELS
from fravik.study.margins import METRICS

TICKS_HZ, LEAST_HZ = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000), 1.0
OWN = ("follows", "lead", "lowpass", "notches", "notch_q")
ABOUT = ("Gain of the loop, frame and all: where it comes back just against itself (a dot) above 0 dB, it rings by itself. Thin lines: the "
         "filament's spread. Axis by axis, without what one stirs in another; half the plastic's loss factor as damping; motors' lag from "
         "their weight and size.")  # fmt: skip
UNKNOWN = "Not known yet: the frame's modes are not judged, or its motors have no thrust to spare in hover."
SEARCHING = "Changes are being tried in the background."
WAYS_OUT = "Ask for a ring margin in the brief: then what stiffens the frame is tried, each change with grams, minutes and money."
COSTS = "Costs no grams; the craft answers as much slower as it follows less, and gusts and its own wash push it farther."
SAFETY = "Propellers off on the bench. Never hold a craft that may run away; hot motors burn."


class RingCard(Card):
    """Every axis with its margin, the picked one's gain over frequency, and a second of it in time."""

    mode_wanted = pyqtSignal(int)

    def __init__(self, session: Session) -> None:
        super().__init__("The controller's loop")
        self.session = session
        self.axis = ""
        self.seen: RingSight | None = None
        self._turns = Turns(self)
        self.told = label("", "muted", wrap=True)
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.column.addWidget(self.told)
        self.rows = QGridLayout()
        self.rows.setHorizontalSpacing(10)
        self.rows.setVerticalSpacing(2)
        self.rows.setColumnStretch(4, 1)
        self.column.addLayout(self.rows)
        self.group = QButtonGroup(self)
        self.lines: dict[str, tuple[QPushButton, VerdictMark, QLabel, QLabel, Short]] = {}
        self.gain = plain_plot("Frequency, Hz", "Gain, dB")
        self.gain.setLogMode(True, False)
        self.gain.setAccessibleName("Gain of the loop over frequency")
        self.zero = pg.InfiniteLine(angle=0)
        self.curves = [pg.PlotCurveItem() for _ in range(3)]
        self.dots = pg.ScatterPlotItem()
        for item in (self.zero, *self.curves, self.dots):
            self.gain.addItem(item)
        self.column.addWidget(self.gain, 3)
        self.watched: dict[tuple[str, str], Watched] = {}
        self.watching = QWidget()
        when = QHBoxLayout(self.watching)
        when.setContentsMargins(0, 0, 0, 0)
        when.addWidget(label("A second after a gust", "heading"))
        self.when = QComboBox()
        self.when.setAccessibleName("When in flight")
        for key, text in WHEN.items():
            self.when.addItem(text, key)
        self.when.currentIndexChanged.connect(self._watch)
        when.addWidget(self.when)
        when.addStretch(1)
        self.column.addWidget(self.watching)
        self.second = plain_plot("Seconds", "Motors, %")
        self.second.setAccessibleName("What the motors are asked for, in a second")
        self.column.addWidget(self.second, 2)
        self.legend = label(ABOUT, "small", wrap=True)
        self.column.addWidget(self.legend)

    def refresh(self) -> None:
        """Work it out beside the window."""
        result, engine = self.session.result, self.session.engine
        if result is None or result.whole is None:
            self.seen = None
            self._show(UNKNOWN)
            return
        self.session.beside.ask(lambda: sight(engine, result), partial(self._take, result))

    def _take(self, of: Evaluation, found: Future[RingSight | None]) -> None:
        if of is self.session.result:
            self.seen, self.watched = found.result(), {}
            self._show(UNKNOWN)

    def _show(self, unknown: str) -> None:
        seen = self.seen
        for plot in (self.gain, self.watching, self.second, self.legend):
            plot.setVisible(seen is not None)
        self.column.setStretchFactor(self.told, 1 if seen is None else 0)
        self._fill(seen)
        if seen is None:
            self.told.setText(unknown)
            self.note.setText("")
            return
        house = HOUSE_LABELS[seen.ring.tune.house].lower()
        self.note.setText(f"{house} tune, follows up to {seen.ring.crossover_hz:.1f} Hz")
        self.told.setText(" ".join((in_words(seen), *(f"{axis}: {why}" for axis, why in seen.ring.left_out))))
        self._turns.begin([self.changed.emit, self._pick_again])

    def _pick_again(self) -> None:
        """The axis that was looked at, or the worst."""
        seen = self.seen
        if seen is not None:
            self.pick(self.axis if self.axis in seen.curves else seen.ring.worst.axis if seen.ring.worst is not None else "")

    changed = pyqtSignal()

    def _fill(self, seen: RingSight | None) -> None:
        axes = seen.ring.axes if seen is not None else ()
        if tuple(a.axis for a in axes) != tuple(self.lines):
            clear(self.rows)
            self.lines = {a.axis: self._line(k, a) for k, a in enumerate(axes)}
        for a in axes:
            _, mark, margin, verdict, why = self.lines[a.axis]
            low, usual, high = a.spread_db
            mark.set_verdict(axis_verdict(a))
            margin.setText(f"{usual:+.0f} dB")
            margin.setToolTip(f"{low:+.0f} to {high:+.0f} dB over the filament's spread; {a.typical.phase_deg:.0f}° where it crosses")
            verdict.setText(a.verdict)
            where = f"at {a.typical.freq_hz:.0f} Hz: {a.rings}, {a.at.words}" if a.typical.freq_hz > 0 else "nothing that was looked at"
            why.setText(where)

    def _line(self, row: int, axis: AxisRing) -> tuple[QPushButton, VerdictMark, QLabel, QLabel, Short]:
        button = ShortButton(axis.axis.capitalize())
        button.setCheckable(True)
        button.setFixedHeight(theme.sized(22))
        button.clicked.connect(lambda: self.pick(axis.axis))
        self.group.addButton(button)
        line = button, VerdictMark("holds", 9), label("", "figure"), label("", "bold"), Short("", "muted")
        for col, widget in enumerate(line):
            self.rows.addWidget(widget, row, col)
        return line

    def pick(self, axis: str) -> None:
        """Show another axis."""
        seen, self.axis = self.seen, axis
        if seen is None or axis not in seen.curves:
            return
        self.lines[axis][0].setChecked(True)
        c, curve = theme.current(), seen.curves[axis]
        for plot in (self.gain, self.second):
            plot.setBackground(c.card)
            dress_axes(plot, 7.5)
        self.gain.getAxis("bottom").setTicks([[(math.log10(hz), f"{hz:g}") for hz in TICKS_HZ]])
        self.gain.setXRange(math.log10(max(curve.hz[0], LEAST_HZ)), math.log10(curve.hz[-1]), padding=0.01)
        self.zero.setPen(pg.mkPen(c.fails, width=1, style=Qt.PenStyle.DashLine))
        for item, db, width, colour in zip(self.curves, curve.db, (1.0, 2.0, 1.0), (c.cover, c.wall, c.cover), strict=True):
            item.setData(np.log10(curve.hz), db, pen=pg.mkPen(colour, width=width))
        marks = np.array(curve.against).reshape(-1, 2)
        brushes = [pg.mkBrush(c.fails if db > 0 else c.card) for db in marks[:, 1]]
        self.dots.setData(np.log10(np.maximum(marks[:, 0], 1e-3)), marks[:, 1], size=8, pen=pg.mkPen(c.ink), brush=brushes)
        self.gain.setYRange(float(max(curve.db.min(), -40.0)), float(min(curve.db.max(), 50.0)), padding=0.04)
        self._watch()
        ringing = next(a for a in seen.ring.axes if a.axis == axis)
        if ringing.mode is not None:
            self.mode_wanted.emit(ringing.mode)

    def _watch(self) -> None:
        """Step through the second that is wanted, beside the window, unless it is known."""
        self._draw_second()
        result, engine, when = self.session.result, self.session.engine, str(self.when.currentData())
        axis = next((a for a in self.seen.ring.axes if a.axis == self.axis), None) if self.seen is not None else None
        if result is None or axis is None or (axis.axis, when) in self.watched:
            return
        seen = self.seen

        def take(found: Future[Watched]) -> None:
            if seen is self.seen:
                self.watched[axis.axis, when] = found.result()
                self._draw_second()

        self.session.beside.ask(lambda: watched(engine, result, axis, when), take)

    def _draw_second(self) -> None:
        self.second.clear()
        found = self.watched.get((self.axis, str(self.when.currentData())))
        if found is None:
            return
        c = theme.current()
        for k, colour in zip(range(found.second.asked.shape[1]), (c.wall, c.core_line, c.cover, c.muted) * 4, strict=False):
            self.second.plot(found.second.at_s, 100 * found.second.asked[:, k], pen=pg.mkPen(colour, width=1.2))
        self.second.setYRange(0.0, 100.0, padding=0.03)
        name_axis(self.second, "bottom", f"Seconds, {found.at.words}; going on so, windings reach {in_degrees(found.warm_c.typical)}")


class TuneCard(Card):
    """The tune in force, and the two ways to a quiet loop side by side: in the tune, and in the frame."""

    def __init__(self, session: Session, loop: RingCard) -> None:
        super().__init__("Quiet it")
        self.session, self.loop = session, loop
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.setSpacing(5)
        self.form = Form()
        self.form.add(ChoiceField(session, "tune.house", list(HOUSE_LABELS.items())))
        self.form.add(NumberField(session, "tune.delay_ms"))
        for name in OWN:
            self.form.add(NumberField(session, f"tune.{name}"))
        self.form.add(FlagField(session, "tune.evens"))
        column.addWidget(self.form)
        column.addWidget(label("In the tune", "heading"))
        self.tried = QGridLayout()
        self.tried.setHorizontalSpacing(8)
        self.tried.setColumnStretch(0, 1)
        column.addLayout(self.tried)
        self.tune_costs = label("", "small", wrap=True)
        column.addWidget(self.tune_costs)
        column.addWidget(label("In the frame", "heading"))
        self.frame = label("", "small", wrap=True)
        column.addWidget(self.frame)
        self.levers = QGridLayout()
        self.levers.setHorizontalSpacing(8)
        self.levers.setColumnStretch(0, 1)
        column.addLayout(self.levers)
        low = QHBoxLayout()
        self.ask = QPushButton("Ask for a ring margin")
        self.ask.clicked.connect(self.add_target)
        self.keep, self.back = QPushButton("Keep it"), QPushButton("Take back")
        self.keep.setObjectName("strong")
        self.keep.clicked.connect(session.take)
        self.back.clicked.connect(session.take_back)
        for button in (self.ask, self.keep, self.back):
            low.addWidget(button)
        low.addStretch(1)
        column.addLayout(low)
        session.levers_changed.connect(self.show_levers)
        session.trial_changed.connect(self.show_levers)
        column.addWidget(label(SAFETY, "caution", wrap=True))
        column.addStretch(1)
        self.column.addWidget(scrolled(page), 1)
        loop.changed.connect(self.show_tried)

    def refresh(self) -> None:
        """Show the project's tune."""
        own = self.session.project.tune.house == "own"
        for name in (*OWN, "evens"):
            self.form.show_field(f"tune.{name}", own)
        self.form.refresh()
        self.show_levers()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.show_levers()

    def show_levers(self) -> None:
        """What was tried of the frame, once the brief asks for it."""
        s = self.session
        if not self.isVisible():
            return
        clear(self.levers)
        asked = any(t.metric == "ring_margin_db" for t in s.project.targets)
        found = in_frame(s.levers, s.result) if s.result is not None and s.trial is None else []
        for row, (lever, db) in enumerate(found):
            attempt = QPushButton("Try")
            attempt.setFixedHeight(theme.sized(22))
            attempt.setAccessibleName(f"Try: {lever.title}")
            attempt.clicked.connect(partial(s.try_lever, lever))
            for col, widget in enumerate((Short(lever.title), *_figures(f"{db:+.0f} dB", f"{lever.grams:+.0f} g"), attempt)):
                widget.setToolTip(f"{lever.title}: {price_text(lever, s.project.brief.currency)}")
                self.levers.addWidget(widget, row, col)
        self.ask.setVisible(not asked)
        for button in (self.keep, self.back):
            button.setVisible(s.trial is not None)
        if s.trial is not None:
            text = f"Trying: {s.trial.title}."
        elif not asked:
            text = WAYS_OUT
        else:
            text = "" if found else SEARCHING if s.levers_busy is not None else "No change that was tried helps here."
        self.frame.setText(text)
        self.frame.setVisible(bool(text))

    def show_tried(self) -> None:
        """Calmer tunes that were tried on this frame."""
        clear(self.tried)
        seen = self.loop.seen
        for row, t in enumerate(seen.tried if seen is not None else ()):
            use = QPushButton("Use")
            use.setFixedHeight(theme.sized(22))
            use.setAccessibleName(f"Use: {t.title}")
            use.clicked.connect(partial(self.use, t))
            for col, widget in enumerate((Short(t.title), *_figures(f"{t.gain_db:+.0f} dB", f"{t.follows_hz:.1f} Hz"), use)):
                self.tried.addWidget(widget, row, col)
        self.tune_costs.setText("" if seen is None else COSTS if seen.tried else "No calmer tune is known that helps.")

    def use(self, tried: TriedTune) -> None:
        """Put a tune in force."""
        self.session.edit_many(tune_edits(tried.tune), tried.title.lower())

    def add_target(self) -> None:
        """Ask for it in the brief."""
        project = self.session.project
        taken = {t.id for t in project.targets}
        name = next(n for n in ("ring", *(f"ring{i}" for i in range(2, 99))) if n not in taken)
        limit = METRICS["ring_margin_db"].first_limit
        self.session.edit("targets", (*project.targets, Target(id=name, metric="ring_margin_db", limit=limit)), "ring margin asked for")


def _figures(*texts: str) -> list[QLabel]:
    return [label(text, "figure") for text in texts]
