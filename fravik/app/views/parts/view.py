"""The Parts view: part list, 3D picture, ruler, section, controls and ways out."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import Card, clear, label, set_role
from fravik.app.widgets.ruler import Ruler
from fravik.app.widgets.scene import Scene
from fravik.app.widgets.section import SectionView, ZoneKey
from fravik.app.widgets.waysout import WaysOut
from fravik.engine.results import Evaluation, MemberResult
from fravik.model.recipe import LIES_LABELS
from fravik.structure.cases import CRASH_CASES
from fravik.structure.picture import section_picture
from fravik.structure.reserves import KINDS, CaseReserves
from fravik.study.words import clock

from .controls import PartControls
from .scene import BAND_NAMES, draw_part


class ReserveKey(QWidget):
    """Colour key of the reserve bands."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(16)
        self.setMinimumWidth(300)
        self.setAccessibleName("Reserve bands: " + ", ".join(BAND_NAMES))

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        c = theme.current()
        p.setFont(theme.mono(7.5))
        x = 0.0
        for colour, name in zip(c.reserve, BAND_NAMES, strict=True):
            p.fillRect(QRectF(x, 3, 11, 10), QColor(colour))
            p.setPen(QColor(c.muted))
            p.drawText(QPointF(x + 15, 12), name)
            x += 28 + QFontMetricsF(p.font()).horizontalAdvance(name)


class PartsView(QWidget):
    """One part at a time, chosen at the top."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.part_id = session.project.parts[0].id if session.project.parts else ""
        self.case = "worst in flight"
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(8)
        grid.setColumnStretch(0, 1)
        grid.addWidget(self._picture_card(), 0, 0)
        grid.addWidget(self._ruler_card(), 1, 0)
        self.ways = WaysOut(session)
        grid.addWidget(self.ways, 2, 0)
        grid.setRowStretch(0, 10)
        grid.setRowStretch(1, 9)
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(self._section_card(), 4)
        right.addWidget(self._made_card(), 6)
        side = QWidget()
        side.setLayout(right)
        side.setFixedWidth(352)
        right.setContentsMargins(0, 0, 0, 0)
        grid.addWidget(side, 0, 1, 3, 1)

    def _picture_card(self) -> Card:
        card = Card()
        self.picks = QHBoxLayout()
        self.picks.setSpacing(5)
        card.column.addLayout(self.picks)
        self.pick_buttons: dict[str, QPushButton] = {}
        top = QHBoxLayout()
        self.title = label("", "title")
        self.note = label("", "figureMuted")
        self.cases = QComboBox()
        self.cases.setFixedHeight(23)
        self.cases.setAccessibleName("Load case")
        self.cases.activated.connect(self._pick_case)
        top.addWidget(self.title)
        top.addWidget(self.note, 1)
        top.addWidget(label("Load case", "muted"))
        top.addWidget(self.cases)
        card.column.addLayout(top)
        self.verdict = label("", "problem", wrap=True)
        card.column.addWidget(self.verdict)
        self.no_ruler = label("Plates are not judged for strength yet: their mass, minutes and bed fit count, their flex does not.",
                              "muted", wrap=True)  # fmt: skip
        card.column.addWidget(self.no_ruler)
        self.scene = Scene(self._draw, "The part in 3D, coloured by reserve")
        self.scene.view_from = (-0.55, -1.7, 1.05)
        card.column.addWidget(self.scene, 1)
        low = QHBoxLayout()
        self.key = ReserveKey()
        low.addWidget(self.key)
        low.addStretch(1)
        home = QPushButton("Whole part")
        home.setObjectName("quiet")
        home.clicked.connect(self.scene.home)
        low.addWidget(home)
        card.column.addLayout(low)
        return card

    def _ruler_card(self) -> Card:
        card = Card("Along the arm")
        self.ruler_card = card
        self.ruler = Ruler()
        self.ruler.station_changed.connect(lambda _: self._show_section())
        card.column.addWidget(self.ruler, 1)
        card.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        card.setMinimumHeight(210)
        return card

    def _section_card(self) -> Card:
        card = Card("Section as printed")
        self.section_card = card
        self.figures = label("", "figure")
        self.figures.setWordWrap(True)
        self.why = label("", "small", wrap=True)
        card.column.addWidget(self.figures)
        self.section = SectionView()
        card.column.addWidget(self.section, 1)
        self.zone_key = ZoneKey()
        card.column.addWidget(self.zone_key)
        card.column.addWidget(self.why)
        return card

    def _made_card(self) -> Card:
        card = Card()
        self.controls = PartControls(self.session)
        card.column.addWidget(self.controls, 1)
        self.total = label("", "figure")
        card.column.addWidget(self.total)
        return card

    def open_part(self, part_id: str) -> None:
        """Bring a part into view."""
        if part_id != self.part_id:
            self.part_id = part_id
            self.scene.refit()
            self.ruler.set_station(0.0)
        self.refresh()

    def _pick_case(self, index: int) -> None:
        self.case = str(self.cases.itemData(index))
        self.refresh()

    def _member(self) -> MemberResult | None:
        result = self.session.result
        return result.members.get(self.part_id) if result is not None else None

    def reserves(self) -> tuple[str, CaseReserves, float] | None:
        """(case, reserves, speed factor) of the chosen case: crash cases are shown at the target's speed."""
        member, result = self._member(), self.session.result
        if member is None or result is None:
            return None
        cases = member.cases["typical"]
        if self.case in cases:
            return self.case, cases[self.case], self._speed_factor(self.case, result)
        name, found = member.worst_static(tuple(n for n in cases if n not in CRASH_CASES))
        return name, found, 1.0

    def _speed_factor(self, case: str, result: Evaluation) -> float:
        if case not in CRASH_CASES:
            return 1.0
        return 1.0 / result.crash_speed_m_s(case)

    def refresh(self) -> None:
        """Show the current project."""
        self.ways.refresh()
        project, result = self.session.project, self.session.result
        if self.part_id not in {p.id for p in project.parts}:
            self.part_id = project.parts[0].id if project.parts else ""
        if not self.part_id or result is None:
            return
        self._show_picks()
        part = project.part(self.part_id)
        self.title.setText(part.name)
        self.note.setText(f"{part.count} off · {LIES_LABELS[part.recipe.lies].lower()}")
        self.controls.show_part(part)
        shown = result.parts.get(part.id)
        if shown is None:
            return
        member = self._member()
        self.controls.show_hints(shown, member)
        self.total.setText(f"{shown.grams:.1f} g each · {clock(shown.figures.minutes)} · {shown.cost:.2f}"
                           + ("  (last good)" if self.session.stale else ""))  # fmt: skip
        self._show_cases(member)
        self._show_ruler(member)
        self._show_section()
        self.scene.invalidate()

    def _show_picks(self) -> None:
        parts = self.session.project.parts
        if list(self.pick_buttons) != [p.id for p in parts]:
            clear(self.picks)
            self.pick_buttons = {}
            for p in parts:
                button = QPushButton()
                button.setCheckable(True)
                button.setFixedHeight(24)
                button.clicked.connect(lambda _=False, i=p.id: self.open_part(i))
                self.pick_buttons[p.id] = button
                self.picks.addWidget(button)
            self.picks.addStretch(1)
        for p in parts:
            self.pick_buttons[p.id].setText(f"{p.name} × {p.count}")
            self.pick_buttons[p.id].setChecked(p.id == self.part_id)

    def _show_cases(self, member: MemberResult | None) -> None:
        names = ["worst in flight", *(member.cases["typical"] if member else ())]
        if [self.cases.itemData(i) for i in range(self.cases.count())] != names:
            self.cases.clear()
            for n in names:
                self.cases.addItem(n[0].upper() + n[1:], n)
        if self.case not in names:
            self.case = names[0]
        self.cases.setCurrentIndex(names.index(self.case))
        self.cases.setEnabled(member is not None)
        self.key.setVisible(member is not None)

    def _show_ruler(self, member: MemberResult | None) -> None:
        self.ruler_card.setVisible(member is not None)
        self.no_ruler.setVisible(member is None)
        found = self.reserves()
        if member is None or found is None:
            self.verdict.hide()
            self.ruler_card.note.setText("")
            return
        case, reserves, factor = found
        s = member.answers["typical"].section
        self.ruler.show_line(s.stations_mm, reserves.envelope() * factor, s.ei_up_nmm2 / 1e6, s.ei_side_nmm2 / 1e6, member.member.length_mm)
        self.ruler_card.title.setText("Along the arm" if member.member.shape.kind == "arm" else "Along the leg")
        tip = "the motor" if member.member.shape.kind == "arm" else "the toe"
        self.ruler_card.note.setText(f"station 0 at the plate edge, {member.member.length_mm:.0f} mm at {tip}")
        least = reserves.reserve * factor
        speed = f" at {1 / factor:.1f} m/s" if case in CRASH_CASES else ""
        set_role(self.verdict, "problem" if least < 1 else "muted")
        self.verdict.setText(f"Weakest: {reserves.kind} at {reserves.station_mm:.0f} mm, reserve {least:.2f} in {case}{speed}")
        self.verdict.show()

    def _show_section(self) -> None:
        member, result = self._member(), self.session.result
        self.section_card.setVisible(member is not None)
        if member is None or result is None or self.part_id not in result.parts:
            return
        shown = result.parts[self.part_id]
        x = min(max(self.ruler.station_mm, 0.01), member.member.length_mm - 0.01)
        picture = section_picture(shown.field, member.member, x)
        recipe = shown.part.recipe
        self.section.show_picture(picture, recipe.infill, recipe.pattern)
        self.section_card.title.setText(f"Section at {x:.0f} mm, as printed")
        s = member.answers["typical"].section

        def at(values: np.ndarray) -> float:
            return float(np.interp(x, s.stations_mm, values)) / 1e6

        self.figures.setText(f"EI up {at(s.ei_up_nmm2):.2f}  side {at(s.ei_side_nmm2):.2f}  GJ {at(s.gj_nmm2):.2f} N·m²")
        carbon = shown.part.carbon
        items = [("wall", f"wall ×{recipe.walls}"), ("skin", f"skin ×{recipe.skin_layers}"),
                 ("core", f"{recipe.pattern} {recipe.infill:.0%}")]  # fmt: skip
        if carbon is not None:
            items.append(("carbon", "carbon"))
        self.zone_key.show_items(items)
        self._show_why(picture.layers, x)

    def _show_why(self, layers: str, x: float) -> None:
        found = self.reserves()
        if found is None:
            return
        case, reserves, factor = found
        stations = self.ruler.stations_mm
        i = int(np.argmin(np.abs(stations - x)))
        column = reserves.values[:, i] * factor
        kind = KINDS[int(np.argmin(column))]
        run = {"level": "Layers run level", "upright": "Layers stand upright", "facing you": "You look onto a layer"}[layers]
        self.why.setText(f"{run}; in {case} {kind} governs here, reserve {column.min():.2f}.")

    def _draw(self, plotter: Any) -> None:
        result = self.session.result
        if result is None or self.part_id not in result.parts:
            return
        shown = result.parts[self.part_id]
        found = self.reserves()
        member = self._member()
        mesh = self.session.engine.fine_mesh(shown.given) if member is not None else self.session.engine.mesh(shown.given)
        draw_part(plotter, mesh, member, found[1] if found else None, found[2] if found else 1.0)
