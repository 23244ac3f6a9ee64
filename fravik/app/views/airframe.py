"""The Airframe: the craft in 3D and in plan, its components, hover figures and clearances."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import Future
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns, later
from fravik.app.widgets.basics import Card, label, scrolled
from fravik.app.widgets.fieldforms import Form, field_for
from fravik.app.widgets.fields import ChoiceField
from fravik.app.widgets.fold import Fold
from fravik.app.widgets.scene import Actors, Scene
from fravik.app.widgets.short import ShortButton, share
from fravik.engine.foresee.figures import ABOUT, FLYING, figures
from fravik.engine.results import Evaluation
from fravik.engine.rotors import battery_slide_mm
from fravik.kinds import Edits
from fravik.kinds.freely import freed
from fravik.kinds.newcraft import relaid
from fravik.model.base import Frozen
from fravik.model.craft import BALANCE_LABELS, Battery, Layout, Motor, Propeller
from fravik.shape.stations import ARRANGEMENTS
from fravik.study.findings import Finding
from fravik.study.margins import Margin
from fravik.study.words import value_text

from .blockforms import BlockForms
from .craftscene import craft_drawn
from .driveforms import DriveForms
from .onit import OnItCard
from .plan import outlines
from .plancard import PlanCard
from .shelfmenu import OwnShelf, ShelfButton
from .stationforms import StationForms

MOST_REMARKS = 2
NARROW_PX, LEAST_FIGURES_PX = 1080, 334


class LayoutField(ChoiceField):
    """The layout; arms and legs follow it in number."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "layout.kind", [*((kind, a.name) for kind, a in ARRANGEMENTS.items()), ("free", "Free")])
        for i, a in enumerate((*(a.about for a in ARRANGEMENTS.values()), "stations of your own, typed or dragged in plan")):
            self.box.setItemData(i, a, Qt.ItemDataRole.ToolTipRole)

    def edits(self, value: Any) -> Edits:
        return freed(self.session.project) if value == "free" else relaid(self.session.project, value)


def _span(values: Iterable[float], decimals: int = 0) -> str:
    """One figure, or the least and the largest of unlike ones."""
    every = sorted({f"{v:.{decimals}f}" for v in values}, key=float)
    return every[0] if len(every) == 1 else f"{every[0]}–{every[-1]}"


class AirframeView(QWidget):
    """3D and plan at the left, figures and component editors at the right."""

    part_clicked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        left = QVBoxLayout()
        left.setSpacing(8)
        card = Card("The craft")
        home = QPushButton("Whole craft")
        home.setObjectName("quiet")
        card.head.addWidget(home)
        self.scene = Scene(self._draw, "The craft in 3D")
        self.scene.prepare_by(session.aside, self._surfaces)
        self.scene.room = 0.84  # the disks leave the corners of the box empty
        home.clicked.connect(self.scene.home)
        session.opened.connect(self.scene.refit)
        self.scene.clicked.connect(self._picked)
        card.column.addWidget(self.scene, 1)
        self.craft_card = card
        left.addWidget(card, 5)
        low = QHBoxLayout()
        low.setSpacing(8)
        plan = PlanCard(session)
        self.plan, self.lens = plan.plan, plan.lens
        self.plan.part_clicked.connect(self.part_clicked)
        self.plan.thing_clicked.connect(self.reveal)
        plan.larger.toggled.connect(self._share)
        self.plan_card, self.figures_card = plan, self._figures()
        # a narrow window has room for one of the two
        self.turn_over = []
        for card, text in ((plan, "Figures"), (self.figures_card, "In plan")):
            button = ShortButton(text)
            button.setObjectName("quiet")
            button.setFixedHeight(theme.sized(22))
            button.clicked.connect(partial(self._turn_over, card is plan))
            card.head.addWidget(button)
            self.turn_over.append(button)
        low.addWidget(plan, 1)
        low.addWidget(self.figures_card, 1)
        left.addLayout(low, 5)
        self.on_it = OnItCard()
        self.on_it.part_clicked.connect(self.part_clicked)
        self.on_it.thing_clicked.connect(self.reveal)
        row.addWidget(self.on_it)
        row.addLayout(left, 1)
        self.components = self._components()
        row.addWidget(self.components)
        self._figures_up = False
        self._share()
        self._actors = Actors()
        self.reveals = Turns(self)
        session.opened.connect(self.reveals.stop)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._share()
        super().resizeEvent(event)

    def _turn_over(self, figures: bool) -> None:
        self._figures_up = figures
        self._share()

    def _share(self) -> None:
        """The outer columns give way first; then plan and figures take turns."""
        wide = self.width()
        self.on_it.setFixedWidth(share(wide, 0.19, 170, 300))
        self.components.setFixedWidth(share(wide, 0.285, 284, 440))
        narrow, large = wide < theme.sized(NARROW_PX), self.plan_card.larger.isChecked()
        self.craft_card.setVisible(not large)
        self.plan_card.setVisible(large or not (narrow and self._figures_up))
        self.figures_card.setVisible(not large and (not narrow or self._figures_up))
        for button in self.turn_over:
            button.setVisible(narrow and not large)

    def _figures(self) -> Card:
        card = Card("Hover and clearances")
        card.setMinimumWidth(theme.sized(LEAST_FIGURES_PX))
        self.table = QGridLayout()
        self.table.setVerticalSpacing(3)
        self.table.setColumnStretch(0, 1)
        self.figures: dict[str, Any] = {}
        for i, name in enumerate((
            "Flying weight", "Centre of mass", "Hover throttle", "Hover speed", "Hover power", "Endurance", "Thrust to weight",
            "Full-throttle thrust", "Speed range", "Disk loading", "Propeller to propeller", "Propeller to body", *ABOUT,
        )):  # fmt: skip
            value = label("", "figure")
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            what = label(name, "muted")
            self.table.addWidget(what, i, 0)
            self.table.addWidget(value, i, 1)
            self.figures[name] = value
            for widget in (what, value):
                widget.setToolTip(ABOUT.get(name, ""))
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 10, 0)
        column.addLayout(self.table)
        column.addStretch(1)
        area = scrolled(page)  # as high as there is room, not as its lines ask
        area.setSizePolicy(area.sizePolicy().horizontalPolicy(), QSizePolicy.Policy.Ignored)
        card.column.addWidget(area, 1)
        self.remark = label("", "caution", wrap=True)
        card.column.addWidget(self.remark)
        self.slide = QPushButton()
        self.slide.setObjectName("quiet")
        self.slide.clicked.connect(self.slide_battery)
        card.column.addWidget(self.slide, 0, Qt.AlignmentFlag.AlignRight)
        return card

    def slide_battery(self) -> None:
        """Bring the centre of mass under the middle of thrust."""
        result = self.session.result
        if result is not None:
            at = round(result.project.components.battery.x_mm + battery_slide_mm(result.project, result.craft), 1)
            reason = self.session.edit("components.battery.x_mm", at, "battery slid")
            if reason:  # until the next change
                self.remark.setText(reason)
                self.remark.setVisible(True)

    def _components(self) -> Card:
        card = Card("Components")
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.setSpacing(6)
        self.folds: list[Fold] = []
        self.shelf = OwnShelf(self.session)
        for title, cls, at in (("Layout", Layout, "layout"), ("Motor", Motor, "components.motor"),
                               ("Propeller", Propeller, "components.propeller"), ("Battery", Battery, "components.battery")):  # fmt: skip
            body = self._form(cls, at) if cls is Layout else partial(self._form, cls, at)
            shelf = ShelfButton(self.shelf, title.lower(), title.lower()) if cls is not Layout else None
            fold = Fold(self.session, title, at, body, shelf, is_open=cls is Layout)
            self.folds.append(fold)
            column.addWidget(fold)
            if cls is Layout:
                self.station_forms = StationForms(self.session)
                self.plan.alike = self.station_forms.alike.isChecked
                column.addWidget(self.station_forms)
            if cls is Propeller:
                self.drive_forms = DriveForms(self.session, self.shelf)
                column.addWidget(self.drive_forms)
        self.blocks = BlockForms(self.session, self.shelf)
        column.addWidget(self.blocks)
        column.addStretch(1)
        self.fields_area = scrolled(page)
        card.column.addWidget(self.fields_area, 1)
        return card

    def _form(self, cls: type[Frozen], at: str) -> Form:
        form = Form()
        for name, info in cls.model_fields.items():
            path = f"{at}.{name}"
            if path == "layout.kind":
                form.add(LayoutField(self.session))
            elif path == "components.propeller.balance":
                form.add(ChoiceField(self.session, path, list(BALANCE_LABELS.items())))
            elif path != "layout.stations":
                form.add(field_for(info.annotation)(self.session, path))
        return form

    @property
    def forms(self) -> list[Form]:
        """The editors of layout, motor, propeller and battery, whether they have been opened or not."""
        return [fold.make() for fold in self.folds]  # type: ignore[misc]

    def _made_forms(self) -> list[Form]:
        return [fold.body for fold in self.folds if isinstance(fold.body, Form)]

    def refresh(self) -> None:
        """Show the current project."""
        for form in self._made_forms():
            form.refresh()
        self.station_forms.refresh()
        self.on_it.show_craft(self.session.result)
        # the stations say how far apart the motors are
        self._made_forms()[0].show_field("layout.motor_to_motor_mm", self.session.project.layout.kind != "free")
        self.blocks.refresh()
        self.drive_forms.refresh()
        for fold in self.folds:
            fold.refresh()
        result = self.session.result
        if result is None:
            for value in self.figures.values():
                value.setText("not known yet")
            self.remark.setVisible(False)
            self.slide.setVisible(False)
        else:
            self._show_figures(result)
        if result is None:
            self.plan.update()
        else:  # its outlines are cut beside the window
            engine = self.session.engine
            self.session.aside.ask(lambda: outlines(engine, result), lambda _: self.plan.update())
        self.scene.invalidate()
        self.lens.refresh()

    def _show_figures(self, r: Evaluation) -> None:
        p, gap, com = r.power, r.clearances, r.craft.com_mm
        texts = {
            "Flying weight": f"{r.craft.mass_g:.0f} g",
            "Centre of mass": " ".join(f"{round(float(v), 1) + 0.0:+.1f}" for v in com) + " mm",
            "Hover throttle": f"{p.hover_throttle:.0%}",
            "Hover speed": f"{_span(r.hover_rpm for r in p.rotors)} rpm",
            "Hover power": f"{p.hover_power_w:.0f} W, {p.hover_current_a:.1f} A",
            "Endurance": f"{p.endurance_min:.1f} min",
            "Thrust to weight": f"{p.thrust_to_weight:.1f}",
            "Full-throttle thrust": f"{_span((r.full_thrust_n for r in p.rotors), 1)} N each",
            "Speed range": f"{min(r.idle_rpm for r in p.rotors):.0f}–{max(r.full_rpm for r in p.rotors):.0f} rpm",
            "Disk loading": f"{p.disk_loading_n_m2:.0f} N/m²",
            "Propeller to propeller": f"{gap.prop_to_prop_mm:.0f} mm",
            "Propeller to body": f"{gap.prop_to_body_mm:.0f} mm",
            **dict.fromkeys(ABOUT, "…"),
        }
        flying = [n for n in texts if not n.startswith("Propeller to") and (n not in ABOUT or n in FLYING)]
        for name, text in texts.items():
            self.figures[name].setText("not known yet" if r.scope.flight and name in flying else text)
        engine = self.session.engine
        self.session.aside.ask(lambda: figures(engine, r), lambda told: self._show_late(r, told))
        slide = battery_slide_mm(r.project, r.craft)
        self.slide.setText(f"Slide the battery {abs(slide):.0f} mm {'forward' if slide > 0 else 'back'}")
        self.slide.setToolTip("Brings the centre of mass under the middle of thrust, so that all rotors carry the same")
        self.slide.setVisible(abs(slide) >= 0.5)
        self.craft_card.note.setText("click a part to open it")

    def show_weight(self, margins: Sequence[Margin]) -> None:
        """The weight that the strip shows, by real layers once they are there."""
        told = next((value_text(m) for m in margins if m.metric == "flying_mass_g" and m.value is not None), None)
        if told is not None:
            self.figures["Flying weight"].setText(told)

    def show_remark(self, found: Sequence[Finding]) -> None:
        """The heaviest of what will go wrong here, and its marks on what it concerns."""
        self.on_it.show_findings(found)
        here = [f"{f.where}: {f.what[:1].lower()}{f.what[1:]}" for f in found if f.stage == "Airframe" and f.weight != "worth knowing"]
        more = f" And {len(here) - MOST_REMARKS} more: see Before it flies." if len(here) > MOST_REMARKS else ""
        self.remark.setText(" ".join(here[:MOST_REMARKS]) + more)
        self.remark.setVisible(bool(here))

    def reveal(self, path: str) -> None:
        """Bring the editor of a field into view, or the first of what it belongs to, in turns of the window."""
        self.reveals.begin(self._revealing(path))

    def _revealing(self, path: str) -> Iterator[None]:
        yield from self._opening(path)
        every = {
            k: f
            for form in (*self._made_forms(), *self.blocks.forms.values(), *self.drive_forms.forms.values())
            for k, f in form.fields.items()
        }
        field = every.get(path) or next((f for k, f in every.items() if k.startswith(f"{path}.")), None)
        if field is not None:
            yield from self._opening(field.path)
            field.control().setFocus()
            later(field, 0, lambda: self.fields_area.ensureWidgetVisible(field))  # once a page that just appears is laid out

    def _opening(self, path: str) -> Iterator[None]:
        for fold in (*self.folds, *self.blocks.folds, *self.drive_forms.folds):
            if fold.has(path):
                yield from fold.opening()

    def _show_late(self, of: Evaluation, told: Future[dict[str, str]]) -> None:
        """What takes longer than the other figures."""
        if of is self.session.result:
            for name, text in told.result().items():
                self.figures[name].setText(text)

    def _picked(self, name: str) -> None:
        if name.startswith("part:"):
            self.part_clicked.emit(name.split(":")[1])

    def _surfaces(self) -> Callable[[], object] | None:
        """How to come by the surfaces of all parts."""
        result, engine = self.session.result, self.session.engine
        if result is None:
            return None
        return lambda: [engine.mesh(p.given) for p in result.parts.values()]

    def _draw(self, plotter: Any) -> Iterator[None]:
        result = self.session.result
        return iter(()) if result is None else craft_drawn(plotter, self._actors, result, self.session.engine)
