"""The card of the plan: the craft from above or through its camera's lens, small beside the craft in 3D or in all of its room."""

from __future__ import annotations

from PyQt6.QtWidgets import QStackedWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import Card, label
from fravik.app.widgets.short import ShortButton

from .lens import LensView
from .plan import PlanView

PLAN, THROUGH = "In plan", "Through the lens"
LENS = "Lens"
LARGER, SMALLER = "Larger", "Smaller"


class PlanCard(Card):
    """``larger`` is pressed while it should have all the room there is."""

    def __init__(self, session: Session) -> None:
        super().__init__(PLAN)
        self.plan, self.lens = PlanView(session), LensView(session)
        self.pictures = QStackedWidget()
        self.pictures.addWidget(self.plan)
        self.pictures.addWidget(self.lens)
        self.column.addWidget(self.pictures, 1)
        self.refusal = label("", "problem", wrap=True)  # why something cannot stand where it was put, until the next change
        self.refusal.setVisible(False)
        self.column.addWidget(self.refusal)
        self.plan.refused.connect(self._say)
        session.changed.connect(lambda: self.refusal.setVisible(False))
        self.through, self.larger = self._toggle(LENS), self._toggle(LARGER)
        self.through.toggled.connect(self._look_through)
        self.larger.toggled.connect(lambda on: self.larger.setText(SMALLER if on else LARGER))
        self.through.setToolTip("What the camera sees of the craft itself")
        self.larger.setToolTip("All the room for the plan, to drag things in it; again for the craft in 3D")

    def _toggle(self, text: str) -> ShortButton:
        button = ShortButton(text)
        button.setObjectName("quiet")
        button.setCheckable(True)
        button.setFixedHeight(theme.sized(22))
        self.head.addWidget(button)
        return button

    def _say(self, why: str) -> None:
        self.refusal.setText(why)
        self.refusal.setVisible(True)

    def _look_through(self, on: bool) -> None:
        self.pictures.setCurrentWidget(self.lens if on else self.plan)
        self.title.setText(THROUGH if on else PLAN)
        self.through.setText(PLAN if on else LENS)
