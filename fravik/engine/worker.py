"""What the background process does: jobs over half a second, with progress and cancel.

Jobs are plain calls on a project. One job runs at a time; a new one replaces the old. See ``channel`` for the other end.
"""

from __future__ import annotations

import os
import resource
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Literal

from fravik.model.project import Part, Project
from fravik.store import FileProblem
from fravik.study.levers import find_levers

from .evaluate import Engine
from .results import Refused


@dataclass(frozen=True)
class Message:
    """What a worker says about a job: progress (done, total), a result, or an error in one line."""

    job: int
    kind: Literal["progress", "done", "error", "beat"]
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
           path: Path, batch_id: str) -> Any:  # fmt: skip
    from .gcoderead import read_beside

    return read_beside(engine, project, path, batch_id, progress, cancelled)


def _export_run(engine: Engine, project: Project, progress: Callable[[int, int], None], cancelled: Callable[[], bool],
                folder: Path, replace: bool) -> str:  # fmt: skip
    from .exportrun import export_run
    from .settle import settle

    written = export_run(engine, engine.evaluate(project), settle(engine, project, progress, cancelled), folder, replace=replace)
    return f"Exported {len(written)} files of the print run into {folder}."


def _mesh(engine: Engine, project: Project, progress: Callable[[int, int], None], cancelled: Callable[[], bool], path: Path) -> Part:
    from fravik.kinds.imported import imported_part

    return imported_part(path, project, progress)


JOBS: dict[str, Callable[..., Any]] = {"levers": _levers, "settle": _settle, "gcode": _gcode, "export run": _export_run, "mesh": _mesh}
# problems of the maker's own file or design: said without the error's technical name
PLAIN = (FileProblem, Refused, ValueError, FileNotFoundError, PermissionError, IsADirectoryError)
BEAT_S = 2.0
# so much later than the window a worker is served by a busy machine
NICER = 10
# more than four times what the exact figures of a large craft take; a job beyond it is refused, not the machine brought to a stand
MOST_MEMORY_BYTES = 2 << 30
TOO_LARGE = (
    f"This takes more than the {MOST_MEMORY_BYTES >> 30} GB of memory that a background worker may use. Make it smaller, or split it."
)


def _beating(tell: Callable[[Message], None]) -> None:
    """Say every little while that the process is alive, whatever its job is at."""

    def beat() -> None:
        while True:
            time.sleep(BEAT_S)
            try:
                tell(Message(0, "beat", None))
            except OSError:
                return

    threading.Thread(target=beat, daemon=True).start()


def _modest() -> None:
    """Stand behind the window in the queue for the processors, and within bounds of memory."""
    os.nice(NICER)
    _, hard = resource.getrlimit(resource.RLIMIT_DATA)
    most = MOST_MEMORY_BYTES if hard == resource.RLIM_INFINITY else min(MOST_MEMORY_BYTES, hard)
    resource.setrlimit(resource.RLIMIT_DATA, (most, hard))


def serve(descriptor: int) -> None:
    """Work through requests until the pipe closes. Anything new on the pipe ends the job under way."""
    _modest()
    pipe, lock = Connection(descriptor), threading.Lock()
    engine = Engine()

    def tell(message: Message) -> None:
        with lock:
            pipe.send(message)

    _beating(tell)
    while True:
        try:
            request = pipe.recv()
            if request is None or pipe.poll():
                continue
            job, name, project, args = request
            try:
                result = JOBS[name](engine, project, _progress(tell, job), pipe.poll, *args)
                if not pipe.poll():
                    tell(Message(job, "done", result))
            except PLAIN as err:
                tell(Message(job, "error", str(err)))
            except MemoryError:
                tell(Message(job, "error", TOO_LARGE))
            except Exception as err:  # a job must never take the worker down
                tell(Message(job, "error", f"{type(err).__name__}: {err}"))
        except (EOFError, OSError, KeyboardInterrupt):
            return


def _progress(tell: Callable[[Message], None], job: int) -> Callable[[int, int], None]:
    return lambda done, total: tell(Message(job, "progress", (done, total)))
