"""Meshes of others: good ones become parts that are weighed and laid, bad and hostile ones get a plain answer."""

from __future__ import annotations

import struct
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import trimesh
from conftest import until
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold
from PyQt6.QtCore import QTimer

from fravik.app.meshreading import MeshReading
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.settle import settle
from fravik.kinds.imported import imported_part
from fravik.model.paths import set_many
from fravik.model.shapes import ImportedShape
from fravik.shape.build import mesh_of
from fravik.shape.meshfile import MeshItem, parts_3mf_bytes, stl_bytes
from fravik.shape.meshread import MeshProblem, packed, read_mesh, solid_of, unpacked
from fravik.store import project_from_json
from fravik.store.text import project_to_json

PIPE = Manifold.cylinder(30.0, 12.0, 9.0, 48) - Manifold.cylinder(40.0, 5.0, 5.0, 48).translate((0, 0, -5))
MESH = mesh_of(PIPE.translate((7.0, -3.0, 4.0)))


@pytest.fixture
def stl(tmp_path: Path) -> Path:
    path = tmp_path / "nose pod.stl"
    path.write_bytes(stl_bytes(MESH))
    return path


@pytest.mark.parametrize("kind", ["stl", "obj", "ply", "3mf", "ascii"])
def test_every_kind_comes_in_whole(kind: str, tmp_path: Path) -> None:
    path = tmp_path / f"pipe.{'stl' if kind == 'ascii' else kind}"
    if kind == "stl":
        path.write_bytes(stl_bytes(MESH))
    elif kind == "3mf":
        path.write_bytes(parts_3mf_bytes([MeshItem("Pipe", MESH, 1, ())]))
    else:
        body = trimesh.Trimesh(MESH.vertices_mm, MESH.faces)
        body.export(path, file_type="stl_ascii" if kind == "ascii" else kind)
    mesh = read_mesh(path)
    assert solid_of(mesh).volume() == pytest.approx(PIPE.volume(), rel=1e-4)
    assert mesh.vertices_mm.min(axis=0) == pytest.approx([-12, -12, 0], abs=1e-3)


def test_a_part_of_it_is_weighed_laid_and_kept(stl: Path) -> None:
    base = tern()
    part = imported_part(stl, base)
    project = base.model_copy(update={"parts": (*base.parts, part)})
    engine = Engine()
    result = engine.evaluate(project)
    row = result.parts["mesh"]
    assert part.name == "Nose pod"
    assert 0.3 * PIPE.volume() * 1.27e-3 < row.mass.mass_g < 1.01 * PIPE.volume() * 1.27e-3
    assert result.craft.mass_g == pytest.approx(Engine().evaluate(base).craft.mass_g + row.mass.mass_g)
    assert "mesh" not in result.members
    settled = settle(engine, project)
    assert settled.jobs["mesh"].grams == pytest.approx(settled.jobs["mesh"].zone_grams, rel=0.02)
    assert any(c.part_id == "mesh" for p in settled.batches.batches for c in p.copies)
    assert project_from_json(project_to_json(project)) == project


def test_scale_and_place(stl: Path) -> None:
    part = imported_part(stl, tern())
    project = tern().model_copy(update={"parts": (*tern().parts, part)})
    small = Engine().evaluate(project)
    big = Engine().evaluate(set_many(project, (("parts.mesh.shape.scale", 2.0), ("parts.mesh.recipe.core_density", 1.0))))
    assert big.parts["mesh"].mass.mass_g == pytest.approx(8 * PIPE.volume() * 1.27e-3, rel=0.02)
    moved = Engine().evaluate(set_many(project, (("parts.mesh.shape.x_mm", 100.0),)))
    shift = 100.0 * small.parts["mesh"].mass.mass_g / small.craft.mass_g
    assert moved.craft.com_mm[0] - small.craft.com_mm[0] == pytest.approx(shift, rel=1e-6)


def test_inside_out_is_turned() -> None:
    assert solid_of(type(MESH)(MESH.vertices_mm, MESH.faces[:, ::-1])).volume() == pytest.approx(PIPE.volume(), rel=1e-4)


def test_packing_keeps_the_mesh() -> None:
    again = unpacked(packed(MESH))
    assert again.faces.tolist() == MESH.faces.tolist()
    assert again.vertices_mm == pytest.approx(MESH.vertices_mm, abs=1e-4)


@given(st.text(max_size=200))
def test_damaged_text_is_refused(text: str) -> None:
    with pytest.raises(MeshProblem):
        unpacked(text)


def _hole(path: Path) -> None:
    path.write_bytes(stl_bytes(type(MESH)(MESH.vertices_mm, MESH.faces[5:])))


def _far(path: Path) -> None:
    path.write_bytes(stl_bytes(type(MESH)(MESH.vertices_mm * 1e6, MESH.faces)))


def _tiny(path: Path) -> None:
    path.write_bytes(stl_bytes(type(MESH)(MESH.vertices_mm * 1e-4, MESH.faces)))


def _nan(path: Path) -> None:
    broken = MESH.vertices_mm.copy()
    broken[3] = np.nan
    path.write_bytes(stl_bytes(type(MESH)(broken, MESH.faces)))


def _short(path: Path) -> None:
    path.write_bytes(stl_bytes(MESH))
    path.write_bytes(path.read_bytes()[:-77])


def _lies(path: Path) -> None:
    path.write_bytes(b"x" * 80 + struct.pack("<I", 4_000_000_000) + b"y" * 100)


def _empty(path: Path) -> None:
    path.write_bytes(b"")


def _noise(path: Path) -> None:
    path.write_bytes(np.random.default_rng(1).bytes(5000))


def _text(path: Path) -> None:
    path.write_text("solid nothing\nendsolid nothing\n")


@pytest.mark.parametrize(
    ("make", "says"),
    [(_hole, "not closed"), (_far, "units"), (_tiny, "units"), (_nan, "numbers"), (_short, "cut short"), (_lies, "cut short"),
     (_empty, None), (_noise, None), (_text, None)],
)  # fmt: skip
def test_bad_files_get_a_plain_answer(make: Any, says: str | None, tmp_path: Path) -> None:
    path = tmp_path / "bad.stl"
    make(path)
    with pytest.raises(MeshProblem, match=says) as caught:
        read_mesh(path)
    assert "Traceback" not in str(caught.value)


def test_archives_that_swell_and_files_that_lie(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    bomb = tmp_path / "bomb.3mf"
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("3D/3dmodel.model", b"0" * 3_000_000)
    with pytest.raises(MeshProblem):
        read_mesh(bomb)
    monkeypatch.setattr("fravik.shape.meshread.MOST_UNPACKED", 1_000_000)
    with pytest.raises(MeshProblem, match="unpack"):
        read_mesh(bomb)
    (tmp_path / "no.3mf").write_bytes(b"not an archive")
    with pytest.raises(MeshProblem, match="archive"):
        read_mesh(tmp_path / "no.3mf")
    with pytest.raises(MeshProblem, match="meshes are read from"):
        read_mesh(tmp_path / "picture.png")
    with pytest.raises(OSError, match="nowhere"):
        read_mesh(tmp_path / "nowhere.stl")
    monkeypatch.setattr("fravik.shape.meshread.MOST_TRIANGLES", 10)
    (tmp_path / "many.stl").write_bytes(stl_bytes(MESH))
    with pytest.raises(MeshProblem, match="triangles"):
        read_mesh(tmp_path / "many.stl")


def test_it_comes_in_through_the_window(window: Any, qapp: Any, stl: Path, tmp_path: Path) -> None:
    view = window.view("Parts")
    assert view.add_mesh(stl) is None
    assert view.title.text() == "Nose pod"
    assert isinstance(window.session.project.part("mesh").shape, ImportedShape)
    for page in range(4):
        view.show_page(page)
        qapp.processEvents()
    assert not window.session.stale
    bad = tmp_path / "bad.stl"
    _hole(bad)
    assert "not closed" in (view.add_mesh(bad) or "")
    for stage in ("Airframe", "Vibration", "Brief", "Print run"):
        window.show_stage(stage)
        qapp.processEvents()
    window.session.undo()
    assert "mesh" not in {p.id for p in window.session.project.parts}


def test_reading_it_leaves_the_window_free_and_can_be_given_up(window: Any, qapp: Any, stl: Path) -> None:
    view, turns, before = window.view("Parts"), [], window.session.project
    timer = QTimer()
    timer.timeout.connect(lambda: turns.append(1))
    timer.start(5)
    assert view.add_mesh(stl) is None
    assert len(turns) > 5  # a process was started and a file was read meanwhile
    assert window.session.project != before
    window.session.undo()
    reading = MeshReading(stl, before, view)
    QTimer.singleShot(0, reading.dialog.canceled.emit)
    assert reading.run() == (None, "")
    assert window.session.project == before
    assert until(qapp, lambda: reading._background.worker.pid is None, 3.0)


def test_a_mesh_without_depth_is_refused(tmp_path: Path) -> None:
    flat = tmp_path / "flat.ply"
    flat.write_text(
        "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nelement face 1\n"
        "property list uchar int vertex_indices\nend_header\n0 0\n40 0\n0 40\n3 0 1 2\n"
    )
    with pytest.raises(MeshProblem):
        read_mesh(flat)
