"""The features of a flat part as a list: a fold each with the dimensions that count for its kind."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import label, put_away
from fravik.app.widgets.fieldforms import Form
from fravik.app.widgets.fields import ChoiceField, NumberField, TextField
from fravik.app.widgets.fold import Fold
from fravik.kinds.flatfeatures import begun, told
from fravik.model.features import FEATURE_FIELDS, FEATURE_LABELS, MIRROR_LABELS, PlateFeature

NONE = "Discs, strips and arcs are added to the outline, cut-outs, holes and honeycombs taken from it; ribs and bosses stand on a face."
FACES = [("above", "The upper face"), ("below", "The lower face")]


class FeatureForms(QWidget, theme.Plain):
    """Those that stay keep their fold when others come and go."""

    def __init__(self, session: Session, part_id: str) -> None:
        super().__init__()
        self.session, self.part_id, self.at = session, part_id, f"parts.{part_id}.shape.features"
        self.forms: dict[str, Form] = {}
        self._folds: dict[tuple[str, str], Fold] = {}
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 2, 4, 0)
        self.column.setSpacing(4)
        self.note = label(NONE, "small", wrap=True)
        self.column.addWidget(self.note)
        self.add_button = QToolButton()
        self.add_button.setText("Add a feature")
        self.add_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.add_button)
        for kind, title in FEATURE_LABELS.items():
            menu.addAction(title, partial(self.add, kind))
        self.add_button.setMenu(menu)
        row = QHBoxLayout()
        row.addWidget(self.add_button)
        row.addStretch(1)
        self.column.addLayout(row)
        self.column.addStretch(1)

    @property
    def features(self) -> tuple[PlateFeature, ...]:
        """Those of the part."""
        return tuple(self.session.value(self.at))

    def refresh(self) -> None:
        """Show the part's features as they are."""
        if not any(p.id == self.part_id for p in self.session.project.parts):
            return
        every = self.features
        self.note.setVisible(not every)
        if [(f.id, f.kind) for f in every] != list(self._folds):
            self._arrange(every)
        for form in self.forms.values():
            form.refresh()
        for f in every:
            fold = self._folds[f.id, f.kind]
            fold.title.setText(told(f))
            fold.refresh()

    def _arrange(self, every: tuple[PlateFeature, ...]) -> None:
        keys = [(f.id, f.kind) for f in every]
        for gone in [k for k in self._folds if k not in keys]:
            put_away(self.column, self._folds.pop(gone))
            self.forms.pop(gone[0], None)
        self._folds = {(f.id, f.kind): self._folds.get((f.id, f.kind)) or self._fold(f) for f in every}
        for row, fold in enumerate(self._folds.values()):
            if self.column.indexOf(fold) != row:
                self.column.removeWidget(fold)
                self.column.insertWidget(row, fold)

    def _fold(self, f: PlateFeature) -> Fold:
        return Fold(self.session, told(f), f"{self.at}.{f.id}", partial(self._body, f), None)

    def _body(self, f: PlateFeature) -> QWidget:
        form, at = Form(), f"{self.at}.{f.id}."
        form.add(TextField(self.session, at + "name"))
        form.add(ChoiceField(self.session, at + "mirror", list(MIRROR_LABELS.items())))
        for name in FEATURE_FIELDS[f.kind]:
            form.add(ChoiceField(self.session, at + name, FACES) if name == "face" else NumberField(self.session, at + name))
        self.forms[f.id] = form
        body = QWidget()
        inside = QVBoxLayout(body)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addWidget(form)
        low = QHBoxLayout()
        low.addStretch(1)
        for text, what in (("Once more", self.again), ("Remove", self.drop)):
            press = QPushButton(text)
            press.setObjectName("quiet")
            press.setAccessibleName(f"{text}: {told(f)}")
            press.clicked.connect(partial(what, f.id))
            low.addWidget(press)
        inside.addLayout(low)
        form.refresh()
        return body

    def add(self, kind: str) -> str | None:
        """One more of a kind; the reason where it cannot be."""
        shape = self.session.project.part(self.part_id).shape
        new = begun(kind, self.features, shape.length_mm, shape.width_mm)  # type: ignore[arg-type, union-attr]
        return self.session.edit(self.at, (*self.features, new), f"{FEATURE_LABELS[kind].lower()} added")

    def again(self, feature_id: str) -> None:
        """The same once more, a little aside."""
        f = next(x for x in self.features if x.id == feature_id)
        shape = self.session.project.part(self.part_id).shape
        new_id = begun(f.kind, self.features, shape.length_mm, shape.width_mm).id  # type: ignore[arg-type, union-attr]
        copy = f.model_copy(update={"id": new_id, "x_mm": f.x_mm + f.width_mm})
        self.session.edit(self.at, (*self.features, copy), "feature added")

    def drop(self, feature_id: str) -> None:
        """One less."""
        self.session.edit(self.at, tuple(f for f in self.features if f.id != feature_id), "feature removed")
