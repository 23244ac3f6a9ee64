"""Impact, power and roads against closed forms and hand sums."""

from __future__ import annotations

import math

import numpy as np
from manifold3d import Manifold
from scipy.integrate import solve_ivp

from fravik.library import filament
from fravik.model.craft import Components, Propeller
from fravik.model.project import Printer
from fravik.model.recipe import Recipe
from fravik.power.momentum import AIR_DENSITY_KG_M3, ideal_hover_power_w, power_figures
from fravik.printing.mass import part_mass
from fravik.printing.roads import print_figures, segment_seconds
from fravik.printing.zones import lay
from fravik.structure.beams import assemble, unit_responses
from fravik.structure.impact import drop_peaks, mass_on_spring_peak_n

from .beams import even_bar
from .check import Check


def _impact() -> list[Check]:
    k, m, v = 12.0, 800.0, 2.0

    def spring(t: float, y: np.ndarray) -> list[float]:
        return [y[1], -k * 1e3 * y[0] / (m * 1e-3)]

    run = solve_ivp(spring, (0, 0.1), [0.0, v], rtol=1e-9, max_step=1e-4)
    out = [Check("impact of a mass on a spring", "time integration", float(run.y[0].max() * k * 1e3), mass_on_spring_peak_n(v, k, m), 0.02)]
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
    out.append(Check("flat drop, contact peak", "time integration", contact, peaks.contact_n, 0.02))
    out.append(Check("flat drop, peak in the arms", "time integration", float(apart * ka * 1e3), peaks.tips_n, 0.02))
    # a mass that hits a cantilever's tip: the light beam is a spring 3EI/L^3
    beam = even_bar(24, 110.0, lambda _: 20.0, 8.0, 1950.0, 1e9, 1e-15)
    stiff, _, ke = assemble(beam, None)
    load = np.zeros((len(stiff), 1))
    load[-4, 0] = 1.0
    flex = float(unit_responses(stiff, ke, load).tip[2, 0])
    exact = 1.5 * math.sqrt(3 * 1950.0 * 20 * 8**3 / 12 / 110**3 * 1e3 * 0.5)
    out.append(
        Check("impact of a mass on a light cantilever", "v sqrt(3EI m / L^3)", exact, mass_on_spring_peak_n(1.5, 1 / flex, 500.0), 0.02)
    )
    return out


def _power() -> list[Check]:
    d, thrust = 177.8, 3.0
    area = math.pi / 4 * 0.1778**2
    induced = math.sqrt(thrust / (2 * AIR_DENSITY_KG_M3 * area))
    parts = Components(propeller=Propeller(figure_of_merit=0.6))
    figures = power_figures(1000.0, parts)
    weight = 9.80665
    exact = 4 * (weight / 4) ** 1.5 / math.sqrt(2 * AIR_DENSITY_KG_M3 * area) / 0.6 / parts.motor.efficiency
    return [
        Check("ideal disk power", "T x induced speed", thrust * induced, ideal_hover_power_w(thrust, d), 0.01),
        Check("hover power of 1 kg on four disks", "momentum theory over efficiencies", exact, figures.hover_power_w, 0.01),
    ]


def _roads() -> list[Check]:
    v, a = 60.0, 1500.0
    # from rest: v/a up, v/a down, the rest at speed
    exact = 2 * v / a + (40.0 - v * v / a) / v
    out = [
        Check("road time, 40 mm line from rest to rest", "hand integration", exact, float(segment_seconds(np.array(40.0), v, a, 0.0)), 0.01)
    ]
    short = 2 * math.sqrt(0.5 / a)
    out.append(
        Check("road time, 0.5 mm line from rest to rest", "hand integration", short, float(segment_seconds(np.array(0.5), v, a, 0.0)), 0.01)
    )
    # one layer of a 30 mm square, two walls, hollow: wall roads are 4 x 29.5 and 4 x 28.5 mm
    printer = Printer(corner_speed_mm_s=8.0, first_layer_speed=1.0)
    recipe = Recipe(walls=2, skin_layers=0, infill=0.0, line_width_mm=0.5, layer_height_mm=0.2)
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
    recipe = Recipe(walls=3, skin_layers=4, infill=0.25)
    field = lay(Manifold.cube((60.0, 20.0, 8.0)), recipe)
    roads = print_figures(field, plastic, Printer())
    by_roads = roads.road_m * 1e3 * recipe.line_width_mm * recipe.layer_height_mm * plastic.density_g_cm3.typical * 1e-3
    out.append(
        Check("grams by roads against grams by zones", "each other", part_mass(field, plastic.density_g_cm3.typical).mass_g, by_roads, 0.02)
    )
    core = 57.3 * 17.3 * (8 - 1.6)
    exact_volume = 60 * 20 * 8 - core * 0.75
    out.append(Check("grams of a box from its zones", "hand sum", exact_volume * 1.27e-3, part_mass(field, 1.27).mass_g, 0.01))
    return out


GROUPS = (_impact, _power, _roads)
