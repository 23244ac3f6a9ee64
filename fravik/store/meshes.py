"""Meshes apart from the text of a project: each is written once, under the hash of what it holds.

So that a keystroke rewrites a page of text and not the meshes with it.
"""

from __future__ import annotations

import hashlib
import re
import sqlite3

from fravik.model.project import Project

MESH_TABLE = "CREATE TABLE mesh (name TEXT NOT NULL, body TEXT NOT NULL)"
_NAMED = re.compile(r'"sha256:([0-9a-f]{64})"')
_PLAIN = re.compile(rb"[^\"\\\x00-\x1f\x7f-\xff]*")  # what may stand in JSON text as it is


def set_apart(project: Project) -> tuple[Project, dict[str, str]]:
    """The project with names in place of its meshes, and the meshes by name."""
    meshes: dict[str, str] = {}
    parts = []
    for part in project.parts:
        mesh = getattr(part.shape, "mesh", None)
        if isinstance(mesh, str) and mesh:
            name = hashlib.sha256(mesh.encode()).hexdigest()
            meshes[name] = mesh
            part = part.model_copy(update={"shape": part.shape.model_copy(update={"mesh": f"sha256:{name}"})})
        parts.append(part)
    blocks = []
    for block in project.components.blocks:
        if block.mesh:
            name = hashlib.sha256(block.mesh.encode()).hexdigest()
            meshes[name] = block.mesh
            block = block.model_copy(update={"mesh": f"sha256:{name}"})
        blocks.append(block)
    if not meshes:
        return project, {}
    held = project.components.model_copy(update={"blocks": tuple(blocks)})
    return project.model_copy(update={"parts": tuple(parts), "components": held}), meshes


def put_meshes(db: sqlite3.Connection, meshes: dict[str, str]) -> None:
    """Write what is not there yet, and drop what no part is made of any more."""
    there = {name.decode("ascii", "replace") for (name,) in db.execute("SELECT name FROM mesh").fetchall()}
    for name in there - set(meshes):
        db.execute("DELETE FROM mesh WHERE name = ?", (name,))
    db.executemany("INSERT INTO mesh VALUES (?, ?)", [(name, body) for name, body in meshes.items() if name not in there])


def put_together(text: str, rows: list[tuple[bytes, bytes]]) -> str:
    """The text with its meshes in it again. Raises ValueError in plain words when one is missing or is not what was saved."""
    meshes = {}
    for name, body in rows:
        if hashlib.sha256(body).hexdigest().encode() != name or not _PLAIN.fullmatch(body):
            raise ValueError("a mesh in it is not what was saved")
        meshes[name.decode("ascii")] = body.decode("ascii")

    def whole(found: re.Match[str]) -> str:
        if found[1] not in meshes:
            raise ValueError("a mesh of it is missing")
        return f'"{meshes[found[1]]}"'

    return _NAMED.sub(whole, text)
