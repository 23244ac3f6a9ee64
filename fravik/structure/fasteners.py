"""Screws in printed plastic: what pulls them out, what strips or crushes, and the clamp they can give.

A screw's pull is limited by the least of its own proof load, the plastic under its head, and what holds its thread: a nut
(through bolt), the shear cylinder round a captive nut, or the shear cylinder of an insert or a thread cut into plastic.
Torque follows T = K d F. The shares of the cylinder that hold are working assumptions, stated in docs/joints.md.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from fravik.library import screw
from fravik.model.joint import Joint
from fravik.model.material import Corner, Filament
from fravik.model.recipe import Recipe

HEAD_BEARING = 1.3
INSERT_SHARE = 0.6
THREAD_SHARE = 0.5
NUT_FACTOR = {"through": 0.2, "captive": 0.2, "heat_set": 0.22, "tapped": 0.3}
FULL_WALL_MM = 1.2


@dataclass(frozen=True)
class ScrewHold:
    """One screw: largest pull and what limits it, stripping or crushing torque, and the pull at the joint's tightness."""

    pull_n: float
    limit: str
    torque_nmm: float
    preload_n: float


def around_hole(recipe: Recipe, core_share: float) -> float:
    """Share of solid plastic round a hole: whole with enough wall, else helped out by the core."""
    wall = min(1.0, recipe.walls * recipe.line_width_mm / FULL_WALL_MM)
    return wall + (1.0 - wall) * core_share


@lru_cache(maxsize=64)
def screw_hold(joint: Joint, f: Filament, corner: Corner, recipe: Recipe, across_layers: bool) -> ScrewHold:
    """What one screw of a joint holds. ``across_layers``: the screw runs across the layers."""
    size = screw(joint.screw)
    layer, plane = f.t_layer_mpa.at(corner), f.t_plane_mpa.at(corner)
    shear = layer if across_layers else (layer + plane) / 2
    solid = around_hole(recipe, recipe.core_density)
    bearing = HEAD_BEARING * (f.s_layer_mpa.at(corner) if across_layers else f.s_cross_mpa.at(corner)) * solid
    head = bearing * math.pi / 4 * (size.head_mm**2 - size.clearance_mm**2)
    limits = {"the screw's own proof load": size.proof_mpa * size.stress_area_mm2, "crushing under the head": head}
    if joint.fixing == "captive":
        limits["the nut pulling through"] = shear * solid * 2 * math.sqrt(3.0) * size.nut_across_mm * joint.engaged_mm
    elif joint.fixing == "heat_set":
        limits["the insert pulling out"] = INSERT_SHARE * shear * solid * math.pi * size.insert_outer_mm * joint.engaged_mm
    elif joint.fixing == "tapped":
        limits["the thread stripping"] = THREAD_SHARE * shear * solid * math.pi * size.diameter_mm * joint.engaged_mm
    limit = min(limits, key=lambda k: limits[k])
    pull = limits[limit]
    return ScrewHold(pull, limit, NUT_FACTOR[joint.fixing] * size.diameter_mm * pull, joint.tightness * pull)
