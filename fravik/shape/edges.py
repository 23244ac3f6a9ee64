"""The edges of a surface that a drawing would show."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .build import Mesh

SHARP_DEG = 35.0  # arcs are cut into steps of fewer degrees


def sharp_edges(mesh: Mesh, angle_deg: float = SHARP_DEG) -> NDArray[np.float64]:
    """End points (n, 2, 3) mm of the edges where two faces of a closed surface meet at more than an angle."""
    corner = mesh.vertices_mm[mesh.faces]
    normal = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-30)[:, None]
    ends = np.sort(mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    face = np.repeat(np.arange(len(mesh.faces)), 3)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    ends, face = ends[order], face[order]
    first = np.flatnonzero((ends[1:] == ends[:-1]).all(axis=1))  # the edge's second face follows its first
    turn = np.einsum("ij,ij->i", normal[face[first]], normal[face[first + 1]])
    return mesh.vertices_mm[ends[first[turn < np.cos(np.radians(angle_deg))]]]
