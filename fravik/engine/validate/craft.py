"""Impact, power and roads against closed forms and hand sums."""

from __future__ import annotations

import itertools
import math

import numpy as np
import trimesh
from manifold3d import Manifold
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from fravik.library import filament
from fravik.model.craft import Components, Propeller
from fravik.model.project import Printer
from fravik.model.recipe import Recipe
from fravik.power.drive import alike
from fravik.power.momentum import AIR_DENSITY_KG_M3, ideal_hover_power_w, power_figures
from fravik.power.propeller import propeller_inertia_gmm2
from fravik.printing.mass import part_mass
from fravik.printing.roads import print_figures, segment_seconds
from fravik.printing.zones import lay
from fravik.structure.impact import OWN_MASS_SHARE, drop_peaks, mass_on_spring_peak_n

from .beams import even_bar, tip_rise
from .check import Check


def _impact() -> list[Check]:
    k, m, v = 12.0, 800.0, 2.0

    def spring(t: float, y: np.ndarray) -> list[float]:
        return [y[1], -k * 1e3 * y[0] / (m * 1e-3)]

    run = solve_ivp(spring, (0, 0.1), [0.0, v], rtol=1e-9, max_step=1e-4)
    out = [
        Check(
            "impact of a mass on a spring",
            "time integration",
            float(run.y[0].max() * k * 1e3),
            mass_on_spring_peak_n(v, k, m),
            0.02,
            "another method",
        )
    ]
    body, tips, kc, ka = 600.0, 220.0, 200.0, 40.0

    def pair(t: float, y: np.ndarray) -> list[float]:
        f = ka * 1e3 * (y[1] - y[0])
        return [y[2], y[3], (-kc * 1e3 * y[0] + f) / (body * 1e-3), -f / (tips * 1e-3)]

    def at_rest(t: float, y: np.ndarray) -> float:
        return float(y[2])

    at_rest.terminal = True  # type: ignore[attr-defined]
    run = solve_ivp(pair, (0, 0.2), [0.0, 0.0, 1.0, 1.0], rtol=1e-9, max_step=5e-5, events=at_rest)
    stopped = run.y[:, -1]

    def swing(t: float, y: np.ndarray) -> list[float]:
        return [y[1], -ka * 1e3 * y[0] / (tips * 1e-3)]

    after = solve_ivp(swing, (0, 0.2), [stopped[1] - stopped[0], stopped[3]], rtol=1e-9, max_step=1e-4)
    apart = max(np.abs(run.y[1] - run.y[0]).max(), np.abs(after.y[0]).max())
    peaks = drop_peaks(body, tips, kc, ka)
    contact = float(run.y[0].max() * kc * 1e3)
    out.append(Check("flat drop, contact peak", "time integration", contact, peaks.contact_n, 0.02, "another method"))
    out.append(Check("flat drop, peak in the arms", "time integration", float(apart * ka * 1e3), peaks.tips_n, 0.02, "another method"))
    # a mass that hits a cantilever's tip: the light beam is a spring 3EI/L^3
    flex = tip_rise(*even_bar(24, 110.0, lambda _: 20.0, 8.0, 1950.0, 1e9, 1e-15))
    exact = 1.5 * math.sqrt(3 * 1950.0 * 20 * 8**3 / 12 / 110**3 * 1e3 * 0.5)
    out.append(
        Check("impact of a mass on a light cantilever", "v sqrt(3EI m / L^3)", exact, mass_on_spring_peak_n(1.5, 1 / flex, 500.0), 0.02)
    )
    return out


def beams_dropped(body_t: float, tip_t: float, arm_t: float, length: float, ei: float, ground_n_mm: float, restitution: float) -> float:
    """Largest root moment over length of one of four arms of a craft that lands at 1 m/s, by small steps in time.

    Arms are beams with their mass spread along them; the ground is a spring that gives back ``restitution`` squared of its force on the way
    up, and holds the body between the two.
    """
    n = 6
    h, rho = length / n, arm_t / length
    k, m = np.zeros((2 * n + 2, 2 * n + 2)), np.zeros((2 * n + 2, 2 * n + 2))
    bend = ei / h**3 * np.array([[12, 6 * h, -12, 6 * h], [6 * h, 4 * h * h, -6 * h, 2 * h * h], [-12, -6 * h, 12, -6 * h],
                                 [6 * h, 2 * h * h, -6 * h, 4 * h * h]])  # fmt: skip
    mass = rho * h / 420 * np.array([[156, 22 * h, 54, -13 * h], [22 * h, 4 * h * h, 13 * h, -3 * h * h],
                                     [54, 13 * h, 156, -22 * h], [-13 * h, -3 * h * h, -22 * h, 4 * h * h]])  # fmt: skip
    for e in range(n):
        k[2 * e : 2 * e + 4, 2 * e : 2 * e + 4] += bend
        m[2 * e : 2 * e + 4, 2 * e : 2 * e + 4] += mass
    m[-2, -2] += tip_t
    keep = [0, *range(2, 2 * n + 2)]  # the root does not turn against the body
    k, m = 4 * k[np.ix_(keep, keep)], 4 * m[np.ix_(keep, keep)]
    m[0, 0] += body_t
    inverse, held = np.linalg.inv(m), np.linalg.inv(m[1:, 1:])
    step = 0.5 / math.sqrt(float(np.linalg.eigvals(inverse @ k).real.max()))
    x, v = np.zeros(len(k)), np.zeros(len(k))
    v[[i for i, d in enumerate(keep) if d % 2 == 0]] = 1000.0
    deepest = peak = 0.0
    for _ in range(int(0.03 / step)):
        f = -k @ x
        push: float | None = 0.0
        if x[0] > 0:
            low, high = restitution**2 * ground_n_mm * x[0], ground_n_mm * x[0]
            if v[0] > 0 and x[0] >= deepest:
                deepest, push = float(x[0]), high
            elif abs(v[0]) < 2.0 and low <= f[0] <= high:
                push = None
            else:
                push = low if v[0] < 0 or f[0] < low else high
        if push is None:
            v[0] = 0.0
            a = np.concatenate([[0.0], held @ f[1:]])
        else:
            f[0] -= push
            a = inverse @ f
        v = v + step * a
        x = x + step * v
        root = 4 * ei / h**3 * (6 * h * x[0] - 6 * h * x[1] + 2 * h * h * x[2])
        peak = max(peak, abs(root))
    return peak / 4 / length


def _drops() -> list[Check]:
    out = []
    body, tip, arm, length, ei = 700e-6, 51e-6, 25e-6, 110.0, 2000 * 20 * 12**3 / 12 * 0.6
    for ground in (60.0, 200.0):
        for e in (0.0, 0.5, 1.0):
            exact = beams_dropped(body, tip, arm, length, ei, ground, e)
            got = drop_peaks(body * 1e6, 4e6 * (tip + OWN_MASS_SHARE * arm), ground, 12 * ei / length**3, e).tips_n / 4
            what = f"flat drop on {ground:g} N/mm giving back {e:g}, root moment"
            out.append(Check(what, "four beams in time", exact, got, 0.10, "another method"))
    # the pole stops the end of an arm before the craft behind it is felt
    end, craft, arm_k, pole = 57e-6, 850e-6, 60.0, 2000.0

    def pair(t: float, y: np.ndarray) -> list[float]:
        return [y[2], y[3], (-pole * max(y[0], 0.0) + arm_k * (y[1] - y[0])) / end, -arm_k * (y[1] - y[0]) / craft]

    run = solve_ivp(pair, (0, 0.0012), [0.0, 0.0, 1e3, 1e3], rtol=1e-9, max_step=1e-6)
    blow = mass_on_spring_peak_n(1.0, pole, end * 1e6)
    out.append(
        Check("first blow of a pole on an arm's end", "two masses in time", pole * float(run.y[0].max()), blow, 0.05, "another method")
    )
    return out


def _power() -> list[Check]:
    d, thrust = 0.1778, 3.0
    area = math.pi / 4 * d**2
    # momentum and energy of the wake: what is pushed down at 2 v carries thrust and power away
    v = brentq(lambda v: AIR_DENSITY_KG_M3 * area * v * 2 * v - thrust, 1e-6, 100.0)
    wake = 0.5 * (AIR_DENSITY_KG_M3 * area * v) * (2 * v) ** 2
    parts = Components(propeller=Propeller(figure_of_merit=0.6))
    figures, motor = power_figures(1000.0, parts, alike(parts, 4)), parts.motor
    volts, kt = figures.full_volts, 60 / (2 * math.pi * motor.kv_rpm_per_v)
    q = figures.hover_torque_nmm * 1e-3 / (figures.hover_rpm * 2 * math.pi / 60) ** 2

    def spin(t: float, y: np.ndarray) -> list[float]:
        current = (volts - kt * y[0]) / (motor.resistance_mohm * 1e-3)
        return [(kt * (current - motor.no_load_a) - q * y[0] ** 2) / 2e-5]

    run = solve_ivp(spin, (0, 3.0), [0.0], rtol=1e-9, method="LSODA")
    return [
        Check("ideal disk power", "energy left in the wake", wake, ideal_hover_power_w(thrust, d * 1e3), 0.01, "another method"),
        Check("full-throttle speed", "spinning up in time", float(run.y[0, -1]) * 60 / (2 * math.pi), figures.full_rpm, 0.005,
              "another method"),
        Check("inertia of a propeller", "mesh of a tapering blade with its hub", blade_inertia_gmm2(7.0, 177.8),
              float(propeller_inertia_gmm2(Propeller())[2, 2]), 0.10, "another library"),
    ]  # fmt: skip


def blade_inertia_gmm2(mass_g: float, diameter_mm: float) -> float:
    """Inertia about the shaft of a two-blade propeller drawn as a mesh: a hub, and blades that taper as bought ones do."""
    r = diameter_mm / 2
    at = np.array([0.08, 0.2, 0.4, 0.6, 0.8, 1.0])
    chord, thin = r * np.array([0.10, 0.14, 0.18, 0.16, 0.13, 0.06]), np.array([0.28, 0.20, 0.13, 0.10, 0.085, 0.07])
    turn = np.linspace(0, 2 * math.pi, 24, endpoint=False)
    rings = [
        np.stack([np.full(24, x * r), c / 2 * np.cos(turn), c * t / 2 * np.sin(turn)], axis=1)
        for x, c, t in zip(at, chord, thin, strict=True)
    ]
    blade = sum((trimesh.convex.convex_hull(np.concatenate([a, b])) for a, b in itertools.pairwise(rings)), start=trimesh.Trimesh())
    other = blade.copy()
    other.apply_transform(trimesh.transformations.rotation_matrix(math.pi, [0, 0, 1]))
    hub = trimesh.creation.annulus(r_min=0.028 * r, r_max=0.07 * r, height=0.08 * r)
    whole = blade + other + hub
    whole.density = mass_g / whole.volume
    return float(whole.moment_inertia[2, 2])


def _roads() -> list[Check]:
    v, a = 60.0, 1500.0
    # from rest: v/a up, v/a down, the rest at speed
    exact = 2 * v / a + (40.0 - v * v / a) / v
    out = [
        Check(
            "road time, 40 mm line from rest to rest",
            "hand integration",
            exact,
            float(segment_seconds(np.array(40.0), v, a, 0.0)),
            0.01,
            "hand sum",
        )
    ]
    short = 2 * math.sqrt(0.5 / a)
    out.append(
        Check(
            "road time, 0.5 mm line from rest to rest",
            "hand integration",
            short,
            float(segment_seconds(np.array(0.5), v, a, 0.0)),
            0.01,
            "hand sum",
        )
    )
    # one layer of a 30 mm square, two walls, hollow: wall roads are 4 x 29.5 and 4 x 28.5 mm
    printer = Printer(corner_speed_mm_s=8.0, first_layer_speed=1.0)
    recipe = Recipe(walls=2, cover_layers=0, core_density=0.0, line_width_mm=0.5, layer_height_mm=0.2)
    field = lay(Manifold.cube((30.0, 30.0, 0.2)), recipe)
    plastic = filament("petg")
    speed = min(printer.wall_speed_mm_s, plastic.flow_limit_mm3_s / 0.1)
    walls = ((29.5, printer.wall_acceleration_mm_s2), (28.5, printer.acceleration_mm_s2))
    corner = printer.corner_speed_mm_s / math.sqrt(2.0)
    by_hand = sum(4 * (2 * (speed - corner) / acc + (side - (speed**2 - corner**2) / acc) / speed) for side, acc in walls)
    out.append(
        Check(
            "counted road time, one layer of a square",
            "hand integration",
            by_hand / 60,
            print_figures(field, plastic, printer).wall_min,
            0.01,
        )
    )
    recipe = Recipe(walls=3, cover_layers=4, core_density=0.25)
    field = lay(Manifold.cube((60.0, 20.0, 8.0)), recipe)
    roads = print_figures(field, plastic, Printer())
    by_roads = roads.road_m * 1e3 * recipe.line_width_mm * recipe.layer_height_mm * plastic.density_g_cm3.typical * 1e-3
    out.append(
        Check(
            "grams counted by roads",
            "grams by zones",
            part_mass(field, plastic.density_g_cm3.typical).mass_g,
            by_roads,
            0.02,
            "another method",
        )
    )
    core = 57.3 * 17.3 * (8 - 1.6)
    exact_volume = 60 * 20 * 8 - core * 0.75
    out.append(Check("grams of a box from its zones", "hand sum", exact_volume * 1.27e-3, part_mass(field, 1.27).mass_g, 0.01, "hand sum"))
    return out


GROUPS = (_impact, _drops, _power, _roads)
