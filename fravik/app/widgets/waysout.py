"""Ways out: the cheapest levers for what does not hold, each with its price; try, keep, take back."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QScrollArea, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns
from fravik.study.levers import Lever, open_margins
from fravik.study.margins import Margin
from fravik.study.words import money, value_text

from .basics import Card, clear, label, polish
from .glyphs import VerdictMark
from .short import Short

HEAD_PX = 22
MOST_LEVERS = 10
HIGH_PX, LOW_PX = 94, 78  # of the row of levers


def price_text(lever: Lever, currency: str) -> str:
    """Price in grams, minutes and money."""

    def signed(value: float, decimals: int) -> str:
        return f"{round(value, decimals) + 0.0:+.{decimals}f}"

    return f"{signed(lever.grams, 1)} g {signed(lever.minutes, 0)} min {money(lever.cost, currency, signed=True)}"


class LeverSlip(Card):
    """One lever: what it changes, what it costs, what becomes of the margins."""

    def __init__(self, session: Session, lever: Lever) -> None:
        super().__init__(name="slip")
        self.lever = lever
        self.column.setContentsMargins(9, 6, 9, 6)
        self.column.setSpacing(2)
        name = label(lever.title, "bold", wrap=True)
        name.setFixedWidth(theme.sized(222))
        self.column.addWidget(name)
        row = QHBoxLayout()
        row.addWidget(Short(price_text(lever, session.project.brief.currency), "figureMuted"), 1)
        button = QPushButton("Try")
        button.setFixedHeight(theme.sized(22))
        button.setAccessibleName(f"Try: {lever.title}")
        button.clicked.connect(lambda: session.try_lever(lever))
        self.button = button
        row.addWidget(button)
        self.column.addLayout(row)
        wanted = {m.id for m in open_margins(session.result.scores)} if session.result else set()
        shown = [m for m in lever.scores.margins if m.id in wanted or m.id in lever.cures or m.id in lever.harms][:3]
        line = QHBoxLayout()
        line.setSpacing(3)
        for m in shown:
            line.addWidget(VerdictMark(m.verdict, 8))
            text = label(f"{SHORT.get(m.metric, m.name)} {value_text(m).removesuffix(m.unit).strip()}", "small")
            text.setToolTip(f"{m.name} {value_text(m)}: {m.verdict}")
            line.addWidget(text)
        line.addStretch(1)
        self.setToolTip(", ".join(f"{m.name} {value_text(m)}: {m.verdict}" for m in shown))
        self.becomes = QWidget()
        self.becomes.setLayout(line)
        line.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(self.becomes)
        self.setFixedWidth(theme.sized(244))


SHORT = {
    "flying_mass_g": "weight", "tip_sag_mm": "sag", "modes_clear_pct": "clear", "mode_floor_hz": "lowest",
    "least_reserve": "reserve", "flat_drop_m": "drop",
    "arm_strike_m_s": "strike", "print_minutes": "time", "endurance_min": "hover", "thrust_to_weight": "thrust",
    "material_cost": "cost",
}  # fmt: skip


class WaysOut(Card):
    """The panel of levers under a view."""

    def __init__(self, session: Session) -> None:
        super().__init__("Ways out", name="warm")
        self.session = session
        self.column.setContentsMargins(12, 7, 12, 7)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedWidth(110)
        self.stop = QPushButton("Stop")
        self.stop.setObjectName("quiet")
        self.stop.clicked.connect(session.cancel_levers)
        self.head.addWidget(self.bar)
        self.head.addWidget(self.stop)
        self.keep = QPushButton("Keep it")
        self.keep.setObjectName("strong")
        self.keep.clicked.connect(session.take)
        self.back = QPushButton("Take back")
        self.back.clicked.connect(session.take_back)
        self.again = QPushButton("Look again")
        self.again.clicked.connect(lambda: session.ask_levers(session.lever_parts))
        self.note.setMinimumHeight(theme.sized(HEAD_PX))  # buttons come and go; what lies above keeps its size
        self.stop.setFixedHeight(theme.sized(HEAD_PX))
        for button in (self.keep, self.back, self.again):
            button.setFixedHeight(theme.sized(HEAD_PX))
            self.head.addWidget(button)
        self.shelf = QWidget()
        self.row = QHBoxLayout(self.shelf)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(8)
        self.area = QScrollArea()
        self.area.setWidget(self.shelf)
        self.area.setWidgetResizable(True)
        self.area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFixedHeight(theme.sized(HIGH_PX))
        self._low = False
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.column.addWidget(self.area)
        self.slips: list[LeverSlip] = []
        self._turns = Turns(self)
        self._shown: tuple[object, ...] | None = None
        # however much is told of in one turn of the window, it is shown once, in a turn of its own
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.refresh)
        session.levers_changed.connect(self.refresh_soon)
        session.trial_changed.connect(self.refresh_soon)
        self.refresh()

    def set_low(self, low: bool) -> None:
        """In a low window, a lever's name and price alone; what becomes of the margins stands in its tip."""
        if low != self._low:
            self._low = low
            self.area.setFixedHeight(LOW_PX if low else theme.sized(HIGH_PX))
            for slip in self.slips:
                slip.becomes.setVisible(not low)

    def refresh_soon(self) -> None:
        """Show what there is after what the window is at now, if the panel is to be seen."""
        if self.isVisible():
            self._later.start()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._later.start()

    def refresh(self) -> None:
        """Show the levers, the search, or the running trial."""
        s = self.session
        busy = s.levers_busy is not None
        self.bar.setVisible(busy)
        self.stop.setVisible(busy)
        if s.levers_busy is not None:
            self.bar.setRange(0, max(1, s.levers_busy[1]))
            self.bar.setValue(s.levers_busy[0])
        trial = s.trial
        self.keep.setVisible(trial is not None)
        self.back.setVisible(trial is not None)
        asked = s.levers_for is s.project
        elder = bool(s.levers) and s.levers_found_for is not s.project
        self.again.setVisible((elder or not asked) and trial is None and not busy and not s.stale)
        opened = open_margins(s.result.scores) if s.result else []
        if trial is not None:
            self.note.setText(f"trying: {trial.title}")
        elif busy:
            self.note.setText("trying changes in the background…" + (" · these were found for an earlier design" if elder else ""))
        elif not opened:
            self.note.setText("")
        else:
            names = ", ".join(SHORT.get(m.metric, m.name) for m in opened)
            self.note.setText(f"for {names}, best first" + (" · found for an earlier design" if elder else ""))
        self._fill(opened)

    def _fill(self, opened: list[Margin]) -> None:
        s = self.session
        searched = s.levers_for is s.project or bool(s.levers)
        key = (id(s.levers), bool(opened), s.trial is not None, s.levers_busy is not None and not s.levers, searched, s.levers_message,
               s.result is None)  # fmt: skip
        if key == self._shown:
            return
        if s.trial is not None and self.slips and self._shown is not None and self._shown[0] == key[0]:
            return
        self._shown = key
        clear(self.row)
        self.slips = []
        if s.result is None:
            self.row.addWidget(label("Put right what is marked first: this design cannot be evaluated.", "muted"))
        elif not opened and s.trial is None:
            known = all(m.value is not None for m in s.result.margins)
            self.row.addWidget(QLabel("Every target holds. Nothing needs a way out." if known else
                                      "No target fails that is known. What is not known yet says why in its tile."))  # fmt: skip
        elif s.levers_message:
            self.row.addWidget(label(s.levers_message, "problem", wrap=True))
        elif not s.levers:
            text = "Trying…" if s.levers_busy is not None else "No single change helps; try two, or ease a target in the brief."
            if s.levers_for is None or (s.levers_for is not s.project and s.levers_busy is None):
                text = "Press Look again to try changes to this design."
            self.row.addWidget(label(text, "muted"))
        self.row.addStretch(1)
        some = s.levers[:MOST_LEVERS] if opened or s.trial is not None else []
        self._turns.begin([partial(self._slip, lever) for lever in some], now=True)

    def _slip(self, lever: Lever) -> None:
        """One more, beside the others."""
        slip = LeverSlip(self.session, lever)
        slip.becomes.setVisible(not self._low)
        self.row.insertWidget(self.row.count() - 1, slip)  # before what is left of the room
        self.slips.append(slip)
        polish(slip)
