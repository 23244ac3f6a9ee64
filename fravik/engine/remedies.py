"""What evens out a centre of mass that moves as rotors tilt: each an edit, tried, with its price."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.flight.mass import HUB_OVER_MM
from fravik.kinds import Edits
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.kinds.wing.geometry import panels, wing_of
from fravik.model.paths import EditError, set_many
from fravik.model.project import Project

from .evaluate import Engine
from .results import Evaluation, Refused
from .wing import flyer, wing_sight

SLIDE_G, MOST_SLIDE_MM = 21.0, 120.0  # a rail and a small servo: a working assumption
UNDER_MM = 60.0  # how far under its axis a counterweight can hang
HELPS = 0.9  # a remedy leaves less than this of the travel


@dataclass(frozen=True)
class Remedy:
    """One of them: what it is called, what it changes, and when tried, travel of the centre of mass over the way (mm), where it stands
    at both
    ends (mm ahead), grams more,
    and for a wing that was moved the static margin in forward flight."""

    title: str
    edits: Edits
    travel_mm: float
    ends_mm: tuple[float, float]
    grams: float
    margin_pct: float | None = None

    @property
    def words(self) -> str:
        """What it does and costs."""
        does = f"margin {self.margin_pct:.0f} %" if self.margin_pct is not None else f"{self.travel_mm:.1f} mm"
        return f"{does}, {self.grams:+.0f} g" if abs(self.grams) >= 0.5 else does


def remedies(engine: Engine, result: Evaluation) -> tuple[Remedy, ...]:
    """Those that can be had and help, the least grams first."""
    f = flyer(engine.memo, result)
    x = 1e3 * f.com_m[:, 0]
    out = []
    for title, edits in _ways(result, float(x[-1] - x[0])):
        try:
            other = engine.evaluate(set_many(result.project, edits))
        except (EditError, Refused):
            continue
        g = 1e3 * flyer(engine.memo, other).com_m[:, 0]
        moved = float(np.ptp(g))
        w = wing_sight(engine.memo, other) if title.startswith("Wing") else None
        if w is None and moved > HELPS * float(np.ptp(x)):
            continue
        out.append(Remedy(title, edits, moved, (float(g[0]), float(g[-1])), other.craft.mass_g - result.craft.mass_g,
                          w.static_margin_pct if w is not None else None))  # fmt: skip
    return tuple(sorted(out, key=lambda r: (r.margin_pct is not None, r.grams)))


def _ways(result: Evaluation, moves_mm: float) -> list[tuple[str, Edits]]:
    project, out = result.project, list[tuple[str, Edits]]()
    if abs(moves_mm) < 0.2:
        return out
    flying, battery = project.flying, project.components.battery
    slide = flying.slide_mm - moves_mm * result.craft.mass_g / battery.mass_g
    if abs(slide) <= MOST_SLIDE_MM:
        more = SLIDE_G if flying.slide_g == 0 else flying.slide_g
        out.append((f"Battery slides {abs(slide):.0f} mm {'ahead' if slide > 0 else 'back'}, linked to the tilt",
                    (("flying.slide_mm", round(slide, 1)), ("flying.slide_g", more))))  # fmt: skip
    out += _pivots(project)
    wing = next((p for p in panels(project) if wing_of(p).role == "wing" and not wing_of(p).on), None)
    if wing is not None:
        s = wing_of(wing)
        at = round(s.x_mm + moves_mm / 2, 0)
        out.append((f"Wing moved {abs(at - s.x_mm):.0f} mm {'ahead' if at > s.x_mm else 'back'}, so that it stands right half way",
                    ((f"parts.{wing.id}.shape.x_mm", at),)))  # fmt: skip
        out.append(("Wing swept back 20 mm more, root where it is", ((f"parts.{wing.id}.shape.sweep_mm", s.sweep_mm + 20.0),)))
    return out


def _pivots(project: Project) -> list[tuple[str, Edits]]:
    """Pods that turn about their own centre of mass: the axis moved there, or a counterweight under it."""
    by_id = {s.id: d for s, d in zip(stations(project), drives(project), strict=True)}
    axis, weight, grams = list[tuple[str, float]](), list[tuple[str, float]](), 0.0
    for t in project.flying.tilts:
        d = next((by_id[r] for r in t.rotors if r in by_id), None)
        if d is None:
            continue
        up = [t.pivot_under_mm + d.motor.height_mm / 2, t.pivot_under_mm + d.motor.height_mm + HUB_OVER_MM]
        masses = [d.motor.mass_g, d.propeller.mass_g]
        drive = sum(m * z for m, z in zip(masses, up, strict=True))
        moment = drive + t.pod_g * t.pod_over_mm
        middle = moment / (sum(masses) + t.pod_g)
        if middle <= 1.0:
            continue
        path = f"flying.tilts.{t.id}."
        axis += [(path + "pivot_under_mm", round(t.pivot_under_mm - middle, 1)), (path + "pod_over_mm", round(t.pod_over_mm - middle, 1))]
        more = moment / UNDER_MM
        weight += [(path + "pod_g", round(t.pod_g + more, 1)),
                   (path + "pod_over_mm", round((t.pod_g * t.pod_over_mm - more * UNDER_MM) / (t.pod_g + more), 1))]  # fmt: skip
        grams += more * len(t.rotors)
    out: list[tuple[str, Edits]] = []
    if axis:
        out.append(("Pods pivot at their own centre of mass", tuple(axis)))
        out.append((f"Counterweights under the axes, {grams:.0f} g", tuple(weight)))
    return out
