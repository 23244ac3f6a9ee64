"""A thing on rubber feet: what of the frame's shake gets through to it.

Each way of moving by itself is a mass on a spring whose stiffness has a loss factor n: T = k (1 + i n) / (k (1 + i n) - m w^2). Turns go
by the feet's distances from the middle and the thing's inertia. Feet stand at REACH of its half length and half width, and give sideways
SIDE times as much as along: working assumptions. Left out: what the thing does to the frame in return, and that it stands above its feet.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Complex = NDArray[np.complex128]
REACH, SIDE = 0.8, 1.5
G_MM_S2 = 9806.65


@dataclass(frozen=True)
class SoftMount:
    """Grams, edges (length, width, height) in mm, how many feet, the stiffness of one along its axis in N/mm, and its loss factor."""

    mass_g: float
    size_mm: tuple[float, float, float]
    feet: int
    stiffness_n_mm: float
    loss: float

    @property
    def sag_mm(self) -> float:
        """How far it sinks under its own weight."""
        return self.mass_g * 1e-6 * G_MM_S2 / (self.feet * self.stiffness_n_mm)

    def rings_hz(self) -> Floats:
        """(6,) where it rings along and about x, y, z."""
        return np.asarray(np.sqrt(self._stiffness() / self._inertia()) / (2 * math.pi))

    def _stiffness(self) -> Floats:
        k, side = self.feet * self.stiffness_n_mm, self.feet * self.stiffness_n_mm / SIDE
        x, y = REACH * self.size_mm[0] / 2, REACH * self.size_mm[1] / 2
        return np.array([side, side, k, k * y * y, k * x * x, side * (x * x + y * y)])

    def _inertia(self) -> Floats:
        m = self.mass_g * 1e-6
        a, b, c = (e * e for e in self.size_mm)
        return np.array([m, m, m, m * (b + c) / 12, m * (a + c) / 12, m * (a + b) / 12])

    def through(self, w_rad_s: Floats) -> Complex:
        """(f, 6) its motion over the frame's, along and about x, y, z."""
        k = self._stiffness() * (1 + 1j * self.loss)
        return np.asarray(k / (k - self._inertia() * (w_rad_s**2)[:, None]))
