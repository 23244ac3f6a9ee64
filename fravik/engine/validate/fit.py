"""Clashes, gaps, sight and stance against spheres in closed form, forces on feet, a pendulum in time, and what is known of lost rotors."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from manifold3d import Manifold
from scipy.integrate import solve_ivp
from scipy.optimize import linprog

from fravik.engine.foresee.balance import steers
from fravik.engine.foresee.compass import APART_MM
from fravik.flight.allocation import mixing
from fravik.flight.blocked import air_speed_ratio, thrust_lost
from fravik.flight.lens import covered
from fravik.flight.stance import stance
from fravik.library.air import GRAVITY_M_S2
from fravik.power.magnetic import lead_field_ut, pair_field_ut
from fravik.power.momentum import AIR_DENSITY_KG_M3
from fravik.power.wire import drop_v
from fravik.printing.zones import Floats
from fravik.shape.clash import clash, gap_mm

from .check import Check
from .flight import TORQUE_MM, WEIGHT_N, ring

FEET = np.array([[60.0, 50.0], [60.0, -50.0], [-60.0, 50.0], [-60.0, -50.0]])
MASS_G, HEIGHT_MM, INERTIA = 900.0, 95.0, np.diag([2.0e6, 3.0e6, 4.0e6])
COM = np.array([3.0, 4.0, 0.0])


def _ball(radius_mm: float, at: tuple[float, float, float], sides: int = 256) -> Manifold:
    return Manifold.sphere(radius_mm, sides).translate(at)


def _bodies() -> list[Check]:
    r, d = 20.0, 26.0
    shared = clash(_ball(r, (0, 0, 0)), _ball(r, (d, 0, 0)))
    lens = math.pi * (4 * r + d) * (2 * r - d) ** 2 / 12
    got = shared.volume_mm3 if shared is not None else 0.0
    depth = shared.depth_mm if shared is not None else 0.0
    gap = gap_mm(_ball(12.0, (0, 0, 0), 64), _ball(9.0, (20.0, 15.0, 18.0), 64), 60.0)
    return [
        Check("what two balls share", "lens of two spheres, mm3", lens, got, 0.01),
        Check("how deep one ball is in another", "2 r - d, mm", 2 * r - d, depth, 0.01),
        Check("gap between two balls", "distance less radii, mm", math.sqrt(20**2 + 15**2 + 18**2) - 21.0, gap, 0.01),
    ]


def _sight() -> list[Check]:
    # a ball straight ahead fills a circle of tan(asin(r / d)) in the picture's plane
    r, d, view = 40.0, 110.0, 90.0
    mesh = _ball(r, (d, 0, 0)).to_mesh()
    ball = np.asarray(mesh.vert_properties[:, :3], dtype=np.float64)[mesh.tri_verts]
    half = math.tan(math.radians(view) / 2)
    share = math.pi * math.tan(math.asin(r / d)) ** 2 / (4 * half**2 * 0.75)
    return [Check("share of the picture that a ball covers", "its cone, pinhole", share, covered([ball], np.zeros(3), 0.0, view)[0], 0.01)]


def _stance() -> list[Check]:
    found = stance(FEET, -HEIGHT_MM, MASS_G, COM, INERTIA)
    assert found is not None
    away = math.radians(found.toward_deg)

    def held(slope_deg: float) -> bool:
        shift = HEIGHT_MM * math.tan(math.radians(slope_deg)) * np.array([math.cos(away), math.sin(away)])
        forces = np.vstack([np.ones(len(FEET)), FEET.T])
        wanted = np.concatenate([[1.0], COM[:2] + shift])
        return bool(linprog(np.zeros(len(FEET)), A_eq=forces, b_eq=wanted, bounds=[(0, None)] * len(FEET)).status == 0)

    slope = _last_that(held, 0.0, 80.0)
    drift = _last_that(lambda v: not _goes_over(v), 0.0, 5.0)
    return [
        Check("slope on which it tips", "forces on its feet, deg", slope, found.tips_at_deg, 0.001, "another method"),
        Check("drift at which it goes over", "a pendulum in time, m/s", drift, found.drift_m_s, 0.005, "another method"),
    ]


def _last_that(holds: Callable[[float], bool], low: float, high: float) -> float:
    for _ in range(24):
        middle = (low + high) / 2
        low, high = (middle, high) if holds(middle) else (low, middle)
    return low


def _goes_over(drift_m_s: float) -> bool:
    d, h = 50.0 - COM[1], HEIGHT_MM
    inertia = INERTIA[0, 0] + MASS_G * (d * d + h * h)
    start, length = math.atan2(d, h), math.hypot(d, h)

    def fall(_: float, s: Floats) -> list[float]:
        return [s[1], -MASS_G * GRAVITY_M_S2 * 1e3 * length * math.sin(start - s[0]) / inertia]

    path = solve_ivp(fall, (0.0, 4.0), [0.0, MASS_G * drift_m_s * 1e3 * h / inertia], rtol=1e-9, atol=1e-9, max_step=0.02)
    return bool((path.y[0] > start).any())


def _lost() -> list[Check]:
    """Published for six rotors: turning in alternation none may be lost; turning two by two (P P N N P N) four of them may."""
    level = []
    for spins in ((1, -1, 1, -1, 1, -1), (1, 1, -1, -1, 1, -1)):
        mix = mixing(ring((30, 90, 150, 210, 270, 330), spins), np.zeros(3), TORQUE_MM)
        most = [np.where(np.arange(6) == k, 0.0, WEIGHT_N / 2) for k in range(6)]
        level.append(sum(steers(mix, WEIGHT_N, m) for m in most))
    return [
        Check("rotors in alternation that a hexa may lose", "published: none; plus 1", 1.0, 1.0 + level[0], 1e-9, "published"),
        Check("the same, turning P P N N P N", "published: four", 4.0, float(level[1]), 1e-9, "published"),
    ]


def _leads() -> list[Check]:
    a, b, at = np.array([-20.0, 4.0, 30.0]), np.array([25.0, -6.0, 18.0]), np.array([-10.0, 18.0, 62.0])
    along = (b - a) / np.linalg.norm(b - a)
    side = APART_MM / 2 * np.cross(along, (0.0, 0.0, 1.0)) / np.linalg.norm(np.cross(along, (0.0, 0.0, 1.0)))
    current, pieces = 38.0, 4000

    def summed(sign: float) -> Floats:
        ends = a + sign * side + np.linspace(0.0, 1.0, pieces + 1)[:, None] * (b - a)
        step, middle = np.diff(ends, axis=0) * 1e-3, (ends[1:] + ends[:-1]) / 2
        to = (at - middle) * 1e-3
        return np.asarray(1e6 * 1e-7 * current * np.sum(np.cross(step, to) / np.linalg.norm(to, axis=1)[:, None] ** 3, axis=0))

    pair = summed(1.0) - summed(-1.0)
    got = lead_field_ut(a + side, b + side, at, current) - lead_field_ut(a - side, b - side, at, current)
    return [
        Check("field of a pair of leads", "Biot-Savart summed, uT", float(np.linalg.norm(pair)), float(np.linalg.norm(got)), 0.01,
              "another method"),
        Check("the same, the worst way round", "no less than any, ratio over 1", 1.0,
              min(1.0, float(np.linalg.norm(pair_field_ut(a, b, at, current, APART_MM)[:2]) / np.linalg.norm(pair[:2]))), 0.01,
              "another method"),
    ]  # fmt: skip


# published resistance of a metre of stranded copper of 0.52 mm2, the twentieth gauge, at room temperature
GAUGE_20_MM2, GAUGE_20_OHM_M = 0.518, 0.0346


def _air() -> list[Check]:
    rings, z = np.linspace(0.0, 4000.0, 400_001), 0.8
    along, in_disk = (float(np.trapezoid(0.5 / (1.0 + (rings - at) ** 2) ** 1.5, rings)) for at in (z, 0.0))
    # far below, the pressure of the air is the disk loading
    thrust, area = 8.0, math.pi * 0.09**2
    in_the_disk = math.sqrt(thrust / (2 * AIR_DENSITY_KG_M3 * area))
    plate = 0.5 * AIR_DENSITY_KG_M3 * (2 * in_the_disk) ** 2 * (0.1 * area) / thrust
    return [
        Check("speed of the air below a disk", "vortex rings summed", along / in_disk, air_speed_ratio(z, 1.0), 0.001, "another method"),
        Check("thrust that a plate far below takes", "drag in the full wake", plate, thrust_lost(0.1, 1e7, 90.0, 1.0), 0.001, "hand sum"),
        Check("voltage lost along a lead", "published resistance, V", 2.0 * 10.0 * GAUGE_20_OHM_M, drop_v(2000.0, 10.0, GAUGE_20_MM2), 0.02,
              "published"),
    ]  # fmt: skip


GROUPS = (_leads, _bodies, _sight, _stance, _lost, _air)
