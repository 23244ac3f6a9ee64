"""What keeps a guard from being made, or from clearing its propeller."""

from __future__ import annotations

from fravik.model.problem import Problem
from fravik.model.shapes import GuardShape
from fravik.shape.guard import guard_radius_mm


def guard_problems(g: GuardShape, prop: float, at: str) -> list[Problem]:
    """Contradictions of arc, hub and struts; ``prop`` is the widest propeller that it goes round, mm."""
    out: list[Problem] = []
    radius = guard_radius_mm(g, prop)
    if radius - g.width_mm / 2 < prop / 2 + 1.0:
        out.append(Problem(at + "radius_mm", f"The arc leaves {radius - g.width_mm / 2 - prop / 2:.1f} mm to the propeller's tip; it must "
                           "clear it by 1 mm at least, more if the guard flexes."))  # fmt: skip
    edge = (g.hub_diameter_mm - g.bolt_circle_mm - g.bolt_hole_mm) / 2
    if edge < 0.8:
        out.append(Problem(at + "hub_diameter_mm", f"Only {edge:.1f} mm of hub is left outside the motor screws; at least 0.8 is needed."))
    if g.bolt_circle_mm - g.bolt_hole_mm < 2.5:
        out.append(Problem(at + "bolt_circle_mm", "The motor screws meet in the middle: use a larger circle or smaller holes."))
    if g.hub_thickness_mm > g.height_mm:
        out.append(Problem(at + "hub_thickness_mm", "The hub is thicker than the ring is high; make the ring higher."))
    if g.width_mm > 0.5 * g.hub_diameter_mm:
        out.append(Problem(at + "width_mm", f"Struts {g.width_mm:g} mm wide do not fit the hub; at most {0.5 * g.hub_diameter_mm:.0f} mm."))
    if radius < g.hub_diameter_mm / 2 + 3 * g.width_mm + g.root_fillet_mm:
        out.append(Problem(at + "hub_diameter_mm", "The hub reaches the arc: a smaller hub or a larger radius."))
    return out
