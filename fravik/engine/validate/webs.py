"""Bars with rows of windows side by side, or a honeycomb, in the product's sections, against a fine sheet of plane stress."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from numpy.typing import NDArray

from fravik.model.shapes import ArmShape
from fravik.printing.zones import Floats
from fravik.shape.comb import Comb, comb_of
from fravik.shape.outline import rectangle
from fravik.structure.lattice import Lattice
from fravik.structure.planestress import Mesh2D, block, solve_plane

from .check import Check
from .solids import E_MPA, NU, bar_gives, solid_plastic

LONG, WIDE, HIGH, CELL_MM = 120.0, 24.0, 8.0, 1.0
# rows, width, web between rows, count along, length
WEBS = ((1, 14.0, 0.0, 3, 20.0), (2, 6.0, 2.0, 3, 20.0), (3, 4.0, 2.0, 4, 16.0), (2, 8.0, 2.0, 5, 14.0))
# a honeycomb's cell, wall and rows
COMBS, FINE_MM = ((4.0, 2.4, 3), (6.0, 2.4, 2)), 0.5
Windows = list[tuple[float, float, float, float]]
Gone = Callable[[Floats], NDArray[np.bool_]]


def _windows(rows: int, wide: float, web: float, count: int, long: float) -> Windows:
    """x0, y0, x1, y1 of each."""
    low, pitch = -(rows * wide + (rows - 1) * web) / 2, LONG / count
    return [(pitch * (k + 0.5) - long / 2, low + r * (wide + web), pitch * (k + 0.5) + long / 2, low + r * (wide + web) + wide)
            for k in range(count) for r in range(rows)]  # fmt: skip


def sheet_give(gone: Gone, cell_mm: float = CELL_MM) -> float:
    """How far a sheet of unit thickness, held along one edge, gives sideways under a unit force spread over the other; ``gone`` says which
    of its places (n, 2) are cut away."""
    x, y = (np.linspace(a, b, 2 * round((b - a) / cell_mm) + 1) for a, b in ((0.0, LONG), (-WIDE / 2, WIDE / 2)))
    mesh = block(np.repeat(x[:, None], len(y), axis=1), np.repeat(y[None, :], len(x), axis=0))
    keep = ~gone(mesh.nodes[mesh.elements[:, :4]].mean(axis=1))
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


def _in_windows(windows: Windows) -> Gone:
    def gone(at: Floats) -> NDArray[np.bool_]:
        inside = [(at[:, 0] > x0) & (at[:, 0] < x1) & (at[:, 1] > y0) & (at[:, 1] < y1) for x0, y0, x1, y1 in windows]
        return np.any(inside, axis=0) if inside else np.zeros(len(at), dtype=bool)

    return gone


def _in_cells(comb: Comb, cell_mm: float) -> Gone:
    """Within a regular hexagon with two flats along x about one of the middles; its corners sharp."""

    def gone(at: Floats) -> NDArray[np.bool_]:
        dx, dy = np.abs(at[:, None] - np.array(comb.middles_mm)).transpose(2, 0, 1)
        return np.asarray((np.maximum(dy, dx * np.sqrt(3) / 2 + dy / 2) < cell_mm / 2).any(axis=1))

    return gone


def _webs() -> list[Check]:
    out, f, plain = [], solid_plastic(), sheet_give(_in_windows([]))
    whole = Manifold.cube((LONG, WIDE, HIGH)).translate((0.0, -WIDE / 2, 0.0))
    side = bar_gives(whole, LONG, f)[2]
    for some in WEBS:
        windows = _windows(*some)
        cut = CrossSection.batch_boolean([rectangle(*w) for w in windows], OpType.Add)
        got = bar_gives(whole - cut.extrude(HIGH + 2).translate((0.0, 0.0, -1.0)), LONG, f)[2]
        rows, wide, _, count, long = some
        what = f"bar with {count} x {rows} windows of {long:g} x {wide:g} mm: sideways give over a whole one's"
        against = f"sheet of plane stress, cells of {CELL_MM:g} mm"
        out.append(Check(what, against, sheet_give(_in_windows(windows)) / plain, got / side, 0.08, "another method"))
    return out


def _combs() -> list[Check]:
    out, f, plain = [], solid_plastic(), sheet_give(_in_windows([]))
    whole = Manifold.cube((LONG, WIDE, HIGH)).translate((0.0, -WIDE / 2, 0.0))
    side = bar_gives(whole, LONG, f)[2]
    for cell, wall, rows in COMBS:
        arm = ArmShape(comb_cell_mm=cell, comb_wall_mm=wall, comb_rows=rows, root_fillet_mm=6.0, pad_diameter_mm=12.0)
        comb = comb_of(arm, LONG)
        assert comb is not None
        got = bar_gives(whole, LONG, f, Lattice(comb.start_mm, comb.end_mm, comb.half_mm, comb.share))[2]
        what = f"bar with {rows} rows of cells of {cell:g} mm, walls of {wall:g}: sideways give over a whole one's"
        against = f"sheet of plane stress, cells of {FINE_MM:g} mm"
        out.append(Check(what, against, sheet_give(_in_cells(comb, cell), FINE_MM) / plain, got / side, 0.08, "another method"))
    return out


GROUPS = (_webs, _combs)
