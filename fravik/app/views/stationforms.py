"""The stations of a free layout as fields: where each stands, which way it turns, how far it tilts."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns
from fravik.app.widgets.basics import clear, label
from fravik.app.widgets.fieldforms import Form
from fravik.app.widgets.fields import ChoiceField, FlagField, NumberField
from fravik.kinds import Edits
from fravik.kinds.freely import added, moved, removed
from fravik.model.paths import EditError


class PlaceField(NumberField):
    """Where a station stands, along one axis; its partner on the other side goes along when both sides are kept alike."""

    def __init__(self, session: Session, station_id: str, axis: str, alike: QCheckBox) -> None:
        self.station_id, self.axis, self.alike = station_id, axis, alike
        super().__init__(session, f"layout.stations.{station_id}.{axis}")

    def edits(self, value: Any) -> Edits:
        me = next(s for s in self.session.project.layout.stations if s.id == self.station_id)
        at = {"x_mm": me.x_mm, "y_mm": me.y_mm, self.axis: float(value)}
        return moved(self.session.project, self.station_id, at["x_mm"], at["y_mm"], self.alike.isChecked())


class StationForms(QWidget, theme.Plain):
    """One small form a station, shown while the layout is free."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.alike = QCheckBox("Both sides alike")
        self.alike.setChecked(True)
        self.alike.setToolTip("A station that is moved takes its mirror image along")
        self.note = label("Drag a motor in plan, or type.", "small", wrap=True)
        column.addWidget(self.note)
        column.addWidget(self.alike)
        self.list = QVBoxLayout()
        column.addLayout(self.list)
        add = QPushButton("Add a station")
        add.clicked.connect(lambda: self._do(added(self.session.project), "station added"))
        column.addWidget(add)
        self.forms: list[Form] = []
        self._turns = Turns(self)
        self._shown: tuple[str, ...] = ()

    def refresh(self) -> None:
        """Show the project's stations."""
        layout = self.session.project.layout
        free = layout.kind == "free"
        self.setVisible(free)
        ids = tuple(s.id for s in layout.stations) if free else ()
        if ids != self._shown:
            self._shown, self.forms = ids, []
            clear(self.list)
            self._turns.begin(self._laying(ids), now=True)
        for form in self.forms:
            form.refresh()

    def _laying(self, ids: tuple[str, ...]) -> Iterator[None]:
        """Each made, and dressed before it is shown, in turns of the window."""
        for name in ids:
            if name not in {s.id for s in self.session.project.layout.stations}:
                return  # an edit whose figures are still to come took it away: the next refresh lays them anew
            form, drop = self._lay(name), self._drop(name)
            yield
            for widget, place in ((form, Qt.AlignmentFlag(0)), (drop, Qt.AlignmentFlag.AlignRight)):
                widget.hide()
                theme.put_off(widget)
                self.list.addWidget(widget, 0, place)
                yield from theme.dressing(widget)
                widget.show()

    def _lay(self, name: str) -> Form:
        form = Form()
        form.heading(name.replace("_", " ").capitalize())
        for axis in ("x_mm", "y_mm"):
            form.add(PlaceField(self.session, name, axis, self.alike))
        form.add(ChoiceField(self.session, f"layout.stations.{name}.turns", [("left", "To the left"), ("right", "To the right")]))
        form.add(NumberField(self.session, f"layout.stations.{name}.tilt_deg"))
        form.add(FlagField(self.session, f"layout.stations.{name}.pair"))
        self.forms.append(form)
        return form

    def _drop(self, name: str) -> QPushButton:
        drop = QPushButton("Remove")
        drop.setObjectName("quiet")
        drop.setAccessibleName(f"Remove station {name.replace('_', ' ')}")
        drop.clicked.connect(lambda _=False, n=name: self._remove(n))
        return drop

    def _remove(self, name: str) -> None:
        try:
            self._do(removed(self.session.project, name), "station removed")
        except EditError as err:
            self.note.setText(err.message)

    def _do(self, edits: Edits, said: str) -> None:
        self.note.setText(self.session.edit_many(edits, said) or "Drag a motor in plan, or type.")
