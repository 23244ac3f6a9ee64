"""How the picked part is laid, and how the run is done."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.app.widgets.basics import clear, label, scrolled
from fravik.app.widgets.fieldforms import Form
from fravik.app.widgets.fields import ChoiceField, FlagField, NumberField, TextField
from fravik.engine.spares import spare_advice, with_spares
from fravik.kinds import printed_parts
from fravik.model.laying import EDGE_LABELS, START_LABELS, SUPPORT_LABELS
from fravik.model.project import Printer
from fravik.model.run import Spare
from fravik.study.words import clock

from .pauses import Pauses

RUN_FIELDS = ("start_hour", "attended_from", "attended_to", "deadline_h", "done_h", "gap_mm", "purge_mm", "most_in_batch")
PRINTER_FIELDS = ("bed_x_mm", "bed_y_mm", "bed_z_mm", "nozzle_mm", "max_nozzle_c", "start_up_min", "bed_change_min",
                  "wall_speed_mm_s", "cover_speed_mm_s", "core_speed_mm_s", "travel_speed_mm_s", "acceleration_mm_s2",
                  "wall_acceleration_mm_s2", "travel_acceleration_mm_s2", "corner_speed_mm_s")  # fmt: skip


class LayingPage(QWidget):
    """Layer heights, order of walls, hem and supports of one part, and where it pauses."""

    pause_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        self.box = QComboBox()
        self.box.setAccessibleName("Part to lay")
        self.box.activated.connect(lambda i: self.show_part(str(self.box.itemData(i))))
        column.addWidget(self.box)
        self.holder = QVBoxLayout()
        page = QWidget()
        page.setLayout(self.holder)
        self.holder.setContentsMargins(0, 0, 4, 0)
        column.addWidget(scrolled(page), 1)
        self.form: Form | None = None
        self.part_id = ""

    def refresh(self) -> None:
        """Show the current project."""
        parts = printed_parts(self.session.project)
        if [self.box.itemData(i) for i in range(self.box.count())] != [p.id for p in parts]:
            self.box.clear()
            for p in parts:
                self.box.addItem(p.name, p.id)
            self.part_id = ""
        if self.part_id not in {p.id for p in parts}:
            self.show_part(parts[0].id if parts else "")
        elif self.form is not None:
            self.form.refresh()
            self.pauses.refresh()

    def show_part(self, part_id: str) -> None:
        """Bring a part's settings into view; they are made when the page is to be seen."""
        self.part_id = part_id
        self.box.setCurrentIndex(self.box.findData(part_id))
        clear(self.holder)
        self.form = None
        if self.isVisible():
            self._make()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if self.form is None:
            self._make()

    def _make(self) -> None:
        part_id = self.part_id
        if not part_id:
            return
        at, form = f"parts.{part_id}.laying.", Form()
        session = self.session
        form.add(NumberField(session, at + "first_layer_mm"))
        form.add(NumberField(session, f"parts.{part_id}.recipe.layer_height_mm"))
        form.add(FlagField(session, at + "adaptive"))
        form.add(FlagField(session, at + "outline_first"))
        form.add(ChoiceField(session, at + "starts", list(START_LABELS.items())))
        form.add(ChoiceField(session, at + "edge", list(EDGE_LABELS.items())))
        form.add(NumberField(session, at + "hem_mm"))
        form.add(ChoiceField(session, at + "support", list(SUPPORT_LABELS.items())))
        form.add(NumberField(session, at + "support_angle_deg"))
        form.add(FlagField(session, at + "soluble"))
        form.add(NumberField(session, at + "bath_h"))
        form.fields[at + "bath_h"].set_hint("by the support's kind: half an hour to many hours, see its maker's sheet")
        form.finish()
        self.form = form
        self.holder.addWidget(form)
        self.pauses = Pauses(session, part_id)
        self.pauses.asked.connect(lambda: self.pause_asked.emit(part_id))
        self.pauses.refresh()
        self.holder.addWidget(self.pauses)
        self.holder.addWidget(label("Soluble supports go in a bath, some of them caustic: gloves, goggles, and the maker's own sheet.",
                                    "small", wrap=True))  # fmt: skip
        self.holder.addStretch(1)


class RunPage(QWidget):
    """Hours, gaps, spares and printers of the run."""

    def __init__(self, session: Session, settler: Settler) -> None:
        super().__init__()
        self.session, self.settler = session, settler
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        page = QWidget()
        inner = QVBoxLayout(page)
        inner.setContentsMargins(0, 0, 4, 0)
        form = Form()
        form.heading("Hours and batches")
        form.add(TextField(session, "run.start_date"))
        for name in RUN_FIELDS:
            form.add(NumberField(session, f"run.{name}"))
        form.add(FlagField(session, "run.night"))
        self.run_form = form
        inner.addWidget(form)
        inner.addWidget(label("A printer left alone can burn. Smoke alarm, nothing that burns around it, and local rules.", "small", True))
        inner.addWidget(label("Spares, printed with the rest", "heading"))
        self.advice = label("", "small", wrap=True)
        inner.addWidget(self.advice)
        self.follow_button = QPushButton("Print these spares")
        self.follow_button.clicked.connect(self.follow_advice)
        inner.addWidget(self.follow_button)
        self.spares = QVBoxLayout()
        inner.addLayout(self.spares)
        inner.addWidget(label("Printers", "heading"))
        self.printers = QVBoxLayout()
        inner.addLayout(self.printers)
        self.add_button = QPushButton("Add a printer")
        self.add_button.clicked.connect(self.add_printer)
        inner.addWidget(self.add_button)
        inner.addStretch(1)
        column.addWidget(scrolled(page), 1)
        self.spare_fields: list[NumberField] = []
        self.printer_forms: list[Form] = []
        self._spares_of: object = None
        self._printers_of: object = None

    def add_printer(self) -> None:
        """A second machine like the first."""
        project = self.session.project
        taken = {p.id for p in project.printers}
        name = next(f"printer{i}" for i in range(2, 99) if f"printer{i}" not in taken)
        new = project.printer.model_copy(update={"id": name, "name": f"Printer {len(project.printers) + 1}"})
        self.session.edit("more_printers", (*project.more_printers, new), "printer added")

    def drop_printer(self, printer_id: str) -> None:
        """Take a further machine away."""
        kept = tuple(p for p in self.session.project.more_printers if p.id != printer_id)
        self.session.edit("more_printers", kept, "printer removed")

    def set_spares(self, part_id: str, count: int) -> str | None:
        """Print so many spares of a part."""
        run = self.session.project.run
        kept = [s for s in run.spares if s.id != part_id]
        return self.session.edit("run.spares", (*kept, *([Spare(id=part_id, count=count)] if count else [])), "spares")

    def follow_advice(self) -> None:
        """Print the spares that the break order asks for."""
        result = self.session.result
        if result is not None:
            spares = with_spares(self.session.project.run.spares, spare_advice(result, self.settler.settled))
            self.session.edit("run.spares", spares, "spares by the break order")

    def _advise(self) -> None:
        result = self.session.result
        found = spare_advice(result, self.settler.settled) if result is not None else ()
        lines = [f"{a.why}. {a.count} spare{'s' if a.count > 1 else ''}: {clock(a.minutes)}, {a.grams:.0f} g." for a in found]
        self.advice.setText("\n".join(lines))
        spares = self.session.project.run.spares
        self.follow_button.setVisible(bool(found) and with_spares(spares, found) != spares)

    def refresh(self) -> None:
        """Show the current project."""
        self._advise()
        project = self.session.project
        spares = (tuple((p.id, p.name) for p in printed_parts(project)), project.run.spares)
        if spares != self._spares_of:
            self._spares_of = spares
            self._build_spares()
        printers = tuple(p.id for p in project.printers)
        if printers != self._printers_of:
            self._printers_of = printers
            self._build_printers()
        self.run_form.refresh()
        for form in self.printer_forms:
            form.refresh()

    def _build_spares(self) -> None:
        clear(self.spares)
        project = self.session.project
        have = {s.id: s.count for s in project.run.spares}
        for p in printed_parts(project):
            row = QHBoxLayout()
            row.addWidget(label(p.name, "muted"), 1)
            row.addWidget(label(str(have.get(p.id, 0)), "figure"))
            for text, way in (("−", -1), ("+", 1)):
                button = QToolButton()
                button.setText(text)
                button.setFixedSize(20, theme.sized(21))
                button.setAccessibleName(f"{'More' if way > 0 else 'Fewer'} spares of {p.name.lower()}")
                button.clicked.connect(lambda _=False, i=p.id, w=way: self.set_spares(i, max(0, have.get(i, 0) + w)))
                row.addWidget(button)
            self.spares.addLayout(row)

    def _build_printers(self) -> None:
        clear(self.printers)
        self.printer_forms = []
        project = self.session.project
        for q in project.printers:
            first = q is project.printer
            at = "printer" if first else f"more_printers.{q.id}"
            form = Form()
            form.add(TextField(self.session, f"{at}.name"))
            for name in PRINTER_FIELDS:
                form.add(NumberField(self.session, f"{at}.{name}"))
            form.add(FlagField(self.session, f"{at}.hardened_nozzle"))
            form.add(FlagField(self.session, f"{at}.enclosed"))
            self.printer_forms.append(form)
            self.printers.addWidget(form)
            if not first:
                drop = QPushButton(f"Remove {q.name}")
                drop.clicked.connect(lambda _=False, i=q.id: self.drop_printer(i))
                self.printers.addWidget(drop)

    def printer_of(self, printer_id: str) -> Printer | None:
        """A printer by its id."""
        return next((p for p in self.session.project.printers if p.id == printer_id), None)
