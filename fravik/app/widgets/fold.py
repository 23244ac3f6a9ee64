"""A group of fields under a heading that opens and closes; closed, the heading tells the few figures that matter."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QToolButton, QVBoxLayout, QWidget

from fravik.app import measures, theme
from fravik.app.session import Session
from fravik.app.turns import Turns
from fravik.kinds.summaries import summary
from fravik.model.paths import EditError
from fravik.model.project import Project

from .basics import polish
from .short import Short

TALL, WHOLE_FROM = 24, 1e3


def told(project: Project, path: str) -> str:
    """A summary in the units that are shown."""
    words = []
    for item in summary(project, path):
        if isinstance(item, str):
            words.append(item)
        else:
            shown = measures.shown(item[1])
            figure = shown.of(item[0])
            words.append(f"{figure:.0f} {shown.unit}" if abs(figure) >= WHOLE_FROM else f"{figure:.4g} {shown.unit}")
    return ", ".join(words)


class Fold(QWidget, theme.Plain):
    """``path`` is what the fields belong to; a problem at any of ``holds``, all of it by default, opens the group.

    A ``body`` that is a call is made when the group is opened first.
    """

    def __init__(
        self, session: Session, title: str, path: str, body: QWidget | Callable[[], QWidget], beside: QWidget | None = None,
        is_open: bool = False, holds: tuple[str, ...] = (),
    ) -> None:  # fmt: skip
        super().__init__()
        self.session, self.path, self.holds = session, path, holds or (path,)
        self._body: QWidget | None = body if isinstance(body, QWidget) else None
        self._make: Callable[[], QWidget] | None = None if isinstance(body, QWidget) else body
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 4, 0)
        row.setSpacing(4)
        self.arrow = QToolButton()
        self.arrow.setObjectName("fold")
        self.arrow.setCheckable(True)
        self.arrow.setFixedSize(20, theme.sized(TALL))
        self.arrow.toggled.connect(self._turn)
        row.addWidget(self.arrow)
        self.title = Short(title, "heading", least_px=70)
        row.addWidget(self.title)
        self.short = Short()
        self.short.setObjectName("muted")
        row.addWidget(self.short, 1)
        if beside is not None:
            row.addWidget(beside)
        column.addLayout(row)
        if self._body is not None:
            column.addWidget(self._body)
        self.name = title
        self._turns = Turns(self)
        self.arrow.setChecked(is_open)
        if not is_open:
            self._turn(False)
        self._turns.finish()

    def mousePressEvent(self, event: object) -> None:
        if getattr(event, "position", None) is not None and event.position().y() <= theme.sized(TALL):  # type: ignore[attr-defined]
            self.arrow.toggle()

    def _turn(self, on: bool) -> None:
        if on:
            self._turns.begin(self._opening())
        else:
            self._turns.stop()
            if self._body is not None:
                self._body.setVisible(False)
        self.arrow.setArrowType(Qt.ArrowType.DownArrow if on else Qt.ArrowType.RightArrow)
        self.arrow.setAccessibleName(f"{'Fold' if on else 'Open'} {self.name}")
        self.arrow.setToolTip(self.arrow.accessibleName())
        self._tell()

    def _opening(self) -> Iterator[None]:
        """Made, styled and shown in a turn of the window each: together they would hold it up."""
        if self._body is None:
            try:
                self.make()
            except EditError:  # an edit whose figures are still to come took away what it is for: it goes with them
                return
            yield
        body = self.make()
        if not theme.wears(body):
            yield from theme.dressing(body)
        polish(body)
        yield
        body.setVisible(True)

    def make(self) -> QWidget:
        """What opens and closes, made by now, though it may be closed."""
        if self._make is not None:
            self._body, self._make = self._make(), None
            self._body.setVisible(False)
            theme.put_off(self._body)
            self.layout().addWidget(self._body)  # type: ignore[union-attr]
        assert self._body is not None  # it is there, or there is what makes it
        return self._body

    def _tell(self) -> None:
        self.short.setText("" if self.arrow.isChecked() else told(self.session.project, self.path))

    @property
    def body(self) -> QWidget | None:
        """What opens and closes, once it is made."""
        return self._body

    def open(self) -> None:
        """Open it, if it is closed."""
        for _ in self.opening():
            pass

    def opening(self) -> Iterator[None]:
        """The same in steps, for turns of the window."""
        self.arrow.setChecked(True)
        while self._turns.busy:
            self._turns.step()
            yield

    def refresh(self) -> None:
        """Say what is in it now; opened where something in it has to be put right."""
        if any(self.has(p.path) and p.severity == "error" for p in self.session.problems):
            self.open()
        self._tell()

    def has(self, path: str) -> bool:
        """Whether a field is in it."""
        return any(path == held or path.startswith(f"{held}.") for held in self.holds)
