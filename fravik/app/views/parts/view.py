"""The Parts view: part list, picture pages, ruler, section, controls and ways out."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QWIDGETSIZE_MAX,
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.app.turns import Turns
from fravik.app.views.printrun.pauses import add_pause
from fravik.app.widgets.basics import Card, label, set_role
from fravik.app.widgets.ruler import Ruler
from fravik.app.widgets.scene import Actors, Scene
from fravik.app.widgets.section import SectionView
from fravik.app.widgets.short import Choices, Short, ShortButton, share
from fravik.app.widgets.waysout import WaysOut
from fravik.engine.results import Evaluation, PartResult
from fravik.engine.ruler import (
    WORST,
    Shown,
    held_behind_mm,
    judged,
    reserves_of,
    ruler_of,
)
from fravik.engine.why import why
from fravik.kinds import kind_of
from fravik.kinds.framing import owner_of
from fravik.shape.build import Mesh
from fravik.structure.loadcases import case_name
from fravik.study.words import so_many

from .adding import AddsParts
from .bed_page import BedPage
from .controls import PartControls
from .layers_page import LayersPage
from .partwords import lies_text, total_text
from .picks import PartPicks, PiecePicks
from .plastics_page import PlasticsPage
from .ruler_card import RulerCard
from .scene import ReserveKey, draw_part
from .section_card import SectionCard

LOW_PX, LEAST_FOR_NOTE_PX, LEAST_PICTURE_PX, LEAST_STACK_PX, LOW_RULER_PX = 560, 960, 66, 94, 150
PAGES = ("Strength", "On the bed", "Layers", "Filaments")


class PartsView(AddsParts):
    """One part at a time, chosen at the top."""

    def __init__(self, session: Session, settler: Settler) -> None:
        super().__init__()
        self.session, self.settler = session, settler
        self.part_id = session.project.parts[0].id if session.project.parts else ""
        self.case = WORST
        self.piece = 0
        session.opened.connect(self.forget)
        self.columns = grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(8)
        grid.setColumnStretch(0, 1)
        grid.addWidget(self._picture_card(), 0, 0)
        self.ruler_card = RulerCard(session)
        self.pin = self.ruler_card.pin
        self.ruler_card.ruler.position_changed.connect(lambda _: self._show_section())
        self.ruler_card.pinned_anew.connect(self.refresh)
        grid.addWidget(self.ruler_card, 1, 0)
        self.ways = WaysOut(session)
        grid.addWidget(self.ways, 2, 0)
        grid.setRowStretch(0, 10)
        grid.setRowStretch(1, 9)
        right = QVBoxLayout()
        right.setSpacing(8)
        self.section_card = SectionCard()
        self.why = self.section_card.why
        self.figures, self.zone_key = self.section_card.figures, self.section_card.zone_key
        right.addWidget(self.section_card, 4)
        right.addWidget(self._made_card(), 6)
        self.side = QWidget()
        self.side.setLayout(right)
        theme.hold(self.side)
        right.setContentsMargins(0, 0, 0, 0)
        grid.addWidget(self.side, 0, 1, 3, 1)
        self._share()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._share()
        super().resizeEvent(event)

    def _share(self) -> None:
        """The picture is seen in a small window too: what is told around it gives way."""
        low = self.height() < theme.sized(LOW_PX)
        self.side.setFixedWidth(share(self.width(), 0.31, 300, 460))
        self.picks.keep_low(low)
        self.verdict.wrap(not low)
        self.verdict.setMinimumHeight(0 if low else theme.sized(31))  # two lines, so that the picture does not jump between edits
        self.ruler_card.setMinimumHeight(round(LOW_RULER_PX / theme.larger()) if low else theme.sized(196))
        self.ruler_card.setMaximumHeight(round(LOW_RULER_PX / theme.larger()) if low else QWIDGETSIZE_MAX)
        self.note.setVisible(self.width() >= theme.sized(LEAST_FOR_NOTE_PX))
        self.ways.set_low(low)

    def _picture_card(self) -> Card:
        card = Card()
        self.picks = PartPicks()
        self.picks.chosen.connect(self.open_part)
        self.picks.removed.connect(self.drop_part)
        self.picks.added.connect(self.add_part)
        self.picks.mesh_asked.connect(self.ask_mesh)
        card.column.addWidget(self.picks)
        top = QHBoxLayout()
        top.setSpacing(6)
        self.title = label("", "title")
        self.note = Short("", "figureMuted")
        self.pages = QButtonGroup(self)
        top.addWidget(self.title)
        top.addWidget(self.note, 1)
        for i, name in enumerate(PAGES):
            button = ShortButton(name)
            button.setCheckable(True)
            button.setChecked(i == 0)
            button.setFixedHeight(theme.sized(23))
            self.pages.addButton(button, i)
            top.addWidget(button)
        self.pages.idClicked.connect(self.show_page)
        self.cases = Choices()
        self.cases.setToolTip("Load case")
        self.cases.setFixedHeight(theme.sized(23))
        self.cases.setMinimumWidth(theme.sized(104))
        self.cases.setAccessibleName("Load case")
        self.cases.activated.connect(self._pick_case)
        top.addWidget(self.cases)
        card.column.addLayout(top)
        self.verdict = Short("", "problem")
        self.verdict.setAlignment(Qt.AlignmentFlag.AlignTop)
        card.column.addWidget(self.verdict)
        self.stack = QStackedWidget()
        self.stack.setMinimumHeight(LEAST_STACK_PX)  # the tall pages have the ruler's room too
        card.column.addWidget(self.stack, 1)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self._actors = Actors()
        self._turns, self._seen = Turns(self), ""
        self.scene = Scene(self._draw, "The part in 3D, coloured by reserve")
        self.scene.view_from = (-0.55, -1.7, 1.05)
        self.scene.setMinimumHeight(LEAST_PICTURE_PX)
        self.scene.prepare_by(self.session.aside, self._surface)
        column.addWidget(self.scene, 1)
        low = QHBoxLayout()
        self.key = ReserveKey()
        low.addWidget(self.key)
        low.addStretch(1)
        self.piece_picks = PiecePicks()
        self.piece_picks.chosen.connect(self.show_piece)
        low.addWidget(self.piece_picks)
        home = ShortButton("Whole part")
        home.setObjectName("quiet")
        home.clicked.connect(self.scene.home)
        low.addWidget(home)
        column.addLayout(low)
        self.stack.addWidget(page)
        self.bed_page = BedPage(self.session)
        self.plastics_page = PlasticsPage(self.session)
        self.layers_page = LayersPage(self.settler)
        self.layers_page.pause_asked.connect(partial(add_pause, self.session))
        self.settler.changed.connect(self._laid)
        for page in (self.bed_page, self.layers_page, self.plastics_page):
            self.stack.addWidget(page)
        return card

    def _made_card(self) -> Card:
        card = Card()
        self.controls = PartControls(self.session)
        card.column.addWidget(self.controls, 1)
        self.total = label("", "figure")
        card.column.addWidget(self.total)
        return card

    @property
    def read_id(self) -> str:
        """The piece of the part that is read: the part itself, where it is judged as one."""
        result = self.session.result
        pieces = result.pieces_of(self.part_id) if result is not None else ()
        return pieces[min(self.piece, len(pieces) - 1)] if pieces else self.part_id

    @property
    def ruler(self) -> Ruler:
        """The ruler of the part in view."""
        self._turns.finish()
        return self.ruler_card.ruler

    @property
    def section(self) -> SectionView:
        """The section at the ruler's cursor."""
        self._turns.finish()
        return self.section_card.section

    def show_piece(self, index: int) -> None:
        """Read another piece of a part that is judged in pieces."""
        self.piece = index
        self.scene.refit()
        self.ruler_card.ruler.set_position(0.0)
        self.refresh()

    def forget(self) -> None:
        """Another craft is in place: nothing pinned or chosen on the last one counts."""
        self.ruler_card.pinned, self.case, self.part_id = None, WORST, ""
        self.scene.refit()

    def open_part(self, part_id: str) -> None:
        """Bring a part into view, or a piece of one."""
        self.pick(part_id)
        self.refresh()

    def pick(self, part_id: str) -> None:
        """The same at the next refresh."""
        result, part_id, piece = self.session.result, owner_of(part_id), part_id
        pieces = result.pieces_of(part_id) if result is not None else ()
        if piece in pieces and pieces.index(piece) != self.piece:
            self.piece = pieces.index(piece)
            self.scene.refit()
        if part_id != self.part_id:
            self.part_id, self.piece = part_id, pieces.index(piece) if piece in pieces else 0
            self.scene.refit()
            self.ruler_card.ruler.set_position(0.0)

    def reveal(self, path: str) -> None:
        """Bring the page with a field's editor to the front."""
        self.controls.reveal(path)

    def show_page(self, index: int) -> None:
        """Bring one of the picture pages into view."""
        button = self.pages.button(index)
        if button is not None:
            button.setChecked(True)
        self.stack.setCurrentIndex(index)
        self.refresh()

    def _pick_case(self, index: int) -> None:
        self.case = str(self.cases.itemData(index))
        self.refresh()

    def reserves(self) -> Shown | None:
        """The reserves on show."""
        result = self.session.result
        return reserves_of(result, self.read_id, self.case) if result is not None else None

    def refresh(self) -> None:
        """Show the current project."""
        self.ways.refresh_soon()
        project, result = self.session.project, self.session.result
        if self.part_id not in {p.id for p in project.parts}:
            self.part_id = project.parts[0].id if project.parts else ""
        self.picks.show_parts(project.parts, self.part_id)
        shown = result.parts.get(self.part_id) if result is not None else None
        if not self.part_id or result is None or shown is None:
            self._show_nothing()
            return
        part = project.part(self.part_id)
        self.title.setText(part.name)
        self.note.setText(f"{so_many(part.count)} · {lies_text(shown)}")
        self._offer_pages(shown.printed)
        self._show_pieces(result)
        self.controls.show_part(part)
        self.controls.show_hints(shown, result)
        self._show_total(shown)
        self._show_cases(result)
        self._show_verdict(result)
        self._show_page(result)
        self._turns.begin((self._show_ruler, self._show_section))
        if self.isVisible() and self._seen == self.read_id:
            self._turns.finish()
        self._seen = self.read_id  # another part shows its fields first, what is read along it in turns of their own

    def _show_pieces(self, result: Evaluation) -> None:
        names = [result.pieces[k].part.name.rsplit(", ", 1)[-1].capitalize() for k in result.pieces_of(self.part_id)]
        self.piece_picks.show_pieces(names if len(names) > 1 else (), self.piece)

    def _offer_pages(self, printed: bool) -> None:
        """How it lies, its layers and its plastic are asked of what is printed alone."""
        for i in range(1, len(PAGES)):
            button = self.pages.button(i)
            if button is not None:
                button.setVisible(printed)
        first = self.pages.button(0)
        if not printed and self.stack.currentIndex() > 0 and first is not None:
            first.setChecked(True)
            self.stack.setCurrentIndex(0)

    def _show_nothing(self) -> None:
        """The part's fields alone: the design has no figures."""
        self._turns.stop()
        self.section_card.setVisible(False)
        self.ruler_card.setVisible(False)
        self.total.setText("not known yet")
        self.cases.setEnabled(False)
        self.key.setVisible(False)
        self.verdict.setVisible(True)
        set_role(self.verdict, "muted")
        if self.part_id:
            part = self.session.project.part(self.part_id)
            self.title.setText(part.name)
            self.note.setText(so_many(part.count))
            self.controls.show_part(part)
            self.verdict.setText("Not judged: the design contradicts itself. What is marked in the fields has to be put right first.")
        else:
            self.title.setText("No part")
            self.note.setText("")
            self.verdict.setText("This craft has no part yet. Add one with the +.")
        self.scene.invalidate()

    def _laid(self) -> None:
        result = self.session.result
        if result is not None and self.part_id in result.parts and self.isVisible():
            self._show_total(result.parts[self.part_id])

    def _show_total(self, shown: PartResult) -> None:
        """Grams, minutes and price of one copy: from its roads when they are laid, else counted, and marked so."""
        settled = self.settler.settled
        job = settled.jobs.get(self.part_id) if settled is not None and self.settler.fresh else None
        self.total.setText(total_text(shown, job, self.session.project.brief.currency) + ("  (last good)" if self.session.stale else ""))

    def showEvent(self, event: QShowEvent | None) -> None:
        """The comparing pages work only while they are seen."""
        super().showEvent(event)
        result = self.session.result
        if self.stack.currentIndex() and result is not None and self.part_id in result.parts:
            self._show_page(result)

    def _show_page(self, result: Evaluation) -> None:
        page = self.stack.currentIndex()
        if page == 1:
            self.bed_page.show_part(self.part_id, result)
        elif page == 2:
            self.layers_page.show_part(self.part_id)
        elif page == 3:
            self.plastics_page.show_part(self.part_id, result)
        else:
            self.bed_page.stepper.stop()
            self.plastics_page.stepper.stop()
            self.scene.invalidate()

    def _show_cases(self, result: Evaluation) -> None:
        found = judged(result, self.read_id)
        names = [WORST, *(found.cases["typical"] if found is not None else ())]
        called = [case_name(n, result.project.brief.own_cases) for n in names]
        called = [c[:1].upper() + c[1:] for c in called]
        shown = [(self.cases.itemData(i), self.cases.itemText(i)) for i in range(self.cases.count())]
        if shown != list(zip(names, called, strict=True)):
            self.cases.clear()
            for n, text in zip(names, called, strict=True):
                self.cases.addItem(text, n)
        if self.case not in names:
            self.case = names[0]
        self.cases.setCurrentIndex(names.index(self.case))
        self.cases.setEnabled(found is not None)
        self.key.setVisible(found is not None)

    def _show_verdict(self, result: Evaluation) -> None:
        """What is found of the part, and room for the ruler if it has one."""
        ruler, shown = ruler_of(result, self.read_id), self.reserves()
        self.section_card.setVisible(ruler is not None)
        # the comparing pages need the room; the section keeps its station
        reads = ruler is not None and self.stack.currentIndex() == 0
        self.ruler_card.setVisible(reads)
        self.columns.setRowStretch(1, 9 if reads else 0)
        self.verdict.setVisible(reads or ruler is None or shown is None)  # told once, beside the picture that it is about
        if ruler is None or shown is None:
            set_role(self.verdict, "muted")
            self.verdict.setText(result.scope.structure or kind_of(self.session.project.part(self.part_id).shape).unjudged)
            return
        set_role(self.verdict, "problem" if shown.reserve < 1 else "muted")
        self.verdict.setText(why(result, self.read_id, shown))

    def _show_ruler(self) -> None:
        result, shown = self.session.result, self.reserves()
        ruler = ruler_of(result, self.read_id) if result is not None else None
        if ruler is not None and shown is not None:
            self.ruler_card.show_part(ruler, shown, self.part_id, self.read_id, self.case)

    def _show_section(self) -> None:
        result = self.session.result
        if result is not None:
            self.section_card.show_at(result, self.read_id, self.case, self.ruler_card.ruler)

    def _surface(self) -> Callable[[], tuple[Mesh | None, Mesh, Any]] | None:
        """How to come by the surfaces and edges that the picture shows; fine where reserves are coloured."""
        result, engine = self.session.result, self.session.engine
        if result is None or self.read_id not in result.pieces:
            return None
        given = result.pieces[self.read_id].given
        found = judged(result, self.read_id)
        if found is None:
            return lambda: (None, engine.mesh(given), engine.edges(given))
        return lambda: (*engine.coloured_meshes(given, held_behind_mm(found)), engine.edges(given))

    def _draw(self, plotter: Any) -> None:
        result = self.session.result
        if result is None or self.read_id not in result.pieces or self.scene.prepared is None:
            return
        held, mesh, edges = self.scene.prepared
        given = result.pieces[self.read_id].given
        draw_part(plotter, self._actors, given, held, mesh, edges, judged(result, self.read_id), self.reserves())
