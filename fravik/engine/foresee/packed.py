"""How large the craft is: packed, taken apart, and to the eye."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.seen import PAIRS, SURE, attitude_seen_m
from fravik.kinds import kind_of
from fravik.kinds.around import stations
from fravik.kinds.whole import placed_components
from fravik.printing.zones import Floats
from fravik.shape.clash import bounds

from .bodies import copies, corners, near, things
from .wind import areas_mm2


@dataclass(frozen=True)
class Sizes:
    """Edges of the box round the craft without propellers, as it flies and with the arms folded that fold, and round its largest part,
    longest first, mm; and at what distance nearly all and half of all observers see from ahead which way it leans, m."""

    packed_mm: tuple[float, float, float]
    folded_mm: tuple[float, float, float] | None
    largest: str
    largest_mm: tuple[float, float, float]
    seen_m: tuple[float, float]


def sizes(engine: Engine, result: Evaluation) -> Sizes | None:
    """None for a craft without parts."""
    every = copies(result)
    if not every:
        return None
    boxes = [near(engine, c) for c in every] + [bounds(t.body) for t in things(result)]
    boxes += [np.stack([x.centre_mm - x.size_mm / 2, x.centre_mm + x.size_mm / 2])
              for x in placed_components(result.project) if x.kind == "motor"]  # fmt: skip
    low, high = np.min([b[0] for b in boxes], axis=0), np.max([b[1] for b in boxes], axis=0)
    parts = {c.name: np.ptp(bounds(engine.solid(c.given)), axis=0) for c in every}
    largest = max(parts, key=lambda k: float(parts[k].max()))
    ahead = min(areas_mm2(engine, result))
    return Sizes(
        _sorted(high - low),
        _folded_mm(engine, result),
        largest,
        _sorted(parts[largest]),
        (attitude_seen_m(ahead, SURE * PAIRS), attitude_seen_m(ahead)),
    )


def _folded_mm(engine: Engine, result: Evaluation) -> tuple[float, float, float] | None:
    """The least of the boxes with all arms folded back, all forward, or fore and aft ones toward each other; none where no arm folds.

    What follows an arm's station goes along. Whether arms that are folded run into each other, or into anything, is not looked at.
    """
    every = copies(result)
    pins = {p.id: kind_of(p.shape).folds_at_mm(p, p.shape) for p in result.project.parts}
    arms = [c for c in every if pins[c.part_id] is not None and c.follows]
    if not arms:
        return None
    bells = [x for x in placed_components(result.project) if x.kind == "motor"]
    motors = {s.id: x for s, x in zip(stations(result.project), bells, strict=True)}
    going = {a.follows for a in arms}
    still = [corners(engine, c).reshape(-1, 3) for c in every if c.follows not in going]
    still += [_ends(x.centre_mm, x.size_mm) for k, x in motors.items() if k not in going]
    still += [bounds(t.body) for t in things(result)]
    found = []
    for headings in ((180.0, 180.0), (0.0, 0.0), (180.0, 0.0)):
        points = list(still)
        for arm in arms:
            pin = arm.pose[:3, :3] @ np.array([pins[arm.part_id], 0.0, 0.0]) + arm.pose[:3, 3]
            heading = np.degrees(np.arctan2(arm.pose[1, 0], arm.pose[0, 0]))
            turn = np.radians(headings[0 if pin[0] >= 0 else 1] - heading)
            moved = [corners(engine, c).reshape(-1, 3) for c in every if c.follows == arm.follows]
            if arm.follows in motors:
                moved.append(_ends(motors[arm.follows].centre_mm, motors[arm.follows].size_mm))
            c, s = np.cos(turn), np.sin(turn)
            points += [(m - pin) @ np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]]) + pin for m in moved]
        whole = np.concatenate(points)
        found.append(_sorted(np.ptp(whole, axis=0)))
    return min(found, key=lambda edges: edges[0] * edges[1] * edges[2])


def _ends(centre_mm: Floats, size_mm: Floats) -> Floats:
    """The corners (8, 3) of a box."""
    signs = np.array([[a, b, c] for a in (-1, 1) for b in (-1, 1) for c in (-1, 1)])
    return np.asarray(centre_mm + signs * size_mm / 2)


def _sorted(edges: np.ndarray) -> tuple[float, float, float]:
    a, b, c = sorted((float(e) for e in edges), reverse=True)
    return a, b, c
