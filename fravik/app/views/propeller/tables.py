"""Ways for a propeller to lie and ways out, and the craft with it beside the bought one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import Card, clear, label, scrolled
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.short import Short
from fravik.engine.betterblade import Better
from fravik.engine.compare import Edits
from fravik.engine.propeller import PropellerSight
from fravik.engine.propellerways import SpunWay
from fravik.kinds.printedblades import drawn
from fravik.study.words import clock

Take = Callable[[str, Edits], None]
TRYING = "being tried…"


def thousand(rpm: float) -> str:
    """A speed as it is told."""
    return f"{round(rpm, -2):,.0f}".replace(",", "\u00a0")


class LiesCard(Card):
    """Every way to lie, spun."""

    def __init__(self, take: Take) -> None:
        super().__init__("How it lies")
        self.take = take
        self.note.setText("safe to, support in cm³, drag, time")
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(3)
        self.grid.setColumnStretch(1, 1)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.addLayout(self.grid)
        column.addStretch(1)
        self.column.addWidget(scrolled(page), 1)

    def show_ways(self, ways: Sequence[SpunWay], lies: str) -> None:
        """Those that were spun; the present one is bold."""
        clear(self.grid)
        if not ways:
            self.grid.addWidget(label("being spun…", "small"), 0, 0, 1, 6)
        for row, w in enumerate(ways):
            now = bool(w.edits) and w.edits[0][1] == lies
            name = Short(w.title, "bold" if now else "")
            if w.refused:
                self.grid.addWidget(name, row, 1)
                self.grid.addWidget(Short(w.refused, "small"), row, 2, 1, 4)
                continue
            self.grid.addWidget(VerdictMark(w.verdict, 8), row, 0)
            muted = f"{w.support_cm3:.0f}", f"+{w.drag - 1:.0%}", clock(w.minutes)
            figures = label(thousand(w.allowed_rpm), "figure"), *(label(t, "muted") for t in muted)
            for col, widget in enumerate((name, *figures), start=1):
                self.grid.addWidget(widget, row, col)
            if not now:
                use = QPushButton("Use")
                use.setFixedHeight(theme.sized(20))
                use.setAccessibleName(f"Use: {w.title}")
                use.clicked.connect(partial(self.take, w.title, w.edits))
                self.grid.addWidget(use, row, 6)


class WaysPage(QWidget):
    """What would let it turn faster, and what would hover longer, each tried."""

    def __init__(self, take: Take) -> None:
        super().__init__()
        self.take = take
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 4, 0)
        column.addWidget(label("To spin faster", "heading"))
        self.faster, self.longer = QGridLayout(), QGridLayout()
        self.none, self.best = label("", "small", wrap=True), label("", "small", wrap=True)
        for grid, words in ((self.faster, self.none), (self.longer, self.best)):
            grid.setHorizontalSpacing(10)
            grid.setVerticalSpacing(4)
            grid.setColumnStretch(0, 1)
            column.addLayout(grid)
            column.addWidget(words)
            if grid is self.faster:
                self.aim = label("To hover longer", "heading")
                column.addWidget(self.aim)
        column.addStretch(1)

    def show_ways(self, ways: Sequence[SpunWay] | None, better: Sequence[Better] | None, sight: PropellerSight) -> None:
        """None: being tried still."""
        clear(self.faster)
        clear(self.longer)
        self.none.setText(TRYING if ways is None else "" if ways else "Nothing that was tried lets it turn faster.")
        self.best.setText(TRYING if better is None else "" if better else "No other pitch or chord that was tried is better.")
        for row, w in enumerate(ways or ()):
            price = f"{round(w.grams - sight.grams, 1) + 0.0:+.1f} g  {w.minutes - sight.minutes:+.0f} min"
            self._row(self.faster, row, w.title, f"safe to {thousand(w.allowed_rpm)}", price, w.edits)
        cruise = drawn(sight.part).cruise_m_s
        self.aim.setText(f"To cruise at {cruise:g} m/s on less power" if cruise > 0 else "To hover longer")
        for row, b in enumerate(better or ()):
            gain = f"{b.power_w:.0f} W" if cruise > 0 else f"{b.endurance_min:.1f} min"
            price = f"{b.grams - sight.grams:+.1f} g  hovers at {thousand(b.hover_rpm)}"
            self._row(self.longer, row, b.title, gain, price, b.edits)

    def _row(self, grid: QGridLayout, row: int, title: str, gain: str, price: str, edits: Edits) -> None:
        use = QPushButton("Use")
        use.setFixedHeight(theme.sized(22))
        use.setAccessibleName(f"Use: {title}")
        use.clicked.connect(lambda: self.take(title, edits))
        for col, widget in enumerate((Short(title, "bold"), label(gain, "figure"), label(price, "muted"), use)):
            grid.addWidget(widget, row, col)


class BesidePage(QWidget):
    """The craft with it on every rotor, and with the bought one; its hub and its balance."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 4, 0)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(28)
        self.grid.setVerticalSpacing(2)
        self.grid.setColumnStretch(3, 1)
        column.addLayout(self.grid)
        self.hub = label("", "small", wrap=True)
        column.addWidget(self.hub)
        column.addStretch(1)

    def show_sight(self, s: PropellerSight) -> None:
        """Figures of both."""
        clear(self.grid)
        p, b = s.printed, s.bought
        rows = (
            ("All rotors with", "this one", "bought"),
            ("Hover", f"{thousand(p.hover_rpm)} rpm", f"{thousand(b.hover_rpm)} rpm"),
            ("Throttle in hover", f"{p.hover_throttle:.0%}", f"{b.hover_throttle:.0%}"),
            ("Endurance", f"{p.endurance_min:.1f} min", f"{b.endurance_min:.1f} min"),
            ("Thrust to weight", f"{p.thrust_to_weight:.1f}", f"{b.thrust_to_weight:.1f}"),
            ("Current in hover", f"{p.hover_a:.1f} A", f"{b.hover_a:.1f} A"),
            ("Winding in hover", f"{p.winding_c:.0f} °C", f"{b.winding_c:.0f} °C"),
            ("Tips in hover", f"{s.tip_m_s:.0f} m/s", f"{s.bought_tip_m_s:.0f} m/s"),
            ("Blade pass in hover", f"{s.pass_hz:.0f} Hz", f"{s.bought_pass_hz:.0f} Hz"),
        )
        for row, texts in enumerate(rows):
            for col, text in enumerate(texts):
                widget = label(text, "muted" if row == 0 or col == 0 else "figure")
                self.grid.addWidget(widget, row, col)
        g, bal, holds = s.grip, s.balance, s.grip.unknown
        if g.warm_nmm is not None:
            band = f"{g.warm_nmm.low:.0f}–{g.warm_nmm.high:.0f} N mm"
            holds = f"{g.by.capitalize()} holds {band} after a month in service; the motor jerks with {s.wanted_nmm:.0f}."
        trails = f" They trail {s.lag_deg:.0f}° behind their pins in hover." if s.lag_deg else ""
        grass = "It comes through grass" if s.struck.grass else "Grass may break it"
        meets = f"{grass}; a stick does from {thousand(s.struck.stick_rpm.typical)} rpm."
        comes = "Measured" if bal.measured else "As printed about"
        self.hub.setText(
            f"{holds} {comes} {bal.gmm:.1f} g mm out of balance (bought {bal.bought_gmm:.1f}): sand off {bal.sand_g:.2f} g at "
            f"{bal.sand_at_mm:.0f} mm. Blades ring at {s.hz[0]:.0f} Hz in hover, which turns {s.rev_hz:.0f} times a second; "
            f"{s.stalled:.0%} of them stalled.{trails} {meets}"
        )
