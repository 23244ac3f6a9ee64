"""How the craft flies: what it stands on, tilts, pushers, body, what it has to stand."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.basics import put_away
from fravik.app.widgets.fieldforms import Form, field_for
from fravik.app.widgets.fields import ChoiceField
from fravik.app.widgets.fold import Fold
from fravik.app.widgets.stationsfield import StationsField
from fravik.kinds.around import stations
from fravik.model.wing import Flying, Pusher, Tilt, TiltDrive

GROUPS = (
    ("Flies", ("sits", "cruise_m_s", "gain_m_s2", "most_lean_deg", "vectoring_deg")),
    ("Has to stand", ("gust_m_s", "wind_m_s", "pull_up_g")),
    ("Body and gear", ("body_length_mm", "body_width_mm", "body_height_mm", "body_x_mm", "gear_cm2")),
    ("In hover and in cruise", ("flaps_hover_deg", "stopped_fold", "slide_mm", "slide_g")),
)
PICKS = {"sits": [("belly", "Its belly"), ("tail", "Its tail")],
         "kind": [("servo", "A servo"), ("gear", "A servo through gears"), ("linear", "A linear actuator")]}  # fmt: skip
TILT = ("most_deg", "pivot_back_mm", "pivot_under_mm", "pod_g", "pod_over_mm", "friction_nmm")


class FlyingForms(QWidget, theme.Plain):
    """Made anew when tilts or pushers come and go."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.forms: list[Form] = []
        self.folds: list[Fold] = []
        self._built: object = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 4, 2)
        column.setSpacing(4)
        self.rows = QVBoxLayout()
        column.addLayout(self.rows)
        row = QHBoxLayout()
        for text, call in (("Rotors that tilt", self.add_tilt), ("A pusher", self.add_pusher)):
            b = QPushButton(f"+ {text}")
            b.setObjectName("quiet")
            b.setFixedHeight(theme.sized(22))
            b.clicked.connect(call)
            row.addWidget(b)
        row.addStretch(1)
        column.addLayout(row)
        column.addStretch(1)

    def refresh(self) -> None:
        """Show the craft's."""
        project = self.session.project
        f = project.flying
        built = (tuple(t.id for t in f.tilts), tuple(p.id for p in f.pushers), tuple(s.id for s in stations(project)))
        if built != self._built:
            self._built = built
            for fold in self.folds:
                put_away(self.rows, fold)
            self.forms, self.folds = [], []
            for k, (title, fields) in enumerate(GROUPS):
                self._fold(title, "flying", partial(self._plain, "flying", Flying, fields), k == 0, tuple(f"flying.{n}" for n in fields))
            self._fold("Stopped in cruise", "flying.stopped", self._stopped, False, ("flying.stopped",))
            for t in f.tilts:
                self._fold(f"Tilt: {t.id.replace('_', ' ')}", f"flying.tilts.{t.id}", partial(self._tilt, t.id), False, ())
            for p in f.pushers:
                self._fold(f"Pusher: {p.id.replace('_', ' ')}", f"flying.pushers.{p.id}", partial(self._pusher, p.id), False, ())
        for form in self.forms:
            form.refresh()
        for fold in self.folds:
            fold.refresh()

    def _fold(self, title: str, path: str, body: object, is_open: bool, holds: tuple[str, ...]) -> None:
        fold = Fold(self.session, title, path, body, is_open=is_open, holds=holds)  # type: ignore[arg-type]
        self.folds.append(fold)
        self.rows.addWidget(fold)

    def _form(self, at: str, model: type, fields: tuple[str, ...]) -> Form:
        form = Form()
        self._fill(form, at, model, fields)
        self.forms.append(form)
        return form

    def _fill(self, form: Form, at: str, model: type, fields: tuple[str, ...]) -> None:
        for name in fields:
            info = model.model_fields[name]  # type: ignore[attr-defined]
            if name in PICKS:
                form.add(ChoiceField(self.session, f"{at}.{name}", PICKS[name]))
            else:
                form.add(field_for(info.annotation)(self.session, f"{at}.{name}"))

    def _plain(self, at: str, model: type, fields: tuple[str, ...]) -> QWidget:
        form = self._form(at, model, fields)
        form.refresh()
        return form

    def _stations(self) -> list[tuple[str, str]]:
        return [(s.id, s.side) for s in stations(self.session.project)]

    def _stopped(self) -> QWidget:
        form = Form()
        form.add(StationsField(self.session, "flying.stopped", self._stations()))
        self.forms.append(form)
        form.refresh()
        return form

    def _tilt(self, tilt_id: str) -> QWidget:
        at = f"flying.tilts.{tilt_id}"
        form = Form()
        form.add(StationsField(self.session, f"{at}.rotors", self._stations()))
        self._fill(form, at, Tilt, TILT)
        form.heading("What turns it")
        self._fill(form, f"{at}.drive", TiltDrive, tuple(TiltDrive.model_fields))
        return self._with_drop(form, "tilts", tilt_id)

    def _pusher(self, pusher_id: str) -> QWidget:
        form = Form()
        self._fill(form, f"flying.pushers.{pusher_id}", Pusher, tuple(n for n in Pusher.model_fields if n != "id"))
        return self._with_drop(form, "pushers", pusher_id)

    def _with_drop(self, form: Form, what: str, name: str) -> QWidget:
        drop = QPushButton("Remove")
        drop.setObjectName("quiet")
        drop.clicked.connect(partial(self.drop, what, name))
        form.below(drop)
        self.forms.append(form)
        form.refresh()
        return form

    def add_tilt(self) -> None:
        """The front rotors tilt, or whichever do not yet."""
        project = self.session.project
        taken = {r for t in project.flying.tilts for r in t.rotors}
        free = [s for s in stations(project) if s.id not in taken]
        mine = tuple(s.id for s in free if s.x_mm > 0) or tuple(s.id for s in free)
        if mine:
            name = self._free("tilt", [t.id for t in project.flying.tilts])
            self.session.edit("flying.tilts", (*project.flying.tilts, Tilt(id=name, rotors=mine)), "rotors tilt")

    def add_pusher(self) -> None:
        """One more."""
        pushers = self.session.project.flying.pushers
        self.session.edit("flying.pushers", (*pushers, Pusher(id=self._free("pusher", [p.id for p in pushers]))), "pusher added")

    @staticmethod
    def _free(stem: str, taken: list[str]) -> str:
        return next(n for n in (stem, *(f"{stem}_{k}" for k in range(2, 99))) if n not in taken)

    def drop(self, what: str, name: str) -> None:
        """One less."""
        left = tuple(x for x in getattr(self.session.project.flying, what) if x.id != name)
        self.session.edit(f"flying.{what}", left, f"{what.removesuffix('s')} removed")

    def reveal(self, path: str) -> None:
        """Open the group that holds a field."""
        for fold in self.folds:
            if any(path.startswith(h) for h in fold.holds):
                fold.open()
                return
