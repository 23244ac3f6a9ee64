"""Joints, screws and bonded carbon against closed forms and hand sums."""

from __future__ import annotations

import math

import numpy as np
from scipy.integrate import solve_bvp

from fravik.library import adhesive, screw
from fravik.model.joint import Joint
from fravik.model.recipe import Recipe
from fravik.structure.fasteners import INSERT_SHARE, screw_hold
from fravik.structure.inserts import _entered, entry_length_mm
from fravik.structure.joints import RootGeometry, bolt_forces, foundation_end, joint_springs, joint_use

from .check import Check
from .sections import E_MPA, even_plastic

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


def _springs() -> list[Check]:
    f = even_plastic()
    one = joint_springs(Joint(kind="one_piece"), ROOT, f, "typical", Recipe())
    clamp = joint_springs(Joint(kind="clamp", clamp_length_mm=18.0), ROOT, f, "typical", Recipe())
    hinge = joint_springs(Joint(kind="hinge", pin_span_mm=12.0, pin_play_mm=0.06, latch_radius_mm=15.0, latch_play_mm=0.15), ROOT, f,
                          "typical", Recipe())  # fmt: skip
    dove = joint_springs(Joint(kind="dovetail", fit_gap_mm=0.1), ROOT, f, "typical", Recipe())
    return [
        Check("one piece, turn at its root", "O'Donnell", math.pi * E_MPA * 20 * 144 / 16.67, float(one.stiffness[4]), 1e-6),
        Check("clamp, turn of its tube", "k L^3 / 12", 0.8 * E_MPA * 18.0**3 / 12, float(clamp.stiffness[4]), 1e-6),
        Check("hinge, play up and down", "pin play over span", 0.06 / 12, hinge.play_y_rad, 1e-9),
        Check("hinge, play sideways", "latch play over radius", 0.15 / 15, hinge.play_z_rad, 1e-9),
        Check("dovetail, play up and down", "two gaps over length", 0.2 / 28, dove.play_y_rad, 1e-9),
    ]


def _strength() -> list[Check]:
    f = even_plastic()
    # four bolts in a 14 x 18 group under a pure moment: each takes M / (4 r)
    moment = np.array([4000.0])
    nil = np.zeros(1)
    r = math.hypot(7.0, 9.0)
    grip = Joint(kind="bolted", plates="both", screw="M3", fixing="heat_set", engaged_mm=6.0, tightness=0.5, friction=0.25)
    recipe = Recipe(walls=4)
    hold = screw_hold(grip, f, "typical", recipe, True)
    shear = f.t_layer_mpa.typical
    pull = INSERT_SHARE * shear * math.pi * screw("M3").insert_outer_mm * 2.0
    short = screw_hold(grip.model_copy(update={"engaged_mm": 2.0}), f, "typical", recipe, True)
    forces = np.zeros((6, 1))
    forces[5] = 4000.0
    slip = joint_use(grip, ROOT, f, "typical", recipe, forces).slipping
    glue = Joint(kind="glued", adhesive="epoxy_slow")
    lap = joint_use(glue, ROOT, f, "typical", recipe, forces).broken
    polar = 28.0 * 30.0 * (28.0**2 + 30.0**2) / 12
    bond = min(adhesive("epoxy_slow").strength_mpa.typical, f.t_layer_mpa.typical)
    tube = Joint(kind="clamp", tube_mm=10.0, clamp_screws=2, screw="M3", fixing="through", tightness=0.5, friction=0.2)
    twist = np.zeros((6, 1))
    twist[3] = 1000.0
    press = 2 * screw_hold(tube, f, "typical", recipe, True).preload_n
    return [
        Check("bolt group under a moment", "M / (4 r)", 1000.0 / r, float(bolt_forces(ROOT.bolts_mm, nil, nil, moment)[0]), 1e-6),
        Check("heat-set insert, pull", "shear cylinder", pull, short.pull_n, 1e-6),
        Check("bolted tongue, share of its grip", "Coulomb", (1000.0 / r) / (2 * 0.25 * hold.preload_n), float(slip[0]), 1e-6),
        Check(
            "clamp, share of its grip in twist",
            "mu P d",
            1000.0 / (0.2 * press * 10.0),
            float(joint_use(tube, ROOT, f, "typical", recipe, twist).slipping[0]),
            1e-6,
        ),
        Check("glued lap in twist", "M r / J", 4000.0 * math.hypot(28.0, 30.0) / 2 / polar / bond, float(lap[0]), 1e-6),
    ]


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
    return [Check("carbon's share 1.5 entry lengths from its end", "shear-lag equation", float(run.sol(at)[1]), float(share[0]), 0.02)]


GROUPS = (_foundation, _springs, _strength, _shear_lag)
