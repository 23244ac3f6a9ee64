"""A closed solid through rings of points."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from manifold3d import Manifold
from manifold3d import Mesh as SolidMesh
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def lofted(rings: Sequence[Floats], inward: bool = False) -> Manifold:
    """Through rings (m, 3) of as many points each, capped by fans at both ends; ``inward`` where they go round the other way."""
    n, m = len(rings), len(rings[0])
    vertices = np.concatenate([*rings, rings[0].mean(axis=0)[None], rings[-1].mean(axis=0)[None]])
    at, nxt = np.arange(m), (np.arange(m) + 1) % m
    faces = []
    for k in range(n - 1):
        a, b, c, d = k * m + at, k * m + nxt, (k + 1) * m + nxt, (k + 1) * m + at
        faces += [np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)]
    inner, outer, last = np.full(m, n * m), np.full(m, n * m + 1), (n - 1) * m
    faces += [np.stack([inner, nxt, at], axis=1), np.stack([outer, last + at, last + nxt], axis=1)]
    every = np.concatenate(faces)
    return Manifold(SolidMesh(vertices.astype(np.float32), (every[:, ::-1] if inward else every).astype(np.uint32)))
