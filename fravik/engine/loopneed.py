"""What a craft's plastics mean for its controller: the modes of a part, what becomes of the tune in force, and the loop that is left."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.model.tune import HOUSE_LABELS

from .results import Evaluation
from .ring import WANTED_DB, RingVerdict, bears_hz, craft_of, ring_of

NAMED = 2  # modes of a part that are told
MOVED = 0.03  # of a frequency: less is not worth a word


@dataclass(frozen=True)
class LoopNeed:
    """Modes that lie mostly in a part (name, Hz), and of the loop under the tune in force: the worst axis, its verdict and gain margin, and
    the quickest loop with ``WANTED_DB`` to spare."""

    modes: tuple[tuple[str, float], ...]
    tune: str
    axis: str
    verdict: RingVerdict
    gain_db: float
    bears_hz: float


def loop_need(result: Evaluation, part_id: str) -> LoopNeed | None:
    """None where the modes are not known or the craft cannot hover."""
    craft = craft_of(result)
    ring = ring_of(result, None, craft) if craft is not None else None
    if craft is None or ring is None or ring.worst is None:
        return None
    worst = ring.worst
    modes = tuple((m.name, m.freq_hz) for m in result.modes if m.part_id in result.pieces_of(part_id))[:NAMED]
    tune = HOUSE_LABELS[result.project.tune.house].lower()
    return LoopNeed(modes, tune, worst.axis, worst.verdict, worst.typical.gain_db, bears_hz(result, craft))


def need_words(need: LoopNeed, before: LoopNeed | None) -> str:
    """In sentences, beside the craft as it is where that is something else."""
    was = dict(before.modes) if before is not None else {}
    moved = [f"{name} {was[name]:.0f} → {hz:.0f} Hz" for name, hz in need.modes if name in was and abs(hz - was[name]) > MOVED * was[name]]
    out = f"Moves {', '.join(moved)}. " if moved else ""
    out += f"Under the tune in force ({need.tune}) the loop {_becomes(need.verdict)} about {need.axis}"
    if before is not None and before.verdict != need.verdict:
        out += f" ({before.verdict} today)"
    today = f" ({before.bears_hz:.1f} today)" if before is not None and abs(before.bears_hz - need.bears_hz) > MOVED * need.bears_hz else ""
    if need.bears_hz <= 0:
        return f"{out}; no tune that was tried keeps {WANTED_DB:g} dB{today}."
    return f"{out}; it needs a tune that follows no farther than {need.bears_hz:.1f} Hz{today} to keep {WANTED_DB:g} dB."


def _becomes(verdict: RingVerdict) -> str:
    return "is quiet" if verdict == "quiet" else verdict
