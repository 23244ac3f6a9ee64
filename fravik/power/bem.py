"""A propeller by blade elements and momentum, standing or flying along its shaft, with swirl and losses at tip and root.

In every ring the angle of the flow phi is sought at which blades and stream agree. With W the speed that a blade meets, V that of flight,
sigma = B c / 2 pi r, c_n and c_t the section's forces along the shaft and against the turn, and F Prandtl's loss:

    thrust:  4 F sin(phi) (sin(phi) - V / W) = sigma c_n          torque:  W (cos(phi) + sigma c_t / (4 F sin(phi))) = Omega r

The second put into the first leaves one equation without a quotient, with l = V / (Omega r):

    g(phi) = 4 F sin(phi) (sin(phi) - l cos(phi)) - l sigma c_t - sigma c_n

g is below nothing at phi = 0 wherever the section lifts there, and above it at a right angle: the root is always bracketed (after Ning
2014, whose unknown is the same, but whose form breaks down without flight). From above, the first root is taken: the attached one.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from fravik.library.air import DENSITY_KG_M3, VISCOSITY_M2_S
from fravik.shape.blade import Blade

from .polars import ANGLES_DEG, SectionPolars

Floats = NDArray[np.float64]
RHO, NU = DENSITY_KG_M3, VISCOSITY_M2_S
LOOKS, STEPS, NEAR_RAD = 18, 40, 1e-9
ABOVE_RAD = 0.6  # over the blade's angle and the stream's: no root lies there but where flight drives the rotor
LEAST_PHI, LEAST_F = 1e-5, 1e-4
FIRST_DEG = float(ANGLES_DEG[0])
RINGS = 40
FAR_M = 1e3  # where tips would have to be to lose nothing


@dataclass(frozen=True, eq=False)
class Rotor:
    """A propeller as the air sees it: rings at ``r_m`` (n,) so wide, chord and angle there, blades, the sections' polars, and where the
    loss of its tips and roots begins: far out in a duct."""

    r_m: Floats
    dr_m: Floats
    chord_m: Floats
    angle_rad: Floats
    blades: int
    tip_m: float
    root_m: float
    polars: SectionPolars


@dataclass(frozen=True, eq=False)
class Flown:
    """At speeds (s,): thrust N and torque N m; and of every ring (s, n): angle of the flow, of attack (rad), lift coefficient, thrust and
    torque over the radius (N/m, N), how far it is from stall (rad), and whether blades and stream were found to agree."""

    omega_rad_s: Floats
    flight_m_s: Floats
    thrust_n: Floats
    torque_nm: Floats
    phi_rad: Floats
    attack_rad: Floats
    lift: Floats
    push_n_m: Floats
    hold_n: Floats
    to_stall_rad: Floats
    agreed: NDArray[np.bool_]

    @property
    def power_w(self) -> Floats:
        """(s,) at the shaft."""
        return np.asarray(self.torque_nm * self.omega_rad_s)

    def merit(self, disk_m2: float) -> Floats:
        """(s,) ideal power over real, standing."""
        ideal = np.maximum(self.thrust_n, 0.0) ** 1.5 / math.sqrt(2 * RHO * disk_m2)
        return np.asarray(ideal / np.maximum(self.power_w, 1e-12))

    @property
    def efficiency(self) -> Floats:
        """(s,) of flight: thrust times speed over power."""
        return np.asarray(self.thrust_n * self.flight_m_s / np.maximum(self.power_w, 1e-12))


def rotor_of(blade: Blade, blades: int, polars: SectionPolars, hub_mm: float, rings: int = RINGS, ducted: bool = False) -> Rotor:
    """A blade in so many rings from the hub's edge to the tip, closer together towards it; ``polars`` are those of its sections."""
    edges = ring_edges_mm(blade, hub_mm, rings)
    r = (edges[1:] + edges[:-1]) / 2
    there = blade.at(r)
    tip_m, root_m = FAR_M if ducted else float(edges[-1]) * 1e-3, hub_mm * 1e-3
    return Rotor(r * 1e-3, np.diff(edges) * 1e-3, there.chord_mm * 1e-3, there.angle_rad, blades, tip_m, root_m, polars)


def ring_edges_mm(blade: Blade, hub_mm: float, rings: int = RINGS) -> Floats:
    """(rings + 1,) of the rings' edges."""
    tip = float(blade.radius_mm[-1])
    return np.asarray(hub_mm + (tip - hub_mm) * np.sin(np.linspace(0.0, math.pi / 2, rings + 1)))


def fly(rotor: Rotor, omega_rad_s: Floats, flight_m_s: Floats | float = 0.0) -> Flown:
    """At speeds of turn (s,) and of flight along the shaft (s,) or one for all."""
    omega = np.atleast_1d(np.asarray(omega_rad_s, dtype=np.float64))
    flight = np.broadcast_to(np.asarray(flight_m_s, dtype=np.float64), omega.shape).copy()
    p = rotor.polars
    phi, attack, lift, push, hold, to_stall, agreed = _solve(
        rotor.r_m, rotor.chord_m, rotor.angle_rad, float(rotor.blades), rotor.tip_m, rotor.root_m, p.log_re, p.lift, p.drag,
        np.radians(p.stall_deg), omega, flight,
    )  # fmt: skip
    return Flown(omega, flight, push @ rotor.dr_m, hold @ (rotor.dr_m * rotor.r_m), phi, attack, lift, push, hold, to_stall, agreed)


@njit(cache=True, nogil=True)
def read_polar(table: Floats, k: int, row: int, part: float, deg: float) -> float:
    """Section k's coefficient at an angle, so far between two rows of Reynolds numbers. Compiled."""
    x = min(max(deg - FIRST_DEG, 0.0), table.shape[2] - 1.000001)
    i = int(x)
    f = x - i
    low = table[k, row, i] * (1 - f) + table[k, row, i + 1] * f
    high = table[k, row + 1, i] * (1 - f) + table[k, row + 1, i + 1] * f
    return float(low * (1 - part) + high * part)


@njit(cache=True, nogil=True)
def _loss(blades: float, r: float, tip: float, root: float, sine: float) -> float:
    s = max(abs(sine), 1e-6)
    at_tip = 2 / math.pi * math.acos(min(math.exp(-min(blades / 2 * (tip - r) / (r * s), 60.0)), 1.0))
    at_root = 2 / math.pi * math.acos(min(math.exp(-min(blades / 2 * (r - root) / (r * s), 60.0)), 1.0))
    return max(at_tip * at_root, LEAST_F)


@njit(cache=True, nogil=True)
def _residual(
    phi: float, angle: float, advance: float, solid: float, blades: float, r: float, tip: float, root: float, lift: Floats, drag: Floats,
    k: int, row: int, part: float,
) -> float:  # fmt: skip
    deg = (angle - phi) * 180 / math.pi
    cl, cd = read_polar(lift, k, row, part, deg), read_polar(drag, k, row, part, deg)
    s, c = math.sin(phi), math.cos(phi)
    cn, ct = cl * c - cd * s, cl * s + cd * c
    return float(4 * _loss(blades, r, tip, root, s) * s * (s - advance * c) - solid * (cn + advance * ct))


@njit(cache=True, nogil=True)
def _solve(
    r_m: Floats, chord_m: Floats, angle_rad: Floats, blades: float, tip_m: float, root_m: float, log_re: Floats, lift: Floats, drag: Floats,
    stall_rad: Floats, omega: Floats, flight: Floats,
) -> tuple[Floats, Floats, Floats, Floats, Floats, Floats, NDArray[np.bool_]]:  # fmt: skip
    speeds, n = len(omega), len(r_m)
    out = np.zeros((6, speeds, n))
    agreed = np.ones((speeds, n), dtype=np.bool_)
    for j in range(speeds):
        for k in range(n):
            r, chord, angle = r_m[k], chord_m[k], angle_rad[k]
            own = max(omega[j] * r, 1e-9)
            advance, solid = flight[j] / own, blades * chord / (2 * math.pi * r)
            re = math.log(max(math.hypot(own, flight[j]) * chord / NU, 1.0))
            row = 0
            while row < len(log_re) - 2 and re > log_re[row + 1]:
                row += 1
            part = min(max((re - log_re[row]) / (log_re[row + 1] - log_re[row]), 0.0), 1.0)
            top = min(math.pi / 2, max(angle, math.atan(advance)) + ABOVE_RAD)
            g_high = _residual(top, angle, advance, solid, blades, r, tip_m, root_m, lift, drag, k, row, part)
            if g_high <= 0:
                top = math.pi / 2
                g_high = _residual(top, angle, advance, solid, blades, r, tip_m, root_m, lift, drag, k, row, part)
            high, low, g_low, found = top, top, g_high, False
            for i in range(1, LOOKS + 1):
                # closer together towards the disk, where flows lie
                share = 1 - i / LOOKS
                low = LEAST_PHI + (top - LEAST_PHI) * share**1.5
                g_low = _residual(low, angle, advance, solid, blades, r, tip_m, root_m, lift, drag, k, row, part)
                if g_low <= 0 < g_high:
                    found = True
                    break
                high, g_high = low, g_low
            if found:
                phi, last = low, 0
                for _ in range(STEPS):  # false position, an end that stays halved (Illinois), which never leaves the bracket
                    phi = high - g_high * (high - low) / (g_high - g_low)
                    g = _residual(phi, angle, advance, solid, blades, r, tip_m, root_m, lift, drag, k, row, part)
                    if g > 0:
                        high, g_high = phi, g
                        g_low = g_low / 2 if last == 1 else g_low
                        last = 1
                    else:
                        low, g_low = phi, g
                        g_high = g_high / 2 if last == -1 else g_high
                        last = -1
                    if high - low < NEAR_RAD or abs(g) < 1e-12:
                        break
            else:
                phi = math.atan(advance)  # a section that neither lifts nor holds: the stream as it comes
                agreed[j, k] = False
            deg = (angle - phi) * 180 / math.pi
            cl, cd = read_polar(lift, k, row, part, deg), read_polar(drag, k, row, part, deg)
            s, c = math.sin(phi), math.cos(phi)
            loss = _loss(blades, r, tip_m, root_m, s)
            cn, ct = cl * c - cd * s, cl * s + cd * c
            w = own / max(c + solid * ct / (4 * loss * max(s, LEAST_PHI)), 0.05) if found else math.hypot(own, flight[j])
            q = RHO / 2 * w * w * chord * blades
            out[0, j, k], out[1, j, k], out[2, j, k] = phi, angle - phi, cl
            out[3, j, k], out[4, j, k] = q * cn, q * ct
            out[5, j, k] = stall_rad[k, row] * (1 - part) + stall_rad[k, row + 1] * part - (angle - phi)
    return out[0], out[1], out[2], out[3], out[4], out[5], agreed
