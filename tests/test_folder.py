"""What leaves the program: whole or not at all, inside its folder, and over nothing unasked."""

from __future__ import annotations

import errno
import os
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fravik.store import FileProblem
from fravik.store.folder import safe_name, write_file, write_files

NASTY = (
    "../../x.stl",
    "/etc/passwd",
    "..",
    ".",
    "",
    "a/b\\c.stl",
    "\0x.stl",
    "con\n.stl",
    "x" * 400 + ".stl",
    ".hidden",
    "ä" * 300 + ".3mf",
    "~/x",
)


@pytest.mark.parametrize("name", NASTY)
def test_no_name_leaves_the_folder(tmp_path: Path, name: str) -> None:
    out = tmp_path / "out"
    (written,) = write_files(out, {name: b"1"})
    assert written.parent == out.resolve()
    assert written.read_bytes() == b"1"
    assert [p.name for p in tmp_path.iterdir()] == ["out"]


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.text(max_size=300))
def test_any_text_makes_one_plain_name(text: str) -> None:
    name = safe_name(text)
    assert name == os.path.basename(name)
    assert name not in ("", ".", "..")
    assert not name.startswith(".")
    assert len(name.encode("utf-8")) <= 200
    assert safe_name(name) == name


def test_a_link_in_the_folder_is_replaced_and_not_followed(tmp_path: Path) -> None:
    elsewhere = tmp_path / "mine.txt"
    elsewhere.write_text("mine")
    out = tmp_path / "out"
    out.mkdir()
    (out / "arm.stl").symlink_to(elsewhere)
    with pytest.raises(FileProblem, match="would be replaced"):
        write_files(out, {"arm.stl": b"new"})
    write_files(out, {"arm.stl": b"new"}, replace=True)
    assert elsewhere.read_text() == "mine"
    assert (out / "arm.stl").read_bytes() == b"new"


def test_nothing_is_replaced_unasked_and_then_nothing_is_written(tmp_path: Path) -> None:
    (tmp_path / "b.csv").write_text("mine")
    with pytest.raises(FileProblem) as told:
        write_files(tmp_path, {"a.csv": "new", "b.csv": "new"})
    assert told.value.code == "folder.taken"
    assert sorted(p.name for p in tmp_path.iterdir()) == ["b.csv"]
    assert (tmp_path / "b.csv").read_text() == "mine"


def test_names_that_become_one_are_told_apart(tmp_path: Path) -> None:
    written = write_files(tmp_path, {"a/b.stl": b"1", "a:b.stl": b"2", "A-B.stl": b"3"})
    assert len({p.name.lower() for p in written}) == 3
    assert sorted(p.read_bytes() for p in written) == [b"1", b"2", b"3"]


def test_a_disk_that_fills_up_leaves_no_half_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "b.3mf").write_bytes(b"the last one")
    calls = []

    def full(descriptor: int) -> None:
        calls.append(descriptor)
        if len(calls) == 2:
            raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(FileProblem, match="disk is full"):
        write_files(tmp_path, {"a.3mf": b"new", "b.3mf": b"new"}, replace=True)
    assert [p.name for p in tmp_path.iterdir()] == ["b.3mf"]
    assert (tmp_path / "b.3mf").read_bytes() == b"the last one"


@pytest.mark.parametrize("path", ["/dev/null", "{}/no/such/x.html", "{}", "{}/" + "y" * 250, "{}/file/x.html"])
def test_places_where_nothing_can_be_written_are_said(tmp_path: Path, path: str) -> None:
    (tmp_path / "file").write_text("a file")
    with pytest.raises(FileProblem) as told:
        write_file(Path(path.format(tmp_path)), "x")
    assert told.value.code.startswith("folder.")
    assert [p.name for p in tmp_path.iterdir()] == ["file"]


def test_a_folder_that_is_a_file_is_said(tmp_path: Path) -> None:
    (tmp_path / "out").write_text("a file")
    with pytest.raises(FileProblem):
        write_files(tmp_path / "out", {"a.csv": "1"})
    with pytest.raises(FileProblem):
        write_files(tmp_path / "o\0ut", {"a.csv": "1"})
