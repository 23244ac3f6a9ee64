"""Part meshes for the printer: binary STL, and 3MF with names, counts and settings as metadata."""

from __future__ import annotations

import struct
from dataclasses import dataclass
from typing import Any

import lib3mf
import numpy as np

from .build import Floats, Mesh

SETTINGS = "urn:fravik:settings"


@dataclass(frozen=True)
class MeshItem:
    """A mesh as it lies on the batch, with what the printer's operator needs to know."""

    name: str
    mesh: Mesh
    count: int
    settings: tuple[tuple[str, str], ...]


def laid_on_bed(mesh: Mesh, rotation: Floats) -> Mesh:
    """The mesh turned as it prints, standing on z = 0 and centred on the origin."""
    v = mesh.vertices_mm @ rotation.T
    low, high = v.min(axis=0), v.max(axis=0)
    v = v - np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    return Mesh(v, mesh.faces)


def stl_bytes(mesh: Mesh) -> bytes:
    """Binary STL in mm."""
    tri = mesh.vertices_mm[mesh.faces].astype(np.float32)
    normal = np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0])
    size = np.linalg.norm(normal, axis=1, keepdims=True)
    normal = np.divide(normal, size, out=np.zeros_like(normal), where=size > 0)
    record = np.zeros(len(tri), dtype=np.dtype([("n", "<3f4"), ("v", "<9f4"), ("a", "<u2")]))
    record["n"], record["v"] = normal, tri.reshape(-1, 9)
    return b"Fravik part, mm".ljust(80, b" ") + struct.pack("<I", len(tri)) + record.tobytes()


def _mesh_object(model: Any, item: MeshItem) -> Any:
    """The part as an object of a 3MF model, with its settings as metadata."""
    obj = model.AddMeshObject()
    obj.SetName(item.name)
    vertices = []
    for p in item.mesh.vertices_mm:
        v = lib3mf.Position()
        v.Coordinates[0], v.Coordinates[1], v.Coordinates[2] = (float(c) for c in p)
        vertices.append(v)
    triangles = []
    for f in item.mesh.faces:
        t = lib3mf.Triangle()
        t.Indices[0], t.Indices[1], t.Indices[2] = (int(i) for i in f)
        triangles.append(t)
    obj.SetGeometry(vertices, triangles)
    group = obj.GetMetaDataGroup()
    for key, value in item.settings:
        group.AddMetaData(SETTINGS, key, value, "xs:string", True)
    return obj


def _in_memory(model: Any) -> bytes:
    """The file's bytes. The library itself ends the whole program when a disk is full: it writes no files here."""
    return bytes(model.QueryWriter("3mf").WriteToBuffer())


@dataclass(frozen=True)
class PlacedItem:
    """A part with the places of its copies on a batch (4x4 transforms) and its colour as red, green, blue."""

    item: MeshItem
    places: tuple[Floats, ...]
    colour: tuple[int, int, int]


def batch_3mf_bytes(placed: list[PlacedItem], about: tuple[tuple[str, str], ...]) -> bytes:
    """One batch as it is to be printed: every copy at its place, parts told apart by colour, ``about`` the batch as metadata."""
    wrapper = lib3mf.Wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    group = model.GetMetaDataGroup()
    for key, value in about:
        group.AddMetaData(SETTINGS, key, value, "xs:string", True)
    colours = model.AddBaseMaterialGroup()
    for p in placed:
        obj = _mesh_object(model, p.item)
        index = colours.AddMaterial(p.item.name, wrapper.RGBAToColor(*p.colour, 255))
        obj.SetObjectLevelProperty(colours.GetResourceID(), index)
        for m in p.places:
            t = lib3mf.Transform()
            for row in range(4):
                for col in range(3):
                    t.Fields[row][col] = float(m[col, row])
            model.AddBuildItem(obj, t)
    return _in_memory(model)


def parts_3mf_bytes(items: list[MeshItem], gap_mm: float = 6.0) -> bytes:
    """One 3MF with every part, as many copies as it counts, laid side by side in rows."""
    wrapper = lib3mf.Wrapper()
    model = wrapper.CreateModel()
    x = y = row = 0.0
    for item in items:
        obj = _mesh_object(model, item)
        size = item.mesh.vertices_mm.max(axis=0) - item.mesh.vertices_mm.min(axis=0)
        for _ in range(item.count):
            if x + size[0] > 420:
                x, y, row = 0.0, y + row + gap_mm, 0.0
            at = wrapper.GetTranslationTransform(float(x + size[0] / 2), float(y + size[1] / 2), 0.0)
            model.AddBuildItem(obj, at)
            x, row = x + float(size[0]) + gap_mm, max(row, float(size[1]))
    return _in_memory(model)
