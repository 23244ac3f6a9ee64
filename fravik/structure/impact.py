"""Impact as masses on springs, in closed form, and what toughness adds before a part breaks.

Assumptions: linear until the weakest spot reaches its strength; no damping but what the ground keeps; ground and pole are springs;
the body is rigid. A ductile filament then takes more energy in a plastic hinge: the energy at break is the elastic energy times
1 + 2 (ductility - 1) x HINGE_SHARE, since only the hinge, not the whole arm, is strained past yield.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from fravik.library.air import GRAVITY_M_S2

Floats = NDArray[np.float64]

# of an arm's own mass, what swings with its tip: 33/140 by energy, 11/40 by its moment at the root (Rayleigh, even cantilever)
OWN_MASS_SHARE = 0.25
HINGE_SHARE = 0.4
POLE_STIFFNESS_N_MM = 2000.0
MOST_TURNS = 12  # times that a body may go down and up again before the ground lets go of it
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
    """Exact free motion (n, 2, times) of n pairs of masses from a state (n, 2), and its speed; ``t`` (n, times).

    ``k`` (n, 2, 2) may leave a mode without stiffness, which drifts.
    """
    root = np.sqrt(m)
    lam, vec = np.linalg.eigh(k / (root[:, :, None] * root[:, None, :]))
    # so slow that a drift and a swing are one over these times
    omega = np.sqrt(np.maximum(lam, (1e-6 / t[:, -1:]) ** 2))
    back, shape = np.swapaxes(vec, 1, 2), vec / root[:, :, None]
    q, p = (back @ (root * x)[..., None])[..., 0], (back @ (root * v)[..., None])[..., 0]
    phase = omega[:, :, None] * t[:, None, :]
    cos, sin = np.cos(phase), np.sin(phase)
    q, p, w = q[:, None], p[:, None], omega[:, None]
    return (shape * q) @ cos + (shape * (p / w)) @ sin, (shape * p) @ cos - (shape * (q * w)) @ sin


def _first(true: NDArray[np.bool_]) -> int:
    """Index of the first true one, else the last."""
    found = np.flatnonzero(true)
    return int(found[0]) if len(found) else len(true) - 1


def drop_peaks(body_g: float, tips_g: float, contact_n_mm: float, arms_n_mm: float, restitution: float = 0.0) -> DropPeaks:
    """Flat drop at 1 m/s: a body on its contact spring carrying the arm tips on the arms' spring; see ``many_drops``."""
    each = np.array([body_g, tips_g, contact_n_mm, arms_n_mm])[:, None]
    return many_drops(each[0], each[1], each[2], each[3], restitution)[0]


def many_drops(body_g: Floats, tips_g: Floats, contact_n_mm: Floats, arms_n_mm: Floats, restitution: float = 0.0) -> list[DropPeaks]:
    """Flat drops at 1 m/s, each array (n,): a body on its contact spring carrying the arm tips on the arms' spring.

    Piecewise exact. Going down the contact is a spring; coming up it pushes with ``restitution`` squared of that force, so that a
    body alone leaves with that share of its speed. Between the two the body sticks, while the tips swing on against it. Once the ground
    has let go of it, body and tips swing freely against each other.
    """
    m = np.maximum(np.stack([body_g, tips_g], axis=1), 1e-6) * 1e-6
    arms = arms_n_mm[:, None, None] * np.array([[1.0, -1.0], [-1.0, 1.0]])
    down, up = arms.copy(), arms.copy()
    down[:, 0, 0] += contact_n_mm
    up[:, 0, 0] += restitution**2 * contact_n_mm
    slow = 2 * np.pi * np.sqrt(m.sum(axis=1) * (1 / contact_n_mm + 1 / arms_n_mm))
    quick = 2 * np.pi / np.sqrt(contact_n_mm / m[:, 0] + arms_n_mm / m[:, 1])
    t = np.sort(np.concatenate([np.outer(np.minimum(2 * quick, slow), FINE_TIMES), np.outer(slow, TIMES)], axis=1), axis=1)
    grounds = [_Ground(*each, restitution) for each in zip(contact_n_mm.tolist(), arms_n_mm.tolist(), m[:, 1].tolist(), strict=True)]
    states = [_State(np.zeros(2), np.full(2, 1e3), 0.0, 0.0) for _ in grounds]
    left, turns = list(range(len(m))), 0
    while left and turns < MOST_TURNS:
        turns += 1
        k = np.stack([down[i] if states[i].down else up[i] for i in left])
        x, v = _swing(m[left], k, np.stack([states[i].at for i in left]), np.stack([states[i].speed for i in left]), t[left])
        for i, at, speed in zip(left, x, v, strict=True):
            states[i] = grounds[i].moved(states[i], at, speed)
        left = [i for i in left if states[i].held]
    # free of the ground
    out = []
    for e, (body, tips), arms_k in zip(states, m.tolist(), arms_n_mm.tolist(), strict=True):
        free = math.sqrt(arms_k * (1 / body + 1 / tips))
        peak = e.peak if e.held else max(e.peak, math.hypot(e.at[1] - e.at[0], (e.speed[1] - e.speed[0]) / free))
        out.append(DropPeaks(e.contact_n, float(arms_k * peak)))
    return out


@dataclass(frozen=True)
class _State:
    """Body and tips at some moment: places and speeds (2,), the arms' greatest bend and the ground's greatest push until then, which way
    the body goes, and whether the ground still holds it."""

    at: Floats
    speed: Floats
    peak: float
    contact_n: float
    down: bool = True
    held: bool = True


@dataclass(frozen=True)
class _Ground:
    """The ground under one body, and the tips that swing on it."""

    contact_n_mm: float
    arms_n_mm: float
    tips_t: float
    restitution: float

    def moved(self, before: _State, x: Floats, v: Floats) -> _State:
        """Until the ground has stopped the body or, coming up, has let go of it; or as far as was looked."""
        ends = v[0, 1:] <= 0 if before.down else (x[0, 1:] <= 0) | (v[0, 1:] >= 0)
        stop, ended = _first(ends) + 1, bool(ends.any())
        pushed = float(self.contact_n_mm * x[0, : stop + 1].max()) if before.down else 0.0
        peak = max(before.peak, float(np.abs(x[1] - x[0])[: stop + 1].max()))
        held = before.down or float(x[0, stop]) > 0
        at, speed = x[:, stop], v[:, stop]
        if ended and (stop > 1 or before.down or not held):
            # between two moments: where the body stands still, or leaves the ground; one that hardly lifts is followed on to the next
            of = v[0] if held else x[0]
            share = float(of[stop - 1] / (of[stop - 1] - of[stop])) if of[stop - 1] != of[stop] else 1.0
            at, speed = (y[:, stop - 1] + min(max(share, 0.0), 1.0) * (y[:, stop] - y[:, stop - 1]) for y in (x, v))
        now = _State(at, speed, peak, max(before.contact_n, pushed), before.down, held)
        return self.rested(replace(now, speed=np.array([0.0, speed[1]]))) if held and ended else now

    def rested(self, stopped: _State) -> _State:
        """A body that stands still on the ground, when it begins to move: pressed further down by the tips, or up and away."""
        at, speed = stopped.at, float(stopped.speed[1])
        apart, omega = float(at[1] - at[0]), math.sqrt(self.arms_n_mm / self.tips_t)
        sinks_at = self.contact_n_mm * float(at[0]) / self.arms_n_mm
        lifts_at = self.restitution**2 * sinks_at
        top = math.hypot(apart, speed / omega)
        swings_to = top if speed > 0 else apart
        if apart >= sinks_at:  # at once, whichever way the tips go
            return _State(at, np.array([0.0, speed]), max(stopped.peak, apart), stopped.contact_n, True)
        if swings_to > sinks_at and apart >= lifts_at:
            now = omega * math.sqrt(max(top**2 - sinks_at**2, 0.0))
            return _State(np.array([at[0], at[0] + sinks_at]), np.array([0.0, now]), max(stopped.peak, sinks_at), stopped.contact_n, True)
        if apart >= lifts_at:
            now = -omega * math.sqrt(max(top**2 - lifts_at**2, 0.0))
            at, speed = np.array([at[0], at[0] + lifts_at]), now
        free = self.restitution == 0.0
        return _State(
            at, np.array([0.0, speed]), max(stopped.peak, swings_to if apart >= lifts_at else 0.0), stopped.contact_n, False, not free
        )


def effective_strike_mass_g(mass_g: float, yaw_inertia_gmm2: float, lever_mm: float) -> float:
    """Mass felt at a point that is struck off-centre: 1 / (1/M + d^2/I)."""
    return 1.0 / (1.0 / mass_g + lever_mm**2 / yaw_inertia_gmm2)


def toughness_speed_factor(ductility: float) -> float:
    """How much faster a part may hit than its elastic limit says: the square root of the energy gain."""
    return math.sqrt(1.0 + 2.0 * (max(ductility, 1.0) - 1.0) * HINGE_SHARE)


def height_from_speed_m(speed_m_s: float) -> float:
    """Free-fall height that gives the speed."""
    return speed_m_s**2 / (2 * GRAVITY_M_S2)


def speed_from_height_m_s(height_m: float) -> float:
    """Speed after a free fall."""
    return math.sqrt(2 * GRAVITY_M_S2 * max(height_m, 0.0))
