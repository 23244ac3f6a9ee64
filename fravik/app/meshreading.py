"""A mesh file read in a process of its own, with how far it is and a way to give up."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QEventLoop, QObject, Qt
from PyQt6.QtWidgets import QProgressDialog, QWidget

from fravik.app.background import Background, Message
from fravik.model.project import Part, Project

SHOWN_AFTER_MS, REST_MS = 400, 1_000


class MeshReading(QObject):
    """One file on its way to becoming a part."""

    def __init__(self, path: Path, project: Project, parent: QWidget) -> None:
        super().__init__(parent)
        self._path, self._project = path, project
        self._loop = QEventLoop()
        self._part: Part | None = None
        self._reason: str | None = None
        self._background = Background(REST_MS, self)
        self._background.heard.connect(self._hear)
        self.dialog = QProgressDialog(f"Reading {path.name}…", "Stop", 0, 0, parent)
        self.dialog.setWindowModality(Qt.WindowModality.WindowModal)
        self.dialog.setMinimumDuration(SHOWN_AFTER_MS)
        self.dialog.setAutoReset(False)
        self.dialog.setAutoClose(False)
        self.dialog.canceled.connect(self._loop.quit)

    def run(self) -> tuple[Part | None, str]:
        """The part, or None and the plain reason why there is none (empty when the maker gave up)."""
        try:
            self._background.submit("mesh", self._project, self._path)
            self.dialog.setValue(0)
            if self._part is None and self._reason is None:
                self._loop.exec()
        except OSError as err:
            self._reason = f"{self._path.name} could not be read: {err}."
        finally:
            self._background.rest()
            self.dialog.hide()
            self.dialog.deleteLater()
        return self._part, self._reason or ""

    def _hear(self, message: Message) -> None:
        if message.kind == "progress":
            done, total = message.payload
            self.dialog.setMaximum(total)
            self.dialog.setValue(done)
            return
        if message.kind == "done":
            self._part = message.payload
        else:
            self._reason = str(message.payload)
        self._loop.quit()
