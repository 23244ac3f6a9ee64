"""A worker process for anything over half a second, with progress and cancel.

Jobs are plain calls on a project. One job runs at a time; a new one replaces the old. Messages come back over a pipe whose
descriptor the window can watch.
"""

from __future__ import annotations

import socket
import subprocess
import sys
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Literal

import fravik
from fravik.model.project import Project
from fravik.study.levers import find_levers

from .evaluate import Engine


@dataclass(frozen=True)
class Message:
    """What a worker says about a job: progress (done, total), a result, or an error in one line."""

    job: int
    kind: Literal["progress", "done", "error"]
    payload: Any


def _levers(engine: Engine, project: Project, progress: Callable[[int, int], None], cancelled: Callable[[], bool],
            parts: tuple[str, ...] | None) -> Any:  # fmt: skip
    base = engine.scores(project)
    return [] if base is None else find_levers(
        project, base, engine.scores, parts=parts, progress=progress, cancelled=cancelled
    )  # fmt: skip


def _settle(engine: Engine, project: Project, progress: Callable[[int, int], None], cancelled: Callable[[], bool]) -> Any:
    from .settle import settle  # compiled loops and the polygon library load here, not with the window

    return settle(engine, project, progress, cancelled)


def _gcode(engine: Engine, project: Project, progress: Callable[[int, int], None], cancelled: Callable[[], bool],
           path: Path, plate_id: str) -> Any:  # fmt: skip
    from .gcoderead import read_beside

    return read_beside(engine, project, path, plate_id, progress, cancelled)


def _export_run(engine: Engine, project: Project, progress: Callable[[int, int], None], cancelled: Callable[[], bool],
                folder: Path) -> str:  # fmt: skip
    from .exportrun import export_run
    from .settle import settle

    written = export_run(engine, engine.evaluate(project), settle(engine, project, progress, cancelled), folder)
    return f"Exported {len(written)} files of the print run into {folder}."


JOBS: dict[str, Callable[..., Any]] = {"levers": _levers, "settle": _settle, "gcode": _gcode, "export run": _export_run}
# problems of the maker's own file or design: said without the error's technical name
PLAIN = ("GcodeError", "Refused", "ValueError", "FileNotFoundError", "PermissionError", "IsADirectoryError")


def serve(descriptor: int) -> None:
    """Work through requests until the pipe closes. Anything new on the pipe ends the job under way."""
    pipe = Connection(descriptor)
    engine = Engine()
    while True:
        try:
            request = pipe.recv()
            if request is None or pipe.poll():
                continue
            job, name, project, args = request

            def tell(done: int, total: int, job: int = job) -> None:
                pipe.send(Message(job, "progress", (done, total)))

            try:
                result = JOBS[name](engine, project, tell, pipe.poll, *args)
                if not pipe.poll():
                    pipe.send(Message(job, "done", result))
            except OSError:
                return
            except Exception as err:  # a job must never take the worker down
                plain = type(err).__name__ in PLAIN
                pipe.send(Message(job, "error", str(err) if plain else f"{type(err).__name__}: {err}"))
        except (EOFError, OSError, KeyboardInterrupt):
            return


def isolated(code: str, *args: str) -> list[str]:
    """A command that runs Python code with the product importable and nothing else of ours: not the current folder, which may be a
    stranger's, nor what the environment adds."""
    home = str(Path(fravik.__file__).resolve().parent.parent)
    return [sys.executable, "-I", "-c", f"import sys; sys.path.append({home!r}); {code}", *args]


class Worker:
    """A single background process, started on first need."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._pipe: Connection | None = None
        self._job = 0

    def start(self) -> None:
        """Start the process if it is not running."""
        if self._process is not None and self._process.poll() is None:
            return
        ours, theirs = socket.socketpair()
        self._pipe = Connection(ours.detach())
        command = isolated("from fravik.engine.worker import serve; serve(int(sys.argv[1]))", str(theirs.fileno()))
        self._process = subprocess.Popen(command, pass_fds=(theirs.fileno(),), stdin=subprocess.DEVNULL)
        theirs.close()

    @property
    def descriptor(self) -> int:
        """File descriptor that becomes readable when a message waits."""
        assert self._pipe is not None
        return self._pipe.fileno()

    @property
    def pid(self) -> int | None:
        """Process id, None when not started."""
        return self._process.pid if self._process is not None else None

    def submit(self, name: str, project: Project, *args: Any) -> int:
        """Queue a job, cancelling the one before; returns its number."""
        self.start()
        assert self._pipe is not None
        self._job += 1
        self._pipe.send((self._job, name, project, args))
        return self._job

    def cancel(self) -> None:
        """Give up the running job; it stops at its next step."""
        self._job += 1
        if self._pipe is not None:
            try:
                self._pipe.send(None)
            except OSError:
                self._drop()

    def _drop(self) -> None:
        if self._pipe is not None:
            self._pipe.close()
        self._process = self._pipe = None

    def messages(self) -> list[Message]:
        """All messages waiting, of the newest job only. A dead worker says so once."""
        out: list[Message] = []
        try:
            while self._pipe is not None and self._pipe.poll():
                message = self._pipe.recv()
                if message.job == self._job:
                    out.append(message)
        except (EOFError, OSError):
            self._drop()
            out.append(Message(self._job, "error", "The background worker stopped; it starts again at the next search."))
        return out

    def stop(self) -> None:
        """End the process."""
        process = self._process
        self._drop()
        if process is not None:
            process.terminate()
            process.wait(2.0)
