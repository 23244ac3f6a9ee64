"""A printed plate as a grillage of rectangular cells: bending by Kirchhoff plate cells, stretching by plane-stress cells.

Every cell carries the share of it that is really there, so holes, hole grids, windows and corners count. Bending cells are the
12-dof rectangle of Melosh (ACM), which converges on thin plates from one side; stretching cells are bilinear with
incompatible modes. The plate is solved once for unit forces at its attachment points, floating on negligible springs.
Dofs at a point: u, v, w, w,y, -w,x (so that the last two are turns about x and y).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.lapack import dpotrf, dtrtrs

from fravik.model.material import Corner, Filament
from fravik.model.recipe import Facing, Recipe
from fravik.printing.zones import Floats, ZoneField

from .inserts import facing_inserts
from .printed import CORE, SKIN, WALL, printed_material, zone_elastics
from .rows import RowTables, row_tables, straight_line

CELL_MM = 9.0
LEAST_COVER = 0.06
FLOAT = 1e-8
PER_CELL = 3


@dataclass(frozen=True)
class PlateSection:
    """Stiffness of the plate where it is whole, per mm of width: bending D and stretching A, each (xx, yy, xy, twist or shear)."""

    d_nmm: tuple[float, float, float, float]
    a_n_mm: tuple[float, float, float, float]
    thickness_mm: float
    mid_z_mm: float
    skin_share: float


@dataclass(frozen=True)
class PlateGrid:
    """Cells of a plate: edges x (nx+1), y (ny+1) and the share of each cell that is there (nx, ny)."""

    x_mm: Floats
    y_mm: Floats
    cover: Floats

    @property
    def cell_mm(self) -> tuple[float, float]:
        """Size of a cell."""
        return float(self.x_mm[1] - self.x_mm[0]), float(self.y_mm[1] - self.y_mm[0])


def plate_tables(field: ZoneField) -> RowTables:
    """Strips of a plate's sections at the stations that sample its cells, ``PER_CELL`` a cell."""
    low, high = _bounds(field)
    n = max(6, round((high[0] - low[0]) / CELL_MM))
    at = low[0] + (high[0] - low[0]) * (np.arange(n * PER_CELL) + 0.5) / (n * PER_CELL)
    return row_tables(field, straight_line(at))


def _bounds(field: ZoneField) -> tuple[Floats, Floats]:
    corners = np.stack([field.low_mm, field.high_mm]) @ field.rotation
    return corners.min(axis=0), corners.max(axis=0)


def plate_grid(field: ZoneField, tables: RowTables) -> PlateGrid:
    """Cells and what is left of each, sampled at mid-thickness."""
    low, high = _bounds(field)
    nx, ny = len(tables.stations_mm) // PER_CELL, max(6, round((high[1] - low[1]) / CELL_MM))
    y = np.linspace(low[1], high[1], ny + 1)
    c, s = np.cos(tables.beta_rad[0]), np.sin(tables.beta_rad[0])
    n = len(tables.stations_mm)
    if abs(c) > 0.7:
        # strips run across the plate: the middle strip tells what is there
        slices = tables.slice_of_row[0]
        middle = int(slices[len(slices) // 2])
        cross = tables.crossings[0]
        keep = cross.slice == middle
        value, sign = cross.value[keep] * np.sign(c), cross.sign[keep] * np.sign(c)
        reach = np.minimum(value[:, None], y) * sign[:, None]
        total = np.zeros((n, ny + 1))
        np.add.at(total, cross.station[keep], reach)
        share = np.diff(total, axis=1) / np.diff(y)
    else:
        # strips stand up: each is a place across the plate, there when it has any height
        there = tables.moments[0, 0] > 1e-6
        place = -tables.rows_mm[:, 0] * np.sign(s)
        cell = np.clip(np.searchsorted(y, place) - 1, 0, ny - 1)
        count = np.maximum(np.bincount(cell, minlength=ny), 1)
        share = np.stack([np.bincount(cell, there[:, k], ny) / count for k in range(n)])
    cover = np.clip(share, 0.0, 1.0).reshape(nx, PER_CELL, ny).mean(axis=1)
    x = np.linspace(low[0], high[0], nx + 1)
    return PlateGrid(x, y, np.where(cover < LEAST_COVER, 0.0, cover))


def plate_section(tables: RowTables, f: Filament, recipe: Recipe, corner: Corner, facing: Facing | None) -> PlateSection:
    """Stiffness per mm of whole width, from the strips of all sections together; sheets on the faces are added."""
    m = printed_material(f, recipe, corner, np.ascontiguousarray(tables.frames[:1]))
    sums = tables.zone_sums
    width = np.maximum(_solid_width(tables), 1e-9)
    a, z, zz = (sums[k].sum(axis=1) / width.sum() for k in ("a", "z", "zz"))
    e = m.e_mpa[:, 0]
    mid = float((e * z).sum() / max(float((e * a).sum()), 1e-9))
    (wall, skin, core), _ = zone_elastics(f, recipe, corner)
    flat = abs(float(np.cos(tables.beta_rad[0]))) > 0.7
    across = np.array([wall.e1_mpa, skin.e1_mpa, m.e_mpa[CORE, 0]]) if flat else np.array([wall.e3_mpa, skin.e3_mpa, core.e3_mpa])
    shear = np.array([m.g_v_mpa[k, 0] if flat else m.g_r_mpa[k, 0] for k in (WALL, SKIN, CORE)])
    nu = f.poisson
    second = zz - 2 * mid * z + mid * mid * a
    box = tables.extents
    thick = float((box[3] - box[2]).max())
    d = [float((k * second).sum()) for k in (e, across)]
    s = [float((k * a).sum()) for k in (e, across)]
    dt, st = float((shear * second).sum()), float((shear * a).sum())
    for i in facing_inserts(facing, box[:, :1], np.zeros(1), f, corner) if facing is not None else []:
        t, cover = float(i.height_mm[0]), facing.cover if facing is not None else 0.0
        arm = (float(i.z_mm[0]) - mid) ** 2 + t * t / 12
        d = [v + i.modulus_mpa * t * cover * arm for v in d]
        s = [v + i.modulus_mpa * t * cover for v in s]
        dt, st = dt + i.shear_mpa * t * cover * arm, st + i.shear_mpa * t * cover
    k = 1 / (1 - nu * nu)
    skins = float(sums["a"][SKIN].sum() / max(float(sums["a"].sum()), 1e-9))
    return PlateSection(
        (d[0] * k, d[1] * k, nu * min(d) * k, dt), (s[0] * k, s[1] * k, nu * min(s) * k, st), thick, mid, skins,
    )  # fmt: skip


def _solid_width(tables: RowTables) -> Floats:
    """Width of the plate that is there at each station: its area over its thickness."""
    box = tables.extents
    return np.asarray(tables.zone_sums["a"].sum(axis=0) / np.maximum(box[3] - box[2], 1e-9))


@lru_cache(maxsize=32)
def _bending_cell(a: float, b: float) -> tuple[Floats, Floats]:
    """Three (12, 12) stiffnesses of an a x b cell for unit Dxx, Dyy, Dxy, Dtwist, stacked (4, 12, 12); and curvature (3, 12) at its middle.

    Node order (0,0) (a,0) (a,b) (0,b); dofs w, w,y, -w,x. Curvatures -w,xx, -w,yy, -2 w,xy.
    """
    x, y = np.array([-1, 1, 1, -1]) * a / 2, np.array([-1, -1, 1, 1]) * b / 2

    def rows(x: Floats | float, y: Floats | float) -> tuple[list[Floats | float], ...]:
        one, nil = 1.0 + 0 * x, 0.0 * x
        w = [one, x, y, x * x, x * y, y * y, x**3, x * x * y, x * y * y, y**3, x**3 * y, x * y**3]
        wx = [nil, one, nil, 2 * x, y, nil, 3 * x * x, 2 * x * y, y * y, nil, 3 * x * x * y, y**3]
        wy = [nil, nil, one, nil, x, 2 * y, nil, x * x, 2 * x * y, 3 * y * y, x**3, 3 * x * y * y]
        return w, wy, wx

    c = np.zeros((12, 12))
    for i in range(4):
        w, wy, wx = rows(float(x[i]), float(y[i]))
        c[3 * i], c[3 * i + 1], c[3 * i + 2] = w, wy, [-v for v in wx]
    back = np.linalg.inv(c)

    def curvature(x: float, y: float) -> Floats:
        return np.array([
            [0, 0, 0, -2, 0, 0, -6 * x, -2 * y, 0, 0, -6 * x * y, 0],
            [0, 0, 0, 0, 0, -2, 0, 0, -2 * x, -6 * y, 0, -6 * x * y],
            [0, 0, 0, 0, -2, 0, 0, -4 * x, -4 * y, 0, -6 * x * x, -6 * y * y],
        ]) @ back  # fmt: skip

    spots, weights = np.polynomial.legendre.leggauss(3)
    out = np.zeros((4, 12, 12))
    for p, wp in zip(spots, weights, strict=True):
        for q, wq in zip(spots, weights, strict=True):
            k = curvature(p * a / 2, q * b / 2)
            area = wp * wq * a * b / 4
            out[0] += area * np.outer(k[0], k[0])
            out[1] += area * np.outer(k[1], k[1])
            out[2] += area * (np.outer(k[0], k[1]) + np.outer(k[1], k[0]))
            out[3] += area * np.outer(k[2], k[2])
    return out, curvature(0.0, 0.0)


@lru_cache(maxsize=256)
def _stretch_cell(a: float, b: float, q: tuple[float, float, float, float]) -> tuple[Floats, Floats]:
    """Stiffness (8, 8) of an a x b plane-stress cell with incompatible modes, and strain (3, 8) at its middle."""
    c = np.array([[q[0], q[2], 0], [q[2], q[1], 0], [0, 0, q[3]]])
    sx, sy = np.array([-1, 1, 1, -1]), np.array([-1, -1, 1, 1])

    def strain(x: float, y: float) -> tuple[Floats, Floats]:
        gx, gy = sx * (1 + sy * y) / 4 * 2 / a, sy * (1 + sx * x) / 4 * 2 / b
        m = np.zeros((3, 8))
        m[0, 0::2], m[1, 1::2], m[2, 0::2], m[2, 1::2] = gx, gy, gy, gx
        hx, hy = -2 * x * 2 / a, -2 * y * 2 / b
        return m, np.array([[hx, 0, 0, 0], [0, 0, 0, hy], [0, hx, hy, 0]])

    uu, ua, aa = np.zeros((8, 8)), np.zeros((8, 4)), np.zeros((4, 4))
    spot = 1 / np.sqrt(3)
    for x in (-spot, spot):
        for y in (-spot, spot):
            m, h = strain(x, y)
            area = a * b / 4
            uu += area * m.T @ c @ m
            ua += area * m.T @ c @ h
            aa += area * h.T @ c @ h
    return uu - ua @ np.linalg.solve(aa, ua.T), strain(0.0, 0.0)[0]


@dataclass(frozen=True)
class PlateAnswer:
    """A floating plate's answer to unit forces on the dofs in ``slots`` (of 5 P): compliance and stiffness (slots, slots).

    ``bent`` and ``pulled`` are the nodes' answers, (nx + 1, ny + 1, 3, loads) and (nx + 1, ny + 1, 2, loads), to the loads in
    ``bending_slots`` and ``pulling_slots``.
    """

    grid: PlateGrid
    section: PlateSection
    slots: NDArray[np.int64]
    compliance: Floats
    stiffness: Floats
    bent: Floats
    pulled: Floats
    bending_slots: NDArray[np.int64]
    pulling_slots: NDArray[np.int64]

    def strains(self, forces: Floats) -> tuple[Floats, Floats]:
        """Curvatures and membrane strains at the middle of every cell, (3, nx, ny, cases), for forces (5 P, cases) on the points."""
        a, b = self.grid.cell_mm
        live = self.grid.cover[:, :, None] > 0
        out = []
        for u, slots, rows in (
            (self.bent, self.bending_slots, _bending_cell(a, b)[1]),
            (self.pulled, self.pulling_slots, _stretch_cell(a, b, self.section.a_n_mm)[1]),
        ):
            moved = u @ forces[slots]
            corners = np.concatenate([moved[:-1, :-1], moved[1:, :-1], moved[1:, 1:], moved[:-1, 1:]], axis=2)
            out.append(np.where(live, np.tensordot(rows, corners, axes=(1, 2)), 0.0))
        return out[0], out[1]


_CORNERS = ((0, 0), (1, 0), (1, 1), (0, 1))


def _weights(grid: PlateGrid, points: Floats) -> tuple[NDArray[np.int64], Floats]:
    """Cell (P, 2) and bilinear weights (P, 4) of its corners around each point; a point off the plate goes to the nearest live cell."""
    a, b = grid.cell_mm
    live = np.argwhere(grid.cover > 0)
    mid = np.stack([(grid.x_mm[live[:, 0]] + a / 2), (grid.y_mm[live[:, 1]] + b / 2)], axis=1)
    away = np.abs(mid - points[:, None, :]) / np.array([a, b])
    cells = live[np.argmin(away.max(axis=2), axis=1)]
    s = np.clip((points[:, 0] - grid.x_mm[cells[:, 0]]) / a, 0, 1)
    t = np.clip((points[:, 1] - grid.y_mm[cells[:, 1]]) / b, 0, 1)
    return cells, np.stack([(1 - s) * (1 - t), s * (1 - t), s * t, (1 - s) * t], axis=1)


def _blocks(cover: Floats, k: Floats, per_node: int) -> tuple[Floats, Floats]:
    """Cells' stiffnesses summed by columns of nodes: on the diagonal (nx + 1, m, m), and from each column to the next (nx, m, m)."""
    nx, ny = cover.shape
    own, link = np.zeros((nx + 1, ny + 1, per_node, ny + 1, per_node)), np.zeros((nx, ny + 1, per_node, ny + 1, per_node))
    row = np.arange(ny)
    for p, (cp, rp) in enumerate(_CORNERS):
        for q, (cq, rq) in enumerate(_CORNERS):
            if cq < cp:
                continue
            piece = k[per_node * p : per_node * (p + 1), per_node * q : per_node * (q + 1)]
            into = own[cp : cp + nx] if cp == cq else link
            into[:, row + rp, :, row + rq, :] += cover.T[:, :, None, None] * piece
    m = (ny + 1) * per_node
    own, link = own.reshape(nx + 1, m, m), link.reshape(nx, m, m)
    diagonal = own.reshape(nx + 1, -1)[:, :: m + 1]
    diagonal[...] = np.where(diagonal > 0, diagonal * (1 + FLOAT), 1.0)  # nodes that no cell touches stay where they are
    return own, link


def _solve_blocks(own: Floats, link: Floats, load: Floats) -> Floats:
    """Block-tridiagonal Cholesky, in place of a dense one: (columns, m, m), (columns - 1, m, m), loads (columns, m, loads)."""
    n, m = len(own), own.shape[1]
    factors: list[Floats] = []
    over: list[Floats] = []
    x = np.empty_like(load)
    for i in range(n):
        diagonal, right = own[i], load[i]
        if i:
            diagonal, right = diagonal - over[-1].T @ over[-1], right - over[-1].T @ x[i - 1]
        lower, info = dpotrf(diagonal, lower=1)
        if info:
            raise np.linalg.LinAlgError("the plate's stiffness is not positive definite")
        both = dtrtrs(lower, right if i == n - 1 else np.hstack([link[i], right]), lower=1)[0]
        factors.append(lower)
        if i < n - 1:
            over.append(both[:, :m])
        x[i] = both[:, -load.shape[2] :]
    for i in range(n - 1, -1, -1):
        right = x[i] if i == n - 1 else x[i] - over[i] @ x[i + 1]
        x[i] = dtrtrs(factors[i], right, lower=1, trans=1)[0]
    return x


def solve_plate(grid: PlateGrid, section: PlateSection, points: Floats, slots: NDArray[np.int64] | None = None) -> PlateAnswer:
    """Unit answers of a plate at points (P, 2); ``slots`` are the dofs (of 5 P) that anything holds on to, by default all."""
    a, b = grid.cell_mm
    nx, ny = grid.cover.shape
    slots = np.arange(5 * len(points)) if slots is None else slots
    cells, weights = _weights(grid, points)
    parts, _ = _bending_cell(a, b)
    kb = np.asarray(sum(d * p for d, p in zip(section.d_nmm, parts, strict=True)))
    ks, _ = _stretch_cell(a, b, section.a_n_mm)
    compliance = np.zeros((len(slots), len(slots)))
    answers, taken = [], []
    for k, per_node, dofs in ((kb, 3, (2, 3, 4)), (ks, 2, (0, 1))):
        mine = np.flatnonzero(np.isin(slots % 5, dofs))
        load = np.zeros((nx + 1, ny + 1, per_node, len(mine)))
        point, dof = slots[mine] // 5, np.searchsorted(dofs, slots[mine] % 5)
        for w, (ci, cj) in zip(weights[point].T, _CORNERS, strict=True):
            load[cells[point, 0] + ci, cells[point, 1] + cj, dof, np.arange(len(mine))] = w
        flat = load.reshape(nx + 1, (ny + 1) * per_node, len(mine))
        u = _solve_blocks(*_blocks(grid.cover, k, per_node), flat) if len(mine) else flat
        compliance[np.ix_(mine, mine)] = np.tensordot(flat, u, axes=((0, 1), (0, 1)))
        answers.append(u.reshape(load.shape))
        taken.append(slots[mine])
    compliance = (compliance + compliance.T) / 2
    stiffness = np.asarray(np.linalg.inv(compliance), dtype=np.float64)
    return PlateAnswer(grid, section, slots, compliance, stiffness, answers[0], answers[1], taken[0], taken[1])
