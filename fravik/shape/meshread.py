"""Read meshes of others (STL, OBJ, PLY, 3MF) as closed solids, with a plain answer to every bad or hostile file."""

from __future__ import annotations

import base64
import binascii
import re
import struct
import zipfile
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import IO

import lib3mf
import numpy as np
import trimesh
from manifold3d import Error, Manifold
from manifold3d import Mesh as KernelMesh

from .build import Floats, Mesh

MOST_BYTES = 120_000_000
MOST_UNPACKED = 600_000_000
MOST_TRIANGLES = 400_000
LEAST_MM, MOST_MM = 0.5, 3_000.0
MOST_COPIES = 2_000
STEPS = 3  # counted, read, checked
LONGEST = 64  # of what is counted in a stream of text
_TRIANGLE, _ITEM = re.compile(rb"<(?:\w+:)?triangle[\s/]"), re.compile(rb"<(?:\w+:)?item[\s/]")
_FACET, _OBJ_LINE = re.compile(rb"facet\s+normal"), re.compile(rb"\n\s*f\s")
_PLY_COUNT = re.compile(rb"element\s+face\s+(\d{1,18})")
KINDS = (".stl", ".obj", ".ply", ".3mf")


class MeshProblem(ValueError):  # noqa: N818  an answer to the maker, not a fault
    """A mesh that cannot be taken; the message says what is wrong and what to do."""


def read_mesh(path: Path, scale: float = 1.0, progress: Callable[[int, int], None] = lambda done, total: None) -> Mesh:
    """A closed mesh in mm, its box's middle at x = y = 0 and its lowest point at z = 0; ``progress`` hears (steps done, of how many).

    Raises MeshProblem with what is wrong, OSError when the file cannot be opened.
    """
    kind = path.suffix.lower()
    if kind not in KINDS:
        raise MeshProblem(f"{path.name}: meshes are read from {', '.join(KINDS)}.")
    size = path.stat().st_size
    if not path.is_file():
        raise MeshProblem(f"{path.name} is a folder, a device or a pipe, not a file.")
    if size > MOST_BYTES:
        raise MeshProblem(f"{path.name} is {size / 1e6:.0f} MB; at most {MOST_BYTES / 1e6:.0f} MB are read. Thin the mesh out first.")
    _count_first(path, kind)
    progress(1, STEPS)
    try:
        vertices, faces = _read_3mf(path) if kind == ".3mf" else _read_plain(path, kind)
    except MeshProblem:
        raise
    except OSError:
        raise
    except Exception as err:  # the readers of odd files fail in many ways, none of them the maker's concern
        raise MeshProblem(f"{path.name} could not be read as {kind[1:].upper()} ({str(err)[:80] or type(err).__name__}).") from None
    progress(2, STEPS)
    checked = _checked(vertices * scale, faces, path.name)
    progress(STEPS, STEPS)
    return checked


def _count_first(path: Path, kind: str) -> None:
    """Refuse what holds too much before anything is taken apart: the readers' own memory and time grow with it."""
    if kind == ".3mf":
        _count_3mf(path)
        return
    with path.open("rb") as f:
        head = f.read(65536)
        claimed = 0
        binary = int.from_bytes(head[80:84], "little")
        if kind == ".stl" and path.stat().st_size == 84 + 50 * binary:
            claimed = binary
        elif kind == ".ply":
            claimed = max([int(n) for n in _PLY_COUNT.findall(head.split(b"end_header")[0])], default=0)
        elif kind in (".stl", ".obj"):
            f.seek(0)
            claimed = _counted(f, _OBJ_LINE if kind == ".obj" else _FACET, path.name)
    _most(claimed, path.name)


def _most(triangles: int, name: str) -> None:
    if triangles > MOST_TRIANGLES:
        raise MeshProblem(f"{name} has {triangles} triangles or more; at most {MOST_TRIANGLES} are taken. Thin the mesh out first.")


def _counted(stream: IO[bytes], what: re.Pattern[bytes], name: str) -> int:
    """How often something stands in a stream, read in pieces; gives up once it is too often."""
    found, rest = 0, b""
    while True:
        piece = stream.read(1 << 20)
        if not piece:
            return found + len(what.findall(rest))
        # what may be cut in two at the end of the piece is looked at with the next one
        text = rest + piece
        rest = text[-LONGEST:]
        found += len(what.findall(text[:-LONGEST]))
        _most(found, name)


def _count_3mf(path: Path) -> None:
    """Triangles and copies, counted in the packed text itself."""
    try:
        with zipfile.ZipFile(path) as archive:
            models = [i for i in archive.infolist() if i.filename.lower().endswith(".model")]
            unpacked = sum(i.file_size for i in archive.infolist())
            if unpacked > MOST_UNPACKED:
                told = f"{path.name} would unpack to {unpacked / 1e6:.0f} MB; at most {MOST_UNPACKED / 1e6:.0f} MB are read."
                raise MeshProblem(told)
            triangles = copies = 0
            for i in models:
                with archive.open(i) as f:
                    triangles += _counted(f, _TRIANGLE, path.name)
                with archive.open(i) as f:
                    copies += _counted(f, _ITEM, path.name)
    except MeshProblem:
        raise
    except (zipfile.BadZipFile, zlib.error, struct.error, EOFError, RuntimeError, OSError, ValueError):
        raise MeshProblem(f"{path.name} is not a 3MF: it does not open as an archive.") from None
    _most(triangles, path.name)
    if copies > MOST_COPIES:
        raise MeshProblem(f"{path.name} places {copies} copies; at most {MOST_COPIES} are taken.")


def _read_plain(path: Path, kind: str) -> tuple[Floats, np.ndarray]:
    if kind == ".stl":
        with path.open("rb") as f:
            head = f.read(84)
        if len(head) == 84 and head[:5] != b"solid":
            claimed = int.from_bytes(head[80:84], "little")
            if 84 + 50 * claimed != path.stat().st_size:
                raise MeshProblem(f"{path.name} says it holds {claimed} triangles but is cut short or padded: export it again.")
    found = trimesh.load(path, file_type=kind[1:], force="mesh", process=False, skip_materials=True)
    if not isinstance(found, trimesh.Trimesh) or len(found.faces) == 0:
        raise MeshProblem(f"{path.name} holds no triangles.")
    return np.asarray(found.vertices, dtype=np.float64), np.asarray(found.faces, dtype=np.int64)


def _read_3mf(path: Path) -> tuple[Floats, np.ndarray]:
    """All mesh objects of a 3MF at their places in the build."""
    wrapper = lib3mf.Wrapper()
    model = wrapper.CreateModel()
    model.QueryReader("3mf").ReadFromFile(str(path))
    vertices, faces, count, taken = [], [], 0, 0
    items = model.GetBuildItems()
    while items.MoveNext():
        item = items.GetCurrent()
        resource = item.GetObjectResource()
        if not resource.IsMeshObject():
            continue
        mesh = model.GetMeshObjectByID(resource.GetResourceID())
        taken += mesh.GetTriangleCount()
        _most(taken, path.name)
        t = item.GetObjectTransform()
        turn = np.array([[t.Fields[r][c] for c in range(3)] for r in range(4)], dtype=np.float64)
        v = np.array([list(p.Coordinates) for p in mesh.GetVertices()], dtype=np.float64).reshape(-1, 3)
        vertices.append(v @ turn[:3] + turn[3])
        faces.append(np.array([list(f.Indices) for f in mesh.GetTriangleIndices()], dtype=np.int64).reshape(-1, 3) + count)
        count += len(v)
    if not vertices:
        raise MeshProblem(f"{path.name} holds no mesh.")
    return np.concatenate(vertices), np.concatenate(faces)


def _checked(vertices: Floats, faces: np.ndarray, name: str) -> Mesh:
    if len(faces) > MOST_TRIANGLES:
        raise MeshProblem(f"{name} has {len(faces)} triangles; at most {MOST_TRIANGLES} are taken. Thin the mesh out first.")
    if vertices.ndim != 2 or vertices.shape[1] != 3 or faces.ndim != 2 or faces.shape[1] != 3:
        raise MeshProblem(f"{name} holds no triangles in space: export it again as a solid.")
    if not np.isfinite(vertices).all():
        raise MeshProblem(f"{name} holds coordinates that are not numbers.")
    if faces.size and (faces.min() < 0 or faces.max() >= len(vertices)):
        raise MeshProblem(f"{name} names corners that it does not hold.")
    size = np.ptp(vertices, axis=0) if len(vertices) else np.zeros(3)
    if size.max(initial=0.0) > MOST_MM or size.max(initial=0.0) < LEAST_MM:
        raise MeshProblem(f"{name} is {size.max(initial=0.0):.3g} mm across: check its units, millimetres are meant, or give a scale.")
    # corners that coincide are one corner
    corners, same = np.unique(np.round(vertices, 5), axis=0, return_inverse=True)
    faces = same.reshape(-1)[faces]
    faces = faces[(faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])]
    low, high = corners.min(axis=0), corners.max(axis=0)
    corners = corners - np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    mesh = Mesh(corners, faces)
    solid_of(mesh, name)
    return mesh


def solid_of(mesh: Mesh, name: str = "The mesh") -> Manifold:
    """The solid inside a mesh. Raises MeshProblem when it is not closed, or inside out beyond repair."""
    edges = np.sort(mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    _, seen = np.unique(edges, axis=0, return_counts=True)
    solid = _kernel(mesh.vertices_mm, mesh.faces)
    if solid.status() != Error.NoError or solid.is_empty():
        odd = int((seen != 2).sum())
        raise MeshProblem(f"{name} is not closed: {odd} edges have no partner or too many. Repair it in the program that made it.")
    if solid.volume() < 0:
        solid = _kernel(mesh.vertices_mm, mesh.faces[:, ::-1])
    if solid.volume() < 1e-3:
        raise MeshProblem(f"{name} encloses no volume.")
    return solid


def _kernel(vertices: Floats, faces: np.ndarray) -> Manifold:
    return Manifold(KernelMesh(np.ascontiguousarray(vertices, dtype=np.float32), np.ascontiguousarray(faces, dtype=np.uint32)))


def packed(mesh: Mesh) -> str:
    """A mesh as text that fits into the project file."""
    head = np.array([len(mesh.vertices_mm), len(mesh.faces)], dtype="<u4").tobytes()
    body = mesh.vertices_mm.astype("<f4").tobytes() + mesh.faces.astype("<u4").tobytes()
    return base64.b85encode(zlib.compress(head + body, 6)).decode("ascii")


def unpacked(text: str) -> Mesh:
    """A mesh back from text. Raises MeshProblem when the text is damaged."""
    try:
        squeezed = base64.b85decode(text)
        unzip = zlib.decompressobj()
        raw = unzip.decompress(squeezed, MOST_TRIANGLES * 30 + 8)
        if unzip.unconsumed_tail:
            raise MeshProblem("The part's mesh is larger than any that is taken.")
        n, m = np.frombuffer(raw, "<u4", 2)
        vertices = np.frombuffer(raw, "<f4", 3 * int(n), 8).reshape(-1, 3).astype(np.float64)
        faces = np.frombuffer(raw, "<u4", 3 * int(m), 8 + 12 * int(n)).reshape(-1, 3).astype(np.int64)
    except (ValueError, zlib.error, binascii.Error) as err:
        raise MeshProblem(f"The part's mesh is damaged ({err}): read it in again.") from None
    if faces.size and faces.max() >= len(vertices):
        raise MeshProblem("The part's mesh is damaged: read it in again.")
    return Mesh(vertices, faces)
