"""The section at the cursor as printed: its figures, its zones, and what governs there."""

from __future__ import annotations

from fravik.app.widgets.basics import Card, label
from fravik.app.widgets.ruler import Ruler
from fravik.app.widgets.section import SectionView, ZoneKey
from fravik.engine.results import Evaluation
from fravik.engine.ruler import failure_name, governing_at, picture_at, probe_at, ruler_of, stiffness_text
from fravik.structure.loadcases import case_name
from fravik.structure.probe import SectionProbe

RUNS = {
    "level": "Layers run level",
    "upright": "Layers stand upright",
    "facing you": "You look onto a layer",
    "leaning": "Layers lean",
    "askew": "Layers cut through askew",
}


def _name(result: Evaluation, case: str) -> str:
    return case_name(case, result.project.brief.own_cases)


class SectionCard(Card):
    """Draws the section; pointing at a spot tells its zone, stress and reserve."""

    def __init__(self) -> None:
        super().__init__("Section as printed")
        self.figures = label("", "figure")
        self.figures.setToolTip(
            "EI: how much the section withstands bending, up and down or sideways: twice as much bends half as far.\n"
            "GJ: the same for twisting. Both are those of walls, covers, core and carbon as they are printed here."
        )
        self.figures.setWordWrap(True)
        self.why = label("", "small", wrap=True)
        self.why.setMinimumHeight(26)
        self.column.addWidget(self.figures)
        self.section = SectionView()
        self.section.pointed.connect(self._point)
        self.section.left.connect(self._unpoint)
        self.column.addWidget(self.section, 1)
        self.zone_key = ZoneKey()
        self.column.addWidget(self.zone_key)
        self.column.addWidget(self.why)
        self._shown: tuple[Evaluation, str, str, float] | None = None
        self._probe: SectionProbe | None = None
        self._probe_key: tuple[object, ...] = ()

    def show_at(self, result: Evaluation, part_id: str, case: str, ruler_widget: Ruler) -> None:
        """Show a part's section at the ruler's cursor; hides itself for a part that has none."""
        ruler = ruler_of(result, part_id)
        self.setVisible(ruler is not None)
        shown = result.part(part_id)
        if ruler is None or shown is None:
            return
        self._shown = (result, part_id, case, ruler_widget.position_mm)
        x = min(max(ruler_widget.position_mm, ruler.low_mm + 0.01), ruler.high_mm - 0.01)
        picture = picture_at(result, part_id, x)
        recipe = shown.part.recipe
        self.section.show_picture(picture, recipe.core_density, recipe.pattern)
        self.title.setText(f"Section at {x:.0f} mm, as {'printed' if shown.printed else 'cut'}")
        self.figures.setText(stiffness_text(ruler, result, part_id, x))
        items = [("wall", f"wall ×{recipe.walls}"), ("cover", f"cover ×{recipe.cover_layers}"),
                 ("core", f"{recipe.pattern} {recipe.core_density:.0%}")]  # fmt: skip
        if not shown.printed:
            items = [("wall", shown.filament.name)]
        if picture is not None:
            items += [(c, {"carbon": "carbon", "glass": "glass"}[c]) for c in sorted({i.colour for i in picture.inlays})]
        self.zone_key.show_items(items)
        self._unpoint()

    def _unpoint(self) -> None:
        """Say what governs at the position."""
        picture = self.section.picture
        if self._shown is None or picture is None:
            return
        result, part_id, case, position_mm = self._shown
        found = governing_at(result, part_id, case, position_mm)
        if found is not None:
            point = " Point at a spot for its stress." if part_id in result.members else ""
            part = result.part(part_id)
            printed = part is None or part.printed
            runs, fails = f"{RUNS[picture.layers]}; " if printed else "", failure_name(found[1], printed)
            text = f"{runs}{fails} governs here in {_name(result, found[0])}, reserve {found[2]:.2f}.{point}"
            self.why.setText(text[0].upper() + text[1:])

    def _point(self, y: float, z: float) -> None:
        """Say what lies under the pointer in the governing case."""
        if self._shown is None:
            return
        result, part_id, case, position_mm = self._shown
        found = governing_at(result, part_id, case, position_mm)
        if found is None:
            return
        key = (id(result), part_id, found[0], round(position_mm, 2))
        if key != self._probe_key:
            self._probe_key = key
            self._probe = probe_at(result, part_id, found[0], max(position_mm, 0.05))
        spot = self._probe.at(y, z) if self._probe is not None else None
        if spot is None:
            self._unpoint()
            return
        way = "pull" if spot.along_mpa >= 0 else "push"
        part = result.part(part_id)
        printed = part is None or part.printed
        zone = spot.zone if part is None or printed else part.filament.name
        self.why.setText(f"{zone}: {abs(spot.along_mpa):.1f} MPa {way} along, {spot.shear_mpa:.1f} shear in "
                         f"{_name(result, found[0])}; {failure_name(spot.kind, printed)} nearest, "
                         f"elastic reserve {min(spot.reserve, 99):.2f}")  # fmt: skip
