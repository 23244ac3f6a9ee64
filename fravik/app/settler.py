"""Asks a background process for real layers and roads once edits have paused, and keeps what it says."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from fravik.app.background import Background, Message
from fravik.app.session import Session
from fravik.engine.settled import Settled, settled_margins, unknown_margins
from fravik.model.project import Project
from fravik.study.margins import Margin

PAUSE_MS = 700
# the first time, the window and its 3D picture come first
FIRST_PAUSE_MS = 4000
REST_MS = 60_000


class Settler(QObject):
    """Holds the last settled result and whether it is of the current design."""

    changed = pyqtSignal()
    exported = pyqtSignal(str)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.background = Background(REST_MS, self)
        self.background.heard.connect(self._hear)
        self.settled: Settled | None = None
        self.busy: tuple[int, int] | None = None
        self.message = ""
        self.auto = True
        self._exporting = False
        self._asked: Project | None = None
        self._of: Project | None = None
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.timeout.connect(self.ask)
        session.changed.connect(self._stir)
        session.opened.connect(self.forget)
        self._pause.start(FIRST_PAUSE_MS)

    @property
    def fresh(self) -> bool:
        """Whether the settled result is of the design on show."""
        return self.settled is not None and self._of is self.session.project

    @property
    def idle(self) -> bool:
        """Whether the design on show has no layers, and none are under way or about to be."""
        return not self.fresh and self.busy is None and not self._pause.isActive() and not self.session.stale

    def margins(self) -> tuple[Margin, ...]:
        """The margins on show: settled where they are, live elsewhere."""
        result = self.session.result
        if result is None:
            return unknown_margins(self.session.project)
        if self.settled is None or not self.fresh or self.session.stale or result.project is not self.session.project:
            return result.margins
        return settled_margins(result, self.settled)

    def forget(self) -> None:
        """Another craft is in place: nothing laid for the last one counts."""
        self.background.cancel()
        self.settled, self.busy, self.message = None, None, ""
        self._asked, self._of, self._exporting = None, None, False

    def _stir(self) -> None:
        if not self.auto:
            return
        if self.busy is not None and not self._exporting and self._asked is not self.session.project:
            # nobody waits for what is laid of another design, and it would slow the edits
            self.background.cancel()
            self.busy, self._asked = None, None
            self.changed.emit()
        if not self.fresh:
            self._pause.start(PAUSE_MS)

    def ask(self) -> None:
        """Have the current design laid now, giving up whatever is under way."""
        project = self.session.project
        if self._exporting:  # a new job would cut the export short
            self._pause.start(PAUSE_MS)
            return
        if self.session.stale or self.session.result is None or self._asked is project:
            return
        self._asked = project
        self._submit("settle")

    def export(self, folder: Path, replace: bool = False) -> None:
        """Write the settled run into a folder, in the background."""
        self._exporting = True
        self._submit("export run", folder, replace)

    def _submit(self, job: str, *args: object) -> None:
        try:
            self.background.submit(job, self.session.project, *args)
        except OSError as err:
            self.message = f"Layers could not be worked out: {err}."
            self._asked, self._exporting = None, False
            self.changed.emit()
            return
        self.busy, self.message = (0, 1), ""
        self.changed.emit()

    def cancel(self) -> None:
        """Give up the work under way."""
        self.background.cancel()
        self.busy, self._asked, self._exporting = None, None, False
        self.message = "Given up."
        self.changed.emit()

    def _hear(self, message: Message) -> None:
        self.busy = message.payload if message.kind == "progress" else None
        failed_export = self._exporting and message.kind == "error"
        if message.kind != "progress":
            self._exporting = False
        if failed_export:  # the layers themselves are as good as before
            self.exported.emit(f"The run was not exported. {message.payload}")
        elif message.kind == "error":
            self.message = str(message.payload)
            self._asked = None
        elif message.kind == "done" and isinstance(message.payload, str):
            self.exported.emit(message.payload)
        elif message.kind == "done":
            self.settled, self._of, self.message = message.payload, self._asked, ""
        self.changed.emit()

    def close(self) -> None:
        """End the background process."""
        self._pause.stop()
        self.background.rest()
