"""Effective constants of a periodic cell by finite elements: the cell's answer to six unit strains.

A cell is a grid of bricks, each with a share of solid 0 to 1; opposite faces are tied. The energy of the cell under unit
strains gives the effective stiffness (Hassani and Hinton 1998); stresses at the brick centres give how soon its plastic
reaches its strength.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csr_matrix, diags
from scipy.sparse.linalg import cg, splu

from .orthotropy import isotropic, stress_turn
from .solid import CORNERS, brick_stiffness, centre_strain

Floats = NDArray[np.float64]

LEAST_SHARE = 0.02
PEAK_SHARE = 0.02
# a flat cell factors quickly; one with depth fills its factors, so it is solved step by step much sooner
DIRECT_LIMIT = {"flat": 160_000, "deep": 24_000}
CELL_POISSON = 0.36


@dataclass(frozen=True)
class Cell:
    """A periodic cell: brick edges along x, y, z (n+1,) and the share of solid in each brick (nx, ny, nz)."""

    x: Floats
    y: Floats
    z: Floats
    solid: Floats

    @property
    def density(self) -> float:
        """Share of the volume that is solid."""
        volume = np.diff(self.x)[:, None, None] * np.diff(self.y)[None, :, None] * np.diff(self.z)[None, None, :]
        return float((volume * self.solid).sum() / volume.sum())


@dataclass(frozen=True)
class Effective:
    """Effective stiffness over that of the solid's Young's modulus (6, 6), and stresses at bricks per unit mean strain."""

    stiffness: Floats
    stress: Floats
    volume: Floats


def homogenise(cell: Cell) -> Effective:
    """Effective stiffness of a cell of an isotropic solid with modulus 1.

    Raises ValueError for an empty cell.
    """
    nx, ny, nz = cell.solid.shape
    ijk = np.argwhere(cell.solid > LEAST_SHARE)
    if len(ijk) == 0:
        raise ValueError("The cell is empty.")
    share = cell.solid[tuple(ijk.T)]
    sizes = np.stack([np.diff(cell.x)[ijk[:, 0]], np.diff(cell.y)[ijk[:, 1]], np.diff(cell.z)[ijk[:, 2]]], axis=1)
    kinds, kind = np.unique(np.round(sizes, 9), axis=0, return_inverse=True)
    kind = kind.ravel()
    c = np.linalg.inv(isotropic(1.0, CELL_POISSON).compliance())
    stiff = np.stack([brick_stiffness(np.asarray(c, dtype=np.float64), k) for k in kinds])
    at = (ijk[:, None, :] + CORNERS) % np.array([nx, ny, nz])
    node = (at[..., 0] * ny + at[..., 1]) * nz + at[..., 2]
    used, node = np.unique(node, return_inverse=True)
    node = node.reshape(-1, 8)
    dof = (3 * node[:, :, None] + np.arange(3)).reshape(len(ijk), 24)
    total = 3 * len(used)

    corner = CORNERS[None] * sizes[:, None, :]
    start = np.stack([_unit_strain(corner, i) for i in range(6)], axis=-1)  # (elements, 24, 6)
    ke = stiff[kind] * share[:, None, None]
    force = np.zeros((total, 6))
    pushed = ke @ start
    for i in range(6):
        force[:, i] = np.bincount(dof.ravel(), pushed[:, :, i].ravel(), total)
    k = coo_matrix(
        (ke.ravel(), (np.repeat(dof, 24, axis=1).ravel(), np.tile(dof, (1, 24)).ravel())), shape=(total, total)
    ).tocsr()  # fmt: skip
    free = np.arange(3, total)
    u = np.zeros((total, 6))
    u[free] = _solve(k[free][:, free], force[free], DIRECT_LIMIT["flat" if nz == 1 else "deep"])
    left = start - u[dof]
    volume = float((cell.x[-1] - cell.x[0]) * (cell.y[-1] - cell.y[0]) * (cell.z[-1] - cell.z[0]))
    effective = np.einsum("eai,eab,ebj->ij", left, ke, left, optimize=True) / volume
    strain = np.stack([centre_strain(s) for s in kinds])
    stress = np.einsum("pq,eqd,edi->epi", c, strain[kind], left, optimize=True)
    return Effective((effective + effective.T) / 2, stress, np.prod(sizes, axis=1) * share)


def _unit_strain(place: Floats, which: int) -> Floats:
    """Displacements (elements, 24) of the brick corners under one unit strain."""
    e = np.zeros((3, 3))
    p, q = ((0, 0), (1, 1), (2, 2), (1, 2), (0, 2), (0, 1))[which]
    e[p, q] += 0.5
    e[q, p] += 0.5
    return np.asarray((place @ e).reshape(len(place), 24))


def _solve(k: csr_matrix, f: Floats, direct_limit: int) -> Floats:
    if k.shape[0] <= direct_limit:
        return np.asarray(splu(k.tocsc(), permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}).solve(f))
    inverse = diags(1.0 / np.maximum(k.diagonal(), 1e-12))
    out = np.zeros_like(f)
    for i in range(f.shape[1]):
        if np.abs(f[:, i]).max() > 0:
            out[:, i], _ = cg(k, f[:, i], rtol=1e-5, maxiter=4000, M=inverse)
    return out


def peak_stress(effective: Effective, mean: Floats) -> float:
    """Equivalent (von Mises) stress that only ``PEAK_SHARE`` of the plastic exceeds, under a mean stress (6,)."""
    strain = np.linalg.solve(effective.stiffness + 1e-12 * np.eye(6), mean)
    s = np.einsum("epi,i->pe", effective.stress, strain)
    mises = np.sqrt(0.5 * ((s[0] - s[1]) ** 2 + (s[1] - s[2]) ** 2 + (s[2] - s[0]) ** 2) + 3 * (s[3] ** 2 + s[4] ** 2 + s[5] ** 2))
    order = np.argsort(mises)
    filled = np.cumsum(effective.volume[order])
    return float(mises[order][np.searchsorted(filled, (1 - PEAK_SHARE) * filled[-1])])


def strengths(effective: Effective, turn: Floats) -> Floats:
    """Mean stress over solid strength at which the plastic gives, for xx, yy, zz, yz, xz, xy in axes ``turn`` (rows), (6,).

    The shear entries are over the solid's own shear strength, so that a full cell has 1 everywhere.
    """
    back = np.linalg.inv(stress_turn(turn))
    out = np.empty(6)
    for i in range(6):
        unit = np.zeros(6)
        unit[i] = 1.0
        out[i] = 1.0 / peak_stress(effective, back @ unit) * (np.sqrt(3.0) if i > 2 else 1.0)
    return out
