"""Editors for single fields of the project, made from the model's own metadata.

A refused value stays in the field, marked, with the reason under it; the project keeps its last good value.
"""

from __future__ import annotations

import types
import typing
from functools import cached_property
from typing import Any, Literal

from PyQt6.QtCore import QEvent, QObject, QPoint, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from fravik.app import measures, theme
from fravik.app.session import Session
from fravik.kinds import Edits, shape_for
from fravik.model.base import MONEY, label_of
from fravik.model.craft import CELL_LABELS, FAMILY_LABELS, FORM_LABELS, JOINED_LABELS, SIDE_LABELS
from fravik.model.joint import FIXING_LABELS, JOINT_LABELS
from fravik.model.paths import EditError, get_at, owner_of
from fravik.model.recipe import LIES_LABELS, PLACE_LABELS
from fravik.model.typed import NotANumber, number_of

from .basics import label, set_role
from .short import Choices, Line, Short

WORDS = {
    **LIES_LABELS, **PLACE_LABELS, **FORM_LABELS, **CELL_LABELS,
    **FAMILY_LABELS, **SIDE_LABELS, **JOINED_LABELS, **JOINT_LABELS, **FIXING_LABELS,
    "lines": "Lines", "grid": "Grid", "triangles": "Triangles", "honeycomb": "Honeycomb", "gyroid": "Gyroid", "cubic": "Cubes on a corner",
    "concentric": "Concentric", "both": "Both", "one": "One", "top": "Top", "bottom": "Underside", "dry": "Dry", "room": "Room air",
    "wet": "Soaked", "light": "Light shade", "medium": "Medium shade", "dark": "Dark shade",
}  # fmt: skip


def _meta(session: Session, path: str) -> tuple[str, dict[str, Any], Any]:
    owner, name = owner_of(session.project, path)
    info = type(owner).model_fields[name]
    extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
    return label_of(type(owner), name), extra, info.annotation


def _is_optional(annotation: Any) -> bool:
    return isinstance(annotation, types.UnionType) and type(None) in typing.get_args(annotation)


class _StepEdit(QLineEdit):
    """A line edit whose up and down keys and wheel step the value."""

    def __init__(self, step: Any) -> None:
        super().__init__()
        self._step = step

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self._step(times if event.key() == Qt.Key.Key_Up else -times)
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.hasFocus():
            self._step(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
        else:
            event.ignore()


class Field(QWidget):
    """Base of the editors: label, control, hint and the message under it."""

    caption: QLabel

    def __init__(self, session: Session, path: str, title: str | None = None) -> None:
        super().__init__()
        self.session, self.path = session, path
        name, self.extra, self.annotation = _meta(session, path)
        self.title_text = title or name
        self._under: QVBoxLayout | None = None
        self._refused = ""
        session.problems_changed.connect(self._show_message)

    @cached_property
    def hint(self) -> QLabel:
        """The grey line under the control, made when there is something to say."""
        return self._line("small", 0)

    @cached_property
    def message(self) -> QLabel:
        """What is wrong, under the hint; made when something is."""
        return self._line("problem", 1)

    def _line(self, role: str, place: int) -> QLabel:
        made = label("", role, wrap=True)
        made.setParent(self)  # never a window of its own, before it has its place in a form
        made.hide()
        if self._under is not None:
            self._under.insertWidget(min(place, self._under.count()), made)
        return made

    def lay(self, grid: QGridLayout, row: int) -> int:
        """Put label, control, hint and message into a form grid; returns the next row."""
        self.caption = caption = Short(self.title_text, "muted", least_px=60)
        caption.setToolTip(str(self.extra.get("why", "")))
        caption.setBuddy(self.control())
        self.control().setAccessibleName(self.title_text)
        self.control().setToolTip(str(self.extra.get("why", "")))
        grid.addWidget(caption, row, 0)
        grid.addWidget(self, row, 1)
        self._under = under = QVBoxLayout()
        under.setSpacing(0)
        under.setContentsMargins(2, 0, 0, 0)
        for made in ("hint", "message"):
            if made in self.__dict__:
                under.addWidget(getattr(self, made))
        grid.addLayout(under, row + 1, 0, 1, 2)
        return row + 2

    def control(self) -> QWidget:
        """The widget that takes the keyboard."""
        raise AssertionError("every editor has a control")

    def refresh(self) -> None:
        """Show the project's value."""
        raise AssertionError("every editor refreshes")

    def set_hint(self, text: str) -> None:
        """A short grey line under the control."""
        if text or "hint" in self.__dict__:
            self.hint.setText(text)
            self.hint.setVisible(bool(text))

    def edits(self, value: Any) -> Edits:
        """What a new value changes."""
        return ((self.path, value),)

    def commit(self, value: Any) -> bool:
        """Ask the session for the edit; on refusal the reason is shown and nothing changes."""
        try:
            reason = self.session.edit_many(self.edits(value), self.title_text)
        except EditError as err:  # it cannot even be said what would change
            reason = err.message
        self._refused = reason or ""
        self._show_message()
        return reason is None

    def _show_message(self) -> None:
        found = self.session.problems_at(self.path)
        hard = [p.message for p in found if p.severity == "error"]
        soft = [p.message for p in found if p.severity == "warning"]
        text = self._refused or next(iter(hard), "") or next(iter(soft), "")
        if text or "message" in self.__dict__:
            set_role(self.message, "problem" if self._refused or hard else "caution")
            self.message.setText(text)
            self.message.setVisible(bool(text))
        self.mark(bool(self._refused or hard))

    def mark(self, wrong: bool) -> None:
        """Mark the control as wrong."""
        control = self.control()
        if control.property("wrong") != wrong:
            control.setProperty("wrong", wrong)
            style = control.style()
            if style is not None:
                style.polish(control)

    def current(self) -> Any:
        """The project's value, or None when the path is gone."""
        try:
            return get_at(self.session.project, self.path)
        except EditError:
            return None


class NumberField(Field):
    """A number with unit; arrows, keys and wheel step it. Percentages are shown as percent."""

    def __init__(self, session: Session, path: str, title: str | None = None, *, percent: bool = False, buttons: bool = True) -> None:
        super().__init__(session, path, title)
        self.scale = 100.0 if percent else 1.0
        self.base_unit = "%" if percent else str(self.extra.get("unit") or "")
        self._suits: float | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(3)
        self.edit = _StepEdit(self.step)
        self.edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.edit.setFixedHeight(theme.sized(23))
        self.edit.setMinimumWidth(52)
        self.edit.editingFinished.connect(self._finish)
        self.edit.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.edit.customContextMenuRequested.connect(self._menu)
        row.addWidget(self.edit, 1)
        self.unit = label("", "small")
        self.unit.setMinimumWidth(30)
        self._steppers: list[QToolButton] = []
        for text, way in (("−", -1), ("+", 1)) if buttons else ():
            button = QToolButton()
            button.setText(text)
            button.setFixedSize(20, theme.sized(21))
            button.setAutoRepeat(True)
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setAccessibleName(f"{self.title_text} {'up' if way > 0 else 'down'}")
            button.clicked.connect(lambda _=False, w=way: self.step(w))
            row.addWidget(button)
            self._steppers.append(button)
        row.addWidget(self.unit)
        self.refresh()

    def _needs(self) -> int:
        """Width of figure and unit."""
        return self.edit.minimumWidth() + 3 + self.unit.minimumSizeHint().width()

    def minimumSizeHint(self) -> QSize:
        return QSize(self._needs(), super().minimumSizeHint().height())

    def resizeEvent(self, a0: QResizeEvent | None) -> None:
        """Where it is narrow, arrows, keys and wheel step it alone."""
        super().resizeEvent(a0)
        room = self.width() - self._needs()
        for button in self._steppers:
            button.setVisible(room >= sum(b.width() + 3 for b in self._steppers))

    def control(self) -> QWidget:
        return self.edit

    def set_unit(self, unit: str) -> None:
        """Say in what unit the figure is stored, where the model does not."""
        self.base_unit = unit
        self.refresh()

    def _text(self, value: Any) -> str:
        if value is None:
            return ""
        shown = measures.shown(self.base_unit)
        figure = shown.of(value * self.scale)
        return f"{figure:.4g}" if shown.unit != self.base_unit else f"{figure:.4f}".rstrip("0").rstrip(".")

    def refresh(self) -> None:
        value = self.current()
        self._refused = ""
        if self.extra.get("unit") == MONEY:
            self.base_unit = self.session.project.brief.currency
        unit = measures.shown(self.base_unit).unit
        if self.unit.text() != unit:
            self.unit.setText(unit)
            if self._suits is not None:
                self.set_auto(self._suits)
        text = self._text(value)
        if self.edit.text() != text and not (self.edit.hasFocus() and self.edit.isModified()):
            self.edit.setText(text)
        self._show_message()

    def step(self, times: int) -> None:
        """Step the value by the field's own step."""
        value = self.current()
        if value is None:
            value = self._auto()
            if value is None:
                return
        size = float(self.extra.get("step") or 0.5)
        whole = isinstance(value, int) and not isinstance(value, bool)
        new = value + times * size
        self.edit.setModified(False)
        self.commit(round(new) if whole else round(new, 6))
        if not self._refused:
            self.edit.setText(self._text(self.current()))

    def sensible(self) -> Any:
        """The default of a part's field for the project's layout; None for fields that have none."""
        head, _, name = self.path.rpartition(".shape.")
        if not head:
            return None
        part = self.session.project.part(head.split(".")[1])
        return getattr(shape_for(part.shape, self.session.project), name)

    def _menu(self, at: QPoint) -> None:
        menu = self.edit.createStandardContextMenu()
        value = self.sensible()
        if menu is None:
            return
        if value is not None:
            menu.addSeparator()
            action = menu.addAction(f"Suit the layout: {self._text(value)} {self.unit.text()}".rstrip())
            if action is not None:
                action.triggered.connect(lambda: self.refresh() if self.commit(value) else None)
        menu.exec(self.edit.mapToGlobal(at))

    def _auto(self) -> float | None:
        return self._suits

    def set_auto(self, value: float) -> None:
        """Show what an empty field stands for."""
        self._suits = value
        inch = measures.shown(self.base_unit).unit != self.base_unit
        self.edit.setPlaceholderText(f"auto {self._text(value) if inch else f'{value:g}'}")

    def _finish(self) -> None:
        if not self.edit.isModified():
            return
        self.edit.setModified(False)
        text = self.edit.text().strip()
        if not text:
            if _is_optional(self.annotation):
                self.commit(None)
                return
            self._refused = f"{self.title_text} is empty: type a number; the last value, {self._text(self.current())}, is kept."
            self._show_message()
            return
        if text == self._text(self.current()):
            return  # as it was shown: its last digits stay as they are stored
        shown = measures.shown(self.base_unit)
        try:
            value = shown.stored(number_of(text, shown.unit)) / self.scale
        except NotANumber as err:
            self._refused = f"{err}; the last value, {self._text(self.current())}, is kept."
            self._show_message()
            return
        if isinstance(self.current(), int) and value == int(value):
            value = int(value)
        if self.commit(value):
            self.edit.setText(self._text(self.current()))


class ChoiceField(Field):
    """One of a closed list."""

    def __init__(self, session: Session, path: str, options: list[tuple[str, str]] | None = None, title: str | None = None) -> None:
        super().__init__(session, path, title)
        if options is None:
            values = typing.get_args(self.annotation) if typing.get_origin(self.annotation) is Literal else ()
            options = [(v, WORDS.get(v, str(v))) for v in values]
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.box = Choices()
        self.box.setFixedHeight(theme.sized(23))
        self.box.setMinimumWidth(80)
        self.box.installEventFilter(self)
        for value, text in options:
            self.box.addItem(text, value)
        self.box.activated.connect(lambda i: self.commit(self.box.itemData(i)))
        row.addWidget(self.box)
        self.refresh()

    def control(self) -> QWidget:
        return self.box

    def commit(self, value: Any) -> bool:
        done = super().commit(value)
        if not done:  # what is shown is what is
            self.box.setCurrentIndex(self.box.findData(self.current()))
        return done

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Wheel and not self.box.hasFocus():
            event.ignore()
            return True
        return super().eventFilter(watched, event)

    def refresh(self) -> None:
        self._refused = ""
        index = self.box.findData(self.current())
        if self.box.currentIndex() != index:
            self.box.setCurrentIndex(index)
        self._show_message()


class FlagField(Field):
    """Yes or no."""

    def __init__(self, session: Session, path: str) -> None:
        super().__init__(session, path)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.box = QCheckBox()
        self.box.setAccessibleName(self.title_text)
        self.box.clicked.connect(self.commit)
        row.addWidget(self.box)
        row.addStretch(1)
        self.refresh()

    def control(self) -> QWidget:
        return self.box

    def refresh(self) -> None:
        self.box.setChecked(bool(self.current()))
        self._show_message()


class TextField(Field):
    """A short text, written at every keystroke."""

    def __init__(self, session: Session, path: str) -> None:
        super().__init__(session, path)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.edit = Line()
        self.edit.setFixedHeight(theme.sized(23))
        self.edit.textEdited.connect(lambda text: self.session.edit(self.path, text, self.title_text, typing=True))
        row.addWidget(self.edit)
        self.refresh()

    def control(self) -> QWidget:
        return self.edit

    def refresh(self) -> None:
        text = str(self.current() or "")
        if self.edit.text() != text:
            self.edit.setText(text)
            self.edit.setCursorPosition(0)
