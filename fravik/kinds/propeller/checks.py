"""What contradicts itself in a propeller."""

from __future__ import annotations

import math

from fravik.model.blade import PropellerShape
from fravik.model.problem import Problem
from fravik.shape.blade import blade_of

WALL_MM, EDGE_MM = 1.0, 1.2
ROOM = 0.8  # of a turn: what blades may take of the hub's rim
STEEP_DEG = 75.0


def propeller_problems(s: PropellerShape, at: str) -> list[Problem]:
    """Each at its field."""
    out = []
    hole = s.flat_mm / math.cos(math.pi / 6) if s.bore == "hex" else s.bore_mm
    hole += 2 * s.bush_mm
    if s.bore == "screws":
        hole = max(hole, s.screw_circle_mm + s.screw_hole_mm)
    if hole + 2 * WALL_MM > s.hub_diameter_mm:
        out.append(Problem(at + "hub_diameter_mm", f"The hub leaves less than {WALL_MM:g} mm round a hole of {hole:.1f} mm: make it "
                           f"{hole + 2 * WALL_MM:.1f} mm wide at least."))  # fmt: skip
    if s.hub_diameter_mm > 0.5 * s.diameter_mm:
        out.append(Problem(at + "hub_diameter_mm", "The hub takes more than half of the propeller."))
    if s.bore == "flat" and s.flat_mm >= s.bore_mm:
        out.append(Problem(at + "flat_mm", "Across the flat must be less than the bore, or there is no flat."))
    if s.bore == "screws" and s.screw_circle_mm - s.screw_hole_mm < s.bore_mm + 2 * s.bush_mm + WALL_MM:
        out.append(Problem(at + "screw_circle_mm", "The screws' holes meet the bore."))
    if s.folds:
        if s.eye_mm < s.pin_mm + 2 * WALL_MM:
            out.append(
                Problem(
                    at + "eye_mm", f"The eye leaves less than {WALL_MM:g} mm round its pin: make it {s.pin_mm + 2 * WALL_MM:.1f} mm wide."
                )
            )
        if s.pivot_mm < (s.hub_diameter_mm + s.eye_mm) / 2 + EDGE_MM:
            out.append(Problem(at + "pivot_mm", "The eye meets the hub as the blade folds: move the pivot out to "
                               f"{(s.hub_diameter_mm + s.eye_mm) / 2 + EDGE_MM:.1f} mm."))  # fmt: skip
        if s.root_mm > 0.5 * s.radius_mm:
            out.append(Problem(at + "pivot_mm", "The pivot takes more than half of the blade."))
    far = [x.radius_mm for x in s.stations if x.radius_mm > s.radius_mm]
    if far:
        out.append(Problem(at + "diameter_mm", f"A position at {far[0]:g} mm lies beyond the tip at {s.radius_mm:g} mm."))
    if not out:
        out += _blade_problems(s, at)
    return out


def _blade_problems(s: PropellerShape, at: str) -> list[Problem]:
    blade, out = blade_of(s), list[Problem]()
    if s.edge_mm > float(blade.thickness_mm.min()):
        out.append(Problem(at + "edge_mm", "The trailing edge is thicker than the blade: it is drawn as thick as that.", "warning"))
    rim = s.blades * float(blade.chord_mm[0]) * math.cos(float(blade.angle_rad[0]))
    if rim > ROOM * math.pi * s.hub_diameter_mm:
        out.append(Problem(at + "hub_diameter_mm", "The blades run into one another on the hub: make it wider.", "warning"))
    if s.bush_mm > 0 and s.bush_grip_mm <= 0:
        out.append(Problem(at + "bush_grip_mm", "A bush that is not tighter than the shaft holds nothing.", "warning"))
    return out
