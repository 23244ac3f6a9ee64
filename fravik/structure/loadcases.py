"""The load cases there are, by id: what each is called, whether it is flight, ground or crash, and what its loads are per."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeVar

from fravik.model.project import OwnCase


@dataclass(frozen=True)
class LoadCase:
    """A load case by its id: what it is called, and what its loads are per, where they are not the loads themselves."""

    id: str
    label: str
    kind: Literal["flight", "ground", "crash"]
    unit: str = ""


CASES: dict[str, LoadCase] = {
    c.id: c
    for c in (
        LoadCase("hover", "hover", "flight"),
        LoadCase("full_throttle", "full throttle", "flight"),
        LoadCase("pull_up", "pull-up", "flight"),
        LoadCase("hard_yaw", "hard yaw", "flight"),
        LoadCase("out_of_step", "motor out of step", "flight"),
        LoadCase("hard_landing", "hard landing", "ground"),
        LoadCase("two_feet", "hard landing on two feet", "ground"),
        LoadCase("one_foot", "hard landing on one foot", "ground"),
        LoadCase("strap_pull", "strap pull", "ground"),
        LoadCase("transport", "transport", "ground"),
        LoadCase("flat_drop", "flat drop", "crash", "1 m/s"),
        LoadCase("arm_strike", "arm strike", "crash", "1 m/s"),
        LoadCase("first_blow", "first blow", "crash", "1 m/s"),
        LoadCase("guard_bump", "guard bump", "crash", "1 m/s"),
    )
}
FLIGHT_CASES, GROUND_CASES, CRASH_CASES = (tuple(k for k, c in CASES.items() if c.kind == kind) for kind in ("flight", "ground", "crash"))
OWN = "own/"
AtPlace = tuple[str, str]
# a case by itself, or a case of one copy: by case and place
CaseKey = TypeVar("CaseKey", str, AtPlace)


def case_of(key: str | AtPlace) -> str:
    """The case of a key."""
    return key if isinstance(key, str) else key[0]


def own_key(case: OwnCase) -> str:
    """The key of a case of the maker's own: by its id, so that no name can stand in for another case."""
    return OWN + case.id


def case_name(key: str, own: tuple[OwnCase, ...]) -> str:
    """What a case is called: built-in ones by their label, the maker's own by the name he gave."""
    return CASES[key].label if key in CASES else next((c.name for c in own if own_key(c) == key), key)
