"""Parts that come and go: new ones in proportion, arms of another kind, meshes of others."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from fravik.app.meshreading import MeshReading
from fravik.app.session import Session
from fravik.app.widgets.scene import Scene
from fravik.kinds import kind_of
from fravik.kinds.dividing import with_another_arm, without
from fravik.kinds.newpart import part_for
from fravik.kinds.rearm import ARMS, arms_of, rearmed


class AddsParts(QWidget):
    """A view of one part that can add others and bring them into view."""

    session: Session
    scene: Scene
    part_id: str

    def add_part(self, kind: str) -> None:
        """Add a part in proportion to the craft; arms of another kind take the place of those that are there."""
        project = self.session.project
        if kind in ARMS and any(kind not in kind_of(p.shape).starts for p in arms_of(project)):
            self.rearm(kind)
            return
        new = part_for(kind, project)
        self.part_id = new.id
        self.session.edit("parts", with_another_arm(project, new), f"{new.name.lower()} added")
        self.session.then(self.scene.refit)

    def rearm(self, kind: str) -> None:
        """Arms of another kind in place of the one in view, or of all."""
        project = self.session.project
        here = [p.id for p in arms_of(project) if p.id == self.part_id]
        made = rearmed(project, kind, here)
        self.part_id = made.parts[0].id
        self.session.edit_many((("parts", made.parts), ("components", made.components)), f"{made.parts[0].name.lower()} instead")
        self.session.then(self.scene.refit)

    def ask_mesh(self) -> None:
        """Choose a mesh file and add it as a part."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a mesh", "", "Meshes (*.stl *.obj *.ply *.3mf);;All files (*)")
        if name:
            reason = self.add_mesh(Path(name))
            if reason:
                QMessageBox.warning(self, "Fravik", reason)

    def add_mesh(self, path: Path) -> str | None:
        """Add a mesh file as a part; returns None, or the plain reason why not (empty when the maker gave up)."""
        new, reason = MeshReading(path, self.session.project, self).run()
        if new is None:
            return reason
        self.part_id = new.id
        self.session.edit("parts", (*self.session.project.parts, new), f"{new.name.lower()} read in")
        self.session.then(self.scene.refit)
        return None

    def drop_part(self, part_id: str) -> None:
        """Take a part off the craft."""
        self.session.edit("parts", without(self.session.project, part_id), "part removed")
