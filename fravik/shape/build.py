"""Build any part's solid."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from fravik.model.recipe import Carbon
from fravik.model.shapes import Shape

from .arm import BOLTED, RootForm
from .stations import Stand

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ShapeInput:
    """All that a part's geometry depends on; equal inputs give equal solids. ``beside`` is the shape that it is fitted to, if any;
    ``lain_on`` are the spots (x, y, diameter) of its outer face that other parts lie on."""

    shape: Shape
    length_mm: float
    carbon: Carbon | None
    root: RootForm = BOLTED
    holes: tuple[tuple[float, float, float], ...] = ()
    stands: tuple[Stand, ...] = ()
    beside: Shape | None = None
    lain_on: tuple[tuple[float, float, float], ...] = ()


@dataclass(frozen=True)
class Mesh:
    """Triangles of a closed surface: vertices (n, 3) mm, faces (m, 3) outward."""

    vertices_mm: Floats
    faces: NDArray[np.int64]


def mesh_of(solid: Manifold) -> Mesh:
    """The surface of a solid as plain arrays."""
    m = solid.to_mesh()
    return Mesh(
        np.asarray(m.vert_properties, dtype=np.float64)[:, :3].copy(),
        np.asarray(m.tri_verts, dtype=np.int64).copy(),
    )


def mirrored(mesh: Mesh) -> Mesh:
    """The other hand: x turned about, still outward."""
    return Mesh(mesh.vertices_mm * [-1.0, 1.0, 1.0], mesh.faces[:, ::-1].copy())


def loose_pieces(solid: Manifold) -> int:
    """Number of separate bodies; a closed cavity is a shell of negative volume and does not count."""
    return sum(piece.volume() > 1e-6 for piece in solid.decompose())


def fine_mesh_of(solid: Manifold, edge_mm: float) -> Mesh:
    """The surface with no edge longer than asked, so that colours and bending can vary over it."""
    return mesh_of(solid.refine_to_length(edge_mm))


def silhouette(mesh: Mesh, along: int) -> Floats:
    """Hull (n, 2) of the surface seen along an axis: x gives (y, z), y gives (x, z); about the middle of its box."""
    across = (1, 2) if along == 0 else (0, 2)
    points = mesh.vertices_mm[:, across]
    points = points - (points.max(axis=0) + points.min(axis=0)) / 2
    hull = CrossSection.hull_points([(float(a), float(b)) for a, b in points]).to_polygons()
    return np.asarray(hull[0], dtype=np.float64) if hull else np.zeros((0, 2))
