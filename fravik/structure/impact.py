"""Impact as masses on springs, in closed form, and what toughness adds before a part breaks.

Assumptions: linear until the weakest spot reaches its strength; no damping but what the ground keeps; ground and pole are springs;
the body is rigid. A ductile filament then takes more energy in a plastic hinge: the energy at break is the elastic energy times
1 + 2 (ductility - 1) x HINGE_SHARE, since only the hinge, not the whole arm, is strained past yield.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# of an arm's own mass, what swings with its tip: 33/140 by energy, 11/40 by its moment at the root (Rayleigh, even cantilever)
OWN_MASS_SHARE = 0.25
HINGE_SHARE = 0.4
POLE_STIFFNESS_N_MM = 2000.0
# moments of a blow that are looked at: two quick swings closely, and a slow one
FINE_TIMES, TIMES = np.linspace(0.0, 1.0, 140), np.linspace(0.0, 1.0, 260)[1:]


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


def _swing(m: Floats, k: Floats, x: Floats, v: Floats, t: Floats) -> tuple[Floats, Floats]:
    """Exact free motion (2, times) of two masses from a state, and its speed; ``k`` may leave a mode without stiffness, which drifts."""
    root = np.sqrt(m)
    lam, vec = np.linalg.eigh(k / np.outer(root, root))
    # so slow that a drift and a swing are one over these times
    omega = np.sqrt(np.maximum(lam, (1e-6 / t[-1]) ** 2))
    q, p, shape = vec.T @ (root * x), vec.T @ (root * v), vec / root[:, None]
    phase = np.outer(omega, t)
    cos, sin = np.cos(phase), np.sin(phase)
    return (shape * q) @ cos + (shape * (p / omega)) @ sin, (shape * p) @ cos - (shape * (q * omega)) @ sin


def _first(true: NDArray[np.bool_]) -> int:
    """Index of the first true one, else the last."""
    found = np.flatnonzero(true)
    return int(found[0]) if len(found) else len(true) - 1


def drop_peaks(body_g: float, tips_g: float, contact_n_mm: float, arms_n_mm: float, restitution: float = 0.0) -> DropPeaks:
    """Flat drop at 1 m/s: a body on its contact spring carrying the arm tips on the arms' spring.

    Piecewise exact. Going down the contact is a spring; coming up it pushes with ``restitution`` squared of that force, so that a
    body alone leaves with that share of its speed. Between the two the body sticks. Once the ground has let go of it, body and
    tips swing freely against each other.
    """
    m = np.array([max(body_g, 1e-6), max(tips_g, 1e-6)]) * 1e-6
    arms = arms_n_mm * np.array([[1.0, -1.0], [-1.0, 1.0]])
    down, up = arms.copy(), arms.copy()
    down[0, 0] += contact_n_mm
    up[0, 0] += restitution**2 * contact_n_mm
    slow = 2 * math.pi * math.sqrt(m.sum() * (1 / contact_n_mm + 1 / arms_n_mm))
    quick = 2 * math.pi / math.sqrt(contact_n_mm / m[0] + arms_n_mm / m[1])
    t = np.sort(np.concatenate([min(2 * quick, slow) * FINE_TIMES, slow * TIMES]))
    x, v = _swing(m, down, np.zeros(2), np.full(2, 1e3), t)
    stop = _first(v[0] <= 0)
    contact = float(contact_n_mm * x[0, : stop + 1].max())
    peak = float(np.abs(x[1] - x[0])[: stop + 1].max())
    at, speed = x[:, stop], np.array([0.0, v[1, stop]])
    gives_back = restitution**2 * contact_n_mm * at[0] / arms_n_mm
    apart, omega = float(at[1] - at[0]), math.sqrt(arms_n_mm / m[1])
    if apart >= gives_back:
        # the tips still press the body down harder than the ground lifts it: they swing on against a body at rest
        top = math.hypot(apart, speed[1] / omega)
        peak = max(peak, top if speed[1] > 0 else apart)
        apart, speed = gives_back, np.array([0.0, -omega * math.sqrt(max(top**2 - gives_back**2, 0.0))])
        at = np.array([at[0], at[0] + apart])
    if restitution > 0:
        x, v = _swing(m, up, at, speed, t)
        leave = _first(x[0] <= 0)
        peak = max(peak, float(np.abs(x[1] - x[0])[: leave + 1].max()))
        at, speed = x[:, leave], v[:, leave]
    # free of the ground
    free = math.sqrt(arms_n_mm * (1 / m[0] + 1 / m[1]))
    peak = max(peak, math.hypot(at[1] - at[0], (speed[1] - speed[0]) / free))
    return DropPeaks(contact, float(arms_n_mm * peak))


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
