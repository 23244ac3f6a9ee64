"""A 3D picture on paper: loads the 3D library only when first shown."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from fravik.app import theme

Floats = NDArray[np.float64]


def poly(vertices: Floats, faces: NDArray[np.int64]) -> Any:
    """Triangles as the 3D library's mesh."""
    import pyvista as pv

    cells = np.hstack([np.full((len(faces), 1), 3, dtype=np.int64), faces]).ravel()
    return pv.PolyData(vertices, cells)


class Scene(QWidget):
    """Holds one 3D view; ``draw`` is called with it whenever the picture is out of date and visible."""

    ready = pyqtSignal()
    picked = pyqtSignal(object)

    def __init__(self, draw: Callable[[Any], None], name: str) -> None:
        super().__init__()
        self._draw = draw
        self.plotter: Any = None
        self._dirty = True
        self._fitted = False
        self.setAccessibleName(name)
        self.setMinimumSize(160, 120)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.wait = QLabel("Loading the 3D picture…")
        self.wait.setObjectName("muted")
        self.wait.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.column.addWidget(self.wait)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._refresh)
        theme.on_change(self._restyle)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if self.plotter is None:
            QTimer.singleShot(30, self._load)
        elif self._dirty:
            self._later.start()

    def _load(self) -> None:
        if self.plotter is not None or not self.isVisible():
            return
        from pyvistaqt import QtInteractor

        try:
            self.plotter = QtInteractor(self, auto_update=False, multi_samples=4)
        except Exception as err:
            self.wait.setText(f"No 3D picture: {err}")
            return
        self.wait.hide()
        self.column.addWidget(self.plotter)
        self.plotter.set_background(theme.current().card)
        self.plotter.enable_parallel_projection()
        self._refresh()
        self.ready.emit()

    def invalidate(self) -> None:
        """Say that the picture is out of date; it is redrawn after the figures."""
        self._dirty = True
        if self.plotter is not None and self.isVisible():
            self._later.start()

    def refit(self) -> None:
        """Frame the whole picture at the next draw."""
        self._fitted = False
        self.invalidate()

    def _refresh(self) -> None:
        if self.plotter is None or not self._dirty:
            return
        self._dirty = False
        self._draw(self.plotter)
        if not self._fitted:
            self._fitted = True
            self.home()
        self.plotter.render()

    def home(self) -> None:
        """The standard three-quarter view of everything."""
        if self.plotter is None:
            return
        self.plotter.camera_position = [(-1.0, -1.9, 1.25), (0, 0, 0), (0, 0, 1)]
        self.plotter.reset_camera()
        self.plotter.camera.zoom(1.25)
        self.plotter.render()

    def _restyle(self) -> None:
        if self.plotter is not None:
            self.plotter.set_background(theme.current().card)
            self.invalidate()

    def picture(self) -> Any:
        """The 3D picture as an image array, or None before it has loaded."""
        return None if self.plotter is None else self.plotter.screenshot(return_img=True)

    def shut(self) -> None:
        """Free the 3D view."""
        if self.plotter is not None:
            self.plotter.close()
            self.plotter = None
