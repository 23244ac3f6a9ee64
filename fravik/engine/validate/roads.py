"""Roads, motion and grams against hand integration and against the zones."""

from __future__ import annotations

import math

import numpy as np
from manifold3d import CrossSection, Manifold

from fravik.demo import tern
from fravik.kinds import build_solid, shape_input
from fravik.library import filament
from fravik.model.laying import Laying
from fravik.model.project import Printer
from fravik.model.recipe import Recipe
from fravik.printing.hatch import hatch
from fravik.printing.layroads import print_job
from fravik.printing.motion import move_seconds
from fravik.printing.patterns import core_roads, phase_of

from .check import Check


def _ramped(length: float, v0: float, v1: float, speed: float, accel: float) -> float:
    """Seconds of one move that reaches its speed, by summing its three stretches."""
    up, down = (speed**2 - v0**2) / (2 * accel), (speed**2 - v1**2) / (2 * accel)
    return (speed - v0) / accel + (speed - v1) / accel + (length - up - down) / speed


def _motion() -> list[Check]:
    printer = Printer(wall_speed_mm_s=60.0, wall_acceleration_mm_s2=1000.0, corner_speed_mm_s=8.0, first_layer_speed=1.0,
                      retract_s=0.25, layer_change_s=0.8)  # fmt: skip
    pla = filament("pla").model_copy(update={"min_layer_s": 0.0})
    recipe = Recipe(filament="pla", walls=1, cover_layers=0, core_density=0.0, line_width_mm=0.5, layer_height_mm=0.2)
    job = print_job(Manifold.cube((50.0, 50.0, 0.2)), recipe, Laying(edge="none"), pla, printer)
    corner = 8.0 / math.sqrt(2.0)
    side = 49.5

    hand = (
        _ramped(side, 0.0, corner, 60.0, 1000.0)
        + 2 * _ramped(side, corner, corner, 60.0, 1000.0)
        + _ramped(side, corner, 0.0, 60.0, 1000.0)
    )
    out = [Check("one layer of a square, seconds", "hand integration", hand + 0.25 + 0.8, float(job.seconds.sum()), 0.01, "hand sum")]
    # ten roads of a zigzag, with a quarter turn at each end of the short steps between them
    points = np.array([[40.0 * ((i + 1) // 2 % 2), 0.5 * (i // 2)] for i in range(20)])
    hand = 2 * _ramped(40.0, 0.0, corner, 60.0, 1000.0) + 8 * _ramped(40.0, corner, corner, 60.0, 1000.0)
    peak = math.sqrt(corner**2 + 1000.0 * 0.5)
    hand += 9 * 2 * (peak - corner) / 1000.0
    n = len(points) - 1
    took = move_seconds(points, np.full(n, 60.0), np.full(n, 1000.0), np.zeros(n, dtype=bool), 8.0).sum()
    out.append(Check("zigzag of ten roads, seconds", "hand integration", hand, float(took), 0.01, "hand sum"))
    turns, radius = 20, 2.5
    angle = np.linspace(0, 2 * math.pi * turns, 48 * turns + 1)
    circle = radius * np.column_stack([np.cos(angle), np.sin(angle)])
    n = len(angle) - 1
    took = move_seconds(circle, np.full(n, 90.0), np.full(n, 1000.0), np.zeros(n, dtype=bool), 8.0).sum()
    hand = 2 * math.pi * radius * turns / math.sqrt(1000.0 * radius) + math.sqrt(radius / 1000.0)
    out.append(Check("twenty turns on a small circle, seconds", "v^2 = a R", hand, float(took), 0.01))
    return out


def _areas() -> list[Check]:
    ring = CrossSection.circle(20.0, 256) - CrossSection.circle(8.0, 256)
    lines = hatch(ring, math.radians(37.0), 0.4)
    covered = float(np.hypot(*(lines[:, 1] - lines[:, 0]).T).sum()) * 0.4
    out = [Check("cover roads over a ring, area", "area of the ring", math.pi * (400.0 - 64.0), covered, 0.01)]
    field = CrossSection.square((80.0, 60.0), True)
    for pattern in ("lines", "grid", "triangles", "honeycomb", "gyroid", "cubic", "concentric"):
        shares = []
        for layer in range(64):
            phase = phase_of(pattern, 0.2, 0.45, layer, 0.2 * (layer + 0.5))
            roads = core_roads(field, pattern, 0.2, 0.45, 30.0, phase)
            shares.append(sum(float(np.hypot(*np.diff(p, axis=0).T).sum()) for p in roads) * 0.45 / 4800.0)
        out.append(Check(f"core roads, {pattern} at 20 %, share", "what was asked", 0.2, float(np.mean(shares)), 0.03, "hand sum"))
    return out


def _grams() -> list[Check]:
    project = tern()
    out = []
    for part in project.parts:
        job = print_job(build_solid(shape_input(part, project)), part.recipe, part.laying, filament(part.recipe.filament), project.printer)
        out.append(Check(f"{part.name.lower()}: grams by roads", "grams by zones", job.zone_grams, job.grams, 0.02, "another method"))
    return out


GROUPS = (_motion, _areas, _grams)
