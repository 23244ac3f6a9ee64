"""The roads of one layer in the order they are printed. Layers that are alike share them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .zones import Floats, Ints

OUTLINE, WALL, GAP, COVER, BRIDGE, CORE, SUPPORT, CAP, HEM = range(9)
ROAD_NAMES = ("outline", "wall", "gap", "cover", "bridge", "core", "support", "cap", "hem")
TRAVEL, RETRACT, CHANGE, WAIT = range(9, 13)
FEATURES = (*ROAD_NAMES, "travel", "retraction", "layer change", "waiting to set")
# neighbours nearer than this many line widths are reached without breaking the path
STEP_LINES = 3.0
# roads that stay in the part
OF_PART = (OUTLINE, WALL, GAP, COVER, BRIDGE, CORE)


@dataclass(frozen=True)
class Road:
    """One road before it has its place in the order: points (n, 2), what it is, width, and whether it closes on itself."""

    points_mm: Floats
    kind: int
    width_mm: float
    closed: bool = False


@dataclass(frozen=True)
class LayerRoads:
    """Roads of one layer in order, points in print axes; road i runs from ``first[i]`` to ``first[i + 1]``.

    ``lift`` says before which roads the nozzle retracts and lifts; ``seconds`` holds the time of every feature, waiting left out.
    """

    points_mm: NDArray[np.float32]
    first: NDArray[np.int32]
    kind: NDArray[np.uint8]
    width_mm: NDArray[np.float32]
    lift: NDArray[np.bool_]
    seconds: Floats

    @property
    def count(self) -> int:
        """How many roads."""
        return len(self.kind)

    def lengths_mm(self) -> Floats:
        """Length of every road (m,)."""
        return road_lengths_mm(np.asarray(self.points_mm, dtype=np.float64), self.first.astype(np.int64))

    def breaks(self, apart_mm: float) -> int:
        """How often the path starts anew: once, and again wherever the next road begins farther off than ``apart_mm``."""
        return len(self.starts(apart_mm))

    def starts(self, apart_mm: float) -> Ints:
        """The points at which the path starts anew (k,), by their place in ``points_mm``."""
        if self.count == 0:
            return np.zeros(0, dtype=np.int64)
        heads, tails = self.points_mm[self.first[1:-1]], self.points_mm[self.first[1:-1] - 1]
        anew = np.hypot(*(heads - tails).T) > apart_mm
        return np.asarray(np.concatenate([[0], self.first[1:-1][anew]]), dtype=np.int64)

    def area_mm2(self) -> Floats:
        """Area that the roads of every kind cover, length times width, by kind (9,)."""
        return np.asarray(np.bincount(self.kind, self.lengths_mm() * self.width_mm, len(ROAD_NAMES)), dtype=np.float64)

    def roads(self) -> Iterable[tuple[NDArray[np.float32], int, float]]:
        """Points (n, 2), kind and width of every road in order."""
        for i in range(self.count):
            yield self.points_mm[self.first[i] : self.first[i + 1]], int(self.kind[i]), float(self.width_mm[i])


def road_lengths_mm(points: Floats, first: Ints) -> Floats:
    """Length of every road (m,) from flat points (n, 2)."""
    step = np.hypot(*(points[1:] - points[:-1]).T)
    step[first[1:-1] - 1] = 0.0
    total = np.concatenate([[0.0], np.cumsum(step)])
    return np.asarray(total[np.maximum(first[1:] - 1, 0)] - total[first[:-1]])


def flat(roads: list[Road]) -> tuple[Floats, Ints]:
    """All points of many roads one after another, and where each begins (m + 1,)."""
    sizes = np.array([len(r.points_mm) for r in roads], dtype=np.int64)
    return np.concatenate([r.points_mm for r in roads]), np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
