"""One open craft: the project, its history, its file, and its evaluation. Views read it and ask it to edit."""

from __future__ import annotations

import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from fravik.app.aside import Aside, handing_over
from fravik.app.background import Background, Message
from fravik.app.judging import Judged, Judging
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.model.paths import EditError, get_at, set_many
from fravik.model.problem import Problem
from fravik.model.project import Project
from fravik.store import FileProblem, ProjectFile, create
from fravik.store.kept import beside, keep
from fravik.store.saver import Saver, SaveState
from fravik.study.findings import Cure
from fravik.study.levers import Lever

HISTORY = 400
TYPING_PAUSE_S = 1.5
WORKER_REST_MS = 20_000
# most writes take a few milliseconds: so long an edit waits for its own, and so long a craft that is left waits for its last
SAVE_WAIT_S, LEAVE_WAIT_S = 0.02, 2.0
GLIMPSE_S = 0.25  # while edits overtake each other, figures are shown so often


@dataclass(frozen=True)
class Snapshot:
    """A point in the history: the project and what the edit that made it was called."""

    project: Project
    label: str


class Session(QObject):
    """Holds everything the window shows of one craft."""

    changed = pyqtSignal()
    evaluated = pyqtSignal()
    problems_changed = pyqtSignal()
    saved = pyqtSignal()
    levers_changed = pyqtSignal()
    trial_changed = pyqtSignal()
    opened = pyqtSignal()
    _stored = pyqtSignal()

    def __init__(self, project: Project, file: ProjectFile | None = None, keep_in: Path | None = None) -> None:
        """``keep_in`` is the folder where a craft without a file of its own is kept from its first edit; None keeps it in memory."""
        super().__init__()
        self.engine = Engine()
        self.aside = Aside(self)
        self.beside = Aside(self)  # for what takes long: an edit is never behind it in line
        self.judging = Judging(self.aside, self._judge, self._take)
        self._shown_s = 0.0
        self.background = Background(WORKER_REST_MS, self)
        self.background.heard.connect(self._hear)
        self.keep_in = keep_in
        self.saver: Saver | None = None
        self._stored.connect(self._save_told)
        self._take_file(file)
        self._past: list[Snapshot] = []
        self._future: list[Snapshot] = []
        self._now = Snapshot(project, "opened")
        self.result: Evaluation | None = None
        self.problems: tuple[Problem, ...] = ()
        self.stale = False
        self.trial: Lever | Cure | None = None
        self.levers: list[Lever] = []
        self.levers_busy: tuple[int, int] | None = None
        self.levers_for: Project | None = None  # asked for
        self.levers_found_for: Project | None = None
        self.levers_message = ""
        self.lever_parts: tuple[str, ...] | None = None
        self._job = -1
        self._typing = ("", 0.0)
        self._show(self._judge(project))

    def open(self, project: Project, file: ProjectFile | None) -> None:
        """Put another craft in place, with a fresh history and nothing of the last one's figures."""
        judged = self.aside.run(lambda: self._judge(project))
        self._stand()
        self.cancel_levers()
        self.result, self.problems, self.stale = None, (), False
        self._leave()
        self._take_file(file)
        self._past, self._future = [], []
        self.levers, self.levers_for, self.lever_parts, self.levers_message = [], None, None, ""
        self.levers_found_for = None
        self._typing = ("", 0.0)
        self._end_trial()
        self._now = Snapshot(project, "opened")
        self.opened.emit()
        self._show(judged)
        self.changed.emit()

    @property
    def project(self) -> Project:
        """The current snapshot."""
        return self._now.project

    @property
    def label(self) -> str:
        """What the last edit was called."""
        return self._now.label

    @property
    def revision(self) -> int:
        """Edits behind the current snapshot."""
        return len(self._past)

    def value(self, path: str) -> Any:
        """The value of a field."""
        return get_at(self.project, path)

    def edit(self, path: str, value: Any, label: str = "", *, typing: bool = False) -> str | None:
        """Change one field. Returns None, or the plain reason why not; then nothing has changed.

        Keystrokes (``typing``) are each written to the file, but a run of them is one step of the history.
        """
        return self.edit_many(((path, value),), label, typing=typing)

    def edit_many(self, edits: tuple[tuple[str, Any], ...], label: str = "", *, typing: bool = False) -> str | None:
        """Change several fields as one step of the history. Figures follow: see ``then``."""
        try:
            project = set_many(self.project, edits)
        except EditError as err:
            return err.message
        if project == self.project:
            return None
        snapshot = Snapshot(project, label or edits[0][0].rsplit(".", 1)[-1].replace("_", " "))
        run = (edits[0][0], time.monotonic()) if typing else ("", 0.0)
        goes_on = typing and run[0] == self._typing[0] and run[1] - self._typing[1] < TYPING_PAUSE_S and self._past
        self._typing = run
        if goes_on:
            self._put(snapshot)
        else:
            self._push(snapshot)
        return None

    def replace(self, project: Project, label: str) -> None:
        """Put another whole project in place, as one step of the history."""
        self._push(Snapshot(project, label))

    def then(self, call: Callable[[], None]) -> None:
        """What is to be done once the design is judged and shown."""
        self.judging.then(call)

    def _push(self, snapshot: Snapshot) -> None:
        self._past.append(self._now)
        del self._past[:-HISTORY]
        self._future.clear()
        self._put(snapshot)

    def _put(self, snapshot: Snapshot) -> None:
        """Put a design in place, and have it judged. Until the answer is there the figures are the last one's."""
        self._now = snapshot
        self._end_trial()
        self.judging.ask(snapshot.project)

    @property
    def busy(self) -> bool:
        """Whether an edit is being judged just now."""
        return self.judging.busy

    def _take(self, judged: Judged, newest: bool) -> None:
        """Show an answer. One that a newer edit has overtaken is only a glimpse, for who drags and drags."""
        now = time.monotonic()
        if newest:
            self._shown_s = now
            self._show(judged)  # first: writing beside it would slow the margins
        elif judged.result is not None and now - self._shown_s > GLIMPSE_S:
            self._shown_s = now
            self.result = judged.result
            self.evaluated.emit()
        self._save()
        if newest:
            if self.saver is not None:
                with handing_over():
                    self.saver.settle(SAVE_WAIT_S)
                self._save_told()
            self.changed.emit()

    def _stand(self) -> None:
        """What is being judged is not waited for; that it was edited is not lost."""
        if self.judging.busy:
            self.judging.drop()
            self._save()

    @property
    def can_undo(self) -> bool:
        """Whether there is an edit to take back."""
        return bool(self._past)

    @property
    def can_redo(self) -> bool:
        """Whether there is an edit to make again."""
        return bool(self._future)

    def undo(self) -> None:
        """Take the last edit back."""
        self._step_over(self._past, self._future)

    def redo(self) -> None:
        """Make the edit taken back again."""
        self._step_over(self._future, self._past)

    def _step_over(self, there: list[Snapshot], back: list[Snapshot]) -> None:
        if there:
            back.append(self._now)
            self._put(there.pop())

    def try_lever(self, lever: Lever | Cure) -> str | None:
        """Apply a lever, or a finding's cure, as a trial that one press takes back."""
        if self.trial is not None:
            self.take_back()
        reason = self.edit_many(lever.edits, f"try: {lever.title}")
        if reason is None:
            self.trial = lever
            self.trial_changed.emit()
        return reason

    def take(self) -> None:
        """Keep the trial."""
        if self.trial is not None:
            self._now = Snapshot(self._now.project, self.trial.title)
            self._end_trial()
            self.changed.emit()

    def take_back(self) -> None:
        """End the trial and go back to the design before it."""
        if self.trial is not None:
            self.undo()

    def _end_trial(self) -> None:
        if self.trial is not None:
            self.trial = None
            self.trial_changed.emit()

    def _judge(self, project: Project) -> Judged:
        try:
            result = self.engine.evaluate(project)
            return Judged(result, result.problems)
        except Refused as err:
            return Judged(None, tuple(err.problems))
        except Exception as err:  # whatever goes wrong in a figure, the maker keeps the window and the work
            traceback.print_exc()
            text = f"This design could not be evaluated ({type(err).__name__}: {err}). Undo the edit, or change it."
            return Judged(None, (Problem("", text),))

    def _show(self, judged: Judged) -> None:
        self.problems, self.stale = judged.problems, judged.result is None
        if judged.result is not None:
            self.result = judged.result
        self.problems_changed.emit()
        self.evaluated.emit()

    def problems_at(self, path: str) -> list[Problem]:
        """Problems of exactly this field."""
        return [p for p in self.problems if p.path == path]

    @property
    def file(self) -> ProjectFile | None:
        """The file the craft is in."""
        return self.saver.file if self.saver is not None else None

    @property
    def save_state(self) -> SaveState | None:
        """Where the newest edit stands; None for a craft that is in no file yet."""
        return self.saver.state if self.saver is not None else None

    @property
    def unnamed(self) -> bool:
        """Whether the craft is only kept, without a file that the maker chose."""
        return self.file is None or (self.keep_in is not None and self.file.path.parent == self.keep_in)

    def _take_file(self, file: ProjectFile | None) -> None:
        self.saver = Saver(file, self._stored.emit) if file is not None else None
        self.file_message = ""

    def _leave(self) -> None:
        """Let the file of the craft go; an edit that it would not take is kept elsewhere."""
        saver, self.saver = self.saver, None
        if saver is not None and saver.close(LEAVE_WAIT_S).kind != "saved" and self.keep_in is not None:
            try:
                keep(self.project, self.keep_in).close()
            except FileProblem as err:
                self.file_message = str(err)

    def _save(self) -> None:
        state = self.save_state
        if state is None or state.kind == "saved":
            self.file_message = ""  # what was said of the edit before has been read
        if self.saver is None or self.saver.file.read_only:
            self._adopt(f"{self.saver.file.why}: " if self.saver is not None else "")
        if self.saver is not None:
            self.saver.put(self.project, self.label, 0.0)

    def keep_now(self) -> None:
        """See that the craft is in a file, whatever else is going on."""
        if self.saver is None:
            self._adopt("")
        elif self.saver.state.kind != "saved" or self.judging.busy:
            self.saver.put(self.project, self.label, LEAVE_WAIT_S)

    def _adopt(self, why: str) -> None:
        """Give a craft without a file that can be written one of its own."""
        if self.keep_in is None:
            return
        try:
            file = keep(self.project, self.keep_in)
        except FileProblem as err:
            self.file_message = str(err)
            self.saved.emit()
            return
        if self.saver is not None:
            self.saver.close(0.0)
        self._take_file(file)
        if why:
            self.file_message = f"{why}edits go on in a kept craft, {file.path.name}. Save a copy to give it a place of your own."

    def _save_told(self) -> None:
        saver = self.saver
        if saver is None:
            return
        state = saver.state
        if state.code == "save.conflict":
            self._go_on_beside(saver)
            return
        if state.kind == "saved" and saver.failed_before:
            self.file_message = ""
        saver.failed_before = state.kind != "saved"
        if state.kind != "saved" and state.message:
            self.file_message = state.message
        self.saved.emit()

    def _go_on_beside(self, saver: Saver) -> None:
        """Somebody else wrote the file: both versions stay."""
        path = saver.file.path
        try:
            file = beside(self.project, path)
        except FileProblem as err:
            self.file_message = f"{path.name} was changed elsewhere, and {err}"
            self.saved.emit()
            return
        saver.close(0.0)
        self._take_file(file)
        theirs = f"{path.name} was changed by another program or window and left as it is"
        self.file_message = f"{theirs}; your own edits go on in {file.path.name} beside it."
        self.saved.emit()

    def save_copy(self, path: Path) -> None:
        """Write the craft to a new file and go on working there. Raises FileProblem."""
        file = create(path, self.project, claim=True)
        last, only_kept = self.saver, self.unnamed
        self._take_file(file)
        if last is not None:
            last.close(LEAVE_WAIT_S)
            if only_kept:  # it has a place of its own now
                last.file.path.unlink(missing_ok=True)
        self.saved.emit()

    def ask_levers(self, parts: tuple[str, ...] | None = None) -> None:
        """Have the worker try the ways out for the current design."""
        if self.stale or self.result is None:
            return
        self.lever_parts = parts
        try:
            self._job = self.background.submit("levers", self.project, parts)
        except OSError as err:
            self.levers, self.levers_for = [], self.project
            self.levers_message = f"The search for ways out could not start: {err}. Press Look again."
            self.levers_changed.emit()
            return
        self.levers_busy, self.levers_for, self.levers_message = (0, 1), self.project, ""
        self.levers_changed.emit()

    def cancel_levers(self) -> None:
        """Stop looking for ways out."""
        self.background.cancel()
        self.levers_busy = None
        self.levers_changed.emit()

    def _hear(self, message: Message) -> None:
        if message.kind == "progress":
            self.levers_busy = message.payload
        else:
            self.levers_busy = None
            self.levers = message.payload if message.kind == "done" else []
            self.levers_found_for = self.levers_for
            if message.kind == "error":
                self.levers_message = f"The search for ways out failed: {message.payload} Press Look again, or change the design."
        self.levers_changed.emit()

    def close(self) -> None:
        """End the worker and let go of all results."""
        self._stand()
        self.aside.close()
        self.beside.close()
        self.background.rest()
        self._leave()
        self.engine.forget()
        self.result = None
