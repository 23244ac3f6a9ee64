"""The components besides motor, propeller and battery: a fold each, whose editors are made when it is opened first."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QMessageBox, QPushButton, QVBoxLayout, QWidget

from fravik.app import theme
from fravik.app.meshreading import MeshReading
from fravik.app.session import Session
from fravik.app.widgets.basics import put_away
from fravik.app.widgets.fieldforms import Form, field_for
from fravik.app.widgets.fold import Fold
from fravik.kinds.things import mesh_edits
from fravik.model.craft import Block

from .shelfmenu import OwnShelf, ShelfButton


class BlockForms(QWidget, theme.Plain):
    """Those that stay keep their fold when others come and go."""

    def __init__(self, session: Session, shelf: OwnShelf) -> None:
        super().__init__()
        self.session, self.shelf = session, shelf
        self.forms: dict[str, Form] = {}
        self._folds: dict[str, Fold] = {}
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)
        add = QPushButton("Add component")
        add.clicked.connect(self.add)
        more = QHBoxLayout()
        more.addWidget(add, 1)
        self.from_shelf = ShelfButton(shelf, "component")
        more.addWidget(self.from_shelf)
        self.column.addLayout(more)

    @property
    def folds(self) -> list[Fold]:
        """In the order of the components."""
        return list(self._folds.values())

    def refresh(self) -> None:
        """Show the project's components."""
        blocks = self.session.project.components.blocks
        if [b.id for b in blocks] != list(self._folds):
            self._arrange(blocks)
        for form in self.forms.values():
            form.refresh()
        for b in blocks:
            fold = self._folds[b.id]
            fold.title.setText(b.name)
            fold.refresh()

    def _arrange(self, blocks: tuple[Block, ...]) -> None:
        ids = {b.id for b in blocks}
        for gone in [i for i in self._folds if i not in ids]:
            put_away(self.column, self._folds.pop(gone))
            self.forms.pop(gone, None)
        self._folds = {b.id: self._folds.get(b.id) or self._fold(b) for b in blocks}
        for row, fold in enumerate(self._folds.values()):
            if self.column.indexOf(fold) != row:
                self.column.removeWidget(fold)
                self.column.insertWidget(row, fold)

    def _fold(self, block: Block) -> Fold:
        path = f"components.blocks.{block.id}"
        return Fold(self.session, block.name, path, partial(self._body, block.id), ShelfButton(self.shelf, "component", block.id))

    def _body(self, block_id: str) -> QWidget:
        form, path = Form(), f"components.blocks.{block_id}"
        for name, info in Block.model_fields.items():
            if name not in ("id", "mesh"):
                form.add(field_for(info.annotation)(self.session, f"{path}.{name}"))
        drop = QPushButton("Remove")
        drop.setObjectName("quiet")
        drop.setAccessibleName(f"Remove {next(b.name for b in self.session.project.components.blocks if b.id == block_id)}")
        drop.clicked.connect(lambda: self.drop(block_id))
        self.forms[block_id] = form
        body = QWidget()
        inside = QVBoxLayout(body)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addWidget(form)
        mesh = QPushButton("Read a mesh of it…")
        mesh.setObjectName("quiet")
        mesh.setToolTip("Its own form in place of the box, stretched to its edges")
        mesh.clicked.connect(lambda: self.ask_mesh(block_id))
        low = QHBoxLayout()
        low.addWidget(mesh)
        low.addStretch(1)
        low.addWidget(drop)
        inside.addLayout(low)
        return body

    def ask_mesh(self, block_id: str) -> None:
        """Choose a mesh file for a component."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a mesh", "", "Meshes (*.stl *.obj *.ply *.3mf);;All files (*)")
        reason = self.read_mesh(block_id, Path(name)) if name else None
        if reason:
            QMessageBox.warning(self, "Fravik", reason)

    def read_mesh(self, block_id: str, path: Path) -> str | None:
        """Give a component the form and the edges of a mesh; the plain reason why not, empty when the maker gave up."""
        part, reason = MeshReading(path, self.session.project, self).run()
        if part is None:
            return reason
        return self.session.edit_many(mesh_edits(block_id, part), f"mesh of {path.name}")

    def add(self) -> None:
        """One more component, with the usual figures."""
        blocks = self.session.project.components.blocks
        taken = {b.id for b in blocks}
        name = next(n for n in (f"block{i}" for i in range(1, 999)) if n not in taken)
        self.session.edit("components.blocks", (*blocks, Block(id=name)), "component added")

    def drop(self, block_id: str) -> None:
        """One less."""
        blocks = tuple(b for b in self.session.project.components.blocks if b.id != block_id)
        self.session.edit("components.blocks", blocks, "component removed")
