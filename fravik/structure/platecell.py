"""The plate's cells: bending ones are the 12-dof rectangle of Melosh (ACM), which converges on thin plates from one side; stretching ones
are bilinear with incompatible modes (Wilson). Corners run (0, 0), (a, 0), (a, b), (0, b).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from fravik.printing.zones import Floats

CORNERS = ((0, 0), (1, 0), (1, 1), (0, 1))


def _powers(x: Floats, y: Floats) -> Floats:
    """The cell's polynomial at places (n,), (n, 12)."""
    xx, xy, yy = x * x, x * y, y * y
    return np.stack([np.ones_like(x), x, y, xx, xy, yy, xx * x, xx * y, x * yy, yy * y, xx * xy, xy * yy], axis=-1)


def _slopes(x: Floats, y: Floats) -> tuple[Floats, Floats]:
    """The polynomial's slopes by y and by x at places (n,), each (n, 12)."""
    one, nil = np.ones_like(x), np.zeros_like(x)
    wx = [nil, one, nil, 2 * x, y, nil, 3 * x * x, 2 * x * y, y * y, nil, 3 * x * x * y, y**3]
    wy = [nil, nil, one, nil, x, 2 * y, nil, x * x, 2 * x * y, 3 * y * y, x**3, 3 * x * y * y]
    return np.stack(wy, axis=-1), np.stack(wx, axis=-1)


@lru_cache(maxsize=32)
def _polynomials(a: float, b: float) -> Floats:
    """(12, 12) from a cell's nodal dofs to the coefficients of its polynomial, about its middle."""
    x, y = np.array([-1.0, 1.0, 1.0, -1.0]) * a / 2, np.array([-1.0, -1.0, 1.0, 1.0]) * b / 2
    wy, wx = _slopes(x, y)
    return np.asarray(np.linalg.inv(np.stack([_powers(x, y), wy, -wx], axis=1).reshape(12, 12)), dtype=np.float64)


def bending_functions(a: float, b: float, at: Floats) -> Floats:
    """Values (n, 12) of a cell's functions at places (n, 2) from its middle."""
    return np.asarray(_powers(at[:, 0], at[:, 1]) @ _polynomials(a, b), dtype=np.float64)


@lru_cache(maxsize=32)
def bending_cell(a: float, b: float) -> tuple[Floats, Floats]:
    """Three (12, 12) stiffnesses of an a x b cell for unit Dxx, Dyy, Dxy, Dtwist, stacked (4, 12, 12); and curvature (3, 12) at its middle.

    Node order (0,0) (a,0) (a,b) (0,b); dofs w, w,y, -w,x. Curvatures -w,xx, -w,yy, -2 w,xy.
    """
    back = _polynomials(a, b)

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
def stretch_cell(a: float, b: float, q: tuple[float, float, float, float]) -> tuple[Floats, Floats]:
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
