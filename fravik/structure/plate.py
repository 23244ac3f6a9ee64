"""A printed plate as a grillage of rectangular cells: bending by Kirchhoff plate cells, stretching by plane-stress cells.

Every cell (``platecell``) carries the share of it that is really there, so holes, hole grids, windows and corners count. The plate is
solved once for unit loads on the bearing faces of its attachment points, floating on negligible springs. Dofs at a face: u, v, w,
w,y, -w,x (so that the last two are turns about x and y), each the mean over the face as a rigid washer on it would have it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats, ZoneField

from .columns import Factor, factor
from .platecell import bending_cell, stretch_cell
from .plateface import FaceLoads, by_kind, face_loads
from .platesection import PlateSection
from .rows import RowTables, row_tables, straight_line
from .solve import inverse_of_positive

CELL_MM = 6.0  # halving it moves the root's give by under 3 % (docs/joints.md)
LEAST_COVER = 0.06
BONDED_EDGE = 0.25  # a bonded block's rim gives: it counts as so many plate thicknesses smaller all round
SAME_SPOT = 1e-9
PER_CELL = 3
BONDED_STIFFER = 1e3
BONDED_SPOTS = 5  # a cell is looked at in so many places each way


@dataclass(frozen=True)
class PlateGrid:
    """Cells of a plate: edges x (nx+1), y (ny+1), the share of each cell that is there (nx, ny), how much stiffer what is bonded
    onto it makes each (nx, ny), and the share of it that a grid of holes too fine for the cells takes."""

    x_mm: Floats
    y_mm: Floats
    cover: Floats
    stiffer: Floats | float = 1.0
    holed: float = 0.0

    @property
    def nodes(self) -> tuple[int, int]:
        """Nodes along and across."""
        return len(self.x_mm), len(self.y_mm)

    @property
    def cell_mm(self) -> tuple[float, float]:
        """Size of a cell."""
        return float(self.x_mm[1] - self.x_mm[0]), float(self.y_mm[1] - self.y_mm[0])


def plate_tables(field: ZoneField) -> RowTables:
    """Strips of a plate's sections at the positions that sample its cells, ``PER_CELL`` a cell."""
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
    nx, ny = len(tables.positions_mm) // PER_CELL, max(6, round((high[1] - low[1]) / CELL_MM))
    y = np.linspace(low[1], high[1], ny + 1)
    c, s = np.cos(tables.beta_rad[0]), np.sin(tables.beta_rad[0])
    n = len(tables.positions_mm)
    if abs(c) > 0.7:
        # strips run across the plate: the middle strip tells what is there
        slices = tables.slice_of_row[0]
        middle = int(slices[len(slices) // 2])
        cross = tables.crossings[0]
        keep = cross.slice == middle
        value, sign = cross.value[keep] * np.sign(c), cross.sign[keep] * np.sign(c)
        reach = np.minimum(value[:, None], y) * sign[:, None]
        total = np.zeros((n, ny + 1))
        np.add.at(total, cross.position[keep], reach)
        share = np.diff(total, axis=1) / np.diff(y)
    else:
        # strips stand up: each is a stretch across the plate, there when it has any height; cells may be wider than they or narrower
        order = np.argsort(-tables.rows_mm[:, 0] * np.sign(s))
        edges = np.append(-tables.rows_mm[order, 0] * np.sign(s) - tables.pitch_mm[0] / 2, y[-1])
        edges[0] = y[0]
        there = (tables.moments[0, 0][order] > 1e-6) * np.diff(edges)[:, None]
        total = np.concatenate([np.zeros((1, n)), np.cumsum(there, axis=0)])
        at = np.clip(np.searchsorted(edges, y, side="right") - 1, 0, len(edges) - 2)
        part = ((y - edges[at]) / np.maximum(np.diff(edges)[at], 1e-9))[:, None]
        share = (np.diff(total[at] + part * there[at], axis=0) / np.diff(y)[:, None]).T
    cover = np.clip(share, 0.0, 1.0).reshape(nx, PER_CELL, ny).mean(axis=1)
    x = np.linspace(low[0], high[0], nx + 1)
    return PlateGrid(x, y, np.where(cover < LEAST_COVER, 0.0, cover))


@dataclass(frozen=True)
class PlateFaces:
    """A floating plate's answer to unit forces on the dofs in ``slots`` (of 5 P): compliance and stiffness (slots, slots)."""

    section: PlateSection
    slots: NDArray[np.int64]
    compliance: Floats
    stiffness: Floats


@dataclass(frozen=True)
class PlateAnswer(PlateFaces):
    """The same with what happens between the faces.

    ``bent`` and ``pulled`` are the nodes' answers, (nx + 1, ny + 1, 3, loads) and (nx + 1, ny + 1, 2, loads), to the loads in
    ``bending_slots`` and ``pulling_slots``. ``face_cells`` (P, 2) hold the points, and ``face_peaks`` (P,) are what bending under each has
    beyond the cell's mean, times 4 pi D over the force.
    """

    grid: PlateGrid
    bent: Floats
    pulled: Floats
    bending_slots: NDArray[np.int64]
    pulling_slots: NDArray[np.int64]
    face_cells: NDArray[np.int64]
    face_peaks: Floats

    def strains(self, forces: Floats) -> tuple[Floats, Floats]:
        """Curvatures and membrane strains at the middle of every cell, (3, nx, ny, cases), for forces (5 P, cases) on the points; 0 where
        nothing is."""
        a, b = self.grid.cell_mm
        out = []
        for unit, slots, rows in (
            (self.bent, self.bending_slots, bending_cell(a, b)[1]),
            (self.pulled, self.pulling_slots, stretch_cell(a, b, self.section.a_n_mm)[1]),
        ):
            nx, ny, dofs, _ = unit.shape
            u = (unit.reshape(nx * ny * dofs, len(slots)) @ forces[slots]).reshape(nx * ny, dofs, -1).transpose(1, 0, 2)
            # each node's part in the strain of the cell of which it is the first, second, third or fourth corner
            by_corner = rows.reshape(3, 4, dofs).transpose(1, 0, 2).reshape(12, dofs) @ u.reshape(dofs, -1)
            one, two, three, four = by_corner.reshape(4, 3, nx, ny, -1)
            strain = one[:, :-1, :-1] + two[:, 1:, :-1] + three[:, 1:, 1:] + four[:, :-1, 1:]
            strain[:, self.grid.cover <= 0] = 0.0
            out.append(strain)
        return out[0], out[1]

    def under_faces(self, forces: Floats) -> Floats:
        """Curvatures xx and yy that cells see too little of under the faces' pushes, (2, nx, ny, cases); see ``plateface``."""
        out = np.zeros((2, *self.grid.cover.shape, forces.shape[1]))
        more = self.face_peaks[:, None] * forces[2::5] / (4 * np.pi)
        for k in (0, 1):
            np.add.at(out[k], tuple(self.face_cells.T), more / self.section.d_nmm[k])
        return out


def bonded_under(grid: PlateGrid, outlines: tuple[Floats, ...], thickness_mm: float) -> PlateGrid:
    """The plate with stiff blocks bonded onto it; each outline (4, 2) is a rectangle's corners in order, counter-clockwise.

    The rim's give is calibrated on solid models (``tools/solids``, docs/joints.md).
    """
    rim = BONDED_EDGE * thickness_mm
    spot = (np.arange(BONDED_SPOTS) + 0.5) / BONDED_SPOTS
    x, y = ((e[:-1, None] + np.diff(e)[:, None] * spot).ravel() for e in (grid.x_mm, grid.y_mm))
    inside = np.zeros((len(x), len(y)), dtype=bool)
    for corners in outlines:
        (x0, y0), (x1, y1) = corners.min(axis=0), corners.max(axis=0)
        box = np.s_[x.searchsorted(x0) : x.searchsorted(x1), y.searchsorted(y0) : y.searchsorted(y1)]
        side = np.roll(corners, -1, axis=0) - corners
        side = side / np.hypot(*side.T)[:, None]
        # distance within each side's line: what lies the rim's width inside all of them is bonded
        along_y = side[:, :1] * (y[box[1]] - corners[:, 1:])
        along_x = side[:, 1:] * (x[box[0]] - corners[:, :1])
        inside[box] |= (along_y[:, None, :] - along_x[:, :, None]).min(axis=0) >= rim
    share = inside.reshape(len(x) // BONDED_SPOTS, BONDED_SPOTS, len(y) // BONDED_SPOTS, BONDED_SPOTS).mean(axis=(1, 3))
    return replace(grid, stiffer=grid.stiffer / (1.0 - share + share / BONDED_STIFFER))


def _rigid(points: Floats, slots: NDArray[np.int64]) -> Floats:
    """Rigid motions of a plate at its used dofs, (slots, 6)."""
    x, y = points[slots // 5].T
    one, nil = np.ones(len(slots)), np.zeros(len(slots))
    rows = np.array([[one, nil, nil, nil, nil, -y], [nil, one, nil, nil, nil, x], [nil, nil, one, y, -x, nil],
                     [nil, nil, nil, one, nil, nil], [nil, nil, nil, nil, one, nil]])  # fmt: skip
    return np.asarray(rows[slots % 5, :, np.arange(len(slots))], dtype=np.float64)


def _floating(compliance: Floats, points: Floats, slots: NDArray[np.int64]) -> Floats:
    """Stiffness of the free plate from its compliance on three pegs: rigid motions are taken out exactly."""
    out, motions = np.zeros_like(compliance), _rigid(points, slots)
    for mine in by_kind(slots):
        here, rigid = np.ix_(mine, mine), motions[mine]
        rigid = rigid[:, np.abs(rigid).max(axis=0, initial=0.0) > 0]
        # faces on one spot move as one: a hair of give between them keeps that solvable
        give = SAME_SPOT * float(np.diag(compliance).mean())
        held = inverse_of_positive(compliance[here] + give * np.eye(len(mine)))
        moved = held @ rigid
        out[here] = held - moved @ np.linalg.solve(rigid.T @ moved, moved.T)
    return np.asarray((out + out.T) / 2, dtype=np.float64)


@dataclass(frozen=True)
class PlateFactors:
    """A plate's stiffness out of its plane and in it, factored; it does not depend on what the plate is held by."""

    bending: Factor
    stretching: Factor


def factor_plate(grid: PlateGrid, section: PlateSection) -> PlateFactors:
    """Assemble and factor. Raises StructureFault when the plate hangs together by nothing."""
    a, b = grid.cell_mm
    parts, _ = bending_cell(a, b)
    # holes too fine for the cells: stretched, an even plate with a share p of holes is (1 - p) / (1 + 2 p) as stiff (the plane bound of
    # Hashin and Shtrikman, which round holes come close to), bent about (1 - p) / (1 + p); the cells' own share is the (1 - p)
    bends = np.asarray(sum(d * p for d, p in zip(section.d_nmm, parts, strict=True))) / (1 + grid.holed)
    pulls = stretch_cell(a, b, section.a_n_mm)[0] / (1 + 2 * grid.holed)
    there = grid.cover * grid.stiffer
    return PlateFactors(factor(there, bends, 3), factor(there, pulls, 2))


def loads_on(grid: PlateGrid, points: Floats, radii_mm: Floats, slots: NDArray[np.int64]) -> FaceLoads:
    """Unit loads on the faces at points (P, 2) of radii (P,)."""
    return face_loads(grid.x_mm, grid.y_mm, grid.cover > 0, points, radii_mm, slots)


def _energies(half: Floats) -> Floats:
    """(loads, loads) what the loads do on each other's displacements, from ``Factor.halfway``."""
    table = half.reshape(half.shape[0] * half.shape[1], -1)
    return np.asarray(table.T @ table)


def solve_faces(factors: PlateFactors, section: PlateSection, points: Floats, loads: FaceLoads) -> PlateFaces:
    """How the faces alone answer, at less cost than ``solve_loads``."""
    slots = loads.slots
    compliance = np.zeros((len(slots), len(slots)))
    for one, rows, mine in zip((factors.bending, factors.stretching), (loads.bending, loads.stretching), loads.kinds, strict=True):
        compliance[np.ix_(mine, mine)] = _energies(one.halfway(rows))
    return PlateFaces(section, slots, compliance, _floating(compliance, points, slots))


def solve_loads(grid: PlateGrid, section: PlateSection, points: Floats, loads: FaceLoads, factors: PlateFactors) -> PlateAnswer:
    """A factored plate's answers to unit loads on the faces at points (P, 2), and all that happens between them."""
    slots = loads.slots
    compliance = np.zeros((len(slots), len(slots)))
    answers = []
    for one, rows, mine in zip((factors.bending, factors.stretching), (loads.bending, loads.stretching), loads.kinds, strict=True):
        half = one.halfway(rows)
        compliance[np.ix_(mine, mine)] = _energies(half)
        answers.append(one.back(half).reshape(*grid.nodes, rows.shape[1] // len(grid.y_mm), len(mine)))
    stiffness = _floating(compliance, points, slots)
    up, flat = (slots[k] for k in loads.kinds)
    return PlateAnswer(section, slots, compliance, stiffness, grid, answers[0], answers[1], up, flat, loads.cells, loads.peaks)


def solve_plate(
    grid: PlateGrid, section: PlateSection, points: Floats, slots: NDArray[np.int64] | None = None, radii_mm: Floats | float = 0.0
) -> PlateAnswer:
    """Unit answers of a plate at points (P, 2) with bearing faces of some radii (P,); ``slots`` are the dofs (of 5 P) that anything
    holds on to, by default all. Raises StructureFault when the plate hangs together by nothing."""
    slots = np.arange(5 * len(points)) if slots is None else slots
    loads = loads_on(grid, points, np.broadcast_to(radii_mm, len(points)), slots)
    return solve_loads(grid, section, points, loads, factor_plate(grid, section))
