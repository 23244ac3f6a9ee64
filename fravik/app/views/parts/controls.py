"""The editors of the parts lately in view, kept while what they edit is there: to look at another part and back makes nothing anew."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6 import sip
from PyQt6.QtWidgets import QStackedWidget, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.turns import Turns, later
from fravik.app.widgets.fieldforms import Form
from fravik.engine.results import Evaluation, PartResult
from fravik.kinds import kind_of
from fravik.model.project import Part

from .editors import TABS, PartEditors

MOST_KEPT = 8
EDITORS_STAND_MS = 60  # they are made a turn after the figures
PAGE_OF = {"recipe": "made", "shape": "shape", "joint": "joint", "carbon": "bonded", "facing": "bonded"}


class PartControls(QStackedWidget):
    """The editors of the part in view. Those of a part not seen yet are made once the rest of the page has been painted."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._kept: dict[tuple[object, ...], PartEditors] = {}  # the one looked at last stands last
        self._due: tuple[object, ...] | None = None  # what is being made
        self._hints: tuple[PartResult, Evaluation] | None = None
        self._blank = QWidget()
        self.addWidget(self._blank)
        self._turns = Turns(self)
        session.opened.connect(self._forget)

    @property
    def current(self) -> PartEditors:
        """The editors of the part in view. Raises LookupError before a part has been shown."""
        self._turns.finish()
        return self._last()

    @property
    def forms(self) -> dict[str, Form]:
        """All editors of the part in view by what they edit."""
        return self.current.forms

    def show_tab(self, index: int) -> None:
        """Bring a page of the part in view to the front."""
        self.current.setCurrentIndex(index)

    def reveal(self, path: str) -> None:
        """Bring the page with a field's editor to the front, and the cursor into it."""
        page = PAGE_OF.get((path.split(".") + [""] * 3)[2])
        if page == "shape" and ".shape.features" in path:
            page = "features"
        if page is not None and path.startswith("parts."):
            self.show_tab(list(TABS).index(page))
            later(self, EDITORS_STAND_MS, lambda: self._focus_on(path))

    def _focus_on(self, path: str) -> None:
        for field in self.findChildren(QWidget):
            if getattr(field, "path", "") == path and hasattr(field, "control") and field.isVisible():
                field.control().setFocus()
                return

    def show_part(self, part: Part) -> None:
        """Bring the editors of a part into view; they are made anew when what they edit is of another kind than before."""
        key = self._key(part)
        if key not in self._kept:
            if not self._turns.busy or key != self._due:  # else they are coming already
                self._due, self._hints = key, None
                self.setCurrentWidget(self._blank)
                self._turns.begin(self._making(part))
            return
        self._turns.stop()
        self._due = None
        found = self._kept.pop(key)
        self._kept[key] = found
        found.refresh()
        self.setCurrentWidget(found)

    def show_hints(self, part_result: PartResult, result: Evaluation) -> None:
        """Grey lines that say what the current choices mean."""
        if self._due is not None:
            self._hints = (part_result, result)
        else:
            self._last().show_hints(part_result, result)

    def _last(self) -> PartEditors:
        return self._kept[next(reversed(self._kept), ())]

    def _making(self, part: Part) -> Iterator[None]:
        """Made, dressed and shown in a turn of the window each: together they would hold it up."""
        key, now = self._key(part), self._now(part.id)
        if now is None or self._key(now) != key:
            return  # an edit whose figures are still to come changed what there is: the next refresh asks anew
        made = PartEditors(self.session, now)
        try:
            yield
            steps = theme.dressing(made)
            next(steps)
            self.addWidget(made)
            yield from steps
        except GeneratorExit:  # another part has been asked for meanwhile, or the window is gone
            if not sip.isdeleted(self):
                self._put_away(made)
            raise
        now = self._now(part.id)
        if now is None or self._key(now) != key:  # so did one that came while they were made
            self._put_away(made)
            return
        self._due = None
        last = self._last() if self._kept else None
        if last is not None and last.kind == made.kind and made.isTabVisible(last.currentIndex()):
            made.setCurrentIndex(last.currentIndex())
        made.refresh()
        if self._hints is not None:
            made.show_hints(*self._hints)
        self._kept[key] = made
        self.setCurrentWidget(made)
        while len(self._kept) > MOST_KEPT:
            self._drop(next(iter(self._kept)))

    def _now(self, part_id: str) -> Part | None:
        return next((p for p in self.session.project.parts if p.id == part_id), None)

    def _key(self, part: Part) -> tuple[object, ...]:
        """What the editors of a part are made for."""
        project = self.session.project
        own = tuple((f.id, f.name) for f in project.filaments)
        around = tuple((x.id, x.side) for x in kind_of(part.shape).stations(project))
        made_so = (
            part.carbon is not None,
            part.facing is not None,
            part.joint.kind,
            part.recipe.lies == "free",
            part.cut_from,
            tuple(o.id for o in part.own_places),
        )
        return (part.id, part.shape.kind, made_so, own, around)

    def _drop(self, key: tuple[object, ...]) -> None:
        self._put_away(self._kept.pop(key))

    def _put_away(self, editors: PartEditors) -> None:
        self.removeWidget(editors)
        editors.deleteLater()

    def _forget(self) -> None:
        """Another craft is in place: its parts may bear the same ids."""
        self._turns.stop()
        self._due = None
        for key in list(self._kept):
            self._drop(key)
