"""Wing: what it carries, how slow and how steady it flies, and whether its spar holds."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import Future

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns
from fravik.app.views.beside import AskingView, first_card, two_columns
from fravik.app.views.parts.controls import PartControls
from fravik.app.widgets.basics import Card, label, scrolled
from fravik.app.widgets.short import Tabs
from fravik.engine.results import Evaluation
from fravik.engine.wing import WingSight, wing_sight
from fravik.engine.wingpicture import panel_pictures, section_at, tip_words
from fravik.kinds.newpart import part_for
from fravik.kinds.wing.geometry import has_wing, panels

from .cards import JointsPage, SparCard, SteadyCard
from .ownsection import OwnSection
from .plan import WingPlan
from .section import WingSection

NONE = ("This craft hangs on its rotors alone. A wing carries it in forward flight for a fraction of the power; what it costs in hover, "
        "in spar "
        "and in weight is told before it is printed.")  # fmt: skip
STARTS = (("Wing, left and right", "wing"), ("Outer wing, on the last panel", "outer"), ("Tail plane", "tail_plane"), ("Fin", "fin"))
TABS = ("Panel", "Joints, hinges")
LOW_PX = 580


class WingView(AskingView):
    """Plan and spar at the left, section, steadiness and the panel's fields at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.part_id = ""
        self.sight: WingSight | None = None
        self.result: Evaluation | None = None
        self._turns = Turns(self)
        self.first = QPushButton("Draw one")
        self.first.clicked.connect(lambda: self.add("wing"))
        self.stack = self.either(first_card("A wing", NONE, self.first), self._page())
        theme.on_change(self._redraw)

    def _page(self) -> QWidget:
        page, left, right = two_columns(11, 9)
        self.plan_card, self.plan = Card("What it carries"), WingPlan()
        self.plan.moved.connect(self._show_section)
        self.plan.picked.connect(self.open_part)
        self.more = QToolButton()
        self.more.setText("+")
        self.more.setAccessibleName("Another panel")
        self.more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.more)
        for text, start in STARTS:
            menu.addAction(text, lambda s=start: self.add(s))
        self.more.setMenu(menu)
        self.plan_card.head.addWidget(self.more)
        self.plan_card.column.addWidget(self.plan, 1)
        left.addWidget(self.plan_card, 6)
        self.spar = SparCard()
        left.addWidget(self.spar, 5)
        pair = QHBoxLayout()
        pair.setSpacing(8)
        self.steady = SteadyCard()
        self.section_card, self.section, self.section_words = Card("Section as printed"), WingSection(), label("", "small", wrap=True)
        self.section_card.column.addWidget(self.section, 1)
        self.section_card.column.addWidget(self.section_words)
        right.addWidget(self.section_card, 2)
        right.addWidget(self.steady)
        self.controls, self.joints = PartControls(self.session), JointsPage()
        tabs_card = Card()
        self.tabs = Tabs()
        own = QWidget()
        column = QVBoxLayout(own)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.controls, 1)
        self.own_section = OwnSection(self.session, lambda: self.part_id)
        column.addWidget(self.own_section)
        for title, widget in zip(TABS, (own, scrolled(self.joints)), strict=True):
            self.tabs.addTab(widget, title)
        tabs_card.column.addWidget(self.tabs, 1)
        right.addWidget(tabs_card, 4)
        return page

    # what is shown

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        low = self.height() < theme.sized(LOW_PX)
        self.steady.balance.setVisible(not low)
        self.section_words.setVisible(not low)

    def refresh(self) -> None:
        """Show the craft's wing, worked out beside the window."""
        project, result = self.session.project, self.session.result
        there = has_wing(project)
        self.stack.setCurrentIndex(1 if there else 0)
        if not there or not self.isVisible():
            return
        every = [p.id for p in panels(project)]
        if self.part_id not in every:
            self.part_id = every[0]
        self.controls.show_part(project.part(self.part_id))
        if result is None or self.session.stale or result.project is not project:
            return
        if self.part_id in result.parts:
            self.controls.show_hints(result.parts[self.part_id], result)
        if self._asked is project:
            return
        self._asked = project
        engine = self.session.engine

        def make() -> WingSight | str | None:
            if self._asked is not project or not self._on_show:
                return ""
            try:
                return wing_sight(engine.memo, result)
            except ValueError as err:
                return str(err)

        self.session.beside.ask(make, lambda found: self._take(project, result, found))

    def _take(self, asked: object, result: Evaluation, found: Future[WingSight | str | None]) -> None:
        if asked is not self._asked:
            return
        answer = found.result()
        if isinstance(answer, str):
            self.section_words.setText(answer)
            answer = None
        self.sight, self.result = answer, result
        self._redraw()

    @property
    def known(self) -> bool:
        """Whether all that is shown is of the design on show."""
        return self.sight is not None and self.result is self.session.result and not self._turns.busy

    def _redraw(self) -> None:
        self._turns.begin(self._drawing())

    def _drawing(self) -> Iterator[None]:
        """A picture in each turn of the window: together they would hold it up."""
        s, result = self.sight, self.result
        if result is None:
            return
        self.plan.part_id = self.part_id
        self.plan.show_sight(s, panel_pictures(result))
        yield
        self.spar.show_sight(s)
        yield
        self.steady.show_sight(s)
        yield
        if s is None:
            return
        self.plan_card.note.setText(f"{100 * s.alone.area_m2:.1f} dm², span {1e3 * s.alone.span_m:.0f} mm, at {s.alone.cruise_m_s:.1f} "
                                    f"m/s · "
                                    "coloured by room to stall")  # fmt: skip
        self.joints.show_sight(s, tip_words(result, s))
        yield
        self._show_section(self.plan.y_mm)

    def _show_section(self, y_mm: float) -> None:
        if self.sight is None or self.result is None:
            return
        picture = section_at(self.result, self.sight, y_mm)
        self.section.show_picture(picture)
        self.section_words.setText(picture.words)
        self.section_card.title.setText(f"Section at {y_mm:.0f} mm")
        self.spar.move_to(y_mm)

    # what the maker does

    def open_part(self, part_id: str) -> None:
        """Bring another panel's fields into view."""
        self.part_id = self.plan.part_id = part_id
        self.plan.update()
        self.refresh()

    def reveal(self, path: str) -> None:
        """Bring the editor of a field into view."""
        names = path.split(".")
        if len(names) > 1 and any(p.id == names[1] for p in panels(self.session.project)):
            self.open_part(names[1])
        self.tabs.setCurrentIndex(1 if "fold" in path or "servo" in path else 0)

    def add(self, start: str) -> None:
        """One more panel."""
        new = part_for(start, self.session.project)
        self.part_id = new.id
        self.session.edit("parts", (*self.session.project.parts, new), "panel added")
