"""The Print run view: the batches, one on its bed beside its height, what is foreseen of it, and the schedule."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QPushButton, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.app.widgets.basics import Card, label, set_role
from fravik.app.widgets.short import Short, Tabs
from fravik.engine.batchview import BatchView, batch_of, batches
from fravik.model.run import BatchWish, PartOnPrinter
from fravik.study.words import clock

from .batches import BatchList
from .controls import LayingPage, RunPage
from .pauses import add_pause
from .schedulebars import ScheduleBars
from .scrubber import LayerScrubber, ruler_card
from .shells import ShellPage
from .standin import StandInPage
from .troubles import TroubleList

# of batches, ruler and what is foreseen, where the view is at least so wide, px
WISHES = ("wishes", "order", "on_printer")  # what was dragged
WIDTHS = (((230, 190, 352), 1500), ((206, 160, 312), 1100), ((170, 116, 270), 0))


class PrintRunView(QWidget):
    """One batch at a time, chosen at the left; the schedule of all of them below."""

    export_asked = pyqtSignal()
    gcode_asked = pyqtSignal()

    def __init__(self, session: Session, settler: Settler) -> None:
        super().__init__()
        self.session, self.settler = session, settler
        self.batch_id = ""
        self.batch: BatchView | None = None
        self.picked_pin = 0
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setSpacing(8)
        self.grid.setColumnStretch(1, 1)
        self.grid.setRowStretch(0, 10)
        self.grid.setRowStretch(1, 2)
        self.left, self.side = self._batch_card(), self._side_card()
        self.grid.addWidget(self.left, 0, 0)
        self.grid.addWidget(self._bed_card(), 0, 1)
        self.up = ruler_card(self.scrubber.ruler)
        self.grid.addWidget(self.up, 0, 2)
        self.grid.addWidget(self.side, 0, 3)
        self.grid.addWidget(self._schedule_card(), 1, 0, 1, 4)
        self._share()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._share()
        super().resizeEvent(event)

    def _share(self) -> None:
        """The outer columns give way in a narrow window: the bed has to be seen."""
        for widths, least in WIDTHS:
            if self.width() >= theme.sized(least):
                for card, wide in zip((self.left, self.up, self.side), widths, strict=True):
                    card.setFixedWidth(theme.sized(wide) if least else wide)
                return

    def _pause_at(self, height_mm: float) -> None:
        """Pause the batch with a height laid: said of the part in view where it grows there, or else of the first that does."""
        if self.batch is not None:
            growing = [k for k in self.batch.parts if float(self.batch.job(k).layers.top_mm[-1]) > height_mm]
            mine = self.laying.part_id if self.laying.part_id in growing else next(iter(growing), "")
            if mine:
                add_pause(self.session, mine, height_mm)

    def _pause_part(self, part_id: str) -> None:
        """Pause with the layer on show done, where the part is on show; halfway up it where it is not."""
        settled = self.settler.settled
        if self.batch is not None and part_id in self.batch.parts:
            add_pause(self.session, part_id, float(self.batch.tops_mm[min(self.picture.index, len(self.batch.tops_mm) - 1)]))
        elif settled is not None and part_id in settled.jobs:
            add_pause(self.session, part_id, float(settled.jobs[part_id].layers.top_mm[-1]) / 2)

    def _batch_card(self) -> Card:
        card = Card("Batches")
        card.note.setText("as they print")
        self.batches = BatchList()
        self.batches.picked.connect(self.open_batch)
        self.batches.moved.connect(self._reorder)
        self.batches.put_on.connect(self._put_on)
        card.column.addWidget(self.batches, 1)
        return card

    def _bed_card(self) -> Card:
        card = Card("The bed")
        self.bed_card = card
        self.state = label("", "figureMuted")
        card.head.addWidget(self.state)
        self.stop_button = QPushButton("Stop")
        self.stop_button.setFixedHeight(theme.sized(23))
        self.stop_button.clicked.connect(lambda: self.settler.cancel() if self.settler.busy is not None else self.settler.ask())
        card.head.addWidget(self.stop_button)
        self.what = Short("", "figureMuted")
        card.column.addWidget(self.what)
        self.scrubber = LayerScrubber(beside=False)
        self.picture, self.where, self.ruler = self.scrubber.picture, self.scrubber.where, self.scrubber.ruler
        self.play_button, self.show_layer = self.scrubber.play_button, self.scrubber.show_layer
        self.picture.pin_clicked.connect(self.show_pin)
        self.ruler.pause_asked.connect(self._pause_at)
        card.column.addWidget(self.scrubber, 1)
        return card

    def _schedule_card(self) -> Card:
        card = Card("When it comes off")
        self.schedule_card = card
        self.reset = QPushButton("Plan as before")
        self.reset.setObjectName("quiet")
        self.reset.setToolTip("Take back what was dragged: the order of the batches, when they begin, and on which printer")
        self.reset.clicked.connect(lambda: self.session.edit_many(tuple((f"run.{n}", ()) for n in WISHES), "planned as before"))
        card.head.addWidget(self.reset)
        for text, asked in (("Compare with a G-code file…", self.gcode_asked), ("Export the run…", self.export_asked)):
            button = QPushButton(text)
            button.setObjectName("quiet")
            button.clicked.connect(asked)
            card.head.addWidget(button)
        self.bars = ScheduleBars()
        self.bars.batch_picked.connect(self.open_batch)
        self.bars.batch_moved.connect(self._move_batch)
        card.column.addWidget(self.bars, 1)
        return card

    def _side_card(self) -> Card:
        card = Card()
        self.tabs = Tabs()
        self.tabs.setObjectName("near")
        self.troubles = TroubleList()
        self.troubles.picked.connect(self.show_pin)
        self.laying = LayingPage(self.session)
        self.laying.pause_asked.connect(self._pause_part)
        self.run_page = RunPage(self.session, self.settler)
        self.tabs.addTab(self.troubles, "Foreseen")
        self.tabs.addTab(self.laying, "Parts")
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
            self.batch, self.batch_id, self.picked_pin = None, "", 0
            self._show_picks()
            self.up.setVisible(False)
            self.troubles.show_batch(None, (), 0)
            self.standin.show_batch(None)
            self.what.setText("Not laid yet.")
            self.schedule_card.note.setText("")
            self.reset.setVisible(False)
            return
        found = batch_of(settled, self.batch_id or next((b.batch.id for b in batches(settled)), ""))
        if found is None or self.batch is None or found.batch != self.batch.batch or self.batch.settled is not settled:
            self.batch = found
            self.batch_id = found.batch.id if found is not None else ""
        self._show_picks()
        notes = (*settled.schedule.notes, *(p.message for p in settled.problems))
        self.troubles.show_batch(self.batch, notes, self.picked_pin)
        self._show_batch()
        self.standin.show_batch(self.batch)
        self.bars.show_schedule(settled.schedule, settled.project.run, self.batch_id)
        late, run = settled.schedule.late_h, settled.project.run
        spare = f"{clock(-late * 60)} to spare" if late <= 0 else f"{clock(late * 60)} late: add a printer, a night, or fewer parts"
        hands = f"{clock(settled.schedule.hands_h * 60)} by hand"
        self.schedule_card.note.setText(f"ready {self.bars.when(settled.schedule.ready_h)} · {spare} · {hands} · hatched: nobody is there")
        set_role(self.schedule_card.note, "figureMuted" if late <= 0 else "problem")
        self.reset.setVisible(bool(run.wishes or run.order or run.on_printer))

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
            self.state.setText("" if s.fresh else "layers of the design before the last edit")
        self.stop_button.setText("Stop" if s.busy is not None else "Lay the layers")
        self.stop_button.setVisible(s.busy is not None or s.idle)

    def _show_picks(self) -> None:
        settled = self.settler.settled
        self.batches.show_batches(batches(settled) if settled is not None else (), self.batch_id)

    def _show_batch(self) -> None:
        batch = self.batch
        self.picture.picked_pin = self.picked_pin
        self.scrubber.show_batch(batch)
        self.up.setVisible(batch is not None)
        self.scrubber.setVisible(batch is not None)
        if batch is None:
            left = "All that the craft needs has come off good. Clear the record under Printer to plan it anew."
            self.bed_card.title.setText("The bed")
            self.what.setText(left if self.session.project.run.records else "Nothing is left to print.")
            return
        self.bed_card.title.setText(batch.title)
        bed = f"{batch.printer.bed_x_mm:.0f} × {batch.printer.bed_y_mm:.0f} mm"
        self.what.setText(f"{batch.batch.filament.name} on the {batch.printer.name}, {bed} · {' · '.join(batch.words[:2])}")

    def _reorder(self, batch_id: str, place: int) -> None:
        order = [b for b in self.batches.cards if b != batch_id]
        order.insert(place, batch_id)
        self.session.edit("run.order", tuple(order), "batches reordered")

    def _put_on(self, batch_id: str, printer_id: str) -> None:
        """What is in a batch goes on another printer."""
        batch = self.batches.cards[batch_id].batch
        kept = tuple(w for w in self.session.project.run.on_printer if w.id not in batch.parts)
        name = next(q.name for q in self.session.project.printers if q.id == printer_id)
        wishes = (*kept, *(PartOnPrinter(id=p, printer=printer_id) for p in batch.parts))
        self.session.edit("run.on_printer", wishes, f"{batch.title.lower()} on the {name}")

    def open_batch(self, batch_id: str) -> None:
        """Bring a batch into view."""
        if batch_id != self.batch_id:
            self.batch_id, self.picked_pin, self.batch = batch_id, 0, None
            self.scrubber.hold()
        self.refresh()

    def reveal(self, path: str) -> None:
        """Bring the batch with a part into view."""
        settled, part_id = self.settler.settled, path.split(".")[1] if path.startswith("parts.") else ""
        batches = settled.batches.batches if settled is not None else ()
        here = next((p for p in batches if any(c.part_id == part_id for c in p.copies)), None)
        if here is not None:
            self.open_batch(here.id)

    def show_pin(self, number: int) -> None:
        """Show a trouble at its place and layer."""
        if self.batch is None:
            return
        pin = next((p for p in self.batch.pins if p.number == number), None)
        self.picked_pin = 0 if pin is None or number == self.picked_pin else number
        self.refresh()
        if pin is not None and self.picked_pin:
            self.show_layer(self.batch.index_at(pin.trouble.place_mm[2]))
            self.laying.show_part(pin.part_id)

    def _follow(self, batch_id: str, layer: int) -> None:
        """The simulated printer has come to a layer."""
        if batch_id == self.batch_id and self.tabs.currentWidget() is self.standin:
            self.show_layer(max(0, layer - 1))

    def _move_batch(self, batch_id: str, start_h: float) -> None:
        kept = tuple(w for w in self.session.project.run.wishes if w.id != batch_id)
        self.session.edit("run.wishes", (*kept, BatchWish(id=batch_id, start_h=start_h)), f"batch not before {start_h:g} h")
