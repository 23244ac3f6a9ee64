"""Project files that somebody made to harm, files that several hold at once, and places that take no files."""

from __future__ import annotations

import errno
import os
import sqlite3
import threading
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fravik.model.paths import set_at
from fravik.model.project import Project
from fravik.store import FileProblem, create, open_file
from fravik.store.file import APPLICATION_ID, checksum
from fravik.store.text import project_to_json


@pytest.fixture
def path(tmp_path: Path, project: Project) -> Path:
    create(tmp_path / "craft.fravik", project)
    return tmp_path / "craft.fravik"


def altered(path: Path, *statements: str) -> None:
    with closing(sqlite3.connect(path)) as db, db:
        for s in statements:
            db.execute(s)


def code_of(call: Callable[[], object]) -> str:
    with pytest.raises(FileProblem) as told:
        call()
    assert "\n" not in str(told.value)
    return told.value.code


RECURSIVE = """WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n)
SELECT 1 AS id, 'x' AS body, '' AS note, '' AS saved_at, i AS c FROM n"""


@pytest.mark.parametrize("statements", [
    ("DROP TABLE snapshot", f"CREATE VIEW snapshot AS {RECURSIVE}"),
    (f"CREATE VIEW more AS {RECURSIVE}",),
    ("CREATE TRIGGER undo AFTER UPDATE ON snapshot BEGIN UPDATE snapshot SET body = OLD.body; END",),
    ("CREATE TRIGGER swallow BEFORE UPDATE ON snapshot BEGIN SELECT RAISE(IGNORE); END",),
    ("CREATE TABLE more (x)",),
    ("CREATE INDEX fast ON snapshot (body)",),
    ("CREATE VIRTUAL TABLE words USING fts5(x)",),
    ("ALTER TABLE snapshot ADD COLUMN more TEXT DEFAULT 'x'",),
])  # fmt: skip
def test_what_is_not_our_one_table_is_not_read(path: Path, statements: tuple[str, ...]) -> None:
    altered(path, *statements)
    before = path.read_bytes()
    start = time.monotonic()
    assert code_of(lambda: open_file(path)) == "file.foreign"
    assert time.monotonic() - start < 2
    assert path.read_bytes() == before


def test_a_file_that_grows_a_trigger_while_it_is_open_is_not_written(path: Path, project: Project) -> None:
    file, _ = open_file(path)
    altered(path, "CREATE TRIGGER swallow BEFORE UPDATE ON snapshot BEGIN SELECT RAISE(IGNORE); END")
    assert code_of(lambda: file.write(set_at(project, "name", "other"))) == "file.foreign"


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(share=st.floats(0, 1, exclude_max=True), bit=st.integers(0, 7))
def test_one_flipped_bit_is_never_taken_for_another_craft(path: Path, project: Project, share: float, bit: int) -> None:
    whole = path.read_bytes()
    at = int(share * len(whole))
    path.write_bytes(whole[:at] + bytes([whole[at] ^ (1 << bit)]) + whole[at + 1 :])
    try:
        assert open_file(path)[1] == project
    except FileProblem as err:
        assert str(err)  # noqa: PT017  either outcome is right, as long as it is said
    finally:
        path.write_bytes(whole)


def test_a_text_that_is_not_text(path: Path) -> None:
    altered(path, "UPDATE snapshot SET body = CAST(x'7bff7d' AS TEXT), checksum = ''")
    assert code_of(lambda: open_file(path)) == "file.damaged"
    altered(path, "UPDATE snapshot SET body = x'7b7d'")
    assert code_of(lambda: open_file(path)) == "file.damaged"


def old_file(path: Path, project: Project) -> None:
    """A file as it was before the checksum."""
    with closing(sqlite3.connect(path)) as db, db:
        db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
        db.execute("PRAGMA user_version = 3")
        db.execute("CREATE TABLE snapshot (id INTEGER PRIMARY KEY CHECK (id = 1), body TEXT NOT NULL, "
                   "note TEXT NOT NULL, saved_at TEXT NOT NULL)")  # fmt: skip
        db.execute("INSERT INTO snapshot VALUES (1, ?, 'created', datetime('now'))", (project_to_json(project),))


def test_a_file_of_the_format_before_opens_and_gains_a_checksum(tmp_path: Path, project: Project) -> None:
    path = tmp_path / "old.fravik"
    old_file(path, project)
    file, found = open_file(path)
    assert found == project
    edited = set_at(project, "name", "Edited")
    file.write(edited)
    assert open_file(path)[1] == edited
    with closing(sqlite3.connect(path)) as db:
        assert db.execute("SELECT checksum FROM snapshot").fetchone()[0] == checksum(project_to_json(edited))


def test_a_second_window_may_read_and_says_why_it_may_not_write(path: Path, project: Project) -> None:
    first, _ = open_file(path, claim=True)
    second, found = open_file(path, claim=True)
    assert found == project
    assert second.read_only
    assert "another window" in second.why
    assert code_of(lambda: second.write(set_at(project, "name", "second"))) == "save.read_only"
    first.write(set_at(project, "name", "first"))
    first.close()
    third, found = open_file(path, claim=True)
    assert not third.read_only
    assert found.name == "first"
    third.close()


@pytest.mark.parametrize("how", ["written", "replaced"])
def test_a_write_over_somebody_elses_is_refused(path: Path, tmp_path: Path, project: Project, how: str) -> None:
    file, _ = open_file(path)
    theirs = set_at(project, "name", "theirs")
    if how == "written":
        open_file(path)[0].write(theirs)
    else:
        create(tmp_path / "new.fravik", theirs)
        os.replace(tmp_path / "new.fravik", path)
    assert code_of(lambda: file.write(set_at(project, "name", "mine"))) == "save.conflict"
    assert open_file(path)[1] == theirs


def test_a_file_deleted_while_open_is_said_and_not_made_again(path: Path, project: Project) -> None:
    file, _ = open_file(path)
    path.unlink()
    assert code_of(lambda: file.write(set_at(project, "name", "mine"))) == "save.failed"
    assert not path.exists()


def test_a_file_held_by_a_backup_is_busy_and_not_damaged(path: Path, project: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("fravik.store.file.BUSY_SECONDS", 0.2)
    file, _ = open_file(path)
    with closing(sqlite3.connect(path, isolation_level=None, check_same_thread=False)) as other:
        other.execute("BEGIN EXCLUSIVE")
        assert code_of(lambda: file.write(set_at(project, "name", "mine"))) == "save.busy"
        assert code_of(lambda: open_file(path)) == "file.busy"
        # a short hold is waited out
        monkeypatch.setattr("fravik.store.file.BUSY_SECONDS", 5.0)
        threading.Timer(0.3, lambda: other.execute("ROLLBACK")).start()
        file.write(set_at(project, "name", "mine"))
    assert open_file(path)[1].name == "mine"


def test_a_stick_without_hard_links_takes_files_too(tmp_path: Path, project: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    def none(*_: object) -> None:
        raise OSError(errno.EPERM, "Operation not permitted")

    monkeypatch.setattr(os, "link", none)
    create(tmp_path / "craft.fravik", project)
    assert open_file(tmp_path / "craft.fravik")[1] == project
    assert code_of(lambda: create(tmp_path / "craft.fravik", project)) == "file.taken"
    assert os.listdir(tmp_path) == ["craft.fravik"]


@pytest.mark.parametrize("made", [os.mkfifo, os.mkdir])
def test_a_pipe_or_a_folder_is_no_project(tmp_path: Path, made: Callable[[Path], None]) -> None:
    made(tmp_path / "x.fravik")
    assert code_of(lambda: open_file(tmp_path / "x.fravik")) == "file.foreign"
    assert code_of(lambda: open_file(Path("/dev/zero"))) == "file.foreign"


def test_a_text_that_cannot_be_written_down_is_said(path: Path, project: Project) -> None:
    file, _ = open_file(path)
    broken = project.model_copy(update={"name": "lone \ud800"})
    assert code_of(lambda: file.write(broken)) == "save.failed"
    assert code_of(lambda: create(path.with_name("b.fravik"), broken)) == "file.unwritable"
    assert os.listdir(path.parent) == ["craft.fravik"]
