"""One cell of a plate by itself: rigid motions cost nothing, even strains are met exactly, and its functions are its own nodes'."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.structure.platecell import CORNERS, bending_cell, bending_functions, stretch_cell

sides = st.floats(1.5, 12.0)


def corners(a: float, b: float) -> np.ndarray:
    return (np.array(CORNERS) - 0.5) * np.array([a, b])


def bent(a: float, b: float, w: np.ndarray) -> np.ndarray:
    """Nodal dofs of w = w0 + w1 x + w2 y + w3 x2 + w4 xy + w5 y2."""
    x, y = corners(a, b).T
    rise = w @ np.array([np.ones(4), x, y, x * x, x * y, y * y])
    by_y, by_x = w[2] + w[4] * x + 2 * w[5] * y, w[1] + 2 * w[3] * x + w[4] * y
    return np.stack([rise, by_y, -by_x], axis=1).ravel()


@given(sides, sides)
def test_moving_a_cell_rigidly_strains_nothing(a: float, b: float) -> None:
    k = bending_cell(a, b)[0].sum(axis=0)
    for w in np.eye(6)[:3]:
        assert np.abs(k @ bent(a, b, w)).max() < 1e-8 * np.abs(k).max() * max(a, b)
    flat, _ = stretch_cell(a, b, (3.0, 2.0, 0.8, 1.1))
    x, y = corners(a, b).T
    for u, v in ((np.ones(4), np.zeros(4)), (np.zeros(4), np.ones(4)), (-y, x)):
        assert np.abs(flat @ np.stack([u, v], axis=1).ravel()).max() < 1e-9 * np.abs(flat).max() * max(a, b)


@given(sides, sides, st.lists(st.floats(-1.0, 1.0), min_size=3, max_size=3))
def test_an_even_bend_stores_what_it_should(a: float, b: float, bend: list[float]) -> None:
    d = np.array([3.0, 2.0, 0.7, 1.1])
    u = bent(a, b, np.array([0.0, 0.0, 0.0, *bend]))
    kx, ky, kxy = -2 * bend[0], -2 * bend[2], -2 * bend[1]
    energy = a * b * (d[0] * kx**2 + d[1] * ky**2 + 2 * d[2] * kx * ky + d[3] * kxy**2)
    parts, at_middle = bending_cell(a, b)
    assert u @ np.tensordot(d, parts, axes=1) @ u == pytest.approx(energy, rel=1e-8, abs=1e-9)
    assert at_middle @ u == pytest.approx([kx, ky, kxy], abs=1e-8)


@given(sides, sides, st.lists(st.floats(-1.0, 1.0), min_size=3, max_size=3))
def test_an_even_stretch_stores_what_it_should(a: float, b: float, strain: list[float]) -> None:
    ex, ey, g = strain
    x, y = corners(a, b).T
    u = np.stack([ex * x + g * y, ey * y], axis=1).ravel()
    k, at_middle = stretch_cell(a, b, (3.0, 2.0, 0.8, 1.1))
    energy = a * b * (3.0 * ex**2 + 2.0 * ey**2 + 1.6 * ex * ey + 1.1 * g**2)
    assert u @ k @ u == pytest.approx(energy, rel=1e-8, abs=1e-9)
    assert at_middle @ u == pytest.approx([ex, ey, g], abs=1e-9)


@given(sides, sides)
def test_an_inplane_bend_does_not_lock(a: float, b: float) -> None:
    """Bent in its plane a bilinear cell is far too stiff; with the added modes it bends as a beam does."""
    e = 5.0
    k, _ = stretch_cell(a, b, (e, e, 0.0, e / 2))
    x, y = corners(a, b).T
    u = np.stack([x * y, np.zeros(4)], axis=1).ravel() * 2 / a
    turn = 2.0
    assert u @ k @ u == pytest.approx(e * b**3 / 12 / a * turn**2, rel=1e-6)


@given(sides, sides, st.floats(-0.5, 0.5), st.floats(-0.5, 0.5), st.lists(st.floats(-1.0, 1.0), min_size=6, max_size=6))
def test_functions_give_back_any_quadratic(a: float, b: float, s: float, t: float, w: list[float]) -> None:
    x, y = s * a, t * b
    value = bending_functions(a, b, np.array([[x, y]])) @ bent(a, b, np.array(w))
    assert value[0] == pytest.approx(np.array(w) @ np.array([1.0, x, y, x * x, x * y, y * y]), abs=1e-7)


def test_functions_at_a_corner_are_that_corners_own() -> None:
    values = bending_functions(5.0, 3.0, corners(5.0, 3.0))
    assert values == pytest.approx(np.kron(np.eye(4), [1.0, 0.0, 0.0]), abs=1e-12)
