"""A batch on its bed beside its height: the ruler steps through the layers, and play prints them before one's eyes."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.widgets.basics import Card
from fravik.app.widgets.short import Short, ShortButton
from fravik.engine.batchview import BatchView

from .heightruler import HeightRuler
from .picture import BatchPicture
from .roadkey import RoadKey

PLAY_MS = 70
FIRST_LOOK = 0.55  # share of the height at which a batch is first shown: its insides tell most


class LayerScrubber(QWidget):
    """The picture with the key to its roads, and the ruler. ``ruler`` can be put in another place of the page."""

    def __init__(self, beside: bool = True) -> None:
        """``beside`` puts the ruler at the picture's right."""
        super().__init__()
        self.batch: BatchView | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        column = QVBoxLayout()
        column.setSpacing(5)
        row.addLayout(column, 1)
        self.picture = BatchPicture()
        self.picture.stepped.connect(self.show_layer)
        self.picture.play_asked.connect(self.play)
        column.addWidget(self.picture, 1)
        self.where = Short()
        self.key = RoadKey()
        low = QHBoxLayout()
        low.setSpacing(6)
        self.play_button = QPushButton("Play")
        self.play_button.setFixedHeight(theme.sized(23))
        self.play_button.clicked.connect(self.play)
        low.addWidget(self.play_button)
        low.addStretch(1)
        for text, call in (("From above", self.picture.from_above), ("Whole bed", self.picture.home)):
            button = ShortButton(text)
            button.setObjectName("quiet")
            button.clicked.connect(call)
            low.addWidget(button)
        column.addLayout(low)
        column.addWidget(self.where)
        column.addWidget(self.key)
        self.ruler = HeightRuler()
        self.ruler.stepped.connect(self.show_layer)
        self.ruler.play_asked.connect(self.play)
        self.ruler.pin_clicked.connect(self.picture.pin_clicked)
        if beside:
            self.ruler.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
            row.addWidget(self.ruler)
        self._play = QTimer(self)
        self._play.setInterval(PLAY_MS)
        self._play.timeout.connect(self._next)

    def show_batch(self, batch: BatchView | None) -> None:
        """Show another batch, or another state of the same; the layer is kept where the number of layers is the same."""
        fresh = batch is not None and (self.batch is None or len(batch.tops_mm) != len(self.batch.tops_mm))
        self.batch = batch
        self.picture.show_batch(batch)
        self.ruler.show_batch(batch)
        if batch is None:
            self.hold()
            return
        self.key.show_kinds(tuple(n for n, _ in batch.minutes_by_feature))
        self.show_layer(int(FIRST_LOOK * len(batch.tops_mm)) if fresh else self.picture.index)

    def show_layer(self, index: int) -> None:
        """Show the batch up to a layer."""
        if self.batch is None or not len(self.batch.tops_mm):
            return
        self.picture.show_layer(index)
        self.ruler.show_layer(self.picture.index, self.picture.picked_pin)
        self.where.setText(self.batch.describe(self.picture.index))

    def play(self) -> None:
        """Print the batch before one's eyes, or pause."""
        if self._play.isActive():
            self.hold()
        elif self.batch is not None:
            if self.picture.index >= len(self.batch.tops_mm) - 1:
                self.show_layer(0)
            self._play.start()
            self.play_button.setText("Pause")

    def hold(self) -> None:
        """Stop playing."""
        self._play.stop()
        self.play_button.setText("Play")

    def _next(self) -> None:
        if self.batch is None or self.picture.index >= len(self.batch.tops_mm) - 1 or not self.isVisible():
            self.hold()
        else:
            self.show_layer(self.picture.index + 1)


def ruler_card(ruler: HeightRuler) -> Card:
    """The ruler as a card of its own."""
    card = Card("Height")
    card.column.addWidget(ruler, 1)
    return card
