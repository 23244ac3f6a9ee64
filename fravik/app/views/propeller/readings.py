"""Readings taken off a blade, typed or read from a table, and the blade that is drawn from them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QHeaderView, QMenu, QTableWidget, QTableWidgetItem, QToolButton, QVBoxLayout, QWidget

from fravik.app.session import Session
from fravik.app.widgets.basics import label
from fravik.app.widgets.short import ShortButton
from fravik.kinds.measuring import by_hand, drawn_from
from fravik.kinds.printedblades import drawn
from fravik.model.blade import PropellerShape, Reading
from fravik.store.fileproblem import FileProblem
from fravik.store.readings import COLUMNS, read_readings, read_stand

PICTURES = "Pictures (*.png *.jpg *.jpeg *.webp);;All files (*)"
HEADS = ("Radius", "Chord", "Leading", "Trailing", "Thick")
STARTS, STEP = 8, 1.3


class ReadingsPage(QWidget):
    """A row a position; the propeller lies on a flat table, edges are measured over it."""

    def __init__(self, session: Session, lay: Callable[[Path], str]) -> None:
        super().__init__()
        self.session, self.part_id, self.lay = session, "", lay
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 4, 0)
        self.table = QTableWidget(0, len(HEADS))
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.setAccessibleName("Readings along the blade")
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.verticalHeader().setDefaultSectionSize(20)  # type: ignore[union-attr]
        self.table.cellChanged.connect(self._typed)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        for text, call in (("Add a row", self.add), ("Remove the row", self.remove), ("Draw from them", self.draw)):
            button = ShortButton(text)
            button.clicked.connect(call)
            row.addWidget(button)
        self.read = QToolButton()
        self.read.setText("Read…")
        self.read.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.read)
        menu.addAction("Readings from a table…", self.ask_file)
        menu.addAction("A photograph, to trace by…", self.ask_photograph)
        menu.addAction("What a thrust stand told…", self.ask_stand)
        self.read.setMenu(menu)
        row.addWidget(self.read)
        row.addStretch(1)
        column.addLayout(row)
        self.told = label(
            "In mm: lay the propeller on a flat table; measure each edge's height over it and the chord across the blade.", "small", True
        )
        column.addWidget(self.told)

    def shape(self) -> PropellerShape:
        """Of the part in view."""
        found = drawn(self.session.project.part(self.part_id))
        return found

    def show_part(self, part_id: str) -> None:
        """Its readings as they are."""
        self.part_id = part_id
        rows = self.shape().readings
        self.table.blockSignals(True)
        self.table.setRowCount(len(rows))
        for i, r in enumerate(rows):
            for j, name in enumerate(COLUMNS):
                text = f"{getattr(r, name):g}"
                if self.table.item(i, j) is None or self.table.item(i, j).text() != text:  # type: ignore[union-attr]
                    self.table.setItem(i, j, QTableWidgetItem(text))
        self.table.blockSignals(False)

    def _put(self, readings: tuple[Reading, ...], what: str) -> None:
        reason = self.session.edit(f"parts.{self.part_id}.shape.readings", readings, what)
        if reason:
            self.told.setText(reason)
        self.show_part(self.part_id)

    def _typed(self, row: int, col: int) -> None:
        rows = list(self.shape().readings)
        item = self.table.item(row, col)
        if item is None or row >= len(rows):
            return
        try:
            value = float(item.text().replace(",", "."))
            checked = Reading(**{**rows[row].model_dump(), COLUMNS[col]: value})
        except ValueError:
            self.told.setText(f"{HEADS[col]} of row {row + 1} is not a length that a blade can have.")
            self.show_part(self.part_id)
            return
        rows[row] = checked
        self._put(tuple(rows), "reading")

    def add(self) -> None:
        """Another reading, farther out than the last."""
        rows, shape = list(self.shape().readings), self.shape()
        first = Reading(radius_mm=round(0.25 * shape.radius_mm, 1))
        new = rows[-1].model_copy(update={"radius_mm": min(round(STEP * rows[-1].radius_mm, 0), shape.radius_mm)}) if rows else first
        self._put((*rows, new), "reading added")

    def remove(self) -> None:
        """Take the row away that the cursor is in."""
        at, rows = self.table.currentRow(), list(self.shape().readings)
        if 0 <= at < len(rows):
            del rows[at]
            self._put(tuple(rows), "reading removed")

    def ask_file(self) -> None:
        """Choose a table of readings."""
        name, _ = QFileDialog.getOpenFileName(self, "Read readings", "", "Tables (*.csv);;All files (*)")
        if name:
            self.read_file(Path(name))

    def read_file(self, path: Path) -> None:
        """Take the readings of a table."""
        try:
            self._put(read_readings(path), "readings read in")
        except (FileProblem, OSError) as err:
            self.told.setText(str(err))

    def ask_photograph(self) -> None:
        """Choose a picture of the propeller from straight above, to lay under its plan."""
        name, _ = QFileDialog.getOpenFileName(
            self, "A photograph from straight above", "", "Pictures (*.png *.jpg *.jpeg *.webp);;All files (*)"
        )
        if name:
            self.told.setText(self.lay(Path(name)))

    def ask_stand(self) -> None:
        """Choose a table of what a thrust stand told."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a thrust table: rpm, thrust_n, power_w", "", "Tables (*.csv);;All files (*)")
        if name:
            self.read_stand(Path(name))

    def read_stand(self, path: Path) -> None:
        """Measured thrust in place of the computed."""
        try:
            reason = self.session.edit(f"parts.{self.part_id}.shape.stand", read_stand(path), "thrust measured")
            self.told.setText(reason or "Measured thrust counts in place of the computed; both are drawn.")
        except (FileProblem, OSError) as err:
            self.told.setText(str(err))

    def draw(self) -> None:
        """A blade from them."""
        try:
            made = drawn_from(self.shape())
        except ValueError as err:
            self.told.setText(str(err))
            return
        reason = self.session.edit(f"parts.{self.part_id}.shape", made, "blade drawn from readings")
        self.told.setText(reason or f"Drawn: pitch {made.pitch_mm:.0f} mm.")

    def move_by_hand(self) -> None:
        """Positions where laws drew the blade."""
        self.session.edit(f"parts.{self.part_id}.shape", by_hand(self.shape()), "blade by hand")
