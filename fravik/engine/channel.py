"""The window's end of a background process: nothing here ever waits for it.

One thread writes requests and one reads messages, so that neither a full pipe nor a stopped process can hold the window up. Requests
replace one another: only the newest waits. The process beats while it lives; one that has been silent too long is ended and said.
"""

from __future__ import annotations

import contextlib
import os
import queue
import socket
import subprocess
import sys
import threading
import time
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import fravik
from fravik.model.project import Project

from .worker import Message

SILENT_S = 60.0
STOPPED = "The background worker stopped; it starts again at the next search."
SILENT = "The background worker did not answer any more and was ended; it starts again at the next search."
ENDED = -1  # the job of the message that the pipe is closed


def isolated(code: str, *args: str) -> list[str]:
    """A command that runs Python code with the product importable and nothing else of ours: not the current folder, which may be a
    stranger's, nor what the environment adds."""
    home = str(Path(fravik.__file__).resolve().parent.parent)
    return [sys.executable, "-I", "-c", f"import sys; sys.path.append({home!r}); {code}", *args]


class _Line:
    """One process with its pipe and its two threads."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        command = isolated("from fravik.engine.worker import serve; serve(int(sys.argv[1]))", str(theirs.fileno()))
        try:
            self.process = subprocess.Popen(command, pass_fds=(theirs.fileno(),), stdin=subprocess.DEVNULL)
        except OSError:
            ours.close()
            raise
        finally:
            theirs.close()
        self.pipe = Connection(ours.detach())
        self.woken, self._wake = os.pipe()
        os.set_blocking(self.woken, False)
        os.set_blocking(self._wake, False)
        self.messages: queue.SimpleQueue[Message] = queue.SimpleQueue()
        self.heard = time.monotonic()
        self._over = False
        self._newest: list[Any] = []
        self._ready = threading.Condition()
        self._threads = [threading.Thread(target=t, daemon=True) for t in (self._read, self._write)]
        for t in self._threads:
            t.start()

    def send(self, request: Any) -> None:
        """Have a request written, in place of one that still waits."""
        with self._ready:
            self._newest = [request]
            self._ready.notify()

    def _write(self) -> None:
        while True:
            with self._ready:
                self._ready.wait_for(lambda: self._newest or self._over)
                if self._over:
                    return
                request = self._newest.pop()
            try:
                self.pipe.send(request)
            except (OSError, ValueError):
                return  # the reader says so

    def _read(self) -> None:
        while True:
            try:
                message = self.pipe.recv()
            except (EOFError, OSError, ValueError):
                message = Message(ENDED, "error", STOPPED)
            self.heard = time.monotonic()
            if message.kind == "beat":
                continue
            self.messages.put(message)
            with contextlib.suppress(OSError):  # a full pipe of wakes wakes as well; a closed one has nobody to wake
                os.write(self._wake, b"!")
            if message.job == ENDED:
                return

    def end(self) -> None:
        """Kill the process and let everything go; takes a moment whatever the process is at."""
        with self._ready:
            self._over = True
            self._ready.notify()
        self.process.kill()  # also ends one that is stopped
        with contextlib.suppress(subprocess.TimeoutExpired):
            self.process.wait(2.0)
        for t in self._threads:  # the dead process's end of the pipe is closed: both come back
            t.join(0.5)
        self.pipe.close()
        for descriptor in (self.woken, self._wake):
            os.close(descriptor)


class Worker:
    """A single background process, started on first need."""

    def __init__(self) -> None:
        self._line: _Line | None = None
        self._job = 0
        self._busy = False

    def start(self) -> None:
        """Start the process if it is not running. Raises OSError when none can be started."""
        if self._line is not None and self._line.process.poll() is None:
            return
        self.stop()
        self._line = _Line()

    @property
    def descriptor(self) -> int:
        """File descriptor that becomes readable when a message waits."""
        assert self._line is not None
        return self._line.woken

    @property
    def pid(self) -> int | None:
        """Process id, None when not started."""
        return self._line.process.pid if self._line is not None else None

    def submit(self, name: str, project: Project, *args: Any) -> int:
        """Queue a job, cancelling the one before; returns its number. Raises OSError when no process can be started."""
        self.start()
        assert self._line is not None
        self._job += 1
        self._busy = True
        self._line.heard = time.monotonic()
        self._line.send((self._job, name, project, args))
        return self._job

    def cancel(self) -> None:
        """Give up the running job; it stops at its next step."""
        self._job += 1
        self._busy = False
        if self._line is not None:
            self._line.send(None)

    def messages(self) -> list[Message]:
        """All messages waiting, of the newest job only. A dead worker says so once."""
        out: list[Message] = []
        line = self._line
        if line is None:
            return out
        with contextlib.suppress(BlockingIOError):
            while os.read(line.woken, 4096):
                pass
        while not line.messages.empty():
            message = line.messages.get()
            if message.job == ENDED:
                out.append(Message(self._job, "error", STOPPED))
                self.stop()
                break
            if message.job == self._job:
                self._busy = message.kind == "progress"
                out.append(message)
        return out

    def silent(self) -> Message | None:
        """The end of a worker that has a job and has not been heard of for too long; None while all is well."""
        line = self._line
        if line is None or not self._busy or time.monotonic() - line.heard < SILENT_S:
            return None
        self.stop()
        return Message(self._job, "error", SILENT)

    def stop(self) -> None:
        """End the process, within moments and whatever it is at."""
        line, self._line, self._busy = self._line, None, False
        if line is not None:
            line.end()
