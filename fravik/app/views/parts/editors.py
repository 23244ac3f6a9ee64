"""Editors of the part in view: how it is made, its shape, its root joint, and what is bonded to it."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app.session import Session
from fravik.app.widgets.basics import label, scrolled
from fravik.app.widgets.fieldforms import Form, field_for
from fravik.app.widgets.fields import ChoiceField, Field, NumberField
from fravik.app.widgets.short import Tabs
from fravik.app.widgets.stationsfield import PartStationsField
from fravik.engine.notes import carbon_notes, joint_notes, stock_notes, twin_note
from fravik.engine.results import Evaluation, PartResult
from fravik.kinds import detach, first_bond, is_printed, kind_of
from fravik.library import adhesives, carbon_stocks, facing_stocks, filaments_of, stock_materials
from fravik.model.joint import JOINT_FIELDS, Joint
from fravik.model.paths import EditError
from fravik.model.project import Part
from fravik.model.recipe import Carbon, Facing

from .features import FeatureForms
from .plastic_dialog import PlasticDialog

LIES_HINTS = {
    "flat": "layers run level with the lift",
    "flat_over": "layers run level; the top lies on the plate",
    "on_side": "layers stand beside each other, across the part",
    "on_other_side": "layers stand beside each other, across the part",
    "on_end": "every layer bond is pulled by bending",
    "on_other_end": "every layer bond is pulled by bending",
    "free": "layers cut through the part at an angle",
}


SCREW_PAGES = {"screws": ("screw", "fixing", "engaged_mm", "tightness", "friction"),
               "clamp": ("clamp_screws", "screw", "tightness", "friction")}  # fmt: skip
TABS = {"made": "Making", "shape": "Shape", "joint": "Root joint", "bonded": "Carbon, glass", "features": "Features"}


class PartEditors(Tabs):
    """Tabs of one part: how it is made, its shape, its joint, its carbon and glass. A page is made when it is first looked at."""

    def __init__(self, session: Session, part: Part) -> None:
        super().__init__()
        self.session, self.part_id, self.kind = session, part.id, part.shape.kind
        self._forms: dict[str, Form] = {}
        self.features: FeatureForms | None = None
        self._pages: dict[str, QVBoxLayout] = {}
        self._latest: tuple[PartResult, Evaluation] | None = None
        for key, title in TABS.items():
            holder = QWidget()
            self._pages[key] = QVBoxLayout(holder)
            self._pages[key].setContentsMargins(0, 0, 0, 0)
            self.addTab(holder, title)
        self._waiting = self._makers(part)
        self._make(self._key())
        self.currentChanged.connect(self._looked_at)

    @property
    def forms(self) -> dict[str, Form]:
        """All editors by what they edit."""
        for key in list(self._waiting):
            self._make(key)
        return self._forms

    def refresh(self) -> None:
        """Show the fields as they are now."""
        for form in self._forms.values():
            form.refresh()
        if self.features is not None:
            self.features.refresh()

    def _key(self) -> str:
        return list(TABS)[max(self.currentIndex(), 0)]

    def _makers(self, part: Part) -> dict[str, Callable[[], QWidget]]:
        """What makes each page that the part has; the tabs of others are hidden."""
        at, kind = f"parts.{part.id}.", kind_of(part.shape)
        makers: dict[str, Callable[[], QWidget]] = {"made": lambda: self._made(part, at), "shape": lambda: self._shape(part, at)}
        if "features" in type(part.shape).model_fields:
            makers["features"] = self._features
        if kind.root_page == "joint":
            makers["joint"] = lambda: self._joint(part, at)
        elif kind.root_page:
            makers["joint"] = lambda: self._screws(at, SCREW_PAGES[kind.root_page])
        if kind.takes_bonds and is_printed(part):
            makers["bonded"] = lambda: self._bonded(part, at)
        for i, key in enumerate(TABS):
            self.setTabVisible(i, key in makers)
        self.setTabText(list(TABS).index("joint"), "Screws" if kind.root_page in SCREW_PAGES else TABS["joint"])
        return makers

    def _make(self, key: str) -> None:
        """Make a page that waits, and fill it with the figures at hand."""
        maker = self._waiting.pop(key, None)
        if maker is None:
            return
        known = set(self._forms)
        try:
            page = maker()
        except EditError:  # an edit whose figures are still to come took away what it is for
            self._waiting[key] = maker
            return
        self._pages[key].addWidget(scrolled(page))
        for name in set(self._forms) - known:
            self._forms[name].refresh()
        if self._latest is not None:
            self._hint(key, *self._latest)

    def _made(self, part: Part, at: str) -> QWidget:
        s, made = self.session, Form()
        printed = is_printed(part)
        if kind_of(part.shape).has_flat_twin:
            plates = [(k, f"Cut from {m.name[0].lower()}{m.name[1:]}") for k, m in stock_materials().items() if "plate" in m.forms]
            made.add(ChoiceField(s, at + "cut_from", [("", "Printed"), *plates]))
        if printed:
            self._recipe(made, part, at)
        made.add(NumberField(s, at + "count"))
        around = kind_of(part.shape).stations(s.project)
        if around:
            made.add(PartStationsField(s, at + "at", [(x.id, x.side.capitalize()) for x in around]))
        if kind_of(part.shape).detachable:
            self._places(made, part, at)
        made.finish()
        self._forms["made"] = made
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(made, 1 if printed else 0)
        if not printed:
            self.stock_note = label("", "small", wrap=True)
            column.addWidget(self.stock_note)
            column.addStretch(1)
            return page
        row = QHBoxLayout()
        self.own = QPushButton("A filament of my own…")
        self.own.setObjectName("quiet")
        self.own.clicked.connect(self.ask_plastic)
        row.addStretch(1)
        row.addWidget(self.own)
        column.addLayout(row)
        return page

    def _places(self, made: Form, part: Part, at: str) -> None:
        """Whether its copies stand where their maker puts them, and where."""
        self.own_box = QCheckBox("Stands where I put it")
        self.own_box.setChecked(bool(part.own_places))
        self.own_box.clicked.connect(self.set_detached)
        made.below(self.own_box)
        for own in part.own_places:
            if len(part.own_places) > 1:
                made.heading(f"Copy {own.id.removeprefix('copy')}")
            for name in ("x_mm", "y_mm", "z_mm", "turn_deg"):
                made.add(NumberField(self.session, f"{at}own_places.{own.id}.{name}"))

    def set_detached(self, on: bool) -> None:
        """Detach the copies where they stand, or let them follow their kind again."""
        part = self.session.project.part(self.part_id)
        self.session.edit(
            f"parts.{self.part_id}.own_places", detach(part, self.session.project) if on else (), "detached" if on else "attached"
        )

    def _recipe(self, made: Form, part: Part, at: str) -> None:
        s = self.session
        made.add(ChoiceField(s, at + "recipe.filament", [(k, f.name) for k, f in filaments_of(s.project).items()]))
        made.add(ChoiceField(s, at + "recipe.lies"))
        if part.recipe.lies == "free":
            made.add(NumberField(s, at + "recipe.roll_deg"))
            made.add(NumberField(s, at + "recipe.pitch_deg"))
        made.add(NumberField(s, at + "recipe.walls"))
        made.add(NumberField(s, at + "recipe.cover_layers"))
        made.add(NumberField(s, at + "recipe.core_density", percent=True))
        made.add(ChoiceField(s, at + "recipe.pattern"))
        for name in ("core_angle_deg", "layer_height_mm", "line_width_mm"):
            made.add(NumberField(s, at + f"recipe.{name}"))
        made.add(NumberField(s, at + "recipe.fan", percent=True))

    def ask_plastic(self) -> None:
        """Copy a kind, change its figures, and print this part in it."""
        dialog = PlasticDialog(self.session.project, self.session.value(f"parts.{self.part_id}.recipe.filament"), self)
        if dialog.exec() and dialog.filament is not None:
            self.take_plastic(dialog.edits(self.part_id), dialog.filament.name)

    def take_plastic(self, edits: tuple[tuple[str, object], ...], name: str) -> None:
        """Put a plastic of the maker's own on the shelf and into the part."""
        self.session.edit_many(edits, f"plastic {name}")

    def _shape(self, part: Part, at: str) -> QWidget:
        shape = Form()
        for caption, names in kind_of(part.shape).groups:
            shape.heading(caption)
            for name in names:
                shape.add(self._shape_field(part, f"{at}shape.", name))
        shape.finish()
        self._forms["shape"] = shape
        return shape

    def _features(self) -> QWidget:
        self.features = FeatureForms(self.session, self.part_id)
        self.features.refresh()
        return self.features

    def _shape_field(self, part: Part, at: str, name: str) -> Field:
        picks = kind_of(part.shape).picks(name)
        if picks:
            return ChoiceField(self.session, at + name, list(picks.items()))
        made = field_for(type(part.shape).model_fields[name].annotation)
        return made(self.session, at + name)

    def _notes_page(self, *forms: QWidget) -> tuple[QWidget, QVBoxLayout]:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 2, 4, 0)
        column.setSpacing(4)
        for form in forms:
            column.addWidget(form)
        return page, column

    def _field(self, path: str) -> ChoiceField | NumberField:
        name = path.rsplit(".", 1)[-1]
        if name == "adhesive":
            return ChoiceField(self.session, path, [(k, v.name) for k, v in adhesives().items()])
        kind = Joint.model_fields.get(name)
        if ".joint." in path and kind is not None and kind.annotation not in (float, int):
            return ChoiceField(self.session, path)
        percent = name in ("tightness", "cover")
        return NumberField(self.session, path, percent=percent)

    def _joint(self, part: Part, at: str) -> QWidget:
        form = Form()
        form.add(ChoiceField(self.session, at + "joint.kind"))
        for name in JOINT_FIELDS[part.joint.kind]:
            form.add(self._field(f"{at}joint.{name}"))
        return self._root_page(form)

    def _screws(self, at: str, names: tuple[str, ...]) -> QWidget:
        form = Form()
        for name in names:
            form.add(self._field(f"{at}joint.{name}"))
        return self._root_page(form)

    def _root_page(self, form: Form) -> QWidget:
        """A form of the root, and what its figures come to."""
        self._forms["joint"] = form
        page, column = self._notes_page(form)
        self.joint_note = label("", "small", wrap=True)
        column.addWidget(self.joint_note)
        column.addStretch(1)
        return page

    def _bonded(self, part: Part, at: str) -> QWidget:
        s = self.session
        page, column = self._notes_page()
        plate = not kind_of(part.shape).takes_profiles
        if not plate:
            self.carbon_box = QCheckBox("Glue carbon profiles in")
            self.carbon_box.setChecked(part.carbon is not None)
            self.carbon_box.clicked.connect(self._set_carbon)
            column.addWidget(self.carbon_box)
        if part.carbon is not None and not plate:
            form = Form()
            form.add(ChoiceField(s, at + "carbon.stock", [(k, v.name) for k, v in carbon_stocks().items()]))
            form.add(ChoiceField(s, at + "carbon.place"))
            for name in ("count", "start_mm", "end_mm", "adhesive", "adhesive_gap_mm", "bond_strength_mpa"):
                form.add(self._field(f"{at}carbon.{name}"))
            self._forms["carbon"] = form
            column.addWidget(form)
        self.facing_box = QCheckBox("Bond a facing onto the faces")
        self.facing_box.setChecked(part.facing is not None)
        self.facing_box.clicked.connect(self._set_facing)
        column.addWidget(self.facing_box)
        if part.facing is not None:
            form = Form()
            form.add(ChoiceField(s, at + "facing.stock", [(k, v.name) for k, v in facing_stocks().items()]))
            form.add(ChoiceField(s, at + "facing.faces"))
            ends = () if plate else ("start_mm", "end_mm")
            for name in ("cover", *ends, "adhesive", "adhesive_gap_mm"):
                form.add(self._field(f"{at}facing.{name}"))
            self._forms["facing"] = form
            column.addWidget(form)
        self.carbon_note = label("", "small", wrap=True)
        column.addWidget(self.carbon_note)
        self.twin_note = label("", "small", wrap=True)
        column.addWidget(self.twin_note)
        column.addWidget(label("Wear a mask and gloves when cutting carbon or sanding glass: the dust harms lungs and shorts electronics.",
                               "small", True))  # fmt: skip
        column.addStretch(1)
        return page

    def _set_carbon(self, on: bool) -> None:
        carbon = first_bond(self.session.project, self.part_id, Carbon) if on else None
        self.session.edit(f"parts.{self.part_id}.carbon", carbon, "carbon added" if on else "carbon removed")

    def _set_facing(self, on: bool) -> None:
        facing = first_bond(self.session.project, self.part_id, Facing) if on else None
        self.session.edit(f"parts.{self.part_id}.facing", facing, "facing added" if on else "facing removed")

    def _looked_at(self, _: int) -> None:
        self._make(self._key())
        if self._latest is not None and self._latest[0].part.id == self.part_id:
            self._show_twin(*self._latest)

    def _show_twin(self, part_result: PartResult, result: Evaluation) -> None:
        # the comparison slices the outline anew: it is made only when it is looked at, and beside the window
        if "bonded" not in self._there():
            return
        if self._key() != "bonded":
            self.twin_note.setText("")
            return
        asked = self._latest

        def told(answer: Future[str]) -> None:
            if self._latest is asked and self._key() == "bonded":
                self.twin_note.setText(answer.result())

        self.session.aside.ask(lambda: twin_note(result, part_result.part.id), told)

    def _there(self) -> list[str]:
        """Pages that are made."""
        return [key for i, key in enumerate(TABS) if self.isTabVisible(i) and key not in self._waiting]

    def show_hints(self, part_result: PartResult, result: Evaluation) -> None:
        """Grey lines that say what the current choices mean."""
        self._latest = (part_result, result)
        for key in self._there():
            self._hint(key, part_result, result)

    def _hint(self, key: str, part_result: PartResult, result: Evaluation) -> None:
        if key == "made":
            self._hint_made(part_result, result)
        elif key == "shape":
            self._hint_shape(part_result.part)
        elif key == "joint":
            self.joint_note.setText("\n".join(joint_notes(result, part_result.part.id)))
        elif key == "bonded":
            self.carbon_note.setText("\n".join(carbon_notes(result, part_result.part.id)))
            self._show_twin(part_result, result)

    def _hint_made(self, part_result: PartResult, result: Evaluation) -> None:
        part, f = part_result.part, part_result.filament
        now = next((p for p in self.session.project.parts if p.id == part.id), None)
        if now is None or is_printed(now) != part_result.printed:
            return  # figures of a design before this one, which cannot be evaluated
        if not part_result.printed:
            self.stock_note.setText("\n".join(stock_notes(part_result)))
            return
        fields, at = self._forms["made"].fields, f"parts.{part.id}."
        left = sum(x.grams_left for x in self.session.project.spools if x.filament == part.recipe.filament)
        warm = f" · at {part_result.service.temp_c:.0f} °C" if abs(part_result.service.temp_c - 23.0) > 0.5 else ""
        fields[at + "recipe.filament"].set_hint(
            f"E {f.e_road_mpa.typical / 1000:.2f} GPa · layers hold {f.s_layer_mpa.typical:.0f} MPa{warm} · {left:.0f} g on the shelf"
        )
        fields[at + "recipe.lies"].set_hint(LIES_HINTS[part.recipe.lies])
        fields[at + "recipe.walls"].set_hint(f"{part.recipe.walls * part.recipe.line_width_mm:.2f} mm each side")
        fields[at + "recipe.cover_layers"].set_hint(f"{part.recipe.cover_layers * part.recipe.layer_height_mm:.2f} mm of cover")
        member = result.members.get(part.id)
        if member is not None:
            share = float(member.answers["typical"].section.core_share[0])
            fields[at + "recipe.core_density"].set_hint(f"core carries {share:.0%} of the bending at the root")

    def _hint_shape(self, part: Part) -> None:
        fields, at, project = self._forms["shape"].fields, f"parts.{part.id}.", self.session.project
        for name, value in kind_of(part.shape).followed(part.shape, project).items():
            field = fields[f"{at}shape.{name}"]
            assert isinstance(field, NumberField)
            field.set_auto(value)
