"""Motors and propellers unlike the usual ones: a fold each, whose editors are made when it is opened first."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import label, put_away
from fravik.app.widgets.fieldforms import Form, field_for
from fravik.app.widgets.fields import ChoiceField
from fravik.app.widgets.fold import Fold
from fravik.app.widgets.short import ShortButton
from fravik.app.widgets.stationsfield import StationsField
from fravik.kinds.around import stations
from fravik.kinds.drives import drive_title, new_drive
from fravik.model.craft import BALANCE_LABELS, Motor, Propeller

from .shelfmenu import OwnShelf, ShelfButton

ABOUT = "Counted in weight, lift, shake and clearances; arms are judged with the heaviest of their rotors."


class DriveForms(QWidget, theme.Plain):
    """One fold a drive, made anew when drives or rotors come and go."""

    def __init__(self, session: Session, shelf: OwnShelf) -> None:
        super().__init__()
        self.session, self.shelf = session, shelf
        self.forms: dict[str, Form] = {}
        self.folds: list[Fold] = []
        self._built: tuple[object, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.rows = QVBoxLayout()
        column.addLayout(self.rows)
        self.add_button = ShortButton("Another drive on some rotors")
        self.add_button.setToolTip("Some rotors have another motor or propeller than the usual one")
        self.add_button.setObjectName("quiet")
        self.add_button.clicked.connect(self.add)
        column.addWidget(self.add_button)

    def refresh(self) -> None:
        """Show the project's drives."""
        drives, rotors = self.session.project.components.other_drives, tuple(s.id for s in stations(self.session.project))
        built = (tuple(d.id for d in drives), rotors)
        if built != self._built:
            self._built, was_open = built, {f.path for f in self.folds if f.arrow.isChecked()}
            for fold in self.folds:
                put_away(self.rows, fold)
            self.forms = {}
            self.folds = [
                Fold(self.session, drive_title(self.session.project, d), path, partial(self._body, d.id, path), is_open=path in was_open)
                for d in drives for path in (f"components.other_drives.{d.id}",)
            ]  # fmt: skip
            for fold in self.folds:
                self.rows.addWidget(fold)
        for form in self.forms.values():
            form.refresh()
        for d, fold in zip(drives, self.folds, strict=True):
            fold.title.setText(drive_title(self.session.project, d))
            fold.refresh()

    def _body(self, drive_id: str, path: str) -> QWidget:
        form = Form()
        form.add(StationsField(self.session, f"{path}.at", [(s.id, s.side) for s in stations(self.session.project)]))
        body = QWidget()
        inside = QVBoxLayout(body)
        inside.setContentsMargins(0, 0, 0, 0)
        for title, cls, at in (("Motor", Motor, f"{path}.motor"), ("Propeller", Propeller, f"{path}.propeller")):
            form.heading(title)
            for name, info in cls.model_fields.items():
                if name == "balance":
                    form.add(ChoiceField(self.session, f"{at}.{name}", list(BALANCE_LABELS.items())))
                else:
                    form.add(field_for(info.annotation)(self.session, f"{at}.{name}"))
            form.below(ShelfButton(self.shelf, title.lower(), at))
        self.forms[drive_id] = form
        drop = QPushButton("Remove")
        drop.setObjectName("quiet")
        drop.setAccessibleName("Remove this drive: its rotors get the usual one")
        drop.setToolTip("Its rotors get the usual motor and propeller")
        drop.clicked.connect(lambda: self.drop(drive_id))
        inside.addWidget(
            label("Counted in weight, lift, shake and clearances; arms are judged with the heaviest of their rotors.", "small", wrap=True)
        )
        inside.addWidget(form)
        inside.addWidget(drop)
        return body

    def add(self) -> None:
        """One more drive, like the usual one."""
        project = self.session.project
        self.session.edit("components.other_drives", (*project.components.other_drives, new_drive(project)), "another drive")
        self.session.then(self._open_last)

    def _open_last(self) -> None:
        if self.folds:
            self.folds[-1].arrow.setChecked(True)  # its editors are made in turns

    def drop(self, drive_id: str) -> None:
        """One less."""
        drives = tuple(d for d in self.session.project.components.other_drives if d.id != drive_id)
        self.session.edit("components.other_drives", drives, "drive removed")
