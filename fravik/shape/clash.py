"""Where bodies run into each other, and how far they are apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Clash:
    """What two bodies share: its volume, and its least extent along an axis of the craft, which is how far one is in the other."""

    volume_mm3: float
    depth_mm: float


def box(centre_mm: Floats, size_mm: Floats) -> Manifold:
    """A box of edges ``size_mm`` (3,) along the axes around a point (3,)."""
    return Manifold.cube(tuple(float(v) for v in size_mm), center=True).translate(tuple(float(v) for v in centre_mm))


def disk(centre_mm: Floats, diameter_mm: float, height_mm: float, segments: int = 64) -> Manifold:
    """A flat cylinder around a point, its axis upright."""
    r = diameter_mm / 2
    return Manifold.cylinder(height_mm, r, r, segments, center=True).translate(tuple(float(v) for v in centre_mm))


def rod(centre_mm: Floats, diameter_mm: float, length_mm: float, axis: int, segments: int = 64) -> Manifold:
    """A cylinder around a point, its axis along x (0), y (1) or z (2)."""
    r = diameter_mm / 2
    turn = ((0.0, 90.0, 0.0), (90.0, 0.0, 0.0), (0.0, 0.0, 0.0))[axis]
    made = Manifold.cylinder(length_mm, r, r, segments, center=True).rotate(turn)
    return made.translate(tuple(float(v) for v in centre_mm))


def bounds(body: Manifold) -> Floats:
    """(2, 3) least and greatest corner."""
    return np.asarray(body.bounding_box(), dtype=np.float64).reshape(2, 3)


def apart_mm(a: Floats, b: Floats) -> float:
    """How far two boxes (2, 3) are apart, 0 where they meet: no more than what is in them."""
    return float(np.linalg.norm(np.maximum(np.maximum(a[0] - b[1], b[0] - a[1]), 0.0)))


def clash(a: Manifold, b: Manifold) -> Clash | None:
    """What two bodies share; None where they are apart."""
    if apart_mm(bounds(a), bounds(b)) > 0.0:
        return None
    shared = a ^ b
    if shared.is_empty():
        return None
    low, high = bounds(shared)
    return Clash(float(shared.volume()), float((high - low).min()))


def gap_mm(a: Manifold, b: Manifold, reach_mm: float) -> float:
    """The shortest way between two bodies; ``reach_mm`` where it is that or more, 0 where they meet."""
    if apart_mm(bounds(a), bounds(b)) >= reach_mm:
        return reach_mm
    return float(min(a.min_gap(b, reach_mm), reach_mm))


def lowest(points: Sequence[Floats], within_mm: float) -> tuple[float, Floats]:
    """Of points (n, 3) of several bodies: the lowest height, and in plan (k, 2) all that lie at most so much above it."""
    every = np.concatenate(list(points))
    ground = float(every[:, 2].min())
    return ground, every[every[:, 2] <= ground + within_mm][:, :2]
