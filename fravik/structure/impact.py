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

    Exact two-mode solution of the undamped pair until the body has come to rest. The ground gives nothing back: from there
    the body stays where it is and the tips swing on against it.
    """
    m = np.array([max(body_g, 1e-6), max(tips_g, 1e-6)]) * 1e-6
    k = np.array([[contact_n_mm + arms_n_mm, -arms_n_mm], [-arms_n_mm, arms_n_mm]])
    root = np.sqrt(m)
    lam, vec = np.linalg.eigh(k / np.outer(root, root))
    omega = np.sqrt(np.maximum(lam, 1e-12))
    start = vec.T @ (root * 1e3)
    # fine enough for the fast mode, long enough for the slow one
    quick, slow = 2 * math.pi / omega[1], 2 * math.pi / omega[0]
    t = np.unique(np.concatenate([np.linspace(0.0, min(2 * quick, slow), 240), np.linspace(0.0, 0.6 * slow, 480)]))
    phase = np.outer(omega, t)
    x = (vec / root[:, None]) @ (np.sin(phase) * (start / omega)[:, None])
    v = (vec / root[:, None]) @ (np.cos(phase) * start[:, None])
    at_rest = np.nonzero(v[0] <= 0)[0]
    stop = int(at_rest[0]) if len(at_rest) else len(t) - 1
    apart = x[1] - x[0]
    ring = math.hypot(apart[stop], v[1, stop] / math.sqrt(arms_n_mm / m[1]))
    return DropPeaks(float(contact_n_mm * x[0, : stop + 1].max()), float(arms_n_mm * max(np.abs(apart[: stop + 1]).max(), ring)))


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
