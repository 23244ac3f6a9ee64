"""Vibration: where the arms ring against what shakes them."""

from __future__ import annotations

import math
import time
from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import Card, clear, label
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.scene import Scene, blend, poly
from fravik.engine.results import MemberResult
from fravik.model.shapes import ArmShape
from fravik.structure.excitation import orders
from fravik.structure.motion import mode_motion

FRAME_MS = 50
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
        self.mode_group = QButtonGroup(self)
        self.scene = Scene(self._draw, "The arm swinging in the chosen mode")
        self.scene.view_from = (-0.7, -1.7, 0.9)
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
        return next((m for m in result.members.values() if isinstance(m.member.shape, ArmShape)), None)

    def restyle(self) -> None:
        """Take the palette in force."""
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the current project."""
        self._plot()
        self._modes()
        self._crossings()
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
        band = pg.LinearRegionItem((lo, hi), movable=False, brush=pg.mkBrush(c.tight + "24"), pen=pg.mkPen(None))
        self.plot.addItem(band)
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
            self.plot.addItem(pg.LinearRegionItem((low, high), orientation="horizontal", movable=False,
                                                  brush=pg.mkBrush(c.skin + ("70" if chosen else "38")), pen=pg.mkPen(None)))  # fmt: skip
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

    def _text(self, text: str, x: float, y: float, colour: str, anchor: tuple[float, float]) -> None:
        item = pg.TextItem(text, color=colour, anchor=anchor)
        item.setFont(theme.sans(8))
        item.setPos(x, y)
        self.plot.addItem(item)

    def _modes(self) -> None:
        clear(self.mode_row)
        member = self.member()
        if member is None:
            self.mode_card.note.setText("")
            return
        self.mode = min(self.mode, len(member.mode_table()) - 1)
        for i, (name, freq, low, high) in enumerate(member.mode_table()[:4]):
            button = QPushButton(f"{name.replace(' bending', '').capitalize()} {freq:.0f}")
            button.setCheckable(True)
            button.setChecked(i == self.mode)
            button.setFixedHeight(24)
            button.setToolTip(f"{name}: {freq:.0f} Hz, from {low:.0f} to {high:.0f}")
            button.clicked.connect(lambda _=False, k=i: self.pick_mode(k))
            self.mode_row.addWidget(button)
        self.mode_row.addStretch(1)
        name, freq, low, high = member.mode_table()[self.mode]
        self.mode_card.note.setText(f"{name}, {freq:.0f} Hz ({low:.0f}–{high:.0f})")

    def pick_mode(self, index: int) -> None:
        """Animate another mode."""
        self.mode = index
        self.refresh()

    def _crossings(self) -> None:
        clear(self.crossings)
        result = self.session.result
        if result is None or not result.meetings:
            reason = result.scope.structure if result is not None else "The design contradicts itself: no figure is known."
            self.crossings.addWidget(label(reason or "No part bends.", "muted", wrap=True), 0, 0)
            self.crossing_card.note.setText("")
            return
        for col, text in enumerate(("", "Part and mode", "Hz", "Shaken by", "Clear by", "Met at")):
            self.crossings.addWidget(label(text, "small"), 0, col)
        # the least clear first; what is met outside the working speeds says where
        for r, x in enumerate(result.meetings[:ROWS], start=1):
            part = result.parts[x.mode.part_id].part.name
            met = {"working": "working speeds", "below": "below them", "above": "above them"}[x.where]
            met = f"{x.rpm:.0f} rpm, {met}" if x.reached else "never: beyond full speed" if x.where == "above" else "never: below idle"
            self.crossings.addWidget(VerdictMark(result.verdict_of(x), 9), r, 0)
            texts = (f"{part}: {x.mode.name}", f"{x.mode.freq_hz:.0f}", x.order.name, f"{x.clear_pct:+.0f} %", met)
            for col, text in enumerate(texts, start=1):
                cell = label(text, "figure" if col in (2, 4) else "")
                cell.setToolTip(
                    f"{x.mode.low_hz:.0f} to {x.mode.high_hz:.0f} Hz; clear by {x.clear_low_pct:+.0f} to {x.clear_high_pct:+.0f} %"
                )
                self.crossings.addWidget(cell, r, col)
        self.crossings.setColumnStretch(5, 1)
        inside = sum(x.where == "working" for x in result.meetings)
        self.crossing_card.note.setText(f"{inside} of {len(result.meetings)} within the working speeds")

    def _draw(self, plotter: Any) -> None:
        member, result = self.member(), self.session.result
        if member is None or result is None:
            return
        c = theme.current()
        mesh = self.session.engine.fine_mesh(result.parts[member.part_id].given)
        self._base = mesh.vertices_mm
        self._motion = mode_motion(member.member, member.answers["typical"], self.mode, mesh.vertices_mm)
        still = poly(mesh.vertices_mm, mesh.faces)
        plotter.add_mesh(still, name="still", color=c.rule, opacity=0.25, render=False, reset_camera=False)
        self._surface = poly(mesh.vertices_mm.copy(), mesh.faces)
        self._surface.point_data["swing"] = np.linalg.norm(self._motion, axis=1)
        plotter.add_mesh(self._surface, name="part", scalars="swing", cmap=blend(c.sunk, c.skin, c.wall), show_scalar_bar=False,
                         ambient=0.35, diffuse=0.7, specular=0.0, render=False, reset_camera=False)  # fmt: skip
        self._run(not self.pause.isChecked())

    def _swing(self) -> None:
        if self._surface is None or self._base is None or self._motion is None or not self.isVisible() or self.scene.plotter is None:
            self.timer.stop()
            return
        phase = math.sin(2 * math.pi * 0.8 * time.monotonic())
        self._surface.points = self._base + phase * self._motion
        self.scene.plotter.render()

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
