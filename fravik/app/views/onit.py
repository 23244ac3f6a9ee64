"""What is on the craft, as a tree beside its picture: what stands on what, how it is held, whether it holds."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QHeaderView, QTreeWidget, QTreeWidgetItem

from fravik.app import theme
from fravik.app.widgets.basics import Card
from fravik.app.widgets.glyphs import WEIGHT_MARK, draw_verdict, worst
from fravik.engine.onit import Node, what_is_on_it
from fravik.engine.results import Evaluation
from fravik.study.findings import Finding

WIDTH_PX, MARK_PX = 204, 16
PATH = Qt.ItemDataRole.UserRole + 1


class OnItCard(Card):
    """A click on a part opens it, one on a bought thing brings its fields into view."""

    part_clicked = pyqtSignal(str)
    thing_clicked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("What is on it")
        self.setFixedWidth(theme.sized(WIDTH_PX))
        self.tree = QTreeWidget()
        self.tree.setColumnCount(2)
        self.tree.setHeaderHidden(True)
        self.tree.setIndentation(12)
        self.tree.setIconSize(QSize(MARK_PX, MARK_PX))
        self.tree.setRootIsDecorated(False)
        self.tree.setItemsExpandable(False)
        self.tree.setFrameShape(QTreeWidget.Shape.NoFrame)
        self.tree.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.tree.setAccessibleName("What is on the craft")
        head = self.tree.header()
        if head is not None:
            head.setStretchLastSection(False)
            head.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
            head.setSectionResizeMode(1, QHeaderView.ResizeMode.Fixed)
            head.resizeSection(1, MARK_PX + 6)
        self.tree.itemClicked.connect(self._open)
        self.tree.itemActivated.connect(self._open)
        self.column.addWidget(self.tree, 1)
        self._shown: object = None
        self._rows: list[tuple[QTreeWidgetItem, Node]] = []
        self._found: tuple[Finding, ...] = ()

    def show_craft(self, result: Evaluation | None) -> None:
        """Lay the tree out anew where what it says has changed."""
        nodes = what_is_on_it(result) if result is not None else ()
        key = (nodes, theme.mode())
        if key == self._shown:
            return
        self._shown = key
        self.tree.clear()
        self._rows = []
        for node in nodes:
            self._lay(node, None)
        self.tree.expandAll()
        self.show_findings(self._found)

    def show_findings(self, found: Sequence[Finding]) -> None:
        """Mark what something will go wrong with, as heavily as it weighs."""
        self._found = tuple(found)
        for item, node in self._rows:
            mine = [f for f in found if f.stage != "Print run" and f.weight in WEIGHT_MARK and node.path and lies_in(f.path, node.path)]
            marks = [*([node.verdict] if node.verdict is not None else []), *(WEIGHT_MARK[f.weight] for f in mine)]
            if not marks:
                item.setIcon(1, QIcon())
                item.setToolTip(1, "")
                continue
            mark = worst(marks)
            item.setIcon(1, _mark(mark))
            item.setToolTip(1, "\n".join(t for t in (node.why, *(f.what for f in mine)) if t))
            item.setData(1, Qt.ItemDataRole.AccessibleTextRole, mark)

    def _lay(self, node: Node, under: QTreeWidgetItem | None) -> None:
        c = theme.current()
        item = QTreeWidgetItem([node.title, ""])
        item.setData(0, Qt.ItemDataRole.UserRole, node.part_id)
        item.setToolTip(0, "\n".join(t for t in (node.title, node.under, "Click to open it" if node.part_id else "") if t))
        item.setData(0, PATH, node.path)
        self._rows.append((item, node))
        if under is None:
            self.tree.addTopLevelItem(item)
        else:
            under.addChild(item)
        if node.under:
            small = QTreeWidgetItem([node.under, ""])
            small.setForeground(0, QColor(c.muted))
            small.setFont(0, theme.sans(7.5))
            small.setData(0, Qt.ItemDataRole.UserRole, node.part_id)
            small.setData(0, PATH, node.path)
            small.setToolTip(0, node.under)
            item.addChild(small)
        for child in node.children:
            self._lay(child, item)

    def _open(self, item: QTreeWidgetItem) -> None:
        part = item.data(0, Qt.ItemDataRole.UserRole)
        if part:
            self.part_clicked.emit(part)
        elif item.data(0, PATH):
            self.thing_clicked.emit(item.data(0, PATH))


def lies_in(path: str, whole: str) -> bool:
    """Whether a field is of what has that path."""
    return path == whole or path.startswith(f"{whole}.")


def _mark(verdict: str) -> QIcon:
    picture = QPixmap(MARK_PX, MARK_PX)
    picture.fill(Qt.GlobalColor.transparent)
    p = QPainter(picture)
    draw_verdict(p, QPointF(MARK_PX / 2, MARK_PX / 2), 9, verdict)
    p.end()
    return QIcon(picture)
