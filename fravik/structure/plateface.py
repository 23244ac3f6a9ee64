"""What forces and moments on a plate's round bearing faces come to at the nodes of its cells.

Dofs of a face (five a point): u, v, w, w,y, -w,x, the last two being turns about x and y; each as a rigid washer would have it that lies
on the face as well as it can.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
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


TIE = 1e-6


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


def _cell_at(x_mm: Floats, y_mm: Floats, there: NDArray[np.bool_], points: Floats) -> tuple[NDArray[np.int64], Floats]:
    """Cell (P, 2) round each point and the point's place in it (P, 2), 0 to 1; a point off the plate goes to the nearest live cell."""
    a, b = x_mm[1] - x_mm[0], y_mm[1] - y_mm[0]
    i = np.clip(((points[:, 0] - x_mm[0]) // a).astype(np.int64), 0, len(x_mm) - 2)
    j = np.clip(((points[:, 1] - y_mm[0]) // b).astype(np.int64), 0, len(y_mm) - 2)
    cells = np.stack([i, j], axis=1)
    lost = np.flatnonzero(~there[i, j])
    if len(lost):
        far_x, far_y = (np.abs(e[:-1] + size / 2 - points[lost, k, None]) for k, (e, size) in enumerate(((x_mm, a), (y_mm, b))))
        to_x, to_y = np.maximum(far_x - a / 2, 0.0), np.maximum(far_y - b / 2, 0.0)
        # to the cell's edge; of cells that are as near, the one whose middle is nearer
        edge, middle = (p[:, :, None] ** 2 + q[:, None, :] ** 2 for p, q in ((to_x, to_y), (far_x, far_y)))
        away = np.where(there, edge + TIE * middle, np.inf).reshape(len(lost), -1)
        cells[lost] = np.stack(np.unravel_index(away.argmin(axis=1), there.shape), axis=1)
    low = np.stack([x_mm[cells[:, 0]], y_mm[cells[:, 1]]], axis=1)
    return cells, np.clip((points - low) / np.array([a, b]), 0.0, 1.0)


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
    nx, ny, count, faces = len(x_mm), len(y_mm), len(points), len(FACE)
    size = np.array([x_mm[1] - x_mm[0], y_mm[1] - y_mm[0]])
    radius = np.maximum(radii_mm, LEAST_RADIUS_MM)
    cells, place = _cell_at(x_mm, y_mm, there, (points + radius[:, None] * FACE[:, None, :]).reshape(-1, 2))
    corners = np.array(CORNERS)
    node = ((cells[:, None, 0] + corners[:, 0]) * ny + cells[:, None, 1] + corners[:, 1]).reshape(faces, count, 4)

    up, flat = (slots[k] for k in by_kind(slots))
    # out of the plane: an even push, and one in proportion to the distance from the middle
    lever = _levers(x_mm, y_mm, there, points, radius)
    functions = bending_functions(float(size[0]), float(size[1]), (place - 0.5) * size).reshape(faces, count, 4, 3)
    pushes = functions[:, up // 5] * lever[up % 5 - 2, :, up // 5].T[..., None, None]
    at = (3 * node[:, up // 5, :, None] + np.arange(3)) * len(up) + np.arange(len(up))[:, None, None]
    bending = np.asarray(np.bincount(at.ravel(), pushes.ravel(), nx * ny * 3 * len(up)), dtype=np.float64)

    middle = cells[:count], _peaks(size, place[:count], radius)  # the face's first place
    s, t = place.reshape(faces, count, 2)[:, flat // 5].transpose(2, 0, 1)
    share = np.stack([(1 - s) * (1 - t), s * (1 - t), s * t, (1 - s) * t], axis=2) * lever[0][:, flat // 5, None]
    at = (2 * node[:, flat // 5] + (flat % 5)[:, None]) * len(flat) + np.arange(len(flat))[:, None]
    stretching = np.asarray(np.bincount(at.ravel(), share.ravel(), nx * ny * 2 * len(flat)), dtype=np.float64)
    return FaceLoads(slots, bending.reshape(nx, 3 * ny, len(up)), stretching.reshape(nx, 2 * ny, len(flat)), *middle)
