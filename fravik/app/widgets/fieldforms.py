"""Editors of fields in a column, and which editor a field takes."""

from __future__ import annotations

import typing
from collections.abc import Callable
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QWidget

from fravik.app.session import Session

from .basics import label
from .fields import ChoiceField, Field, FlagField, NumberField, TextField


class Form(QWidget):
    """A column of field editors that refresh together."""

    def __init__(self) -> None:
        super().__init__()
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 2, 4, 2)
        self.grid.setVerticalSpacing(2)
        self.grid.setHorizontalSpacing(8)
        self.grid.setColumnStretch(1, 1)
        self.grid.setColumnMinimumWidth(0, 72)
        self.fields: dict[str, Field] = {}
        self._row = 0

    def add(self, field: Field) -> Field:
        """Add an editor at the end."""
        self._row = field.lay(self.grid, self._row)
        self.fields[field.path] = field
        return field

    def heading(self, text: str) -> None:
        """A small heading between editors."""
        self.grid.addWidget(label(text, "heading"), self._row, 0, 1, 2)
        self._row += 1

    def below(self, widget: QWidget) -> None:
        """Something of another sort under the last editor."""
        self.grid.addWidget(widget, self._row, 0, 1, 2, Qt.AlignmentFlag.AlignRight)
        self._row += 1

    def show_field(self, path: str, shown: bool) -> None:
        """Show or hide an editor with its label."""
        field = self.fields[path]
        if field.isHidden() == shown:
            field.setVisible(shown)
            field.caption.setVisible(shown)

    def finish(self) -> None:
        """Push the editors to the top."""
        self.grid.setRowStretch(self._row, 1)

    def refresh(self) -> None:
        """Show the project's values in every editor."""
        for f in self.fields.values():
            f.refresh()


def field_for(annotation: object) -> Callable[[Session, str], Field]:
    """The editor of a model's field by its type."""
    if annotation is str:
        return TextField
    if annotation is bool:
        return FlagField
    return ChoiceField if typing.get_origin(annotation) is Literal else NumberField
