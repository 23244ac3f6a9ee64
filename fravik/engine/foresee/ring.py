"""The controller's loop that feeds on the frame."""

from __future__ import annotations

from collections.abc import Iterable

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.ring import WANTED_DB, bears_hz, craft_of, ring_of
from fravik.kinds import Edits
from fravik.model.tune import HOUSE, HOUSE_LABELS, Tune, in_force
from fravik.study.findings import Cure, Finding, Weight

SAFETY = "Propellers off on the bench, and never hold a craft in the hand that may run away; hot motors burn."
WHAT = {
    "runs away": "runs away: its motors are driven from stop to stop, grow hot and may carry it off",
    "rings": "rings: motors whirr and grow hot",
    "nearly rings": "is near to ringing",
    "quiet": "is quiet",
}
SLOWER = (0.7, 0.5, 0.35, 0.25)
FILTERS = (4.0, 3.0)


def other_tunes(tune: Tune) -> tuple[tuple[str, Tune], ...]:
    """Calmer tunes than one, the nearest first: the house's own, then slower and more smoothed ones of the maker's own."""
    now = in_force(tune)
    calmer = [(k, t) for k, t in HOUSE.items() if t.follows < now.follows]
    out = [(f"Tune {HOUSE_LABELS[k].lower()}", t.model_copy(update={"delay_ms": tune.delay_ms})) for k, t in calmer]
    for follows in (round(now.follows * f, 2) for f in SLOWER):
        slower = now.model_copy(update={"house": "own", "follows": follows})
        out.append((f"Follows {follows:g} times the crossover", slower))
        smoother = [f for f in FILTERS if f < now.lowpass]
        out += [(f"Follows {follows:g} times, filter at {f:g} times", slower.model_copy(update={"lowpass": f})) for f in smoother]
    return tuple(sorted(out, key=lambda pair: (-pair[1].follows, -pair[1].lowpass)))


def tune_edits(tune: Tune) -> Edits:
    """What puts a tune in force."""
    return tuple((f"tune.{name}", getattr(tune, name)) for name in type(tune).model_fields)


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the loop is quiet or its frame is not known."""
    craft = engine.memo.get("ring craft", result.project, lambda: craft_of(result))
    ring = ring_of(result, None, craft) if craft is not None else None
    if craft is None or ring is None or ring.worst is None or ring.quiet:
        return
    # the one that rings worst, or the first that may
    worst = ring.worst if ring.worst.verdict != "quiet" else next(a for a in ring.axes if a.verdict != "quiet")
    usual = worst.typical
    cures = []
    for title, tune in other_tunes(result.project.tune):
        calm = ring_of(result, tune, craft)
        if calm is not None and calm.quiet:
            cures.append(Cure(title, tune_edits(tune)))
        if len(cures) == 2:
            break
    weight: Weight = "grave" if usual.gain_db < 0 else "likely"
    bears = bears_hz(result, craft)
    takes = f"This frame bears a loop up to {bears:.0f} Hz with {WANTED_DB:g} dB to spare" if bears > 0 else "No loop is slow enough for it"
    room = [c.gain_db for c in worst.corners]
    yield Finding(
        "ring.loop", weight, "Vibration", "tune.house", "The controller's loop",
        f"In {worst.axis} it {WHAT[worst.verdict]}.",
        f"At {usual.freq_hz:.0f} Hz the gyro feels {worst.rings}, and what the controller makes of it comes back {-usual.gain_db:+.0f} dB "
        f"({worst.at.words}; room of {min(room):.0f} to {max(room):.0f} dB over the filament's spread). {takes}; "
        f"{ring.crossover_hz:.0f} Hz are flown.",
        f"A stiffer frame, or a calmer tune that follows slower. {SAFETY}", tuple(cures), "loop",
    )  # fmt: skip
