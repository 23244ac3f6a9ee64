"""Writes an open craft to its file without holding anybody up: one thread, and only the newest snapshot waits.

A file that another program holds for a while, as a sync or a backup does, is tried again until it is free. What the maker is told is
always true: *saved*, *waiting*, or *not saved* and why.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from fravik.model.project import Project

from .file import ProjectFile
from .fileproblem import FileProblem

AGAIN_S = 0.4


@dataclass(frozen=True)
class SaveState:
    """Where the newest edit stands."""

    kind: Literal["saved", "waiting", "failed"]
    message: str = ""
    code: str = ""


class Saver:
    """Saves to one file. ``told`` is called from the saving thread whenever the state has changed."""

    def __init__(self, file: ProjectFile, told: Callable[[], None]) -> None:
        self.file = file
        self.failed_before = False
        self._told = told
        self._state = SaveState("saved")
        self._newest: tuple[Project, str] | None = None
        self._change = threading.Condition()
        self._over = False
        self._thread: threading.Thread | None = None

    @property
    def state(self) -> SaveState:
        """Where the newest edit stands."""
        with self._change:
            return self._state

    def put(self, project: Project, note: str, wait_s: float) -> SaveState:
        """Have a snapshot written, and wait a moment for it: most writes take no longer."""
        with self._change:
            self._newest = (project, note)
            self._state = SaveState("waiting")
            if self._thread is None:
                self._thread = threading.Thread(target=self._run, daemon=True)
                self._thread.start()
            self._change.notify_all()
            self._change.wait_for(lambda: self._state.kind != "waiting" or bool(self._state.message), wait_s)
            return self._state

    def settle(self, wait_s: float) -> SaveState:
        """Wait for the newest edit to be written, or to fail."""
        with self._change:
            self._change.wait_for(lambda: self._state.kind != "waiting", wait_s)
            return self._state

    def close(self, wait_s: float) -> SaveState:
        """End, having given the newest edit so long to be written; lets go of the file."""
        state = self.settle(wait_s)
        with self._change:
            self._over = True
            self._change.notify_all()
        if self._thread is not None:
            self._thread.join(wait_s)
        self.file.close()
        return state

    def _run(self) -> None:
        while True:
            with self._change:
                self._change.wait_for(lambda: self._newest is not None or self._over)
                if self._over:
                    return
                job, self._newest = self._newest, None
            assert job is not None
            state = self._write(*job)
            with self._change:
                if state.code == "save.busy":
                    if self._newest is None:
                        self._newest = job
                    self._set(state)
                elif self._newest is None:
                    self._set(state)
            self._told()
            if state.code == "save.busy":
                with self._change:
                    self._change.wait_for(lambda: self._over, AGAIN_S)

    def _set(self, state: SaveState) -> None:
        self._state = state
        self._change.notify_all()

    def _write(self, project: Project, note: str) -> SaveState:
        try:
            self.file.write(project, note)
        except FileProblem as err:
            kind: Literal["waiting", "failed"] = "waiting" if err.code == "save.busy" else "failed"
            return SaveState(kind, str(err), err.code)
        except Exception as err:  # whatever goes wrong, it is said, and the work is still in memory
            told = f"{self.file.path.name} could not be saved ({type(err).__name__}: {err}). Save a copy elsewhere."
            return SaveState("failed", told, "save.failed")
        return SaveState("saved")
