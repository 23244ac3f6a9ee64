"""Designs judged beside the window. A newer one overtakes: what has not been begun by then never is."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass

from PyQt6.QtCore import QObject

from fravik.app.aside import Aside, no_loop_turns, undisturbed
from fravik.engine.results import Evaluation
from fravik.model.problem import Problem
from fravik.model.project import Project


@dataclass(frozen=True)
class Judged:
    """What the engine says of a design: its figures, or why there are none."""

    result: Evaluation | None
    problems: tuple[Problem, ...]


class Judging(QObject):
    """``take`` is told each answer on the window's thread, and whether it is that of the newest design."""

    def __init__(self, aside: Aside, judge: Callable[[Project], Judged], take: Callable[[Judged, bool], None]) -> None:
        super().__init__(aside)
        self._aside, self._judge, self._take = aside, judge, take
        self._asked = self._told = 0  # revisions of the design
        self._answer: Future[Judged] | None = None
        self._then: list[Callable[[], None]] = []

    @property
    def busy(self) -> bool:
        """Whether the newest design is being judged."""
        return self._answer is not None

    def ask(self, project: Project) -> None:
        """Judge a design. The window's loop goes on turning and brings the answer; where none turns, it is waited for."""
        if self._answer is not None:
            self._answer.cancel()
        if self._aside.closed:  # the craft has been left: nobody would take the answer
            self.drop()
            return
        self._asked += 1
        revision = self._asked
        if no_loop_turns():
            self._answer = self._aside.start(lambda: self._judge(project))
            self.finish()  # taken here, and not in the loop that waits: what it puts away may be what has just been pressed
        else:
            self._answer = self._aside.ask(lambda: self._judge(project), lambda answer: self._came(revision, answer))

    def finish(self) -> None:
        """Wait for the answer on the newest design."""
        while self._answer is not None:
            revision, answer = self._asked, self._answer
            self._aside.wait(answer)
            if not answer.cancelled():
                self._came(revision, answer)

    def then(self, call: Callable[[], None]) -> None:
        """What is to be done once the newest design stands: now, or when its answer has been taken."""
        if self.busy:
            self._then.append(call)
        else:
            call()

    def drop(self) -> None:
        """Nobody asks any more for what is under way."""
        if self._answer is not None:
            self._answer.cancel()
        self._told, self._answer, self._then = self._asked, None, []

    def _came(self, revision: int, answer: Future[Judged]) -> None:
        if revision <= self._told:  # an answer on a newer design was there before
            return
        self._told = revision
        newest = revision == self._asked
        if newest:
            self._answer = None
        with undisturbed():
            self._take(answer.result(), newest)
        if newest:
            calls, self._then = self._then, []
            for call in calls:
                call()
