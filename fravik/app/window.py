"""The main window: stage rail, margin strip, and one view at a time."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QByteArray, QEvent, QSettings, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QMessageBox,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from fravik.app import measures, painting, theme
from fravik.app.aside import undisturbed
from fravik.app.files import FileActions
from fravik.app.finder import Finder
from fravik.app.firstpage import FirstPage, first_page
from fravik.app.foresight import Foresight
from fravik.app.housekeeping import Pace
from fravik.app.menus import fill_menus, found_by_name
from fravik.app.opening import Opening
from fravik.app.pages import FIRST, Pages
from fravik.app.session import Session
from fravik.app.settler import Settler
from fravik.app.stagepages import COME_FROM, stage_page
from fravik.app.stages import ON_WINGS, STAGE_METRICS, STAGES, marks
from fravik.app.widgets.basics import Paper, label, set_role
from fravik.app.widgets.beforeitflies import BeforeItFlies
from fravik.app.widgets.drawer import MARGIN_PX, Drawer
from fravik.app.widgets.rail import StageRail
from fravik.app.widgets.strip import MarginStrip
from fravik.model.project import Project
from fravik.store import ProjectFile
from fravik.study.findings import Finding
from fravik.study.margins import METRICS
from fravik.study.words import limit_text, spread_text, value_text

OPENING_STAGE = "Parts"


class MainWindow(FileActions):
    """One craft in one window."""

    def __init__(self, project: Project, file: ProjectFile | None = None, *, notice: str = "", keep_in: Path | None = None,
                 settings: QSettings | None = None) -> None:  # fmt: skip
        super().__init__()
        self.settings = settings
        self.fault = ""
        self.setWindowTitle("Fravik")
        self.resize(1280, 800)
        self.setMinimumSize(1000, 640)
        self.session = Session(project, file, keep_in)
        self.settler = Settler(self.session, self)
        self.foresight = Foresight(self.session, self.settler, self)
        self.notice = notice
        self.picked_target: str | None = None
        self.pages: Pages | None = None
        self.first: FirstPage | None = None
        page = Paper()
        across = QHBoxLayout(page)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        self.rail = StageRail(STAGES, ON_WINGS)
        self.rail.picked.connect(self.ask_stage)
        across.addWidget(self.rail)
        column = QVBoxLayout()
        column.setContentsMargins(MARGIN_PX, 5, MARGIN_PX, MARGIN_PX)
        column.setSpacing(7)
        self.head = self._header()
        column.addWidget(self.head)
        self.strip = MarginStrip()
        self.strip.clicked.connect(self.ask_why)
        column.addWidget(self.strip)
        column.addWidget(self._banner())
        self.stack = QStackedWidget()
        self.opening = Opening(self.stack, self.view, self._known)
        column.addWidget(self.stack, 1)
        across.addLayout(column, 1)
        self.setCentralWidget(page)
        self.flies = BeforeItFlies(self.foresight)
        self.flies.place_asked.connect(self.show_place)
        self.drawer = Drawer(self.flies, self.rail.flies, page, self.stack)
        self.foresight.changed.connect(self._foreseen)
        self.foresight.looked.connect(self._show_margins)
        self._in_turns = painting.InTurns(self)
        self.ground = QWidget(self)
        self.ground.setFixedSize(0, 0)
        self.views: dict[str, Any] = {}
        self.actions_by_name = fill_menus(self)
        self.session.evaluated.connect(self._answer)
        self.settler.changed.connect(self._settle)
        self.settler.exported.connect(self._exported)
        self.session.changed.connect(self.refresh)
        self._pace = Pace(self)
        self.session.changed.connect(self._pace.stir)
        self.session.saved.connect(self._show_saved)
        self.session.trial_changed.connect(self._show_header)
        self._look = QTimer(self)
        self._look.setSingleShot(True)
        self._look.setInterval(700)
        self._look.timeout.connect(self._look_for_ways_out)
        self.show_stage(OPENING_STAGE)
        for widget in self._dressed():
            theme.dress(widget)
        self._look.start()

    def _look_for_ways_out(self) -> None:
        if self.session.trial is None:
            self.session.ask_levers()

    def _header(self) -> QWidget:
        head = QWidget()
        row = QHBoxLayout(head)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.title = label("", "title")
        self.revision = label("", "figureMuted")
        self.saved = label("", "figureMuted")
        self.undo_button = QPushButton("Undo")
        self.redo_button = QPushButton("Redo")
        self.undo_button.clicked.connect(self.session.undo)
        self.redo_button.clicked.connect(self.session.redo)
        row.addWidget(self.title)
        row.addWidget(self.revision, 1)
        row.addWidget(self.saved)
        for b in (self.undo_button, self.redo_button):
            b.setFixedHeight(theme.sized(23))
            row.addWidget(b)
        self.export_button = QPushButton("Export…")
        self.export_button.setFixedHeight(theme.sized(23))
        self.export_button.clicked.connect(self.ask_export)
        row.addWidget(self.export_button)
        return head

    def _banner(self) -> QWidget:
        self.banner = QWidget()
        row = QHBoxLayout(self.banner)
        row.setContentsMargins(2, 0, 2, 0)
        self.banner_text = label("", "problem", wrap=True)
        row.addWidget(self.banner_text, 1)
        self.banner.hide()
        return self.banner

    def view(self, name: str) -> Any:
        """A stage's view, made on first need."""
        if name not in self.views:
            self.views[name] = stage_page(self, name)
            theme.hold(self.views[name])
            self.stack.addWidget(self.views[name])
        return self.views[name]

    def ask_stage(self, name: str, then: Callable[[], None] = lambda: None) -> None:
        """Bring a stage into view, and ``then`` do what is to be done there: at once, or when it has been made, or dressed anew."""

        def show() -> None:
            with undisturbed():
                self.show_stage(name)
                then()

        if name in self.views and theme.wears(self.views[name]):
            show()
        else:
            self.rail.pick(name)
            self.opening.begin(name, COME_FROM.get(name), show)

    def show_stage(self, name: str) -> None:
        """Bring a stage into view at once: filled first, as what changes in a page that is seen is laid out anew each time."""
        self.opening.stop()
        self.rail.pick(name)
        view = self.view(name)
        theme.dress_first(view)
        self.stage = name
        self.refresh(view_stands=self.opening.stands(view))
        self.stack.setCurrentWidget(view)

    def show_first(self) -> None:
        """Where to begin, over what is open; any stage takes its place."""
        self.opening.stop()
        if self.first is None:
            self.first = first_page(self)
            self.stack.addWidget(self.first)
        self.first.show_open(self.session.project.name)
        theme.dress(self.first)
        self.stack.setCurrentWidget(self.first)

    def _known(self) -> tuple[object, ...]:
        """What pages are filled with."""
        s = self.session
        return s.project, s.result, s.problems, s.stale, s.trial, self.settler.settled, self.settler.busy, theme.mode()

    def open_part(self, part_id: str) -> None:
        """Open a part in Parts."""
        self.view("Parts").pick(part_id)
        self.ask_stage("Parts")

    def show_flies(self) -> None:
        """Bring what will go wrong over the view, or put it away."""
        self.drawer.turn()

    def show_place(self, finding: Finding) -> None:
        """Bring the place of a finding into view."""
        self.show_path(finding.stage, finding.path)

    def show_path(self, stage: str, path: str) -> None:
        """Bring the editor of a field into view."""

        def reveal() -> None:
            view = self.view(self.stage)
            if hasattr(view, "reveal"):
                view.reveal(path)

        if stage == "Parts" and path.startswith("parts."):
            self.open_part(path.split(".")[1])
            reveal()
        else:
            self.ask_stage(stage, reveal)

    def ask_find(self) -> None:
        """Find anything by its name."""
        Finder(found_by_name(self, [name for _, names in STAGES for name in names]), self.ground).exec()

    def show_page(self, name: str = "") -> None:
        """Read how figures are computed: a page, or that of the picked target."""
        picked = next((t for t in self.session.project.targets if t.id == self.picked_target), None)
        self.pages = self.pages or Pages(self.ground)
        self.pages.show_page(name or (METRICS[picked.metric].page if picked is not None else FIRST))
        self.pages.show()
        self.pages.raise_()

    def _foreseen(self) -> None:
        self._show_margins()
        self._foreseen_in_view()

    def _foreseen_in_view(self) -> None:
        if self.stage in ("Brief", "Airframe"):
            self.view(self.stage).show_remark(self.foresight.open)

    def refresh(self, *, view_stands: bool = False) -> None:
        """Show the current project in header, strip, rail and, unless it stands already, the view on show."""
        self._show_margins()
        self._show_header()
        if not view_stands:
            self.view(self.stage).refresh()
        self._show_weight()
        self._foreseen_in_view()
        if self.session.trial is None and self.session.levers_for is not self.session.project:
            self.session.cancel_levers() if self.session.levers_busy else None
            self._look.start()

    def _answer(self, at_once: bool = True) -> None:
        """The margins first: file, rulers and pictures follow."""
        stale = self.session.stale and self.session.result is not None
        self.strip.show_margins(self.settler.margins(), stale, self.picked_target, at_once)

    def _settle(self) -> None:
        """Real layers came in, or how far they are."""
        if self.settler.busy is None:
            self._show_margins()
            self._show_weight()
        if self.stage == "Print run":
            view = self.view("Print run")
            view.show_state() if self.settler.busy is not None else view.refresh()

    def _show_weight(self) -> None:
        """The strip's, after a view's own figures: those are not by real layers."""
        if self.stage == "Airframe":
            self.view(self.stage).show_weight(self.settler.margins())

    def _show_margins(self) -> None:
        self._answer(at_once=False)
        shown = self.settler.margins()
        for name, (there, verdict) in marks(self.session.project, shown, self.settler, self.foresight).items():
            button = self.rail.buttons[name]
            button.setVisible(there or name == getattr(self, "stage", ""))
            button.show_verdict(verdict)
        self._show_banner()

    def _show_banner(self) -> None:
        s = self.session
        errors = [p for p in s.problems if p.severity == "error"]
        if s.stale and errors:
            more = f"  (+{len(errors) - 1} more)" if len(errors) > 1 else ""
            state = "Showing the last good result." if s.result is not None else "This craft cannot be evaluated as it stands."
            role, text = "problem", f"{state} {errors[0].message}{more}"
        elif self.fault or s.file_message:
            role, text = "problem", self.fault or s.file_message
        elif s.result is not None and s.result.scope.problems and not self._why() and not self.notice:
            role, text = "caution", s.result.scope.problems[0].message
        else:
            role, text = "small", self._why() or self.notice
        set_role(self.banner_text, role)
        self.banner_text.setText(text)
        self.banner.setVisible(bool(text))

    def _why(self) -> str:
        """What the picked tile's figure is, where it stands now, and where it comes from."""
        result = self.session.result
        m = next((m for m in self.settler.margins() if m.id == self.picked_target), None) if result is not None else None
        if m is None:
            return ""
        info = METRICS[m.metric]
        return (
            f"{m.name}: {info.about} Now {value_text(m)}{', ' + spread_text(m) if spread_text(m) else ''}; "
            f"limit {limit_text(m)}: {m.verdict}{' (' + m.detail + ')' if m.detail else ''}. "
            f"{m.source.capitalize()} figure. F1 opens the page {info.page}, which says how it is computed."
        )

    def _show_header(self) -> None:
        s = self.session
        self.title.setText(s.project.name)
        self.setWindowTitle(f"{s.project.name} · Fravik")
        what = f"trying: {s.trial.title}" if s.trial else s.label
        self.revision.setText(f"edit {s.revision} · {what}")
        for button, name, on in ((self.undo_button, "Undo", s.can_undo), (self.redo_button, "Redo", s.can_redo)):
            button.setEnabled(on)
            self.actions_by_name[name].setEnabled(on)
        self.actions_by_name["Keep the trial"].setEnabled(s.trial is not None)
        self.actions_by_name["Take the trial back"].setEnabled(s.trial is not None)
        self._show_saved()

    def _show_saved(self) -> None:
        s, state = self.session, self.session.save_state
        if state is None or s.file is None:
            text = "not in a file yet"
        elif state.kind == "failed" or (s.file.read_only and s.revision):
            text = "not saved"
        elif state.kind == "waiting":
            text = "not saved yet"
        else:
            text = "kept, without a name yet" if s.unnamed else f"saved in {s.file.path.name}"
        self.saved.setText(text)
        self.saved.setToolTip(str(s.file.path) if s.file else "Save a copy to keep edits in a file")
        self._show_banner()

    def ask_why(self, target_id: str) -> None:
        """A tile was clicked: show its stage, and what it is."""
        result = self.session.result
        if result is None:
            return
        m = next((m for m in result.margins if m.id == target_id), None)
        if m is None:
            return
        self.picked_target = None if self.picked_target == target_id else target_id
        self.notice = ""
        stage = next((n for n, keys in STAGE_METRICS.items() if m.metric in keys), "Brief")
        if stage == "Parts" and m.metric in ("arm_strike_m_s", "flat_drop_m") and self.picked_target is not None:
            view = self.view("Parts")
            case = "arm_strike" if m.metric == "arm_strike_m_s" else "flat_drop"
            order = result.break_order.get(case)
            view.case = case
            view.pick(order[0][0] if order else view.part_id)
        self.ask_stage(stage)

    def say_fault(self, text: str) -> None:
        """Something went wrong that nobody foresaw; said until the next craft is opened."""
        self.fault = text
        self._show_banner()

    def restore(self) -> None:
        """Size, place and light as they were when the last window was closed."""
        if self.settings is None:
            return
        geometry = self.settings.value("window/geometry")
        if isinstance(geometry, QByteArray):
            self.restoreGeometry(geometry)
        if (self.settings.value("window/inches") == "yes") != measures.inch():
            self.toggle_inches()
        if self.settings.value("window/geometry") is None:  # never used
            self.show_first()
        if self.settings.value("window/theme") in ("light", "dark") and self.settings.value("window/theme") != theme.mode():
            self.toggle_theme()

    def toggle_theme(self) -> None:
        """Switch between light and dark."""
        theme.set_mode("light" if theme.mode() == "dark" else "dark")
        theme.dress_in_turns([*self._dressed(), *self.views.values(), *([self.first] if self.first is not None else [])])
        self.update()
        QTimer.singleShot(0, self.refresh)

    def toggle_inches(self) -> None:
        """Show fields in inches and ounces, or in millimetres and grams."""
        measures.set_inch(not measures.inch())
        self.refresh()

    def _dressed(self) -> list[QWidget]:
        """What is to be seen, whatever the stage, and the stage."""
        bar = self.menuBar()
        assert bar is not None
        return [bar, self.rail, self.head, self.flies, self.strip, self.banner, self.ground, self.view(self.stage)]

    def about(self) -> None:
        """Say where figures come from and what they are not."""
        QMessageBox.information(self.ground, "Fravik", (
            "Every figure here is computed from the part as printed: walls, covers, core, layer direction and carbon. All are "
            "figures of simple models; whiskers carry the filament's low and high values. F1 opens the pages with equations and limits.\n\n"
            "A margin that holds is no permission to fly. Propellers off on the bench, nobody below, and local rules decide."))  # fmt: skip

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.UpdateRequest:
            if painting.comes_again(self):
                return True
            with painting.window_paints():
                return super().event(event)
        return super().event(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.finish_writing()
        self.opening.stop()
        for view in self.views.values():
            if hasattr(view, "scene"):
                view.scene.shut()
        if self.settings is not None:
            self.settings.setValue("window/geometry", self.saveGeometry())
            self.settings.setValue("window/theme", theme.mode())
            self.settings.setValue("window/inches", "yes" if measures.inch() else "no")
        self.settler.close()
        self.session.close()
        super().closeEvent(event)
