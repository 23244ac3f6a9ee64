"""How large the craft is: packed, taken apart, and to the eye."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.seen import PAIRS, SURE, attitude_seen_m
from fravik.kinds.whole import placed_components
from fravik.shape.clash import bounds

from .bodies import copies, near, things
from .wind import areas_mm2


@dataclass(frozen=True)
class Sizes:
    """Edges of the box round the craft without propellers and round its largest part, longest first, mm; and at what distance nearly all
    and half of all observers see from ahead which way it leans, m."""

    packed_mm: tuple[float, float, float]
    largest: str
    largest_mm: tuple[float, float, float]
    seen_m: tuple[float, float]


def sizes(engine: Engine, result: Evaluation) -> Sizes | None:
    """None for a craft without parts. Arms that fold are taken as they fly."""
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
    return Sizes(_sorted(high - low), largest, _sorted(parts[largest]), (attitude_seen_m(ahead, SURE * PAIRS), attitude_seen_m(ahead)))


def _sorted(edges: np.ndarray) -> tuple[float, float, float]:
    a, b, c = sorted((float(e) for e in edges), reverse=True)
    return a, b, c
