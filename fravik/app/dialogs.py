"""Two small dialogs: a new craft from five figures, and what to export where."""

from __future__ import annotations

from pathlib import Path

from pydantic import ValidationError
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from fravik.app.widgets.basics import label
from fravik.engine.kinds import KINDS
from fravik.kinds.newcraft import project_for
from fravik.model.base import explain
from fravik.model.project import Project

QUESTIONS = (
    ("name", "Name", "New craft", ""),
    ("motor_to_motor_mm", "Motor to motor", "250", "mm"),
    ("propeller_mm", "Propeller diameter", "127", "mm"),
    ("motor_g", "One motor", "33", "g"),
    ("battery_g", "Battery", "220", "g"),
)
KIND_WORDS = {
    "stl": "STL, one file a part",
    "3mf": "3MF with all copies",
    "sheet.html": "Settings sheet, HTML",
    "sheet.pdf": "Settings sheet, PDF",
    "csv": "Parts table, CSV",
    "json": "Whole project, JSON",
}


class NewCraftDialog(QDialog):
    """Asks five figures and makes a quad in proportion."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("New craft")
        self.project: Project | None = None
        column = QVBoxLayout(self)
        column.addWidget(label("A quad in proportion to these; change anything afterwards.", "muted", wrap=True))
        grid = QGridLayout()
        self.edits: dict[str, QLineEdit] = {}
        for row, (key, title, first, unit) in enumerate(QUESTIONS):
            edit = QLineEdit(first)
            edit.setAccessibleName(title)
            self.edits[key] = edit
            grid.addWidget(label(title), row, 0)
            grid.addWidget(edit, row, 1)
            grid.addWidget(label(unit, "small"), row, 2)
        column.addLayout(grid)
        self.message = label("", "problem", wrap=True)
        column.addWidget(self.message)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self._make)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.setMinimumWidth(360)

    def _make(self) -> None:
        figures: list[float] = []
        for key, title, _, _ in QUESTIONS[1:]:
            try:
                value = float(self.edits[key].text().replace(",", "."))
            except ValueError:
                value = -1.0
            if not 0 < value < 1e5:
                self.message.setText(f"{title} needs a number above zero; {self.edits[key].text()!r} is not one.")
                return
            figures.append(value)
        try:
            self.project = project_for(self.edits["name"].text().strip() or "New craft", *figures)
        except ValidationError as err:
            self.message.setText(" ".join(text for _, text in explain(err)))
            return
        self.accept()


class ExportDialog(QDialog):
    """Asks which parts, which kinds of file, and which folder."""

    def __init__(self, project: Project, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Export for the printer")
        column = QVBoxLayout(self)
        lists = QHBoxLayout()
        self.parts: dict[str, QCheckBox] = {}
        self.kinds: dict[str, QCheckBox] = {}
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(label("Meshes of", "heading"))
        for part in project.parts:
            self.parts[part.id] = QCheckBox(f"{part.name} × {part.count}")
            left.addWidget(self.parts[part.id])
        right.addWidget(label("Files", "heading"))
        for kind in KINDS:
            self.kinds[kind] = QCheckBox(KIND_WORDS[kind])
            right.addWidget(self.kinds[kind])
        for box in (*self.parts.values(), *self.kinds.values()):
            box.setChecked(True)
        for side in (left, right):
            side.addStretch(1)
            lists.addLayout(side)
        column.addLayout(lists)
        row = QHBoxLayout()
        self.folder = QLineEdit(str(Path.home()))
        self.folder.setAccessibleName("Folder")
        choose = QPushButton("Folder…")
        choose.clicked.connect(self._choose)
        row.addWidget(self.folder, 1)
        row.addWidget(choose)
        column.addLayout(row)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        go = buttons.addButton("Export", QDialogButtonBox.ButtonRole.AcceptRole)
        if go is not None:
            go.setObjectName("strong")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.setMinimumWidth(460)

    def _choose(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Export into folder", self.folder.text())
        if name:
            self.folder.setText(name)

    def chosen(self) -> tuple[Path, tuple[str, ...], tuple[str, ...]]:
        """(folder, kinds, part ids)."""
        kinds = tuple(k for k, box in self.kinds.items() if box.isChecked())
        parts = tuple(p for p, box in self.parts.items() if box.isChecked())
        return Path(self.folder.text()).expanduser(), kinds, parts
