"""Meshes are kept apart from a project's text: written once, checked, and back in their places when the file is opened."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from manifold3d import Manifold

from fravik.demo import tern
from fravik.model.paths import set_at
from fravik.model.project import Part, Project
from fravik.model.shapes import ImportedShape
from fravik.shape.build import mesh_of
from fravik.shape.meshread import packed
from fravik.store import FileProblem, create, open_file


def pod(radius_mm: float) -> ImportedShape:
    return ImportedShape(mesh=packed(mesh_of(Manifold.sphere(radius_mm, 96))), source="pod.stl")


@pytest.fixture
def project() -> Project:
    base = tern()
    parts = tuple(Part(id=f"pod{k}", name=f"Pod {k}", shape=pod(r)) for k, r in enumerate((8.0, 8.0, 9.0)))
    return base.model_copy(update={"parts": (*base.parts, *parts)})


@pytest.fixture
def path(project: Project, tmp_path: Path) -> Path:
    create(tmp_path / "pods.fravik", project)
    return tmp_path / "pods.fravik"


def rows(path: Path, query: str) -> list[Any]:
    with closing(sqlite3.connect(path)) as db:
        return db.execute(query).fetchall()


def altered(path: Path, statement: str) -> str:
    with closing(sqlite3.connect(path)) as db, db:
        db.execute(statement)
    before = path.read_bytes()
    with pytest.raises(FileProblem) as err:
        open_file(path)
    assert path.read_bytes() == before
    return str(err.value)


def test_equal_meshes_are_kept_once_and_come_back_whole(path: Path, project: Project) -> None:
    assert open_file(path)[1] == project
    assert len(rows(path, "SELECT name FROM mesh")) == 2
    text = rows(path, "SELECT body FROM snapshot")[0][0]
    assert all(body not in text for (body,) in rows(path, "SELECT body FROM mesh"))


def test_typing_writes_the_text_and_not_the_meshes(path: Path, project: Project) -> None:
    file, _ = open_file(path)
    before = rows(path, "SELECT rowid, name FROM mesh")
    file.write(set_at(project, "name", "Tern"))  # from here on the file has room for the text before and the text after
    size = path.stat().st_size
    for k in range(30):
        file.write(set_at(project, "name", f"Tern {k}"))
    assert rows(path, "SELECT rowid, name FROM mesh") == before
    assert path.stat().st_size < size + 20_000
    assert open_file(path)[1].name == "Tern 29"


def test_a_mesh_goes_with_its_last_part_and_comes_back_with_it(path: Path, project: Project) -> None:
    file, _ = open_file(path)
    file.write(project.model_copy(update={"parts": project.parts[:-1]}))
    assert len(rows(path, "SELECT name FROM mesh")) == 1
    file.write(project)
    assert open_file(path)[1] == project


def test_a_mesh_that_is_missing_or_changed_is_said(path: Path) -> None:
    keep = path.read_bytes()
    assert "missing" in altered(path, "DELETE FROM mesh")
    path.write_bytes(keep)
    assert "not what was saved" in altered(path, "UPDATE mesh SET body = body || 'x'")
    path.write_bytes(keep)
    assert "not what was saved" in altered(path, """UPDATE mesh SET body = '", "name": "other', name = '0'""")
    path.write_bytes(keep)
    assert "more than" in altered(path, "CREATE INDEX fast ON mesh (name)")


def test_a_file_of_the_format_before_opens_and_is_brought_up(path: Path, project: Project) -> None:
    from fravik.store.file import FILE_FORMAT, checksum
    from fravik.store.text import project_to_json

    text = project_to_json(project)
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("DROP TABLE mesh")
        db.execute("UPDATE snapshot SET body = ?, checksum = ?", (text, checksum(text)))
        db.execute("PRAGMA user_version = 4")
    file, found = open_file(path)
    assert found == project
    file.write(project)
    assert open_file(path)[1] == project
    assert rows(path, "PRAGMA user_version") == [(FILE_FORMAT,)]
    assert len(rows(path, "SELECT name FROM mesh")) == 2
