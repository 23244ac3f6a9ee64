"""Transition: where between hover and forward flight it can fly, the way there and back, and the steps to get there."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import Future
from pathlib import Path

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns
from fravik.app.views.beside import AskingView
from fravik.app.widgets.basics import Card, label, scrolled
from fravik.app.widgets.short import Short, Tabs
from fravik.engine.cardfiles import card_files
from fravik.engine.compare import Edits
from fravik.engine.remedies import Remedy, remedies
from fravik.engine.results import Evaluation
from fravik.engine.sideview import side_view
from fravik.engine.stepcards import StepCard, step_cards
from fravik.engine.transition import TransitionSight, transition_sight
from fravik.model.wing import StepDone
from fravik.printing.job import GivenUpError
from fravik.store import FileProblem, write_files

from .besidemap import FlightsPage, HoverPage, MassPage, TiltPage
from .corridormap import CorridorMap
from .settings import FlyingForms
from .side import SidePicture
from .steps import StepPage, StepsCard

TABS = ("Centre of mass", "Flights", "Hover", "Tilt", "Step", "Settings")
BUSY = "Being worked out: balance at 1200 points, the way out and back, and flights along it…"
LOW_PX, STEPS_PX = 560, 204


class TransitionView(AskingView):
    """Map at the left, forces and pages at the right, steps below."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.sight: TransitionSight | None = None
        self.result: Evaluation | None = None
        self._remedies: tuple[Remedy, ...] | None = None
        self._step_id = ""
        self._turns = Turns(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        top = QHBoxLayout()
        top.setSpacing(8)
        self.map_card, self.map = Card("Where it can fly"), CorridorMap()
        self.own = QPushButton("As worked out")
        self.own.setObjectName("quiet")
        self.own.setToolTip("Let go of the ways that were dragged")
        self.own.clicked.connect(self.let_go)
        self.map_card.head.addWidget(self.own)
        self.map.picked.connect(self._look_at)
        self.map.moved.connect(self.move_way)
        self.state = label(BUSY, "small", wrap=True)
        self.map_card.column.addWidget(self.state)
        self.map_card.column.addWidget(self.map, 1)
        top.addWidget(self.map_card, 11)
        right = QVBoxLayout()
        right.setSpacing(8)
        self.side_card, self.side, self.side_words = Card("Forces"), SidePicture(), Short("", "small")
        self.side_card.column.addWidget(self.side, 1)
        self.side_card.column.addWidget(self.side_words)
        right.addWidget(self.side_card, 5)
        right.addWidget(self._tabs(), 6)
        top.addLayout(right, 9)
        column.addLayout(top, 12)
        self.steps = StepsCard()
        self.steps.noted.connect(self.open_step)
        self.steps.printed.connect(self.ask_cards)
        self.steps.setMinimumHeight(theme.sized(STEPS_PX))
        column.addWidget(self.steps, 1)
        theme.on_change(self._redraw)

    def _tabs(self) -> Card:
        card = Card()
        self.mass, self.flights, self.hover, self.tilt = MassPage(self.try_remedy), FlightsPage(), HoverPage(), TiltPage()
        self.step_page, self.settings = StepPage(), FlyingForms(self.session)
        self.step_page.told.connect(self.tell_step)
        self.tabs = Tabs()
        pages = [scrolled(w) for w in (self.mass, self.flights, self.hover, self.tilt, self.step_page, self.settings)]
        for title, widget in zip(TABS, pages, strict=True):
            self.tabs.addTab(widget, title)
        card.column.addWidget(self.tabs, 1)
        return card

    # what is shown

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        low = self.height() < theme.sized(LOW_PX)
        self.steps.general.setVisible(not low)
        self.steps.setMinimumHeight(theme.sized(STEPS_PX - 60 if low else STEPS_PX))

    def refresh(self) -> None:
        """Show the craft's way over, worked out beside the window."""
        if not self.isVisible():
            return
        self.settings.refresh()
        project, result = self.session.project, self.session.result
        self.own.setVisible(bool(project.flying.out or project.flying.back))
        if result is None or self.session.stale or result.project is not project or self._asked is project:
            return
        self._asked = project
        self.state.setText(BUSY)
        self.state.show()
        engine = self.session.engine

        def wanted() -> bool:
            return self._asked is project and self._on_show

        def make() -> TransitionSight | str | None:
            if not wanted():
                return ""
            try:
                return transition_sight(engine, result, wanted)
            except ValueError as err:
                return str(err)
            except GivenUpError:
                return ""

        self.session.beside.ask(make, lambda found: self._take(project, result, found))

    def _take(self, asked: object, result: Evaluation, found: Future[TransitionSight | str | None]) -> None:
        if asked is not self._asked:
            return
        answer = found.result()
        if answer == "":
            self._asked = None
            return
        if isinstance(answer, str) or answer is None:
            self.state.setText(
                answer or "Nothing goes over on this craft: it has neither a wing nor rotors that tilt. Settings can let rotors tilt."
            )
            self.sight = None
            self.map.show_sight(None)
            return
        self.sight, self.result, self._remedies = answer, result, None
        self._redraw()
        engine = self.session.engine

        def others(found: Future[tuple[Remedy, ...]]) -> None:
            if asked is self._asked:
                self._remedies = found.result()
                self._show_mass()

        self.session.beside.ask(lambda: remedies(engine, result) if asked is self._asked else (), others)

    @property
    def known(self) -> bool:
        """Whether all that is shown is of the design on show."""
        return self.sight is not None and self.result is self.session.result and self._remedies is not None and not self._turns.busy

    def _redraw(self) -> None:
        self._turns.begin(self._drawing())

    def _drawing(self) -> Iterator[None]:
        """A picture in each turn of the window: together they would hold it up."""
        s, result = self.sight, self.result
        if s is None or result is None:
            return
        self.state.hide()
        f = result.project.flying
        self.map_card.note.setText(f"speed across, {s.upwards} up · half pack · darker: more in hand")
        self.map.show_sight(s)
        k = len(s.out.way.speed_m_s) * 2 // 3
        if self.map.at == (0.0, 0.0):
            self.map.at = float(s.out.way.speed_m_s[k]), float(s.out.way.over[k])
        yield
        self._look_at(*self.map.at)
        yield
        self._show_mass()
        for page in (self.flights, self.hover, self.tilt):
            yield
            page.show_sight(s)
        yield
        cards = step_cards(s, f.steps, result.project.components.battery.cells)
        self.steps.show_cards(cards)
        self._show_step(cards)

    def _show_mass(self) -> None:
        if self.sight is not None:
            self.mass.show_sight(self.sight, self._remedies)

    def _look_at(self, speed: float, over: float) -> None:
        if self.sight is None or self.result is None:
            return
        view = side_view(self.result, self.sight, speed, over)
        self.side_card.title.setText(view.title)
        self.side.show_view(view)
        self.side_words.setText(view.words)

    # what the maker does

    def move_way(self, name: str, points: object) -> None:
        """A way was dragged."""
        self.session.edit(f"flying.{name}", points, f"way {name} dragged")

    def let_go(self) -> None:
        """Back to the ways that were worked out."""
        self.session.edit_many((("flying.out", ()), ("flying.back", ())), "ways as worked out")

    def try_remedy(self, title: str, edits: Edits) -> None:
        """Take one that was tried."""
        self.session.edit_many(edits, title[0].lower() + title[1:])

    def open_step(self, step_id: str) -> None:
        """Bring a step whole into view."""
        self._step_id = step_id
        self._show_step(self.steps.cards)
        self.tabs.setCurrentIndex(TABS.index("Step"))

    def _show_step(self, cards: tuple[StepCard, ...]) -> None:
        self.step_page.show_card(next((c for c in cards if c.id == self._step_id), None))

    def tell_step(self, step_id: str, state: str, note: str = "") -> None:
        """What came of a step."""
        steps = [s for s in self.session.project.flying.steps if s.step != step_id]
        if state != "open":
            steps.append(StepDone(step=step_id, state=state, note=note))
        self.session.edit("flying.steps", tuple(steps), f"step {step_id}: {state}")

    def ask_cards(self) -> None:
        """Pick a folder for the cards."""
        folder = QFileDialog.getExistingDirectory(self, "Write the step cards into a folder")
        if folder:
            self.write_cards(Path(folder))

    def write_cards(self, folder: Path) -> None:
        """Write the cards as HTML and PDF; what is there already is replaced, as it was asked for."""
        if self.result is None or self.sight is None:
            return
        try:
            written = write_files(folder, card_files(self.session.engine, self.result), replace=True)
        except FileProblem as err:
            self.steps.note.setText(str(err))
            return
        self.steps.note.setText(f"written: {', '.join(p.name for p in written)}")

    def reveal(self, path: str) -> None:
        """Bring the editor of a field into view."""
        if path.startswith("flying."):
            self.tabs.setCurrentIndex(TABS.index("Settings"))
            self.settings.reveal(path)
