"""A bought thing's mesh as a body of unit size: it is stretched to the edges that are measured."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

Floats = NDArray[np.float64]
KEPT = 12  # meshes whose bodies are remembered


@lru_cache(maxsize=KEPT)
def unit_body(text: str) -> Manifold:
    """The solid in a mesh's text, its box one by one by one around the origin. Raises MeshProblem when the text or the mesh is damaged."""
    from .meshread import solid_of, unpacked  # mesh readers load only for crafts that hold a mesh

    body = solid_of(unpacked(text), "The thing's mesh")
    low, high = np.asarray(body.bounding_box(), dtype=np.float64).reshape(2, 3)
    return body.translate(tuple(-(low + high) / 2)).scale(tuple(1.0 / np.maximum(high - low, 1e-9)))


@lru_cache(maxsize=KEPT)
def unit_surface(text: str) -> tuple[Floats, NDArray[np.int64]]:
    """Its vertices (n, 3) and faces (m, 3)."""
    mesh = unit_body(text).to_mesh()
    return np.asarray(mesh.vert_properties, dtype=np.float64)[:, :3], np.asarray(mesh.tri_verts, dtype=np.int64)


@lru_cache(maxsize=KEPT)
def unit_moments(text: str) -> tuple[Floats, Floats]:
    """Mean (3,) and mean product (3, 3) of the places in the unit body, by tetrahedra from the origin to every face."""
    v, f = unit_surface(text)
    corners = v[f]
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6
    total = corners.sum(axis=1)
    first = (volume[:, None] * total / 4).sum(axis=0)
    # of a tetrahedron with a corner at the origin: (sum of x_i x_j over corners + sum_i sum_j) volume / 20
    second = np.einsum("n,nki,nkj->ij", volume, corners, corners) + np.einsum("n,ni,nj->ij", volume, total, total)
    whole = float(volume.sum())
    return first / whole, second / 20 / whole
