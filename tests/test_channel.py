"""Nothing that a background process does or leaves undone holds the window up."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Iterator
from pathlib import Path

import psutil
import pytest

from fravik.demo import tern
from fravik.engine import channel
from fravik.engine.channel import SILENT, STOPPED, Worker
from fravik.engine.worker import TOO_LARGE, Message
from fravik.model.project import Project


@pytest.fixture
def worker() -> Iterator[Worker]:
    made = Worker()
    yield made
    made.stop()


def quiet() -> Project:
    """A craft with nothing to look for."""
    return tern().model_copy(update={"targets": ()})


def wait(worker: Worker, seconds: float = 60.0) -> list[Message]:
    """What the worker says until it is done with its newest job."""
    found: list[Message] = []
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        found += worker.messages()
        if found and found[-1].kind != "progress":
            return found
        time.sleep(0.01)
    raise AssertionError(f"nothing was heard: {found}")


def test_requests_to_a_stopped_process_wait_for_nobody_and_the_newest_is_done(worker: Worker) -> None:
    worker.submit("levers", quiet(), None)
    wait(worker)
    assert worker.pid is not None
    os.kill(worker.pid, signal.SIGSTOP)
    large = quiet().model_copy(update={"brief": quiet().brief.model_copy(update={"purpose": "x" * 3_000_000})})
    start = time.monotonic()
    for _ in range(60):
        job = worker.submit("levers", large, None)
    worker.cancel()
    job = worker.submit("levers", quiet(), None)
    assert time.monotonic() - start < 0.5
    os.kill(worker.pid, signal.SIGCONT)
    assert wait(worker)[-1] == Message(job, "done", [])


@pytest.mark.parametrize("sign", [None, signal.SIGSTOP, signal.SIGKILL])
def test_stopping_is_quick_and_leaves_no_process(worker: Worker, sign: signal.Signals | None) -> None:
    worker.submit("settle", tern())
    pid = worker.pid
    assert pid is not None
    time.sleep(0.3)
    if sign is not None:
        os.kill(pid, sign)
    threads, files = psutil.Process().num_threads(), psutil.Process().num_fds()
    start = time.monotonic()
    worker.stop()
    assert time.monotonic() - start < 2.0
    assert not psutil.pid_exists(pid)
    assert psutil.Process().num_threads() < threads
    assert psutil.Process().num_fds() < files
    worker.stop()


def test_a_dead_process_says_so_once_and_the_next_job_starts_another(worker: Worker) -> None:
    worker.submit("settle", tern())
    first = worker.pid
    assert first is not None
    os.kill(first, signal.SIGKILL)
    told = wait(worker)
    assert [m.payload for m in told if m.kind == "error"] == [STOPPED]
    assert worker.messages() == []
    worker.submit("levers", quiet(), None)
    assert worker.pid != first
    assert wait(worker)[-1].kind == "done"


def test_a_process_that_does_not_answer_is_ended_and_said(worker: Worker, monkeypatch: pytest.MonkeyPatch) -> None:
    worker.submit("levers", quiet(), None)
    wait(worker)
    pid = worker.pid
    assert pid is not None
    os.kill(pid, signal.SIGSTOP)
    monkeypatch.setattr(channel, "SILENT_S", 0.2)
    time.sleep(0.3)
    assert worker.silent() is None  # it has nothing to do: it may be as still as it likes
    worker.submit("levers", quiet(), None)
    time.sleep(0.3)
    told = worker.silent()
    assert told is not None
    assert told.payload == SILENT
    assert not psutil.pid_exists(pid)


def test_an_export_that_cannot_be_written_is_said_plainly(worker: Worker, tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    one_plate = tern().model_copy(update={"parts": tern().parts[1:2]})
    worker.submit("export run", one_plate, tmp_path / "file", False)
    told = wait(worker, 120.0)[-1]
    assert told.kind == "error"
    assert "a file stands where the folder should be" in told.payload
    assert "Error" not in told.payload


GLUTTON = """import sys; from fravik.engine import worker
worker.JOBS['levers'] = lambda *_: len(bytearray(worker.MOST_MEMORY_BYTES + (1 << 28)))
worker.serve(int(sys.argv[1]))"""


def test_a_job_that_takes_too_much_memory_is_refused_and_the_process_lives_on(worker: Worker, monkeypatch: pytest.MonkeyPatch) -> None:
    real = channel.isolated
    monkeypatch.setattr(channel, "isolated", lambda _, *args: real(GLUTTON, *args))
    worker.submit("levers", quiet(), None)
    told = wait(worker)[-1]
    assert (told.kind, told.payload) == ("error", TOO_LARGE)
    assert worker.pid is not None
    assert psutil.Process(worker.pid).memory_info().rss < 1 << 30
    monkeypatch.undo()
    job = worker.submit("gcode", quiet(), Path("nowhere.gcode"), "batch 1")
    assert wait(worker)[-1].job == job


def test_a_worker_stands_behind_the_window_for_the_processors(worker: Worker) -> None:
    worker.submit("levers", quiet(), None)
    wait(worker)
    assert psutil.Process(worker.pid).nice() > psutil.Process().nice()
