"""Stress recovery: at each position, the points of every zone where some load can be worst, and the stresses there.

Points are the corners of the painted section in eight directions, where bending peaks, and the edges of cells where the
shear of unit torque and unit forces, alone or with bending, peaks. Everything is linear, so cases are combinations.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .section import SectionBasis, SectionLine
from .sectionfe import edge_strains

PRESENT = 0.12
FOUR = np.arange(4) * np.pi / 4
AT_THE_END = 1e-3


@dataclass(frozen=True)
class StressPoints:
    """Points of each zone: places from the stiffness-weighted middle (3 zones, S, P).

    ``gamma_`` are the shear strains of unit T, Vv, Vr there (3 loads, 3 zones, S, P); ``off_`` the distance from the middle of the part of
    the section they belong to; ``there`` tells zones that a position lacks.
    """

    v_mm: Floats
    r_mm: Floats
    gamma_v: Floats
    gamma_r: Floats
    off_v_mm: Floats
    off_r_mm: Floats
    there: NDArray[np.bool_]


def _outward(x: Floats, mid: Floats) -> NDArray[np.bool_]:
    return np.asarray(x >= mid[:, None, None])


def stress_points(basis: SectionBasis) -> StressPoints:
    """Choose the points of every position once, at the typical material."""
    g = basis.grids
    n = len(g.v_mm)
    gv, gr, v, r = edge_strains(basis.fe, g.v_mm, g.r_mm)
    weight = np.maximum(g.e_mpa * np.diff(g.v_mm, axis=1)[:, None, :] * np.diff(g.r_mm, axis=1)[:, :, None], 0)
    total = np.maximum(weight.sum(axis=(1, 2)), 1e-12)
    cell_v, cell_r = v[..., 0], r[..., 1]
    mid_v, mid_r = (weight * cell_v).sum(axis=(1, 2)) / total, (weight * cell_r).sum(axis=(1, 2)) / total
    # of each cell's edges the two that face outwards, at their common corner
    right, up = _outward(cell_v, mid_v), _outward(cell_r, mid_r)
    out_v, out_r = np.where(right, v[..., 1], v[..., 3]), np.where(up, r[..., 2], r[..., 0])

    def facing(x: Floats) -> Floats:
        return np.stack([np.where(up, x[..., 2], x[..., 0]), np.where(right, x[..., 1], x[..., 3])], axis=-1)

    size = gv.shape[2] * gv.shape[3] * 2
    flat_v, flat_r = (np.repeat(x.reshape(n, -1), 2, axis=1) for x in (out_v, out_r))
    fv, fr = facing(gv).reshape(3, n, size), facing(gr).reshape(3, n, size)
    dv, dr = flat_v - mid_v[:, None], flat_r - mid_r[:, None]
    strength = np.sqrt(fv**2 + fr**2)

    def rated(x: Floats) -> Floats:
        return x / np.maximum(x.max(axis=-1, keepdims=True), 1e-12)

    # outermost in eight directions, most sheared by each load, and both at once
    across = np.cos(FOUR)[:, None, None] * dv + np.sin(FOUR)[:, None, None] * dr
    ends = np.zeros_like(across)  # of all that reach as far up, down or to a side, the one farthest out
    ends[0], ends[2] = AT_THE_END * np.abs(dr), AT_THE_END * np.abs(dv)
    bend, shear = rated(np.abs(np.stack([dv, dr]))), rated(strength)
    pull_v, pull_r = rated(np.stack([fv[0], -fv[0], fv[1]])), rated(np.stack([fr[0], fr[2]]))
    stack = np.concatenate([
        across + ends, ends - across, strength, np.abs(fv[1:2]), np.abs(fr[2:3]), bend + shear[:1], bend + shear[1:],
        pull_v[:2] + pull_v[2], pull_r[:1] + pull_r[1:],
    ])  # fmt: skip

    local_v, local_r = np.zeros((n, size)), np.zeros((n, size))
    if (basis.fe.pieces > 1).any():
        local_v = np.repeat((out_v - basis.fe.piece_v_mm).reshape(n, -1), 2, axis=1)
        local_r = np.repeat((out_r - basis.fe.piece_r_mm).reshape(n, -1), 2, axis=1)

    picks = np.empty((3, n, len(stack)), dtype=np.int64)
    there = np.zeros((3, n), dtype=bool)
    for zone in range(3):
        inside = np.repeat(basis.painted.share[zone].reshape(n, -1) > PRESENT, 2, axis=1)
        there[zone] = inside.any(axis=1)
        picks[zone] = (stack + np.where(inside, 0.0, -1e9)).argmax(axis=2).T

    every = np.concatenate([np.stack([dv, dr, local_v, local_r]), fv, fr])
    # read at the points of each zone, and carried over to the positions that each solved section stands for
    at = every[:, np.arange(n)[:, None], picks][:, :, basis.of]
    long_v, long_r = basis.stretch_v[:, None], basis.stretch_r[:, None]
    ease = basis.ease[:, None, :, None]
    return StressPoints(at[0] * long_v, at[1] * long_r, at[4:7] * ease, at[7:] * ease, at[2] * long_v, at[3] * long_r, there[:, basis.of])


@dataclass(frozen=True)
class SectionForces:
    """Internal forces at positions, each (S, cases): pull, shears, twist about the shear centre, moments about y and z."""

    n: Floats
    v_y: Floats
    v_z: Floats
    t: Floats
    m_y: Floats
    m_z: Floats


def curvatures(s: SectionLine, m_y: Floats, m_z: Floats) -> tuple[Floats, Floats]:
    """Curvatures (k_y, k_z) under moments (S, cases); strain is k_y (z - z_c) - k_z (y - y_c)."""
    up, side, cross = s.ei_up_nmm2[:, None], s.ei_side_nmm2[:, None], s.ei_cross_nmm2[:, None]
    det = np.maximum(up * side - cross**2, 1e-12)
    return (side * m_y + cross * m_z) / det, (cross * m_y + up * m_z) / det


@dataclass(frozen=True)
class StressField:
    """What turns forces into stress at the points of a row of positions.

    ``e``, ``g_v``, ``g_r`` (3 zones, S); ``shear_scale`` (S,) carries typical shear strains to a corner; ``k_`` (S,) raise the pull and
    the two bendings; ``local_`` (S,) bend rails beside a pocket.
    """

    points: StressPoints
    section: SectionLine
    e_mpa: Floats
    g_v_mpa: Floats
    g_r_mpa: Floats
    shear_scale: Floats
    beta_rad: Floats
    local_v: Floats
    local_r: Floats
    k_pull: Floats
    k_up: Floats
    k_side: Floats


def at_stations(points: StressPoints, index: NDArray[np.int64]) -> StressPoints:
    """The points of other positions put in the place of each."""
    picked = {k: getattr(points, k)[..., index, :] for k in points.__dataclass_fields__ if k != "there"}
    return StressPoints(**picked, there=points.there[:, index])


def stresses(field: StressField, f: SectionForces) -> tuple[Floats, Floats, Floats]:
    """Stresses xx, xv, xr at the points, each (3 zones, S, P, cases)."""
    points, s = field.points, field.section
    cos, sin = np.cos(field.beta_rad)[:, None], np.sin(field.beta_rad)[:, None]
    y, z = cos * points.v_mm - sin * points.r_mm, sin * points.v_mm + cos * points.r_mm
    ky, kz = curvatures(s, f.m_y, f.m_z)
    strain = (field.k_pull[:, None] * f.n / s.ea_n[:, None])[:, None, :]
    strain = strain + z[..., None] * (field.k_up[:, None] * ky)[:, None, :] - y[..., None] * (field.k_side[:, None] * kz)[:, None, :]
    vv, vr = cos * f.v_y + sin * f.v_z, -sin * f.v_y + cos * f.v_z
    if field.local_v.any() or field.local_r.any():
        own_v, own_r = field.local_v[:, None] * vv, field.local_r[:, None] * vr
        strain = strain + points.off_v_mm[..., None] * own_v[:, None, :] + points.off_r_mm[..., None] * own_r[:, None, :]
    loads = field.shear_scale[:, None, None] * np.stack([f.t, vv, vr], axis=1)  # (S, 3 loads, cases)
    # (3 zones, S, P, 3 loads) times (S, 3 loads, cases)
    gv = np.moveaxis(points.gamma_v, 0, -1) @ loads
    gr = np.moveaxis(points.gamma_r, 0, -1) @ loads
    mask = points.there
    e, g_v, g_r = (np.where(mask, m, 0.0)[:, :, None, None] for m in (field.e_mpa, field.g_v_mpa, field.g_r_mpa))
    return e * strain, g_v * gv, g_r * gr
