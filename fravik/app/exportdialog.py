"""What to export where."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from fravik.app.widgets.basics import answers, label
from fravik.engine.exportable import BLADE_KINDS, KINDS, PAPERS
from fravik.kinds.printedblades import is_propeller
from fravik.model.project import Project

KIND_WORDS = {
    "stl": "STL, one file a part",
    "3mf": "3MF with all copies",
    "sheet.html": "Sheet to print by, HTML",
    "sheet.pdf": "Sheet to print by, PDF",
    "csv": "Parts table, CSV",
    "json": "Whole project, JSON",
    "sections.svg": "Blade sections at 1:1, SVG",
    "sections.dxf": "Blade sections at 1:1, DXF",
    "measuring.pdf": "Sheet to measure a propeller, PDF",
}
PAPER_WORDS = {"a4": "A4", "letter": "Letter"}


class ExportDialog(QDialog):
    """Asks which parts, which kinds of file, and which folder."""

    def __init__(self, project: Project, parent: QWidget | None = None, laid: bool = True, paper: str = PAPERS[0]) -> None:
        """``laid`` says whether the layers are there, whose batches the sheet tells."""
        super().__init__(parent)
        self.setWindowTitle("Export for the printer")
        column = QVBoxLayout(self)
        lists = QHBoxLayout()
        lists.setSpacing(24)
        self.parts: dict[str, QCheckBox] = {}
        self.kinds: dict[str, QCheckBox] = {}
        left, right = QVBoxLayout(), QVBoxLayout()
        for side in (left, right):
            side.setSpacing(6)
        left.addWidget(label("Meshes of", "heading"))
        for part in project.parts:
            self.parts[part.id] = QCheckBox(f"{part.name} × {part.count}")
            left.addWidget(self.parts[part.id])
        right.addWidget(label("Files", "heading"))
        blades = any(is_propeller(p) for p in project.parts)
        for kind in (k for k in KINDS if blades or k not in BLADE_KINDS):
            self.kinds[kind] = QCheckBox(KIND_WORDS[kind])
            right.addWidget(self.kinds[kind])
        line = QHBoxLayout()
        line.addWidget(label("Paper"))
        self.paper = QComboBox()
        self.paper.setAccessibleName("Paper of the sheet")
        for key in PAPERS:
            self.paper.addItem(PAPER_WORDS[key], key)
        self.paper.setCurrentIndex(max(0, self.paper.findData(paper)))
        line.addWidget(self.paper)
        line.addStretch(1)
        right.addLayout(line)
        if not laid:
            right.addWidget(label("The sheet will tell no batches: the layers of this design are not laid yet.", "small", wrap=True))
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
        buttons = answers(QDialogButtonBox.StandardButton.Cancel)
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

    def chosen(self) -> tuple[Path, tuple[str, ...], tuple[str, ...], str]:
        """(folder, kinds, part ids, paper)."""
        kinds = tuple(k for k, box in self.kinds.items() if box.isChecked())
        parts = tuple(p for p, box in self.parts.items() if box.isChecked())
        return Path(self.folder.text()).expanduser(), kinds, parts, str(self.paper.currentData())
