"""Straight roads over a region: even lines at an angle, clipped to it by scan lines, all at once."""

from __future__ import annotations

import math

import numpy as np
from manifold3d import CrossSection

from fravik.shape.outline import boundary_edges

from .zones import Floats, Ints


def edges_of(region: CrossSection) -> Floats:
    """Boundary edges of a region as (n, 2, 2): start and end."""
    return np.stack(boundary_edges([region])[:2], axis=1)


def chords(edges: Floats, angle_rad: float, spacing_mm: float, shift_mm: float = 0.0) -> tuple[Floats, Ints]:
    """Chords (n, 2, 2) of even lines through a region, and the number of the line each lies on (n,).

    Lines run at an angle to u, ``spacing_mm`` apart, the one numbered 0 at ``shift_mm`` from the origin; the region is given by its
    boundary edges (m, 2, 2) under the even-odd rule.
    """
    if len(edges) == 0:
        return np.zeros((0, 2, 2)), np.zeros(0, dtype=np.int64)
    c, s = math.cos(angle_rad), math.sin(angle_rad)
    along = edges[..., 0] * c + edges[..., 1] * s
    across = (edges[..., 1] * c - edges[..., 0] * s - shift_mm) / spacing_mm
    low, high = across.min(axis=1), across.max(axis=1)
    # half-open: a line through a corner meets exactly one of its two edges, or both, or neither
    first, stop = np.ceil(low).astype(np.int64), np.ceil(high).astype(np.int64)
    count = np.maximum(stop - first, 0)
    edge = np.repeat(np.arange(len(edges)), count)
    line = np.arange(len(edge)) - np.repeat(np.cumsum(count) - count, count) + first[edge]
    a0, a1 = across[edge, 0], across[edge, 1]
    t = (line - a0) / (a1 - a0)
    u = along[edge, 0] + t * (along[edge, 1] - along[edge, 0])
    order = np.lexsort((u, line))
    u, line = u[order], line[order]
    if len(u) % 2:
        raise ValueError("The region's boundary is not closed.")
    u, line = u.reshape(-1, 2), line[::2]
    v = line * spacing_mm + shift_mm
    points = np.stack([u * c - v[:, None] * s, u * s + v[:, None] * c], axis=-1)
    return points, line


def hatch(region: CrossSection, angle_rad: float, spacing_mm: float, shift_mm: float = 0.0, least_mm: float = 0.0) -> Floats:
    """Roads (n, 2, 2) over a region from edge to edge, those shorter than ``least_mm`` left out."""
    found, _ = chords(edges_of(region), angle_rad, spacing_mm, shift_mm)
    if len(found) == 0:
        return found
    return found[np.hypot(*(found[:, 1] - found[:, 0]).T) >= least_mm]
