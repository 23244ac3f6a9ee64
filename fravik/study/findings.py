"""Findings: what will go wrong with a craft, foreseen from its design, with cures that are edits and were tried."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from fravik.kinds import Edits

Weight = Literal["grave", "likely", "worth knowing"]
# how heavily each weighs, the lightest first
WEIGHTS: tuple[Weight, ...] = ("worth knowing", "likely", "grave")
STAGES = ("Brief", "Airframe", "Parts", "Propeller", "Wing", "Vibration", "Transition", "Print run")


@dataclass(frozen=True)
class Cure:
    """A change that may do away with a finding."""

    title: str
    edits: Edits


@dataclass(frozen=True)
class Finding:
    """One thing that will go wrong: where (in words, and the field that leads there), what happens, why with its figures, what else helps.

    ``id`` stays the same while the design changes around it: what is set aside goes by it. ``page`` names the page of the docs.
    """

    id: str
    weight: Weight
    stage: str
    path: str
    where: str
    what: str
    why: str = ""
    advice: str = ""
    cures: tuple[Cure, ...] = ()
    page: str = "findings"

    @property
    def part_id(self) -> str:
        """The part it is of; empty for all else."""
        return self.path.split(".")[1] if self.path.startswith("parts.") else ""


@dataclass(frozen=True)
class TriedCure:
    """A cure that was tried: what it costs, the targets that it takes from *holds*, and the graver things that it brings."""

    cure: Cure
    grams: float
    minutes: float
    cost: float
    harms: tuple[str, ...]
    brings: tuple[str, ...]


def heavier(a: Weight, b: Weight) -> bool:
    """Whether one weighs more than another."""
    return WEIGHTS.index(a) > WEIGHTS.index(b)


def ranked(found: Iterable[Finding]) -> tuple[Finding, ...]:
    """The heaviest first, then by stage; of two with one id the heavier."""
    best: dict[str, Finding] = {}
    for f in found:
        if f.id not in best or heavier(f.weight, best[f.id].weight):
            best[f.id] = f
    return tuple(sorted(best.values(), key=lambda f: (-WEIGHTS.index(f.weight), STAGES.index(f.stage), f.id)))


def counts(found: Iterable[Finding]) -> dict[Weight, int]:
    """How many of each weight."""
    every = [f.weight for f in found]
    return {w: every.count(w) for w in reversed(WEIGHTS)}
