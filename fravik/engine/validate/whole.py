"""The whole craft: condensed against frames put together by hand, free in the air, with turning rotors."""

from __future__ import annotations

import math

import numpy as np
from scipy.integrate import solve_ivp
from scipy.linalg import block_diag, eigh

from fravik.printing.zones import Floats
from fravik.structure.beams import BeamLine, element_matrices
from fravik.structure.cases import on_few_feet
from fravik.structure.craft.assemble import Carried, Craft, Placed, Spring, assemble
from fravik.structure.craft.element import Port, SuperElement, condense, uncondensed
from fravik.structure.craft.free import free_modes, gyroscopic, push, relieve, seen_from, whirl_hz

from .check import Check

PIECES, LENGTH, RADIUS = 20, 110.0, 48.0
HUB, ROTOR = 500e-6, 53e-6
HUB_INERTIA, ROTOR_INERTIA = np.diag([0.3, 0.4, 0.6]), np.diag([4e-3, 4e-3, 6e-3])
JOINT = np.diag([2e4, 2e4, 2e4, 2e6, 1e6, 1e6])
ROTOR_UP = 12.0


def _line(length: float, pieces: int, wide: float = 18.0, high: float = 10.0, e: float = 2000.0, rho: float = 1.27e-9) -> BeamLine:
    one, g = np.ones(pieces), e / 2.6
    a, twist = wide * high, wide * high**3 * (1 / 3 - 0.21 * high / wide)
    return BeamLine(
        np.linspace(0, length, pieces + 1), e * a * one, e * wide * high**3 / 12 * one, e * high * wide**3 / 12 * one, g * twist * one,
        g * a * 5 / 6 * one, g * a * 5 / 6 * one, rho * a * one, rho * (wide * high**3 + high * wide**3) / 12 * one,
    )  # fmt: skip


def bar(line: BeamLine) -> SuperElement:
    """A straight bar with all its nodes; ports ``base`` and ``end``."""
    ke, me = element_matrices(line)
    n = len(line.nodes_mm)
    k, m = np.zeros((6 * n, 6 * n)), np.zeros((6 * n, 6 * n))
    for i in range(n - 1):
        at = slice(6 * i, 6 * i + 12)
        k[at, at] += ke[i]
        m[at, at] += me[i]
    nodes = np.zeros((n, 3))
    nodes[:, 0] = line.nodes_mm
    return uncondensed(np.stack([0.8 * k, k, 1.3 * k]), m, nodes, {"base": 0, "end": n - 1})


def point() -> SuperElement:
    """A rigid point without mass, to carry things."""
    return SuperElement(np.zeros((3, 6, 6)), np.zeros((6, 6)), np.eye(6), {"at": Port(np.zeros(3), np.eye(6))}, np.zeros((1, 3)), np.eye(6))


def pose(azimuth_rad: float, radius_mm: float, z_mm: float = 0.0) -> Floats:
    """(4, 4) at a radius, looking outwards."""
    c, s = math.cos(azimuth_rad), math.sin(azimuth_rad)
    out = np.eye(4)
    out[:2, :2], out[:3, 3] = [[c, -s], [s, c]], (radius_mm * c, radius_mm * s, z_mm)
    return out


def around(arms: int) -> list[float]:
    """Directions of arms all as far apart."""
    return [2 * math.pi * (k + 0.5) / arms for k in range(arms)]


def star(arm: SuperElement, arms: int) -> Craft:
    """A hub with arms on springs, each with a rotor at its end."""
    placed = [Placed("hub", point(), np.eye(4))]
    springs, bodies = [], [Carried(("hub", "at"), HUB, HUB_INERTIA, np.array([3.0, 0.0, 5.0]))]
    for k, a in enumerate(around(arms)):
        placed.append(Placed(f"arm_{k}", arm, pose(a, RADIUS)))
        springs.append(Spring((f"arm_{k}", "base"), ("hub", "at"), np.zeros(3), np.stack([0.8 * JOINT, JOINT, 1.3 * JOINT])))
        bodies.append(Carried((f"arm_{k}", "end"), ROTOR, ROTOR_INERTIA, pose(a, RADIUS + LENGTH, ROTOR_UP)[:3, 3]))
    return assemble(placed, springs, bodies)


def _by_hand(arms: int) -> tuple[Floats, Floats, Floats]:
    """Stiffness and mass of the same frame put together node by node in craft axes, and its rigid motions; the hub comes first."""
    line, n = _line(LENGTH, PIECES), PIECES + 1
    ke, me = element_matrices(line)
    size = 6 + 6 * n * arms
    k, m, rigid = np.zeros((size, size)), np.zeros((size, size)), np.zeros((size, 6))

    def skew(v: Floats) -> Floats:
        return np.array([[0.0, -v[2], v[1]], [v[2], 0.0, -v[0]], [-v[1], v[0], 0.0]])

    def lump(node: int, mass: float, inertia: Floats, offset: Floats) -> None:
        s = skew(offset)
        m[node : node + 6, node : node + 6] += np.block([[mass * np.eye(3), -mass * s], [mass * s, inertia - mass * s @ s]])

    lump(0, HUB, HUB_INERTIA, np.array([3.0, 0.0, 5.0]))
    rigid[:6] = np.eye(6)
    for arm, a in enumerate(around(arms)):
        turn = np.array([[math.cos(a), math.sin(a), 0.0], [-math.sin(a), math.cos(a), 0.0], [0.0, 0.0, 1.0]])
        both, four = block_diag(turn, turn), block_diag(turn, turn, turn, turn)
        first = 6 + 6 * n * arm
        for i in range(PIECES):
            at = slice(first + 6 * i, first + 6 * i + 12)
            k[at, at] += four.T @ ke[i] @ four
            m[at, at] += four.T @ me[i] @ four
        for i, x in enumerate(line.nodes_mm):
            place = turn.T @ np.array([RADIUS + x, 0.0, 0.0])
            rigid[first + 6 * i : first + 6 * i + 6] = np.block([[np.eye(3), -skew(place)], [np.zeros((3, 3)), np.eye(3)]])
        root = turn.T @ np.array([RADIUS, 0.0, 0.0])
        reach = np.zeros((6, size))
        reach[:, first : first + 6] = np.eye(6)
        reach[:, :6] = -np.block([[np.eye(3), -skew(root)], [np.zeros((3, 3)), np.eye(3)]])
        k += reach.T @ both.T @ JOINT @ both @ reach
        lump(size - 6 * n * (arms - arm) + 6 * (n - 1), ROTOR, ROTOR_INERTIA, np.array([0.0, 0.0, ROTOR_UP]))
    return k, m, rigid


def _condensed() -> list[Check]:
    out = []
    arm = condense(bar(_line(LENGTH, PIECES)))
    for arms in (2, 4):
        craft = star(arm, arms)
        k, m, rigid = _by_hand(arms)
        shift = (2 * math.pi * 20.0) ** 2
        exact = np.sqrt(eigh(k + shift * m, m, eigvals_only=True, subset_by_index=(6, 15)) - shift) / (2 * math.pi)
        got = free_modes(craft, 10)
        worst = int(np.argmax(np.abs(got.freqs_hz[:10] / exact - 1)))
        name = {2: "two-arm", 4: "four-arm"}[arms]
        out.append(Check(f"{name} craft condensed, first mode, Hz", "frame put together node by node", float(exact[0]),
                         float(got.freqs_hz[0]), 0.01, "another method"))  # fmt: skip
        out.append(Check(f"{name} craft condensed, worst of ten modes, Hz", "frame put together node by node", float(exact[worst]),
                         float(got.freqs_hz[worst]), 0.01, "another method"))  # fmt: skip
        # one rotor pushes up: the frame is held at its hub by nothing but its own inertia
        load = np.zeros(len(k))
        load[6 + 6 * PIECES + 2] = 6.0
        net = load - m @ rigid @ np.linalg.solve(rigid.T @ m @ rigid, rigid.T @ load)
        u = np.zeros(len(k))
        u[6:] = np.linalg.solve(k[6:, 6:], net[6:])
        given = relieve(craft, push(craft, ("arm_0", "end"), np.array([0, 0, 6.0, 0, 0, 0]))[:, None], ("hub", "at"))
        rise = float(seen_from(craft, given.q[1], ("hub", "at"), ("arm_0", "end"))[2, 0])
        out.append(Check(f"{name} craft condensed, rise of a rotor pushed up, mm", "frame put together node by node",
                         float(u[6 + 6 * PIECES + 2]), rise, 0.005, "another method"))  # fmt: skip
    return out


def _free() -> list[Check]:
    craft = star(condense(bar(_line(LENGTH, PIECES))), 4)
    modes = free_modes(craft, 10)
    loads = np.stack([push(craft, (f"arm_{k}", "end"), np.array([0.3, 0.0, 6.0, 0.0, 0.0, 40.0 * (-1) ** k])) for k in range(4)], axis=1)
    one = relieve(craft, loads, ("hub", "at"))
    every = np.sum([push(craft, (f"arm_{k}", "end"), np.array([0, 0, 6.0, 0, 0, 0])) for k in range(4)], axis=0)
    up = relieve(craft, every[:, None], ("hub", "at"))
    level = [float(seen_from(craft, up.q[1], ("hub", "at"), (f"arm_{k}", "end"))[2, 0]) for k in range(4)]
    mass = HUB + 4 * ROTOR + 4 * 18 * 10 * LENGTH * 1.27e-9
    accel = up.acceleration[:, 0]
    # the hub's mass centre is off the middle, so the craft pitches as well: its mass centre's own acceleration is the thrust over the mass
    com = HUB * np.array([3.0, 0.0]) / mass
    there = accel[2] + accel[3] * com[1] - accel[4] * com[0]
    return [
        Check("free craft, rigid modes below its first elastic one", "six motions that bend nothing", 1.0,
              1.0 + float(modes.rigid_hz.max() / modes.freqs_hz[0]), 1e-4),
        Check("inertia relief, what is left to hold the craft", "a free body needs no hold", 1.0,
              1.0 + float(np.abs(one.left).max() / np.abs(loads).max()), 1e-9),
        Check("inertia relief, acceleration of the mass centre, mm/s2", "Newton", 24.0 / mass, float(there), 1e-9),
        Check("symmetric craft, rotors of either side", "the same on both", level[0], level[3], 1e-9),
    ]  # fmt: skip


def _grounded(craft: Craft, ground: int, load: Floats) -> Floats:
    """(n,) movement with the first coordinates held."""
    u = np.zeros(craft.size)
    u[ground:] = np.linalg.solve(craft.k[1][ground:, ground:], load[ground:])
    return u


def _frames() -> list[Check]:
    h, wide, e, b, t = 120.0, 160.0, 2000.0, 10.0, 12.0
    # shear and stretch aside, as the closed forms have it
    stiff = {"ga_up_n": 1e12 * np.ones(PIECES), "ga_side_n": 1e12 * np.ones(PIECES), "ea_n": 1e9 * np.ones(PIECES)}
    post, beam = (
        condense(bar(BeamLine(**{**vars(_line(x, PIECES, b, t, e)), **stiff}))) for x in (h, wide)
    )  # fmt: skip
    upright = np.eye(4)
    upright[:3, :3] = [[0.0, 0.0, -1.0], [0.0, 1.0, 0.0], [1.0, 0.0, 0.0]]
    other, over = upright.copy(), np.eye(4)
    other[0, 3], over[2, 3] = wide, h
    tight = np.stack([1e10 * np.eye(6)] * 3)
    portal = assemble(
        [Placed("ground", point(), np.eye(4)), Placed("near", post, upright, ("base", ("ground", "at"))),
         Placed("far", post, other, ("base", ("ground", "at"))), Placed("beam", beam, over, ("base", ("near", "end")))],
        [Spring(("beam", "end"), ("far", "end"), np.array([wide, 0.0, 0.0]), tight)],
    )  # fmt: skip
    sway = _grounded(portal, 6, push(portal, ("near", "end"), np.array([10.0, 0, 0, 0, 0, 0])))
    i = b * t**3 / 12
    k = h / wide
    exact = 10.0 * h**3 / (12 * e * i) * (3 * k + 2) / (6 * k + 1)
    out = [Check("portal frame, sway under a push at its corner, mm", "slope deflection: H h^3 (3k + 2) / (12 EI (6k + 1))", exact,
                 float((portal.motion(("near", "end")) @ sway)[0]), 0.005)]  # fmt: skip
    # two beams that cross at their middles, all four ends simply held, pushed down where they cross
    half = condense(bar(BeamLine(**{**vars(_line(wide / 2, PIECES, b, t, e)), **stiff})))
    pinned = np.stack([np.diag([1e8, 1e8, 1e8, 0.0, 0.0, 0.0])] * 3)
    cross = assemble(
        [Placed("ground", point(), np.eye(4)), Placed("middle", point(), np.eye(4)),
         *(Placed(f"half_{q}", half, pose(q * math.pi / 2, 0.0), ("base", ("middle", "at"))) for q in range(4))],
        [Spring((f"half_{q}", "end"), ("ground", "at"), np.array([wide / 2, 0.0, 0.0]), pinned) for q in range(4)],
    )  # fmt: skip
    down = _grounded(cross, 6, push(cross, ("middle", "at"), np.array([0, 0, -20.0, 0, 0, 0])))
    out.append(Check("grillage of two crossing beams, mm", "each carries half: P L^3 / (96 EI)", 20.0 * wide**3 / (96 * e * i),
                     -float((cross.motion(("middle", "at")) @ down)[2]), 0.005))  # fmt: skip
    return out


def _whirl() -> list[Check]:
    """A disc on a light upright mast: its four whirls are the roots of a quartic (both planes as one complex coordinate)."""
    mast, length, e, side = _line(80.0, PIECES, 8.0, 8.0, 2000.0, 1e-16), 80.0, 2000.0, 8.0
    mast = BeamLine(**{**vars(mast), "ga_up_n": 1e12 * np.ones(PIECES), "ga_side_n": 1e12 * np.ones(PIECES)})
    mass, flat, momentum = 50e-6, 0.03, 40.0
    upright = np.eye(4)
    upright[:3, :3] = [[0.0, 0.0, -1.0], [0.0, 1.0, 0.0], [1.0, 0.0, 0.0]]
    craft = assemble(
        [Placed("ground", point(), np.eye(4)), Placed("mast", condense(bar(mast), 0), upright, ("base", ("ground", "at")))], (),
        [Carried(("ground", "at"), 1e3, 1e9 * np.eye(3), np.zeros(3)),
         Carried(("mast", "end"), mass, np.diag([flat, flat, 0.06]), np.array([0.0, 0.0, length]))],
    )  # fmt: skip
    modes = free_modes(craft, 6)
    got = whirl_hz(modes, gyroscopic(craft, [(("mast", "end"), np.array([0.0, 0.0, momentum]))]))
    i = side**4 / 12
    k11, k12, k22 = 12 * e * i / length**3, -6 * e * i / length**2, 4 * e * i / length
    # (k11 - m w2)(k22 - I w2 + H w) = k12^2
    roots = np.roots([mass * flat, -mass * momentum, -(mass * k22 + flat * k11), momentum * k11, k11 * k22 - k12**2])
    exact = np.sort(np.abs(roots.real)) / (2 * math.pi)
    found = [float(got[np.argmin(np.abs(got - f))]) for f in exact]
    return [
        Check("disc on a mast, slow whirl backwards, Hz", "roots of the quartic of Stodola's disc", float(exact[0]), found[0], 0.01),
        Check("disc on a mast, slow whirl forwards, Hz", "roots of the quartic of Stodola's disc", float(exact[1]), found[1], 0.01),
        Check("disc on a mast, fast whirl backwards, Hz", "roots of the quartic of Stodola's disc", float(exact[2]), found[2], 0.01),
        Check("disc on a mast, how far its slow whirls are split", "roots of the quartic of Stodola's disc",
              float(exact[1] / exact[0]), found[1] / found[0], 0.01),
    ]  # fmt: skip


def _feet() -> list[Check]:
    """A rigid craft with its mass off the middle comes down level at 1 m/s on one spring, or on two, stepped in time."""
    mass, inertia = 0.91, np.array([[2.1e-3, 1e-4, 0.0], [1e-4, 2.8e-3, 0.0], [0.0, 0.0, 4.2e-3]])
    toes = np.array([[33.0, 34.0, -68.0], [-35.0, 34.0, -68.0], [-35.0, -34.0, -68.0], [33.0, -34.0, -68.0]])
    com, k = np.array([6.0, 2.0, 15.0]), 42.0
    about = np.linalg.inv(inertia)

    def landed(on: tuple[int, ...]) -> float:
        arms = (toes[list(on)] - com) * 1e-3

        def fall(t: float, y: np.ndarray) -> np.ndarray:
            # sinking z and turns about x and y; every foot presses as far as it has sunk
            sunk = y[0] - (y[1] * arms[:, 1] - y[2] * arms[:, 0])
            force = k * 1e3 * sunk
            turn = about @ np.array([(arms[:, 1] * force).sum(), (-arms[:, 0] * force).sum(), 0.0])
            return np.concatenate([y[3:], [-force.sum() / mass, turn[0], turn[1]]])

        # until the first foot lifts off again
        end = solve_ivp(fall, (0.0, 0.012), [0, 0, 0, 1.0, 0, 0], rtol=1e-9, atol=1e-12, max_step=2e-5)
        sunk = end.y[0] - (np.outer(arms[:, 1], end.y[1]) - np.outer(arms[:, 0], end.y[2]))
        return float(k * 1e3 * sunk.max())

    two, one = (float(v.max()) for v in on_few_feet(mass * 1e3, com, inertia * 1e9, toes, k))
    return [
        Check("landing on one foot, peak force per m/s, N", "rigid craft stepped in time, the worst of four feet",
              max(landed((i,)) for i in range(4)), one, 0.005, "another method"),
        Check("landing on two feet, peak force per m/s, N", "rigid craft stepped in time, the worst of four pairs",
              max(landed((i, (i + 1) % 4)) for i in range(4)), two, 0.08, "another method"),
    ]  # fmt: skip


GROUPS = (_condensed, _free, _frames, _whirl, _feet)
