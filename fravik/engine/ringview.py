"""The controller's loop as it is looked at: every axis's gain over frequency, a second in time, and other tunes that were tried."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fravik.flight.looptime import Second
from fravik.model.material import CORNERS, Spread
from fravik.model.tune import Tune
from fravik.printing.zones import Floats
from fravik.study.levers import Lever
from fravik.study.margins import Verdict

from .drivetrain import rung_c
from .evaluate import Engine
from .foresee.ring import other_tunes
from .results import Evaluation
from .ring import IDLE, PUNCHED, WANTED_DB, At, AxisRing, Ring, RingCraft, bears_hz, craft_of, open_loop, ring_of, second_of, shown_at

POINTS = 900  # of a curve as drawn
MOST_TRIED = 4
LEAST_GAIN_DB = 0.2
WORST = "worst"
WHEN = {WORST: "At its worst", IDLE: "At idle", "hover": "In hover", PUNCHED: "In a punch of the throttle"}
SHOWN_DB = 45.0  # under the crossing, what is drawn of the gain


@dataclass(frozen=True, eq=False)
class Curve:
    """An axis at its worst state of flight.

    Frequencies (f,), the loop's gain in dB with the softest, usual and stiffest plastic (3, f), and where the usual one comes back just
    against itself: (frequency, gain) pairs, which ring where the gain is above 0.
    """

    hz: Floats
    db: Floats
    against: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class TriedTune:
    """Another tune: what it is called, its edits' tune, the least margin of all axes, and how quickly it follows."""

    title: str
    tune: Tune
    gain_db: float
    follows_hz: float


@dataclass(frozen=True, eq=False)
class Watched:
    """A second of an axis in a state of flight, and how warm windings get that go on so."""

    second: Second
    at: At
    warm_c: Spread


@dataclass(frozen=True, eq=False)
class RingSight:
    """All that the page shows but its second in time."""

    ring: Ring
    curves: dict[str, Curve]
    tried: tuple[TriedTune, ...]
    bears_hz: float
    wanted_hz: float


def sight(engine: Engine, result: Evaluation) -> RingSight | None:
    """None where the frame's modes are not known."""
    craft = engine.memo.get("ring craft", result.project, lambda: craft_of(result))
    ring = ring_of(result, None, craft) if craft is not None else None
    if craft is None or ring is None:
        return None
    tune = result.project.tune
    tried = []
    for title, other in other_tunes(tune):
        found = ring_of(result, other, craft)
        if found is not None and found.worst is not None:
            tried.append((found.quiet, TriedTune(title, other, found.worst.typical.gain_db, found.crossover_hz)))
    good = [t for quiet, t in tried if quiet] or sorted((t for _, t in tried), key=lambda t: -t.gain_db)
    for a in ring.axes:
        a.verdict  # noqa: B018  stepped through in time here, not where it is read
    curves = {a.axis: _curve(craft, result, tune, a) for a in ring.axes}
    return RingSight(ring, curves, tuple(good[:MOST_TRIED]), bears_hz(result, craft), result.project.brief.loop_crossover_hz)


def watched(engine: Engine, result: Evaluation, axis: AxisRing, when: str) -> Watched:
    """A second of an axis that is judged: at its worst, or ``when`` as in ``WHEN``, charged as at its worst."""
    craft = engine.memo.get("ring craft", result.project, lambda: craft_of(result))
    assert craft is not None
    at = shown_at(axis.at) if when == WORST else At(when, axis.at.charge)
    second = second_of(craft, result, result.project.tune, axis.axis, at)
    return Watched(second, at, rung_c(result, craft, at, second))


def _curve(craft: RingCraft, result: Evaluation, tune: Tune, axis: AxisRing) -> Curve:
    first = craft.plants[axis.axis, "typical"][1].w
    hz = np.geomspace(first[0], first[-1], POINTS) / (2 * np.pi)
    db, against = [], []
    for corner in CORNERS:
        w, loop = open_loop(craft, result, tune, axis.axis, axis.at, corner)
        db.append(np.interp(hz, w / (2 * np.pi), 20 * np.log10(np.maximum(np.abs(loop), 1e-9))))
        if corner == "typical":
            turned = np.flatnonzero((np.sign(loop.imag[:-1]) != np.sign(loop.imag[1:])) & (loop.real[:-1] < 0) & (loop.real[1:] < 0))
            against = [(float(w[i] / (2 * np.pi)), float(20 * np.log10(max(abs(loop[i]), 1e-9)))) for i in turned.tolist()]
    return Curve(hz, np.stack(db), tuple(p for p in against if p[1] > -SHOWN_DB))


def in_frame(levers: Sequence[Lever], result: Evaluation) -> list[tuple[Lever, float]]:
    """Of the ways out that were found, those that leave the loop more margin, with what they leave, the best first."""
    now = next((m.value for m in result.margins if m.metric == "ring_margin_db"), None)
    if now is None:
        return []
    after = [(v, next((m.value for m in v.scores.margins if m.metric == "ring_margin_db"), None)) for v in levers]
    better = [(v, db) for v, db in after if db is not None and db > now + LEAST_GAIN_DB]
    return sorted(better, key=lambda pair: -pair[1])[:MOST_TRIED]


def axis_verdict(axis: AxisRing) -> Verdict:
    """How a verdict on the loop ranks beside those on targets."""
    return {"quiet": "holds", "nearly rings": "tight"}.get(axis.verdict, "fails")  # type: ignore[return-value]


def in_words(sight: RingSight) -> str:
    """What the frame bears, beside what is wanted of it."""
    if sight.bears_hz <= 0:
        return f"No loop that was tried leaves {WANTED_DB:g} dB on every axis: the frame is too soft for any."
    asks, bears = f"{sight.wanted_hz:.0f} Hz", f"{sight.bears_hz:.1f} Hz"
    if sight.bears_hz >= sight.wanted_hz:
        return f"This frame bears the {asks} that the brief asks for, and up to {bears}, with {WANTED_DB:g} dB to spare."
    return f"This frame bears a loop up to {bears} with {WANTED_DB:g} dB to spare; the brief asks for {asks}."
