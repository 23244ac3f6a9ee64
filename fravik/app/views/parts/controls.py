"""Recipe, shape and carbon editors of the part in view."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QTabWidget, QVBoxLayout, QWidget

from fravik.app.session import Session
from fravik.app.widgets.basics import label, scrolled
from fravik.app.widgets.fields import ChoiceField, Form, NumberField
from fravik.engine.results import MemberResult, PartResult
from fravik.library import carbon_stocks, filament, filaments
from fravik.model.project import Part
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape
from fravik.shape.build import arm_length_mm

SHAPE_GROUPS: dict[str, list[tuple[str, list[str]]]] = {
    "arm": [
        ("Body", ["length_mm", "root_width_mm", "tip_width_mm", "root_height_mm", "tip_height_mm", "root_fillet_mm"]),
        ("Motor pad", ["pad_diameter_mm", "pad_fillet_mm", "bolt_circle_mm", "bolt_hole_mm", "shaft_hole_mm"]),
        ("Tongue", ["tongue_length_mm", "tongue_width_mm", "tongue_bolt_rows", "tongue_bolt_mm"]),
        ("Pockets", ["pocket_count", "pocket_length_mm", "pocket_width_mm", "pocket_corner_mm"]),
        ("Stiffener bars", ["bar_height_mm", "bar_width_mm"]),
    ],
    "leg": [
        ("Blade", ["length_mm", "root_width_mm", "tip_width_mm", "thickness_mm", "root_fillet_mm", "splay_deg"]),
        ("Flange", ["flange_length_mm", "flange_width_mm", "flange_bolt_mm"]),
    ],
    "plate": [
        ("Outline", ["length_mm", "width_mm", "thickness_mm", "corner_mm"]),
        ("Holes", ["stack_pitch_mm", "stack_hole_mm", "window_length_mm", "window_width_mm"]),
    ],
}


class PartControls(QTabWidget):
    """Three tabs: how it is made, its shape, its carbon."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.part_id = ""
        self._kind = ""
        self._has_carbon = False
        self.forms: dict[str, Form] = {}

    def show_part(self, part: Part) -> None:
        """Rebuild the editors when another part comes into view, else refresh them."""
        if (part.id, part.shape.kind, part.carbon is not None) != (self.part_id, self._kind, self._has_carbon):
            keep = self.currentIndex() if part.shape.kind == self._kind else 0
            self.part_id, self._kind, self._has_carbon = part.id, part.shape.kind, part.carbon is not None
            self._build(part)
            self.setCurrentIndex(max(0, min(keep, self.count() - 1)))
        for form in self.forms.values():
            form.refresh()

    def _build(self, part: Part) -> None:
        while self.count():
            page = self.widget(0)
            self.removeTab(0)
            if page is not None:
                page.deleteLater()
        s, at = self.session, f"parts.{part.id}."
        made = Form()
        made.add(ChoiceField(s, at + "recipe.filament", [(k, f.name) for k, f in filaments().items()]))
        made.add(ChoiceField(s, at + "recipe.lies"))
        made.add(NumberField(s, at + "recipe.walls"))
        made.add(NumberField(s, at + "recipe.skin_layers"))
        made.add(NumberField(s, at + "recipe.infill", percent=True))
        made.add(ChoiceField(s, at + "recipe.pattern"))
        made.add(NumberField(s, at + "recipe.layer_height_mm"))
        made.add(NumberField(s, at + "recipe.line_width_mm"))
        made.add(NumberField(s, at + "count"))
        made.finish()
        shape = Form()
        for caption, names in SHAPE_GROUPS[part.shape.kind]:
            shape.heading(caption)
            for name in names:
                shape.add(NumberField(s, f"{at}shape.{name}"))
        shape.finish()
        self.forms = {"made": made, "shape": shape}
        self.addTab(scrolled(made), "How it is made")
        self.addTab(scrolled(shape), "Shape")
        if isinstance(part.shape, ArmShape):
            self.addTab(scrolled(self._carbon(part, at)), "Carbon")

    def _carbon(self, part: Part, at: str) -> QWidget:
        s = self.session
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 4, 4, 0)
        self.carbon_box = QCheckBox("Glue carbon into this part")
        self.carbon_box.setChecked(part.carbon is not None)
        self.carbon_box.clicked.connect(lambda on: self._set_carbon(on))
        column.addWidget(self.carbon_box)
        column.addWidget(label("Wear a mask and gloves when cutting carbon; the dust harms lungs and shorts electronics.", "small", True))
        if part.carbon is not None:
            form = Form()
            form.add(ChoiceField(s, at + "carbon.stock", [(k, v.name) for k, v in carbon_stocks().items()]))
            for name in ("count", "start_mm", "end_mm", "adhesive_gap_mm", "bond_strength_mpa"):
                form.add(NumberField(s, f"{at}carbon.{name}"))
            form.finish()
            self.forms["carbon"] = form
            column.addWidget(form)
        column.addStretch(1)
        return page

    def _set_carbon(self, on: bool) -> None:
        project = self.session.project
        part = project.part(self.part_id)
        carbon = None
        if on and isinstance(part.shape, ArmShape):
            a = part.shape
            end = arm_length_mm(a, project.layout) - a.bolt_circle_mm / 2 - a.bolt_hole_mm - 1
            carbon = Carbon(start_mm=-a.tongue_length_mm, end_mm=float(int(end)))
        self.session.edit(f"parts.{self.part_id}.carbon", carbon, "carbon added" if on else "carbon removed")

    def show_hints(self, result: PartResult, member: MemberResult | None) -> None:
        """Grey lines that say what the current choices mean."""
        part, s = result.part, self.session
        f = filament(part.recipe.filament)
        fields = self.forms["made"].fields
        at = f"parts.{part.id}."
        left = sum(x.grams_left for x in s.project.spools if x.filament == part.recipe.filament)
        fields[at + "recipe.filament"].set_hint(
            f"E {f.e_road_mpa.typical / 1000:.2f} GPa · layers hold {f.s_layer_mpa.typical:.0f} MPa · {left:.0f} g on the shelf"
        )
        lies = {"flat": "layers run level with the lift", "on_side": "layers stand beside each other, across the arm",
                "on_end": "every layer bond is pulled by bending"}  # fmt: skip
        fields[at + "recipe.lies"].set_hint(lies[part.recipe.lies])
        fields[at + "recipe.walls"].set_hint(f"{part.recipe.walls * part.recipe.line_width_mm:.2f} mm each side")
        fields[at + "recipe.skin_layers"].set_hint(f"{part.recipe.skin_layers * part.recipe.layer_height_mm:.2f} mm of skin")
        if member is not None:
            share = float(member.answers["typical"].section.core_share[0])
            fields[at + "recipe.infill"].set_hint(f"core carries {share:.0%} of the bending at the root")
        length = self.forms["shape"].fields.get(at + "shape.length_mm")
        if isinstance(length, NumberField) and isinstance(part.shape, ArmShape):
            length.set_auto(round(arm_length_mm(part.shape.model_copy(update={"length_mm": None}), s.project.layout), 1))
