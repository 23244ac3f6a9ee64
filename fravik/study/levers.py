"""Ways out: small changes to the design, each found by trying it, with its price in grams, minutes and money.

Every kind of lever is a short ladder of steps. The first step that brings the failing targets right is kept; when none
does, the step that helps most. Nothing is interpolated: every figure shown comes from an evaluation of that design.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from fravik.kinds import Edits, Step, kind_of, ladders
from fravik.model.paths import EditError, set_many
from fravik.model.project import Part, Project

from .margins import Margin, Scores

PRICE_WEIGHT = 0.02
CURE_WEIGHT = 0.6
LEAST_GAIN = 0.05
THINNER = "lighter print"
HARM_WEIGHT = 1.0
# to lose ground on one open target for another counts twice
SETBACK_WEIGHT = 2.0


@dataclass(frozen=True)
class Lever:
    """A change that was tried: what it does to every margin and what it costs."""

    kind: str
    title: str
    edits: Edits
    scores: Scores
    grams: float
    minutes: float
    cost: float
    cures: tuple[str, ...]
    harms: tuple[str, ...]
    gain: float

    @property
    def price(self) -> float:
        """One figure to sort by: a gram, half an hour and one unit of money weigh alike; what is saved counts too."""
        return self.grams + self.minutes / 30.0 + self.cost


def open_margins(scores: Scores) -> list[Margin]:
    """Margins that call for a way out: failing ones, else tight ones."""
    failing = [m for m in scores.margins if m.verdict == "fails"]
    return failing or [m for m in scores.margins if m.verdict == "tight"]


def _closeness(m: Margin) -> float:
    """How much of the way a margin still has to go; 0 when it holds."""
    return 0.0 if m.verdict == "holds" else max(0.0, -m.safe_headroom)


def weigh(base: Scores, step: Step, scores: Scores) -> Lever | None:
    """A tried step as a lever, or None when it moves no open margin the right way."""
    before = {m.id: m for m in base.margins}
    wanted = {m.id for m in open_margins(base)}
    rank = {"holds": 0, "tight": 1, "not known yet": 2, "fails": 3}
    gain, cures, harms = 0.0, [], []
    for m in scores.margins:
        old = before[m.id]
        if m.id in wanted:
            start = max(_closeness(old), 1e-9)
            nearer = (start - min(_closeness(m), 2 * start)) / start
            gain += nearer if nearer >= 0 else SETBACK_WEIGHT * nearer
        if rank[m.verdict] < rank[old.verdict]:
            cures.append(m.id)
        elif rank[m.verdict] > rank[old.verdict]:
            harms.append(m.id)
    if gain <= LEAST_GAIN:
        return None
    return Lever(step.kind, step.title, step.edits, scores, scores.grams - base.grams, scores.minutes - base.minutes,
                 scores.cost - base.cost, tuple(cures), tuple(harms), gain)  # fmt: skip


def find_levers(
    project: Project,
    base: Scores,
    evaluate: Callable[[Project], Scores | None],
    *,
    parts: tuple[str, ...] | None = None,
    progress: Callable[[int, int], None] | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> list[Lever]:
    """Try every ladder and return the levers that help, best first: help to the open targets less price and harm.

    ``evaluate`` returns None for a design that cannot be built.
    """
    if not open_margins(base):
        return []
    chosen = [p for p in project.parts if p.id in parts] if parts is not None else [p for p in project.parts if _may_help(p, base)]
    rows = [ladder for p in chosen for ladder in ladders(project, p)]
    wanted = {m.id for m in open_margins(base)}
    # to thin out what nobody has judged would be to guess
    blind = any(m.verdict == "not known yet" for m in base.margins)
    found: list[Lever] = []
    for i, ladder in enumerate(rows):
        best: Lever | None = None
        for step in ladder if not (blind and ladder[0].kind == THINNER) else ():
            if cancelled is not None and cancelled():
                return _ranked(found)
            try:
                scores = evaluate(set_many(project, step.edits))
            except EditError:
                continue
            lever = weigh(base, step, scores) if scores is not None else None
            if lever is None:
                continue
            if best is None or _worth(lever) > _worth(best):
                best = lever
            if wanted <= set(lever.cures) and not lever.harms:
                break
        if best is not None:
            found.append(best)
        if progress is not None:
            progress(i + 1, len(rows))
    return _ranked(found)


def _may_help(part: Part, base: Scores) -> bool:
    """Parts that only answer for what is named after them are not searched for any other target: that is time for nothing."""
    if kind_of(part.shape).answers_for_all:
        return True
    return any(part.name.lower() in m.detail.lower() for m in open_margins(base))


def _worth(lever: Lever) -> float:
    """Share of the way that the open targets come, one for each that is cured, less the price and a penalty for harm."""
    return lever.gain + CURE_WEIGHT * len(lever.cures) - PRICE_WEIGHT * lever.price - HARM_WEIGHT * len(lever.harms)


def _ranked(found: list[Lever]) -> list[Lever]:
    unique: dict[str, Lever] = {}
    for lever in sorted(found, key=lambda v: -_worth(v)):
        unique.setdefault(lever.title, lever)
    kinds: dict[str, int] = {}
    first: list[Lever] = []
    rest: list[Lever] = []
    for lever in unique.values():
        kinds[lever.kind] = kinds.get(lever.kind, 0) + 1
        (first if kinds[lever.kind] == 1 else rest).append(lever)
    return first + rest
