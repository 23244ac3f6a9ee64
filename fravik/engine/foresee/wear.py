"""What wears out: parts that crack after hours of flight, and screws in plastic that lose their pull.

Thresholds, working assumptions: a usual life under SHORT_H is short and one under LONG_H is seen, a life under LOOK_H in the worst of its
band wants looking at; a joint of which flight takes TAKEN of what grip is left after MONTH_H is told.
"""

from __future__ import annotations

from collections.abc import Iterable

from fravik.engine.evaluate import Engine
from fravik.engine.fatigue import Life, lives
from fravik.engine.results import Evaluation, MemberResult
from fravik.kinds import kind_of
from fravik.kinds.drives import unlike
from fravik.kinds.framing import owner_of
from fravik.model.material import Filament
from fravik.model.project import Part
from fravik.structure.attachments import slipping
from fravik.structure.fatigue import SENSITIVITY, relaxed
from fravik.structure.loadcases import FLIGHT_CASES, case_name
from fravik.structure.notches import Raiser, cure_radius_mm
from fravik.study.findings import Cure, Finding, Weight

SHORT_H, LONG_H, LOOK_H = 2.0, 30.0, 5.0
DAY_H, MONTH_H = 24.0, 720.0
TAKEN = 0.5
EVERY_FLIGHT_H, MOST_MM = 0.5, 25.0
ROOM_C, WARMER = 23.0, 1.5  # near its glass transition a plastic lets go so many times more readily than at room temperature
MIX = (0.2, 0.5, 0.3)  # of pull, upward and sideways bending in what wears an arm


def lives_of(engine: Engine, result: Evaluation) -> tuple[Life, ...]:
    """Worked out once a design."""
    return engine.memo.get("lives", result.project, lambda: lives(result))


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the modes are not known."""
    for life in lives_of(engine, result):
        yield from _worn(result, life)
    yield from _loose(result)


def hours_in_words(hours: float) -> str:
    """As it can be told of a life that scatters over decades."""
    if hours < 0.1:
        return "a few minutes"
    if hours >= 1000:
        return "over 1000 h"
    return f"{hours:.0f} h" if hours >= 10 else f"{hours:.1g} h"


def _worn(result: Evaluation, life: Life) -> Iterable[Finding]:
    low, usual, high = life.hours
    if usual >= LONG_H and low >= LOOK_H:
        return
    weight: Weight = "grave" if usual < SHORT_H else "likely" if usual < LONG_H else "worth knowing"
    part = result.pieces[life.part_id].part
    looks = "after every flight" if low < EVERY_FLIGHT_H else f"every {hours_in_words(low)}"
    cracks = (f"It cracks after {hours_in_words(usual)} in the air, although it holds every load once." if usual < LONG_H else
              f"Hours of flight may crack it, although it holds every load once: look it over {looks}.")  # fmt: skip
    at = f" at the {life.raiser.name}" if life.raiser is not None else ""
    yield Finding(
        f"wear:{life.part_id}", weight, "Parts", f"parts.{owner_of(life.part_id)}.shape", part.name, cracks,
        f"{life.position_mm:.0f} mm along{at} it lasts {hours_in_words(low)} to {hours_in_words(high)}, usually {hours_in_words(usual)}, "
        f"by {life.kind}; {life.by} wears it most.",
        f"Look it over {looks}. Balance the propellers; move the mode that rings; round the corner; a tougher plastic, "
        "or layers along the arm.",
        _cures(result, life), "vibration",
    )  # fmt: skip


def _cures(result: Evaluation, life: Life) -> tuple[Cure, ...]:
    """A rounder corner where one wears it, and balanced propellers where their shake does."""
    out: list[Cure] = []
    part = next((p for p in result.project.parts if p.id == life.part_id), None)
    if part is not None and life.raiser is not None and life.raiser.field:
        name = life.raiser.name.rsplit(" ", 2)[0].capitalize()
        for radius in _radii(result, part, life, life.raiser):
            out.append(Cure(f"{name} of {radius:g} mm", ((f"parts.{part.id}.shape.{life.raiser.field}", radius),)))
    worse = [d for d in unlike(result.project) if d.propeller.balance != "balanced"]
    if worse and life.by not in ("pull ups", "hard yaws", "hard landings"):
        out.append(Cure("Propellers balanced", tuple((f"{d.path}.propeller.balance", "balanced") for d in worse)))
    return tuple(out)


def _radii(result: Evaluation, part: Part, life: Life, raiser: Raiser) -> list[float]:
    """The least radius that is enough by the raiser's factor, and rounder ones for where it is not enough by itself."""
    kind, length = kind_of(part.shape), result.parts[part.id].given.length_mm

    def rounder(radius: float) -> list[Raiser]:
        return kind.raisers(part.shape.model_copy(update={raiser.field: radius}), length, SENSITIVITY)

    slope = result.pieces[life.part_id].filament.fatigue_slope.typical
    wanted = (LONG_H / max(life.hours.typical, 1e-9)) ** (1 / slope)
    enough = cure_radius_mm(rounder, raiser, 1.0, max(wanted, 1.02), MIX)
    return [enough] if enough is not None else [round(raiser.radius_mm * f, 1) for f in (4.0, 10.0) if raiser.radius_mm * f <= MOST_MM]


def creeps(f: Filament, temp_c: float) -> float:
    """Exponent of what a screw in it loses, warm as it is."""
    near = max(temp_c - ROOM_C, 0.0) / max(f.glass_transition_c - ROOM_C, 1.0)
    return f.creep_exponent.typical * (1.0 + WARMER * min(near, 1.0))


def _loose(result: Evaluation) -> Iterable[Finding]:
    for k, m in result.members.items():
        made = result.pieces[k]
        root = m.member.root_holder.filament if m.member.root_holder is not None else made.filament
        case, share = _most_slipping(m)
        exponent = creeps(root, made.service.temp_c)
        day, month = relaxed(exponent, DAY_H), relaxed(exponent, MONTH_H)
        if share / month < TAKEN:
            continue
        slips = share <= 1.0 < share / month
        yield Finding(
            f"loose:{k}", "likely" if slips else "worth knowing", "Parts", f"parts.{owner_of(k)}.joint", made.part.name,
            f"Its screws lose their pull{', and the joint then slips' if slips else ''}: tighten them after the first day.",
            f"Plastic under a screw lets go: {day:.0%} of the pull are left after a day, {month:.0%} after a month at "
            f"{made.service.temp_c:.0f} °C. {case_name(case, result.project.brief.own_cases)} takes {share:.0%} of the grip at first, "
            f"{share / month:.0%} then.",
            "Large washers, a nut that locks, and a look after the first flights; a plastic that creeps less, or a metal "
            "sleeve in the hole.",
            page="joints",
        )  # fmt: skip


def _most_slipping(m: MemberResult) -> tuple[str, float]:
    every = {n: slipping(m.bases["typical"], c) for n, c in m.combos["typical"].items() if n in FLIGHT_CASES}
    return max(every.items(), key=lambda pair: pair[1], default=("", 0.0))
