"""The rate loop about one axis, with the frame's modes in it: its open-loop response, its margins, and whether it is stable.

The gyro's rate y answers the moment u that the controller asks for about an axis:

    y / u = sum over rotors j of  share_j g_j / (1 + lag_j s) * [ T_j(s) - spin_j q_j (1 + swing_j s) Q_j(s) ]
    T_j(s) = a_j / s + sum over modes m of  phi_gyro,m phi_j,m s / (s^2 + 2 zeta_m w_m s + w_m^2)

share_j is the thrust that the mixer gives a rotor for a unit of moment, g_j how strongly it answers where it turns now over where the
tune was made, lag_j its motor's, q_j its torque over its thrust, and swing_j what its rotor's own inertia adds to the torque on the frame
(it speeds up by pushing back). a_j is the rigid craft's. Q_j is the same for a torque. The controller is K (1 + wi/s + Td s / (1 + s/wf)),
the gyro's filter one of second order, with notches that follow the motors, and a delay. K is such that the rigid craft's loop crosses at
the wanted frequency. Cross-talk from axis to axis is left out.

Stability by Nyquist's count: with both integrators passed on their right, the loop has as many poles in the right half as the angle of
1 + L lacks of half a turn over all positive frequencies, in half turns.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Complex = NDArray[np.complex128]

# where the slow integral begins to count, under the crossover; and the gyro filter's damping (flattest, Butterworth)
INTEGRAL_SHARE, FLAT = 1 / 8.0, math.sqrt(0.5)
MOST_DB = 60.0  # margins are not told beyond
# frequencies looked at: an even run of them, and a bundle about every mode, by its half width
EVEN, BUNDLE, BUNDLE_WIDE = 320, 57, 40.0


@dataclass(frozen=True, eq=False)
class Plant:
    """One axis as the gyro and the rotors see it. Arrays over rotors (n,), modes (m,), or both (n, m); N, N mm, t, rad/s.

    ``thrust`` and ``torque`` are the products of the gyro's turn and each hub's motion in the modes of unit mass, ``thrust_rigid`` and
    ``torque_rigid`` the rigid craft's turning acceleration for one N or N mm at each hub; ``share`` the thrusts for one N mm of moment.
    ``feet``: where the gyro rings about the axis on soft feet (rad/s), and half their loss factor.
    """

    w_rad_s: Floats
    zeta: Floats
    thrust: Floats
    torque: Floats
    thrust_rigid: Floats
    torque_rigid: Floats
    share: Floats
    spin: Floats
    torque_mm: Floats
    feet: tuple[float, float] | None = None

    def below(self, w_rad_s: float) -> Plant:
        """The same craft without its quicker modes."""
        kept = self.w_rad_s <= w_rad_s
        return replace(self, w_rad_s=self.w_rad_s[kept], zeta=self.zeta[kept], thrust=self.thrust[:, kept], torque=self.torque[:, kept])

    def rigid(self) -> Plant:
        """The same craft without its modes."""
        none = np.zeros((len(self.share), 0))
        return replace(self, w_rad_s=np.zeros(0), zeta=np.zeros(0), thrust=none, torque=none)


@dataclass(frozen=True, eq=False)
class Motors:
    """Rotors about a working point, (n,) each: the lag of their speed in s, what their inertia adds to the torque in s, and how strongly
    they answer over where the tune was made."""

    lag_s: Floats
    swing_s: Floats
    gain: Floats


@dataclass(frozen=True)
class Controller:
    """A tune in figures; ``k`` in N mm per rad/s. ``notch_hz`` are the middles of its notches; ``level_s`` is a plain lag that levels what
    rotors push back as they speed up."""

    k: float
    integral_rad_s: float
    lead_s: float
    filter_rad_s: float
    notch_hz: tuple[float, ...]
    notch_q: float
    delay_s: float
    level_s: float = 0.0


@dataclass(frozen=True, eq=False)
class Paths:
    """From each rotor to the gyro at circular frequencies ``w`` (f,): rate for one N along its shaft and for one N mm about it, (f, n)."""

    w: Floats
    thrust: Complex
    torque: Complex


def paths(plant: Plant, w: Floats) -> Paths:
    """What the frame does between rotors and gyro, wherever the motors turn."""
    s = 1j * w[:, None]
    thrust, torque = plant.thrust_rigid / s, plant.torque_rigid / s
    if len(plant.w_rad_s):
        mode = s / (s**2 + 2 * plant.zeta * plant.w_rad_s * s + plant.w_rad_s**2)
        thrust, torque = thrust + mode @ plant.thrust.T, torque + mode @ plant.torque.T
    return Paths(w, thrust, torque)


def plant_response(plant: Plant, motors: Motors, way: Paths) -> Complex:
    """(f,) rate over asked moment."""
    s = 1j * way.w[:, None]
    turn = -plant.spin * plant.torque_mm * (1.0 + s * motors.swing_s)
    each = plant.share * motors.gain / (1.0 + s * motors.lag_s) * (way.thrust + turn * way.torque)
    return np.asarray(each.sum(axis=1) * through_feet(plant, way.w))


def through_feet(plant: Plant, w: Floats) -> Complex:
    """(f,) what of the frame's turn gets to the gyro."""
    if plant.feet is None:
        return np.ones(len(w), dtype=np.complex128)
    s, (wm, zeta) = 1j * w, plant.feet
    return np.asarray((2 * zeta * wm * s + wm**2) / (s**2 + 2 * zeta * wm * s + wm**2))


def controller_response(c: Controller, w: Floats) -> Complex:
    """(f,) asked moment over rate, filters and delay included."""
    s = 1j * w
    smooth = 1.0 / (1.0 + 2 * FLAT * s / c.filter_rad_s + (s / c.filter_rad_s) ** 2)
    for hz in c.notch_hz:
        middle = 2 * math.pi * hz
        smooth = smooth * (s**2 + middle**2) / (s**2 + middle / c.notch_q * s + middle**2)
    act = 1.0 + c.integral_rad_s / s + c.lead_s * s / (1.0 + s / c.filter_rad_s)
    return np.asarray(c.k * act * smooth * np.exp(-s * c.delay_s) / (1.0 + c.level_s * s))


def tuned(
    plant: Plant, motors: Motors, crossover_hz: float, lead: float, lowpass: float, notch_hz: Sequence[float], notch_q: float,
    delay_s: float, levels: bool = False,
) -> Controller:  # fmt: skip
    """The controller whose loop on the rigid craft crosses at a frequency; ``lead`` is the share of the motors' lag that it makes up for,
    ``lowpass`` where its filter stands over the crossover; it may level what the rotors push back."""
    w = 2 * math.pi * crossover_hz
    lag = float(np.average(motors.lag_s, weights=np.maximum(np.abs(plant.share), 1e-12)))
    level_s = float(np.mean(motors.swing_s)) if levels else 0.0
    first = Controller(1.0, INTEGRAL_SHARE * w, lead * lag, lowpass * w, tuple(notch_hz), notch_q, delay_s, level_s)
    at = np.array([w])
    through = abs(complex((controller_response(first, at) * plant_response(plant, motors, paths(plant.rigid(), at)))[0]))
    return replace(first, k=1.0 / max(through, 1e-300))


def frequencies(plant: Plant, crossover_hz: float) -> Floats:
    """Circular frequencies (f,) close enough to follow every mode round."""
    wc = 2 * math.pi * crossover_hz
    top = 30.0 * wc
    bundles = [np.zeros(0)]
    if len(plant.w_rad_s):
        top = max(top, 1.6 * float(plant.w_rad_s.max()))
        wide = np.sinh(np.linspace(-1.0, 1.0, BUNDLE) * math.asinh(BUNDLE_WIDE))
        bundles.append((plant.w_rad_s[:, None] * np.maximum(1.0 + plant.zeta[:, None] * wide, 0.05)).ravel())
    every = np.unique(np.concatenate([np.geomspace(0.01 * wc, top, EVEN), *bundles]))
    return np.asarray(every[every >= 0.01 * wc])


def unstable_poles(loop: Complex) -> int:
    """How many poles of the closed loop lie in the right half, from its open response (f,) over all that matters of the frequencies."""
    angle = np.angle(1.0 + loop)
    steps = angle[1:] - angle[:-1]
    turn = float((steps - 2 * math.pi * np.rint(steps / (2 * math.pi))).sum())
    return max(round((math.pi - turn) / math.pi), 0)


@dataclass(frozen=True)
class LoopMargins:
    """How far a loop is from ringing: by how many dB its gain may grow, or must shrink (below 0, then it rings), the frequency at which it
    would ring, the least angle left where it crosses, and how many poles are unstable as it is."""

    gain_db: float
    freq_hz: float
    phase_deg: float
    unstable: int


def margins(w: Floats, loop: Complex) -> LoopMargins:
    """Margins of an open loop (f,) at circular frequencies (f,)."""
    crossed = np.flatnonzero((np.sign(loop.imag[:-1]) != np.sign(loop.imag[1:])) & (loop.real[:-1] < 0) & (loop.real[1:] < 0))
    found = []
    for i in crossed.tolist():
        share = loop.imag[i] / (loop.imag[i] - loop.imag[i + 1])
        real = loop.real[i] + share * (loop.real[i + 1] - loop.real[i])
        found.append((float(1.0 / max(-real, 1e-12)), float(w[i] + share * (w[i + 1] - w[i]))))
    found.sort()
    now = unstable_poles(loop)
    if now == 0:
        for k, (gain, at) in enumerate(found):
            beyond = found[k + 1][0] if k + 1 < len(found) else 4.0 * gain
            if gain > 1.0 and unstable_poles(math.sqrt(gain * beyond) * loop) > 0:
                return LoopMargins(min(20 * math.log10(gain), MOST_DB), at / (2 * math.pi), _phase_deg(loop), 0)
        return LoopMargins(MOST_DB, 0.0, _phase_deg(loop), 0)
    for k in range(len(found) - 1, -1, -1):
        gain, at = found[k]
        below = found[k - 1][0] if k else gain / 4.0
        if gain < 1.0 and unstable_poles(math.sqrt(gain * below) * loop) == 0:
            return LoopMargins(max(20 * math.log10(gain), -MOST_DB), at / (2 * math.pi), _phase_deg(loop), now)
    worst = min(found, default=(1e-3, 0.0))
    return LoopMargins(-MOST_DB, worst[1] / (2 * math.pi), _phase_deg(loop), now)


def _phase_deg(loop: Complex) -> float:
    """The least angle to the point where it rings, over all frequencies at which it crosses unity."""
    size = np.abs(loop)
    crossed = np.flatnonzero((size[:-1] - 1.0) * (size[1:] - 1.0) < 0)
    if not len(crossed):
        return 180.0
    share = (1.0 - size[crossed]) / (size[crossed + 1] - size[crossed])
    at = loop[crossed] + share * (loop[crossed + 1] - loop[crossed])
    return float(np.degrees(np.abs(np.angle(-at))).min())
