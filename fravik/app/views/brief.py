"""The Brief: what the craft is for, what it must reach, and what there is to print it with."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from itertools import chain

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.app.widgets.basics import Card, drop_button, label, scrolled
from fravik.app.widgets.fieldforms import Form
from fravik.app.widgets.fields import ChoiceField, FlagField, NumberField, TextField
from fravik.app.widgets.fold import Fold
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.gridrows import GridRows
from fravik.app.widgets.owncases import OwnCases
from fravik.app.widgets.short import Short
from fravik.engine.aloft import ALOFT
from fravik.kinds.around import stations
from fravik.kinds.wing.geometry import goes_over
from fravik.library import filaments_of
from fravik.model.project import Metric, Spool, Target
from fravik.shape.stations import widest
from fravik.study.findings import Finding
from fravik.study.margins import METRICS, unit_of
from fravik.study.sizeclass import CLASSES, class_of, fall_words
from fravik.study.words import value_text

PRINTER_FIELDS = ("bed_x_mm", "bed_y_mm", "bed_z_mm", "nozzle_mm")
MOTION_FIELDS = ("wall_speed_mm_s", "cover_speed_mm_s", "core_speed_mm_s",
                  "travel_speed_mm_s", "acceleration_mm_s2", "wall_acceleration_mm_s2", "travel_acceleration_mm_s2",
                  "corner_speed_mm_s", "first_layer_speed", "retract_s", "layer_change_s", "start_up_min")  # fmt: skip

Filaments = tuple[tuple[str, str], ...]  # ids and names

MOST_REMARKS = 3
LOW_PX = 440
LOAD_GROUPS = (
    ("Flight", ("pull_up_g", "yaw_share", "out_of_step", "working_low", "working_high", "loop_crossover_hz")),
    (
        "Ground and hands",
        ("landing_m_s", "landing_drag", "ground_stiffness_n_mm", "ground_restitution", "bump_m_s", "strap_pull_n", "transport_n"),
    ),
    ("Weather", ("service_temp_c", "sun", "damp")),
    ("Camera", ("picture_px_deg", "readout_ms")),
)


class BriefView(QWidget):
    """Purpose and loads at the left, targets in the middle, printer and shelf at the right."""

    def __init__(self, session: Session, settler: Settler) -> None:
        super().__init__()
        self.session = session
        self.settler = settler
        settler.changed.connect(self._show_figures)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.addWidget(self._purpose(), 2)
        left.addWidget(self._loads(), 3)
        row.addLayout(left, 27)
        row.addWidget(self._targets(), 43)
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(self._printer(), 5)
        right.addWidget(self._shelf(), 4)
        row.addLayout(right, 32)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.size_class.wrap(self.height() >= theme.sized(LOW_PX))
        super().resizeEvent(event)

    def _purpose(self) -> Card:
        card = Card("What it is for")
        self.name = TextField(self.session, "name")
        form = Form()
        form.add(self.name)
        form.add(TextField(self.session, "brief.currency"))
        card.column.addWidget(form)
        self.size_class = Short("", "small")
        card.column.addWidget(self.size_class)
        self.purpose = QPlainTextEdit()
        self.purpose.setMinimumHeight(34)
        self.purpose.setAccessibleName("Purpose")
        self.purpose.setTabChangesFocus(True)
        self.purpose.textChanged.connect(self._write_purpose)
        card.column.addWidget(self.purpose, 1)
        self.forms = [form]
        return card

    def _write_purpose(self) -> None:
        self.session.edit("brief.purpose", self.purpose.toPlainText(), "purpose", typing=True)

    def _loads(self) -> Card:
        card = Card("Loads it is designed to")
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        form = Form()
        for caption, names in LOAD_GROUPS:
            form.heading(caption)
            for name in names:
                path = f"brief.{name}"
                if name == "damp":
                    form.add(ChoiceField(self.session, path))
                elif name == "sun":
                    form.add(FlagField(self.session, path))
                else:
                    form.add(NumberField(self.session, path))
        form.fields["brief.ground_stiffness_n_mm"].set_hint("turf about 20, shingle 60, concrete 2000")
        form.fields["brief.working_high"].set_hint("thrust at which it flies for long; arms must not ring there")
        form.fields["brief.loop_crossover_hz"].set_hint(
            "where the rate loop stops following; the craft's lowest mode must lie well above it"
        )
        form.fields["brief.ground_restitution"].set_hint("bounce over fall: shingle 0.1, turf 0.3, concrete 0.5")
        self.forms.append(form)
        column.addWidget(form)
        self.own_cases = OwnCases(self.session)
        column.addWidget(self.own_cases)
        column.addStretch(1)
        card.column.addWidget(scrolled(page), 1)
        card.column.addWidget(label("Before a first hop: propellers off until everything is checked, nobody below, and where local "
                                    "rules allow.", "small", wrap=True))  # fmt: skip
        return card

    def _targets(self) -> Card:
        card = Card("Targets")
        self.target_grid = QGridLayout()
        self.target_grid.setVerticalSpacing(6)
        self.target_grid.setHorizontalSpacing(8)
        self.target_grid.setColumnStretch(0, 1)
        self.remark = label("", "caution", wrap=True)
        self.remark.setVisible(False)
        card.column.addWidget(self.remark)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.addLayout(self.target_grid)
        column.addStretch(1)
        card.column.addWidget(scrolled(page), 1)
        add = QHBoxLayout()
        self.wanted = QComboBox()
        self.wanted.setAccessibleName("Target to add")
        self._offered: list[str] = []
        self._offer()
        self.add_button = QPushButton("Add target")
        self.add_button.clicked.connect(self._add_target)
        add.addWidget(self.wanted, 1)
        add.addWidget(self.add_button)
        card.column.addLayout(add)
        self.target_fields: dict[str, tuple[NumberField, VerdictMark, QLabel]] = {}
        for col, text in ((0, "Target"), (2, "Limit"), (4, "Now")):
            self.target_grid.addWidget(label(text, "small"), 0, col)
        self.no_targets = label("No targets yet. Add what the craft must reach.", "muted", True)
        self.target_grid.addWidget(self.no_targets, 1, 0, 1, 6)
        self.target_rows = GridRows(self.target_grid, 2, self._target_row, first=2)
        return card

    def _offer(self) -> None:
        """What can be demanded of the craft: of one that hangs on its rotors alone, nothing that only a wing answers."""
        over = goes_over(self.session.project)
        keys: list[str] = [k for k in METRICS if over or k not in ALOFT]
        if keys != self._offered:
            picked = self.wanted.currentData()
            self._offered = keys
            self.wanted.clear()
            for key in keys:
                self.wanted.addItem(METRICS[key].name, key)  # type: ignore[index]
            self.wanted.setCurrentIndex(max(self.wanted.findData(picked), 0))

    def _add_target(self) -> None:
        key = self.wanted.currentData()
        taken = {t.id for t in self.session.project.targets}
        base = key.split("_")[0]
        name = next(n for n in (base, *(f"{base}{i}" for i in range(2, 99))) if n not in taken)
        new = Target(id=name, metric=key, limit=METRICS[key].first_limit)
        self.session.edit("targets", (*self.session.project.targets, new), f"target {METRICS[key].name.lower()}")

    def _drop_target(self, target_id: str) -> None:
        kept = tuple(t for t in self.session.project.targets if t.id != target_id)
        self.session.edit("targets", kept, "target removed")

    def _fill_targets(self) -> None:
        targets = self.session.project.targets
        self.target_rows.show([(t.id, t.metric) for t in targets])
        self.target_fields = {t.id: self.target_fields[t.id] for t in targets}
        self.no_targets.setVisible(not targets)
        for t in self.session.project.targets:
            field = self.target_fields[t.id][0]
            field.set_unit("×" if t.metric == "mode_floor_hz" else unit_of(self.session.project, t.metric))
        self._show_figures()
        present = {t.metric for t in self.session.project.targets}
        for i in range(self.wanted.count()):
            if self.wanted.itemData(i) not in present:
                self.wanted.setCurrentIndex(i)
                break

    def _show_figures(self) -> None:
        """The same figures as the strip above: of the settled run where there is one."""
        margins = {m.id: m for m in self.settler.margins()}
        for key, (_, mark, now) in self.target_fields.items():
            m = margins.get(key)
            mark.set_verdict(m.verdict if m else "not known yet")
            now.setText(value_text(m) if m else "—")

    def _target_row(self, row: int, key: tuple[str, Metric]) -> None:
        target_id, metric = key
        info = METRICS[metric]
        name = Short(info.name, least_px=60)
        name.setToolTip(info.about)
        field = NumberField(self.session, f"targets.{target_id}.limit", info.name)
        field.extra = {"step": {"least_reserve": 0.1, "mode_floor_hz": 0.1, "tip_sag_mm": 0.1, "arm_strike_m_s": 0.5, "flat_drop_m": 0.1,
                                "print_minutes": 30.0, "flying_mass_g": 25.0}.get(metric, 1.0)}  # fmt: skip
        field.setMaximumWidth(150)
        field.setMinimumWidth(88)
        field.edit.setAccessibleName(f"{info.name} {info.limit_label}")
        mark, now = VerdictMark(), label("", "figure")
        now.setMinimumWidth(theme.sized(66))
        removes = f"Remove the target {info.name.lower()}"
        drop = drop_button(removes, removes, partial(self._drop_target, target_id))
        sense = {"at most": "≤", "at least": "≥"}[info.sense]
        words = label(sense, "small")
        for col, w in enumerate((name, words, field, mark, now, drop)):
            self.target_grid.addWidget(w, row, col)
        about = QVBoxLayout()
        about.setSpacing(0)
        about.addWidget(label(info.about, "small", wrap=True))
        about.addWidget(field.message)
        self.target_grid.addLayout(about, row + 1, 0, 1, 6)
        self.target_fields[target_id] = (field, mark, now)

    def _printer(self) -> Card:
        card = Card("Printer")
        form = Form()
        form.add(TextField(self.session, "printer.name"))
        for name in PRINTER_FIELDS:
            form.add(NumberField(self.session, f"printer.{name}"))
        form.add(FlagField(self.session, "printer.hardened_nozzle"))
        form.add(FlagField(self.session, "printer.enclosed"))
        motion = Form()
        for name in MOTION_FIELDS:
            motion.add(NumberField(self.session, f"printer.{name}"))
        self.forms += [form, motion]
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.addWidget(form)
        self.motion = Fold(self.session, "Motion", "printer", motion, holds=tuple(motion.fields))
        column.addWidget(self.motion)
        column.addStretch(1)
        card.column.addWidget(scrolled(page), 1)
        return card

    def _shelf(self) -> Card:
        card = Card("Spools on the shelf")
        self.spool_grid = QGridLayout()
        self.spool_grid.setVerticalSpacing(4)
        self.spool_grid.setHorizontalSpacing(5)
        self.spool_grid.setColumnStretch(1, 1)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.addLayout(self.spool_grid)
        column.addStretch(1)
        card.column.addWidget(scrolled(page), 1)
        add = QPushButton("Add spool")
        add.clicked.connect(self._add_spool)
        card.column.addWidget(add)
        self.spool_fields: dict[str, tuple[NumberField | ChoiceField | FlagField, ...]] = {}
        self.prices: dict[str, NumberField] = {}
        self.spool_rows = GridRows(self.spool_grid, 3, self._spool_row)
        return card

    def _add_spool(self) -> None:
        taken = {s.id for s in self.session.project.spools}
        name = next(n for n in (f"spool{i}" for i in range(1, 999)) if n not in taken)
        self.session.edit("spools", (*self.session.project.spools, Spool(id=name)), "spool added")

    def _drop_spool(self, spool_id: str) -> None:
        self.session.edit("spools", tuple(s for s in self.session.project.spools if s.id != spool_id), "spool removed")

    def _spool_row(self, line: int, key: tuple[str, Filaments]) -> None:
        spool_id, kinds = key
        kind = ChoiceField(self.session, f"spools.{spool_id}.filament", list(kinds))
        left = NumberField(self.session, f"spools.{spool_id}.grams_left", buttons=False)
        price = NumberField(self.session, f"spools.{spool_id}.price_per_kg", buttons=False)
        drop = drop_button("Remove this spool", f"Remove the spool {spool_id}", partial(self._drop_spool, spool_id))
        shade = ChoiceField(self.session, f"spools.{spool_id}.shade")
        shade.box.setMinimumWidth(44)
        kind.box.setMinimumWidth(58)
        shade.box.setToolTip("Shade: how much the sun warms it")
        dried = FlagField(self.session, f"spools.{spool_id}.dried")
        dried.box.setText("dry")
        for narrow in (left, price):
            narrow.unit.setMinimumWidth(0)
            narrow.edit.setMinimumWidth(36)
        self.prices[spool_id] = price
        left.setFixedWidth(56)
        for col, (w, wide) in enumerate(((kind, 2), (dried, 1), (drop, 1))):
            self.spool_grid.addWidget(w, line, col + (col > 0), 1, wide)
        for col, w in enumerate((left, price, shade)):
            self.spool_grid.addWidget(w, line + 1, col, 1, 1 + (col == 2))
        self.spool_grid.addWidget(left.message, line + 2, 0, 1, 4)
        self.spool_fields[spool_id] = (kind, left, price, shade, dried)

    def _fill_spools(self) -> None:
        kinds = tuple((k, f.name) for k, f in filaments_of(self.session.project).items())
        spools = self.session.project.spools
        self.spool_rows.show([(s.id, kinds) for s in spools])
        self.spool_fields = {s.id: self.spool_fields[s.id] for s in spools}
        self.prices = {s.id: self.prices[s.id] for s in spools}
        for price in self.prices.values():
            price.set_unit(f"{self.session.project.brief.currency}/kg")
            longer = price.unit.sizeHint().width() - price.unit.fontMetrics().horizontalAdvance("€/kg")
            price.setFixedWidth(theme.sized(57) + 8 + max(longer, 0))
        for f in chain.from_iterable(self.spool_fields.values()):
            f.refresh()

    def show_remark(self, found: Sequence[Finding]) -> None:
        """Demands that fight each other, as sentences."""
        here = [f"{f.what} {f.why}" for f in found if f.stage == "Brief"]
        self.remark.setText("\n".join(here[:MOST_REMARKS]))
        self.remark.setVisible(bool(here))

    def reveal(self, path: str) -> None:
        """Put the maker at the editor of a field."""
        every = {k: f for form in self.forms for k, f in form.fields.items()}
        every |= {f"targets.{k}": field for k, (field, _, _) in self.target_fields.items()}
        field = every.get(path)
        if field is not None:
            if self.motion.has(path):
                self.motion.open()
            field.control().setFocus()

    def _show_size(self) -> None:
        result = self.session.result
        if result is None:
            self.size_class.setText("")
            return
        mine = class_of(widest(stations(result.project))[2])
        self.size_class.setText(f"{mine.name}. {mine.costs} {mine.risks} {fall_words(result.craft.mass_g)}")
        every = "\n".join(f"{c.name}: {c.costs} {c.risks}" for c in CLASSES)
        self.size_class.setToolTip(f"{every}\nLocal rules change with weight and place, and come first.")

    def refresh(self) -> None:
        """Show the current project."""
        self._offer()
        self._show_size()
        self._fill_targets()
        self._fill_spools()
        self.own_cases.refresh()
        for form in self.forms:
            form.refresh()
        self.motion.refresh()
        text = self.session.project.brief.purpose
        if self.purpose.toPlainText() != text:
            self.purpose.blockSignals(True)
            self.purpose.setPlainText(text)
            self.purpose.blockSignals(False)
