"""A ready-made G-code file: its roads by layer, and how it differs from the batch on show."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QSizePolicy, QSlider, QVBoxLayout, QWidget
from pyqtgraph.functions import arrayToQPath

from fravik.app import theme
from fravik.app.background import Background, Message
from fravik.app.widgets.basics import clear, label, set_role
from fravik.engine.gcoderead import GcodeReading
from fravik.model.project import Project
from fravik.study.words import clock

REST_MS = 5_000


class RoadsPicture(QWidget):
    """One layer of a file seen from above, with the moves between roads as thin lines."""

    def __init__(self) -> None:
        super().__init__()
        self.reading: GcodeReading | None = None
        self.top_mm = 0.0
        self.setMinimumSize(360, 320)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Roads of one layer of the file")

    def show_layer(self, reading: GcodeReading, top_mm: float) -> None:
        """Show another layer."""
        self.reading, self.top_mm = reading, top_mm
        self.update()

    def paintEvent(self, event: object) -> None:
        c = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), QColor(c.sunk))
        if self.reading is None:
            return
        roads = self.reading.roads
        low, high = roads.bounds_mm()
        room = QRectF(self.rect()).adjusted(12, 12, -12, -12)
        k = min(room.width() / max(high[0] - low[0], 1.0), room.height() / max(high[1] - low[1], 1.0))
        points, laid = roads.points_mm, roads.extruding
        here = np.abs(points[1:, 2] - self.top_mm) < 5e-4
        x = room.center().x() + k * (points[:, 0] - (low[0] + high[0]) / 2)
        y = room.center().y() - k * (points[:, 1] - (low[1] + high[1]) / 2)
        for mask, pen in ((here & ~laid, QPen(QColor(c.rule), 0.7)), (here & laid, QPen(QColor(c.wall), max(0.8, 0.35 * k)))):
            at = np.flatnonzero(mask)
            if not len(at):
                continue
            pairs = np.stack([at, at + 1], axis=1).ravel()
            joined = np.tile(np.array([1, 0], dtype=np.int32), len(at))
            p.setPen(pen)
            p.drawPath(arrayToQPath(x[pairs], y[pairs], joined, finiteCheck=False))


class GcodeDialog(QDialog):
    """Reads a file in the background; bad files get a plain answer."""

    def __init__(self, project: Project, path: Path, batch_id: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"{path.name} beside the plan")
        self.resize(760, 460)
        self.reading: GcodeReading | None = None
        row = QHBoxLayout(self)
        left = QVBoxLayout()
        self.picture = RoadsPicture()
        left.addWidget(self.picture, 1)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Layer of the file")
        self.slider.valueChanged.connect(self._show)
        left.addWidget(self.slider)
        self.where = label("", "figure")
        left.addWidget(self.where)
        row.addLayout(left, 1)
        right = QVBoxLayout()
        self.state = label("reading…", "", wrap=True)
        right.addWidget(self.state)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(12)
        right.addLayout(self.grid)
        self.notes = label("", "small", wrap=True)
        right.addWidget(self.notes)
        right.addStretch(1)
        side = QWidget()
        side.setLayout(right)
        side.setFixedWidth(280)
        row.addWidget(side)
        self.background = Background(REST_MS, self)
        self.background.heard.connect(self._hear)
        try:
            self.background.submit("gcode", project, path, batch_id)
        except OSError as err:
            self._fail(f"The file could not be read in the background: {err}.")

    def _hear(self, message: Message) -> None:
        if message.kind == "progress":
            self.state.setText(f"reading… {message.payload[0]} lines")
        elif message.kind == "done":
            self._take(message.payload)
        else:
            self._fail(str(message.payload))

    def _fail(self, text: str) -> None:
        set_role(self.state, "problem")
        self.state.setText(text)

    def _take(self, reading: GcodeReading) -> None:
        self.reading = reading
        self.state.setText(f"{clock(reading.minutes)} by our motion · {reading.grams:.1f} g\n{reading.bounds}")
        clear(self.grid)
        for col, text in enumerate(("", "File", reading.against.capitalize(), "")):
            self.grid.addWidget(label(text, "small"), 0, col)
        for i, d in enumerate(reading.rows, start=1):
            whole = d.unit == ""
            cells = (d.what.capitalize(), f"{d.file:.0f}" if whole else f"{d.file:.1f} {d.unit}",
                     f"{d.plan:.0f}" if whole else f"{d.plan:.1f} {d.unit}", f"{d.off:+.0%}")  # fmt: skip
            for col, text in enumerate(cells):
                self.grid.addWidget(label(text, "figure" if col else ""), i, col)
        lines = [reading.off_bed] if reading.off_bed else []
        if reading.roads.passed_over:
            lines.append(f"{reading.roads.passed_over} lines hold other commands and were passed over.")
        lines.append("Grams are of everything fed, for the batch's plastic and 1.75 mm filament. Never run a file you have not looked at.")
        self.notes.setText("\n".join(lines))
        self.slider.setRange(0, max(0, len(reading.roads.tops_mm()) - 1))
        self._show(0)

    def _show(self, index: int) -> None:
        if self.reading is None:
            return
        tops = self.reading.roads.tops_mm()
        if not len(tops):
            return
        top = float(tops[min(index, len(tops) - 1)])
        self.where.setText(f"layer {index + 1} of {len(tops)} · {top:.2f} mm")
        self.picture.show_layer(self.reading, top)

    def done(self, result: int) -> None:
        self.background.rest()
        super().done(result)
