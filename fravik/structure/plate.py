"""A printed plate as a grillage of rectangular cells: bending by Kirchhoff plate cells, stretching by plane-stress cells.

Every cell (``platecell``) carries the share of it that is really there, so holes, hole grids, windows and corners count. The plate is
solved once for unit loads on the bearing faces of its attachment points, floating on negligible springs. Dofs at a face: u, v, w,
w,y, -w,x (so that the last two are turns about x and y), each the mean over the face as a rigid washer on it would have it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.lapack import dpotrf, dtrtrs

from fravik.model.material import Corner, Filament
from fravik.model.recipe import Facing, Recipe
from fravik.printing.zones import Floats, ZoneField

from .faults import StructureFault
from .inserts import facing_inserts
from .platecell import CORNERS, bending_cell, bending_functions, stretch_cell
from .printed import CORE, SKIN, WALL, covers_over_core, printed_material, zone_elastics
from .rows import RowTables, row_tables, straight_line

CELL_MM = 6.0  # halving it moves the root's give by under 3 % (docs/joints.md)
LEAST_COVER = 0.06
BONDED_EDGE = 0.25  # a bonded block's rim gives: it counts as so many plate thicknesses smaller all round
FLOAT = 1e-10
SAME_SPOT = 1e-9
PER_CELL = 3
BONDED_STIFFER = 1e3
# places over a round face, in radii, that stand for an even pressure on it
_RING = [(0.0, 0.0)] + [
    (r * float(np.cos(a)), r * float(np.sin(a))) for r, n in ((0.5, 6), (0.87, 10)) for a in np.arange(n) * 2 * np.pi / n
]
FACE = np.array(_RING)


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
    """Cells of a plate: edges x (nx+1), y (ny+1), the share of each cell that is there (nx, ny), and how much stiffer what is bonded
    onto it makes each (nx, ny)."""

    x_mm: Floats
    y_mm: Floats
    cover: Floats
    stiffer: Floats | float = 1.0

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
    sums = tables.zone_sums
    m = printed_material(f, recipe, corner, np.ascontiguousarray(tables.frames[:1]), covers_over_core(sums["a"]))
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

    @cached_property
    def per_force(self) -> tuple[Floats, Floats]:
        """Curvatures and membrane strains at the middle of every cell from unit forces: (3, cells, slots) each, 0 where nothing is."""
        a, b = self.grid.cell_mm
        live = (self.grid.cover > 0)[None, :, :, None]
        out = []
        for u, rows in ((self.bent, bending_cell(a, b)[1]), (self.pulled, stretch_cell(a, b, self.section.a_n_mm)[1])):
            corners = np.concatenate([u[:-1, :-1], u[1:, :-1], u[1:, 1:], u[:-1, 1:]], axis=2)
            strain = np.where(live, np.tensordot(rows, corners, axes=(1, 2)), 0.0)
            out.append(strain.reshape(3, -1, u.shape[3]))
        return out[0], out[1]

    def strains(self, forces: Floats) -> tuple[Floats, Floats]:
        """Curvatures and membrane strains at the middle of every cell, (3, nx, ny, cases), for forces (5 P, cases) on the points."""
        shape = (3, *self.grid.cover.shape, forces.shape[1])
        bend, pull = self.per_force
        return (bend @ forces[self.bending_slots]).reshape(shape), (pull @ forces[self.pulling_slots]).reshape(shape)


def bonded_under(grid: PlateGrid, outlines: tuple[Floats, ...], thickness_mm: float) -> PlateGrid:
    """The plate with stiff blocks bonded onto it; each outline (4, 2) is a rectangle's corners in order, counter-clockwise.

    The rim's give is calibrated on solid models (``tools/solids``, docs/joints.md).
    """
    n = 5
    rim = BONDED_EDGE * thickness_mm
    a, b = grid.cell_mm
    spot = (np.arange(n) + 0.5) / n
    x = (grid.x_mm[:-1, None] + a * spot).ravel()
    y = (grid.y_mm[:-1, None] + b * spot).ravel()
    inside = np.zeros((len(x), len(y)), dtype=bool)
    for corners in outlines:
        here = np.ones_like(inside)
        for i in range(4):
            p, q = corners[i], corners[(i + 1) % 4]
            here &= (q[0] - p[0]) * (y[None, :] - p[1]) - (q[1] - p[1]) * (x[:, None] - p[0]) >= rim * float(np.hypot(*(q - p)))
        inside |= here
    share = inside.reshape(len(x) // n, n, len(y) // n, n).mean(axis=(1, 3))
    return replace(grid, stiffer=1.0 / (1.0 - share + share / BONDED_STIFFER))


def _cell_at(grid: PlateGrid, points: Floats) -> tuple[NDArray[np.int64], Floats]:
    """Cell (P, 2) round each point and the point's place in it (P, 2), 0 to 1; a point off the plate goes to the nearest live cell."""
    a, b = grid.cell_mm
    there = grid.cover > 0
    i = np.clip(((points[:, 0] - grid.x_mm[0]) // a).astype(np.int64), 0, len(grid.x_mm) - 2)
    j = np.clip(((points[:, 1] - grid.y_mm[0]) // b).astype(np.int64), 0, len(grid.y_mm) - 2)
    cells = np.stack([i, j], axis=1)
    lost = np.flatnonzero(~there[i, j])
    if len(lost):
        live = np.argwhere(there)
        mid = np.stack([(grid.x_mm[live[:, 0]] + a / 2), (grid.y_mm[live[:, 1]] + b / 2)], axis=1)
        away = np.abs(mid - points[lost][:, None, :]) / np.array([a, b])
        cells[lost] = live[np.argmin(away.max(axis=2), axis=1)]
    low = np.stack([grid.x_mm[cells[:, 0]], grid.y_mm[cells[:, 1]]], axis=1)
    return cells, np.clip((points - low) / np.array([a, b]), 0.0, 1.0)


def _by_node(flat: Any, nx: int, ny: int) -> Floats:
    """(dofs, nodes x loads) as (nx, ny, dofs, loads)."""
    return np.asarray(flat, dtype=np.float64).reshape(len(flat), nx, ny, -1).transpose(1, 2, 0, 3)


def face_loads(grid: PlateGrid, points: Floats, radii_mm: Floats, slots: NDArray[np.int64]) -> tuple[Floats, Floats]:
    """Nodal loads of unit forces and moments on round faces: out of the plate (nx+1, ny+1, 3, slots) and in it (nx+1, ny+1, 2, slots).

    A moment presses on one half of its face and pulls on the other, in proportion to the distance from its middle. Consistent with the
    cells' own functions.
    """
    nx, ny, n = len(grid.x_mm), len(grid.y_mm), len(slots)
    point, dof = slots // 5, slots % 5
    radius = np.maximum(radii_mm[point], 0.3)
    second = float((FACE[:, 0] ** 2).mean())
    a, b = grid.cell_mm
    cells, place = _cell_at(grid, (points[point] + radius[:, None] * FACE[:, None, :]).reshape(-1, 2))
    cells, place = cells.reshape(len(FACE), n, 2), place.reshape(len(FACE), n, 2)
    node = ((cells[..., None, 0] + np.array(CORNERS)[:, 0]) * ny + cells[..., None, 1] + np.array(CORNERS)[:, 1]) * n + np.arange(n)[
        :, None
    ]
    lever = np.stack([np.ones((len(FACE), n)), FACE[:, 1:] / (second * radius), -FACE[:, :1] / (second * radius)]) / len(FACE)
    up, flat = np.flatnonzero(dof >= 2), np.flatnonzero(dof < 2)
    pushes = bending_functions(a, b, ((place[:, up] - 0.5) * np.array([a, b])).reshape(-1, 2)).reshape(len(FACE), len(up), 4, 3)
    pushes = pushes * lever[dof[up] - 2, :, up].T[..., None, None]
    at = node[:, up]
    bending = np.stack([np.bincount(at.ravel(), pushes[..., d].ravel(), nx * ny * n) for d in range(3)])
    s, t = place[:, flat, 0], place[:, flat, 1]
    corner = np.stack([(1 - s) * (1 - t), s * (1 - t), s * t, (1 - s) * t], axis=2) / len(FACE)
    at = node[:, flat]
    along = [np.bincount(at.ravel(), (corner * (dof[flat] == d)[:, None]).ravel(), nx * ny * n) for d in range(2)]
    return _by_node(bending, nx, ny), _by_node(np.stack(along), nx, ny)


def _along_nodes(blocks: Floats, first: int, second: int, count: int) -> Floats:
    """A view (columns, count, dofs, dofs) of what couples node first + i of a column with node second + i."""
    shifted = blocks[:, first:, :, second:, :]
    a, b, c, d, e = shifted.strides
    shape = (len(blocks), count, blocks.shape[2], blocks.shape[4])
    return np.lib.stride_tricks.as_strided(shifted, shape, (a, b + d, c, e))


def _blocks(cover: Floats, k: Floats, per_node: int) -> tuple[Floats, Floats]:
    """Cells' stiffnesses summed by columns of nodes: on the diagonal (nx + 1, m, m), and from each column to the next (nx, m, m).

    Three springs hold the plate as three pegs would: loads in balance put no force on them.
    """
    nx, ny = cover.shape
    own, link = np.zeros((nx + 1, ny + 1, per_node, ny + 1, per_node)), np.zeros((nx, ny + 1, per_node, ny + 1, per_node))
    weight = cover[:, :, None, None]
    for p, (cp, rp) in enumerate(CORNERS):
        for q, (cq, rq) in enumerate(CORNERS):
            if cq < cp:
                continue
            piece = k[per_node * p : per_node * (p + 1), per_node * q : per_node * (q + 1)]
            into = _along_nodes(own[cp : cp + nx] if cp == cq else link, rp, rq, ny)
            into += weight * piece
    m = (ny + 1) * per_node
    own, link = own.reshape(nx + 1, m, m), link.reshape(nx, m, m)
    diagonal = own.reshape(nx + 1, -1)[:, :: m + 1]
    stiff = float(np.diag(k).max())
    # nodes that no cell touches stay where they are; what hangs loose floats on next to nothing
    diagonal[...] = np.where(diagonal > 0, diagonal + FLOAT * stiff, 1.0)
    for node, dof in _pegs(cover, per_node):
        diagonal[node[0], node[1] * per_node + dof] += stiff
    return own, link


def _pegs(cover: Floats, per_node: int) -> list[tuple[tuple[int, int], int]]:
    """Node and dof of three springs that hold a plate without straining it."""
    live = np.argwhere(cover > 0)
    first, last = live[0], live[-1] + 1
    away = live[np.argmax(np.abs(np.cross(np.append(last - first, 0), np.c_[live - first, np.zeros(len(live))])[:, 2]))]
    far = away + (np.cross(np.append(last - first, 0), np.append(away - first, 0))[2] > 0) * np.array([0, 1])
    nodes = [(int(n[0]), int(n[1])) for n in (first, last, far)]
    if per_node == 3:
        return [(n, 0) for n in nodes]
    # the third in-plane spring acts across the line of the first two
    return [(nodes[0], 0), (nodes[0], 1), (nodes[1], 1 if abs(last - first)[0] >= abs(last - first)[1] else 0)]


def _rigid(points: Floats, slots: NDArray[np.int64]) -> Floats:
    """Rigid motions of a plate at its used dofs, (slots, 6)."""
    x, y = points[slots // 5].T
    one, nil = np.ones(len(slots)), np.zeros(len(slots))
    rows = np.array([[one, nil, nil, nil, nil, -y], [nil, one, nil, nil, nil, x], [nil, nil, one, y, -x, nil],
                     [nil, nil, nil, one, nil, nil], [nil, nil, nil, nil, one, nil]])  # fmt: skip
    return np.asarray(rows[slots % 5, :, np.arange(len(slots))], dtype=np.float64)


def _floating(compliance: Floats, rigid: Floats) -> Floats:
    """Stiffness of the free plate from its compliance on three pegs: rigid motions are taken out exactly."""
    # faces on one spot move as one: a hair of give between them keeps that solvable
    give = SAME_SPOT * float(np.diag(compliance).mean())
    held = np.asarray(np.linalg.inv(compliance + give * np.eye(len(compliance))), dtype=np.float64)
    moved = held @ rigid
    used = np.abs(rigid).max(axis=0) > 0
    core = np.linalg.solve((rigid.T @ moved)[np.ix_(used, used)], moved[:, used].T)
    out = held - moved[:, used] @ core
    return np.asarray((out + out.T) / 2, dtype=np.float64)


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
            raise StructureFault("plate.loose", "The plate hangs together by nothing: make its windows and holes smaller.")
        both = dtrtrs(lower, right if i == n - 1 else np.hstack([link[i], right]), lower=1)[0]
        factors.append(lower)
        if i < n - 1:
            over.append(both[:, :m])
        x[i] = both[:, -load.shape[2] :]
    for i in range(n - 1, -1, -1):
        right = x[i] if i == n - 1 else x[i] - over[i] @ x[i + 1]
        x[i] = dtrtrs(factors[i], right, lower=1, trans=1)[0]
    return x


def solve_plate(
    grid: PlateGrid, section: PlateSection, points: Floats, slots: NDArray[np.int64] | None = None, radii_mm: Floats | float = 0.0,
    loads: tuple[Floats, Floats] | None = None,
) -> PlateAnswer:  # fmt: skip
    """Unit answers of a plate at points (P, 2) with bearing faces of some radii (P,); ``slots`` are the dofs (of 5 P) that anything
    holds on to, by default all; ``loads`` are theirs from ``face_loads``, if they are known. Raises StructureFault when
    the plate hangs together by nothing."""
    a, b = grid.cell_mm
    nx, ny = grid.cover.shape
    slots = np.arange(5 * len(points)) if slots is None else slots
    parts, _ = bending_cell(a, b)
    kb = np.asarray(sum(d * p for d, p in zip(section.d_nmm, parts, strict=True)))
    ks, _ = stretch_cell(a, b, section.a_n_mm)
    loads = face_loads(grid, points, np.broadcast_to(radii_mm, len(points)), slots) if loads is None else loads
    compliance = np.zeros((len(slots), len(slots)))
    answers, taken = [], []
    for k, per_node, every, mine in (
        (kb, 3, loads[0], np.flatnonzero(slots % 5 >= 2)), (ks, 2, loads[1], np.flatnonzero(slots % 5 < 2))
    ):  # fmt: skip
        rows = np.ascontiguousarray(every[..., mine]).reshape(nx + 1, (ny + 1) * per_node, len(mine))
        u = _solve_blocks(*_blocks(grid.cover * grid.stiffer, k, per_node), rows) if len(mine) else rows
        flat = u.reshape((nx + 1) * (ny + 1) * per_node, len(mine))
        compliance[np.ix_(mine, mine)] = rows.reshape(flat.shape).T @ flat
        answers.append(u.reshape(nx + 1, ny + 1, per_node, len(mine)))
        taken.append(slots[mine])
    compliance = (compliance + compliance.T) / 2
    stiffness = _floating(compliance, _rigid(points, slots))
    return PlateAnswer(grid, section, slots, compliance, stiffness, answers[0], answers[1], taken[0], taken[1])
