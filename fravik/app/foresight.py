"""What will go wrong with the craft in the window, found beside it once edits have paused, one source at a time."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.engine.foresee import LONG, SOURCES, from_source, run_findings, tried
from fravik.engine.results import Evaluation
from fravik.engine.settled import Settled
from fravik.model.project import SetAside
from fravik.study.findings import Finding, TriedCure, Weight, counts, ranked

PAUSE_MS = 700


class Foresight(QObject):
    """The findings of the design on show."""

    changed = pyqtSignal()
    looked = pyqtSignal()  # all of the design has been gone through, or cures tried, whatever came of it

    def __init__(self, session: Session, settler: Settler, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.session, self.settler = session, settler
        self.auto = True
        self.found: tuple[Finding, ...] = ()
        self._live: tuple[Finding, ...] = ()
        self._run: tuple[Finding, ...] = ()
        self._settled: Settled | None = None
        self._told: object = None
        self._of: Evaluation | None = None
        self._cures: dict[str, tuple[TriedCure, ...]] = {}
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE_MS)
        self._pause.timeout.connect(self.look)
        session.evaluated.connect(self._stir)
        settler.changed.connect(self._gather)
        session.changed.connect(self._gather)
        self._pause.start()

    @property
    def fresh(self) -> bool:
        """Whether what was found is of the design on show."""
        return self._of is not None and self._of is self.session.result and not self.session.stale

    @property
    def reasons(self) -> dict[str, str]:
        """Why findings were set aside, by their id."""
        return {s.id: s.reason for s in self.session.project.set_aside}

    @property
    def open(self) -> tuple[Finding, ...]:
        """Those that are not set aside."""
        aside = self.reasons
        return tuple(f for f in self.found if f.id not in aside)

    def counted(self) -> dict[Weight, int]:
        """How many of each weight are open."""
        return counts(self.open)

    def set_aside(self, finding: Finding, reason: str) -> None:
        """Live with a finding, and say why."""
        kept = tuple(s for s in self.session.project.set_aside if s.id != finding.id)
        self.session.edit("set_aside", (*kept, SetAside(id=finding.id, reason=reason.strip())), "finding set aside")

    def bring_back(self, finding: Finding) -> None:
        """Count a finding again."""
        kept = tuple(s for s in self.session.project.set_aside if s.id != finding.id)
        self.session.edit("set_aside", kept, "finding brought back")

    def cures(self, finding: Finding) -> tuple[TriedCure, ...] | None:
        """The cures that help, None while they have not been tried."""
        return self._cures.get(finding.id)

    def try_cures(self, finding: Finding) -> None:
        """Try the cures of a finding beside the window; ``looked`` says when they are known."""
        result, engine = self.session.result, self.session.engine
        if result is None or result is not self._of:
            return

        def told(answer: Future[tuple[TriedCure, ...]]) -> None:
            if self._of is result:
                self._cures[finding.id] = answer.result()
                self.looked.emit()

        self.session.aside.ask(lambda: tried(engine, result, finding), told)

    def _stir(self) -> None:
        if self.auto:
            self._pause.start()

    def look(self) -> None:
        """Go through the design on show, if it has not been."""
        result = self.session.result
        if result is None or self.session.stale or result is self._of:
            return
        self._ask(result, 0, ())

    def _ask(self, result: Evaluation, number: int, found: tuple[Finding, ...]) -> None:
        """The next source, unless the design is another by now."""
        if self.session.result is not result:
            return
        if number == len(SOURCES):
            self._of, self._live, self._cures = result, found, {}
            self._gather()
            self.looked.emit()
            return
        engine = self.session.engine
        work: Callable[[], tuple[Finding, ...]] = lambda: from_source(engine, result, number)  # noqa: E731
        thread = self.session.beside if SOURCES[number] in LONG else self.session.aside
        thread.ask(work, lambda answer: self._ask(result, number + 1, (*found, *answer.result())))

    def _gather(self) -> None:
        settled = self.settler.settled if self.settler.fresh else None
        if settled is not self._settled:
            self._settled = settled
            self._run = run_findings(settled) if settled is not None else ()
        told = (self._live, self._run, self.session.project.set_aside)
        if told != self._told:
            self._told = told
            self.found = ranked((*self._live, *self._run))
            self.changed.emit()
