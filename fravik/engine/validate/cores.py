"""Printed material: bricks, orthotropic bars, laminates, homogenised core against bounds and closed forms."""

from __future__ import annotations

import itertools
import math

import numpy as np

from fravik.library import core_table
from fravik.structure.cells import PATTERNS
from fravik.structure.homogenise import CELL_POISSON
from fravik.structure.orthotropy import Orthotropic, isotropic, modulus_along, turned_stiffness
from fravik.structure.printed import angle_ply, core_ratios
from fravik.structure.solid import CORNERS, brick_stiffness

from .check import Check

Floats = np.ndarray


def brick_grid(counts: tuple[int, int, int], size: tuple[float, float, float], c: Floats) -> tuple[Floats, Floats]:
    """(nodes, stiffness) of a bar of bricks."""
    nx, ny, nz = counts
    x, y, z = (np.linspace(0, s, n + 1) for s, n in zip(size, counts, strict=True))
    nodes = np.array(list(itertools.product(x, y, z)))
    ke = brick_stiffness(c, np.array([x[1], y[1], z[1]]))
    k = np.zeros((3 * len(nodes), 3 * len(nodes)))
    for cell in itertools.product(range(nx), range(ny), range(nz)):
        at = np.array(cell) + CORNERS
        node = (at[:, 0] * (ny + 1) + at[:, 1]) * (nz + 1) + at[:, 2]
        dof = (3 * node[:, None] + np.arange(3)).ravel()
        k[np.ix_(dof, dof)] += ke
    return nodes, k


def _patch() -> list[Check]:
    c = np.linalg.inv(Orthotropic(3000.0, 2400.0, 1900.0, 700.0, 760.0, 900.0, 0.36, 0.3, 0.28).compliance())
    nodes, k = brick_grid((3, 2, 2), (7.0, 5.0, 3.0), c)
    strain = np.array([[0.01, 0.002, -0.001], [0.002, -0.004, 0.003], [-0.001, 0.003, 0.006]])
    u = (nodes @ strain).ravel()
    rim = (np.isclose(nodes, 0) | np.isclose(nodes, [7.0, 5.0, 3.0])).any(axis=1)
    fixed = np.repeat(rim, 3)
    inner = ~fixed
    got = u.copy()
    got[inner] = np.linalg.solve(k[np.ix_(inner, inner)], -k[np.ix_(inner, fixed)] @ u[fixed])
    worst = float(np.abs(got - u).max() / np.abs(u).max())
    return [Check("bricks, patch test: 1 + worst error", "exact", 1.0, 1.0 + worst, 1e-9)]


def _thick_cantilever() -> list[Check]:
    e, nu, length, b, h = 2000.0, 0.0, 40.0, 6.0, 10.0
    nodes, k = brick_grid((16, 2, 4), (length, b, h), np.linalg.inv(isotropic(e, nu).compliance()))
    load = np.zeros(len(k))
    tip = np.flatnonzero(np.isclose(nodes[:, 0], length))
    # a parabola of shear on the end, as the beam carries it
    z = nodes[tip, 2] / h
    weight = 6 * z * (1 - z) + 1e-9
    load[3 * tip + 2] = weight / weight.sum()
    free = np.repeat(~np.isclose(nodes[:, 0], 0), 3)
    u = np.zeros(len(k))
    u[free] = np.linalg.solve(k[np.ix_(free, free)], load[free])
    got = float(u[3 * tip + 2].mean())
    i, g = b * h**3 / 12, e / 2
    exact = length**3 / (3 * e * i) + length / (5 / 6 * g * b * h)
    return [Check("bricks, thick cantilever", "Timoshenko closed form", exact, got, 0.02)]


def _orthotropic_bar() -> list[Check]:
    m = Orthotropic(6200.0, 2600.0, 2100.0, 800.0, 900.0, 1450.0, 0.36, 0.36, 0.15)
    out = []
    for name, d in (("along the roads", (1, 0, 0)), ("across the layers", (0, 0, 1)), ("45 degrees in the layer", (1, 1, 0)),
                    ("askew to all axes", (2, 1, 1.5))):  # fmt: skip
        a = np.array(d, dtype=float) / np.linalg.norm(d)
        b = np.cross(a, [0.3, -0.5, 0.8])
        b /= np.linalg.norm(b)
        c = turned_stiffness(np.asarray(np.linalg.inv(m.compliance()), dtype=np.float64), np.stack([a, b, np.cross(a, b)]))
        nodes, k = brick_grid((6, 1, 1), (60.0, 5.0, 4.0), c)
        near, far = np.isclose(nodes[:, 0], 0), np.isclose(nodes[:, 0], 60.0)
        load = np.zeros(len(k))
        load[3 * np.flatnonzero(far)] = 1.0 / far.sum()
        load[3 * np.flatnonzero(near)] = -1.0 / near.sum()
        # held only against rigid motion, so that a bar cut askew may shear as it stretches
        k = k + 1e-9 * k.max() * np.eye(len(k))
        u = np.linalg.solve(k, load).reshape(-1, 3)
        stretch = float(u[far, 0].mean() - u[near, 0].mean()) / 60.0
        out.append(Check(f"orthotropic bar {name}", "bricks", 1.0 / 20.0 / stretch, modulus_along(m, a), 0.01, "another method"))
    return out


def _laminate() -> list[Check]:
    e, nu = 2000.0, 0.36
    same = angle_ply(e, e, e / (2 * (1 + nu)), nu, 45.0)
    # a +-45 laminate pulled: by the netting of its stiffnesses 4/Ex = 1/Q-terms; here from U-invariants (Tsai and Pagano)
    e1, e2, g12, nu12 = 6200.0, 2600.0, 1450.0, 0.36
    d = 1 - nu12**2 * e2 / e1
    q11, q22, q12 = e1 / d, e2 / d, nu12 * e2 / d
    u1, u4, u5 = (3 * q11 + 3 * q22 + 2 * q12 + 4 * g12) / 8, (q11 + q22 + 6 * q12 - 4 * g12) / 8, (q11 + q22 - 2 * q12 + 4 * g12) / 8
    u3 = (q11 + q22 - 2 * q12 - 4 * g12) / 8
    a11, a12 = u1 - u3, u4 + u3
    return [
        Check("cover of an even plastic", "its own modulus", e, same.e_mpa, 1e-9),
        Check(
            "cover modulus of filled plastic, +-45",
            "laminate invariants",
            a11 - a12**2 / a11,
            angle_ply(e1, e2, g12, nu12, 45.0).e_mpa,
            1e-6,
        ),
        Check("cover shear modulus, +-45", "laminate invariants", u5 + u3, angle_ply(e1, e2, g12, nu12, 45.0).g_mpa, 1e-6),
    ]


def _squeeze(constants: Floats) -> float:
    """Stiffness of a material against an even stretch of all three directions: I : C : I / 9."""
    e1, e2, e3, *_, nu12, nu13, nu23 = constants
    s = np.array([[1 / e1, -nu12 / e1, -nu13 / e1], [-nu12 / e1, 1 / e2, -nu23 / e2], [-nu13 / e1, -nu23 / e2, 1 / e3]])
    return float(np.linalg.inv(s).sum()) / 9


def _bounds() -> list[Check]:
    table, out = core_table(), []
    p = table["solved_density"]
    k, g = 1 / (3 * (1 - 2 * CELL_POISSON)), 1 / (2 * (1 + CELL_POISSON))
    for pattern in PATTERNS:
        e = table[f"solved_{pattern}_elastic"]
        share = float((e[:, :3].max(axis=1) / p).max())
        out.append(Check(f"core {pattern}: stiffest way over its share of plastic, at most 1", "Voigt bound", 1.0, max(1.0, share), 0.002))
        # the bulk bound holds for every arrangement of plastic and air, isotropic or not
        upper = k + (1 - p) / (-1 / k + 3 * p / (3 * k + 4 * g))
        solid = np.concatenate([np.maximum(e[:, :3], 1e-9), e[:, 3:]], axis=1)
        worst = max(_squeeze(row) / float(u) for row, u in zip(solid, upper, strict=True))
        out.append(
            Check(f"core {pattern}: bulk modulus over its bound, at most 1", "Hashin-Shtrikman", 1.0, max(1.0, worst), 0.01, "published")
        )
    return out


def _closed_forms() -> list[Check]:
    nu, out = CELL_POISSON, []
    for p in (0.05, 0.1):
        s = 1.0 / (1.0 - math.sqrt(1.0 - p))
        # grid: half the walls are pulled; all share one stretch upwards, which holds back half of their narrowing
        exact = (1 / s) / (1 - nu**2 / 2) * (1 + 1 / s)
        out.append(Check(f"core grid {p:.0%}, along its lines", "walls in a row", exact, float(core_ratios("grid", p)[0][0]), 0.05))
        out.append(Check(f"core grid {p:.0%}, upright", "rule of mixtures", p, float(core_ratios("grid", p)[0][2]), 0.05))
        # lines laid crosswise in turn: half of the layers are pulled
        out.append(Check(f"core lines {p:.0%}, along its lines", "half the layers", p / 2, float(core_ratios("lines", p)[0][0]), 0.05))
    # honeycomb: walls bend as wide plates (Gibson and Ashby)
    for p in (0.05, 0.1):
        t = (1 - math.sqrt(1 - p)) * math.sqrt(3.0)
        exact = 4 / math.sqrt(3.0) * t**3 / (1 - nu**2)
        got = float(core_ratios("honeycomb", p)[0][0])
        out.append(Check(f"core honeycomb {p:.0%}, in plane", "bending walls, Gibson and Ashby", exact, got, 0.05, "published"))
    return out


GROUPS = (_patch, _thick_cantilever, _orthotropic_bar, _laminate, _bounds, _closed_forms)
