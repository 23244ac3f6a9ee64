"""Vibration: where the craft rings against what shakes it."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future
from functools import cached_property
from typing import Any

import numpy as np
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QLabel, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns
from fravik.app.widgets.basics import Card, label, laid_out_once
from fravik.app.widgets.frequencies import FrequencyPlot
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.scene import Actors, Scene, ball, blend, poly, standing_at
from fravik.app.widgets.short import Choices, Short, ShortButton
from fravik.engine.results import Evaluation
from fravik.engine.speedmap import HARMLESS_DPS, HARMLESS_PX, SpeedMap, harmless, speed_map, worst_first
from fravik.engine.spots import Spot, spots_of
from fravik.engine.swing import Swing, mode_swing
from fravik.structure.excitation import Meeting

from .ringpage import RingCard, TuneCard

FRAME_MS, SLOWEST_MS, FRAME_SHARE = 50, 500, 4.0
ROWS, MARK = 7, 0.016  # marks over the span of the craft
WHOLE = ("The whole craft, free in the air, with all it carries. 1/rev counts against modes in which a rotor moves sideways, blade pass "
         "against those in which one moves along its shaft. Shake is for propellers of the stated balance; it may be twice or half that. "
         "Plates' inner modes are not in this picture.")  # fmt: skip
APART = ("Each part by itself, held at its root; arms with motor and propeller. Plates' own modes, damping and the size of the shake are "
         "not in this picture.")  # fmt: skip

PAGES = (("What shakes it", "The craft's modes against the turning of its motors"),
         ("The controller's loop", "Whether what the gyro feels of the frame feeds on itself"))  # fmt: skip


class VibrationView(QWidget):
    """Frequencies over speed at the left, the mode in 3D and what shakes it at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.mode = 0
        self._swing: Swing | None = None
        self._surface: Any = None
        self._actors = Actors()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.diagram, self.spot = FrequencyPlot(), "gyro"
        self.diagram.place.activated.connect(self._pick_spot)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addLayout(self._pages())
        self.left, self.low = QStackedWidget(), QStackedWidget()
        left.addWidget(self.left, 1)
        row.addLayout(left, 6)
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(self._mode_card(), 5)
        right.addWidget(self.low, 4)
        row.addLayout(right, 5)
        for stack, card in ((self.left, self.diagram), (self.low, self._crossing_card())):
            stack.addWidget(card)
            theme.hold(stack)
        self._turns = Turns(self)
        self.timer = QTimer(self)
        self.timer.setInterval(FRAME_MS)
        self.timer.timeout.connect(self._beat)
        # the diagram is drawn after the figures, in a turn of its own
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._draw_diagram)
        theme.on_change(self.restyle)

    @cached_property
    def ring(self) -> RingCard:
        """The loop, made when it is first looked at."""
        made = RingCard(self.session)
        made.mode_wanted.connect(self.pick_mode)
        self.left.addWidget(made)
        return made

    @cached_property
    def tune(self) -> TuneCard:
        """Its tune, and the ways to quiet it."""
        made = TuneCard(self.session, self.ring)
        self.low.addWidget(made)
        return made

    def _pages(self) -> QHBoxLayout:
        out, self.pages = QHBoxLayout(), QButtonGroup(self)
        out.setSpacing(6)
        for k, (text, about) in enumerate(PAGES):
            button = ShortButton(text)
            button.setCheckable(True)
            button.setChecked(k == 0)
            button.setToolTip(about)
            button.setFixedHeight(theme.sized(23))
            self.pages.addButton(button, k)
            out.addWidget(button)
        out.addStretch(1)
        self.pages.idClicked.connect(self._turn_to)
        return out

    def show_page(self, page: int) -> None:
        """What shakes the craft, or the controller's loop."""
        self._turn_to(page)
        self._turns.finish()

    def _turn_to(self, page: int) -> None:
        """The same in the next turns of the window: what is looked at first has to be made."""
        self.pages.button(page).setChecked(True)  # type: ignore[union-attr]
        self._turns.begin(self._turning(page))

    def _turning(self, page: int) -> Iterator[None]:
        if page:
            theme.dress(self.ring)
            yield
            theme.dress(self.tune)
            yield
        for stack, card in ((self.left, self.ring if page else self.diagram), (self.low, self.tune if page else self.crossing_card)):
            stack.setCurrentWidget(card)
        self.refresh()

    def reveal(self, path: str) -> None:
        """Bring the editor of a field into view."""
        if path.startswith("tune"):
            self.show_page(1)
            field = self.tune.form.fields.get(path)
            if field is not None:
                field.control().setFocus()

    def _mode_card(self) -> Card:
        card = Card("Mode shape")
        self.mode_card = card
        line = QHBoxLayout()
        line.setSpacing(4)
        self.picker = Choices()
        self.picker.setAccessibleName("Mode that is shown")
        self.picker.activated.connect(self.pick_mode)
        line.addWidget(self.picker, 1)
        self.steps = []
        for text, step, about in (("‹", -1, "The mode below"), ("›", 1, "The mode above")):
            button = QPushButton(text)
            button.setFixedWidth(30)
            button.setToolTip(about)
            button.setAccessibleName(about)
            button.clicked.connect(lambda _, s=step: self.pick_mode(self.mode + s))
            line.addWidget(button)
            self.steps.append(button)
        card.column.addLayout(line)
        self.scene = Scene(self._draw, "The craft swinging in the chosen mode")
        self.scene.view_from = (-0.7, -1.7, 0.9)
        self.scene.room = 1.02
        self.scene.prepare_by(self.session.aside, self._surface_of)
        self.session.opened.connect(self.scene.refit)
        card.column.addWidget(self.scene, 1)
        self.pause = QPushButton("Pause")
        self.pause.setCheckable(True)
        self.pause.toggled.connect(lambda on: self._run(not on))
        card.head.addWidget(self.pause)
        return card

    def _crossing_card(self) -> Card:
        card = Card("Modes against what shakes them")
        self.crossing_card = card
        self.crossings = QGridLayout()
        self.crossings.setHorizontalSpacing(10)
        self.crossings.setVerticalSpacing(4)
        self.crossings.setColumnStretch(1, 1)
        self.heads = [label(text, "small") for text in ("", "What bends, and how", "Hz", "Shaken by", "Gyro", "Clear by", "Met")]
        for col, head in enumerate(self.heads):
            self.crossings.addWidget(head, 0, col)
        self.lines: list[tuple[VerdictMark, list[QLabel]]] = []
        self.unknown = label("", "muted", wrap=True)
        card.column.addWidget(self.unknown)
        card.column.addLayout(self.crossings)
        card.column.addStretch(1)
        self.limits = label("", "small", wrap=True)
        card.column.addWidget(self.limits)
        return card

    def restyle(self) -> None:
        """Take the palette in force."""
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the current project."""
        self._modes()
        if self.left.currentIndex():
            self.tune.refresh()
            self.ring.refresh()
        else:
            self._crossings()
            self._later.start()
        self.scene.invalidate()

    def _draw_diagram(self) -> None:
        """Draw it when the shake over all speeds is worked out, beside the window."""
        result = self.session.result
        if result is None or result.whole is None:
            self.diagram.place.setVisible(False)
            self.diagram.show_modes(result, self.mode)
            return
        spot = self.spot
        self.session.aside.ask(lambda: (speed_map(result, spot), harmless(result)), lambda told: self._take_shake(result, told))

    def _take_shake(self, result: Evaluation, told: Future[tuple[SpeedMap | None, tuple[int, int]]]) -> None:
        if self.session.result is not result:
            return
        shown, (calm, met) = told.result()
        self._offer(spots_of(result), shown)
        self.diagram.show_modes(result, self.mode, shown)
        if met:
            self.crossing_card.note.setText(f"{met} at working speeds, {calm} of them harmless")
            self.crossing_card.note.setToolTip(f"Harmless: under {HARMLESS_DPS:g} °/s at the gyro and {HARMLESS_PX:g} px at the camera")

    def _offer(self, every: tuple[Spot, ...], shown: SpeedMap | None) -> None:
        place = self.diagram.place
        if [s.id for s in every] != [place.itemData(i) for i in range(place.count())]:
            place.clear()
            for s in every:
                place.addItem(s.name, s.id)
        place.setVisible(bool(every))
        if shown is not None:
            place.setCurrentIndex(place.findData(shown.spot.id))

    def _pick_spot(self, index: int) -> None:
        self.spot = self.diagram.place.itemData(index)
        self._later.start()

    def _modes(self) -> None:
        result = self.session.result
        modes = result.modes if result is not None else ()
        self.mode = max(min(self.mode, len(modes) - 1), 0)
        texts = [f"{m.freq_hz:.0f} Hz  {named(result, m.part_id)}: {m.name}" for m in modes] if result is not None else []
        if texts != [self.picker.itemText(i) for i in range(self.picker.count())]:
            self.picker.clear()
            self.picker.addItems(texts)
        self.picker.setCurrentIndex(self.mode if texts else -1)
        for widget in (self.picker, *self.steps, self.pause):
            widget.setVisible(bool(texts))
        if not modes:
            self.mode_card.note.setText("not known yet")
            return
        m = modes[self.mode]
        self.mode_card.note.setText(f"{m.low_hz:.0f}–{m.high_hz:.0f} Hz")
        self.picker.setToolTip(f"{texts[self.mode]}, from {m.low_hz:.0f} to {m.high_hz:.0f} Hz")

    def pick_mode(self, index: int) -> None:
        """Animate another mode."""
        count = len(self.session.result.modes) if self.session.result is not None else 0
        if 0 <= index < count and index != self.mode:
            self.mode = index
            self._modes()
            if not self.left.currentIndex():
                self._later.start()
            self.scene.invalidate()

    def _line(self, r: int) -> tuple[VerdictMark, list[QLabel]]:
        """The widgets of a row, made on first need."""
        while r >= len(self.lines):
            mark: VerdictMark = VerdictMark("holds", 9)
            cells: list[QLabel] = [Short(), *(label("", "figure" if col in (2, 4, 5) else "") for col in range(2, len(self.heads)))]
            for col, cell in enumerate((mark, *cells)):
                self.crossings.addWidget(cell, len(self.lines) + 1, col)
            self.lines.append((mark, cells))
        return self.lines[r]

    def _crossings(self) -> None:
        result = self.session.result
        shown, felt = worst_first(result, ROWS) if result is not None else ([], [])
        with laid_out_once(self.crossing_card):
            reason = result.scope.structure if result is not None else "The design contradicts itself: no figure is known."
            self.unknown.setText("" if shown else reason or "No part bends.")
            self.unknown.setVisible(not shown)
            self.limits.setText(WHOLE if result is not None and result.whole is not None else APART)
            self.limits.setVisible(bool(shown))
            for head in self.heads:
                head.setVisible(bool(shown))
            if result is not None:
                for r, x in enumerate(shown):
                    self._fill(r, result, x, f"{felt[r]:.0f} °/s" if x.reached and felt else "")
            for r, (mark, cells) in enumerate(self.lines):
                for widget in (mark, *cells):
                    widget.setVisible(r < len(shown))
        every = result.meetings if result is not None else ()
        inside = sum(x.where == "working" for x in every)
        self.crossing_card.note.setText(f"{inside} of {len(every)} within the working speeds" if every else "")

    def _fill(self, row: int, result: Evaluation, x: Meeting, shake: str) -> None:
        """What is met outside the working speeds says where."""
        met = {"working": "at work", "below": "below", "above": "above"}[x.where]
        there = {"working": "at working speeds", "below": "below the working speeds", "above": "above the working speeds"}[x.where]
        where = f"Met at {x.rpm:.0f} rpm, {there}."
        if not x.reached:
            where = "Never met: beyond full speed." if x.where == "above" else "Never met."
        mark, cells = self._line(row)
        mark.set_verdict(result.verdict_of(x))
        text = f"{named(result, x.mode.part_id)}: {x.mode.name}"
        texts = (text, f"{x.mode.freq_hz:.0f}", x.order.name, shake, f"{x.clear_pct:+.0f} %", met if x.reached else "never")
        about = f"{text}. {x.mode.low_hz:.0f} to {x.mode.high_hz:.0f} Hz; clear by {x.clear_low_pct:+.0f} to {x.clear_high_pct:+.0f} %. "
        for cell, words in zip(cells, texts, strict=True):
            cell.setText(words)
            cell.setToolTip(about + where)

    def _surface_of(self) -> Callable[[], Swing] | None:
        """How to come by the craft's surface and how it moves."""
        result, engine, mode = self.session.result, self.session.engine, self.mode
        if result is None or not result.modes:
            return None
        return lambda: mode_swing(engine, result, mode)

    def _draw(self, plotter: Any) -> Iterator[None]:
        if self.scene.prepared is None:
            return
        c, swing = theme.current(), self.scene.prepared
        self._actors.begin()
        still = poly(swing.mesh.vertices_mm, swing.mesh.faces)
        self._actors.put(plotter, "still", object(), lambda: still, {"color": c.rule, "opacity": 0.25})
        yield
        self._swing = swing
        self._surface = poly(swing.mesh.vertices_mm.copy(), swing.mesh.faces)
        far = np.linalg.norm(swing.motion_mm, axis=1)
        self._surface.point_data["swing"] = far
        look = {"scalars": "swing", "cmap": blend(c.sunk, c.cover, c.wall), "clim": (0.0, float(far.max()))}
        self._actors.put(plotter, "craft", object(), lambda: self._surface, look)
        yield
        result = self.session.result
        if result is not None and result.whole is not None:  # where it is shaken, and where that is felt
            shake, size = result.whole.shake, MARK * result.project.layout.motor_to_motor_mm
            for k, rotor in enumerate(shake.rotors):
                self._actors.put(plotter, f"rotor {k}", "ball", ball, {"color": c.accent}, standing_at(rotor.hub_mm, size))
                yield
            gyro = standing_at(shake.craft.port_mm(shake.gyro_at), size)
            self._actors.put(plotter, "gyro", "ball", ball, {"color": c.fails}, gyro)
        self._actors.end(plotter)
        self._run(not self.pause.isChecked())

    def _beat(self) -> None:
        if self._surface is None or self._swing is None or not self.isVisible() or self.scene.plotter is None:
            self.timer.stop()
            return
        phase = math.sin(2 * math.pi * 0.8 * time.monotonic())
        self._surface.points = self._swing.mesh.vertices_mm + phase * self._swing.motion_mm
        self.scene.redraw()
        # where a frame takes long to draw there are fewer of them: the window comes first
        self.timer.setInterval(min(max(FRAME_MS, round(FRAME_SHARE * 1e3 * self.scene.frame_s)), SLOWEST_MS))

    def _run(self, on: bool) -> None:
        if on and self.isVisible() and self._surface is not None:
            self.timer.start()
        else:
            self.timer.stop()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._run(not self.pause.isChecked())

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.timer.stop()
        super().hideEvent(event)


def named(result: Evaluation, part_id: str) -> str:
    """A part as the maker calls it."""
    return result.pieces[part_id].part.name
