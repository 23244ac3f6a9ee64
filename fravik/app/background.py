"""A background process as the window sees it: jobs go in, messages come out as signals, and it is let go when idle."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QObject, QSocketNotifier, QTimer, pyqtSignal

from fravik.engine.channel import Worker
from fravik.engine.worker import Message
from fravik.model.project import Project

WATCH_MS = 5_000


class Background(QObject):
    """One worker process, started when first asked and ended after a rest."""

    heard = pyqtSignal(object)

    def __init__(self, rest_ms: int, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.worker = Worker()
        self._notifier: QSocketNotifier | None = None
        self._watched: int | None = None
        self._idle = QTimer(self)
        self._idle.setSingleShot(True)
        self._idle.setInterval(rest_ms)
        self._idle.timeout.connect(self.rest)
        self._watch = QTimer(self)
        self._watch.setInterval(WATCH_MS)
        self._watch.timeout.connect(self._listen)

    def submit(self, name: str, project: Project, *args: Any) -> int:
        """Start a job, giving up the one before; returns its number. Raises OSError when no process can be started."""
        self._idle.stop()
        self._watch.start()
        job = self.worker.submit(name, project, *args)
        if self._notifier is None or self._watched != self.worker.pid:
            self._unwatch()  # a worker that died unheard was replaced, and its pipe with it
            self._watched = self.worker.pid
            self._notifier = QSocketNotifier(self.worker.descriptor, QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]  # the stubs miss int
            self._notifier.activated.connect(self._hear)
        return job

    def cancel(self) -> None:
        """Give up the job under way."""
        self.worker.cancel()
        self._watch.stop()
        self._idle.start()

    def _listen(self) -> None:
        message = self.worker.silent()
        if message is not None:
            self._take([message])

    def _hear(self) -> None:
        self._take(self.worker.messages())

    def _take(self, messages: list[Message]) -> None:
        for message in messages:
            if message.kind != "progress":
                self._idle.start()
                self._watch.stop()
            if message.kind == "error":
                self._unwatch()
            self.heard.emit(message)

    def rest(self) -> None:
        """Let the process go; the next job starts a new one."""
        self._idle.stop()
        self._watch.stop()
        self._unwatch()
        self.worker.stop()

    def _unwatch(self) -> None:
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier = None


__all__ = ["Background", "Message"]
