"""Editors for stations: those of a drive's rotors, and those at which a part's copies stand."""

from __future__ import annotations

from typing import Any

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QSizePolicy, QToolButton, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.kinds import Edits
from fravik.kinds.dividing import divided

from .fields import Field


class StationsField(Field):
    """Which stations there are, picked from a menu."""

    def __init__(self, session: Session, path: str, options: list[tuple[str, str]]) -> None:
        super().__init__(session, path)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.button = QToolButton()
        self.button.setFixedHeight(theme.sized(23))
        self.button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.button.setMinimumWidth(80)
        menu = QMenu(self.button)
        self.actions_by_id: dict[str, QAction] = {}
        for value, text in options:
            action = QAction(text, menu)
            action.setCheckable(True)
            action.triggered.connect(lambda _, v=value: self._turn(v))
            menu.addAction(action)
            self.actions_by_id[value] = action
        self.button.setMenu(menu)
        row.addWidget(self.button, 1)
        self.refresh()

    def control(self) -> QWidget:
        return self.button

    def _chosen(self) -> tuple[str, ...]:
        return self.current() or ()

    def _turn(self, value: str) -> None:
        had = self._chosen()
        self.commit(tuple(v for v in had if v != value) if value in had else (*had, value))

    def refresh(self) -> None:
        self._refused = ""
        chosen = self._chosen()
        for value, action in self.actions_by_id.items():
            action.setChecked(value in chosen)
        names = [self.actions_by_id[v].text() if v in self.actions_by_id else v.replace("_", " ") for v in chosen]
        self.button.setText(", ".join(names) or "those that are left")
        self.button.setToolTip(self.button.text())
        self._show_message()


class PartStationsField(StationsField):
    """The same of a part: as many as it names, and of arms the others at what is left."""

    def edits(self, value: Any) -> Edits:
        return divided(self.session.project, self.path.split(".")[1], tuple(value))
