"""The Print run view: the plate in layers, what goes wrong on it, where the minutes go, and the schedule."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QTabWidget, QWidget

from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.app.widgets.basics import Card, clear, label, set_role
from fravik.engine.plateview import PlateView, plate_of
from fravik.model.run import PlateWish
from fravik.study.words import clock

from .bars import ScheduleBars
from .controls import LayingPage, RunPage
from .scrubber import LayerScrubber
from .shells import ShellPage
from .standin import StandInPage
from .troubles import TroubleList


class PrintRunView(QWidget):
    """One plate at a time, chosen at the top; the schedule of all of them below."""

    export_asked = pyqtSignal()
    gcode_asked = pyqtSignal()

    def __init__(self, session: Session, settler: Settler) -> None:
        super().__init__()
        self.session, self.settler = session, settler
        self.plate_id = ""
        self.plate: PlateView | None = None
        self.picked_pin = 0
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(8)
        grid.setColumnStretch(0, 1)
        grid.setRowStretch(0, 10)
        grid.setRowStretch(1, 2)
        grid.addWidget(self._plate_card(), 0, 0)
        grid.addWidget(self._schedule_card(), 1, 0)
        grid.addWidget(self._side_card(), 0, 1, 2, 1)

    def _plate_card(self) -> Card:
        card = Card()
        top = QHBoxLayout()
        top.setSpacing(5)
        self.picks = QHBoxLayout()
        self.picks.setSpacing(5)
        top.addLayout(self.picks)
        top.addStretch(1)
        self.state = label("", "figureMuted")
        top.addWidget(self.state)
        self.stop_button = QPushButton("Stop")
        self.stop_button.setFixedHeight(23)
        self.stop_button.clicked.connect(lambda: self.settler.cancel() if self.settler.busy is not None else self.settler.ask())
        top.addWidget(self.stop_button)
        card.column.addLayout(top)
        self.pick_buttons: dict[str, QPushButton] = {}
        self.what = label("", "figureMuted")
        self.what.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        card.column.addWidget(self.what)
        self.scrubber = LayerScrubber()
        self.picture, self.slider, self.where = self.scrubber.picture, self.scrubber.slider, self.scrubber.where
        self.play_button, self.minutes, self.show_layer = self.scrubber.play_button, self.scrubber.minutes, self.scrubber.show_layer
        self.picture.pin_clicked.connect(self.show_pin)
        card.column.addWidget(self.scrubber, 1)
        return card

    def _schedule_card(self) -> Card:
        card = Card("When it comes off")
        self.schedule_card = card
        self.reset = QPushButton("Undo drags")
        self.reset.setObjectName("quiet")
        self.reset.clicked.connect(lambda: self.session.edit("run.wishes", (), "drags undone"))
        card.head.addWidget(self.reset)
        for text, asked in (("Set G-code beside it…", self.gcode_asked), ("Export the run…", self.export_asked)):
            button = QPushButton(text)
            button.setObjectName("quiet")
            button.clicked.connect(asked)
            card.head.addWidget(button)
        self.bars = ScheduleBars()
        self.bars.plate_picked.connect(self.open_plate)
        self.bars.plate_moved.connect(self._move_plate)
        card.column.addWidget(self.bars, 1)
        return card

    def _side_card(self) -> Card:
        card = Card()
        card.setFixedWidth(352)
        self.tabs = QTabWidget()
        self.tabs.setDocumentMode(True)  # no frame round the pages
        self.troubles = TroubleList()
        self.troubles.picked.connect(self.show_pin)
        self.laying = LayingPage(self.session)
        self.run_page = RunPage(self.session, self.settler)
        self.tabs.addTab(self.troubles, "Goes wrong")
        self.tabs.addTab(self.laying, "Laying")
        self.standin = StandInPage(self.session, self.settler)
        self.standin.layer_reached.connect(self._follow)
        self.tabs.addTab(self.run_page, "Run")
        self.tabs.addTab(self.standin, "Printer")
        self.shells = ShellPage(self.session)
        self.tabs.addTab(self.shells, "Shells")
        card.column.addWidget(self.tabs, 1)
        return card

    def refresh(self) -> None:
        """Show the current project and what is settled of it."""
        self.laying.refresh()
        self.run_page.refresh()
        self.shells.refresh()
        settled = self.settler.settled
        self.show_state()
        for card in (self.scrubber, self.bars):
            card.setVisible(settled is not None)
        if settled is None:
            self.plate, self.plate_id, self.picked_pin = None, "", 0
            self._show_picks()
            self.troubles.show_plate(None, (), 0)
            self.standin.show_plate(None)
            self.what.setText("Not laid yet.")
            self.schedule_card.note.setText("")
            self.reset.setVisible(False)
            return
        found = plate_of(settled, self.plate_id)
        if found is None or self.plate is None or found.plate != self.plate.plate or self.plate.settled is not settled:
            self.plate = found
            self.plate_id = found.plate.id if found is not None else ""
        self._show_picks()
        notes = (*settled.schedule.notes, *(p.message for p in settled.problems))
        self.troubles.show_plate(self.plate, notes, self.picked_pin)
        self._show_plate()
        self.standin.show_plate(self.plate)
        self.bars.show_schedule(settled.schedule, settled.project.run, self.plate_id)
        late = settled.schedule.late_h
        spare = f"{clock(-late * 60)} to spare" if late <= 0 else f"{clock(late * 60)} late: add a printer, a night, or fewer parts"
        self.schedule_card.note.setText(f"ready {self.bars.when(settled.schedule.ready_h)} · {spare}")
        set_role(self.schedule_card.note, "figureMuted" if late <= 0 else "problem")
        self.reset.setVisible(bool(settled.project.run.wishes))

    def show_state(self) -> None:
        """Say how far the layers are."""
        s = self.settler
        if self.session.stale:
            self.state.setText("last good layers: the design contradicts itself")
        elif s.busy is not None:
            done, total = s.busy
            self.state.setText(f"laying the layers, {done / max(total, 1):.0%}")
        elif s.message:
            self.state.setText(s.message)
        else:
            self.state.setText("settled" if s.fresh else "layers of the design before the last edit")
        self.stop_button.setText("Stop" if s.busy is not None else "Lay the layers")
        self.stop_button.setVisible(s.busy is not None or s.idle)

    def _show_picks(self) -> None:
        settled = self.settler.settled
        plates = settled.plates.plates if settled is not None else ()
        if list(self.pick_buttons) != [p.id for p in plates]:
            clear(self.picks)
            self.pick_buttons = {}
            for p in plates:
                button = QPushButton(p.id.capitalize())
                button.setCheckable(True)
                button.setFixedHeight(24)
                button.clicked.connect(lambda _=False, i=p.id: self.open_plate(i))
                self.pick_buttons[p.id] = button
                self.picks.addWidget(button)
        for key, button in self.pick_buttons.items():
            button.setChecked(key == self.plate_id)

    def _show_plate(self) -> None:
        plate = self.plate
        self.picture.picked_pin = self.picked_pin
        self.scrubber.show_plate(plate)
        if plate is None:
            left = "All that the craft needs has come off good. Clear the record under Printer to plan it anew."
            self.what.setText(left if self.session.project.run.records else "Nothing is left to print.")
            self.scrubber.setVisible(False)
            return
        self.scrubber.setVisible(True)
        counts = {k: sum(c.part_id == k for c in plate.plate.copies) for k in plate.parts}
        names = [f"{n} × {k}" if n > 1 else k for k, n in counts.items()]
        printer = next(p.name for p in plate.settled.project.printers if p.id == plate.plate.printer_id)
        self.what.setText(f"{printer} · {plate.plate.filament.name} · {', '.join(names)} · {clock(plate.plate.minutes)} · "
                          f"{plate.plate.grams:.0f} g")  # fmt: skip

    def open_plate(self, plate_id: str) -> None:
        """Bring a plate into view."""
        if plate_id != self.plate_id:
            self.plate_id, self.picked_pin, self.plate = plate_id, 0, None
            self.scrubber.hold()
        self.refresh()

    def reveal(self, path: str) -> None:
        """Bring the plate with a part into view."""
        settled, part_id = self.settler.settled, path.split(".")[1] if path.startswith("parts.") else ""
        plates = settled.plates.plates if settled is not None else ()
        here = next((p for p in plates if any(c.part_id == part_id for c in p.copies)), None)
        if here is not None:
            self.open_plate(here.id)

    def show_pin(self, number: int) -> None:
        """Show a trouble at its place and layer."""
        if self.plate is None:
            return
        pin = next((p for p in self.plate.pins if p.number == number), None)
        self.picked_pin = 0 if pin is None or number == self.picked_pin else number
        self.refresh()
        if pin is not None and self.picked_pin:
            self.show_layer(self.plate.index_at(pin.trouble.place_mm[2]))
            self.laying.show_part(pin.part_id)

    def _follow(self, plate_id: str, layer: int) -> None:
        """The simulated printer has come to a layer."""
        if plate_id == self.plate_id and self.tabs.currentWidget() is self.standin:
            self.show_layer(max(0, layer - 1))

    def _move_plate(self, plate_id: str, start_h: float) -> None:
        kept = tuple(w for w in self.session.project.run.wishes if w.id != plate_id)
        self.session.edit("run.wishes", (*kept, PlateWish(id=plate_id, start_h=start_h)), f"{plate_id} not before {start_h:g} h")
