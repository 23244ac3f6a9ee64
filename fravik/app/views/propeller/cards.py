"""Whether a propeller may spin, and a section of its blade as it is printed."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout

from fravik.app.widgets.basics import Card, label
from fravik.app.widgets.glyphs import VerdictMark
from fravik.app.widgets.section import SectionView
from fravik.engine.propeller import CAUTION, PropellerSight, may_it_spin
from fravik.engine.propellertables import section_words
from fravik.structure.sectionpicture import section_picture

from .tables import thousand


class VerdictCard(Card):
    """The verdict, why, and the caution that always stands there."""

    def __init__(self) -> None:
        super().__init__("May it spin?")
        row = QHBoxLayout()
        self.mark, self.words = VerdictMark("holds", 13), label("", "bold", wrap=True)
        row.addWidget(self.mark)
        row.addWidget(self.words, 1)
        self.why = label("", "small", wrap=True)
        self.column.addLayout(row)
        self.column.addWidget(self.why)
        self.column.addWidget(label(CAUTION, "caution", wrap=True))

    def show_sight(self, s: PropellerSight | None) -> None:
        """A propeller, or none: then what is said of it stays."""
        for widget in (self.mark, self.why):
            widget.setVisible(s is not None)
        if s is None:
            return
        spin, why = may_it_spin(s)
        self.mark.set_verdict(s.verdict)
        self.setObjectName("card" if s.verdict == "holds" else "warm")
        self.update()
        self.words.setText(spin)
        first = f" Spin it first at {thousand(s.proof_rpm)} behind a shield."
        self.why.setText(f"{why} Do not spin it above {thousand(s.lets_go.allowed)} rpm.{first}")
        self.note.setText(f"{s.spun.part.filament.name}, {s.part.recipe.core_density:.0%} core, {s.grams:.1f} g")


class BladeSectionCard(Card):
    """The section at the cursor."""

    def __init__(self) -> None:
        super().__init__("Section as printed")
        self.section, self.words = SectionView(), label("", "small", wrap=True)
        self.column.addWidget(self.section, 1)
        self.column.addWidget(self.words)

    def show_at(self, s: PropellerSight, at_mm: float, reserve: float) -> None:
        """At a radius, with the least reserve there."""
        member, recipe = s.spun.member, s.part.recipe
        picture = section_picture(s.spun.part.field, member.path.line, (), member.positions_mm, at_mm - s.spun.shape.root_mm)
        self.section.show_picture(picture, recipe.core_density, recipe.pattern)
        self.title.setText(f"Section at {at_mm:.0f} mm")
        self.words.setText(section_words(s, at_mm, reserve))
