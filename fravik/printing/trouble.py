"""Something that will go wrong on the bed, with its place and what curing it costs."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Trouble:
    """Something that will go wrong: its place in print axes and its layer, how grave (0 to 1), and the cure with its price."""

    kind: str
    weight: float
    text: str
    cure: str
    place_mm: tuple[float, float, float]
    layer: int
