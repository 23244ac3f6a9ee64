"""Stations of the maker's own: set free from a layout, moved, added and taken away, with both sides alike where they were."""

from __future__ import annotations

import math

from fravik.model.craft import LEAST_STATIONS, FreeStation
from fravik.model.paths import EditError
from fravik.model.project import Part, Project
from fravik.shape.stations import arrangement

from .arm.checks import ALIKE_MM
from .around import arm_ends, arms_by_slot
from .base import Edits
from .newcraft import counted

PARTNER_MM = 1.0  # a station so near the mirror image of another is its partner


def freed(project: Project) -> Edits:
    """The edits that make the stations of a layout the maker's own, where they are: one an arm, pairs as pairs."""
    there = arrangement(project.layout)
    own = tuple(
        FreeStation(id=s.id, x_mm=round(s.x_mm, 2), y_mm=round(s.y_mm, 2), turns="left" if s.spin > 0 else "right", tilt_deg=s.tilt_deg,
                    pair=there.paired(k))
        for k, s in enumerate(arm_ends(project))
    )  # fmt: skip
    return (("layout.stations", own), ("layout.kind", "free"))


def partner(project: Project, station_id: str) -> str | None:
    """The station on the other side that mirrors one, if any."""
    every = {s.id: s for s in project.layout.stations}
    me = every[station_id]
    for s in project.layout.stations:
        if s.id != station_id and math.hypot(s.x_mm - me.x_mm, s.y_mm + me.y_mm) <= PARTNER_MM:
            return s.id
    return None


def moved(project: Project, station_id: str, x_mm: float, y_mm: float, both_sides: bool = True) -> Edits:
    """The edits that move a station, and its partner with it.

    Where an arm's other places then stand nearer or farther, those that moved get an arm of their own, made like it.
    """
    places = {station_id: (x_mm, y_mm)}
    other = partner(project, station_id) if both_sides else None
    if other is not None:
        places[other] = (x_mm, -y_mm)
    own = tuple(
        s.model_copy(update={"x_mm": places[s.id][0], "y_mm": places[s.id][1]}) if s.id in places else s for s in project.layout.stations
    )
    at = [
        (f"layout.stations.{name}.{axis}", value) for name, xy in places.items() for axis, value in zip(("x_mm", "y_mm"), xy, strict=True)
    ]
    parts = _apart(project, own, set(places))
    return (*at, *((("parts", parts),) if parts != project.parts else ()))


def _apart(project: Project, own: tuple[FreeStation, ...], gone: set[str]) -> tuple[Part, ...]:
    """The parts, with arms of their own for stations that have moved to another distance than the arm's other places."""
    slots = [(name, part) for (name, _), part in zip(arrangement(project.layout).arms, arms_by_slot(project), strict=True)]
    far = {s.id: math.hypot(s.x_mm, s.y_mm) for s in own}
    out: list[Part] = []
    for part in project.parts:
        mine = [name for name, p in slots if p.id == part.id]
        here = [n for n in mine if n in gone]
        stay = [n for n in mine if n not in gone]
        if not here or not stay or max(abs(far[a] - far[b]) for a in here for b in stay) <= ALIKE_MM:
            out.append(part)
            continue
        taken = {p.id for p in (*project.parts, *out)}
        new = next(i for i in (f"{part.id[:36]}_{k}" for k in range(2, 99)) if i not in taken)
        out.append(part.model_copy(update={"count": len(stay), "at": tuple(stay)}))
        out.append(
            part.model_copy(update={"id": new, "name": f"{part.name} {new.rsplit('_', 1)[-1]}", "count": len(here), "at": tuple(here)})
        )
    return tuple(out)


def added(project: Project) -> Edits:
    """One more station, in the middle of the widest gap between two, with an arm for it."""
    have = sorted(project.layout.stations, key=lambda s: math.atan2(s.y_mm, s.x_mm))
    bearings = [math.atan2(s.y_mm, s.x_mm) for s in have]
    gaps = [((b - a) % (2 * math.pi) or 2 * math.pi, a) for a, b in zip(bearings, [*bearings[1:], bearings[0]], strict=True)]
    gap, start = max(gaps, key=lambda g: round(g[0], 6))
    r, way = sum(math.hypot(s.x_mm, s.y_mm) for s in have) / len(have), start + gap / 2
    taken = {s.id for s in have}
    name = next(n for n in (f"station_{k}" for k in range(1, 99)) if n not in taken)
    turns = "left" if sum(1 if s.turns == "left" else -1 for s in have if not s.pair) < 0 else "right"
    new = FreeStation(id=name, x_mm=round(r * math.cos(way), 1), y_mm=round(r * math.sin(way), 1), turns=turns)
    return _with(project, (*project.layout.stations, new))


def removed(project: Project, station_id: str) -> Edits:
    """One station less, and an arm less. Raises EditError where too few are left."""
    left = tuple(s for s in project.layout.stations if s.id != station_id)
    if len(left) < LEAST_STATIONS:
        raise EditError("layout.stations", "A craft has two stations at least.")
    return _with(project, left)


def _with(project: Project, own: tuple[FreeStation, ...]) -> Edits:
    other = project.model_copy(update={"layout": project.layout.model_copy(update={"stations": own})})
    return (("layout.stations", own), *counted(project, other))
