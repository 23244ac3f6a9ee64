"""Before it flies: everything foreseen, by weight, over any view; each opens its place, its cures are tried, or it is set aside."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.foresight import Foresight
from fravik.app.turns import Turns
from fravik.study.findings import STAGES, Finding, TriedCure, Weight
from fravik.study.words import money

from .basics import Card, Leaf, clear, label, polish, scrolled, set_role
from .glyphs import WeightMark

WIDTH_PX = 452
EVERYWHERE = "All stages"
NOTHING = "Nothing that this design shows. What no model sees: a loose screw, a worn blade, a tired pack, wind, people below."


def told(counted: Mapping[Weight, int]) -> str:
    """How much there is, in few words."""
    heavy = [f"{n} {w}" for w, n in counted.items() if n and w != "worth knowing"]
    light = counted.get("worth knowing", 0)
    return ", ".join(heavy) or (f"{light} to know" if light else "nothing found")


def price(tried: TriedCure, currency: str) -> str:
    """Grams, minutes and money, those that change."""
    parts = [f"{v:+.{d}f} {u}" for v, u, d in ((tried.grams, "g", 1), (tried.minutes, "min", 0)) if round(v, d)]
    parts += [money(tried.cost, currency, signed=True)] if round(tried.cost, 2) else []
    return "  ".join(parts) or "costs nothing"


class FindingRow(Leaf):
    """One finding."""

    def __init__(self, panel: BeforeItFlies, finding: Finding, reason: str | None) -> None:
        super().__init__("card")
        self.panel, self.finding = panel, finding
        grid = QGridLayout(self)
        grid.setContentsMargins(8, 6, 8, 7)
        grid.setVerticalSpacing(2)
        grid.setColumnStretch(1, 1)
        grid.addWidget(WeightMark(finding.weight), 0, 0, Qt.AlignmentFlag.AlignTop)
        grid.addWidget(label(finding.where, "muted"), 0, 1)
        grid.addWidget(label(finding.what, "bold", wrap=True), 1, 1)
        why = " ".join(x for x in (finding.why, finding.advice) if x)
        if why:
            grid.addWidget(label(why, "small", wrap=True), 2, 1)
        if reason is not None:
            grid.addWidget(label(f"Set aside: {reason or 'no reason given'}", "muted", wrap=True), 3, 1)
        row = QHBoxLayout()
        row.setSpacing(4)
        self.show_button = self._button("Show", f"Show {finding.where}", lambda: panel.place_asked.emit(finding))
        row.addWidget(self.show_button)
        self.cure_button = self._button("Cures", f"Cures for: {finding.what}", lambda: panel.ask_cures(finding))
        self.cure_button.setVisible(bool(finding.cures) and reason is None)
        row.addWidget(self.cure_button)
        row.addStretch(1)
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("Why you live with it")
        self.reason.setAccessibleName("Why it is set aside")
        self.reason.hide()
        self.reason.returnPressed.connect(self._put_aside)
        row.addWidget(self.reason, 3)
        self.aside_button = self._button("Bring back" if reason is not None else "Set aside", f"Set aside: {finding.what}",
                                         self._bring_back if reason is not None else self._put_aside)  # fmt: skip
        row.addWidget(self.aside_button)
        grid.addLayout(row, 4, 1)
        self.slips = QVBoxLayout()
        self.slips.setSpacing(4)
        grid.addLayout(self.slips, 5, 1)
        self.tries: dict[str, QPushButton] = {}

    def _button(self, text: str, name: str, press: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("quiet")
        button.setFixedHeight(theme.sized(22))
        button.setAccessibleName(name)
        button.clicked.connect(press)
        return button

    def _put_aside(self) -> None:
        if self.reason.isHidden():
            self.reason.show()
            self.reason.setFocus()
            return
        self.panel.foresight.set_aside(self.finding, self.reason.text())

    def _bring_back(self) -> None:
        self.panel.foresight.bring_back(self.finding)

    def show_cures(self, cures: tuple[TriedCure, ...] | None) -> None:
        """Those that help, or that they are being tried."""
        clear(self.slips)
        self.tries = {}
        if cures is None:
            self.slips.addWidget(label("trying…", "muted"))
            return
        if not cures:
            self.slips.addWidget(label("None of the changes at hand does away with it.", "muted", wrap=True))
        for t in cures[:3]:
            self.slips.addWidget(self._slip(t))

    def _slip(self, t: TriedCure) -> QWidget:
        box = Leaf("slip")
        grid = QGridLayout(box)
        grid.setContentsMargins(8, 3, 4, 4)
        grid.setVerticalSpacing(0)
        grid.setColumnStretch(0, 1)
        grid.addWidget(label(t.cure.title, "", wrap=True), 0, 0)
        grid.addWidget(label(price(t, self.panel.foresight.session.project.brief.currency), "figureMuted"), 0, 1)
        button = QPushButton("Try")
        button.setFixedHeight(theme.sized(22))
        button.setAccessibleName(f"Try: {t.cure.title}")
        button.clicked.connect(lambda: self.panel.try_cure(t))
        self.tries[t.cure.title] = button
        grid.addWidget(button, 0, 2)
        worse = [*(f"{name} gets worse" for name in t.harms), *(f"Then {what}" for what in t.brings)]
        if worse:
            grid.addWidget(label(" ".join(w.rstrip(".") + "." for w in worse), "caution", wrap=True), 1, 0, 1, 3)
        return box


class BeforeItFlies(Card):
    """The panel."""

    place_asked = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(self, foresight: Foresight) -> None:
        super().__init__("Before it flies")
        self.foresight = foresight
        self.setFixedWidth(theme.sized(WIDTH_PX))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        close = QPushButton("Close")
        close.setObjectName("quiet")
        close.setFixedHeight(theme.sized(22))
        close.clicked.connect(self.left)
        self.head.addWidget(close)
        self.trial = QWidget()
        row = QHBoxLayout(self.trial)
        row.setContentsMargins(0, 0, 0, 0)
        self.trying = label("", "", wrap=True)
        row.addWidget(self.trying, 1)
        session = foresight.session
        for text, name, press in (("Keep it", "strong", session.take), ("Take back", "", session.take_back)):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setFixedHeight(theme.sized(23))
            button.clicked.connect(press)
            row.addWidget(button)
        self.column.addWidget(self.trial)
        line = QHBoxLayout()
        self.stages = QComboBox()
        self.stages.addItems([EVERYWHERE, *STAGES])
        self.stages.setAccessibleName("Of which stage")
        self.stages.activated.connect(self.refresh)
        self.curable = QCheckBox("with a cure to try")
        self.curable.clicked.connect(self.refresh)
        line.addWidget(self.stages)
        line.addWidget(self.curable)
        line.addStretch(1)
        self.column.addLayout(line)
        page = QWidget()
        self.rows_column = QVBoxLayout(page)
        self.rows_column.setContentsMargins(0, 0, 6, 0)
        self.rows_column.setSpacing(6)
        self.column.addWidget(scrolled(page), 1)
        self.remark = label("", "small", wrap=True)
        self.column.addWidget(self.remark)
        self.turns = Turns(self)
        self.rows: dict[str, FindingRow] = {}
        self._opened = ""
        self._shown: object = None
        for told_of in (foresight.changed, foresight.looked, session.changed):
            told_of.connect(self.refresh)
        session.trial_changed.connect(self.refresh)
        self.hide()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.left.emit()
            return
        super().keyPressEvent(event)

    def ask_cures(self, finding: Finding) -> None:
        """Open a finding's cures, or close them."""
        self._opened = "" if self._opened == finding.id else finding.id
        if self._opened and self.foresight.cures(finding) is None:
            self.foresight.try_cures(finding)
        self.refresh()

    def try_cure(self, tried: TriedCure) -> None:
        """Put a cure in place as a trial."""
        reason = self.foresight.session.try_lever(tried.cure)
        self.trying.setText(reason or self.trying.text())

    def refresh(self) -> None:
        """Show what there is, if the panel is to be seen."""
        if self.isHidden():
            return
        session, reasons = self.foresight.session, self.foresight.reasons
        self.trial.setVisible(session.trial is not None)
        self.trying.setText(f"Trying: {session.trial.title}" if session.trial is not None else "")
        self.note.setText(told(self.foresight.counted()) if self.foresight.fresh else "looking…")
        stage = self.stages.currentText()
        every = [f for f in self.foresight.found if stage in (EVERYWHERE, f.stage)]
        if self.curable.isChecked():
            every = [f for f in every if f.cures]
        every.sort(key=lambda f: f.id in reasons)
        cures = next((self.foresight.cures(f) for f in every if f.id == self._opened), None)
        key = (tuple(every), tuple(reasons.items()), self._opened, cures)
        if key != self._shown:
            self._shown = key
            self._fill(every, reasons)
        waits = not self.foresight.settler.fresh
        self.remark.setText("The print run's findings come with its layers." if waits else "")
        self.remark.setVisible(waits)

    def _fill(self, every: list[Finding], reasons: dict[str, str]) -> None:
        clear(self.rows_column)
        self.rows = {}
        if not every:
            empty = label(NOTHING if self.foresight.fresh else "", "muted", wrap=True)
            set_role(empty, "muted")
            self.rows_column.addWidget(empty)
        self.rows_column.addStretch(1)
        self.turns.begin([partial(self._row, f, reasons.get(f.id)) for f in every], now=True)

    def _row(self, f: Finding, reason: str | None) -> None:
        """One more, under the others."""
        row = FindingRow(self, f, reason)
        if f.id == self._opened:
            row.show_cures(self.foresight.cures(f))
        self.rows_column.insertWidget(len(self.rows), row)
        polish(row)
        self.rows[f.id] = row
