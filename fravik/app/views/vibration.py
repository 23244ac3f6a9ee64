"""Vibration: where the arms ring against what shakes them."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QGraphicsRectItem, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import Card, label
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.scene import Actors, Scene, blend, poly
from fravik.engine.results import MemberResult
from fravik.kinds import kind_of
from fravik.shape.build import Mesh
from fravik.structure.excitation import orders
from fravik.structure.motion import mode_motion

FRAME_MS, SLOWEST_MS, FRAME_SHARE = 50, 500, 4.0
MODES = 4
ROWS = 8


class VibrationView(QWidget):
    """Campbell diagram at the left, the mode in 3D and the crossings at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.mode = 0
        self._base: np.ndarray | None = None
        self._surface: Any = None
        self._motion: np.ndarray | None = None
        self._actors = Actors()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(self._campbell(), 6)
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(self._mode_card(), 5)
        right.addWidget(self._crossing_card(), 4)
        row.addLayout(right, 5)
        self.timer = QTimer(self)
        self.timer.setInterval(FRAME_MS)
        self.timer.timeout.connect(self._swing)
        # the diagram is drawn after the figures, in a turn of its own
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._plot)
        theme.on_change(self.restyle)

    def _campbell(self) -> Card:
        card = Card("Frequencies over speed")
        card.note.setText("bands: filament low to high")
        self.pad = pg.GraphicsLayoutWidget()
        self.plot = self.pad.addPlot()
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        self.plot.setMouseEnabled(False, False)
        self.plot.setLabel("bottom", "Motor speed, 1000 rpm")
        self.plot.setLabel("left", "Frequency, Hz")
        self.plot.showGrid(x=True, y=True, alpha=0.1)
        card.column.addWidget(self.pad, 1)
        self.legend = label("", "small", wrap=True)
        card.column.addWidget(self.legend)
        return card

    def _mode_card(self) -> Card:
        card = Card("Mode shape")
        self.mode_card = card
        self.mode_row = QHBoxLayout()
        self.mode_row.setSpacing(4)
        card.column.addLayout(self.mode_row)
        self.mode_buttons = [self._mode_button(k) for k in range(MODES)]
        self.mode_row.addStretch(1)
        self.scene = Scene(self._draw, "The arm swinging in the chosen mode")
        self.scene.view_from = (-0.7, -1.7, 0.9)
        self.scene.prepare_by(self.session.aside, self._surface_of)
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
        self.crossings.setColumnStretch(5, 1)
        self.heads = [label(text, "small") for text in ("", "Part and mode", "Hz", "Shaken by", "Clear by", "Met at")]
        for col, head in enumerate(self.heads):
            self.crossings.addWidget(head, 0, col)
        self.lines: list[tuple[VerdictMark, list[QLabel]]] = []
        self.unknown = label("", "muted", wrap=True)
        card.column.addWidget(self.unknown)
        card.column.addLayout(self.crossings)
        card.column.addStretch(1)
        card.column.addWidget(label("Each part by itself, held at its root; arms with motor and propeller. Plates' own modes, damping and "
                                    "the size of the shake are not in this picture.", "small", wrap=True))  # fmt: skip
        return card

    def member(self) -> MemberResult | None:
        """The arm whose modes are shown."""
        result = self.session.result
        if result is None:
            return None
        return next((m for m in result.members.values() if kind_of(m.member.shape).carries_rotor), None)

    def restyle(self) -> None:
        """Take the palette in force."""
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the current project."""
        self._modes()
        self._crossings()
        self._later.start()
        self.scene.invalidate()

    def _plot(self) -> None:
        result, member, c = self.session.result, self.member(), theme.current()
        self.pad.setBackground(c.card)
        for side in ("left", "bottom"):
            axis = self.plot.getAxis(side)
            axis.setPen(c.rule)
            axis.setTextPen(c.muted)
            axis.setTickFont(theme.mono(7.5))
            axis.label.setFont(theme.sans(8))
        self.plot.clear()
        if result is None or member is None:
            self.legend.setText("Not known yet: no arm is judged.")
            return
        power = result.power
        full, idle = power.full_rpm / 1e3, power.idle_rpm / 1e3
        blades = result.project.components.propeller.blades
        top_line = power.full_rpm / 60
        shown = [m for m in member.mode_table() if m[1] < 2.2 * top_line] or member.mode_table()[:1]
        ceiling = min(max(max(m[3] for m in shown) * 1.12, top_line * 1.05), 2.3 * top_line)
        lo, hi = (60 * f / 1e3 for f in result.working_hz)
        self._band(lo, 0.0, hi, ceiling, c.tight + "24")
        self._text(f"working speeds {lo:.1f}–{hi:.1f}", (lo + hi) / 2, ceiling, c.tight, (0.5, 0))
        colours = {"1/rev": c.fails, "blade pass": c.accent}
        for order in orders(blades):
            slope = order.per_rev * 1e3 / 60
            end = min(full, ceiling / slope)
            self.plot.plot([idle, end], [idle * slope, end * slope], pen=pg.mkPen(colours[order.name], width=2))
            self._text(order.name, end * 0.86, end * slope * 0.86, colours[order.name], (0, 0))
        hover = power.hover_rpm / 1e3
        self.plot.addItem(pg.InfiniteLine(hover, angle=90, pen=pg.mkPen(c.muted, width=1, style=Qt.PenStyle.DashLine)))
        self._text(f"hover {power.hover_rpm:.0f} rpm", hover, 0, c.muted, (0, 1))
        for i, (name, freq, low, high) in enumerate(member.mode_table()):
            if low > ceiling:
                continue
            chosen = i == self.mode
            self._band(0.0, low, 1.02 * full, high, c.skin + ("70" if chosen else "38"))
            self.plot.plot([0, full * 1.02], [freq, freq], pen=pg.mkPen(c.wall, width=2.4 if chosen else 1.2))
            self._text(f"{name} {freq:.0f} Hz", 0.02 * full, freq, c.ink, (0, 1))
        for x in result.meetings:
            if x.mode.part_id != member.part_id or not x.reached:
                continue
            inside = x.where == "working"
            marks = pg.ScatterPlotItem([x.rpm / 1e3], [x.mode.freq_hz], size=12, symbol="x" if inside else "o",
                                       pen=pg.mkPen(c.fails if inside else c.muted, width=2),
                                       brush=pg.mkBrush(c.fails if inside else c.card))  # fmt: skip
            self.plot.addItem(marks)
        self.plot.setXRange(0, full * 1.02, padding=0)
        self.plot.setYRange(0, ceiling, padding=0)
        self.legend.setText("Cross: a mode is shaken at speeds the craft flies at for long. Ring: below them it is met on the way up, "
                            "above them in climbs and punches.")  # fmt: skip

    def _band(self, left: float, low: float, right: float, high: float, colour: str) -> None:
        item = QGraphicsRectItem(left, low, right - left, high - low)
        item.setBrush(pg.mkBrush(colour))
        item.setPen(pg.mkPen(None))
        self.plot.addItem(item, ignoreBounds=True)

    def _text(self, text: str, x: float, y: float, colour: str, anchor: tuple[float, float]) -> None:
        item = pg.TextItem(text, color=colour, anchor=anchor)
        item.setFont(theme.sans(8))
        item.setPos(x, y)
        self.plot.addItem(item)

    def _mode_button(self, k: int) -> QPushButton:
        button = QPushButton()
        button.setCheckable(True)
        button.setFixedHeight(24)
        button.clicked.connect(lambda: self.pick_mode(k))
        self.mode_row.addWidget(button)
        return button

    def _modes(self) -> None:
        member = self.member()
        table = member.mode_table() if member is not None else ()
        self.mode = max(min(self.mode, len(table) - 1), 0)
        for i, button in enumerate(self.mode_buttons):
            button.setVisible(i < len(table))
            if i < len(table):
                name, freq, low, high = table[i]
                button.setText(f"{name.replace(' bending', '').capitalize()} {freq:.0f}")
                button.setChecked(i == self.mode)
                button.setToolTip(f"{name}: {freq:.0f} Hz, from {low:.0f} to {high:.0f}")
        if not table:
            self.mode_card.note.setText("")
            return
        name, freq, low, high = table[self.mode]
        self.mode_card.note.setText(f"{name}, {freq:.0f} Hz ({low:.0f}–{high:.0f})")

    def pick_mode(self, index: int) -> None:
        """Animate another mode."""
        self.mode = index
        self.refresh()

    def _line(self, r: int) -> tuple[VerdictMark, list[QLabel]]:
        """The widgets of a row, made on first need."""
        while r >= len(self.lines):
            mark, cells = VerdictMark("holds", 9), [label("", "figure" if col in (2, 4) else "") for col in range(1, len(self.heads))]
            for col, cell in enumerate((mark, *cells)):
                self.crossings.addWidget(cell, len(self.lines) + 1, col)
            self.lines.append((mark, cells))
        return self.lines[r]

    def _crossings(self) -> None:
        result = self.session.result
        shown = result.meetings[:ROWS] if result is not None else ()
        reason = result.scope.structure if result is not None else "The design contradicts itself: no figure is known."
        self.unknown.setText("" if shown else reason or "No part bends.")
        self.unknown.setVisible(not shown)
        for head in self.heads:
            head.setVisible(bool(shown))
        # the least clear first; what is met outside the working speeds says where
        for r, x in enumerate(shown):
            assert result is not None
            part = result.parts[x.mode.part_id].part.name
            met = {"working": "working speeds", "below": "below them", "above": "above them"}[x.where]
            met = f"{x.rpm:.0f} rpm, {met}" if x.reached else "never: beyond full speed" if x.where == "above" else "never: below idle"
            mark, cells = self._line(r)
            mark.set_verdict(result.verdict_of(x))
            texts = (f"{part}: {x.mode.name}", f"{x.mode.freq_hz:.0f}", x.order.name, f"{x.clear_pct:+.0f} %", met)
            about = f"{x.mode.low_hz:.0f} to {x.mode.high_hz:.0f} Hz; clear by {x.clear_low_pct:+.0f} to {x.clear_high_pct:+.0f} %"
            for cell, text in zip(cells, texts, strict=True):
                cell.setText(text)
                cell.setToolTip(about)
        for r, (mark, cells) in enumerate(self.lines):
            for widget in (mark, *cells):
                widget.setVisible(r < len(shown))
        every = result.meetings if result is not None else ()
        inside = sum(x.where == "working" for x in every)
        self.crossing_card.note.setText(f"{inside} of {len(every)} within the working speeds" if every else "")

    def _surface_of(self) -> Callable[[], tuple[Mesh, np.ndarray]] | None:
        """How to come by the arm's surface and how it moves."""
        member, result, engine = self.member(), self.session.result, self.session.engine
        if member is None or result is None:
            return None
        given, mode = result.parts[member.part_id].given, self.mode

        def work() -> tuple[Mesh, np.ndarray]:
            mesh = engine.fine_mesh(given)
            return mesh, mode_motion(member.member, member.answers["typical"], mode, mesh.vertices_mm)

        return work

    def _draw(self, plotter: Any) -> None:
        member, result = self.member(), self.session.result
        if member is None or result is None or self.scene.prepared is None:
            return
        c = theme.current()
        mesh, self._motion = self.scene.prepared
        self._base = mesh.vertices_mm
        given = result.parts[member.part_id].given
        self._actors.begin()
        self._actors.put(plotter, "still", given, lambda: poly(mesh.vertices_mm, mesh.faces), {"color": c.rule, "opacity": 0.25})
        self._surface = poly(mesh.vertices_mm.copy(), mesh.faces)
        swing = np.linalg.norm(self._motion, axis=1)
        self._surface.point_data["swing"] = swing
        look = {"scalars": "swing", "cmap": blend(c.sunk, c.skin, c.wall), "clim": (0.0, float(swing.max()))}
        self._actors.put(plotter, "part", object(), lambda: self._surface, look)
        self._actors.end(plotter)
        self._run(not self.pause.isChecked())

    def _swing(self) -> None:
        if self._surface is None or self._base is None or self._motion is None or not self.isVisible() or self.scene.plotter is None:
            self.timer.stop()
            return
        phase = math.sin(2 * math.pi * 0.8 * time.monotonic())
        self._surface.points = self._base + phase * self._motion
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
