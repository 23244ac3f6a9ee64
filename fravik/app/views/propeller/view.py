"""Propeller: what a printed blade lifts, what it costs, and whether it may spin."""

from __future__ import annotations

from concurrent.futures import Future
from functools import cached_property
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QMenu, QPushButton, QStackedWidget, QToolButton, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.views.beside import AskingView, first_card, two_columns
from fravik.app.views.parts.controls import PartControls
from fravik.app.widgets.basics import Card, clear, scrolled
from fravik.app.widgets.short import ShortButton, Tabs
from fravik.engine.betterblade import Better, better_blades
from fravik.engine.compare import Edits
from fravik.engine.propeller import CAUTION, PropellerSight, propellers, sight_of
from fravik.engine.propellerways import SpunWay, lies_of, ways_out
from fravik.engine.results import Refused
from fravik.kinds.measuring import other_hand
from fravik.kinds.newpart import part_for
from fravik.kinds.printedblades import drawn
from fravik.model.blade import BladeStation
from fravik.model.project import Project
from fravik.shape.measured import Measured, blade_from

from .cards import BladeSectionCard, VerdictCard
from .photograph import Photograph, read_photograph
from .plan import BladePlan
from .plots import AngleCard, LiftCard
from .readings import ReadingsPage
from .solid import BladeScene
from .tables import BesidePage, LiesCard, WaysPage

NONE = ("This craft flies bought propellers. Draw one of your own from the bought one's diameter and pitch, or from readings taken off a "
        "blade with callipers: what it lifts, what it costs and how fast it may spin are told before it turns.")  # fmt: skip
LOW_PX = 560
COLOURS = ("Colour: reserve", "Colour: stall")
WAYS = 1
TABS = ("Beside the bought", "Ways out", "Making, shape", "Readings")


class PropellerView(AskingView):
    """The blade, its angle and its lift at the left; whether it may spin, its section and how it is made at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.part_id = ""
        self.sight: PropellerSight | None = None
        self._looking: tuple[Project, str] | None = None
        self._lies: tuple[SpunWay, ...] = ()
        self._found: tuple[SpunWay, ...] | None = None
        self._better: tuple[Better, ...] | None = None
        self._pick = QTimer(self)
        self._pick.setSingleShot(True)
        self._pick.setInterval(20)
        self._pick.timeout.connect(self._show_section)
        self.first = QPushButton("Draw one")
        self.first.clicked.connect(self.add)
        self.stack = self.either(first_card("A propeller of your own", NONE, self.first, CAUTION), self._page())
        theme.on_change(self._redraw)

    def _page(self) -> QWidget:
        page, left, right = two_columns()
        self.plan, self.angle, self.lift = BladePlan(), AngleCard(), LiftCard()
        self.plan.picked.connect(lambda _: self._pick.start())
        self.plan.moved.connect(self.move_station)
        self.angle.moved.connect(self.move_station)
        left.addWidget(self._blade_card(), 5)
        left.addWidget(self.angle, 4)
        left.addWidget(self.lift, 5)
        self.verdict_card, self.section_card = VerdictCard(), BladeSectionCard()
        right.addWidget(self.verdict_card)
        pair = QHBoxLayout()
        pair.setSpacing(8)
        self.lies = LiesCard(self.use)
        pair.addWidget(self.section_card, 35)
        pair.addWidget(self.lies, 65)
        right.addLayout(pair, 5)
        right.addWidget(self._tabs_card(), 6)
        return page

    def _blade_card(self) -> Card:
        self.blade_card = card = Card("The blade")
        self.colour = QPushButton(COLOURS[0])
        self.colour.setToolTip("Reserve at the motor's most from 0.5 to 3, or how far it is from stall in hover, from -2 to 8°")
        self.colour.setObjectName("quiet")
        self.colour.clicked.connect(self.turn_colour)
        card.head.addWidget(self.colour)
        self.round = QPushButton("In 3D")
        self.round.setObjectName("quiet")
        self.round.clicked.connect(self.turn_picture)
        card.head.addWidget(self.round)
        self.names = QHBoxLayout()
        self.names.setSpacing(4)
        self.group = QButtonGroup(self)
        self.by_hand = QPushButton("By hand")
        self.by_hand.setToolTip("Positions along the blade that can be dragged, in place of the laws")
        self.by_hand.setObjectName("quiet")
        self.by_hand.clicked.connect(self.move_by_hand)
        card.head.addWidget(self.by_hand)
        self.more = QToolButton()
        self.more.setText("+")
        self.more.setAccessibleName("Another propeller")
        self.more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.more)
        for text, call in (("Another like the bought one", self.add), ("This one's other hand", self.add_other_hand)):
            menu.addAction(text, call)
        self.more.setMenu(menu)
        row = QHBoxLayout()
        row.addLayout(self.names, 1)
        row.addWidget(self.more)
        card.column.addLayout(row)
        self.pictures = QStackedWidget()
        self.pictures.addWidget(self.plan)
        card.column.addWidget(self.pictures, 1)
        return card

    @cached_property
    def solid(self) -> BladeScene:
        """The 3D picture, made when it is first looked at."""
        made = BladeScene(self.session, self.plan)
        self.pictures.addWidget(made)
        return made

    def turn_picture(self) -> None:
        """In plan, or in 3D."""
        flat = self.pictures.currentWidget() is self.plan
        self.pictures.setCurrentWidget(self.solid if flat else self.plan)
        self.round.setText("In plan" if flat else "In 3D")
        self.solid.show_sight(self.sight)

    def _tabs_card(self) -> Card:
        card = Card()
        self.beside, self.ways, self.controls, self.readings = (
            BesidePage(), WaysPage(self.use), PartControls(self.session), ReadingsPage(self.session, self.lay_photograph),
        )  # fmt: skip
        self.tabs = Tabs()
        for title, widget in zip(TABS, (scrolled(self.beside), scrolled(self.ways), self.controls, self.readings), strict=True):
            self.tabs.addTab(widget, title)
        self.tabs.currentChanged.connect(lambda k: self._look_for_ways() if k == WAYS else None)
        card.column.addWidget(self.tabs, 1)
        return card

    # what is shown

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.section_card.setVisible(self.height() >= theme.sized(LOW_PX))

    def refresh(self) -> None:
        """Show the propeller in view, worked out beside the window."""
        every = propellers(self.session.project)
        if self.part_id not in {p.id for p in every}:
            self.part_id = every[0].id if every else ""
        self.stack.setCurrentIndex(1 if every else 0)
        if not every or not self.isVisible():
            return
        self._show_names([(p.id, p.name) for p in every])
        self.controls.show_part(self.session.project.part(self.part_id))
        result = self.session.result
        if result is not None and self.part_id in result.parts:
            self.controls.show_hints(result.parts[self.part_id], result)
        self.readings.show_part(self.part_id)
        project, part_id, engine = self.session.project, self.part_id, self.session.engine
        if self._asked == (project, part_id):
            return
        self._asked = project, part_id

        def make() -> PropellerSight | str:
            if self._asked != (project, part_id):
                return ""  # another is wanted by now
            try:
                return sight_of(engine, project, part_id)
            except Refused as err:
                return err.problems[0].message

        self.session.beside.ask(make, lambda found: self._take((project, part_id), found))

    def _take(self, asked: tuple[Project, str], found: Future[PropellerSight | str]) -> None:
        if asked != self._asked:
            return
        answer = found.result()
        self.sight = None if isinstance(answer, str) else answer
        self._lies, self._found, self._better, self._looking = (), None, None, None
        self._redraw()
        if isinstance(answer, str):
            self.verdict_card.words.setText(answer)
            return
        self._spin_others(asked, answer)

    def _spin_others(self, asked: tuple[Project, str], sight: PropellerSight) -> None:
        """Other ways to make it, beside the window, as long as they are wanted; those on a page of their own when it is looked at."""
        engine, project = self.session.engine, asked[0]

        def wanted() -> bool:
            return asked == self._asked and self._on_show

        def lies(found: Future[tuple[SpunWay, ...]]) -> None:
            if asked == self._asked and found.result():
                self._lies = found.result()
                self._show_lies()

        self.session.beside.ask(lambda: lies_of(engine, project, sight, wanted), lies)
        if self.tabs.currentIndex() == WAYS:
            self._look_for_ways()

    def _look_for_ways(self) -> None:
        """What would let it turn faster, and what would hover longer."""
        asked, sight, engine = self._asked, self.sight, self.session.engine
        if not isinstance(asked, tuple) or sight is None or self._looking == asked:
            return
        self._looking = asked

        def wanted() -> bool:
            return asked == self._asked and self._on_show

        def ways(found: Future[tuple[SpunWay, ...]]) -> None:
            if wanted():
                self._found = found.result()
                self._show_ways()

        def better(found: Future[tuple[Better, ...]]) -> None:
            if wanted():
                self._better = found.result()
                self._show_ways()

        self.session.beside.ask(lambda: ways_out(engine, asked[0], sight, wanted), ways)
        self.session.beside.ask(lambda: better_blades(engine, asked[0], sight, wanted), better)

    def _redraw(self) -> None:
        s = self.sight
        if not self.part_id or not any(p.id == self.part_id for p in self.session.project.parts):
            return
        self.by_hand.setVisible(not drawn(self.session.project.part(self.part_id)).stations)
        self.plan.show_sight(s)
        if "solid" in vars(self):
            self.solid.show_sight(s)
        self.angle.show_sight(s, self._measured(), self.session.project.components.propeller.pitch_mm)
        self.lift.show_sight(s)
        self.verdict_card.show_sight(s)
        if s is None:
            return
        self.beside.show_sight(s)
        self._show_lies()
        self._show_ways()
        self._show_section()

    def _measured(self) -> Measured | None:
        shape = drawn(self.session.project.part(self.part_id))
        if not shape.readings:
            return None
        try:
            return blade_from(shape.readings, shape.radius_mm)
        except ValueError:
            return None

    @property
    def spun_all(self) -> bool:
        """Whether all that is shown of the propeller in view is known."""
        return self.sight is not None and self.sight.part.id == self.part_id and bool(self._lies)

    def _show_lies(self) -> None:
        if self.sight is not None:
            self.lies.show_ways(self._lies, self.sight.part.recipe.lies)

    def _show_ways(self) -> None:
        if self.sight is not None:
            self.ways.show_ways(self._found, self._better, self.sight)

    def _show_section(self) -> None:
        if self.sight is not None:
            self.section_card.show_at(self.sight, self.plan.at_mm, self.plan.reserve_at(self.plan.at_mm))

    def _show_names(self, every: list[tuple[str, str]]) -> None:
        there = [(b.property("part"), b.property("whole")) for b in self.group.buttons()]
        if there != every:
            for button in self.group.buttons():
                self.group.removeButton(button)
            clear(self.names)
            for part_id, name in every:
                button = ShortButton(name)
                button.setProperty("part", part_id)
                button.setProperty("whole", name)
                button.setCheckable(True)
                button.setFixedHeight(theme.sized(23))
                button.clicked.connect(lambda _, k=part_id: self.open_part(k))
                self.group.addButton(button)
                self.names.addWidget(button)
            self.names.addStretch(1)
        for button in self.group.buttons():
            button.setChecked(button.property("part") == self.part_id)

    # what the maker does

    def turn_colour(self) -> None:
        """Colour the blade by its reserve, or by how far it is from stall."""
        self.plan.by_stall = not self.plan.by_stall
        self.colour.setText(COLOURS[int(self.plan.by_stall)])
        self.plan.update()
        if "solid" in vars(self):
            self.solid.show_sight(self.sight)

    def lay_photograph(self, path: Path) -> str:
        """Lay a picture under the plan, to trace by; why not, if it is none."""
        image = read_photograph(path)
        if image is None:
            return f"{path.name} is no picture that can be read."
        self.pictures.setCurrentWidget(self.plan)
        self.round.setText("In 3D")
        self.plan.photo = Photograph(image)
        self.plan.update()
        return "Click the middle of the shaft, then the tip, on the photograph; then drag the positions over it."

    def open_part(self, part_id: str) -> None:
        """Bring another propeller into view."""
        self.part_id = part_id
        self.plan.photo = None
        self.refresh()

    def reveal(self, path: str) -> None:
        """Bring the editor of a field into view."""
        names = path.split(".")
        if len(names) > 1 and any(p.id == names[1] for p in propellers(self.session.project)):
            self.open_part(names[1])
        self.tabs.setCurrentIndex(TABS.index("Making, shape"))

    def add(self) -> None:
        """A new one, like the bought."""
        new = part_for("propeller", self.session.project)
        self.part_id = new.id
        self.session.edit("parts", (*self.session.project.parts, new), "propeller drawn")

    def add_other_hand(self) -> None:
        """Its mirror, as a part of its own."""
        project = self.session.project
        new = other_hand(project.part(self.part_id), project)
        self.part_id = new.id
        self.session.edit("parts", (*project.parts, new), "other hand")

    def move_by_hand(self) -> None:
        """Positions in place of the laws."""
        self.readings.move_by_hand()

    def move_station(self, number: int, station: BladeStation) -> None:
        """A position of the blade was dragged."""
        shape = drawn(self.session.project.part(self.part_id))
        every = list(shape.stations)
        if 0 <= number < len(every):
            every[number] = station
            self.session.edit(f"parts.{self.part_id}.shape.stations", tuple(every), "blade moved")

    def use(self, title: str, edits: Edits) -> None:
        """Take a way that was tried."""
        self.session.edit_many(edits, title[0].lower() + title[1:])
