"""Joints and bonded carbon against closed forms and other methods."""

from __future__ import annotations

import numpy as np
from scipy.integrate import solve_bvp

from fravik.model.joint import Joint
from fravik.model.recipe import Recipe
from fravik.structure.inserts import _entered, entry_length_mm
from fravik.structure.joints import RootGeometry, bolt_forces, foundation_end, joint_springs
from fravik.structure.planestress import built_in_turn

from .check import Check
from .sections import E_MPA, NU, even_plastic

ROOT = RootGeometry(20.0, 12.0, 28.0, 30.0, ((-7.0, -9.0), (-7.0, 9.0), (-21.0, -9.0), (-21.0, 9.0)), 3.2)


def _foundation() -> list[Check]:
    ei, k = 5e6, 400.0
    beta = (k / (4 * ei)) ** 0.25
    long = foundation_end(ei, k, 6 / beta, 60)
    short = foundation_end(1e12, k, 20.0, 20)
    return [
        Check("long tongue on its bed, sag of a force", "Hetenyi 2b/k", 2 * beta / k, float(long[0, 0]), 0.01),
        Check("long tongue on its bed, slope of a force", "Hetenyi 2b^2/k", 2 * beta**2 / k, abs(float(long[0, 1])), 0.01),
        Check("long tongue on its bed, slope of a moment", "Hetenyi 4b^3/k", 4 * beta**3 / k, float(long[1, 1]), 0.01),
        Check("stiff tongue on its bed, sag of a force", "rigid block 4/(kL)", 4 / (k * 20.0), float(short[0, 0]), 0.01),
        Check("stiff tongue on its bed, slope of a moment", "rigid block 12/(kL^3)", 12 / (k * 20.0**3), float(short[1, 1]), 0.01),
    ]


def _bolt_group() -> list[Check]:
    """An uneven group under pull, push and moment, as a rigid plate on springs solved by its three motions."""
    bolts = np.array([(-6.0, -11.0), (-8.0, 7.0), (-19.0, -5.0), (-23.0, 10.0), (-14.0, 2.0)])
    pull, side, moment = 40.0, -25.0, 1500.0
    # motions u, v, turn of the root; every bolt is a spring of one N/mm both ways
    rows = np.concatenate([[[1.0, 0.0, -y], [0.0, 1.0, x]] for x, y in bolts])
    moved = rows @ np.linalg.solve(rows.T @ rows, [pull, side, moment])
    worst = float(np.hypot(moved[0::2], moved[1::2]).max())
    got = float(bolt_forces(tuple(map(tuple, bolts.tolist())), np.array([pull]), np.array([side]), np.array([moment]))[0])
    return [Check("uneven bolt group, largest bolt force", "rigid plate on springs", worst, got, 1e-6, "another method")]


def _root_in_a_half_plane() -> list[Check]:
    """How much a deep bar built into a wide body turns at its root beyond its own bending, from a fine plane model."""
    extra = built_in_turn(10.0, 60.0, E_MPA, NU)
    one = joint_springs(Joint(kind="one_piece"), ROOT, even_plastic(), "typical", Recipe())
    # the joint's sideways turn is that of its bar of depth b in plane stress, per unit of thickness
    got = ROOT.height_mm * ROOT.width_mm**2 / float(one.stiffness[5])
    return [Check("one piece, turn at its root", "fine plane model", extra * 10.0**2, got, 0.25, "another method")]


def _shear_lag() -> list[Check]:
    e, area, gap, g, p, long = 120000.0, 10.0, 0.15, 900.0, 12.0, 60.0
    entry = entry_length_mm(e, area, gap, g, p)
    # bar on a stiff bed that is stretched evenly: E A u'' = G p / t (u - eps x), free ends
    k = g * p / gap / (e * area)

    def ode(x: np.ndarray, y: np.ndarray) -> np.ndarray:
        return np.stack([y[1], k * (y[0] - x)])

    x = np.linspace(0, long, 400)
    run = solve_bvp(ode, lambda a, b: np.array([a[1], b[1]]), x, np.stack([x, np.ones_like(x)]), tol=1e-6)
    at = 1.5 * entry
    _, share = _entered(np.array([at]), 0.0, long, entry)
    return [
        Check(
            "carbon's share 1.5 entry lengths from its end",
            "shear-lag equation",
            float(run.sol(at)[1]),
            float(share[0]),
            0.02,
            "another method",
        )
    ]


GROUPS = (_foundation, _bolt_group, _root_in_a_half_plane, _shear_lag)
