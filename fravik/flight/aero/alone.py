"""Forward flight: stall, glide, steadiness, and what it takes to keep going over speed."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from fravik.power.bem import RHO

from .corridor import row_of
from .flyer import Flyer
from .forces import AGREE, FX, FZ, LIFT, NOSE_UP, AirCraft, forces
from .liftline import solve_strips, strip_forces
from .trim import ATTITUDE, C_LEFT, C_POWER, C_SURFACE, C_WHY, FLIES, SURFACE

Floats = NDArray[np.float64]
ANGLES = np.radians(np.arange(-4.0, 21.0, 0.5))
SMALL = math.radians(0.25)
CRUISE_OVER_STALL = 1.3
NOSE_RAD = (math.radians(-8), math.radians(14))
SPEEDS = 16
PAST = 0.9  # of the most lift, past which no more is sought
NO_THRUST = np.zeros(3)


@dataclass(frozen=True, eq=False)
class Alone:
    """The craft on its wing alone. Angles ``attack_rad`` (a,) with lift and drag coefficients (0 well past
    stall); stall speed, attack there; best glide; the
    part of the mean chord by which the neutral point lies behind the centre of mass, and where it is (m ahead); cruise with its balance;
    ``speed_m_s`` (s,) with power (W, NaN where it does not fly), nose, surface."""

    area_m2: float
    span_m: float
    chord_m: float
    attack_rad: Floats
    lift: Floats
    drag: Floats
    stall_m_s: float
    stall_rad: float
    glide: float
    glide_m_s: float
    static_margin: float
    neutral_m: float
    cruise_m_s: float
    cruise_w: float
    cruise_rad: float
    cruise_surface_rad: float
    slow_surface: float
    speed_m_s: Floats
    power_w: Floats
    left: Floats

    @property
    def aspect(self) -> float:
        """Span squared over area."""
        return self.span_m**2 / self.area_m2

    @property
    def efficiency(self) -> float:
        """Of span (Oswald's), from drag over the square of lift between half and nine tenths of the most lift."""
        some = (self.lift > 0.3 * self.lift.max()) & (self.lift < 0.85 * self.lift.max()) & (self.attack_rad < self.stall_rad)
        if some.sum() < 3:
            return math.nan
        slope = float(np.polyfit(self.lift[some] ** 2, self.drag[some], 1)[0])
        return 1 / (math.pi * self.aspect * max(slope, 1e-9))

    @property
    def best_power(self) -> tuple[float, float]:
        """Speed and power at which least is drawn; NaN where it flies nowhere."""
        if not np.isfinite(self.power_w).any():
            return math.nan, math.nan
        k = int(np.nanargmin(self.power_w))
        return float(self.speed_m_s[k]), float(self.power_w[k])

    @property
    def best_range(self) -> tuple[float, float]:
        """Speed at which least is drawn a metre, and joules a metre."""
        per = self.power_w / self.speed_m_s
        if not np.isfinite(per).any():
            return math.nan, math.nan
        k = int(np.nanargmin(per))
        return float(self.speed_m_s[k]), float(per[k])


def at_angle(f: Flyer, speed: float, attack: float, surface: float = 0.0) -> Floats:
    """What acts (``OUT``,) without thrust, spread for forward flight."""
    out, _ = forces(
        f.air, 1.0, speed * math.cos(attack), speed * math.sin(attack), 0.0, NO_THRUST, surface, 0.0, np.zeros(len(f.air.width))
    )
    return out


@njit(cache=True, nogil=True)
def _swept(c: AirCraft, speed: float, angles: Floats, falls_to: float) -> Floats:
    """(a, 2) lift and drag over rising angles, each started from the one before; no farther than where lift has fallen to a share of its
    most. Compiled."""
    out, gamma, none, most = np.zeros((len(angles), 2)), np.zeros(len(c.width)), np.zeros(3), 0.0
    for k in range(len(angles)):
        cs, sn = math.cos(angles[k]), math.sin(angles[k])
        acts, g = forces(c, 1.0, speed * cs, speed * sn, 0.0, none, 0.0, 0.0, gamma)
        if acts[AGREE] > 0:
            gamma = g
        out[k, 0], out[k, 1] = acts[FZ] * cs + acts[FX] * sn, acts[FZ] * sn - acts[FX] * cs
        most = max(most, out[k, 0])
        if most > 0.0 and out[k, 0] < falls_to * most:
            break
    return out


def polar(f: Flyer, speed: float, angles: Floats = ANGLES) -> tuple[Floats, Floats]:
    """Lift and drag (a,) N over angles of attack at a speed, without thrust."""
    out = _swept(f.air, speed, np.ascontiguousarray(angles), -math.inf)
    return out[:, 0], out[:, 1]


def stall(f: Flyer) -> tuple[float, float]:
    """The slowest speed at which it carries its weight without thrust, m/s, and the attack there."""
    area, _ = wing_size(f)
    speed, some = math.sqrt(2 * f.weight_n / (RHO * max(area, 1e-6) * 1.1)), ANGLES[20::2]
    for _ in range(8):
        lift = _swept(f.air, speed, some, PAST)[:, 0]
        new = speed * math.sqrt(f.weight_n / max(float(lift.max()), 1e-6))
        done = abs(new - speed) < 2e-3 * speed
        speed = new
        if done:
            break
    # half a degree closer about where it was
    at = 20 + 2 * int(lift.argmax())
    fine = ANGLES[max(at - 3, 0) : at + 4]
    lift = _swept(f.air, speed, fine, -math.inf)[:, 0]
    k = int(lift.argmax())
    return speed * math.sqrt(f.weight_n / max(float(lift[k]), 1e-6)), float(fine[k])


def steadiness(f: Flyer, speed: float, attack: float) -> tuple[float, float]:
    """Moment nose up over lift as the nose rises, m (below nothing: it turns back); and the neutral point, m ahead in aeroplane axes."""
    low, high = (at_angle(f, speed, attack + s * SMALL) for s in (-1.0, 1.0))
    c, s = math.cos(attack), math.sin(attack)
    normal = (high[FZ] - low[FZ]) * c + (high[FX] - low[FX]) * s
    arm = float((high[NOSE_UP] - low[NOSE_UP]) / max(normal, 1e-9))
    return arm, f.com_at(1.0)[0] + arm


def wing_size(f: Flyer) -> tuple[float, float]:
    """Area (m2) and span (m) of what carries, both sides."""
    s = f.strips
    mine = s.surface < f.wings
    return 2 * float((s.chord_m * s.width_m)[mine].sum()), 2 * float(s.outer_m[mine, 1].max(initial=0.0))


def alone(f: Flyer, cruise_m_s: float) -> Alone:
    """All of it. ``cruise_m_s`` of nothing takes 1.3 times the stall speed."""
    area, span = wing_size(f)
    slow, slow_attack = stall(f)
    cruise = cruise_m_s or CRUISE_OVER_STALL * slow
    lift, drag = _swept(f.air, cruise, ANGLES, PAST).T
    q = 0.5 * RHO * cruise**2 * area
    ratio = np.where((lift > 0) & (slow_attack + 0.01 > ANGLES), lift / np.maximum(drag, 1e-9), 0.0)
    best = int(ratio.argmax())
    # the two that are told, among the others, so that each is sought from its neighbour
    speeds = np.linspace(1.02 * slow, max(f.top_m_s, 1.6 * cruise), SPEEDS)
    every = np.unique(np.concatenate([speeds, [1.1 * slow, cruise]]))
    rows = row_of(f, 1.0, every, 0.0, NOSE_RAD)
    row, at = rows[np.searchsorted(every, speeds)], rows[np.searchsorted(every, [1.1 * slow, cruise])]
    flies = at[1, C_WHY] == FLIES
    attack = float(at[1, ATTITUDE]) if flies else float(np.interp(f.weight_n, lift[: best + 6], ANGLES[: best + 6]))
    arm, neutral = steadiness(f, cruise, attack)
    good = row[:, C_WHY] == FLIES
    return Alone(
        area, span, area / span, ANGLES, lift / q, drag / q, slow, slow_attack, float(ratio[best]),
        cruise * math.sqrt(f.weight_n / max(float(lift[best]), 1e-9)), -arm / (area / span), neutral, cruise,
        float(at[1, C_POWER]) if flies else math.nan, attack, float(at[1, SURFACE]) if flies else math.nan,
        float(at[0, C_SURFACE]) if at[0, C_WHY] == FLIES else 1.0, speeds, np.where(good, row[:, C_POWER], np.nan),
        np.where(good, row[:, C_LEFT], np.nan),
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Loaded:
    """Along the left half: spanwise places (n,) m from the middle, lift and drag over span (N/m), moment about the quarter chord (N), lift
    coefficients, room to stall (rad), and whose surface."""

    y_m: Floats
    lift_n_m: Floats
    drag_n_m: Floats
    moment_n: Floats
    cl: Floats
    room_rad: Floats
    surface: NDArray[np.int64]


def loaded(f: Flyer, speed: float, attack: float, surface: float = 0.0, roll: float = 0.0) -> Loaded:
    """How the wing is loaded at a speed and an attack, without wash; ``roll`` is how far surfaces for roll are turned down (rad)."""
    s, n = f.air.strips, len(f.air.width)
    ahead, up = np.full(n, speed * math.cos(attack)), np.full(n, speed * math.sin(attack))
    flap = -f.strips.pitch * surface + f.strips.roll * roll
    _, w, _ = solve_strips(s, ahead, up, f.air.angle, flap, np.zeros(n))
    fx, fz, m, cl, left = strip_forces(s, ahead, up, f.air.angle, flap, w)
    c, sn = math.cos(attack), math.sin(attack)
    return Loaded(f.strips.quarter_m[:, 1], RHO * (fz * c + fx * sn), RHO * (fz * sn - fx * c), RHO * m, cl, left, f.strips.surface)


__all__ = ["LIFT", "Alone", "Loaded", "alone", "at_angle", "loaded", "polar", "stall", "steadiness", "wing_size"]
