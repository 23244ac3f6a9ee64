"""Before it flies as a drawer: its button at the foot of the rail, and its place over the view."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QTimer
from PyQt6.QtWidgets import QWidget

from fravik.app import theme

from .beforeitflies import BeforeItFlies, told
from .rail import FliesButton

MARGIN_PX = 10


class Drawer(QObject):
    """Opens and shuts the panel over what lies beside the rail, and keeps its button's counts."""

    def __init__(self, panel: BeforeItFlies, button: FliesButton, page: QWidget, view: QWidget) -> None:
        super().__init__(page)
        self.panel, self.button, self.page, self.view = panel, button, page, view
        panel.setParent(page)
        panel.left.connect(self.turn)
        button.clicked.connect(self.turn)
        panel.foresight.changed.connect(self._count)
        page.installEventFilter(self)

    def turn(self) -> None:
        """Open it, or shut it."""
        shown = self.panel.isHidden()
        self.panel.setVisible(shown)
        self.button.setChecked(shown)
        if shown:
            theme.dress_first(self.panel)
            self._place()
            self.panel.refresh()
            self.panel.setFocus()

    def _place(self) -> None:
        left, top = self.button.width() + MARGIN_PX, self.view.mapTo(self.page, self.view.rect().topLeft()).y()
        self.panel.setGeometry(left, top, self.panel.width(), self.page.height() - top - MARGIN_PX)
        self.panel.raise_()

    def _count(self) -> None:
        counted = self.panel.foresight.counted()
        self.button.show_counts(told(counted), counted["grave"] > 0)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Resize and not self.panel.isHidden():
            QTimer.singleShot(0, self._place)  # once what lies beside is laid out anew
        return super().eventFilter(watched, event)
