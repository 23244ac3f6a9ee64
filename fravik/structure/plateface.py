"""What forces and moments on a plate's round bearing faces come to at the nodes of its cells.

Dofs of a face (five a point): u, v, w, w,y, -w,x, the last two being turns about x and y; each as a rigid washer would have it that lies
on the face as well as it can.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .platecell import CORNERS, bending_functions

LEAST_RADIUS_MM = 0.3
PEAK_SPOTS = 8
LEAST_ON = 0.02  # of how well what lies on the plate tells a turn, over one spot at the rim
# places over a round face, in radii, that stand for an even pressure on it
_RING = [(0.0, 0.0)] + [
    (r * float(np.cos(a)), r * float(np.sin(a))) for r, n in ((0.5, 6), (0.87, 10)) for a in np.arange(n) * 2 * np.pi / n
]
FACE = np.array(_RING)


def by_kind(slots: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Places of the dofs out of a plate's plane and of those in it."""
    return np.flatnonzero(slots % 5 >= 2), np.flatnonzero(slots % 5 < 2)


@dataclass(frozen=True)
class FaceLoads:
    """Unit loads on the dofs in ``slots`` (of 5 P), by columns of nodes: (nx + 1, 3 (ny + 1), loads) of those out of the plate, and
    (nx + 1, 2 (ny + 1), loads) of those in it. ``cells`` (P, 2) hold the points; ``peaks`` (P,) see ``_peaks``."""

    slots: NDArray[np.int64]
    bending: Floats
    stretching: Floats
    cells: NDArray[np.int64]
    peaks: Floats

    @property
    def kinds(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Places among the slots of those out of the plate's plane and of those in it."""
        return by_kind(self.slots)

    def some(self, slots: NDArray[np.int64]) -> FaceLoads:
        """The loads of some of the slots."""
        kept = np.isin(self.slots, slots)
        up, flat = (kept[k] for k in self.kinds)
        bending, stretching = (np.ascontiguousarray(x) for x in (self.bending[..., up], self.stretching[..., flat]))
        return FaceLoads(self.slots[kept], bending, stretching, self.cells, self.peaks)


@njit(cache=True)
def _cell_at(x_mm: Floats, y_mm: Floats, there: NDArray[np.bool_], points: Floats) -> tuple[NDArray[np.int64], Floats]:
    """Cell (P, 2) round each point and the point's place in it (P, 2), 0 to 1; a point off the plate goes to the nearest live cell."""
    nx, ny = there.shape
    cells, place = np.empty((len(points), 2), np.int64), np.empty((len(points), 2))
    for p in range(len(points)):
        s, t = (points[p, 0] - x_mm[0]) / (x_mm[1] - x_mm[0]), (points[p, 1] - y_mm[0]) / (y_mm[1] - y_mm[0])
        i, j = min(max(math.floor(s), 0), nx - 1), min(max(math.floor(t), 0), ny - 1)
        if not there[i, j]:
            nearest = np.inf
            for u in range(nx):
                for v in range(ny):
                    away = max(abs(u + 0.5 - s), abs(v + 0.5 - t))
                    if there[u, v] and away < nearest:
                        nearest, i, j = away, u, v
        cells[p, 0], cells[p, 1] = i, j
        place[p, 0], place[p, 1] = min(max(s - i, 0.0), 1.0), min(max(t - j, 0.0), 1.0)
    return cells, place


@njit(cache=True)
def _at_nodes(nodes: tuple[int, int], per_node: int, cells: NDArray[np.int64], given: Floats, dof: NDArray[np.int64]) -> Floats:
    """Loads (nodes along, per_node x nodes across, loads) of what each spot of a load's face gives to the four nodes of its cell:
    ``given`` (faces, loads, 4, n) on ``n`` dofs of a node from ``dof`` (loads,) on, in ``cells`` (faces, loads, 2)."""
    faces, loads, corners, n = given.shape
    out = np.zeros((nodes[0], nodes[1] * per_node, loads))
    for f in range(faces):
        for k in range(loads):
            for c in range(corners):
                i, j = cells[f, k, 0] + CORNERS[c][0], cells[f, k, 1] + CORNERS[c][1]
                for d in range(n):
                    out[i, j * per_node + dof[k] + d, k] += given[f, k, c, d]
    return out


def _levers(x_mm: Floats, y_mm: Floats, there: NDArray[np.bool_], points: Floats, radius: Floats) -> Floats:
    """What each spot of a face counts (3, spots, P) for the face's mean and its turns about x and y: those of the plane that fits best
    through what of the face lies on the plate, so that a plate that moves as one block is seen to.

    A face of which too little is on the plate counts whole.
    """
    at = points + radius[:, None] * FACE[:, None, :]
    i, j = (np.floor((at[..., k] - e[0]) / (e[1] - e[0])).astype(np.int64) for k, e in ((0, x_mm), (1, y_mm)))
    on = (i >= 0) & (i < len(x_mm) - 1) & (j >= 0) & (j < len(y_mm) - 1)
    on &= there[np.clip(i, 0, len(x_mm) - 2), np.clip(j, 0, len(y_mm) - 2)]
    rows = np.stack([np.ones(len(FACE)), FACE[:, 1], -FACE[:, 0]], axis=1)
    inner = np.einsum("sp,sa,sb->pab", on.astype(np.float64), rows, rows)
    little = np.linalg.eigvalsh(inner)[:, 0] < LEAST_ON
    on[:, little] = True
    inner[little] = rows.T @ rows
    out = np.einsum("pab,sb,sp->asp", np.linalg.inv(inner), rows, on.astype(np.float64))
    out[1:] /= radius
    return out


def _peaks(size: Floats, place: Floats, radius: Floats) -> Floats:
    """How much the bending under the middle of each face exceeds its mean over the cell, times 4 pi D over the force (P,).

    Under an even push on a round face both curvatures are (1/2 - ln r0) F / (4 pi D) and more, which falls off as the logarithm of
    the distance (Timoshenko and Woinowsky-Krieger, Theory of Plates and Shells, section 19): cells as coarse as these only see its mean.
    """
    spot = (np.arange(PEAK_SPOTS) + 0.5) / PEAK_SPOTS
    dx, dy = ((spot - place[:, k, None]) * size[k] for k in (0, 1))
    far = np.sqrt(dx[:, :, None] ** 2 + dy[:, None, :] ** 2) / radius[:, None, None]
    # from ln of the distance in radii; inside the face it levels off
    below = np.where(far > 1, 0.5 + np.log(np.maximum(far, 1.0)), 0.5 * far**2)
    return np.asarray(below.mean(axis=(1, 2)))


def face_loads(
    x_mm: Floats, y_mm: Floats, there: NDArray[np.bool_], points: Floats, radii_mm: Floats, slots: NDArray[np.int64]
) -> FaceLoads:
    """Loads of unit forces and moments on round faces at points (P, 2) of radii (P,), on cells with edges ``x_mm`` and ``y_mm``.

    A moment presses on one half of its face and pulls on the other, in proportion to the distance from its middle. Consistent with the
    cells' own functions.
    """
    nodes, count, faces = (len(x_mm), len(y_mm)), len(points), len(FACE)
    size = np.array([x_mm[1] - x_mm[0], y_mm[1] - y_mm[0]])
    radius = np.maximum(radii_mm, LEAST_RADIUS_MM)
    cells, place = _cell_at(x_mm, y_mm, there, (points + radius[:, None] * FACE[:, None, :]).reshape(-1, 2))
    middle = cells[:count], _peaks(size, place[:count], radius)  # the face's first place
    cells = cells.reshape(faces, count, 2)

    up, flat = (slots[k] for k in by_kind(slots))
    # out of the plane: an even push, and one in proportion to the distance from the middle
    lever = _levers(x_mm, y_mm, there, points, radius)
    functions = bending_functions(float(size[0]), float(size[1]), (place - 0.5) * size).reshape(faces, count, 4, 3)
    pushes = functions[:, up // 5] * lever[up % 5 - 2, :, up // 5].T[..., None, None]
    bending = _at_nodes(nodes, 3, cells[:, up // 5], pushes, np.zeros(len(up), np.int64))

    s, t = place.reshape(faces, count, 2)[:, flat // 5].transpose(2, 0, 1)
    share = np.stack([(1 - s) * (1 - t), s * (1 - t), s * t, (1 - s) * t], axis=2) * lever[0][:, flat // 5, None]
    stretching = _at_nodes(nodes, 2, cells[:, flat // 5], np.ascontiguousarray(share[..., None]), flat % 5)
    return FaceLoads(slots, bending, stretching, *middle)
