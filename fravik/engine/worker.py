"""A worker process for anything over half a second, with progress and cancel.

Jobs are plain calls on a project. One job runs at a time; a new one replaces the old. Messages come back over a pipe whose
descriptor the window can watch.
"""

from __future__ import annotations

import multiprocessing as mp
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from typing import Any, Literal

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


JOBS: dict[str, Callable[..., Any]] = {"levers": _levers}


def _serve(pipe: Connection, newest: Any) -> None:
    engine = Engine()
    while True:
        try:
            request = pipe.recv()
        except (EOFError, OSError, KeyboardInterrupt):
            return
        if request is None:
            return
        job, name, project, args = request

        def cancelled(job: int = job) -> bool:
            return bool(newest.value != job)

        if cancelled():
            continue
        try:
            result = JOBS[name](engine, project, lambda a, b, job=job: pipe.send(Message(job, "progress", (a, b))), cancelled, *args)
            if not cancelled():
                pipe.send(Message(job, "done", result))
        except (BrokenPipeError, KeyboardInterrupt):
            return
        except Exception as err:  # a job must never take the worker down
            pipe.send(Message(job, "error", f"{type(err).__name__}: {err}"))


class Worker:
    """A single background process, started on first need."""

    def __init__(self) -> None:
        self._process: Any = None
        self._pipe: Connection | None = None
        self._newest: Any = None
        self._job = 0

    def start(self) -> None:
        """Start the process if it is not running."""
        if self._process is not None and self._process.is_alive():
            return
        context = mp.get_context("spawn")
        self._pipe, other = context.Pipe()
        self._newest = context.Value("q", self._job)
        self._process = context.Process(target=_serve, args=(other, self._newest), daemon=True, name="fravik-worker")
        self._process.start()
        other.close()

    @property
    def descriptor(self) -> int:
        """File descriptor that becomes readable when a message waits."""
        assert self._pipe is not None
        return self._pipe.fileno()

    def submit(self, name: str, project: Project, *args: Any) -> int:
        """Queue a job, cancelling the one before; returns its number."""
        self.start()
        assert self._pipe is not None
        self._job += 1
        self._newest.value = self._job
        self._pipe.send((self._job, name, project, args))
        return self._job

    def cancel(self) -> None:
        """Give up the running job; it stops at its next step."""
        self._job += 1
        if self._newest is not None:
            self._newest.value = self._job

    def messages(self) -> list[Message]:
        """All messages waiting, of the newest job only. A dead worker says so once."""
        out: list[Message] = []
        try:
            while self._pipe is not None and self._pipe.poll():
                message = self._pipe.recv()
                if message.job == self._job:
                    out.append(message)
        except (EOFError, OSError):
            self._process = self._pipe = None
            out.append(Message(self._job, "error", "The background worker stopped; it starts again at the next edit."))
        return out

    def stop(self) -> None:
        """End the process."""
        self.cancel()
        if self._process is not None and self._process.is_alive():
            self._process.terminate()
            self._process.join(1.0)
        self._process = self._pipe = None
