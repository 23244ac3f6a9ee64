"""Choices weighed one at a time beside the window, so that it answers all along."""

from __future__ import annotations

from concurrent.futures import Future

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from fravik.app.session import Session
from fravik.engine.compare import Choice, Edits, weigh_choice
from fravik.model.project import Project

PAUSE_MS = 15


class Stepper(QObject):
    """Weighs a list of choices for a part of the session's project; tells after each, and starts anew when asked again."""

    stepped = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.choices: list[Choice] = []
        self._left: list[tuple[str, Edits]] = []
        self._asked = 0
        self._project: Project | None = None
        self._part = ""
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(PAUSE_MS)
        self._timer.timeout.connect(self._step)

    def ask(self, part_id: str, ways: list[tuple[str, Edits]]) -> None:
        """Weigh these ways to make a part, unless they are weighed already."""
        project = self.session.project
        if project is self._project and part_id == self._part:
            return
        self._project, self._part = project, part_id
        self.choices, self._left, self._asked = [], list(ways), len(ways)
        self._timer.start()
        self.stepped.emit()

    @property
    def busy(self) -> bool:
        """Whether any are left to weigh."""
        return bool(self._left) or (self._project is not None and len(self.choices) < self._asked)

    def stop(self) -> None:
        """Weigh no more; the next ask starts anew."""
        self._timer.stop()
        self._left, self._project = [], None

    def _step(self) -> None:
        if not self._left or self._project is None:
            self._timer.stop()
            return
        if self._project is not self.session.project or self.session.stale:
            self.stop()
            return
        name, edits = self._left.pop(0)
        engine, project, part = self.session.engine, self._project, self._part

        def told(answer: Future[Choice]) -> None:
            if project is not self._project or part != self._part:
                return  # something else was asked for meanwhile
            if project is not self.session.project:
                self.stop()
                return
            self.choices.append(answer.result())
            self.stepped.emit()
            self._timer.start()

        self.session.aside.ask(lambda: weigh_choice(engine, project, part, name, edits), told)
