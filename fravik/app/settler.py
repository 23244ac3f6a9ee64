"""Asks a background process for real layers and roads once edits have paused, and keeps what it says."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, QSocketNotifier, QTimer, pyqtSignal

from fravik.app.session import Session
from fravik.engine.settled import Settled, settled_margins
from fravik.engine.worker import Worker
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
        self.worker = Worker()
        self.settled: Settled | None = None
        self.busy: tuple[int, int] | None = None
        self.message = ""
        self.auto = True
        self._asked: Project | None = None
        self._of: Project | None = None
        self._notifier: QSocketNotifier | None = None
        self._watched: int | None = None
        self._pause = self._timer(PAUSE_MS, self.ask)
        self._idle = self._timer(REST_MS, self._rest)
        session.changed.connect(self._stir)
        self._pause.start(FIRST_PAUSE_MS)

    def _timer(self, ms: int, call: object) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(ms)
        timer.timeout.connect(call)
        return timer

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
            return ()
        if self.settled is None or not self.fresh or self.session.stale:
            return result.margins
        return settled_margins(result, self.settled)

    def _stir(self) -> None:
        if self.auto and not self.fresh:
            self._pause.start(PAUSE_MS)

    def ask(self) -> None:
        """Have the current design laid now, giving up whatever is under way."""
        project = self.session.project
        if self.session.stale or self.session.result is None or self._asked is project:
            return
        self._asked = project
        self._submit("settle")

    def export(self, folder: Path) -> None:
        """Write the settled run into a folder, in the background."""
        self._submit("export run", folder)

    def _submit(self, job: str, *args: object) -> None:
        self._idle.stop()
        try:
            self.worker.submit(job, self.session.project, *args)
        except OSError as err:
            self.message = f"Layers could not be worked out: {err}."
            self._asked = None
            self.changed.emit()
            return
        if self._notifier is None or self._watched != self.worker.pid:
            self._unwatch()
            self._watched = self.worker.pid
            self._notifier = QSocketNotifier(self.worker.descriptor, QSocketNotifier.Type.Read, self)
            self._notifier.activated.connect(self._hear)
        self.busy, self.message = (0, 1), ""
        self.changed.emit()

    def cancel(self) -> None:
        """Give up the work under way."""
        self.worker.cancel()
        self.busy, self._asked = None, None
        self.message = "Given up."
        self.changed.emit()

    def _hear(self) -> None:
        for message in self.worker.messages():
            if message.kind == "progress":
                self.busy = message.payload
                continue
            self.busy = None
            self._idle.start()
            if message.kind == "done" and isinstance(message.payload, str):
                self.exported.emit(message.payload)
            elif message.kind == "done":
                self.settled, self._of = message.payload, self._asked
                self.message = ""
            else:
                self.message = str(message.payload)
                self._asked = None
                self._unwatch()
        self.changed.emit()

    def _rest(self) -> None:
        self._unwatch()
        self.worker.stop()

    def _unwatch(self) -> None:
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier = None

    def close(self) -> None:
        """End the background process."""
        self._pause.stop()
        self._idle.stop()
        self._rest()
