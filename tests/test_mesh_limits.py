"""Meshes that hold too much are refused before they are taken apart: in little time, and with little memory."""

from __future__ import annotations

import os
import time
import zipfile
from pathlib import Path

import psutil
import pytest

from fravik.printing.gcode import GcodeError, read_gcode
from fravik.shape.meshread import MOST_TRIANGLES, MeshProblem, read_mesh

MODEL = b"<model><resources><object id='1' type='model'><mesh><vertices>%s</vertices><triangles>%s</triangles></mesh></object></resources>"


def refused(path: Path, says: str) -> None:
    """Quickly, and without taking it all into memory."""
    own = psutil.Process()
    before, start = own.memory_info().rss, time.monotonic()
    with pytest.raises(MeshProblem, match=says):
        read_mesh(path)
    assert time.monotonic() - start < 8
    assert own.memory_info().rss - before < 150_000_000


def packed(path: Path, text: bytes) -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("3D/3dmodel.model", text)
    return path


def test_a_3mf_of_millions_of_triangles(tmp_path: Path) -> None:
    text = MODEL % (b"", b'<triangle v1="0" v2="1" v3="2"/>' * 6_000_000) + b"<build/></model>"
    refused(packed(tmp_path / "many.3mf", text), "triangles")


def test_a_3mf_of_hundreds_of_thousands_of_copies(tmp_path: Path) -> None:
    text = MODEL % (b"", b'<triangle v1="0" v2="1" v3="2"/>') + b"<build>" + b'<item objectid="1"/>' * 300_000 + b"</build></model>"
    refused(packed(tmp_path / "copies.3mf", text), "copies")


def test_an_obj_of_millions_of_faces(tmp_path: Path) -> None:
    (tmp_path / "many.obj").write_bytes(b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 3\n" * 10_000_000)
    refused(tmp_path / "many.obj", "triangles")


def test_headers_that_claim_too_much(tmp_path: Path) -> None:
    (tmp_path / "a.ply").write_bytes(b"ply\nformat ascii 1.0\nelement vertex 3\nelement face 999999999999\nend_header\n")
    refused(tmp_path / "a.ply", "triangles")
    (tmp_path / "a.stl").write_bytes(b" " * 80 + (MOST_TRIANGLES + 1).to_bytes(4, "little") + bytes(50 * (MOST_TRIANGLES + 1)))
    refused(tmp_path / "a.stl", "triangles")
    (tmp_path / "b.stl").write_bytes(b"solid x\n" + b"facet normal 0 0 1\n outer loop\n" * 900_000)
    refused(tmp_path / "b.stl", "triangles")


@pytest.mark.parametrize("kind", ["stl", "obj", "ply", "3mf"])
def test_pipes_and_folders_are_no_meshes(tmp_path: Path, kind: str) -> None:
    os.mkfifo(tmp_path / f"pipe.{kind}")
    (tmp_path / f"folder.{kind}").mkdir()
    refused(tmp_path / f"pipe.{kind}", "not a file")
    refused(tmp_path / f"folder.{kind}", "not a file")


def test_devices_are_no_g_code() -> None:
    with pytest.raises(GcodeError, match="not a file"):
        read_gcode(Path("/dev/zero"))
