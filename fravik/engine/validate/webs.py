"""Bars with rows of windows side by side, in the product's sections, against a fine sheet of plane stress."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection, Manifold, OpType

from fravik.printing.zones import Floats
from fravik.shape.outline import rectangle
from fravik.structure.planestress import Mesh2D, block, solve_plane

from .check import Check
from .solids import E_MPA, NU, bar_gives, solid_plastic

LONG, WIDE, HIGH, CELL_MM = 120.0, 24.0, 8.0, 1.0
# rows, width, web between rows, count along, length
WEBS = ((1, 14.0, 0.0, 3, 20.0), (2, 6.0, 2.0, 3, 20.0), (3, 4.0, 2.0, 4, 16.0), (2, 8.0, 2.0, 5, 14.0))
Windows = list[tuple[float, float, float, float]]


def _windows(rows: int, wide: float, web: float, count: int, long: float) -> Windows:
    """x0, y0, x1, y1 of each."""
    low, pitch = -(rows * wide + (rows - 1) * web) / 2, LONG / count
    return [(pitch * (k + 0.5) - long / 2, low + r * (wide + web), pitch * (k + 0.5) + long / 2, low + r * (wide + web) + wide)
            for k in range(count) for r in range(rows)]  # fmt: skip


def sheet_give(windows: Windows) -> float:
    """How far a sheet of unit thickness, held along one edge, gives sideways under a unit force spread over the other."""
    x, y = (np.linspace(a, b, 2 * round((b - a) / CELL_MM) + 1) for a, b in ((0.0, LONG), (-WIDE / 2, WIDE / 2)))
    mesh = block(np.repeat(x[:, None], len(y), axis=1), np.repeat(y[None, :], len(x), axis=0))
    middle = mesh.nodes[mesh.elements[:, :4]].mean(axis=1)
    keep = np.ones(len(middle), dtype=bool)
    for x0, y0, x1, y1 in windows:
        keep &= ~((middle[:, 0] > x0) & (middle[:, 0] < x1) & (middle[:, 1] > y0) & (middle[:, 1] < y1))
    used, elements = np.unique(mesh.elements[keep], return_inverse=True)
    mesh = Mesh2D(mesh.nodes[used], elements.reshape(-1, 8))
    root, end = (np.flatnonzero(np.abs(mesh.nodes[:, 0] - at) < 1e-6) for at in (0.0, LONG))
    end = end[np.argsort(mesh.nodes[end, 1])]
    share: Floats = np.zeros(len(end))
    for i in range(0, len(end) - 2, 2):
        share[i : i + 3] += np.array([1.0, 4.0, 1.0])
    share /= share.sum()
    force = np.zeros((len(mesh.nodes), 2))
    force[end, 1] = share
    u = solve_plane(mesh, E_MPA, NU, np.concatenate([2 * root, 2 * root + 1]), force)
    return float(share @ u[end, 1])


def _webs() -> list[Check]:
    out, f, plain = [], solid_plastic(), sheet_give([])
    whole = Manifold.cube((LONG, WIDE, HIGH)).translate((0.0, -WIDE / 2, 0.0))
    side = bar_gives(whole, LONG, f)[2]
    for some in WEBS:
        windows = _windows(*some)
        cut = CrossSection.batch_boolean([rectangle(*w) for w in windows], OpType.Add)
        got = bar_gives(whole - cut.extrude(HIGH + 2).translate((0.0, 0.0, -1.0)), LONG, f)[2]
        rows, wide, _, count, long = some
        what = f"bar with {count} x {rows} windows of {long:g} x {wide:g} mm: sideways give over a whole one's"
        against = f"sheet of plane stress, cells of {CELL_MM:g} mm"
        out.append(Check(what, against, sheet_give(windows) / plain, got / side, 0.08, "another method"))
    return out


GROUPS = (_webs,)
