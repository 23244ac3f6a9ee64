"""Crafts that have no name yet, or whose own file cannot be written: each has a file in the data folder from its first edit."""

from __future__ import annotations

import re
from datetime import datetime
from pathlib import Path

from fravik.model.project import Project

from .file import ProjectFile, create
from .fileproblem import FileProblem


def keep(project: Project, folder: Path) -> ProjectFile:
    """A new file for a craft without one, held by this window. Raises FileProblem."""
    stem = re.sub(r"[^\w]+", "-", project.name.lower()).strip("-")[:40] or "craft"
    stamp = datetime.now().strftime("%Y-%m-%d-%H%M%S")
    for n in range(1, 100):
        path = folder / (f"{stem}-{stamp}.fravik" if n == 1 else f"{stem}-{stamp}-{n}.fravik")
        if not path.exists():
            return create(path, project, claim=True)
    raise FileProblem(f"{folder} holds too many crafts of that name.", "file.unwritable")


def beside(project: Project, path: Path) -> ProjectFile:
    """A file next to one that somebody else has changed, so that both stay. Raises FileProblem."""
    for n in range(1, 100):
        other = path.with_name(f"{path.stem}-mine{'' if n == 1 else f'-{n}'}{path.suffix}")
        if not other.exists():
            return create(other, project, claim=True)
    raise FileProblem(f"There are too many copies beside {path.name}.", "file.unwritable")


def kept_crafts(folder: Path) -> list[Path]:
    """The crafts that are kept there, newest first."""
    if not folder.is_dir():
        return []
    return sorted(folder.glob("*.fravik"), key=lambda p: p.stat().st_mtime, reverse=True)
