"""Propellers: blade elements against momentum by hand, spinning blades against published frequencies, press fits, blades found back."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from fravik.model.blade import PropellerShape, Reading
from fravik.power.bem import RHO, Rotor, fly
from fravik.power.drawn import flown
from fravik.power.polars import ANGLES_DEG, SectionPolars
from fravik.printing.zones import Floats
from fravik.shape.measured import blade_from
from fravik.structure.frame import Chain, assemble_chain
from fravik.structure.path import Path, straight_path
from fravik.structure.pressfit import Elastic, pressures_mpa
from fravik.structure.section import SectionLine
from fravik.structure.spinning import Ring, pull_n, spun_modes_hz

from .check import Check

SLOPE = 2 * math.pi
# first frequency of bending out of the disk of an even blade held at the axis, over sqrt(EI/m)/L^2, by its turns over the same
# (Wright, Smith, Thresher and Wang 1982, from the exact series)
WRIGHT = {0.0: 3.5160, 2.0: 4.1373, 4.0: 5.5850, 8.0: 9.2568, 12.0: 13.1702}


def _thin(n: int) -> SectionPolars:
    """Straight lift, no drag."""
    lift = np.broadcast_to(SLOPE * np.radians(ANGLES_DEG), (n, 2, len(ANGLES_DEG))).copy()
    return SectionPolars(np.log([1e3, 1e7]), lift, np.zeros_like(lift), np.full((n, 2), 20.0))


def _ideal(rings: int, blades: int, share: float, tip_angle: float) -> Rotor:
    """Twisted so that every ring has the same inflow: angle as one over the radius, chord alike, a share of the disk. So many slim blades
    that nothing is lost at the tip."""
    edges = np.linspace(0.02, 1.0, rings + 1)
    r, wide = (edges[1:] + edges[:-1]) / 2, np.diff(edges)
    chord = np.full(rings, share * math.pi / blades)
    return Rotor(r, wide, chord, tip_angle / r, blades, 1.0, 0.02, _thin(rings))


def _air() -> list[Check]:
    share, tip, omega = 0.05, 0.02, 300.0
    rotor = _ideal(400, 400, share, tip)
    still = fly(rotor, np.array([omega]))
    inflow = share * SLOPE / 16 * (math.sqrt(1 + 32 * tip / (share * SLOPE)) - 1)
    thrust = RHO * math.pi * omega**2 * 2 * inflow**2
    moving, flight = fly(rotor, np.array([omega]), 0.004 * omega), 0.004
    half = share * SLOPE / 16 + flight / 2
    climbing = -half + math.sqrt(half * half + share * SLOPE / 8 * (tip - flight))
    wake = RHO * math.pi * omega**2 * 2 * climbing * (climbing + flight)
    rpm = np.array([2500.0, 9000.0])
    slow, quick = (flown(PropellerShape(), rpm, 0.0, 1.0).thrust_n / rpm**2).tolist()
    return [
        Check("thrust of an ideally twisted rotor, standing", "one inflow by hand", thrust, float(still.thrust_n[0]), 0.01, "hand sum"),
        Check("its ideal over real power", "no drag, no loss", 1.0, float(still.merit(math.pi)[0]), 0.01),
        Check("its thrust in a climb", "momentum and blades by hand", wake, float(moving.thrust_n[0]), 0.01, "hand sum"),
        Check("thrust over speed squared, 9000 over 2500 rpm", "trend of small propellers", 1.15, quick / slow, 0.10,
              "published"),
    ]  # fmt: skip


def _even(long: float, wide: float, high: float, pieces: int) -> tuple[Path, Any, Floats, Ring, float, float]:
    e, rho, one = 2000.0, 1.27e-9, np.ones(pieces)
    path = straight_path(long, np.linspace(0, long, pieces + 1)[1:-1].tolist())
    n = len(path.line.positions_mm)
    one, none = np.ones(n), np.zeros(n)
    a, up, side = wide * high, wide * high**3 / 12, high * wide**3 / 12
    twist, stiff = e / 2.6 * 4 * up * one, e * a * one
    section = SectionLine(path.line.positions_mm, stiff, e * up * one, e * side * one, none, twist, stiff, stiff, none, none, none, none,
                          rho * a * one, rho * (up + side) * one, none, one, one)  # fmt: skip
    made = assemble_chain(Chain(path.nodes_mm, np.asarray(path.line.frame), section))
    rings = Ring(rho * a * one, none, none, none, rho * (side - up) * one)
    return path, made, made.m, rings, e * up, rho * a


def _spun() -> list[Check]:
    long = 200.0
    path, made, mass, rings, ei, heavy = _even(long, 20.0, 1.5, 32)
    unit = math.sqrt(ei / heavy) / long**2
    out = []
    for turns, exact in WRIGHT.items():
        got = float(spun_modes_hz(path, made, mass, rings, turns * unit)[0]) * 2 * math.pi / unit
        out.append(Check(f"even blade bending out of its disk, turning {turns:g} units", "exact series", exact, got, 0.01, "published"))
    omega, rho = 900.0, 1.27e-9
    pull = pull_n(path, rings, omega) / (20.0 * 1.5)
    for k in (0, len(pull) // 2):
        r = float(path.line.positions_mm[k])
        out.append(Check(f"pull in a spinning bar at {r:.0f} of 200 mm", "rho w^2 (R^2 - r^2) / 2", rho * omega**2 * (long**2 - r**2) / 2,
                         float(pull[k]), 0.005))  # fmt: skip
    return out


def _radial(shaft: float, seat: float, hub: float, bush: Elastic, own: Elastic, on_shaft: float, in_hub: float) -> tuple[float, float]:
    """Pressures on shaft and seat from both rings cut into many: the bush's two ends are where shaft and hub hold them."""
    n = 600
    inner = _part(np.linspace(shaft / 2, seat / 2, n + 1), bush)
    outer = _part(np.linspace(seat / 2, hub / 2, n + 1), own)
    gives = 1.0 / float(np.linalg.inv(outer)[0, 0])  # force over its hole's movement
    # unknown: the bush's inside but its first node, which the shaft moves; at the seat the hub pushes back by what it is pushed out
    free = np.arange(1, n + 1)
    k, u0 = inner[np.ix_(free, free)].copy(), on_shaft / 2
    load = -inner[free, 0] * u0
    k[-1, -1] += gives
    load[-1] -= gives * in_hub / 2
    u = np.concatenate([[u0], np.linalg.solve(k, load)])
    force = inner @ u
    return float(force[0]) / (shaft / 2), -float(force[-1]) / (seat / 2)


def _part(r: Floats, of: Elastic) -> Floats:
    k = np.zeros((len(r), len(r)))
    e, nu = of.modulus_mpa / (1 - of.poisson**2), of.poisson
    for i in range(len(r) - 1):
        mid, wide = (r[i] + r[i + 1]) / 2, r[i + 1] - r[i]
        b = np.array([[-1 / wide, 1 / wide], [0.5 / mid, 0.5 / mid]])
        k[i : i + 2, i : i + 2] += b.T @ (e * np.array([[1, nu], [nu, 1]])) @ b * mid * wide
    return k


def _pressed() -> list[Check]:
    bush, hub = Elastic(45.0, 0.45), Elastic(1900.0, 0.38)
    exact = _radial(5.0, 8.0, 16.0, bush, hub, 0.15, 0.2)
    got = pressures_mpa(5.0, 8.0, 16.0, bush, hub, 0.15, 0.2)
    alone = pressures_mpa(5.0, 5.0, 16.0, None, hub, 0.06, 0.0)[0]
    p = 0.03 * 1900.0 / (2.5 * ((64.0 + 6.25) / (64.0 - 6.25) + 0.38))
    return [
        Check("pressure of a soft bush on its shaft", "rings cut into many", exact[0], got[0], 0.01, "another method"),
        Check("pressure of a soft bush in its hub", "rings cut into many", exact[1], got[1], 0.01, "another method"),
        Check("a stiff hub pressed on a shaft", "Lamé's ring by hand", p, alone, 0.01, "hand sum"),
    ]


def _found_back() -> list[Check]:
    """How often the pitch told lies in its band, of blades whose readings have noise."""
    rng, hit, count = np.random.default_rng(7), 0, 400
    for _ in range(count):
        tip, n = rng.uniform(60, 150), int(rng.integers(7, 12))
        pitch, noise, r = rng.uniform(0.8, 1.8) * tip, rng.uniform(0.03, 0.12), np.linspace(0.22, 0.95, n) * tip
        chord, angle = 0.2 * tip * np.interp(r / tip, (0, 0.3, 0.75, 1), (0.8, 1.1, 1, 0.5)), np.arctan(pitch / (2 * math.pi * r))
        e = rng.normal(size=(3, n)) * noise
        lead, trail = 3 + chord * np.sin(angle) + e[1], 3 + e[2]
        rows = zip(r.tolist(), (chord + e[0]).tolist(), lead.tolist(), trail.tolist(), (0.1 * chord).tolist(), strict=True)
        read = [Reading(radius_mm=a, chord_mm=b, leading_mm=c, trailing_mm=d, thickness_mm=t) for a, b, c, d, t in rows]
        found = blade_from(read, float(tip))
        hit += found.pitch_low_mm <= pitch <= found.pitch_high_mm
    return [Check("share of measured blades whose pitch lies in its band", "19 of 20", 0.95, hit / count, 0.03, "another method")]


GROUPS = (_air, _spun, _pressed, _found_back)
