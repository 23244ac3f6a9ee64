"""Every craft has a file from its first edit, and none of the ways to lose one loses it."""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Callable, Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from conftest import until, written

from fravik.app.session import Session
from fravik.demo import tern
from fravik.model.paths import set_at
from fravik.store import FileProblem, create, open_file
from fravik.store.kept import kept_crafts


@pytest.fixture
def kept(tmp_path: Path) -> Path:
    return tmp_path / "kept"


@pytest.fixture
def make(qapp: Any, kept: Path) -> Iterator[Callable[..., Session]]:
    """Sessions on a craft that is quick to evaluate."""
    made: list[Session] = []

    def start(path: Path | None = None) -> Session:
        file, project = open_file(path, claim=True) if path is not None else (None, small())
        made.append(Session(project, file, kept))
        return made[-1]

    yield start
    for s in made:
        s.close()


def small() -> Any:
    return tern().model_copy(update={"parts": tern().parts[1:2], "name": "Small"})


@pytest.fixture
def path(tmp_path: Path) -> Path:
    create(tmp_path / "craft.fravik", small())
    return tmp_path / "craft.fravik"


def test_a_craft_without_a_file_is_kept_from_its_first_edit_and_named_later(make: Any, kept: Path, tmp_path: Path) -> None:
    session = make()
    assert session.save_state is None
    assert kept_crafts(kept) == []
    session.edit("name", "First")
    assert session.unnamed
    (one,) = kept_crafts(kept)
    assert written(session, one).name == "First"
    session.edit("name", "Second")
    assert written(session, one).name == "Second"
    session.save_copy(tmp_path / "mine.fravik")
    assert not session.unnamed
    assert kept_crafts(kept) == []
    session.edit("name", "Third")
    assert written(session, tmp_path / "mine.fravik").name == "Third"


def test_opening_another_craft_leaves_the_last_one_kept(make: Any, kept: Path, path: Path) -> None:
    session = make()
    session.edit("name", "Only here")
    file, project = open_file(path, claim=True)
    session.open(project, file)
    assert [open_file(p)[1].name for p in kept_crafts(kept)] == ["Only here"]
    session.open(small(), None)
    again, _ = open_file(path, claim=True)  # nobody holds it any more
    assert not again.read_only
    again.close()


def test_a_file_held_elsewhere_delays_nobody_and_is_written_when_it_is_free(make: Any, path: Path, qapp: Any) -> None:
    session = make(path)
    with closing(sqlite3.connect(path, isolation_level=None)) as other:
        other.execute("BEGIN EXCLUSIVE")
        judged = session._judge(session.project)
        session._judge = lambda project: judged  # the figures are not what is timed
        start = time.monotonic()
        for i in range(5):
            session.edit("name", f"edit {i}")
        assert time.monotonic() - start < 1.5
        assert session.save_state.kind == "waiting"
        assert until(qapp, lambda: "in use by another program" in session.file_message, 10.0)
        other.execute("ROLLBACK")
    assert until(qapp, lambda: session.save_state.kind == "saved", 10.0)
    assert until(qapp, lambda: session.file_message == "", 10.0)
    assert open_file(path)[1].name == "edit 4"


def test_a_file_changed_elsewhere_stays_and_the_edits_go_on_beside_it(make: Any, path: Path, qapp: Any) -> None:
    session = make(path)
    open_file(path)[0].write(set_at(small(), "name", "theirs"))
    session.edit("name", "mine")
    assert until(qapp, lambda: session.file is not None and session.file.path != path, 10.0)
    assert "left as it is" in session.file_message
    assert open_file(path)[1].name == "theirs"
    beside = session.file.path
    assert beside.parent == path.parent
    assert written(session, beside).name == "mine"
    session.edit("name", "mine again")
    assert written(session, beside).name == "mine again"
    assert session.file_message == ""


def test_two_windows_on_one_file_lose_nothing(make: Any, kept: Path, path: Path) -> None:
    first, second = make(path), make(path)
    second.edit("name", "from the second")
    first.edit("name", "from the first")
    assert written(first, path).name == "from the first"
    assert "another window" in second.file_message
    assert [written(second, p).name for p in kept_crafts(kept)] == ["from the second"]


def test_an_edit_that_its_file_never_took_is_kept_when_the_craft_is_left(make: Any, kept: Path, path: Path, qapp: Any) -> None:
    session = make(path)
    os.unlink(path)
    session.edit("name", "homeless")
    assert until(qapp, lambda: session.save_state.kind == "failed" and bool(session.file_message), 10.0)
    assert "could not be saved" in session.file_message
    session.close()
    assert [open_file(p)[1].name for p in kept_crafts(kept)] == ["homeless"]


def test_any_failure_to_save_is_said(make: Any, path: Path, qapp: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    session = make(path)

    def broken(*_: object) -> None:
        raise RuntimeError("the cable is out")

    monkeypatch.setattr(session.file, "write", broken)
    session.edit("name", "x")
    assert until(qapp, lambda: session.save_state.kind == "failed" and bool(session.file_message), 10.0)
    assert "the cable is out" in session.file_message


def test_a_place_that_takes_no_kept_crafts_is_said(make: Any, kept: Path) -> None:
    kept.write_text("in the way")
    session = make()
    session.edit("name", "x")
    assert session.file is None
    assert "could not be made" in session.file_message
    with pytest.raises(FileProblem):
        session.save_copy(kept / "x.fravik")
