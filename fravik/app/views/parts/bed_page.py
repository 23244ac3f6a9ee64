"""On the bed: turn the part by hand, and see the sensible ways for it to lie side by side."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.stepper import Stepper
from fravik.app.widgets.basics import clear, label, scrolled
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.short import Short
from fravik.app.widgets.turner import TurnDial
from fravik.engine.compare import Choice, axes_of, orientations
from fravik.engine.results import Evaluation
from fravik.printing.overhang import support_need
from fravik.shape.build import silhouette
from fravik.study.words import clock

LOW_PX = 300
HEADS = ("Way to lie", "Reserve", "Governed by", "", "", "Support cm³", "Height mm", "Time", "")


def mark_of(reserve: float) -> str:
    """Verdict shape of a reserve: below 1 fails, below 1.4 is tight."""
    return "fails" if reserve < 1.0 else "tight" if reserve < 1.4 else "holds"


class BedPage(QWidget):
    """Two dials at the left, the table of orientations at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.part_id = ""
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        left = QVBoxLayout()
        self.roll = TurnDial("Roll", -180.0, 180.0)
        self.pitch = TurnDial("Pitch", -90.0, 90.0)
        self.roll.turned.connect(lambda _: self._turn())
        self.pitch.turned.connect(lambda _: self._turn())
        left.addWidget(self.roll, 1)
        left.addWidget(self.pitch, 1)
        self.note = Short("", "small")
        left.addWidget(self.note)
        side = QWidget()
        side.setLayout(left)
        left.setContentsMargins(0, 0, 0, 0)
        side.setFixedWidth(158)
        row.addWidget(side)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(6)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.addLayout(self.grid)
        column.addStretch(1)
        area = scrolled(page)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        row.addWidget(area, 1)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.stepper = Stepper(session)
        self.stepper.stepped.connect(self._fill)
        self.use_buttons: list[QPushButton] = []

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.note.wrap(self.height() >= LOW_PX)
        super().resizeEvent(event)

    def show_part(self, part_id: str, result: Evaluation) -> None:
        """Show a part's turn, and weigh its orientations when on show."""
        self.part_id = part_id
        if not self.isVisible():
            self.stepper.stop()
            return
        part = result.parts[part_id]
        recipe = part.part.recipe
        mesh = self.session.engine.mesh(part.given)
        roll = {"on_side": 90.0, "on_other_side": -90.0, "flat_over": 180.0}.get(recipe.lies, 0.0)
        pitch = {"on_end": 90.0, "on_other_end": -90.0}.get(recipe.lies, 0.0)
        if recipe.lies == "free":
            roll, pitch = recipe.roll_deg, recipe.pitch_deg
        self.roll.show_part(silhouette(mesh, 0), roll)
        self.pitch.show_part(silhouette(mesh, 1), pitch)
        need = support_need(mesh, part.field.rotation)
        self.note.setText(f"Lines are the layers. Support about {need.columns_cm3:.1f} cm³, {need.contact_cm2:.1f} cm² on the bed. "
                          "Free turns cost a slower answer.")  # fmt: skip
        self.stepper.ask(part_id, orientations(self.session.project, part_id))

    def _turn(self) -> None:
        at = f"parts.{self.part_id}.recipe."
        edits = ((at + "lies", "free"), (at + "roll_deg", self.roll.angle_deg), (at + "pitch_deg", self.pitch.angle_deg))
        self.session.edit_many(edits, f"turned to {self.roll.angle_deg:g}° and {self.pitch.angle_deg:g}°")

    def _fill(self) -> None:
        clear(self.grid)
        self.use_buttons = []
        axes = axes_of(self.session.project, self.part_id)
        heads = list(HEADS)
        heads[3], heads[4] = axes.flex.split(",")[0].capitalize(), axes.crash.split(",")[0].capitalize()
        for col, text in enumerate(heads):
            self.grid.addWidget(label(text, "small", wrap=True), 0, col)
        for i, c in enumerate(self.stepper.choices, start=1):
            self._row(i, c)
        if self.stepper.busy:
            self.grid.addWidget(label("weighing…", "small"), len(self.stepper.choices) + 1, 0)

    def _row(self, i: int, c: Choice) -> None:
        now = not c.edits or self._is_now(c)
        name = label(c.name, "bold" if now else "")
        self.grid.addWidget(name, i, 0)
        if c.refused:
            self.grid.addWidget(label(c.refused, "small", wrap=True), i, 1, 1, 7)
            return
        mark = QWidget()
        across = QHBoxLayout(mark)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(4)
        across.addWidget(VerdictMark(mark_of(c.reserve), 8))
        across.addWidget(label(f"{c.reserve:.2f}", "figure"))
        self.grid.addWidget(mark, i, 1)
        governs = label(c.kind, "small")
        governs.setToolTip(f"governs in {c.case}")
        self.grid.addWidget(governs, i, 2)
        texts = (f"{c.flex:.1f}", f"{c.crash:.2f}", f"{c.support_cm3:.1f}", f"{c.height_mm:.0f}", clock(c.minutes))
        for col, text in enumerate(texts, start=3):
            cell: QLabel = label(text, "figure")
            cell.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            self.grid.addWidget(cell, i, col)
        if not now:
            use = QPushButton("Use")
            use.setFixedHeight(theme.sized(21))
            use.setAccessibleName(f"Print it: {c.name}")
            use.clicked.connect(lambda _=False, c=c: self.session.edit_many(c.edits, f"lies: {c.name.lower()}"))
            self.use_buttons.append(use)
            self.grid.addWidget(use, i, 8)

    def _is_now(self, c: Choice) -> bool:
        return all(self.session.value(path) == value for path, value in c.edits)
