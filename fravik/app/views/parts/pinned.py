"""A design kept to compare with, and what has changed since."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.engine.results import Evaluation
from fravik.engine.ruler import reserves_of
from fravik.study.words import clock


@dataclass(frozen=True)
class Pinned:
    """A design kept to compare with: its result, and what it was called."""

    result: Evaluation
    label: str


def pinned_text(pinned: Pinned | None, result: Evaluation, part_id: str, read_id: str, case: str) -> str:
    """What changed of a part since the pinned design, in reserve, grams and minutes; empty where there is nothing to compare."""
    if pinned is None or part_id not in pinned.result.parts:
        return ""
    before, after = pinned.result.parts[part_id], result.parts[part_id]
    then, now = (reserves_of(r, read_id, case) for r in (pinned.result, result))
    if then is None or now is None:
        return ""
    return (f"pinned → now: reserve {then.reserve:.2f} → {now.reserve:.2f}, {before.grams:.1f} → {after.grams:.1f} g, "
            f"{clock(before.figures.minutes)} → {clock(after.figures.minutes)}")  # fmt: skip
