"""Plastics of this part on two axes: what survives a crash against what does not buzz, from real evaluations."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.stepper import Stepper
from fravik.app.widgets.basics import label
from fravik.app.widgets.plots import Plot, dress_axes, name_axis
from fravik.engine.compare import Choice, axes_of, plastics
from fravik.engine.loopneed import need_words
from fravik.engine.results import Evaluation
from fravik.kinds import kind_of
from fravik.library import filaments_of
from fravik.printing.checks import recipe_problems
from fravik.study.words import clock, money


class PlasticsPage(QWidget):
    """A chart of all filaments for the part on show; a point can be picked and taken."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.part_id, self.picked = "", ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self.plot = Plot()
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        self.plot.setMouseEnabled(False, False)
        self.plot.setAccessibleName("Plastics by crash and stiffness")
        column.addWidget(self.plot, 1)
        low = QHBoxLayout()
        self.card = label("", "small", wrap=True)
        self.use = QPushButton("Use it")
        self.use.setFixedHeight(theme.sized(23))
        self.use.clicked.connect(self._take)
        low.addWidget(self.card, 1)
        low.addWidget(self.use)
        column.addLayout(low)
        self.whiskers = pg.PlotDataItem(connect="pairs")
        self.points = pg.ScatterPlotItem(size=11)
        self.points.sigClicked.connect(self._clicked)
        self.plot.addItem(self.whiskers)
        self.plot.addItem(self.points)
        self.names: list[pg.TextItem] = []
        self.stepper = Stepper(session)
        self.stepper.stepped.connect(self._draw)
        self.restyle()
        theme.on_change(self.restyle)

    def restyle(self) -> None:
        """Take the palette in force."""
        c = theme.current()
        self.plot.setBackground(c.card)
        dress_axes(self.plot, 7)
        if any(p.id == self.part_id for p in self.session.project.parts):
            self._draw()

    def show_part(self, part_id: str, result: Evaluation) -> None:
        """Weigh the plastics of a part when on show."""
        if part_id != self.part_id:
            self.picked = ""
        self.part_id = part_id
        if not self.isVisible():
            self.stepper.stop()
            return
        axes = axes_of(self.session.project, part_id)
        name_axis(self.plot, "bottom", axes.crash + "  →  tougher")
        name_axis(self.plot, "left", axes.flex + "  →  stiffer")
        self.stepper.ask(part_id, plastics(self.session.project, part_id))

    def _filament(self, c: Choice) -> str:
        return str(c.edits[0][1])

    def _draw(self) -> None:
        p = theme.current()
        for item in self.names:
            self.plot.removeItem(item)
        self.names = []
        good = [c for c in self.stepper.choices if not c.refused]
        if not good or not self.part_id:
            self.points.setData([])
            self.whiskers.setData([], [])
            self.card.setText("weighing the plastics of this part…" if self.stepper.busy else "")
            self.use.hide()
            return
        now = self.session.project.part(self.part_id).recipe.filament
        spots = []
        lines = []
        for c in good:
            kind = self._filament(c)
            own = kind == now
            ready = self._ready(kind)
            spots.append({
                "pos": (c.crash, c.flex), "data": kind, "size": 14 if own else 10, "symbol": "s" if own else "o",
                "brush": pg.mkBrush(p.accent if ready else p.card), "pen": pg.mkPen(p.tight if kind == self.picked else p.accent, width=2),
            })  # fmt: skip
            lines += [(c.crash_low, c.flex), (c.crash_high, c.flex), (c.crash, c.flex_low), (c.crash, c.flex_high)]
        self.points.setData(spots)
        at = np.array(lines)
        self.whiskers.setData(at[:, 0], at[:, 1])
        self.whiskers.setPen(pg.mkPen(p.rule, width=1.2))
        self._label(good, now)
        self._describe(good, now)

    def _label(self, good: list[Choice], now: str) -> None:
        """Name every point where its name is clear of the others'."""
        p = theme.current()
        table = filaments_of(self.session.project)
        view = self.plot.getViewBox()
        view.setRange(
            xRange=(min(c.crash_low for c in good), max(c.crash_high for c in good)),
            yRange=(min(c.flex_low for c in good), max(c.flex_high for c in good)), padding=0.09,
        )  # fmt: skip
        wide, tall = view.viewPixelSize()
        taken: list[QRectF] = [QRectF(c.crash / wide - 7, c.flex / tall - 7, 14, 14) for c in good]
        for c in sorted(good, key=lambda c: self._filament(c) != now):
            kind = self._filament(c)
            text = table[kind].name
            font = theme.sans(8, bold=kind == now)
            w, h = QFontMetricsF(font).horizontalAdvance(text) + 6, 15.0
            x, y = c.crash / wide, c.flex / tall
            # above, below, right, left, then farther off
            spots = [(x - w / 2, y + 8), (x - w / 2, y - 8 - h), (x + 9, y - h / 2), (x - 9 - w, y - h / 2),
                     (x + 6, y + 18), (x + 6, y - 18 - h), (x - 6 - w, y + 18), (x - 6 - w, y - 18 - h)]  # fmt: skip
            boxes = [QRectF(a, b, w, h) for a, b in spots]
            box = next((b for b in boxes if not any(b.intersects(t) for t in taken)), boxes[0])
            taken.append(box)
            item = pg.TextItem(text, anchor=(0.5, 0.5))
            item.setFont(font)
            item.setColor(p.ink if kind in (now, self.picked) else p.muted)
            item.setPos(box.center().x() * wide, box.center().y() * tall)
            self.plot.addItem(item)
            self.names.append(item)

    def _ready(self, kind: str) -> bool:
        """Whether the printer and the shelf are ready for a filament."""
        part = self.session.project.part(self.part_id)
        changed = part.model_copy(update={"recipe": part.recipe.model_copy(update={"filament": kind})})
        return not any(q.path.endswith("filament") for q in recipe_problems(changed, self.session.project, kind_of(changed.shape).may_flex))

    def _describe(self, good: list[Choice], now: str) -> None:
        kind = self.picked or now
        c = next((c for c in good if self._filament(c) == kind), None)
        f = filaments_of(self.session.project).get(kind)
        self.use.setVisible(c is not None and kind != now)
        if c is None or f is None:
            return
        part = self.session.project.part(self.part_id)
        changed = part.model_copy(update={"recipe": part.recipe.model_copy(update={"filament": kind})})
        trouble = [
            q.message
            for q in recipe_problems(changed, self.session.project, kind_of(changed.shape).may_flex)
            if q.path.endswith("filament")
        ]
        text = f"{f.name}: reserve {c.reserve:.2f} ({c.kind}, {c.case}), {c.grams:.1f} g, {clock(c.minutes)}, "
        text += f"{money(c.cost, self.session.project.brief.currency)}. {f.note}"
        own = next((c for c in good if self._filament(c) == now), None)
        text += (" " + " ".join(trouble) if trouble else "") + "  Square: in use; hollow: not ready on shelf or printer."
        if c.loop is not None:
            text += f"\n{need_words(c.loop, own.loop if own is not None and own is not c else None)}"
        self.card.setText(text)

    def pick(self, kind: str) -> None:
        """Look at one plastic."""
        self.picked = kind
        self._draw()

    def _clicked(self, _: object, spots: list[pg.SpotItem]) -> None:
        if len(spots):
            self.pick(str(spots[0].data()))

    def _take(self) -> None:
        if self.picked:
            self.session.edit(f"parts.{self.part_id}.recipe.filament", self.picked, f"plastic {self.picked}")

    def keyPressEvent(self, event: object) -> None:
        order = [self._filament(c) for c in sorted(self.stepper.choices, key=lambda c: c.crash) if not c.refused]
        key = event.key()  # type: ignore[attr-defined]
        if order and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            at = order.index(self.picked) if self.picked in order else 0
            self.pick(order[(at + (1 if key == Qt.Key.Key_Right else -1)) % len(order)])
        else:
            super().keyPressEvent(event)  # type: ignore[arg-type]
