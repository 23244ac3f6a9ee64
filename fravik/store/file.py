"""Open, create and write ``.fravik`` files.

A file is recognised by its SQLite header alone (application id and format are read as bytes), so a damaged, foreign or newer file is
refused before the database library may touch it. Then only our own tables, of our schema, are read: a file with views, triggers or
anything else in it is a stranger's. The snapshot carries a checksum, which also tells whether somebody else has written meanwhile.
Writes use a rollback journal and full syncs: a file is always whole, and a kill at any moment leaves the last committed snapshot.
"""

from __future__ import annotations

import errno
import fcntl
import hashlib
import os
import sqlite3
import struct
import time
from contextlib import closing
from pathlib import Path

from fravik.model.project import Project

from .fileproblem import FileProblem
from .meshes import MESH_TABLE, put_meshes, put_together, set_apart
from .text import project_from_json, project_to_json

APPLICATION_ID = 0x46525631
# 1 to 3 went with the project's format; 4 checksum, 5 meshes apart, 6 layouts, 7 road words, 8 cameras and findings set aside, 9 prices
# and aerials, 10 to 13 packs, tunes, frames and propellers, 14 wings and tilt, 15 their joints and hinges
FILE_FORMAT = 17
_MAGIC = b"SQLite format 3\x00"
_COLUMNS = "id INTEGER PRIMARY KEY CHECK (id = 1), body TEXT NOT NULL, note TEXT NOT NULL, saved_at TEXT NOT NULL"
_TABLE = f"CREATE TABLE snapshot ({_COLUMNS}, checksum TEXT NOT NULL)"
_OLD_TABLE = f"CREATE TABLE snapshot ({_COLUMNS})"
# the schemas there have been, and in which format they came
_SCHEMAS = {frozenset({("snapshot", _OLD_TABLE)}): 3, frozenset({("snapshot", _TABLE)}): 4,
            frozenset({("snapshot", _TABLE), ("mesh", MESH_TABLE)}): 5}  # fmt: skip
MOST_BYTES = 400_000_000
MOST_TEXT_BYTES = 200_000_000
CHECK_SECONDS = 20.0
BUSY_SECONDS = 2.0


def checksum(text: str) -> str:
    """SHA-256 of a snapshot."""
    return hashlib.sha256(text.encode("utf-8")).hexdigest()


class ProjectFile:
    """A project file that is open for work. Each ``write`` is one transaction."""

    def __init__(self, path: Path, *, last: str = "", read_only: bool = False, why: str = "", claim: int | None = None) -> None:
        self.path = path
        self.read_only = read_only
        self.why = why or f"{path.name} is read-only"
        self._last = last
        self._claim = claim

    def write(self, project: Project, note: str = "") -> None:
        """Put the current snapshot in place of the last one.

        Raises FileProblem when it cannot be written: ``save.busy`` when another program holds the file just now, ``save.conflict`` when
        it no longer holds what was last read or written here, ``save.failed`` for all else.
        """
        if self.read_only:
            raise FileProblem(f"{self.why}: edits are kept in memory. Save a copy elsewhere to keep them.", "save.read_only")
        try:
            apart, meshes = set_apart(project)
            text = project_to_json(apart)
            text.encode("utf-8")
        except (ValueError, UnicodeError):
            told = f"{self.path.name} could not be saved: a text in it cannot be written down. Undo the last edit."
            raise FileProblem(told, "save.failed") from None
        now = checksum(text)
        try:
            with closing(_connect(self.path, "rw")) as db:
                db.execute("PRAGMA synchronous = FULL")
                db.execute("BEGIN IMMEDIATE")
                self._put(db, text, note, now)
                put_meshes(db, meshes)
                db.commit()
        except (sqlite3.Error, UnicodeError) as err:
            raise _write_problem(self.path, err) from None
        self._last = now

    def _put(self, db: sqlite3.Connection, text: str, note: str, now: str) -> None:
        schema = _schema_of(db, self.path)
        row = db.execute("SELECT body FROM snapshot WHERE id = 1").fetchone()
        there = hashlib.sha256(row[0]).hexdigest() if row is not None else ""
        if self._last and there != self._last:
            told = f"{self.path.name} was changed by another program or window since it was last saved here"
            raise FileProblem(f"{told}: it was left as it is.", "save.conflict")
        if schema < 4:
            db.execute("DROP TABLE snapshot")
            db.execute(_TABLE)
            db.execute("INSERT INTO snapshot VALUES (1, '', '', '', '')")
        if schema < 5:
            db.execute(MESH_TABLE)
        db.execute(f"PRAGMA user_version = {FILE_FORMAT}")
        done = db.execute(
            "UPDATE snapshot SET body = ?, note = ?, saved_at = datetime('now'), checksum = ? WHERE id = 1", (text, note, now)
        )
        if done.rowcount != 1:
            raise FileProblem(f"{self.path.name} holds no snapshot any more: it was left as it is.", "save.conflict")

    def read(self) -> Project:
        """The snapshot in the file."""
        return _read(self.path)[0]

    def claim(self) -> None:
        """Keep the file for this window, as far as the file system knows such locks."""
        if self._claim is None and not self.read_only:
            self._claim, _ = _claimed(self.path)

    def close(self) -> None:
        """Let others write it."""
        if self._claim is not None:
            os.close(self._claim)
            self._claim = None


def _write_problem(path: Path, err: Exception) -> FileProblem:
    code = getattr(err, "sqlite_errorcode", None) or 0
    kept = "The file still holds the edit before; this one is kept in memory."
    if code & 0xFF in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
        return FileProblem(f"{path.name} is in use by another program. {kept}", "save.busy")
    if code & 0xFF == sqlite3.SQLITE_FULL:
        told = f"{path.name} could not be saved: the disk is full. {kept} Free some space, then make any edit."
    elif code & 0xFF in (sqlite3.SQLITE_READONLY, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_PERM):
        told = f"{path.name} could not be saved: the file or its folder is gone or does not allow writing. {kept} Save a copy elsewhere."
    else:
        told = f"{path.name} could not be saved ({err}). {kept} Save a copy elsewhere."
    return FileProblem(told, "save.failed")


def _connect(path: Path, mode: str) -> sqlite3.Connection:
    """A connection that runs nothing a file brings along; text comes back as bytes."""
    db = sqlite3.connect(f"{path.resolve().as_uri()}?mode={mode}", uri=True, timeout=BUSY_SECONDS, isolation_level=None)
    db.text_factory = bytes
    db.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, MOST_TEXT_BYTES)
    db.execute("PRAGMA trusted_schema = OFF")
    db.execute("PRAGMA cell_size_check = ON")
    db.execute("PRAGMA mmap_size = 0")
    if mode == "rw":
        db.execute("PRAGMA journal_mode = DELETE")
    return db


def _schema_of(db: sqlite3.Connection, path: Path) -> int:
    """The format that our tables came in. Raises FileProblem for any other schema."""
    rows = db.execute("SELECT type, name, sql FROM sqlite_master").fetchall()
    found = frozenset((name, sql) for kind, name, sql in rows if kind == b"table")
    for schema, version in _SCHEMAS.items():
        if found == {(name.encode(), sql.encode()) for name, sql in schema} and len(rows) == len(schema):
            return version
    raise FileProblem(f"{path.name} holds more than a Fravik project does, or something else: it was left as it is.", "file.foreign")


def create(path: Path, project: Project, *, claim: bool = False) -> ProjectFile:
    """Make a new file holding the project. Refuses to overwrite; leaves nothing behind when it fails."""
    if os.path.lexists(path):
        raise FileProblem(f"{path} already exists; choose another name.", "file.taken")
    temporary = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        apart, meshes = set_apart(project)
        text = project_to_json(apart)
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as err:
        raise FileProblem(f"{path} could not be made: {err.strerror}.", "file.unwritable") from None
    except ValueError:
        raise FileProblem(f"{path} could not be made: a text in the craft cannot be written down.", "file.unwritable") from None
    try:
        with closing(sqlite3.connect(temporary)) as db, db:
            db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
            db.execute(f"PRAGMA user_version = {FILE_FORMAT}")
            db.execute(_TABLE)
            db.execute(MESH_TABLE)
            db.execute("INSERT INTO snapshot VALUES (1, ?, 'created', datetime('now'), ?)", (text, checksum(text)))
            put_meshes(db, meshes)
        _put_in_place(temporary, path)
    except FileExistsError:
        raise FileProblem(f"{path} already exists; choose another name.", "file.taken") from None
    except (OSError, sqlite3.Error) as err:
        raise FileProblem(f"{path} could not be made: {getattr(err, 'strerror', None) or err}.", "file.unwritable") from None
    finally:
        if temporary.parent.is_dir():
            temporary.unlink(missing_ok=True)
    return ProjectFile(path, last=checksum(text), claim=_claimed(path)[0] if claim else None)


def _put_in_place(temporary: Path, path: Path) -> None:
    """Give a whole file its name, over nothing. Sticks and some shares have no hard links: there an empty file holds the name first."""
    try:
        os.link(temporary, path)
    except FileExistsError:
        raise
    except OSError as err:
        if err.errno not in (errno.EPERM, errno.ENOTSUP, errno.EOPNOTSUPP, errno.ENOSYS, errno.EMLINK, errno.EINVAL):
            raise
        os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o666))
        os.replace(temporary, path)


def _claimed(path: Path) -> tuple[int | None, bool]:
    """A descriptor that keeps the file for this window while it is open, and whether somebody else has it."""
    try:
        descriptor = os.open(path, os.O_RDONLY)
    except OSError:
        return None, False
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(descriptor)
        return None, True
    except OSError:  # a file system without such locks: the checksum still tells of another writer
        os.close(descriptor)
        return None, False
    return descriptor, False


def open_file(path: Path, *, claim: bool = False) -> tuple[ProjectFile, Project]:
    """Open a project file, and with ``claim`` keep it for this window. Raises FileProblem, and never alters the file, when it is not a
    whole project of ours. A file that another window has, or that cannot be written, opens read-only and says why."""
    header = _header(path)
    if header[:16] != _MAGIC:
        raise FileProblem(f"{path.name} is not a Fravik project.", "file.foreign")
    (application,) = struct.unpack(">I", header[68:72])
    if application != APPLICATION_ID:
        raise FileProblem(f"{path.name} is a database of another program, not a Fravik project.", "file.foreign")
    (version,) = struct.unpack(">I", header[60:64])
    if version > FILE_FORMAT:
        raise FileProblem(f"{path.name} was written by a newer Fravik (format {version}; this one reads up to {FILE_FORMAT}). "
                          "Open it there, or export it to JSON.", "file.newer")  # fmt: skip
    journal = path.with_name(path.name + "-journal")
    (page,) = struct.unpack(">H", header[16:18])
    (pages,) = struct.unpack(">I", header[28:32])
    page = 65536 if page == 1 else page
    size = path.stat().st_size
    if size < page * pages and not journal.exists():
        raise FileProblem(f"{path.name} is cut short ({size} of {page * pages} bytes): it was not copied whole. "
                          "Copy it again from where it came.", "file.damaged")  # fmt: skip
    if size > MOST_BYTES:
        raise FileProblem(f"{path.name} is {size / 1e6:.0f} MB: no craft is as large as that.", "file.too_large")
    held, taken = _claimed(path) if claim else (None, False)
    try:
        project, last = _read(path)
    except BaseException:
        if held is not None:
            os.close(held)
        raise
    if taken:
        return ProjectFile(path, last=last, read_only=True, why=f"{path.name} is open in another window"), project
    writable = os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)
    return ProjectFile(path, last=last, read_only=not writable, claim=held), project


def _header(path: Path) -> bytes:
    try:
        if path.exists() and not path.is_file() and not path.is_dir():
            raise FileProblem(f"{path} is a device or a pipe, not a project file.", "file.foreign")
        with path.open("rb") as f:
            header = f.read(100)
    except FileNotFoundError:
        raise FileProblem(f"There is no file {path}.", "file.missing") from None
    except IsADirectoryError:
        raise FileProblem(f"{path} is a folder, not a project file.", "file.foreign") from None
    except (OSError, ValueError) as err:
        raise FileProblem(f"{path} cannot be read: {getattr(err, 'strerror', None) or err}.", "file.unreadable") from None
    if len(header) < 100:
        told = f"{path.name} is {'empty' if not header else 'cut short'}: it is not a whole Fravik project."
        raise FileProblem(told, "file.damaged")
    return header


def _read(path: Path) -> tuple[Project, str]:
    """The snapshot and its checksum."""
    # a journal left by a kill can only be rolled back by a connection that may write
    hot = path.with_name(path.name + "-journal").exists() and os.access(path, os.W_OK)
    end = time.monotonic() + CHECK_SECONDS
    damaged = f"{path.name} is damaged"
    try:
        with closing(_connect(path, "rw" if hot else "ro")) as db:
            db.set_progress_handler(lambda: int(time.monotonic() > end), 20_000)
            schema = _schema_of(db, path)
            if db.execute("PRAGMA quick_check").fetchone()[0] != b"ok":
                raise FileProblem(f"{damaged}: parts of it cannot be read. It was left as it is.", "file.damaged")
            row = db.execute(f"SELECT typeof(body), body, {'checksum' if schema > 3 else 'NULL'} FROM snapshot WHERE id = 1").fetchone()
            meshes = db.execute("SELECT CAST(name AS TEXT), CAST(body AS TEXT) FROM mesh").fetchall() if schema > 4 else []
    except sqlite3.OperationalError as err:
        if getattr(err, "sqlite_errorcode", 0) & 0xFF in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
            told = f"{path.name} is held by another program just now, such as a backup or a sync. Try again in a moment."
            raise FileProblem(told, "file.busy") from None
        raise FileProblem(f"{damaged} ({err}). It was left as it is.", "file.damaged") from None
    except (sqlite3.Error, sqlite3.Warning, UnicodeError) as err:  # even what is said of a damaged file may be damaged
        raise FileProblem(f"{damaged} ({err}). It was left as it is.", "file.damaged") from None
    if row is None or row[0] != b"text":
        raise FileProblem(f"{path.name} holds no snapshot. It was left as it is.", "file.damaged")
    found = hashlib.sha256(row[1]).hexdigest()
    if row[2] is not None and row[2] != found.encode():
        raise FileProblem(f"{damaged}: its text is not what was saved. It was left as it is.", "file.damaged")
    try:
        text = put_together(row[1].decode("utf-8"), meshes)
    except UnicodeDecodeError:
        raise FileProblem(f"{damaged}: its text cannot be read. It was left as it is.", "file.damaged") from None
    except ValueError as err:
        raise FileProblem(f"{damaged}: {err}. It was left as it is.", "file.damaged") from None
    try:
        return project_from_json(text), found
    except (ValueError, TypeError) as err:
        raise FileProblem(f"{path.name}: {err}", "file.unreadable") from None
