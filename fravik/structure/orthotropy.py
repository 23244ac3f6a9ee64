"""Orthotropic elasticity: engineering constants, stiffness and compliance, turned to any axes.

Voigt order xx, yy, zz, yz, xz, xy with engineering shear strains (Jones, Mechanics of Composite Materials).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

_PAIRS = ((0, 0), (1, 1), (2, 2), (1, 2), (0, 2), (0, 1))

CARRIES_NOTHING = 1e-6  # of the solid's stiffness: a core as soft as that in some way never breaks that way


@dataclass(frozen=True)
class Orthotropic:
    """Engineering constants in the material's own axes 1, 2, 3; moduli in MPa. ``nu12`` is strain 2 over strain 1 pulled along 1."""

    e1_mpa: float
    e2_mpa: float
    e3_mpa: float
    g23_mpa: float
    g13_mpa: float
    g12_mpa: float
    nu12: float
    nu13: float
    nu23: float

    def compliance(self) -> Floats:
        """Compliance (6, 6) in own axes."""
        s = np.zeros((6, 6))
        s[0, 0], s[1, 1], s[2, 2] = 1 / self.e1_mpa, 1 / self.e2_mpa, 1 / self.e3_mpa
        s[0, 1] = s[1, 0] = -self.nu12 / self.e1_mpa
        s[0, 2] = s[2, 0] = -self.nu13 / self.e1_mpa
        s[1, 2] = s[2, 1] = -self.nu23 / self.e2_mpa
        s[3, 3], s[4, 4], s[5, 5] = 1 / self.g23_mpa, 1 / self.g13_mpa, 1 / self.g12_mpa
        return s


def isotropic(e_mpa: float, poisson: float) -> Orthotropic:
    """An isotropic material as a special case."""
    g = e_mpa / (2 * (1 + poisson))
    return Orthotropic(e_mpa, e_mpa, e_mpa, g, g, g, poisson, poisson, poisson)


def constants_of(compliance: Floats) -> Orthotropic:
    """Engineering constants along the axes in which a compliance (6, 6) is written; couplings are dropped."""
    s = compliance
    return Orthotropic(
        1 / s[0, 0], 1 / s[1, 1], 1 / s[2, 2], 1 / s[3, 3], 1 / s[4, 4], 1 / s[5, 5],
        -s[0, 1] / s[0, 0], -s[0, 2] / s[0, 0], -s[1, 2] / s[1, 1],
    )  # fmt: skip


def stress_turn(turn: Floats) -> Floats:
    """(6, 6) matrix that takes stress to the axes whose unit vectors are the rows of ``turn`` (3, 3)."""
    out = np.zeros((6, 6))
    for i, (p, q) in enumerate(_PAIRS):
        for j, (m, n) in enumerate(_PAIRS):
            out[i, j] = turn[p, m] * turn[q, n] + (turn[p, n] * turn[q, m] if m != n else 0.0)
    return out


def turned_stiffness(c: Floats, turn: Floats) -> Floats:
    """Stiffness seen in axes whose unit vectors, written in the old axes, are the rows of ``turn``."""
    t = stress_turn(turn)
    return np.asarray(t @ c @ t.T)


def turned_compliance(s: Floats, turn: Floats) -> Floats:
    """Compliance seen in other axes: the inverse of ``turned_stiffness``, without inverting soft materials."""
    t = np.linalg.inv(stress_turn(turn))
    return np.asarray(t.T @ s @ t)


def modulus_along(material: Orthotropic, direction: Floats) -> float:
    """Young's modulus of a bar cut along a unit vector given in the material's axes."""
    d = np.asarray(direction, dtype=np.float64) / np.linalg.norm(direction)
    pull = np.array([d[p] * d[q] for p, q in _PAIRS])
    return float(1.0 / (pull @ material.compliance() @ pull))
