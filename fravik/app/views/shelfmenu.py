"""The maker's own shelf, where a thing of the craft is edited: put one on the craft, put this one on the shelf, read and write the list."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMenu, QMessageBox, QPushButton, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.store import FileProblem
from fravik.store.shelf import SHELF_FILE, Row, Shelf, put_on, read_shelf, row_of, write_shelf

MOST_TOLD = 12
LISTS = "Lists (*.csv);;All files (*)"


class OwnShelf:
    """The shelf in the data folder; kept in memory alone where there is none."""

    def __init__(self, session: Session) -> None:
        self.session = session
        self._held = Shelf(())

    @property
    def path(self) -> Path | None:
        """Where it is kept."""
        return self.session.keep_in.parent / SHELF_FILE if self.session.keep_in is not None else None

    def read(self) -> Shelf:
        """What is on it. Raises FileProblem."""
        path = self.path
        return read_shelf(path) if path is not None and path.exists() else self._held

    def write(self, shelf: Shelf) -> None:
        """Keep it. Raises FileProblem."""
        self._held = shelf
        if self.path is not None:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            write_shelf(self.path, shelf)


class ShelfButton(QPushButton):
    """Opens the shelf's menu for one kind of thing, or for one component."""

    def __init__(self, shelf: OwnShelf, kind: str, this: str = "", parent: QWidget | None = None) -> None:
        """``this`` is what stands here and can be put on the shelf: a component's id, the kind of the usual one, or the path of another."""
        super().__init__("Shelf…", parent)
        self.shelf, self.kind, self._this = shelf, kind, this
        self.setObjectName("quiet")
        self.setFixedHeight(theme.sized(22))
        self.setAccessibleName(f"Shelf of {kind}s")
        self.setToolTip(f"Your own {kind}s, for all your crafts")
        self.menu_shown = QMenu(self)
        self.menu_shown.aboutToShow.connect(self.fill)
        self.setMenu(self.menu_shown)

    def fill(self) -> None:
        """Put in the menu what is on the shelf now."""
        menu = self.menu_shown
        menu.clear()
        try:
            rows = self.shelf.read().of(self.kind)
        except FileProblem as err:
            rows = ()
            self._tell(str(err))
        for row in rows:
            menu.addAction(row.name.replace("&", "&&"), lambda r=row: self.take(r))
        if not rows:
            empty = menu.addAction(f"No {self.kind} on the shelf yet")
            if empty is not None:
                empty.setEnabled(False)
        menu.addSeparator()
        if self._this:
            menu.addAction("Put this one on the shelf", self.keep)
        menu.addAction("Read a list…", self.ask_list)
        menu.addAction("Write the list…", self.ask_place)

    def take(self, row: Row) -> None:
        """Put a thing from the shelf on the craft."""
        session = self.shelf.session
        reason = session.edit_many(put_on(session.project, row, self._this), f"{row.name} from the shelf")
        if reason:
            self._tell(reason)

    def keep(self) -> None:
        """Put the craft's own thing on the shelf."""
        self._safely(lambda: self.shelf.write(self.shelf.read().with_row(row_of(self.shelf.session.project, self.kind, self._this))))

    def ask_list(self) -> None:
        """Read the lines of a chosen file onto the shelf."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a list of things", "", LISTS)
        if name:
            self.read_list(Path(name))

    def read_list(self, path: Path) -> None:
        """Read the lines of a file onto the shelf, and tell what was left out or looks like a slip."""

        def read() -> None:
            found, shelf = read_shelf(path), self.shelf.read()
            for row in found.rows:
                shelf = shelf.with_row(row)
            self.shelf.write(shelf)
            more = f"\n… and {len(found.told) - MOST_TOLD} more." if len(found.told) > MOST_TOLD else ""
            lines = "\n".join(found.told[:MOST_TOLD]) + more
            self._tell(f"{len(found.rows)} things are on the shelf now from {path.name}.{f'{chr(10) * 2}{lines}' if lines else ''}")

        self._safely(read)

    def ask_place(self) -> None:
        """Write the whole shelf to a chosen file."""
        name, _ = QFileDialog.getSaveFileName(self, "Write the list of things", "shelf.csv", LISTS)
        if name:
            self._safely(lambda: write_shelf(Path(name), self.shelf.read()))

    def _safely(self, work: Callable[[], None]) -> None:
        try:
            work()
        except (FileProblem, OSError) as err:
            self._tell(str(err))

    def _tell(self, text: str) -> None:
        QMessageBox.information(self, "Shelf", text)
