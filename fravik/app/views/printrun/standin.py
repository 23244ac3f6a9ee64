"""The simulated printer beside the plan: start a batch, watch it, let it go wrong, weigh what comes off and keep the record."""

from __future__ import annotations

import time

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QProgressBar, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.app.widgets.basics import clear, label, scrolled, set_role
from fravik.engine.batchview import BatchView
from fravik.engine.runrecord import batch_task, came_off, weighing_of
from fravik.plan.record import learned_ratios
from fravik.standin.printer import BatchTask, SimulatedPrinter, SimulatedScale
from fravik.study.words import clock

TICK_MS = 120
PACES = ((60, "a minute a second"), (600, "ten minutes a second"), (3600, "an hour a second"))
FAULTS = (("clog", "Clog"), ("spool empty", "Run out"), ("comes loose", "Come loose"), ("power loss", "Power cut"))


class StandInPage(QWidget):
    """One simulated printer for each printer of the run; shows the one of the batch on show."""

    layer_reached = pyqtSignal(str, int)

    def __init__(self, session: Session, settler: Settler) -> None:
        super().__init__()
        self.session, self.settler = session, settler
        session.opened.connect(self.forget)
        self.printers: dict[str, SimulatedPrinter] = {}
        self.scale = SimulatedScale()
        self.weighed: dict[str, float] = {}
        self.batch: BatchView | None = None
        self._kept: dict[str, BatchTask] = {}
        self._then = 0.0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(5)
        column.addWidget(label("A simulated printer: it has a pace and a flow of its own that you can learn.", "small", wrap=True))
        row = QHBoxLayout()
        self.start_button = QPushButton("Print this batch")
        self.start_button.clicked.connect(self.start)
        self.pace = QComboBox()
        self.pace.setAccessibleName("Pace of the simulation")
        for factor, words in PACES:
            self.pace.addItem(words, factor)
        self.pace.setCurrentIndex(2)
        row.addWidget(self.start_button, 1)
        row.addWidget(self.pace)
        column.addLayout(row)
        self.state = label("", "figure", wrap=True)
        column.addWidget(self.state)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(8)
        self.bar.setAccessibleName("Layers printed")
        column.addWidget(self.bar)
        self.note = label("", "small", wrap=True)
        column.addWidget(self.note)
        column.addLayout(self._fault_row())
        self.results = QVBoxLayout()
        self.results.setSpacing(3)
        page = QWidget()
        inner = QVBoxLayout(page)
        inner.setContentsMargins(0, 0, 4, 0)
        inner.addLayout(self.results)
        inner.addStretch(1)
        column.addWidget(scrolled(page), 1)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._shown: object = None

    def forget(self) -> None:
        """Another craft is in place: its printers are new, with nothing on them."""
        self._timer.stop()
        self.printers, self.weighed, self._kept, self._shown = {}, {}, {}, None

    def _fault_row(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(4)
        self.fault_buttons: dict[str, QPushButton] = {}
        for i, (fault, words) in enumerate(FAULTS):
            button = QPushButton(words)
            button.setFixedHeight(theme.sized(22))
            button.setToolTip(f"Let it go wrong: {words.lower()}")
            button.clicked.connect(lambda _=False, f=fault: self.go_wrong(f))
            self.fault_buttons[fault] = button
            grid.addWidget(button, 0, i)
        self.go_button = QPushButton("Go on")
        self.go_button.clicked.connect(self.go_on)
        self.stop_button = QPushButton("Give it up")
        self.stop_button.clicked.connect(self.give_up)
        grid.addWidget(self.go_button, 1, 0, 1, 2)
        grid.addWidget(self.stop_button, 1, 2, 1, 2)
        return grid

    def printer(self) -> SimulatedPrinter | None:
        """The machine of the batch on show."""
        if self.batch is None:
            return None
        name = self.batch.batch.printer_id
        if name not in self.printers:
            self.printers[name] = SimulatedPrinter(seed=11 + len(self.printers))
        return self.printers[name]

    def show_batch(self, batch: BatchView | None) -> None:
        """Another batch is on show."""
        self.batch = batch
        self.refresh()

    def start(self) -> None:
        """Give the batch to the printer."""
        printer = self.printer()
        if printer is None or self.batch is None:
            return
        try:
            printer.start(batch_task(self.batch))
        except ValueError as err:
            self.note.setText(str(err))
            return
        self.weighed = {}
        self._then = time.monotonic()
        self._timer.start()
        self.refresh()

    def pass_time(self, seconds: float) -> None:
        """Let the machine's own time pass."""
        for printer in self.printers.values():
            printer.advance(seconds)
        self.refresh()

    def _tick(self) -> None:
        now = time.monotonic()
        self.pass_time((now - self._then) * float(self.pace.currentData()))
        self._then = now
        if not any(p.phase in ("warming", "printing") for p in self.printers.values()):
            self._timer.stop()
        printer = self.printer()
        if printer is not None and printer.task is not None and printer.phase == "printing":
            self.layer_reached.emit(printer.task.batch_id, printer.layer)

    def go_wrong(self, fault: str) -> None:
        """Make something happen."""
        printer = self.printer()
        if printer is not None:
            printer.go_wrong(fault)  # type: ignore[arg-type]
        self.refresh()

    def go_on(self) -> None:
        """Carry on after a wait."""
        printer = self.printer()
        if printer is not None:
            printer.go_on()
            self._then = time.monotonic()
            self._timer.start()
        self.refresh()

    def give_up(self) -> None:
        """Stop the batch."""
        printer = self.printer()
        if printer is not None:
            printer.give_up()
        self.refresh()

    def weigh(self, key: str) -> None:
        """Put a copy on the simulated scale."""
        printer = self.printer()
        if printer is not None:
            self.weighed.update({o.copy.key: self.scale.read_g(o.grams) for o in printer.outcomes() if o.copy.key == key and o.good})
        self.refresh()

    def keep(self) -> None:
        """Take what came off into the record; what failed is planned again."""
        printer = self.printer()
        if printer is None or printer.task is None or not printer.outcomes():
            return
        self._kept[printer.task.printer_id] = printer.task
        edits = came_off(self.session.project, printer.task, printer.outcomes(), printer.elapsed_s, self.weighed)
        self.session.edit_many(edits, f"{printer.task.batch_id} came off")
        self.refresh()

    def _is_kept(self, printer: SimulatedPrinter) -> bool:
        """Whether what the machine printed last is in the record."""
        return printer.task is not None and self._kept.get(printer.task.printer_id) is printer.task

    def refresh(self) -> None:
        """Show the machine's state and the record."""
        printer = self.printer()
        if printer is None:
            self.start_button.setEnabled(False)
            self._fill()
            return
        s = printer.state()
        busy = s.phase in ("warming", "printing", "waiting")
        ready = bool(printer.outcomes()) and not self._is_kept(printer)
        self.start_button.setEnabled(not busy and not ready and self.settler.fresh)
        name = next((p.name for p in self.session.project.printers if self.batch and p.id == self.batch.batch.printer_id), "Printer")
        what = printer.task.batch_id if printer.task is not None and s.phase != "idle" else "no batch"
        self.state.setText(f"{name}: {what}, {s.phase}\nnozzle {s.nozzle_c:.0f} °C · bed {s.bed_c:.0f} °C\n"
                           f"layer {s.layer} of {s.layers} · {clock(s.minutes_left)} left")  # fmt: skip
        self.bar.setRange(0, max(1, s.layers))
        self.bar.setValue(s.layer)
        self.note.setText(s.note)
        set_role(self.note, "problem" if s.phase in ("waiting", "stopped") else "small")
        for button in self.fault_buttons.values():
            button.setEnabled(s.phase == "printing")
        self.go_button.setVisible(s.phase == "waiting")
        self.stop_button.setVisible(busy)
        self._fill()

    def _fill(self) -> None:
        printer, records = self.printer(), self.session.project.run.records
        outcomes = printer.outcomes() if printer is not None and not self._is_kept(printer) else ()
        key = (outcomes, tuple(self.weighed.items()), records, id(self.settler.settled))
        if key == self._shown:
            return
        self._shown = key
        clear(self.results)
        self.weigh_buttons: dict[str, QPushButton] = {}
        if outcomes:
            self.results.addWidget(label("What came off", "heading"))
            for o in outcomes:
                row = QHBoxLayout()
                row.addWidget(label(o.copy.key), 1)
                if o.good and o.copy.key not in self.weighed:
                    button = QPushButton("Weigh")
                    button.setFixedHeight(theme.sized(21))
                    button.setAccessibleName(f"Weigh {o.copy.key}")
                    button.clicked.connect(lambda _=False, k=o.copy.key: self.weigh(k))
                    self.weigh_buttons[o.copy.key] = button
                    row.addWidget(button)
                elif o.good:
                    row.addWidget(label(f"{self.weighed[o.copy.key]:.1f} g, planned {o.copy.grams:.1f}", "figure"))
                else:
                    row.addWidget(label("lost", "problem"))
                self.results.addLayout(row)
                if o.note:
                    self.results.addWidget(label(o.note, "small", wrap=True))
            self.keep_button = QPushButton("Add to the record")
            self.keep_button.clicked.connect(self.keep)
            self.results.addWidget(self.keep_button)
        if records:
            self._record()

    def _record(self) -> None:
        """What has come off so far, and what it teaches."""
        project, settled = self.session.project, self.settler.settled
        self.results.addWidget(label("Record", "heading"))
        for printer_id, known in learned_ratios(project.run.records).items():
            name = next((p.name for p in project.printers if p.id == printer_id), printer_id)
            seen = f"{known.batches} batch{'es' if known.batches > 1 else ''}"
            text = f"{name} takes {known.mean:.2f} of the planned time (from {seen}); counted in from here on."
            self.results.addWidget(label(text, "", wrap=True))
        for r in reversed(project.run.records):
            verdict = weighing_of(r, project, settled) if settled is not None else None
            weight = f"{r.weighed_g:.1f} g" if r.weighed_g is not None else "not weighed"
            text = f"{r.part}: {weight if r.outcome == 'good' else 'lost'}" + (f", {r.note}" if r.note else "")
            line = label(text, "" if r.outcome == "good" else "problem", wrap=True)
            self.results.addWidget(line)
            if verdict is not None and not verdict.fine:
                self.results.addWidget(label(verdict.text, "caution", wrap=True))
        clear_button = QPushButton("Clear the record")
        clear_button.setObjectName("quiet")
        clear_button.clicked.connect(lambda: self.session.edit_many((("run.records", ()), ("run.done_h", 0.0)), "record cleared"))
        self.results.addWidget(clear_button)
