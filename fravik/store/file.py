"""Open, create and write ``.fravik`` files.

A file is recognised by its SQLite header alone (application id and schema version are read as bytes), so a damaged, foreign
or newer file is refused before the database library may touch it. Writes use a rollback journal and full syncs: a file is
always whole, and a kill at any moment leaves the last committed snapshot.
"""

from __future__ import annotations

import os
import sqlite3
import struct
from contextlib import closing
from pathlib import Path

from fravik.model.project import SCHEMA_VERSION, Project

from .text import project_from_json, project_to_json

APPLICATION_ID = 0x46525631
_MAGIC = b"SQLite format 3\x00"


class FileProblem(Exception):  # noqa: N818  shown to the maker as it stands
    """A file that cannot be read or written; the message says why and what to do. The file was not altered."""


class ProjectFile:
    """A project file that is open for work. Each ``write`` is one transaction."""

    def __init__(self, path: Path, *, read_only: bool = False) -> None:
        self.path = path
        self.read_only = read_only

    def write(self, project: Project, note: str = "") -> None:
        """Put the current snapshot in place of the last one. Raises FileProblem when it cannot be written."""
        if self.read_only:
            raise FileProblem(f"{self.path.name} is read-only: edits are kept in memory. Save a copy elsewhere to keep them.")
        text = project_to_json(project)
        try:
            with closing(_connect(self.path)) as db, db:
                db.execute(f"PRAGMA user_version = {SCHEMA_VERSION}")
                db.execute("UPDATE snapshot SET body = ?, note = ?, saved_at = datetime('now') WHERE id = 1", (text, note))
        except sqlite3.Error as err:
            raise FileProblem(_write_reason(self.path, err)) from None

    def read(self) -> Project:
        """The snapshot in the file."""
        return _read(self.path)


def _write_reason(path: Path, err: sqlite3.Error) -> str:
    text = str(err)
    kept = "The file still holds the edit before; this one is kept in memory."
    if "full" in text:
        return f"{path.name} could not be saved: the disk is full. {kept} Free some space, then make any edit."
    if "readonly" in text or "unable to open" in text:
        return f"{path.name} could not be saved: the file or its folder does not allow writing. {kept} Save a copy elsewhere."
    if "locked" in text:
        return f"{path.name} is in use by another program. {kept}"
    return f"{path.name} could not be saved ({text}). {kept} Save a copy elsewhere."


def _connect(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(f"{path.resolve().as_uri()}?mode=rw", uri=True, timeout=2.0)
    db.execute("PRAGMA journal_mode = DELETE")
    db.execute("PRAGMA synchronous = FULL")
    return db


def create(path: Path, project: Project) -> ProjectFile:
    """Make a new file holding the project. Refuses to overwrite; leaves nothing behind when it fails."""
    if path.exists():
        raise FileProblem(f"{path} already exists; choose another name.")
    temporary = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as err:
        raise FileProblem(f"{path} could not be made: {err.strerror}.") from None
    try:
        with closing(sqlite3.connect(temporary)) as db, db:
            db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            db.execute(f"PRAGMA user_version = {SCHEMA_VERSION}")
            db.execute("CREATE TABLE snapshot (id INTEGER PRIMARY KEY CHECK (id = 1), body TEXT NOT NULL, "
                       "note TEXT NOT NULL, saved_at TEXT NOT NULL)")  # fmt: skip
            db.execute("INSERT INTO snapshot VALUES (1, ?, 'created', datetime('now'))", (project_to_json(project),))
        os.link(temporary, path)
    except FileExistsError:
        raise FileProblem(f"{path} already exists; choose another name.") from None
    except (OSError, sqlite3.Error) as err:
        raise FileProblem(f"{path} could not be made: {err}.") from None
    finally:
        temporary.unlink(missing_ok=True)
    return ProjectFile(path)


def open_file(path: Path) -> tuple[ProjectFile, Project]:
    """Open a project file. Raises FileProblem, and never alters the file, when it is not a whole project of ours."""
    header = _header(path)
    if header[:16] != _MAGIC:
        raise FileProblem(f"{path.name} is not a Fravik project.")
    (application,) = struct.unpack(">I", header[68:72])
    if application != APPLICATION_ID:
        raise FileProblem(f"{path.name} is a database of another program, not a Fravik project.")
    (version,) = struct.unpack(">I", header[60:64])
    if version > SCHEMA_VERSION:
        raise FileProblem(f"{path.name} was written by a newer Fravik (format {version}; this one reads up to {SCHEMA_VERSION}). "
                          "Open it there, or export it to JSON.")  # fmt: skip
    journal = path.with_name(path.name + "-journal")
    (page,) = struct.unpack(">H", header[16:18])
    (pages,) = struct.unpack(">I", header[28:32])
    page = 65536 if page == 1 else page
    if path.stat().st_size < page * pages and not journal.exists():
        raise FileProblem(f"{path.name} is cut short ({path.stat().st_size} of {page * pages} bytes): it was not copied whole. "
                          "Copy it again from where it came.")  # fmt: skip
    project = _read(path)
    writable = os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)
    return ProjectFile(path, read_only=not writable), project


def _header(path: Path) -> bytes:
    try:
        with path.open("rb") as f:
            header = f.read(100)
    except FileNotFoundError:
        raise FileProblem(f"There is no file {path}.") from None
    except IsADirectoryError:
        raise FileProblem(f"{path} is a folder, not a project file.") from None
    except OSError as err:
        raise FileProblem(f"{path} cannot be read: {err.strerror}.") from None
    if len(header) < 100:
        raise FileProblem(f"{path.name} is {'empty' if not header else 'cut short'}: it is not a whole Fravik project.")
    return header


def _read(path: Path) -> Project:
    # a journal left by a kill can only be rolled back by a connection that may write
    hot = path.with_name(path.name + "-journal").exists() and os.access(path, os.W_OK)
    uri = f"{path.resolve().as_uri()}?mode={'rw' if hot else 'ro'}"
    try:
        with closing(sqlite3.connect(uri, uri=True, timeout=2.0)) as db:
            if db.execute("PRAGMA quick_check").fetchone()[0] != "ok":
                raise FileProblem(f"{path.name} is damaged: parts of it cannot be read. It was left as it is.")
            row = db.execute("SELECT body FROM snapshot WHERE id = 1").fetchone()
    except sqlite3.Error as err:
        raise FileProblem(f"{path.name} is damaged ({err}). It was left as it is.") from None
    if row is None:
        raise FileProblem(f"{path.name} holds no snapshot. It was left as it is.")
    try:
        return project_from_json(row[0])
    except (ValueError, TypeError) as err:
        raise FileProblem(f"{path.name}: {err}") from None
