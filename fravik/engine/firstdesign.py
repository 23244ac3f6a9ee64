"""A new craft's first design, made to hold what its targets ask: proportion alone says nothing of landings and stiffness.

Round by round the craft is judged, and what would break in use or gives too much is made stouter, as its kind grows in good
proportion, until all of it holds or growing no longer helps. Last it is balanced. How tough it is to be in a crash, and what holds by
another way (another filament, ribs, carbon), is for the maker and the ways out.
"""

from __future__ import annotations

from dataclasses import dataclass

from fravik.kinds import kind_of
from fravik.kinds.framing import owner_of
from fravik.kinds.newcraft import NEIGHBOUR_MM, stowed
from fravik.kinds.whole import clearances
from fravik.model.base import label_of
from fravik.model.paths import EditError, set_many
from fravik.model.project import Metric, Project
from fravik.study.margins import Margin

from .evaluate import Engine
from .memberresult import MemberResult
from .results import Evaluation, PlateResult, Refused
from .rotors import battery_slide_mm

ROUNDS, MOST = 3, 3.0  # times that all is judged, and how much stouter a part is made at once
LEAST_SLIDE_MM, SLIDES = 1.0, (1.0, 0.8, 0.6, 0.4, 0.2)  # from so far off balance on a battery is slid, and how much of it is tried
CLOSE = 1.02  # so much over the limit is aimed at, or the last step would be a hair short


@dataclass(frozen=True)
class Need:
    """How many times as strong and as stiff a part should be."""

    stronger: float = 1.0
    stiffer: float = 1.0

    def and_(self, stronger: float = 1.0, stiffer: float = 1.0) -> Need:
        """That, and this as well."""
        return Need(max(self.stronger, min(stronger, MOST)), max(self.stiffer, min(stiffer, MOST)))


def made_to_hold(project: Project, engine: Engine) -> Project:
    """The craft with parts stout enough for its targets, as far as they can grow within its weight: strong first, then stiff."""
    best = _grown(project, engine, False)
    return _balanced(_grown(best, engine, True), engine)


def grown_words(before: Project, after: Project) -> str:
    """What was made stouter than proportion alone has it, in a sentence; empty where nothing was."""
    out = []
    for part in after.parts:
        was, shape, fields = before.part(part.id).shape, part.shape, kind_of(part.shape).shape_type
        name = next((n for n in fields.model_fields if getattr(shape, n) != getattr(was, n)), None)
        if name is not None:
            out.append(f"{part.name.lower()} ({label_of(fields, name).lower()} {getattr(shape, name):g} mm)")
    return f"Made stouter than proportion alone, toward its targets: {', '.join(out)}." if out else ""


def _grown(project: Project, engine: Engine, stiff: bool) -> Project:
    best, tried = project, project
    for _ in range(ROUNDS):
        try:
            result = engine.evaluate(tried)
            if best is not tried and _too_heavy(result):
                break
            best = tried
            edits = _edits(result, stiff)
            if not edits:
                break
            tried = stowed(set_many(tried, edits))
        except (Refused, EditError):
            break
    return best


def _balanced(project: Project, engine: Engine) -> Project:
    """The battery slid until the centre of mass lies under the middle of thrust, or as far towards it as the propellers let it."""
    try:
        slide = battery_slide_mm(project, engine.evaluate(project).craft)
        for share in SLIDES if abs(slide) >= LEAST_SLIDE_MM else ():
            at = round(project.components.battery.x_mm + share * slide, 1)
            slid = set_many(project, (("components.battery.x_mm", at),))
            clear = clearances(slid).prop_to_body_mm >= min(NEIGHBOUR_MM, clearances(project).prop_to_body_mm)
            if clear and len(engine.problems(slid)) <= len(engine.problems(project)):
                return slid
    except (Refused, EditError):
        pass
    return project


def _too_heavy(result: Evaluation) -> bool:
    return any(m.metric == "flying_mass_g" and m.verdict == "fails" for m in result.margins)


def needs(result: Evaluation, stiff: bool) -> dict[str, Need]:
    """What every part of a craft lacks in strength, and in stiffness where that is asked, by its id; none that holds."""
    missed: dict[Metric, Margin] = {m.metric: m for m in result.margins if m.verdict in ("tight", "fails")}
    out: dict[str, Need] = {}
    reserve = missed.get("least_reserve")
    every: dict[str, MemberResult | PlateResult] = {**result.members, **result.plates}
    for k, judged in every.items():
        need = out.get(owner_of(k), Need())
        if reserve is not None:
            need = need.and_(CLOSE * reserve.limit / judged.worst_static("low")[1].reserve)
        out[owner_of(k)] = need
    stiffer = 1.0
    sag, floor = missed.get("tip_sag_mm"), missed.get("mode_floor_hz")
    if stiff and sag is not None and sag.high is not None:
        stiffer = max(stiffer, CLOSE * sag.high / sag.limit)
    if stiff and floor is not None and floor.low:
        stiffer = max(stiffer, (CLOSE * floor.limit / floor.low) ** 2)
    for k, member in result.members.items():
        if kind_of(member.member.shape).carries_rotor:
            out[owner_of(k)] = out[owner_of(k)].and_(stiffer=stiffer)
    return {k: n for k, n in out.items() if n != Need()}


def _edits(result: Evaluation, stiff: bool) -> tuple[tuple[str, float], ...]:
    out: list[tuple[str, float]] = []
    for part_id, need in needs(result, stiff).items():
        shape = result.project.part(part_id).shape
        grown = kind_of(shape).stouter(shape, need.stronger, need.stiffer)
        out += [(f"parts.{part_id}.shape.{name}", value) for name, value in grown.items() if value != getattr(shape, name)]
    return tuple(out)
