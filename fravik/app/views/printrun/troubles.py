"""What will go wrong on the batch, by weight: each with its cure and its price; a click shows the place."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import Leaf, clear, label, scrolled, set_role
from fravik.engine.batchview import BatchView, Pin
from fravik.engine.settled import GRAVE


class TroubleList(QWidget):
    """Cards of the batch's troubles, then warnings that concern batch and run as a whole."""

    picked = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        self.head = label("", "small", wrap=True)
        column.addWidget(self.head)
        page = QWidget()
        self.rows = QVBoxLayout(page)
        self.rows.setContentsMargins(0, 0, 4, 0)
        self.rows.setSpacing(5)
        column.addWidget(scrolled(page), 1)
        self.buttons: dict[int, QPushButton] = {}
        self._shown: object = None

    def show_batch(self, batch: BatchView | None, notes: tuple[str, ...], picked: int) -> None:
        """Show a batch's troubles and the run's notes."""
        key = (batch is None, batch.pins if batch is not None else (), batch.batch.warnings if batch is not None else (), notes, picked)
        if key == self._shown:
            return
        self._shown = key
        clear(self.rows)
        self.buttons = {}
        pins = batch.pins if batch is not None else ()
        for text in (*notes, *(batch.batch.warnings if batch is not None else ())):
            line = label(text, "caution", wrap=True)
            self.rows.addWidget(line)
        for pin in pins:
            self.rows.addWidget(self._card(pin, pin.number == picked))
        if not pins and batch is not None:
            self.rows.addWidget(
                label("Nothing on this batch looks likely to go wrong. A model does not see dirt, draughts or damp.", "muted", True)
            )
        self.rows.addStretch(1)
        grave = sum(p.trouble.weight >= GRAVE for p in pins)
        self.head.setText(f"{len(pins)} found on this batch, {grave} grave, by weight" if pins else "")
        self.head.setVisible(bool(pins))

    def _card(self, pin: Pin, picked: bool) -> QWidget:
        box = Leaf("warm" if picked else "card")
        grid = QGridLayout(box)
        grid.setContentsMargins(8, 5, 8, 6)
        grid.setVerticalSpacing(1)
        grid.setColumnStretch(1, 1)
        button = QPushButton(str(pin.number))
        button.setFixedSize(24, theme.sized(22))
        button.setObjectName("pin")
        button.setAccessibleName(f"Show {pin.trouble.kind} on {pin.part_name.lower()}")
        button.clicked.connect(lambda _=False, n=pin.number: self.picked.emit(n))
        self.buttons[pin.number] = button
        title = label(f"{pin.part_name}: {pin.trouble.kind}", "heading")
        grid.addWidget(button, 0, 0, 2, 1, Qt.AlignmentFlag.AlignTop)
        grid.addWidget(title, 0, 1)
        text = label(pin.trouble.text + ".", "", wrap=True)
        set_role(text, "problem" if pin.trouble.weight >= GRAVE else "")
        grid.addWidget(text, 1, 1)
        grid.addWidget(label(pin.trouble.cure, "small", wrap=True), 2, 1)
        return box
