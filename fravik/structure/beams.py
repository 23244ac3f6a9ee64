"""Elements of 3D Timoshenko beams: stiffness, consistent mass, and what a mode is called.

Units mm, N, tonne, s. Element: Przemieniecki's two-node beam with shear flexibility; local x along the element, z up.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class BeamLine:
    """A straight chain of beam elements along x: node positions (n+1,) and per-element constants (n,)."""

    nodes_mm: Floats
    ea_n: Floats
    ei_up_nmm2: Floats
    ei_side_nmm2: Floats
    gj_nmm2: Floats
    ga_up_n: Floats
    ga_side_n: Floats
    mass_per_mm_t: Floats
    polar_t_mm: Floats


@dataclass(frozen=True)
class TipBody:
    """A rigid body carried at the last node: mass, inertia about its own centre, and centre offset from the node."""

    mass_t: float
    inertia_t_mm2: Floats
    offset_mm: Floats


def rectangle_torsion_mm4(one_mm: Floats | float, other_mm: Floats | float) -> Floats:
    """Torsion constant of a rectangle, whichever side is the longer (Roark's Formulas for Stress and Strain, table 10.1, within 0.1 %)."""
    thin, long = np.minimum(one_mm, other_mm), np.maximum(one_mm, other_mm)
    return np.asarray(long * thin**3 * (1 / 3 - 0.21 * thin / long * (1 - thin**4 / (12 * long**4))), dtype=np.float64)


def _bending(length: Floats, ei: Floats, ga: Floats, mass: Floats, rotary: Floats) -> tuple[Floats, Floats]:
    """Stiffness and mass of one bending plane, dofs (w1, r1, w2, r2) with r = dw/dx; shape (n, 4, 4)."""
    n = len(length)
    phi = 12 * ei / (np.maximum(ga, 1e-9) * length**2)
    k = np.zeros((n, 4, 4))
    c = ei / (length**3 * (1 + phi))
    one = np.ones(n)
    k[:, 0] = np.stack([12 * one, 6 * length, -12 * one, 6 * length], axis=1)
    k[:, 1] = np.stack([6 * length, (4 + phi) * length**2, -6 * length, (2 - phi) * length**2], axis=1)
    k[:, 2] = -k[:, 0]
    k[:, 3] = np.stack([6 * length, (2 - phi) * length**2, -6 * length, (4 + phi) * length**2], axis=1)
    k *= c[:, None, None]
    a, p, p2, ln = 1 / (1 + phi) ** 2, phi, phi * phi, length
    m = np.zeros((n, 4, 4))
    m11, m12 = 13 / 35 + 7 * p / 10 + p2 / 3, (11 / 210 + 11 * p / 120 + p2 / 24) * ln
    m13, m14 = 9 / 70 + 3 * p / 10 + p2 / 6, -(13 / 420 + 3 * p / 40 + p2 / 24) * ln
    m22, m24 = (1 / 105 + p / 60 + p2 / 120) * ln**2, -(1 / 140 + p / 60 + p2 / 120) * ln**2
    t = (mass * ln * a)[:, None]
    m[:, 0] = t * np.stack([m11, m12, m13, m14], axis=1)
    m[:, 1] = t * np.stack([m12, m22, -m14, m24], axis=1)
    m[:, 2] = t * np.stack([m13, -m14, m11, -m12], axis=1)
    m[:, 3] = t * np.stack([m14, m24, -m12, m22], axis=1)
    r11, r12 = 6 / 5 * one, (1 / 10 - p / 2) * ln
    r22, r24 = (2 / 15 + p / 6 + p2 / 3) * ln**2, (-1 / 30 - p / 6 + p2 / 6) * ln**2
    t = (rotary / ln * a)[:, None]
    m[:, 0] += t * np.stack([r11, r12, -r11, r12], axis=1)
    m[:, 1] += t * np.stack([r12, r22, -r12, r24], axis=1)
    m[:, 2] += t * np.stack([-r11, -r12, r11, -r12], axis=1)
    m[:, 3] += t * np.stack([r12, r24, -r12, r22], axis=1)
    return k, m


def element_matrices(beam: BeamLine) -> tuple[Floats, Floats]:
    """Stiffness and consistent mass of every element, (n, 12, 12); dofs u v w rx ry rz at each end."""
    ln = np.diff(beam.nodes_mm)
    n = len(ln)
    dofs: tuple[int, ...]
    k, m = np.zeros((n, 12, 12)), np.zeros((n, 12, 12))
    bar = np.array([[1.0, -1.0], [-1.0, 1.0]])
    spread = np.array([[2.0, 1.0], [1.0, 2.0]]) / 6
    for dofs, stiff, mass in (
        ((0, 6), beam.ea_n, beam.mass_per_mm_t),
        ((3, 9), beam.gj_nmm2, beam.polar_t_mm),
    ):
        ij = np.ix_(range(n), dofs, dofs)
        k[ij] = (stiff / ln)[:, None, None] * bar
        m[ij] = (mass * ln)[:, None, None] * spread
    half = beam.polar_t_mm / 2
    # sideways: v with rz = dv/dx; upwards: w with ry = -dw/dx
    for dofs, flip, ei, ga in (
        ((1, 5, 7, 11), 1.0, beam.ei_side_nmm2, beam.ga_side_n),
        ((2, 4, 8, 10), -1.0, beam.ei_up_nmm2, beam.ga_up_n),
    ):
        kb, mb = _bending(ln, ei, ga, beam.mass_per_mm_t, half)
        turn = np.array([1.0, flip, 1.0, flip])
        ij = np.ix_(range(n), dofs, dofs)
        k[ij] = kb * turn[:, None] * turn
        m[ij] = mb * turn[:, None] * turn
    return k, m


def name_mode(shape: Floats, gap: float = 0.0) -> str:
    """Name a mode of an arm by what moves most at the tip region: vertical bending, in-plane or torsion."""
    parts = shape.reshape(-1, 6)
    up, side = np.abs(parts[:, 2]).max(), np.abs(parts[:, 1]).max()
    twist = np.abs(parts[:, 3]).max() * max(gap, 1.0)
    return ("vertical bending", "in-plane bending", "torsion")[int(np.argmax([up, side, twist]))]
