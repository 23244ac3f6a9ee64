"""How the craft stands before it flies and as it lands."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.stance import Stance, stance
from fravik.kinds import kind_of
from fravik.printing.zones import Floats
from fravik.shape.clash import bounds, lowest
from fravik.structure.cases import sag_mm
from fravik.study.findings import Cure, Finding

from .bodies import copies, corners, disks, things, triangles

FEET_MM = 1.0  # what lies so little above the lowest point touches the ground as well
STEEP_DEG, POOR_DEG = 25.0, 15.0
WIDER_MM = (15.0, 30.0, 50.0)


def _lowest(engine: Engine, result: Evaluation) -> tuple[float, Floats]:
    points = [corners(engine, c).reshape(-1, 3) for c in copies(result)]
    points += [triangles(t).reshape(-1, 3) for t in things(result)]
    return lowest(points, FEET_MM) if points else (0.0, np.zeros((0, 2)))


def ground_mm(engine: Engine, result: Evaluation) -> float:
    """Height of the ground under the craft as it stands."""
    return engine.memo.get("ground", result.project, lambda: _lowest(engine, result)[0])


def stands(engine: Engine, result: Evaluation) -> Stance | None:
    """Its stance; None where it does not stand."""
    ground, feet = _lowest(engine, result)
    return stance(feet, ground, result.craft.mass_g, result.craft.com_mm, result.craft.inertia_gmm2) if len(feet) else None


def gives_mm(result: Evaluation) -> tuple[float, float]:
    """How far its feet give in the brief's hard landing, and how far the arms' tips dip, with the softest plastic, mm."""
    feet, tips = [0.0], [0.0]
    for m in result.members.values():
        kind, case = kind_of(m.member.shape), m.combos["low"].get("hard_landing")
        if case is not None and (kind.stands or kind.carries_rotor):
            (feet if kind.stands else tips).append(sag_mm(m.answers["low"], case))
    return max(feet), max(tips)


def room_mm(engine: Engine, result: Evaluation) -> tuple[float, float]:
    """What is left in a hard landing between the ground and the lowest propeller, and the lowest thing that it does not stand on."""
    ground, (feet, tips) = ground_mm(engine, result), gives_mm(result)
    disk_low = min((float(bounds(d)[0, 2]) for _, d in disks(result)), default=math.inf)
    hung = min((float(bounds(t.body)[0, 2]) for t in things(result)), default=math.inf)
    return disk_low - ground - feet - tips, hung - ground - feet


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing for a craft without parts, or whose weight is not known."""
    if result.scope.flight or not result.parts or result.project.flying.sits == "tail":
        return  # how it stands on the trailing edges of its wing is not judged
    found = stands(engine, result)
    layout = result.project.layout
    legs = any(kind_of(p.shape).stands for p in result.project.parts)
    cures = tuple(
        Cure(f"Legs {more:.0f} mm farther out", (("layout.leg_radius_mm", round(layout.leg_radius_mm + more, 1)),))
        for more in WIDER_MM if legs and layout.leg_radius_mm + more <= 400
    )  # fmt: skip
    advice = "" if legs else "Add legs in Parts, or start and land it on a soft mat."
    if found is None:
        yield Finding("standing.falls", "likely", "Airframe", "layout.leg_radius_mm", "The feet",
                      "It does not stand: it falls over before it flies.",
                      "What touches the ground does not lie around its centre of mass.", advice, cures)  # fmt: skip
    elif found.tips_at_deg < STEEP_DEG:
        yield Finding(
            "standing.tips", "likely" if found.tips_at_deg < POOR_DEG else "worth knowing", "Airframe", "layout.leg_radius_mm", "The feet",
            f"It tips over {found.toward} on a slope of {found.tips_at_deg:.0f}°, or landing with {found.drift_m_s:.1f} m/s of drift.",
            f"Its centre of mass is {found.height_mm:.0f} mm above the ground and {found.edge_mm:.0f} mm from the edge of its feet.",
            advice, cures,
        )  # fmt: skip
    yield from _landing(engine, result)


def _landing(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    ground, (feet, tips) = ground_mm(engine, result), gives_mm(result)
    disk, hung = room_mm(engine, result)
    speed = result.project.brief.landing_m_s
    if disk <= 0 < disk + feet + tips:
        yield Finding(
            "standing.disk_down", "likely", "Airframe", "layout.leg_radius_mm", "The propellers",
            f"In a landing at {speed:g} m/s a propeller reaches the ground.",
            f"Its feet give {feet:.0f} mm and the arms dip {tips:.0f} mm; {disk + feet + tips:.0f} mm are between disk and ground at rest.",
            "Longer or stiffer legs, or stiffer arms.", (), "fit",
        )  # fmt: skip
    if hung <= 0 and hung + feet > FEET_MM:
        low = min(things(result), key=lambda t: float(bounds(t.body)[0, 2]))
        yield Finding(
            f"standing.thing_down:{low.id}", "likely", "Airframe", f"{low.path}.z_mm", low.name,
            f"In a landing at {speed:g} m/s it strikes the ground.",
            f"Its feet give {feet:.0f} mm; it hangs {float(bounds(low.body)[0, 2]) - ground:.0f} mm above the ground at rest.",
            "Longer or stiffer legs, or hang it higher.", (), "fit",
        )  # fmt: skip
