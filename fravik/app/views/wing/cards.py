"""Spar ruler, stability, and what folds and turns."""

from __future__ import annotations

import math

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QPushButton, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import Card, clear, label
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.plots import dress_axes, name_axis, plain_plot
from fravik.app.widgets.short import Short
from fravik.engine.wing import WingSight
from fravik.engine.wingpicture import stability_words

KINDS = ("Reserve", "Bending", "Deflection", "Twist")
STEADY = {"fails": "Its nose runs away.", "tight": "Its nose hardly comes back by itself.", "holds": "Its nose comes back by itself."}
TALL = 6.0  # the reserve's axis ends here


class SparCard(Card):
    """Along the half span: reserve with its spread, bending moment, deflection or twist under the hardest load."""

    def __init__(self) -> None:
        super().__init__("Spar")
        self.sight: WingSight | None = None
        self.kind = KINDS[0]
        self.group = QButtonGroup(self)
        row = QHBoxLayout()
        row.setSpacing(4)
        for name in KINDS:
            b = QPushButton(name)
            b.setCheckable(True)
            b.setChecked(name == self.kind)
            b.setFixedHeight(theme.sized(22))
            b.clicked.connect(lambda _, n=name: self.show_kind(n))
            self.group.addButton(b)
            row.addWidget(b)
        row.addStretch(1)
        self.column.addLayout(row)
        self.plot = plain_plot("mm from the middle", "")
        self.plot.setAccessibleName("Along the spar")
        self.low, self.high, self.curve = pg.PlotCurveItem(), pg.PlotCurveItem(), pg.PlotCurveItem()
        self.band = pg.FillBetweenItem(self.low, self.high)
        self.limit = pg.InfiniteLine(angle=0, movable=False)
        self.mark = pg.InfiniteLine(angle=90, movable=False)
        for item in (self.band, self.low, self.high, self.curve, self.limit, self.mark):
            self.plot.addItem(item)
        self.column.addWidget(self.plot, 1)
        self.words = label("", "small", wrap=True)
        self.column.addWidget(self.words)

    def show_kind(self, name: str) -> None:
        """What is drawn along the span."""
        self.kind = name
        self.show_sight(self.sight)

    def show_sight(self, s: WingSight | None) -> None:
        """Another wing, or none."""
        self.sight = s
        self.plot.setVisible(s is not None)
        if s is None:
            return
        c, spar = theme.current(), s.spar
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7.5)
        y = spar.half.y_mm
        middle = (y[1:] + y[:-1]) / 2
        reserve = self.kind == "Reserve"
        for item in (self.band, self.low, self.high, self.limit):
            item.setVisible(reserve)
        if reserve:
            low, usual, high = (np.minimum(r, TALL) for r in spar.reserve)
            for item, v in ((self.low, low), (self.high, high)):
                item.setData(middle, v, pen=pg.mkPen(None))
            colour = QColor(c.wall)
            colour.setAlpha(45)
            self.band.setBrush(pg.mkBrush(colour))
            self.curve.setData(middle, usual, pen=pg.mkPen(c.wall, width=2))
            self.limit.setPos(1.0)
            self.limit.setPen(pg.mkPen(c.fails, width=1.5))
            self.plot.setYRange(0.0, TALL, padding=0.02)
            name_axis(self.plot, "left", "strength over stress")
        else:
            v, name = {"Bending": (spar.answer.moment_nmm * 1e-3, "N m"), "Deflection": (spar.answer.down_mm, "mm up"),
                       "Twist": (np.degrees(spar.answer.twist_rad), "° nose up")}[self.kind]  # fmt: skip
            self.curve.setData(y, v, pen=pg.mkPen(c.wall, width=2))
            self.plot.setYRange(min(float(v.min()), 0.0), max(float(v.max()), 1e-3), padding=0.06)
            name_axis(self.plot, "left", name)
        self.plot.setXRange(0.0, float(y[-1]), padding=0.01)
        self.mark.setPen(pg.mkPen(c.ink, width=1, style=Qt.PenStyle.DashLine))
        self.note.setText(
            f"{spar.load_g:.1f} g, {'gust' if spar.from_gust else 'pull-up'} · tip {spar.tip_mm:.0f} mm up, {spar.twist_deg:+.1f}°"
        )
        self.words.setText(_beaten(s))

    def move_to(self, y_mm: float) -> None:
        """The cursor goes along."""
        self.mark.setPos(y_mm)


def _beaten(s: WingSight) -> str:
    spar = s.spar

    def told(speed: float) -> str:
        return f"{speed:.0f} m/s" if math.isfinite(speed) and speed < 400 else "out of reach"

    rings = f"swings at {spar.swings_hz[0][0]:.0f} Hz, twists at {spar.swings_hz[1][0]:.0f} Hz"
    beaten = f"Diverges: {told(spar.divergence_m_s)}. Ailerons turn round: {told(spar.reversal_m_s)}. "
    flutters = f"Flutter, an index to be careful by: {told(spar.flutter_m_s)}. "
    return f"{beaten}{flutters}All are wanted over {s.fastest_m_s:.0f} m/s. Held in the middle it {rings}."


class _Balance(QWidget):
    """The mean chord from the side: centre of mass before the neutral point, or behind it."""

    def __init__(self) -> None:
        super().__init__()
        self.sight: WingSight | None = None
        self.setFixedHeight(theme.sized(64))
        self.setAccessibleName("Centre of mass and neutral point on the mean chord")

    def paintEvent(self, event: object) -> None:
        s = self.sight
        if s is None:
            return
        p, c = QPainter(self), theme.current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        com, neutral = s.flyer.com_at(1.0)[0], s.alone.neutral_m
        wing = s.flyer.strips
        mine = wing.surface < s.flyer.wings
        area = wing.area_m2[mine]
        quarter = float((wing.quarter_m[mine, 0] * area).sum() / area.sum())
        chord = s.alone.chord_m
        lead, trail = quarter + chord / 4, quarter - 3 * chord / 4
        left, right = max(lead, com, neutral) + 0.1 * chord, min(trail, com, neutral) - 0.1 * chord
        room = self.width() - 24

        def x(v: float) -> float:
            return 12 + room * (left - v) / (left - right)

        y = self.height() * 0.46
        p.setPen(QPen(QColor(c.cover), 7, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        p.drawLine(QPointF(x(lead), y), QPointF(x(trail), y))
        good = com > neutral
        p.setPen(QPen(QColor(c.holds if good else c.fails), 3))
        p.drawLine(QPointF(x(com), y), QPointF(x(neutral), y))
        p.setFont(theme.sans(8))
        for v, text, up, colour in ((com, "centre of mass", True, c.ink), (neutral, "neutral point", False, c.accent)):
            p.setPen(QPen(QColor(colour), 1.4))
            p.setBrush(QColor(c.card))
            p.drawEllipse(QPointF(x(v), y), 5, 5)
            wide = 110.0
            at = min(max(x(v) - wide / 2, 0.0), self.width() - wide)
            p.drawText(QRectF(at, y - 24 if up else y + 9, wide, 15), Qt.AlignmentFlag.AlignHCenter, text)


class SteadyCard(Card):
    """Does its nose come back, how slow, how far."""

    def __init__(self) -> None:
        super().__init__("Steady and slow")
        row = QHBoxLayout()
        self.mark, self.words = VerdictMark("holds", 12), label("", "bold", wrap=True)
        row.addWidget(self.mark)
        row.addWidget(self.words, 1)
        self.column.addLayout(row)
        self.balance = _Balance()
        self.column.addWidget(self.balance)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(10)
        self.grid.setVerticalSpacing(2)
        self.grid.setColumnStretch(1, 1)
        self.column.addLayout(self.grid)

    def show_sight(self, s: WingSight | None) -> None:
        """Another wing, or none."""
        self.balance.sight = s
        self.balance.update()
        clear(self.grid)
        self.mark.setVisible(s is not None)
        if s is None:
            self.words.setText("")
            return
        self.mark.set_verdict(s.steady)
        self.words.setText(f"{STEADY[s.steady]} Static margin {s.static_margin_pct:.0f} % of the mean chord.")
        for k, (name, text) in enumerate(stability_words(s)):
            self.grid.addWidget(label(name, "muted"), k, 0)
            self.grid.addWidget(Short(text, "figure"), k, 1)
        self.grid.setVerticalSpacing(theme.sized(1))


WORST_FIRST = ("fails", "tight", "holds")


class JointsPage(QWidget):
    """Folds, joints, surfaces and tubes, one a row with its share; what fails stands first."""

    def __init__(self) -> None:
        super().__init__()
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 4, 4, 0)
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(4)
        self.grid.setColumnStretch(1, 1)

    def show_sight(self, s: WingSight, tips: str = "") -> None:
        """Those of a wing, and what is told of rotors at its tips."""
        clear(self.grid)
        rows: list[tuple[str, str, str]] = []
        for f in s.folds:
            held = "lift closes it" if f.share == 0 else f"{f.force_n:.0f} of {f.holds_n:.0f} N at its lever"
            rows.append(
                (f.verdict, f"{f.part.name}: fold", f"{held}; tip plays {f.play_mm:.0f} mm; lugs {f.lug_mpa:.1f} of {f.stands_mpa:.1f} MPa")
            )
        for joint in s.joints:
            where = joint.on.name.lower() if joint.on is not None else "the body"
            first = joint.worst
            told = first.way if first.use > 1 else f"{100 * first.use:.0f} % asked"
            rows.append((joint.verdict, f"{joint.part.name} on {where}", f"{told}: {first.words}"))
        for h in s.hinges:
            rows.append((h.verdict, f"{h.part.name}: surface", f"{h.torque_nmm:.0f} of {h.servo_nmm:.0f} N mm at the fastest; "
                         f"{h.words}; {h.play_deg:g}° of play"))  # fmt: skip
        for inner, outer, gap in s.loose:
            rows.append(("tight", f"{inner.name} to {outer.name}", f"tubes differ by {gap:+.1f} mm: a joiner is needed"))
        if tips:
            rows.append(("holds", "Rotors at the tips turn", tips))
        if not rows:
            rows.append(("holds", "Nothing folds or turns", ""))
        rows.sort(key=lambda row: WORST_FIRST.index(row[0]))
        top = Qt.AlignmentFlag.AlignTop
        for k, (verdict, name, text) in enumerate(rows):
            self.grid.addWidget(VerdictMark(verdict, 9), k, 0, top)
            self.grid.addWidget(label(name, "bold", wrap=True), k, 1, top)
            self.grid.addWidget(label(text, "small", wrap=True), k, 2, top)
        self.grid.setColumnStretch(2, 2)
        self.grid.setRowStretch(len(rows), 1)
