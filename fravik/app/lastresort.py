"""What happens when something goes wrong that nobody foresaw: the work is kept, a report is written, and the maker is told."""

from __future__ import annotations

import sys
import traceback
from datetime import datetime
from pathlib import Path
from types import TracebackType
from typing import Any

from fravik import __version__
from fravik.store import FileProblem, write_files


class LastResort:
    """An exception hook for one window. A fault that comes again from the same line is counted and not told anew."""

    def __init__(self, window: Any, reports: Path) -> None:
        self.window = window
        self.reports = reports
        self.seen: dict[str, int] = {}

    def __call__(self, kind: type[BaseException], err: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, err, trace)
            return
        text = "".join(traceback.format_exception(kind, err, trace))
        print(text, file=sys.stderr)
        last = traceback.extract_tb(trace)[-1:] if trace is not None else []
        where = f"{kind.__name__} {last[0].filename}:{last[0].lineno}" if last else kind.__name__
        self.seen[where] = self.seen.get(where, 0) + 1
        if self.seen[where] > 1:
            return
        kept = self._keep()
        self.window.say_fault(f"Something went wrong that should not have ({kind.__name__}). {kept} {self._report(text)}")

    def _keep(self) -> str:
        session = self.window.session
        session.keep_now()
        if session.file is None:
            return "The craft is in memory: save a copy."
        state = session.save_state
        return f"The craft is {'saved' if state is not None and state.kind == 'saved' else 'NOT saved'} in {session.file.path.name}."

    def _report(self, text: str) -> str:
        stamp = datetime.now()
        head = f"Fravik {__version__}, Python {sys.version.split()[0]}, {stamp:%Y-%m-%d %H:%M:%S}\n\n"
        try:
            (path,) = write_files(self.reports, {f"fault-{stamp:%Y-%m-%d-%H%M%S}.txt": head + text}, replace=True)
        except FileProblem as err:
            return f"No report could be written: {err}"
        return f"What happened is written in {path}: send that file with a word on what you did. It holds no craft."
