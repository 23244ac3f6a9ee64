"""What the window does with files: open, save, export, and read those of others."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QFileDialog, QMainWindow, QMessageBox, QWidget

from fravik.app.exportdialog import ExportDialog
from fravik.app.main import READ_ONLY
from fravik.app.newcraftdialog import NewCraftDialog
from fravik.app.session import LEAVE_WAIT_S, Session
from fravik.app.settler import Settler
from fravik.engine.exportable import KINDS
from fravik.engine.firstdesign import grown_words, made_to_hold
from fravik.model.project import Project
from fravik.store import FileProblem, ProjectFile, open_file, read_json_file
from fravik.store.kept import kept_crafts


class FileActions(QMainWindow):
    """Mixed into the window, whose session and settler it uses."""

    session: Session
    settler: Settler
    notice: str
    picked_target: str | None
    settings: QSettings | None
    fault: str
    refresh: Any
    view: Any
    writing: Future[list[Path]] | None = None
    ground: QWidget  # what dialogs stand on: they take the palette in force from it

    def _say(self, text: str) -> None:
        QMessageBox.warning(self.ground, "Fravik", text)

    def _agree(self, text: str) -> bool:
        return QMessageBox.question(self.ground, "Fravik", text) == QMessageBox.StandardButton.Yes

    def _last_folder(self) -> str:
        return str(self.settings.value("files/folder", "")) if self.settings is not None else ""

    def _remember(self, path: Path) -> None:
        if self.settings is not None:
            self.settings.setValue("files/folder", str(path.parent))

    def ask_open(self) -> None:
        """Choose a project file and open it."""
        kinds = "Fravik projects (*.fravik);;Projects as JSON (*.json);;All files (*)"
        name, _ = QFileDialog.getOpenFileName(self.ground, "Open a craft", self._last_folder(), kinds)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> bool:
        """Open a project file in this window; on trouble say so and keep the current craft. One as JSON has no file yet: it is kept."""
        if path.suffix.lower() == ".json":
            project = self._read_json(path)
            if project is not None:
                self.load(project, None)
            return project is not None
        mine = self.session.file is not None and self.session.file.path.resolve() == path.resolve()
        if mine and self.session.saver is not None:
            self.session.saver.settle(LEAVE_WAIT_S)
        try:
            file, project = open_file(path, claim=not mine)
        except FileProblem as err:
            self._say(str(err))
            return False
        self.load(project, file)
        file.claim()
        self._remember(path)
        if file.read_only:
            self.notice = f"{file.why}: {READ_ONLY}"
            self.refresh()
        return True

    def load(self, project: Project, file: ProjectFile | None) -> None:
        """Swap another craft into the window."""
        kept = self.session.unnamed and self.session.file is not None
        self.fault = ""
        self.picked_target, self.notice = None, "The last craft is kept: File > Kept crafts." if kept else ""
        self.session.open(project, file)
        self.refresh()

    def ask_kept(self) -> None:
        """Choose among the crafts that never got a place of their own, and open one."""
        folder = self.session.keep_in
        if folder is None or not kept_crafts(folder):
            QMessageBox.information(self.ground, "Fravik", "No craft is kept: all have files of their own.")
            return
        name, _ = QFileDialog.getOpenFileName(self.ground, "Open a kept craft", str(folder), "Fravik projects (*.fravik)")
        if name:
            self.open_path(Path(name))

    def open_demo(self, name: str = "tern") -> None:
        """Open a fresh copy of a demo; from the first edit on it is kept."""
        from fravik.demo import DEMOS

        self.load(DEMOS[name](), None)

    def ask_json(self) -> None:
        """Choose a JSON file and put it in place of the project."""
        name, _ = QFileDialog.getOpenFileName(self.ground, "Read a project from JSON", self._last_folder(), "JSON (*.json);;All files (*)")
        project = self._read_json(Path(name)) if name else None
        if project is not None:
            self.session.replace(project, f"read {Path(name).name}")

    def _read_json(self, path: Path) -> Project | None:
        try:
            project = read_json_file(path)
        except FileProblem as err:
            self._say(str(err))
            return None
        self._remember(path)
        return project

    def ask_save(self) -> None:
        """Choose a name and save a copy there."""
        name, _ = QFileDialog.getSaveFileName(self.ground, "Save a copy", self._last_folder(), "Fravik projects (*.fravik)")
        if name:
            self.save_to(Path(name))

    def save_to(self, path: Path) -> bool:
        """Save a copy to a path and go on there."""
        path = path if path.suffix else path.with_suffix(".fravik")
        try:
            self.session.save_copy(path)
        except FileProblem as err:
            self._say(str(err))
            return False
        self._remember(path)
        self.refresh()
        return True

    def ask_new(self) -> None:
        """Ask for a layout and a few figures and open a new craft; from the first edit on it is kept."""
        dialog = NewCraftDialog(self.ground)
        if dialog.exec() and dialog.project is not None:
            self.begin(dialog.project)

    def begin(self, proportioned: Project) -> None:
        """Open a new craft, its parts made to hold its targets."""
        engine = self.session.engine
        project = self.session.aside.run(lambda: made_to_hold(proportioned, engine))
        self.load(project, None)
        self.notice = " ".join(text for text in (grown_words(proportioned, project), self.notice) if text)
        self.refresh()

    def ask_export(self) -> None:
        """Ask what to export where."""
        kept = str(self.settings.value("paper", "")) if self.settings is not None else ""
        dialog = ExportDialog(self.session.project, self.ground, self.settler.fresh, kept)
        if dialog.exec():
            folder, kinds, parts, paper = dialog.chosen()
            if self.settings is not None:
                self.settings.setValue("paper", paper)
            self.export_to(folder, kinds, parts, paper)

    def export_to(self, folder: Path, kinds: tuple[str, ...] = KINDS, parts: tuple[str, ...] | None = None,
                  paper: str = "a4") -> list[Path]:  # fmt: skip
        """Export kinds of file into a folder, with the meshes of all parts or some; a sheet is laid out for ``paper``. Written beside the
        window, which says when it is done; then the list is filled with what was written."""
        written: list[Path] = []

        def begin() -> None:
            result = self.session.result
            if result is None or self.session.stale:
                self._say("The design contradicts itself; put right what is marked, then export.")
                return
            engine, settled = self.session.engine, self.settler.settled if self.settler.fresh else None

            def write(replace: bool) -> list[Path]:
                from fravik.engine.export import export_all  # the writers of sheets and meshes load when first needed, beside the window

                return export_all(engine, result, folder, kinds, parts, replace, settled, paper)

            self._write(written, folder, write, replace=False)

        self.session.then(begin)
        return written

    def _write(self, written: list[Path], folder: Path, write: Callable[[bool], list[Path]], replace: bool) -> None:
        def told(answer: Future[list[Path]]) -> None:
            try:
                written.extend(answer.result())
            except FileProblem as err:
                if err.code == "folder.taken" and not replace and self._agree(f"{err} Replace them?"):
                    self._write(written, folder, write, replace=True)
                    return
                self.notice = ""
                self._say(f"Nothing was exported. {err}")
            else:
                self.notice = f"Exported {len(written)} files into {folder}."
            self.refresh()

        self.notice = f"Exporting into {folder}…"
        self.refresh()
        self.writing = self.session.beside.bring(lambda: write(replace), told)

    def finish_writing(self) -> None:
        """Wait for an export that is under way: no file is left half written."""
        if self.writing is not None:
            self.session.beside.wait(self.writing)

    def ask_export_run(self) -> None:
        """Choose a folder for batches, layers and schedule."""
        name = QFileDialog.getExistingDirectory(self.ground, "Export the print run into a folder")
        if name:
            self.export_run_to(Path(name))

    def export_run_to(self, folder: Path) -> bool:
        """Write batches (3MF), layers (SVG, DXF) and schedule (CSV, calendar) in the background; says when it is done."""
        if not self.settler.fresh:
            self._say("The layers of this design are not laid yet. Wait for Print run to say 'settled', then export.")
            return False
        try:
            taken = folder.is_dir() and any(folder.iterdir())
        except OSError as err:
            self._say(f"{folder} cannot be looked into: {err.strerror}. Choose another folder.")
            return False
        replace = taken and self._agree(f"There are files in {folder}. May those of the same name be replaced?")
        if taken and not replace:
            return False
        self.settler.export(folder, replace)
        return True

    def _exported(self, text: str) -> None:
        self.notice = text
        self.refresh()

    def ask_gcode(self) -> None:
        """Choose a G-code file and set it beside the batch on show."""
        name, _ = QFileDialog.getOpenFileName(
            self.ground, "Read a G-code file", self._last_folder(), "G-code (*.gcode *.gco *.g *.nc);;All files (*)"
        )
        if name:
            self.open_gcode(Path(name)).exec()

    def open_gcode(self, path: Path) -> Any:
        """The dialog that reads a file beside the batch on show."""
        from fravik.app.views.printrun.gcode_dialog import GcodeDialog

        return GcodeDialog(self.session.project, path, self.view("Print run").batch_id or "batch 1", self.ground)
