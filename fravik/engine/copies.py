"""What the copies of a part are called where they are not alike, and what each has in hand."""

from __future__ import annotations

from fravik.kinds import places_of
from fravik.kinds.asking import Place

from .memberresult import MemberResult
from .results import Evaluation, PlateResult

MIDDLE_MM = 1.0  # nearer to the middle line a copy stands on it
MOST_NAMED = 3
SIDES = ("front", "rear", "left", "right")


def _side(place: Place) -> str:
    """Where a copy stands, in words: the rotor it reaches, or the side of the craft that it is on."""
    if place.follows and not place.follows.startswith("arm_"):
        return place.follows.replace("_", " ")
    x, y = float(place.at_mm[0]), float(place.at_mm[1])
    along = "front" if x > MIDDLE_MM else "rear" if x < -MIDDLE_MM else ""
    across = "left" if y > MIDDLE_MM else "right" if y < -MIDDLE_MM else ""
    return " ".join(w for w in (along, across) if w) or "middle"


def copy_names(result: Evaluation, part_id: str) -> dict[str, str]:
    """By the ids of a part's places; copies that stand on one side are told apart by their numbers."""
    part = result.built.part(part_id)
    names = {p.id: _side(p) for p in places_of(part, result.built)}
    twice = {n for n in names.values() if list(names.values()).count(n) > 1}
    return {k: f"{n} ({k.rpartition('_')[2]})" if n in twice else n for k, n in names.items()}


def together(names: dict[str, str], places: tuple[str, ...]) -> str:
    """Some copies in words: 'the front ones' where these are all that stand in front, else each by its name."""
    if not places:
        return ""
    mine = [names[p] for p in places if p in names]
    for side in SIDES:
        there = [n for n in names.values() if side in n.split()]
        if len(mine) > 1 and sorted(there) == sorted(mine):
            return f"the {side} ones"
    if len(mine) > MOST_NAMED:
        return f"{len(mine)} of the {len(names)}"
    text = " and ".join(filter(None, (", ".join(mine[:-1]), mine[-1]))) if mine else ""
    return f"the {text} one{'s' if len(mine) > 1 else ''}" if text else ""


def worst_copies(result: Evaluation, part_id: str, case: str) -> str:
    """On which copies a case is worst, in words; empty where it is alike on all."""
    m = result.members.get(part_id)
    return together(copy_names(result, part_id), m.worse_for(case)) if m is not None else ""


def copy_reserves(result: Evaluation, part_id: str) -> str:
    """What every copy has in hand, each with its case's figure; empty where they are alike."""
    m = result.members.get(part_id)
    if m is None or not m.worse_for(m.worst_static()[0]):
        return ""
    names = copy_names(result, part_id)
    return ", ".join(f"{names.get(p, p)} {m.worst_static(place=p)[1].reserve:.2f}" for p in m.places)


def only_place(part_id: str) -> str:
    """Where a plate stands."""
    return f"{part_id}_1"


def by_place(found: MemberResult | PlateResult, case: str) -> dict[str, float]:
    """Typical reserves in a case by place."""
    if isinstance(found, PlateResult):
        return {only_place(found.part_id): found.cases["typical"][case].reserve}
    return {place: c.reserve for (n, place), c in found.copies["typical"].items() if n == case}
