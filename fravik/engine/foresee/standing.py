"""How the craft stands before it flies and as it lands."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.stance import Stance, stance
from fravik.kinds import kind_of
from fravik.printing.zones import Floats
from fravik.shape.clash import lowest
from fravik.study.findings import Cure, Finding

from .bodies import box_triangles, copies, corners, things

FEET_MM = 1.0  # what lies so little above the lowest point touches the ground as well
STEEP_DEG, POOR_DEG = 25.0, 15.0
WIDER_MM = (15.0, 30.0, 50.0)


def _lowest(engine: Engine, result: Evaluation) -> tuple[float, Floats]:
    points = [corners(engine, c).reshape(-1, 3) for c in copies(result)]
    points += [box_triangles(t.centre_mm, t.size_mm).reshape(-1, 3) for t in things(result)]
    return lowest(points, FEET_MM) if points else (0.0, np.zeros((0, 2)))


def ground_mm(engine: Engine, result: Evaluation) -> float:
    """Height of the ground under the craft as it stands."""
    return engine.memo.get("ground", result.project, lambda: _lowest(engine, result)[0])


def stands(engine: Engine, result: Evaluation) -> Stance | None:
    """Its stance; None where it does not stand."""
    ground, feet = _lowest(engine, result)
    return stance(feet, ground, result.craft.mass_g, result.craft.com_mm, result.craft.inertia_gmm2) if len(feet) else None


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing for a craft without parts, or whose weight is not known."""
    if result.scope.flight or not result.parts:
        return
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
