"""What the model cannot judge of a craft yet, and why: said at the part, and shown as *not known yet* at every margin it touches."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

from fravik.kinds import kind_of
from fravik.kinds.around import feet
from fravik.model.problem import Problem
from fravik.model.project import Metric, Part, Project
from fravik.shape.stations import arrangement

STRUCTURE: tuple[Metric, ...] = (
    "tip_sag_mm", "modes_clear_pct", "mode_floor_hz", "least_reserve", "flat_drop_m", "arm_strike_m_s",
)  # fmt: skip
FLIGHT: tuple[Metric, ...] = ("flying_mass_g", "endurance_min", "thrust_to_weight", "motor_temp_c", "top_current_a", "thrust_left")
LANDING: tuple[Metric, ...] = ("least_reserve", "flat_drop_m")
TURNING: tuple[Metric, ...] = ("least_reserve", "arm_strike_m_s")

NUMBERS = {3: "three", 4: "four"}


@dataclass(frozen=True)
class Scope:
    """Why some metrics are not known, and the same as warnings at their fields.

    ``structure`` and ``flight`` are the reasons why no part's strength, or no figure of the whole craft, is judged; empty when they are.
    """

    structure: str = ""
    flight: str = ""
    unknown: Mapping[Metric, str] = field(default_factory=lambda: MappingProxyType({}))
    problems: tuple[Problem, ...] = ()


def _of(project: Project, kind: str) -> list[Part]:
    return [p for p in project.parts if p.shape.kind == kind]


def _count(parts: list[Part]) -> int:
    return sum(p.count for p in parts)


def _few(n: int, what: str) -> str:
    return f"{n} {what}{'s' * (n != 1)}"


def scope_of(project: Project) -> Scope:
    """What of this craft lies outside the model.

    Flight is judged for as many arms as the layout has; strength with one plate below them and one above,
    and as many legs as the layout has places for, or none.
    """
    unknown: dict[Metric, str] = {}
    problems: list[Problem] = []
    structure = flight = ""
    around = arrangement(project.layout)

    def leave(metrics: tuple[Metric, ...], path: str, reason: str) -> str:
        for m in metrics:
            unknown.setdefault(m, reason)
        problems.append(Problem(path, reason, "warning"))
        return reason

    legs, guards, mounts = (_of(project, k) for k in ("leg", "guard", "mount"))
    arms = [p for p in project.parts if kind_of(p.shape).seat == "root"]
    if not arms:
        structure = leave(
            STRUCTURE, "parts", "Not judged: the craft has no arm, so nothing carries its motors. Add one with the + in Parts."
        )
    elif _count(arms) != len(around.arms):
        flight = leave((*STRUCTURE, *FLIGHT), f"parts.{arms[-1].id}.count",
                       f"Not judged: the craft has {_few(_count(arms), 'arm')}; {around.name} has {len(around.arms)}.")  # fmt: skip
    for place in ("bottom", "top"):
        plates = [p for p in _of(project, "plate") if getattr(p.shape, "place", "") == place]
        if _count(plates) > 1:
            last = plates[-1]
            many = f"the craft has {_count(plates)} {place} plates"
            reason = f"Not judged: {many}; one above and one below the arms are judged as yet, and a deck on standoffs rides on them."
            structure = leave(STRUCTURE, f"parts.{last.id}.count", reason) or structure
    spots = len(feet(project))
    if not structure and not flight and legs and (len(legs) > 1 or legs[0].count != spots):
        many = f"{_few(_count(legs), 'leg')} of {_few(len(legs), 'kind')}"
        text = f"Landing is not judged: the craft has {many}; {NUMBERS[spots]} equal ones are as yet."
        leave(LANDING, f"parts.{legs[-1].id}.count", text)
    if _count(guards) > len(around.arms):
        leave(TURNING, f"parts.{guards[-1].id}.count", f"{_count(guards)} guards on {len(around.arms)} arms: some lie on one spot.")
    for p in [*mounts, *_of(project, "imported")]:
        if p.count > 1:
            leave(TURNING, f"parts.{p.id}.count", f"The {p.count} copies of {p.name.lower()} lie on one spot: their weight counts, not "
                  "where it sits. Read each in as a part of its own.")  # fmt: skip
    return Scope(structure or flight, flight, MappingProxyType(unknown), tuple(problems))
