"""The rib guide: three ways to spend the same plastic on ribs inside a printed shell, drawn and weighed."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import Leaf, clear, label, scrolled
from fravik.app.widgets.fieldforms import Form
from fravik.app.widgets.fields import ChoiceField, NumberField
from fravik.library import filament_of, filaments_of
from fravik.structure.shell import RibSet, ShellAnswer, advice, compare_shells

FIELDS = ("span_mm", "width_mm", "skin_lines", "line_width_mm", "pressure_pa", "rib_share")


class RibSketch(QWidget):
    """The panel's section: skin above, ribs below, to scale but for lines thickened to be seen."""

    def __init__(self, ribs: tuple[RibSet, ...], width_mm: float, deepest_mm: float) -> None:
        super().__init__()
        self.ribs, self.wide, self.deepest = ribs, width_mm, deepest_mm
        self.setFixedHeight(theme.sized(30))
        self.setAccessibleName("Section of the panel")

    def paintEvent(self, event: object) -> None:
        c = theme.current()
        p = QPainter(self)
        k = min((self.width() - 8) / self.wide, 24.0 / max(self.deepest, 1e-6))
        left = (self.width() - k * self.wide) / 2
        p.fillRect(QRectF(left, 2, k * self.wide, 2.2), QColor(c.wall))
        total = sum(r.count for r in self.ribs)
        # deep ribs are spread evenly among all
        order = sorted(((i + 0.5) / r.count, r) for r in self.ribs for i in range(r.count)) if total else []
        for n, (_, r) in enumerate(sorted(order, key=lambda q: q[0])):
            x = left + k * self.wide * (n + 1) / (total + 1)
            p.setPen(QPen(QColor(c.wall if r.lines > 1 else c.cover), 1.2 * r.lines))
            p.drawLine(QPointF(x, 4), QPointF(x, 4 + k * r.depth_mm))


class ShellPage(QWidget):
    """The panel's figures above, the layouts below."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        page = QWidget()
        inner = QVBoxLayout(page)
        inner.setContentsMargins(0, 0, 4, 0)
        inner.addWidget(label("Pods, fairings and wing panels printed standing, skin of one or two lines: where to spend the ribs.",
                              "small", wrap=True))  # fmt: skip
        self.form = Form()
        self.filament = ChoiceField(session, "shell.filament", [(k, f.name) for k, f in filaments_of(session.project).items()])
        self.form.add(self.filament)
        for name in FIELDS:
            self.form.add(NumberField(session, f"shell.{name}"))
        inner.addWidget(self.form)
        self.cards = QVBoxLayout()
        self.cards.setSpacing(5)
        inner.addLayout(self.cards)
        self.advice = label("", "", wrap=True)
        inner.addWidget(self.advice)
        inner.addWidget(label("One even panel on two edges, no curvature: a curved shell is stiffer. Strips far longer than their pitch.",
                              "small", wrap=True))  # fmt: skip
        inner.addStretch(1)
        column.addWidget(scrolled(page), 1)
        self._shown: object = None

    def refresh(self) -> None:
        """Show the current panel."""
        self.form.refresh()
        panel = self.session.project.shell
        table = filaments_of(self.session.project)
        if (panel, tuple(table)) == self._shown or panel.filament not in table:
            return
        self._shown = (panel, tuple(table))
        answers = compare_shells(panel, filament_of(self.session.project, panel.filament))
        clear(self.cards)
        deepest = max(r.depth_mm for a in answers for r in a.ribs)
        for a in answers:
            self.cards.addWidget(self._card(a, deepest, panel.width_mm))
        self.advice.setText(advice(answers))

    def _card(self, a: ShellAnswer, deepest: float, width_mm: float) -> QWidget:
        box = Leaf()
        grid = QGridLayout(box)
        grid.setContentsMargins(8, 5, 8, 6)
        grid.setVerticalSpacing(1)
        ribs = (
            " and ".join(f"{r.count} × {r.lines} line{'s' if r.lines > 1 else ''}, {r.depth_mm:.1f} deep" for r in a.ribs) or "skin alone"
        )
        grid.addWidget(label(a.name.capitalize(), "heading"), 0, 0)
        grid.addWidget(label(ribs, "small", wrap=True), 1, 0)
        grid.addWidget(RibSketch(a.ribs, width_mm, deepest), 2, 0)
        sag = f"panel sags {a.sag_mm:.2f} mm" if not a.caves_in else "panel caves in"
        grid.addWidget(label(f"skin gives {a.flex_mm:.2f} · {sag}", "figure"), 3, 0)
        reserve = f"{a.reserve:.1f}" if a.reserve < 99 else "over 99"
        grid.addWidget(label(f"{a.grams:.1f} g · reserve {reserve}, {a.kind}", "figure"), 4, 0)
        return box
