"""The pages that say how each figure is computed, read in the window."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QTextBrowser, QVBoxLayout, QWidget

from fravik.app import theme

FOLDER = Path(__file__).resolve().parents[2] / "docs"
FIRST = "margins"
WIDE, TALL, NAMES = 900, 680, 150


def page_names(folder: Path = FOLDER) -> list[str]:
    """All pages by name."""
    return sorted(p.stem for p in folder.glob("*.md"))


class Pages(QDialog):
    """The list of pages at the left, one of them at the right; links lead from page to page."""

    def __init__(self, parent: QWidget, folder: Path = FOLDER) -> None:
        super().__init__(parent)
        self.folder = folder
        self.setWindowTitle("How figures are computed")
        self.resize(WIDE, TALL)
        row = QHBoxLayout(self)
        self.names = QListWidget()
        self.names.setAccessibleName("Pages")
        self.names.setFixedWidth(NAMES)
        self.names.addItems(page_names(folder))
        self.names.currentTextChanged.connect(self.show_page)
        row.addWidget(self.names)
        column = QVBoxLayout()
        self.text = QTextBrowser()
        self.text.setOpenLinks(False)
        self.text.setSearchPaths([str(folder)])
        self.text.anchorClicked.connect(self._follow)
        column.addWidget(self.text)
        row.addLayout(column, 1)
        self.page = ""

    def show_page(self, name: str) -> None:
        """Show one page; says so where it did not come along."""
        self.page = name
        links = self.text.palette()
        links.setColor(links.ColorRole.Link, QColor(theme.current().accent))
        self.text.setPalette(links)
        path = self.folder / f"{name}.md"
        try:
            self.text.setMarkdown(path.read_text(encoding="utf-8"))
        except OSError:
            self.text.setPlainText(f"The page {name} did not come with this copy of Fravik.")
        for k in range(self.names.count()):
            item = self.names.item(k)
            if item is not None and item.text() == name and self.names.currentRow() != k:
                self.names.setCurrentRow(k)

    def _follow(self, link: QUrl) -> None:
        name = Path(link.path()).stem
        if link.scheme() in ("", "file") and name in page_names(self.folder):
            self.show_page(name)
