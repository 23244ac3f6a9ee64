"""A plate with what steps through its layers: slider, keys, wheel, and play."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from fravik.app.widgets.basics import Short
from fravik.engine.plateview import PlateView

from .bars import FeatureBar
from .picture import PlatePicture

PLAY_MS = 70
FIRST_LOOK = 0.55  # share of the height at which a plate is first shown: its insides tell most


class LayerScrubber(QWidget):
    """The picture, the row that steps it, and the minutes by feature."""

    def __init__(self) -> None:
        super().__init__()
        self.plate: PlateView | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.picture = PlatePicture()
        self.picture.stepped.connect(self.show_layer)
        self.picture.play_asked.connect(self.play)
        column.addWidget(self.picture, 1)
        low = QHBoxLayout()
        low.setSpacing(6)
        self.play_button = QPushButton("Play")
        self.play_button.setFixedHeight(23)
        self.play_button.clicked.connect(self.play)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Layer")
        self.slider.valueChanged.connect(self.show_layer)
        self.where = Short()
        low.addWidget(self.play_button)
        self.slider.setMinimumWidth(70)
        self.where.setMinimumWidth(60)
        low.addWidget(self.slider, 4)
        low.addWidget(self.where, 5)
        for text, call in (("From above", self.picture.from_above), ("Whole plate", self.picture.home)):
            button = QPushButton(text)
            button.setObjectName("quiet")
            button.clicked.connect(call)
            low.addWidget(button)
        column.addLayout(low)
        self.minutes = FeatureBar()
        column.addWidget(self.minutes)
        self._play = QTimer(self)
        self._play.setInterval(PLAY_MS)
        self._play.timeout.connect(self._next)

    def show_plate(self, plate: PlateView | None) -> None:
        """Show another plate, or another state of the same; the layer is kept where the number of layers is the same."""
        fresh = plate is not None and (self.plate is None or len(plate.tops_mm) != len(self.plate.tops_mm))
        self.plate = plate
        self.picture.show_plate(plate)
        if plate is None:
            self.hold()
            return
        self.minutes.show_shares(plate.minutes_by_feature)
        self.slider.blockSignals(True)
        self.slider.setRange(0, max(0, len(plate.tops_mm) - 1))
        self.slider.blockSignals(False)
        self.show_layer(int(FIRST_LOOK * len(plate.tops_mm)) if fresh else self.picture.index)

    def show_layer(self, index: int) -> None:
        """Show the plate up to a layer."""
        if self.plate is None or not len(self.plate.tops_mm):
            return
        self.picture.show_layer(index)
        self.slider.blockSignals(True)
        self.slider.setValue(self.picture.index)
        self.slider.blockSignals(False)
        self.where.setText(self.plate.describe(self.picture.index))

    def play(self) -> None:
        """Print the plate before one's eyes, or hold it."""
        if self._play.isActive():
            self.hold()
        elif self.plate is not None:
            if self.picture.index >= len(self.plate.tops_mm) - 1:
                self.show_layer(0)
            self._play.start()
            self.play_button.setText("Hold")

    def hold(self) -> None:
        """Stop playing."""
        self._play.stop()
        self.play_button.setText("Play")

    def _next(self) -> None:
        if self.plate is None or self.picture.index >= len(self.plate.tops_mm) - 1 or not self.isVisible():
            self.hold()
        else:
            self.show_layer(self.picture.index + 1)
