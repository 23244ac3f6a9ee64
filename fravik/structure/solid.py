"""Eight-node brick elements on rectangular grids: stiffness with incompatible bending modes, and strains at the centre.

The incompatible modes (Wilson, Taylor) let one brick bend exactly; on rectangular bricks they pass the patch test. Strain
order: xx, yy, zz, yz, xz, xy, with engineering shears.
"""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

CORNERS = np.array([(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0), (0, 0, 1), (1, 0, 1), (1, 1, 1), (0, 1, 1)])


def _strain_rows(grad: Floats) -> Floats:
    """Strain matrix (6, 3n) from shape gradients (3, n)."""
    n = grad.shape[1]
    b = np.zeros((6, 3 * n))
    x, y, z = grad
    b[0, 0::3], b[1, 1::3], b[2, 2::3] = x, y, z
    b[3, 1::3], b[3, 2::3] = z, y
    b[4, 0::3], b[4, 2::3] = z, x
    b[5, 0::3], b[5, 1::3] = y, x
    return b


def _gradients(point: tuple[float, float, float], size: Floats) -> tuple[Floats, Floats]:
    """Gradients (3, 8) of the corner functions and (3, 3) of the incompatible modes 1 - xi^2."""
    sign = 2.0 * CORNERS.T - 1.0
    one = 1.0 + sign * np.array(point)[:, None]
    g = np.stack([sign[0] * one[1] * one[2], sign[1] * one[0] * one[2], sign[2] * one[0] * one[1]]) / 8.0
    scale = 2.0 / size
    return g * scale[:, None], np.diag(-2.0 * np.array(point) * scale)


def brick_stiffness(c: Floats, size: Floats) -> Floats:
    """Stiffness (24, 24) of a brick ``size`` (3,) of a material with stiffness ``c`` (6, 6), incompatible modes condensed out."""
    spot = 1.0 / np.sqrt(3.0)
    volume = float(np.prod(size)) / 8.0
    uu, ua, aa = np.zeros((24, 24)), np.zeros((24, 9)), np.zeros((9, 9))
    for signs in itertools.product((-spot, spot), repeat=3):
        g, modes = _gradients(signs, size)
        b, a = _strain_rows(g), _strain_rows(modes)
        uu += volume * b.T @ c @ b
        ua += volume * b.T @ c @ a
        aa += volume * a.T @ c @ a
    return np.asarray(uu - ua @ np.linalg.solve(aa, ua.T))


def centre_strain(size: Floats) -> Floats:
    """Strain matrix (6, 24) at the middle of a brick."""
    return _strain_rows(_gradients((0.0, 0.0, 0.0), size)[0])
