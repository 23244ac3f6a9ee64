"""Where a part's stress raisers lie, what they are called, and how large they are for a filament of some notch sensitivity."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.model.recipe import Carbon, Facing

from .beams import Floats
from .raisers import (
    flatwise_share,
    hole_tension,
    notched,
    shoulder_bending,
    shoulder_flatwise,
    shoulder_tension,
)

STEP_RADIUS_MM = 0.3
LAYER_SENSITIVITY = 0.95  # layer bonds break before they flow: judgement, docs/material.md


@dataclass(frozen=True)
class Raiser:
    """A stress raiser on the ruler: its span, its effective factors for pull, upward and sideways bending, and its name.

    ``field`` is the shape's field whose radius cures it; empty when none does. ``layer`` is how much more of it the bond between layers
    feels than the roads do, ``shear`` the pull along roads that shear ends as, over the shear; 1 where it stays what it is.
    """

    start_mm: float
    end_mm: float
    pull: float
    up: float
    side: float
    name: str
    field: str = ""
    radius_mm: float = 0.0
    layer: float = 1.0
    shear: float = 1.0

    @property
    def worst(self) -> float:
        """The largest of its factors."""
        return max(self.pull, self.up, self.side)

    def over(self, arc_mm: Floats) -> NDArray[np.bool_]:
        """Which elements between nodes at arc lengths ``arc_mm`` it acts on: those with their middle in its span, else the most covered."""
        middle = (arc_mm[1:] + arc_mm[:-1]) / 2
        hit: NDArray[np.bool_] = (middle >= self.start_mm) & (middle <= self.end_mm)
        if not hit.any():
            covered = np.minimum(arc_mm[1:], self.end_mm) - np.maximum(arc_mm[:-1], self.start_mm)
            hit[int(np.argmax(covered))] = True
        return hit

    def under(self, pull: float, up: float, side: float) -> float:
        """Its factor under a mix of nominal stresses from pull, upward and sideways bending."""
        total = pull + up + side
        return (pull * self.pull + up * self.up + side * self.side) / total if total > 0 else self.worst


def raiser_of(
    start: float, end: float, kt: tuple[float, float, float], q: float, name: str, field: str = "", radius: float = 0.0
) -> Raiser:
    """From full factors in pull, upward and sideways bending. Between layers the bond feels nearly all of them, whatever the plastic."""
    pull, up, side = (notched(k, q) for k in kt)
    layer = max(notched(k, LAYER_SENSITIVITY) / e for k, e in zip(kt, (pull, up, side), strict=True))
    return Raiser(start, end, pull, up, side, name, field, radius, max(layer, 1.0))


def shoulder(start: float, end: float, radius: float, narrow: float, wide: float, thick: float, q: float, name: str, field: str) -> Raiser:
    """A fillet where a part grows from narrow to wide, mm; ``thick`` is its thickness there."""
    kt = shoulder_tension(radius, narrow, wide), shoulder_flatwise(radius, narrow, wide, thick), shoulder_bending(radius, narrow, wide)
    return raiser_of(start, end, kt, q, f"{name} {radius:g} mm", field, radius)


def hole(at: float, diameter: float, width: float, thick: float, q: float, name: str) -> Raiser:
    """A round hole through the middle of a strip, mm."""
    kt = hole_tension(diameter, width)
    flat = 1 + flatwise_share(diameter, thick) * (kt - 1)
    return raiser_of(at - diameter / 2, at + diameter / 2, (kt, flat, 1 + 0.5 * (kt - 1)), q, name)


def end_raisers(glued: Carbon | Facing | None, step: float, q: float) -> list[Raiser]:
    """Where carbon or a facing stops, the plastic takes its load back."""
    if glued is None:
        return []
    name = "carbon ends" if isinstance(glued, Carbon) else "facing ends"
    return [raiser_of(at - 2.0, at + 2.0, (step, step, step), q, name) for at in (glued.start_mm, glued.end_mm) if at > 2.0]


def cure_radius_mm(
    raisers_at: Callable[[float], list[Raiser]], raiser: Raiser, reserve: float, wanted: float, mix: tuple[float, float, float]
) -> float | None:  # fmt: skip
    """The smallest radius of the raiser's field that lifts a reserve to what is wanted, or None when no radius does.

    ``raisers_at`` gives the part's raisers with that field at a radius. The reserve is taken to follow one over the factor under ``mix``,
    the nominal stresses from pull, upward and sideways bending, which holds where that raiser governs.
    """
    if not raiser.field or reserve <= 0:
        return None
    radii = [max(raiser.radius_mm, 0.2)]
    while radii[-1] <= 40:
        radii.append(round(radii[-1] * 1.12 + 0.1, 1))

    def lifted(r: float) -> float:
        same = [c.under(*mix) for c in raisers_at(r) if c.field == raiser.field]
        return reserve * raiser.under(*mix) / max(same) if same else -1.0

    radii = radii[1:-1]
    k = bisect_left(radii, wanted, key=lifted)
    return radii[k] if k < len(radii) else None
