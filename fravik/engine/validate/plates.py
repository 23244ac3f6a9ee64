"""Plates and the two-plate body against closed forms."""

from __future__ import annotations

import numpy as np

from fravik.shape.stations import ARRANGEMENTS
from fravik.structure.body import body_points, stiffer_together, used_slots
from fravik.structure.onpins import on_pins
from fravik.structure.plate import PlateGrid, factor_plate, solve_plate
from fravik.structure.platesection import PlateSection

from .check import Check

E_MPA, NU = 2000.0, 0.3


def even_plate(length: float, width: float, thickness: float, nx: int, ny: int) -> tuple[PlateGrid, PlateSection]:
    """A whole plate of an even plastic."""
    d = E_MPA * thickness**3 / (12 * (1 - NU**2))
    a = E_MPA * thickness / (1 - NU**2)
    grid = PlateGrid(np.linspace(-length / 2, length / 2, nx + 1), np.linspace(-width / 2, width / 2, ny + 1), np.ones((nx, ny)))
    return grid, PlateSection((d, d, NU * d, d * (1 - NU) / 2), (a, a, NU * a, a * (1 - NU) / 2), thickness, thickness / 2, 1.0)


def _bent() -> list[Check]:
    n, a = 12, 120.0
    grid, section = even_plate(a, a, 3.0, n, n)
    x = grid.x_mm
    rim = [(u, v) for u in x for v in x if abs(u) > a / 2 - 1e-9 or abs(v) > a / 2 - 1e-9]
    answer = solve_plate(grid, section, np.array([*rim, (0.0, 0.0)]), np.array([5 * i + 2 for i in range(len(rim) + 1)]))
    # a free plate: held along its rim, pushed in the middle
    give = 1 / float(answer.stiffness[-1, -1])
    out = [Check("square plate on simple edges, force in the middle", "0.0116 P a^2 / D", 0.0116 * a * a / section.d_nmm[0], give, 0.02)]
    # the bending under a small round face is far beyond what cells of this size see
    radius = 2.0
    radii = np.array([0.3] * len(rim) + [radius])
    answer = solve_plate(grid, section, np.array([*rim, (0.0, 0.0)]), 5 * np.arange(len(rim) + 1) + 2, radii)
    force = np.zeros((5 * len(rim) + 5, 1))
    force[2::5, 0] = answer.stiffness[:, -1] / answer.stiffness[-1, -1]
    bend = answer.strains(force)[0][:2] + answer.under_faces(force)
    i, j = answer.face_cells[-1]
    moment = section.d_nmm[0] * float(bend[0, i, j, 0] + NU * bend[1, i, j, 0])
    published = ((1 + NU) * np.log(2 * a / (np.pi * radius)) + 0.435) / (4 * np.pi)
    out.append(
        Check("the same, bending under a round face of 4 mm", "Timoshenko and Woinowsky-Krieger, section 37", published, moment, 0.03)
    )
    # a strip pulled evenly along its ends
    grid, section = even_plate(100.0, 20.0, 3.0, 10, 2)
    ends = [(sx * 50.0, y) for sx in (-1.0, 1.0) for y in (-10.0, 0.0, 10.0)]
    answer = solve_plate(grid, section, np.array(ends))
    pull = np.zeros(len(answer.compliance))
    pull[0:15:5], pull[15:30:5] = (-0.25, -0.5, -0.25), (0.25, 0.5, 0.25)
    u = answer.compliance @ pull
    out.append(Check("plate strip pulled", "L / (E A)", 100.0 / (E_MPA * 60.0), float(u[15:30:5].mean() - u[0:15:5].mean()), 0.01))
    return out


def _clamped() -> list[Check]:
    """A strip whose edge is held by faces that lie half off it, pushed at its other end."""
    length, width, thick = 100.0, 20.0, 4.0
    grid, section = even_plate(length, width, thick, 25, 4)
    points = np.array([*((-length / 2, y) for y in grid.y_mm), (length / 2, 0.0)])
    slots = np.array([5 * i + d for i in range(len(grid.y_mm)) for d in (2, 3, 4)] + [5 * len(grid.y_mm) + 2])
    answer = solve_plate(grid, section, points, slots, 0.5)
    exact = length**3 / (3 * E_MPA * width * thick**3 / 12)
    # held flat across its width the strip is a little stiffer near its root than a beam
    return [Check("strip clamped along its edge", "P L^3 / 3 E I", exact, 1 / float(answer.stiffness[-1, -1]), 0.04)]


def _pair() -> list[Check]:
    # two whole plates far apart and joined by stiff blocks: bending is carried by pull and push in the plates
    length, gap, t = 120.0, 30.0, 2.0
    grid, section = even_plate(length, 100.0, t, 12, 10)
    bolts = [
        [(sx * 50.0 + dx, sy * 40.0 + dy) for dx in (-5.0, 5.0) for dy in (-5.0, 5.0)] for sx, sy in ((1, 1), (-1, 1), (-1, -1), (1, -1))
    ]
    legs = [(sx * 28.3, sy * 28.3) for sx in (-1, 1) for sy in (-1, 1)]
    points = body_points(ARRANGEMENTS["quad_x"].ways_rad, bolts, [], 7.0, 20.0, 3.2, 60.0, 46.0, 0.0, 30.0, legs)
    answer = solve_plate(grid, section, points.xy_mm, used_slots(points), points.radii_mm)
    bend, _ = stiffer_together({"bottom": answer, "top": answer}, points, gap, 64.0)
    # each plate's own stiffness is D; together A h^2 / 2 + 2 D
    ideal = (section.a_n_mm[0] * (gap + t) ** 2 / 2 + 2 * section.d_nmm[0]) / (2 * section.d_nmm[0])
    return [
        Check(
            "two plates on stiff blocks: stiffer by no more than the sandwich, as a share of it",
            "sandwich",
            1.0,
            min(bend / ideal, 1.0),
            0.45,
        )
    ]


def _pinned() -> list[Check]:
    """A strip on pins at its four corners, evenly loaded, and with half of the load in its middle."""
    length, width, thick = 120.0, 12.0, 3.0
    grid, section = even_plate(length, width, thick, 40, 4)
    pins = np.array([(x, y) for x in (-length / 2, length / 2) for y in (-width / 2, width / 2)])
    x, y = ((e[1:] + e[:-1]) / 2 for e in (grid.x_mm, grid.y_mm))
    at = np.array([(u, v) for u in x for v in y])
    even = np.full(len(at), -8.0 / len(at))
    factors = factor_plate(grid, section)
    _, forces, sag = on_pins(grid, section, factors, pins, 0.3, at, even)
    ei = E_MPA * width * thick**3 / 12
    middle = np.array([(0.0, v) for v in y])
    _, _, pushed = on_pins(grid, section, factors, pins, 0.3, middle, np.full(len(y), -1.0))
    return [
        Check("strip on four pins, evenly loaded: sag", "5 q L^4 / 384 E I", 5 * 8.0 * length**3 / (384 * ei), sag, 0.03),
        Check("strip on four pins, pushed in its middle", "F L^3 / 48 E I", 4.0 * length**3 / (48 * ei), pushed, 0.03),
        Check("what a pin takes of it", "a quarter", 2.0, float(forces[2]), 1e-3, "hand sum"),
    ]


GROUPS = (_bent, _clamped, _pair, _pinned)
