"""Section finite elements: torsion and shear of painted sections with moduli that vary and depend on direction.

Four-node elements for the warping functions, all positions in one sweep; each section is one banded Cholesky factor and three
right sides. Torsion minimises the integral of Gv (w,v - r)^2 + Gr (w,r + v)^2 (Saint-Venant). Shear solves div(G grad w) = -E times
the distance from the neutral axis over EI, for a unit force each way, without Poisson's effect (Pilkey, Analysis and Design of
Elastic Beams); the shear centre is where that flow has no twist (Trefftz). Parts of a section that nothing joins, such as the
two rails beside a pocket, carry the shear by their own bending stiffness.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.lapack import dpbsv

from .faults import StructureFault

Floats = NDArray[np.float64]

_KV = np.array([[2, -2, -1, 1], [-2, 2, 1, -1], [-1, 1, 2, -2], [1, -1, -2, 2]]) / 6.0
_KR = np.array([[2, 1, -1, -2], [1, 2, -2, -1], [-1, -2, 2, 1], [-2, -1, 1, 2]]) / 6.0
_SV = np.array([-1.0, 1.0, 1.0, -1.0])
_SR = np.array([-1.0, -1.0, 1.0, 1.0])
VOID = 1e-7
MOST_FLEX = 40.0


@dataclass(frozen=True)
class Grids:
    """Sections as grids: edges v (S, C+1), r (S, R+1) and moduli E, Gv, Gr (S, R, C); zero is void."""

    v_mm: Floats
    r_mm: Floats
    e_mpa: Floats
    gv_mpa: Floats
    gr_mpa: Floats


@dataclass(frozen=True)
class SectionFE:
    """What the warping functions give at every position.

    ``warp`` (3, S, R+1, C+1): torsion, shear along v, shear along r. Flexibilities are energies per unit force squared.
    ``centre``: shear centre; ``middle``: stiffness-weighted middle. ``pieces``: number of parts that nothing joins; ``own_*``: their
    bending stiffness about their own middles, summed; ``apart``: sum of EI across times the square of each part's distance.
    ``piece_``: middle of the part that each cell belongs to (S, R, C).
    """

    gj_nmm2: Floats
    flex_v: Floats
    flex_r: Floats
    centre_v_mm: Floats
    centre_r_mm: Floats
    middle_v_mm: Floats
    middle_r_mm: Floats
    warp: Floats
    pieces: NDArray[np.int64]
    own_v_nmm2: Floats
    own_r_nmm2: Floats
    apart_nmm4: Floats
    piece_v_mm: Floats
    piece_r_mm: Floats

    def take(self, first: int, last: int) -> SectionFE:
        """A run of the positions."""
        here = slice(first, last)
        parts = {k: v[:, here] if k == "warp" else v[here] for k, v in vars(self).items()}
        return SectionFE(**parts)


_PLACE = ((0, 0), (1, 0), (1, 1), (0, 1))  # (column, row) of an element's nodes


def _pieces(solid: NDArray[np.bool_]) -> NDArray[np.int64]:
    """Which part of the section each cell belongs to, when empty columns or rows divide it; (S, R, C)."""
    out = np.zeros(solid.shape, dtype=np.int64)
    for axis in (1, 2):
        line = np.asarray(solid.any(axis=axis), dtype=bool)
        gap_before = np.zeros(line.shape, dtype=bool)
        gap_before[:, 1:] = line[:, 1:] & ~line[:, :-1]
        gap_before[np.arange(len(line)), np.argmax(line, axis=1)] = False
        part = np.cumsum(gap_before, axis=1)
        out = out * 8 + np.minimum(np.expand_dims(part, axis), 7)
    return out


def divided(g: Grids) -> NDArray[np.int64]:
    """Which sections fall into parts that nothing joins."""
    solid = (g.gv_mpa + g.gr_mpa) > 0
    return np.flatnonzero((_pieces(solid) * solid).max(axis=(1, 2)) > 0)


def solve_sections(g: Grids) -> SectionFE:
    """Torsion and shear of every section. Raises StructureFault for one that cannot be solved."""
    n, rows, cols = g.e_mpa.shape
    high, count = rows + 1, (rows + 1) * (cols + 1)
    a, b = np.diff(g.v_mm, axis=1)[:, None, :], np.diff(g.r_mm, axis=1)[:, :, None]
    area = a * b
    v0, r0 = (g.v_mm[:, 0] + g.v_mm[:, -1])[:, None, None] / 2, (g.r_mm[:, 0] + g.r_mm[:, -1])[:, None, None] / 2
    v = (g.v_mm[:, 1:] + g.v_mm[:, :-1])[:, None, :] / 2 - v0
    r = (g.r_mm[:, 1:] + g.r_mm[:, :-1])[:, :, None] / 2 - r0
    solid = (g.gv_mpa + g.gr_mpa) > 0
    top = np.maximum(np.maximum(g.gv_mpa, g.gr_mpa).max(axis=(1, 2), keepdims=True), 1e-9)
    gv, gr = np.maximum(g.gv_mpa, VOID * top), np.maximum(g.gr_mpa, VOID * top)

    part, sums = _bending_of_parts(g.e_mpa, area, v, r, a, b, solid)
    local = np.stack([_torsion_load(g, solid, v, r, a, b), *_shear_load(g.e_mpa, area, v, r, a, b, part, sums)], axis=1)
    nodal = np.zeros((n, 3, cols + 1, high))
    for i, (c, q) in enumerate(_PLACE):
        nodal[:, :, c : c + cols, q : q + rows] += local[..., i].transpose(0, 1, 3, 2)
    load = nodal.reshape(n, 3, count)

    ab = _band(gv * b / a, gr * a / b, n, rows, cols)
    warp = np.empty((n, 3, count))
    for s in range(n):
        ab[s, high + 1] += 1e-9 * ab[s, high + 1].max()
        _, x, info = dpbsv(ab[s], load[s].T, lower=0)
        if info or not np.isfinite(x).all():
            raise StructureFault("section.unsolved", f"Section {s + 1} of {n} cannot be solved: it is held together by next to nothing.")
        warp[s] = x.T
    still = np.where(solid, g.gv_mpa * area * (r * r + b * b / 12) + g.gr_mpa * area * (v * v + a * a / 12), 0.0).sum(axis=(1, 2))
    gj = still - (warp[:, 0] * load[:, 0]).sum(axis=1)
    flex_v, flex_r = (warp[:, 1] * load[:, 1]).sum(axis=1), (warp[:, 2] * load[:, 2]).sum(axis=1)
    # parts joined by next to nothing would give without end; they never give more than so much of the whole area's shear
    whole = np.maximum((np.minimum(g.gv_mpa, g.gr_mpa) * area).sum(axis=(1, 2)), 1e-9)
    flex_v, flex_r = (np.minimum(x, MOST_FLEX / whole) for x in (flex_v, flex_r))
    grid = warp.reshape(n, 3, cols + 1, high).transpose(1, 0, 3, 2)
    centre_r, centre_v = -_torque(grid[1], gv, gr, v, r, a, b, solid), _torque(grid[2], gv, gr, v, r, a, b, solid)
    return SectionFE(
        gj, flex_v, flex_r, centre_v + v0[:, 0, 0], centre_r + r0[:, 0, 0], sums.whole_v + v0[:, 0, 0],
        sums.whole_r + r0[:, 0, 0], grid, sums.pieces, sums.own_v, sums.own_r, sums.apart, sums.mid_v + v0, sums.mid_r + r0,
    )  # fmt: skip


def _torsion_load(g: Grids, solid: NDArray[np.bool_], v: Floats, r: Floats, a: Floats, b: Floats) -> Floats:
    fv = np.stack([-(r / 2 - b / 12), r / 2 - b / 12, r / 2 + b / 12, -(r / 2 + b / 12)], axis=-1)
    fr = np.stack([-(v / 2 - a / 12), -(v / 2 + a / 12), v / 2 + a / 12, v / 2 - a / 12], axis=-1)
    return np.where(solid[..., None], (g.gv_mpa * b)[..., None] * fv - (g.gr_mpa * a)[..., None] * fr, 0.0)


@dataclass(frozen=True)
class PartSums:
    """Middles of each cell's part (S, R, C), the summed bending stiffnesses of the parts (S,), and how many parts there are."""

    mid_v: Floats
    mid_r: Floats
    own_v: Floats
    own_r: Floats
    own_vr: Floats
    apart: Floats
    whole_v: Floats
    whole_r: Floats
    pieces: NDArray[np.int64]


def _bending_of_parts(
    e: Floats, area: Floats, v: Floats, r: Floats, a: Floats, b: Floats, solid: NDArray[np.bool_]
) -> tuple[NDArray[np.int64], PartSums]:
    """Which part of its section each cell belongs to, and the parts' middles and bending stiffnesses."""
    n = len(e)
    part = _pieces(solid)
    width = int(part.max()) + 1
    key = (np.arange(n)[:, None, None] * width + part).ravel()
    ea = np.where(solid, e * area, 0.0)

    def total(x: Floats) -> Floats:
        return np.asarray(np.bincount(key, np.broadcast_to(x, e.shape).ravel(), n * width), dtype=np.float64)

    weight = np.maximum(total(ea), 1e-12)
    mv, mr = total(ea * v) / weight, total(ea * r) / weight
    mid_v, mid_r = mv[key].reshape(e.shape), mr[key].reshape(e.shape)
    own_v = (ea * ((v - mid_v) ** 2 + a * a / 12)).sum(axis=(1, 2))
    own_r = (ea * ((r - mid_r) ** 2 + b * b / 12)).sum(axis=(1, 2))
    own_vr = (ea * (v - mid_v) * (r - mid_r)).sum(axis=(1, 2))
    whole = np.maximum(ea.sum(axis=(1, 2)), 1e-12)
    cv, cr = (ea * v).sum(axis=(1, 2)) / whole, (ea * r).sum(axis=(1, 2)) / whole
    ei_r = total(ea * ((r - mid_r) ** 2 + b * b / 12)).reshape(n, width)
    ei_v = total(ea * ((v - mid_v) ** 2 + a * a / 12)).reshape(n, width)
    apart = (ei_r * (mv.reshape(n, width) - cv[:, None]) ** 2 + ei_v * (mr.reshape(n, width) - cr[:, None]) ** 2).sum(axis=1)
    pieces = (np.bincount(key, solid.ravel(), n * width).reshape(n, width) > 0).sum(axis=1)
    return part, PartSums(mid_v, mid_r, own_v, own_r, own_vr, apart, cv, cr, pieces)


def _shear_load(
    e: Floats, area: Floats, v: Floats, r: Floats, a: Floats, b: Floats, part: NDArray[np.int64], sums: PartSums
) -> tuple[Floats, Floats]:
    """Loads (S, R, C, 4) of a unit force along v and along r."""
    weight = (e * area)[..., None] / 4
    along_v = weight * ((v - sums.mid_v)[..., None] + (a / 6)[..., None] * _SV)
    along_r = weight * ((r - sums.mid_r)[..., None] + (b / 6)[..., None] * _SR)
    det = np.maximum(sums.own_v * sums.own_r - sums.own_vr**2, 1e-12)
    vv, vr, rr = (x[:, None, None, None] / det[:, None, None, None] for x in (sums.own_r, -sums.own_vr, sums.own_v))
    return vv * along_v + vr * along_r, vr * along_v + rr * along_r


def _band(kv: Floats, kr: Floats, n: int, rows: int, cols: int) -> Floats:
    """Element matrices summed into upper band storage (S, rows + 3, nodes)."""
    high = rows + 1
    width = high + 1
    ab = np.zeros((n, width + 1, cols + 1, high))
    kv, kr = kv.transpose(0, 2, 1), kr.transpose(0, 2, 1)  # (S, C, R): nodes are numbered along rows first
    for i in range(4):
        for j in range(4):
            (ci, ri), (cj, rj) = _PLACE[i], _PLACE[j]
            step = (cj - ci) * high + (rj - ri)
            if step < 0:
                continue
            ab[:, width - step, cj : cj + cols, rj : rj + rows] += kv * _KV[i, j] + kr * _KR[i, j]
    return ab.reshape(n, width + 1, (cols + 1) * high)


def _gradient(w: Floats, a: Floats, b: Floats) -> tuple[Floats, Floats]:
    """Mean gradient of a nodal function (S, R+1, C+1) in each cell."""
    dv = (w[:, :-1, 1:] - w[:, :-1, :-1] + w[:, 1:, 1:] - w[:, 1:, :-1]) / (2 * a)
    dr = (w[:, 1:, :-1] - w[:, :-1, :-1] + w[:, 1:, 1:] - w[:, :-1, 1:]) / (2 * b)
    return dv, dr


def _torque(w: Floats, gv: Floats, gr: Floats, v: Floats, r: Floats, a: Floats, b: Floats, solid: NDArray[np.bool_]) -> Floats:
    """Torque of a shear flow about the middle of the grid."""
    dv, dr = _gradient(w, a, b)
    return np.where(solid, (gr * dr * v - gv * dv * r) * a * b, 0.0).sum(axis=(1, 2))


def edge_strains(fe: SectionFE, v_mm: Floats, r_mm: Floats) -> tuple[Floats, Floats, Floats, Floats]:
    """Shear strains of unit torque and unit forces at the middles of each cell's four edges (bottom, right, top, left).

    Returns gamma v and gamma r, each (3 loads, S, R, C, 4), and the place v, r of each edge's middle (S, R, C, 4).
    """
    a, b = np.diff(v_mm, axis=1)[:, None, :], np.diff(r_mm, axis=1)[:, :, None]
    shape = (len(v_mm), r_mm.shape[1] - 1, v_mm.shape[1] - 1)
    lo_v, hi_v = (np.broadcast_to(x[:, None, :], shape) for x in (v_mm[:, :-1], v_mm[:, 1:]))
    lo_r, hi_r = (np.broadcast_to(x[:, :, None], shape) for x in (r_mm[:, :-1], r_mm[:, 1:]))
    mid_v, mid_r = (lo_v + hi_v) / 2, (lo_r + hi_r) / 2
    v = np.stack([mid_v, hi_v, mid_v, lo_v], axis=-1)
    r = np.stack([lo_r, mid_r, hi_r, mid_r], axis=-1)
    w = fe.warp
    w00, w10, w11, w01 = w[:, :, :-1, :-1], w[:, :, :-1, 1:], w[:, :, 1:, 1:], w[:, :, 1:, :-1]
    low_v, high_v, left_r, right_r = (w10 - w00) / a, (w11 - w01) / a, (w01 - w00) / b, (w11 - w10) / b
    mean_v, mean_r = (low_v + high_v) / 2, (left_r + right_r) / 2
    gv = np.stack([low_v, mean_v, high_v, mean_v], axis=-1)
    gr = np.stack([mean_r, right_r, mean_r, left_r], axis=-1)
    v0, r0 = (v_mm[:, 0] + v_mm[:, -1])[:, None, None, None] / 2, (r_mm[:, 0] + r_mm[:, -1])[:, None, None, None] / 2
    gv[0] -= r - r0
    gr[0] += v - v0
    twist = np.maximum(fe.gj_nmm2, 1e-9)[:, None, None, None]
    gv[0] /= twist
    gr[0] /= twist
    return gv, gr, v, r
