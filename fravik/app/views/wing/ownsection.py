"""A section of the maker's own, read from a file of coordinates."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.app.widgets.short import Short
from fravik.kinds.wing.geometry import wing_of
from fravik.store.fileproblem import FileProblem
from fravik.store.sectionfile import read_section

FILES = "Coordinates (*.dat *.txt *.csv);;All files (*)"


class OwnSection(QWidget):
    """Reads one for the panel in view, or takes the four-digit one back; says what is wrong with a file."""

    def __init__(self, session: Session, panel: Callable[[], str]) -> None:
        super().__init__()
        self.session, self.panel = session, panel
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 0)
        row.setSpacing(6)
        self.read_button, self.drop_button = QPushButton("Section from a file…"), QPushButton("Four digits")
        for b, call in ((self.read_button, self.ask), (self.drop_button, self.drop)):
            b.setObjectName("quiet")
            b.setFixedHeight(theme.sized(22))
            b.clicked.connect(call)
            row.addWidget(b)
        self.drop_button.setToolTip("Back to the section by thickness and camber")
        self.words = Short("", "small")
        row.addWidget(self.words, 1)

    def ask(self) -> None:
        """Pick a file."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a section", "", FILES)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Take a file's outline for the panel in view."""
        from fravik.flight.aero.aerofoils import own_section
        from fravik.shape.wing import outline_of

        try:
            points = read_section(path)
            shape = wing_of(self.session.project.part(self.panel())).model_copy(update={"section": points})
            found = own_section(outline_of(shape, shape.root_chord_mm))
        except FileProblem as err:
            self.words.setText(str(err))
            return
        except ValueError as err:
            self.words.setText(f"{path.name} holds no section: {err}.")
            return
        self.session.edit(f"parts.{self.panel()}.shape.section", points, f"section {path.stem}")
        self.words.setText(f"{path.stem}: {100 * found.thickness:.0f} % thick, {100 * found.camber:.0f} % camber")

    def drop(self) -> None:
        """The four-digit section again."""
        self.session.edit(f"parts.{self.panel()}.shape.section", (), "section by four digits")
        self.words.setText("")
