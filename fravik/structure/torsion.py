"""Saint-Venant torsion of a section with varying, direction-dependent shear moduli, by finite elements on a grid.

Four-node elements for the warping function; the energy gives GJ from above. Sections are solved with a banded Cholesky
factorisation.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solveh_banded

Floats = NDArray[np.float64]

_KY = np.array([[2, -2, -1, 1], [-2, 2, 1, -1], [-1, 1, 2, -2], [1, -1, -2, 2]]) / 6.0
_KZ = np.array([[2, 1, -1, -2], [1, 2, -2, -1], [-1, -2, 2, 1], [-2, -1, 1, 2]]) / 6.0


@lru_cache(maxsize=64)
def _topology(rows: int, cols: int) -> tuple[NDArray[np.int64], NDArray[np.bool_], NDArray[np.int64]]:
    """Element nodes, which element-matrix entries lie in the upper triangle, and their slots in the band storage."""
    n_z = rows + 1
    r, c = np.meshgrid(np.arange(rows), np.arange(cols), indexing="ij")
    first = c * n_z + r
    nodes = np.stack([first, first + n_z, first + n_z + 1, first + 1], axis=-1)
    i, j = np.repeat(nodes, 4, axis=-1).ravel(), np.tile(nodes, 4).ravel()
    keep = j >= i
    slot = (rows + 2 + i[keep] - j[keep]) * ((cols + 1) * n_z) + j[keep]
    return nodes, keep, slot


def torsion_stiffness(y_edges_mm: Floats, z_edges_mm: Floats, g_xy_mpa: Floats, g_xz_mpa: Floats) -> float:
    """GJ in N mm2 of a section painted on a grid.

    ``y_edges_mm`` (C+1,), ``z_edges_mm`` (R+1,), moduli (R, C); a zero modulus is void. Minimises
    the integral of Gxy (w,y - z)^2 + Gxz (w,z + y)^2 over the warping function w.
    """
    if len(z_edges_mm) > len(y_edges_mm):
        # number nodes along the shorter direction to keep the band narrow; swapping the axes mirrors the section
        return torsion_stiffness(z_edges_mm, y_edges_mm, g_xz_mpa.T, g_xy_mpa.T)
    rows, cols = g_xy_mpa.shape
    top = max(float(g_xy_mpa.max()), float(g_xz_mpa.max()))
    if top <= 0:
        return 0.0
    gy, gz = np.maximum(g_xy_mpa, 1e-7 * top), np.maximum(g_xz_mpa, 1e-7 * top)
    solid = (g_xy_mpa + g_xz_mpa) > 0
    y0 = float((y_edges_mm[0] + y_edges_mm[-1]) / 2)
    z0 = float((z_edges_mm[0] + z_edges_mm[-1]) / 2)
    a, b = np.diff(y_edges_mm)[None, :], np.diff(z_edges_mm)[:, None]
    yc = ((y_edges_mm[1:] + y_edges_mm[:-1]) / 2 - y0)[None, :]
    zc = ((z_edges_mm[1:] + z_edges_mm[:-1]) / 2 - z0)[:, None]

    nodes, keep, slot = _topology(rows, cols)
    k = (gy * b / a)[..., None, None] * _KY + (gz * a / b)[..., None, None] * _KZ
    fy = np.stack([-(zc / 2 - b / 12), zc / 2 - b / 12, zc / 2 + b / 12, -(zc / 2 + b / 12)], axis=-1)
    fz = np.stack([-(yc / 2 - a / 12), -(yc / 2 + a / 12), yc / 2 + a / 12, yc / 2 - a / 12], axis=-1)
    load = np.where(solid[..., None], (gy * b)[..., None] * fy - (gz * a)[..., None] * fz, 0.0)

    total, band = (cols + 1) * (rows + 1), rows + 2
    ab = np.bincount(slot, k.reshape(-1)[keep], (band + 1) * total).reshape(band + 1, total)
    f = np.bincount(nodes.ravel(), load.ravel(), total)
    ab[band] += 1e-9 * ab[band].max()
    w = solveh_banded(ab, f, check_finite=False, overwrite_ab=True)
    area = a * b
    still = np.where(solid, gy * area * (zc**2 + b**2 / 12) + gz * area * (yc**2 + a**2 / 12), 0.0)
    return float(still.sum() - w @ f)
