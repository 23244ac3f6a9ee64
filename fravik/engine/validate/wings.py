"""Wings: the lifting line against Glauert's series, spars against closed forms, rotors in streams against momentum's limits, balance
left over,
flight without drag against energy, teeth against a sum by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from fravik.flight.aero.aerofoils import Section, flap_effect, own_section, thin_aerofoil
from fravik.flight.aero.corridor import corridor
from fravik.flight.aero.flyer import BodyPlan, Flyer, RotorPlan
from fravik.flight.aero.liftline import arrays_of, solve_strips, strip_forces
from fravik.flight.aero.simulate import OVER, PITCH, STATES, VX, VZ, Plan, Z, fly_plan
from fravik.flight.aero.strips import Flap, PanelPlan, Strips, strips_of
from fravik.flight.aero.trim import C_RESIDUAL, FLIES
from fravik.power.bem import RHO
from fravik.power.oblique import disk, inflow, most_n, shaft_w, turns
from fravik.power.polars import ANGLES_DEG
from fravik.printing.zones import Floats
from fravik.shape.wing import four_digit
from fravik.structure.spar import HalfWing, SkinTube, bent, divergence_mpa, outline_worth, reversal_mpa, spar_section, swings_hz

from .check import Check

SLOPE = 2 * math.pi
SPAN_M, ATTACK_RAD, STRIPS, TERMS = 1.0, 0.08, 32, 160
G = 9.80665


def straight_lift(s: Strips, slope: float = SLOPE) -> Strips:
    """The same strips with thin aerofoil lift and no drag."""
    lift = np.broadcast_to(slope * np.radians(ANGLES_DEG), s.lift.shape).copy()
    return replace(s, lift=lift, drag=np.zeros_like(lift), moment=np.zeros_like(lift))


def glauert(aspect: float, taper: float, attack: float, washout: float = 0.0, elliptic: bool = False) -> tuple[float, float]:
    """Lift and induced drag coefficients of a wing whose quarter chord is straight, by Glauert's series (1926), odd terms."""
    theta = (np.arange(TERMS) + 0.5) * math.pi / 2 / TERMS
    y = np.abs(np.cos(theta))
    root = 2 * SPAN_M / (aspect * (1 + taper)) if not elliptic else 4 * SPAN_M / (math.pi * aspect)
    chord = root * (1 - (1 - taper) * y) if not elliptic else root * np.sin(theta)
    mu, k = chord * SLOPE / (4 * SPAN_M), 2 * np.arange(TERMS) + 1
    a = np.linalg.solve(
        np.sin(np.outer(theta, k)) * (np.sin(theta)[:, None] + mu[:, None] * k), mu * np.sin(theta) * (attack - washout * y)
    )
    return math.pi * aspect * float(a[0]), math.pi * aspect * float((k * a**2).sum())


def _wing(aspect: float, taper: float, washout: float = 0.0, elliptic: bool = False) -> Strips:
    half = SPAN_M / 2
    if elliptic:
        root = 4 * SPAN_M / (math.pi * aspect)
        ends = half * np.sin(np.linspace(0.0, math.pi / 2, 25))
        chords = root * np.sqrt(np.maximum(1 - (ends / half) ** 2, 1e-5))
        panels = [PanelPlan(f"p{i:02d}", (c0 / 4, a, 0.0), (c1 / 4, b, 0.0), c0, c1, 0.0, 0.0, Section(0.12, 0.0))
                  for i, (a, b, c0, c1) in enumerate(zip(ends, ends[1:], chords, chords[1:], strict=False))]  # fmt: skip
        return straight_lift(strips_of([panels], [STRIPS]))
    root = 2 * SPAN_M / (aspect * (1 + taper))
    tip = taper * root
    panel = PanelPlan("p", (root / 4, 0.0, 0.0), (tip / 4, half, 0.0), root, tip, 0.0, -washout, Section(0.12, 0.0))
    return straight_lift(strips_of([[panel]], [STRIPS]))


def coefficients(s: Strips, attack: float) -> tuple[float, float]:
    """Lift and drag coefficients of both halves."""
    a, n = arrays_of(s), len(s.chord_m)
    ahead, up, none = np.full(n, math.cos(attack)), np.full(n, math.sin(attack)), np.zeros(n)
    _, w, _ = solve_strips(a, ahead, up, s.angle_rad, none, none)
    fx, fz, *_ = strip_forces(a, ahead, up, s.angle_rad, none, w)
    x, z, area = float((fx * s.width_m).sum()), float((fz * s.width_m).sum()), float(s.area_m2.sum())
    c, sn = math.cos(attack), math.sin(attack)
    return (z * c + x * sn) / (0.5 * area), (z * sn - x * c) / (0.5 * area)


def _lines() -> list[Check]:
    out = []
    for name, aspect, taper, washout, elliptic in (
        ("elliptic wing", 7.0, 1.0, 0.0, True), ("rectangular wing", 6.0, 1.0, 0.0, False), ("tapered wing", 8.0, 0.5, 0.0, False),
        ("slender tapered wing", 12.0, 0.4, 0.0, False), ("wing with washout", 8.0, 0.6, 0.05, False),
    ):  # fmt: skip
        lift, drag = coefficients(_wing(aspect, taper, washout, elliptic), ATTACK_RAD)
        if elliptic:
            known = SLOPE / (1 + 2 / aspect) * ATTACK_RAD
            want = known, known**2 / (math.pi * aspect)
            by = "closed form"
        else:
            want, by = glauert(aspect, taper, ATTACK_RAD, washout), "Glauert's series"
        out.append(Check(f"{name}: lift", by, want[0], lift, 0.01))
        out.append(Check(f"{name}: induced drag", by, want[1], drag, 0.01))
    steep, _ = coefficients(_wing(40.0, 1.0), ATTACK_RAD)
    slope = (steep - coefficients(_wing(40.0, 1.0), 0.0)[0]) / ATTACK_RAD
    out.append(Check("lift slope of a very slender wing", "Glauert's series", glauert(40.0, 1.0, ATTACK_RAD)[0] / ATTACK_RAD, slope, 0.01))
    return out


def _sections() -> list[Check]:
    theta = np.linspace(0.0, math.pi, 2001)
    x = (1 - np.cos(theta)) / 2
    no_lift, moment = thin_aerofoil(4 * 0.03 * (1 - 2 * x), theta)
    turn, nose = flap_effect(0.25)
    found = own_section(four_digit(0.11, 0.05, 400))
    return [
        Check("parabola: angle of no lift", "-2 f, thin aerofoil theory by hand", -0.06, no_lift, 1e-3, "hand sum"),
        Check("parabola: moment", "-pi f", -math.pi * 0.03, moment, 1e-3, "hand sum"),
        Check("flap of a quarter chord: turn", "Glauert 1927, table", 0.609, turn, 0.005, "published"),
        Check("flap of a quarter chord: moment", "-sin h (1 - cos h) / 2 at h = 120°", -0.75 * math.sqrt(3) / 2, nose, 1e-6, "hand sum"),
        Check("own coordinates: thickness", "what they were drawn with", 0.11, found.thickness, 0.01),
        Check("own coordinates: camber", "what they were drawn with, its thickness across the middle line", 0.05, found.camber, 0.05),
    ]


def _even(pieces: int = 40) -> HalfWing:
    each = np.ones(pieces)
    return HalfWing(
        np.linspace(0.0, 1000.0, pieces + 1), 1e9 * each, 5e8 * each, 200.0 * each, 0.4 * each, 1e-6 * each, np.zeros(0), np.zeros(0)
    )


def _spars() -> list[Check]:
    h = _even()
    ei, gj, long, chord, off, mass = 1e9, 5e8, 1000.0, 200.0, 0.15, 1e-6
    b = bent(h, np.full(40, 0.02), np.full(40, 3.0))
    bending, twist = swings_hz(h)
    lump = replace(h, lump_t=np.array([2e-3]), lump_mm=np.array([long]))
    heavy = swings_hz(lump)[0][0]
    q = divergence_mpa(h, 5.5)
    turned = reversal_mpa(h, 5.5, np.full(40, 2.0), np.full(40, -0.6), 10.0)
    x = _reversal_by_series(5.5, 2.0, -0.6, off)
    tube = SkinTube(outline_worth(_ring(40.0, 720)), 0.5, 1000.0, 300.0, 10.0, (), (), True, False)
    s = spar_section(tube)
    with_tube = spar_section(replace(tube, tubes=((0.0, 0.0, 10.0, 8.0, 80000.0, 7000.0, 500.0),)))
    second = math.pi / 64 * (10.0**4 - 8.0**4)
    return [
        Check("even spar under an even load: tip", "q L^4 / 8 EI", 0.02 * long**4 / 8 / ei, float(b.down_mm[-1]), 0.01),
        Check("its moment at the root", "q L^2 / 2", 0.02 * long**2 / 2, float(b.moment_nmm[0]), 0.01),
        Check("its twist under an even torque", "t L^2 / 2 GJ", 3 * long**2 / 2 / gj, float(b.twist_rad[-1]), 0.01),
        Check("its first bending", "3.5160 sqrt(EI/m)/L^2", 3.5160 / (2 * math.pi) * math.sqrt(ei / mass) / long**2, float(bending[0]),
            0.01),
        Check("its second bending", "22.034", 22.034 / (2 * math.pi) * math.sqrt(ei / mass) / long**2, float(bending[1]), 0.01),
        Check("its first twist", "sqrt(GJ/I)/4L", math.sqrt(gj / (mass * 50.0**2)) / (4 * long), float(twist[0]), 0.01),
        Check("with twice its mass at the tip", "exact frequency equation",
            _heavy_tip(2.0) ** 2 / (2 * math.pi) * math.sqrt(ei / mass) / long**2,
              float(heavy), 0.01),
        Check("divergence of an even wing", "(pi/2L)^2 GJ / (e c^2 a)", (math.pi / (2 * long)) ** 2 * gj / (off * chord**2 * 5.5), q, 0.01),
        Check("reversal of ailerons over the whole span", "closed form of its equation of twist",
            x * gj / (off * chord**2 * 5.5 * long**2), turned,
              0.01),
        Check("thin ring: EI", "pi R^3 t E", math.pi * 40.0**3 * 0.5 * 1000.0, s.ei, 0.01),
        Check("thin ring: GJ", "2 pi R^3 t G", 2 * math.pi * 40.0**3 * 0.5 * 300.0, s.gj, 0.01),
        Check("a glued tube in its middle adds its own", "pi/64 (D^4 - d^4) E", second * 80000.0, with_tube.ei - s.ei, 0.01),
        Check("and in twist", "pi/32 (D^4 - d^4) G", 2 * second * 7000.0, with_tube.gj - s.gj, 0.01),
    ]  # fmt: skip


def _ring(radius: float, points: int) -> Floats:
    t = np.linspace(0.0, 2 * math.pi, points, endpoint=False)
    return np.column_stack([radius * np.cos(t), radius * np.sin(t)])


def _heavy_tip(ratio: float) -> float:
    """Root of the frequency equation of a cantilever with a mass at its tip, by bisection."""
    low, high = 0.2, 1.87
    for _ in range(80):
        b = (low + high) / 2
        f = 1 + math.cos(b) * math.cosh(b) + ratio * b * (math.cos(b) * math.sinh(b) - math.sin(b) * math.cosh(b))
        low, high = (b, high) if f > 0 else (low, b)
    return low


def _reversal_by_series(slope: float, lift: float, moment: float, off: float) -> float:
    """k^2 L^2, k^2 = q e c^2 a / GJ, at which rolling moment is nothing: theta'' + k^2 (theta + p) = 0 with p what the surface's torque
    is over
    the wing's own a radian; theta = p (cos k(L - y) / cos kL - 1); moment of roll: lift L^2/2 + a times the integral of y theta."""
    p = (moment + off * lift) / (slope * off)

    def roll(k: float) -> float:
        y = np.linspace(0.0, 1.0, 4001)
        theta = p * (np.cos(k * (1 - y)) / math.cos(k) - 1)
        return lift / 2 + slope * float(np.trapezoid(y * theta, y))

    low, high = 1e-3, 0.999 * math.pi / 2
    for _ in range(80):
        k = (low + high) / 2
        low, high = (k, high) if roll(k) > 0 else (low, k)
    return low**2


def _rotors() -> list[Check]:
    d = disk(0.23, 0.115, 0.105, 0.6, 14.8, 900.0, 0.09, 0.8)
    thrust = 5.0
    still = math.sqrt(thrust / (2 * RHO * d.area))
    fast = inflow(thrust, d.area, 0.0, 40.0)
    along = inflow(thrust, d.area, 12.0, 0.0)
    v = inflow(thrust, d.area, 0.0, 0.0)
    w = turns(d, thrust, 0.0, 0.0, v)
    n = math.sqrt(thrust / (0.105 * RHO * 0.23**4))
    ideal = thrust * still
    most = most_n(d, 0.0, 0.0)
    v2 = inflow(most, d.area, 0.0, 0.0)
    w2 = turns(d, most, 0.0, 0.0, v2)
    amps = (d.volts - w2 / d.kv) / d.ohm
    return [
        Check("inflow standing", "sqrt(T / 2 rho A)", still, v, 1e-6, "hand sum"),
        Check("inflow in axial flight", "-V/2 + sqrt(V^2/4 + v^2)", -6.0 + math.sqrt(36.0 + still**2), along, 1e-6, "hand sum"),
        Check("inflow far across the disk", "Glauert's limit T / 2 rho A V", thrust / (2 * RHO * d.area * 40.0), fast, 0.01),
        Check("turns standing", "sqrt(T / C rho D^4)", 2 * math.pi * n, w, 1e-6, "hand sum"),
        Check("power standing", "ideal over the figure of merit", ideal / 0.6, shaft_w(d, thrust, 0.0, 0.0, v, w), 1e-6, "hand sum"),
        Check(
            "most thrust: shaft power",
            "what the motor has",
            (amps - d.idle_a) / d.kv * w2,
            shaft_w(d, most, 0.0, 0.0, v2, w2),
            1e-6,
            "hand sum",
        ),
    ]


def plain_flyer() -> Flyer:
    """A craft with two tilting rotors, a fixed tail rotor, wing and tail."""
    front, tail = disk(0.23, 0.115, 0.11, 0.6, 14.0, 900.0, 0.09, 0.8), disk(0.18, 0.09, 0.11, 0.6, 14.0, 1300.0, 0.09, 0.8)
    wing = PanelPlan("wing", (0.06, 0.0, 0.0), (0.04, 0.55, 0.02), 0.19, 0.14, 0.05, 0.02, Section(0.12, 0.04))
    plane = PanelPlan("tail", (-0.42, 0.0, 0.05), (-0.44, 0.22, 0.05), 0.11, 0.09, -0.02, -0.02, Section(0.08, 0.0),
                      Flap(0.4, 0.0, 1.0, 0.4, True, False, False))  # fmt: skip
    rotors = [
        RotorPlan(name, np.array([0.12, y, 0.06]), front, 0.0, np.array([0.12, y, 0.03]), 1.0) for name, y in (("l", 0.3), ("r", -0.3))
    ]
    rotors.append(RotorPlan("tail", np.array([-0.36, 0.0, 0.04]), tail, stops=True))
    com = np.column_stack([np.linspace(0.02, 0.026, 21), np.linspace(0.02, 0.015, 21)])
    return Flyer(((wing,), (plane,)), tuple(rotors), BodyPlan(0.012, 0.03, 0.02, 0.02), 1.65, 0.05, com, top_m_s=22.0)


def _balances() -> list[Check]:
    c = corridor(plain_flyer(), 14, 9)
    good = c.why == FLIES
    left = float(c.points[..., C_RESIDUAL][good].max())
    return [Check("balance over the map: what is left over, of the weight", "none, to 1e-8", 1.0, 1.0 + left, 1e-8)]


def _energy() -> list[Check]:
    """A glider without drag, with lift across the stream alone, keeps its energy."""
    f = plain_flyer()
    s = straight_lift(f.strips)
    free = Flyer(f.surfaces, f.rotors, BodyPlan(0.0, 0.0), f.mass_kg, f.inertia, np.tile([[0.03, 0.01]], (21, 1)), top_m_s=22.0)
    free.__dict__["strips"] = replace(s, influence=np.zeros_like(s.influence), own_moment=np.zeros_like(s.own_moment))
    none, two = np.zeros(2), np.array([0.0, 40.0])
    plan = Plan(two, np.ones(2), none, none, none, none, none, 1.0, 1.0, False, -1.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, False, -1, 1.0)
    start = np.zeros(STATES)
    start[VX], start[PITCH], start[OVER] = 10.0, 0.03, 1.0
    rows = fly_plan(free, plan, "glide", 4.0, start).rows

    def energy(r: Floats) -> float:
        return float(0.5 * f.mass_kg * (r[VX] ** 2 + r[VZ] ** 2) + f.mass_kg * G * r[Z] + 0.5 * f.inertia * r[5] ** 2)

    first = energy(rows[0])
    fell = float(rows[0, Z] - rows[-1, Z])  # some 40 m: height and speed have been swapped
    name = f"flight without drag or thrust, {fell:.0f} m down: energy"
    return [Check(name, "what it began with", first, energy(rows[-1]), 1e-6)]


GROUPS = (_lines, _sections, _spars, _rotors, _balances, _energy)
