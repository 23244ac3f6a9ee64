"""Layers: the part as it is laid, layer by layer, with what will go wrong pinned at its place."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.settler import Settler
from fravik.app.views.printrun.scrubber import LayerScrubber
from fravik.app.widgets.basics import label
from fravik.engine.batchview import alone
from fravik.study.words import clock


class LayersPage(QWidget):
    """One copy in the middle of the bed, drawn near."""

    pause_asked = pyqtSignal(str, float)

    def __init__(self, settler: Settler) -> None:
        super().__init__()
        self.settler = settler
        self.part_id = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        row = QHBoxLayout()
        self.state = label("", "figureMuted")
        row.addWidget(self.state, 1)
        self.again = QPushButton("Lay the layers")
        self.again.setFixedHeight(theme.sized(22))
        self.again.clicked.connect(self.settler.ask)
        row.addWidget(self.again)
        column.addLayout(row)
        self.trouble = label("", "small", wrap=True)
        column.addWidget(self.trouble)
        self.scrubber = LayerScrubber()
        self.scrubber.picture.pin_clicked.connect(self.show_pin)
        self.scrubber.ruler.pause_asked.connect(lambda height_mm: self.pause_asked.emit(self.part_id, height_mm))
        column.addWidget(self.scrubber, 1)
        settler.changed.connect(lambda: self.show_part(self.part_id))

    def show_part(self, part_id: str) -> None:
        """Show a part's layers, when they are laid."""
        if not part_id or not self.isVisible():
            self.part_id = part_id
            return
        settled, moved = self.settler.settled, part_id != self.part_id
        self.part_id = part_id
        self.again.setVisible(self.settler.idle)
        if settled is None or part_id not in settled.jobs:
            busy = self.settler.busy
            self.state.setText(f"laying the layers, {busy[0] / max(busy[1], 1):.0%}" if busy else self.settler.message or "not laid yet")
            self.scrubber.setVisible(False)
            return
        self.scrubber.setVisible(True)
        job = settled.jobs[part_id]
        old = "" if self.settler.fresh else "before the last edit: "
        grams = f"{job.grams:.1f} g by roads, {job.zone_grams:.1f} by zones"
        self.state.setText(f"{old}{job.layers.count} layers · {clock(job.minutes)} · {grams} · {job.metres():.0f} m")
        view = alone(settled, part_id)
        last = self.scrubber.batch
        first = last is None
        if last is None or moved or last.settled is not settled:
            self.scrubber.show_batch(view)
            if first or moved:
                self.scrubber.picture.come_near()
        self._say()

    def show_pin(self, number: int) -> None:
        """Read a trouble out, at its layer."""
        picture = self.scrubber.picture
        picture.picked_pin = 0 if number == picture.picked_pin else number
        batch = self.scrubber.batch
        pin = next((p for p in batch.pins if p.number == picture.picked_pin), None) if batch is not None else None
        if pin is not None and batch is not None:
            self.scrubber.show_layer(batch.index_at(pin.trouble.place_mm[2]))
        picture.update()
        self._say()

    def _say(self) -> None:
        batch, picked = self.scrubber.batch, self.scrubber.picture.picked_pin
        pins = batch.pins if batch is not None else ()
        pin = next((p for p in pins if p.number == picked), None)
        if pin is not None:
            self.trouble.setText(f"Pin {pin.number}, {pin.trouble.kind}: {pin.trouble.text}. {pin.trouble.cure}")
        else:
            self.trouble.setText(" · ".join(f"pin {p.number}: {p.trouble.kind}" for p in pins) or "nothing looks likely to go wrong")
