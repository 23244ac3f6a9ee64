"""Whether the plates reach what stands on them: the arms' bolts, the legs, the battery. Each is told at its own field."""

from __future__ import annotations

from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.shapes import PlateShape
from fravik.shape.arm import tongue_bolts
from fravik.shape.stations import in_plan

from ..around import arm_shapes_by_slot, arms_by_slot, bolted_through, foot_spots_mm, stands, stations
from ..drives import drives
from ..framing import told_apart
from ..registry import kind_of

MOST_OVERHANG = 0.4


def _off_mm(shape: PlateShape, x: float, y: float) -> float:
    """How far a point lies past a plate's straight edges."""
    return max(abs(x) - shape.length_mm / 2, abs(y) - shape.width_mm / 2)


def reach_problems(project: Project) -> list[Problem]:
    """Things that hang past the plates. Bolts off a plate hold nothing and are an error; the rest is a warning."""
    plates = [(p, p.shape) for p in told_apart(project).parts if isinstance(p.shape, PlateShape)]
    if not plates:
        return []
    out = _bolts(project, plates) + _too_large(project, plates)
    bottom = next((s for _, s in plates if s.place == "bottom"), plates[0][1])
    top = next((s for _, s in plates if s.place == "top"), bottom)
    off = max(_off_mm(bottom, x, y) for x, y in foot_spots_mm(project))
    legs = [p for p in project.parts if kind_of(p.shape).stands]
    if legs and off > 0:
        own = next((p for p in legs if p.own_places), None)
        at = "layout.leg_radius_mm"
        if own is not None:
            farthest = max(own.own_places, key=lambda o: _off_mm(bottom, o.x_mm, o.y_mm))
            at = f"parts.{own.id}.own_places.{farthest.id}.x_mm"
        out.append(Problem(at, f"The legs stand {off:.0f} mm past the bottom plate's edge; they are judged at its edge.", "warning"))
    b = project.components.battery
    over = abs(b.x_mm) + b.length_mm / 2 - top.length_mm / 2
    if over > MOST_OVERHANG * b.length_mm:
        out.append(Problem("components.battery.x_mm", f"The battery hangs {over:.0f} mm past the plate's edge: slide it back, or lengthen "
                           "the plate. Its strap is judged at the edge.", "warning"))  # fmt: skip
    return out


def _too_large(project: Project, plates: list[tuple[Part, PlateShape]]) -> list[Problem]:
    """Plates larger than the whole craft with its propellers: a slip, and too soft to be told from what hangs on nothing."""
    span = max(2 * s.radius_mm + d.propeller.diameter_mm for s, d in zip(stations(project), drives(project), strict=True))
    return [
        Problem(f"parts.{p.id}.shape.{field}", f"{p.name} would be {getattr(s, field):g} mm {way}; the whole craft with its propellers is "
                f"{span:.0f} mm across.")
        for p, s in plates for field, way in (("length_mm", "long"), ("width_mm", "wide")) if getattr(s, field) > span
    ]  # fmt: skip


def _bolts(project: Project, plates: list[tuple[Part, PlateShape]]) -> list[Problem]:
    places = [
        at for arm, shape, stand in zip(arms_by_slot(project), arm_shapes_by_slot(project), stands(project), strict=False)
        if bolted_through(arm) for at in in_plan(tongue_bolts(shape), stand)
    ]  # fmt: skip
    if not places:
        return []
    for part, shape in plates:
        off = max(_off_mm(shape, x, y) for x, y in places)
        if off > 0:
            return [Problem("layout.clamp_radius_mm", f"The arms' bolts lie {off:.0f} mm past the edge of {part.name.lower()}: move the "
                            "arms in, or make the plate larger.")]  # fmt: skip
    return []
