"""What has to come off before a bought thing can be taken out."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from functools import partial

import numpy as np
from manifold3d import Manifold

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.printing.zones import Floats
from fravik.shape.clash import apart_mm, bounds, box
from fravik.study.findings import Finding

from .bodies import Thing, copies, near, placed, things

# a thing is drawn out along these: the first with the least in its way is taken
WAYS: tuple[tuple[str, tuple[int, int]], ...] = (
    ("upward", (2, 1)), ("to the back", (0, -1)), ("to the front", (0, 1)), ("to the left", (1, 1)), ("to the right", (1, -1)),
    ("downward", (2, -1)),
)  # fmt: skip
REACH_STEP_MM = 100.0
PLAY_MM = 1.0  # a thing bends and turns by so much on its way


@dataclass(frozen=True)
class Access:
    """Which way a thing comes out with the least taken off, and what that is, by name."""

    thing: str
    way: str
    off: tuple[str, ...]


def access(engine: Engine, result: Evaluation) -> tuple[Access, ...]:
    """One for each bought thing."""
    every = things(result)
    key = (tuple(c.key for c in copies(result)), tuple((t.id, t.key) for t in every))
    return engine.memo.get("access", key, lambda: tuple(_access(engine, result, t, every) for t in every))


def _access(engine: Engine, result: Evaluation, thing: Thing, every: list[Thing]) -> Access:
    best: Access | None = None
    reach = _reach_mm(engine, result)
    bodies: list[tuple[str, Hashable, Floats, Callable[[], Manifold]]] = [
        (c.name, c.key, near(engine, c), partial(placed, engine, c)) for c in copies(result) if c.part_id != thing.on
    ]
    bodies += [(t.name, t.key, bounds(t.body), partial(getattr, t, "body")) for t in every if t is not thing]
    for way, (axis, sign) in WAYS:
        swept = _Swept(engine, box(*_swept(thing, axis, sign, reach)))
        names: list[str] = []
        for name, key, around, body in bodies:
            if best is not None and len(names) >= len(best.off):
                break
            if name not in names and swept.meets(key, around, body):
                names.append(name)
        if best is None or len(names) < len(best.off):
            best = Access(thing.id, way, tuple(names))
        if not names:
            break
    assert best is not None
    return best


class _Swept:
    """The room that a thing passes through; what it meets there is remembered."""

    def __init__(self, engine: Engine, body: Manifold) -> None:
        self.engine, self.body, self.span = engine, body, bounds(body)
        self._key = self.span.tobytes()

    def meets(self, key: Hashable, around: Floats, other: Callable[[], Manifold]) -> bool:
        """Whether a body lies in it; ``around`` is the box (2, 3) about it."""
        if apart_mm(around, self.span) > 0:
            return False
        return bool(self.engine.memo.get("in the way", (key, self._key), lambda: not (other() ^ self.body).is_empty()))


def _reach_mm(engine: Engine, result: Evaluation) -> float:
    corners = [near(engine, c) for c in copies(result)] + [bounds(t.body) for t in things(result)]
    return float(np.ceil(np.abs(corners).max() / REACH_STEP_MM)) * REACH_STEP_MM * 2  # in steps: a small move leaves the ways of all others


def _swept(thing: Thing, axis: int, sign: int, reach_mm: float) -> tuple[Floats, Floats]:
    """Middle and edges of the room that the thing passes through: from its own middle on, so that what it lies on does not count."""
    size, centre = np.maximum(thing.size_mm - 2 * PLAY_MM, 0.5), thing.centre_mm.copy()
    centre[axis] += sign * reach_mm / 2
    size[axis] = reach_mm
    return centre, size


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Of the pack, which is changed in the field."""
    for way in access(engine, result):
        if way.thing == "battery" and way.off:
            what = " and ".join(name[0].lower() + name[1:] for name in way.off)
            yield Finding(
                "fit.access:battery", "worth knowing", "Airframe", "components.battery.z_mm", "The battery",
                f"To change the pack, {what} {'has' if len(way.off) == 1 else 'have'} to come off.",
                f"Drawn out {way.way} it meets the least; {PLAY_MM:g} mm of play all round.",
                "A pack on top, or a longer bay that is open at one end.", (), "fit",
            )  # fmt: skip
