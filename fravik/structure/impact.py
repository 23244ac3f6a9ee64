"""Impact as masses on springs, in closed form, and what toughness adds before a part breaks.

Assumptions: linear until the weakest spot reaches its strength; no damping; the ground and the pole are springs; the body
is rigid. A ductile filament then takes more energy in a plastic hinge: the energy at break is the elastic energy times
1 + 2 (ductility - 1) x HINGE_SHARE, since only the hinge, not the whole arm, is strained past yield.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

HINGE_SHARE = 0.4
POLE_STIFFNESS_N_MM = 2000.0


@dataclass(frozen=True)
class DropPeaks:
    """Peak forces in N per m/s of touch-down speed."""

    contact_n: float
    tips_n: float


def mass_on_spring_peak_n(speed_m_s: float, stiffness_n_mm: float, mass_g: float) -> float:
    """Peak force of a mass stopped by a spring, v sqrt(k m)."""
    return speed_m_s * math.sqrt(stiffness_n_mm * 1e3 * mass_g * 1e-3)


def series_n_mm(*stiffness_n_mm: float) -> float:
    """Springs in series."""
    return 1.0 / sum(1.0 / max(k, 1e-9) for k in stiffness_n_mm)


def drop_peaks(body_g: float, tips_g: float, contact_n_mm: float, arms_n_mm: float) -> DropPeaks:
    """Flat drop at 1 m/s: a body on its contact spring carrying the arm tips on the arms' spring.

    Exact two-mode solution of the undamped pair, followed until the contact lets go.
    """
    m = np.array([max(body_g, 1e-6), max(tips_g, 1e-6)]) * 1e-6
    k = np.array([[contact_n_mm + arms_n_mm, -arms_n_mm], [-arms_n_mm, arms_n_mm]])
    root = np.sqrt(m)
    lam, vec = np.linalg.eigh(k / np.outer(root, root))
    omega = np.sqrt(np.maximum(lam, 1e-12))
    start = vec.T @ (root * 1e3)
    t = np.linspace(0.0, 2 * math.pi / omega[0], 1200)
    x = (vec / root[:, None]) @ (np.sin(np.outer(omega, t)) * (start / omega)[:, None])
    gone = np.nonzero(x[0, 1:] <= 0)[0]
    stop = int(gone[0]) + 1 if len(gone) else len(t)
    contact = contact_n_mm * x[0, :stop].max()
    # after the contact lets go the arms still ring with what they hold
    tips = arms_n_mm * np.abs(x[1, :stop] - x[0, :stop]).max()
    return DropPeaks(float(contact), float(tips))


def effective_strike_mass_g(mass_g: float, yaw_inertia_gmm2: float, lever_mm: float) -> float:
    """Mass felt at a point that is struck off-centre: 1 / (1/M + d^2/I)."""
    return 1.0 / (1.0 / mass_g + lever_mm**2 / yaw_inertia_gmm2)


def toughness_speed_factor(ductility: float) -> float:
    """How much faster a part may hit than its elastic limit says: the square root of the energy gain."""
    return math.sqrt(1.0 + 2.0 * (max(ductility, 1.0) - 1.0) * HINGE_SHARE)


def height_from_speed_m(speed_m_s: float) -> float:
    """Free-fall height that gives the speed."""
    return speed_m_s**2 / (2 * 9.80665)


def speed_from_height_m_s(height_m: float) -> float:
    """Speed after a free fall."""
    return math.sqrt(2 * 9.80665 * max(height_m, 0.0))
