"""Load cases of the maker's own: a force and a moment at a place on a part."""

from __future__ import annotations

from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.kinds import kind_of
from fravik.kinds.framing import told_apart
from fravik.model.project import OwnCase

from .basics import clear, label
from .fieldforms import Form
from .fields import ChoiceField, NumberField, TextField

FIELDS = ("position_mm", "force_x_n", "force_y_n", "force_z_n", "moment_x_nmm", "moment_y_nmm", "moment_z_nmm")


class OwnCases(QWidget, theme.Plain):
    """Editors of every own case, and a button to add one."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("My own load cases", "heading"))
        self.rows = QVBoxLayout()
        column.addLayout(self.rows)
        self.add_button = QPushButton("Add a load case")
        self.add_button.clicked.connect(self.add)
        column.addWidget(self.add_button)
        self.forms: list[Form] = []
        self._built: tuple[object, ...] = ()

    def add(self) -> None:
        """A new case on the first part that bends."""
        project = self.session.project
        part = next((p.id for p in told_apart(project).parts if kind_of(p.shape).bends), "arm")
        taken = {c.id for c in project.brief.own_cases} | {c.name for c in project.brief.own_cases}
        n = next(i for i in range(1, 999) if f"case{i}" not in taken and f"own case {i}" not in taken)
        new = OwnCase(id=f"case{n}", name=f"own case {n}", part=part, position_mm=60.0)
        self.session.edit("brief.own_cases", (*project.brief.own_cases, new), "load case added")

    def drop(self, case_id: str) -> None:
        """Remove a case."""
        kept = tuple(c for c in self.session.project.brief.own_cases if c.id != case_id)
        self.session.edit("brief.own_cases", kept, "load case removed")

    def refresh(self) -> None:
        """Show the project's own cases."""
        project = self.session.project
        parts = [(p.id, p.name) for p in told_apart(project).parts if kind_of(p.shape).bends]
        built = (tuple(c.id for c in project.brief.own_cases), tuple(parts))
        if built != self._built:
            self._built = built
            clear(self.rows)
            self.forms = []
            for c in project.brief.own_cases:
                at = f"brief.own_cases.{c.id}."
                form = Form()
                form.add(TextField(self.session, at + "name"))
                form.add(ChoiceField(self.session, at + "part", parts))
                for name in FIELDS:
                    form.add(NumberField(self.session, at + name))
                self.forms.append(form)
                self.rows.addWidget(form)
                drop = QPushButton("Remove this case")
                drop.setObjectName("quiet")
                drop.clicked.connect(lambda _=False, i=c.id: self.drop(i))
                self.rows.addWidget(drop)
        for form in self.forms:
            form.refresh()
