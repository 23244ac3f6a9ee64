"""A plate on pins that do not give: what it carries, what its pins take, and the forces on it that balance.

The pins hold it up, and let it turn (a standoff's own bending is left out, which bends the plate hardest between them).
"""

from __future__ import annotations

import numpy as np

from fravik.printing.zones import Floats

from .plate import PlateAnswer, PlateFactors, PlateGrid, loads_on, solve_loads
from .platesection import PlateSection

UP = 2  # of a point's five dofs
SPOT_MM = 3.0  # radius over which what stands on a plate presses


def on_pins(
    grid: PlateGrid, section: PlateSection, factors: PlateFactors, pins_mm: Floats, pin_radius_mm: float, at_mm: Floats, push_n: Floats
) -> tuple[PlateAnswer, Floats, float]:
    """The plate's answer, forces (5 (s + l),) on its points, pins first, when ``push_n`` (l,) act upwards at ``at_mm`` (l, 2) and pins
    (s, 2) hold it; and how far it goes where it goes farthest of these places, mm."""
    points = np.concatenate([pins_mm, at_mm])
    held, free = len(pins_mm), len(points)
    radii = np.concatenate([np.full(held, pin_radius_mm), np.full(len(at_mm), SPOT_MM)])
    up = 5 * np.arange(free) + UP
    flat = np.concatenate([5 * np.arange(held), 5 * np.arange(held) + 1])
    slots = np.sort(np.concatenate([up, flat]))
    answer = solve_loads(grid, section, points, loads_on(grid, points, radii, slots), factors)
    flex = answer.compliance[np.ix_(np.isin(slots, up), np.isin(slots, up))]
    rigid = np.column_stack([np.ones(free), points[:, 1], -points[:, 0]])
    # what the pins take, and how the plate then moves as one on the pegs that its compliance is told on: still at the pins, and in balance
    size = float(np.trace(flex)) / free
    table = np.block([[flex[:held, :held] / size, rigid[:held]], [rigid[:held].T, np.zeros((3, 3))]])
    found = np.linalg.lstsq(table, -np.concatenate([flex[:held, held:] @ push_n / size, rigid[held:].T @ push_n]), rcond=None)[0]
    take, ride = found[:held], found[held:] * size
    moved = flex[held:, :held] @ take + flex[held:, held:] @ push_n + rigid[held:] @ ride
    forces = np.zeros(5 * free)
    forces[up[:held]], forces[up[held:]] = take, push_n
    return answer, forces, float(np.abs(moved).max(initial=0.0))


def spread_over(grid: PlateGrid, parts: int = 3) -> tuple[Floats, Floats]:
    """Places (l, 2) at which a plate's own mass is taken to be, and the share of it at each (l,): those of its cells, by blocks."""
    x, y = (grid.x_mm[1:] + grid.x_mm[:-1]) / 2, (grid.y_mm[1:] + grid.y_mm[:-1]) / 2
    at, share = [], []
    for i in np.array_split(np.arange(len(x)), parts):
        for j in np.array_split(np.arange(len(y)), parts):
            cover = grid.cover[np.ix_(i, j)]
            if cover.sum() > 0:
                at.append([float((cover.sum(axis=1) * x[i]).sum() / cover.sum()), float((cover.sum(axis=0) * y[j]).sum() / cover.sum())])
                share.append(float(cover.sum()))
    return np.array(at), np.array(share) / sum(share)
