"""A plastic of the maker's own: copy a kind, change its figures, note where they come from."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDialog, QDialogButtonBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from fravik.app.widgets.basics import answers, label, scrolled
from fravik.library import filaments_of
from fravik.model.base import explain
from fravik.model.material import SPREAD_LABELS, Filament
from fravik.model.project import Project

SINGLES = {
    "notch_sensitivity": "Notch sensitivity, 0 to 1",
    "glass_transition_c": "Glass transition, °C",
    "service_limit_c": "Warmest sensible use, °C",
    "flow_limit_mm3_s": "Flow limit, mm³/s",
    "price_per_kg": "Price per kg",
}
FLAGS = {"abrasive": "Wears a soft nozzle", "needs_enclosure": "Needs a warm chamber", "flexible": "Flexible, bears no load"}


class PlasticDialog(QDialog):
    """Low, typical and high of every property; refuses what does not hold together, and says why."""

    def __init__(self, project: Project, kind: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("A filament of my own")
        self.project = project
        self.filament: Filament | None = None
        self.own = kind if any(f.id == kind for f in project.filaments) else ""
        column = QVBoxLayout(self)
        column.addWidget(label("Copy the kind that is nearest, change what your own tests or the data sheet say, and note the source. "
                               "Bars printed and pulled beat any table.", "muted", wrap=True))  # fmt: skip
        top = QGridLayout()
        self.copy = QComboBox()
        self.copy.setAccessibleName("Copy from")
        for k, f in filaments_of(project).items():
            self.copy.addItem(f.name, k)
        self.copy.setCurrentIndex(max(0, self.copy.findData(kind)))
        self.copy.activated.connect(lambda _: self._fill())
        self.name, self.basis = QLineEdit(), QLineEdit()
        for row, (title, widget) in enumerate((("Copy from", self.copy), ("Name", self.name), ("Source", self.basis))):
            top.addWidget(label(title, "muted"), row, 0)
            widget.setAccessibleName(title)
            top.addWidget(widget, row, 1)
        column.addLayout(top)
        page = QWidget()
        grid = QGridLayout(page)
        grid.setVerticalSpacing(3)
        for col, text in enumerate(("", "low", "typical", "high")):
            grid.addWidget(label(text, "small"), 0, col)
        self.edits_by_name: dict[str, list[QLineEdit]] = {}
        for row, (key, title) in enumerate((SPREAD_LABELS | SINGLES).items(), start=1):
            grid.addWidget(label(title), row, 0)
            self.edits_by_name[key] = []
            for col in range(3 if key in SPREAD_LABELS else 1):
                edit = QLineEdit()
                edit.setFixedWidth(76)
                edit.setAccessibleName(f"{title}, {('low', 'typical', 'high')[col]}" if key in SPREAD_LABELS else title)
                self.edits_by_name[key].append(edit)
                grid.addWidget(edit, row, 1 + col if key in SPREAD_LABELS else 2)
        self.flags = {k: QCheckBox(t) for k, t in FLAGS.items()}
        for i, box in enumerate(self.flags.values()):
            grid.addWidget(box, 40 + i, 0, 1, 4)
        column.addWidget(scrolled(page), 1)
        self.message = label("", "problem", wrap=True)
        column.addWidget(self.message)
        buttons = answers(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.make)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.resize(500, 640)
        self._fill()

    def _fill(self) -> None:
        f = filaments_of(self.project)[str(self.copy.currentData())]
        mine = f.id == self.own
        self.name.setText(f.name if mine else f"My {f.name}")
        self.basis.setText(f.basis if mine else "")
        self.basis.setPlaceholderText("own bars pulled, data sheet, guess…")
        for key, edits in self.edits_by_name.items():
            value = getattr(f, key)
            for edit, v in zip(edits, value if key in SPREAD_LABELS else (value,), strict=True):
                edit.setText(f"{v:g}")
        for key, box in self.flags.items():
            box.setChecked(bool(getattr(f, key)))

    def make(self) -> None:
        """Build the filament from the fields; stay open with a message when it does not hold together."""
        base = filaments_of(self.project)[str(self.copy.currentData())]
        data: dict[str, Any] = base.model_dump()
        for key, edits in self.edits_by_name.items():
            numbers = []
            for edit in edits:
                try:
                    numbers.append(float(edit.text().replace(",", ".")))
                except ValueError:
                    self.message.setText(f"{(SPREAD_LABELS | SINGLES)[key]}: {edit.text()!r} is not a number.")
                    return
            data[key] = tuple(numbers) if key in SPREAD_LABELS else numbers[0]
        taken = {f.id for f in self.project.filaments} | set(filaments_of(self.project))
        new_id = self.own or next(i for i in (f"own{n}" for n in range(1, 999)) if i not in taken)
        source = self.basis.text().strip() or "the maker's own figures, source not noted"
        data |= {k: box.isChecked() for k, box in self.flags.items()}
        data |= {
            "id": new_id,
            "name": self.name.text().strip() or "My filament",
            "basis": source,
            "copied_from": base.copied_from or base.id,
        }
        try:
            self.filament = Filament.model_validate(data)
        except ValidationError as err:
            self.message.setText(" ".join(text for _, text in explain(err, Filament)))
            return
        self.accept()

    def edits(self, part_id: str) -> tuple[tuple[str, Any], ...]:
        """The edits that put the plastic on the project's list and into a part."""
        assert self.filament is not None
        kept = tuple(f for f in self.project.filaments if f.id != self.filament.id)
        return (("filaments", (*kept, self.filament)), (f"parts.{part_id}.recipe.filament", self.filament.id))
