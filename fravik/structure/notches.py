"""Where a part's stress raisers lie, what they are called, and how large they are for a filament of some notch sensitivity."""

from __future__ import annotations

import math
from bisect import bisect_left
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from fravik.model.recipe import Carbon, Facing
from fravik.model.shapes import ArmShape, GuardShape, LegShape, MountShape
from fravik.shape.arm import pocket_spans
from fravik.shape.inlay import body_height_mm, body_width_mm

from .beams import Floats
from .path import BeamShape
from .raisers import (
    curved_bar,
    flatwise_share,
    hole_tension,
    notched,
    shoulder_bending,
    shoulder_flatwise,
    shoulder_tension,
    slot_tension,
)

STEP_RADIUS_MM = 0.3
LAYER_SENSITIVITY = 0.95  # layer bonds break before they flow: judgement, docs/material.md


@dataclass(frozen=True)
class Raiser:
    """A stress raiser on the ruler: its span, its effective factors for pull, upward and sideways bending, and its name.

    ``field`` is the shape's field whose radius cures it; empty when none does. ``layer`` is how much more of it the bond between layers
    feels than the roads do.
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


def _raiser(start: float, end: float, kt: tuple[float, float, float], q: float, name: str, field: str = "", radius: float = 0.0) -> Raiser:
    """From full factors in pull, upward and sideways bending. Between layers the bond feels nearly all of them, whatever the plastic."""
    pull, up, side = (notched(k, q) for k in kt)
    layer = max(notched(k, LAYER_SENSITIVITY) / e for k, e in zip(kt, (pull, up, side), strict=True))
    return Raiser(start, end, pull, up, side, name, field, radius, max(layer, 1.0))


def _shoulder(start: float, end: float, radius: float, narrow: float, wide: float, thick: float, q: float, name: str, field: str) -> Raiser:
    kt = shoulder_tension(radius, narrow, wide), shoulder_flatwise(radius, narrow, wide, thick), shoulder_bending(radius, narrow, wide)
    return _raiser(start, end, kt, q, f"{name} {radius:g} mm", field, radius)


def _hole(at: float, diameter: float, width: float, thick: float, q: float, name: str) -> Raiser:
    kt = hole_tension(diameter, width)
    flat = 1 + flatwise_share(diameter, thick) * (kt - 1)
    return _raiser(at - diameter / 2, at + diameter / 2, (kt, flat, 1 + 0.5 * (kt - 1)), q, name)


def root_thickness_mm(shape: BeamShape) -> float:
    """How thick a part is where it leaves its root, the way it bends up and down."""
    if isinstance(shape, ArmShape):
        return shape.root_height_mm
    return shape.height_mm if isinstance(shape, GuardShape) else shape.thickness_mm


def stress_raisers(shape: BeamShape, length_mm: float, q: float) -> list[Raiser]:
    """Every raiser along a part with its effective factors; ``length_mm`` of a guard is the radius of its arc."""
    if isinstance(shape, GuardShape):
        return _guard(shape, length_mm, q)
    wide = shape.flange_width_mm if isinstance(shape, LegShape) else shape.tongue_width_mm
    r, thick = shape.root_fillet_mm, root_thickness_mm(shape)
    out = [_shoulder(0.0, r, r, shape.root_width_mm, wide, thick, q, "root fillet", "root_fillet_mm")]
    if isinstance(shape, ArmShape):
        out += _arm(shape, length_mm, q)
    if isinstance(shape, MountShape):
        edge, r = length_mm - shape.pad_length_mm / 2, shape.pad_fillet_mm
        out.append(_shoulder(edge - r, edge, r, shape.tip_width_mm, shape.pad_width_mm, thick, q, "pad fillet", "pad_fillet_mm"))
    return out


def _arm(s: ArmShape, length: float, q: float) -> list[Raiser]:
    edge, r = length - s.pad_diameter_mm / 2, s.pad_fillet_mm
    # the round pad is met near its widest only where the fillet ends: take the chord there as the wide side
    narrow = body_width_mm(s, length, edge)
    reach = min(s.pad_diameter_mm, narrow + 2 * math.sqrt(max((s.pad_diameter_mm / 2) ** 2 - (s.pad_diameter_mm / 2 - r - 3) ** 2, 0.0)))
    out = [_shoulder(edge - r, edge, r, narrow, max(reach, narrow), s.tip_height_mm, q, "pad fillet", "pad_fillet_mm")]
    for x0, x1 in pocket_spans(s, length):
        kt = slot_tension(s.pocket_width_mm, s.pocket_corner_mm, body_width_mm(s, length, x0))
        flat = 1 + flatwise_share(2 * s.pocket_corner_mm, body_height_mm(s, length, x0)) * (kt - 1)
        out += [_raiser(at - 2.0, at + 2.0, (kt, flat, 1 + 0.5 * (kt - 1)), q, f"pocket corner {s.pocket_corner_mm:g} mm",
                        "pocket_corner_mm", s.pocket_corner_mm) for at in (x0, x1)]  # fmt: skip
    if s.bar_height_mm > 0:
        at = max(2.0, edge - 1.0)
        low = body_height_mm(s, length, at)
        kt_pull, kt_up = (k(STEP_RADIUS_MM, low, low + s.bar_height_mm) for k in (shoulder_tension, shoulder_bending))
        out.append(_raiser(at - 1.0, at + 1.5, (kt_pull, kt_up, 1.0), q, f"bars end, step of {s.bar_height_mm:g} mm"))
    screw_at = length - s.bolt_circle_mm / 2 * math.cos(math.pi / 4)
    out.append(_hole(screw_at, s.bolt_hole_mm, s.pad_diameter_mm / 2, s.tip_height_mm, q, f"motor screw hole {s.bolt_hole_mm:g} mm"))
    return out


def _guard(g: GuardShape, radius_mm: float, q: float) -> list[Raiser]:
    strut = radius_mm - g.hub_diameter_mm / 2
    arc = radius_mm * math.radians(g.span_deg)
    wide = g.width_mm + 2 * g.root_fillet_mm + 8
    root = _shoulder(0.0, g.root_fillet_mm, g.root_fillet_mm, g.width_mm, wide, g.height_mm, q, "hub fillet", "root_fillet_mm")
    bend = curved_bar(g.corner_mm, g.width_mm)
    out = [root]
    for at in (strut, strut + arc):
        out.append(_raiser(at - g.corner_mm, at + g.corner_mm, (1.0, 1.0, bend), q, f"corner {g.corner_mm:g} mm", "corner_mm", g.corner_mm))
    end = 2 * strut + arc
    out.append(replace(root, start_mm=end - g.root_fillet_mm, end_mm=end))
    return out


def end_raisers(glued: Carbon | Facing | None, step: float, q: float) -> list[Raiser]:
    """Where carbon or a sheet stops, the plastic takes its load back."""
    if glued is None:
        return []
    name = "carbon ends" if isinstance(glued, Carbon) else "sheet ends"
    return [_raiser(at - 2.0, at + 2.0, (step, step, step), q, name) for at in (glued.start_mm, glued.end_mm) if at > 2.0]


def cure_radius_mm(
    shape: BeamShape, length_mm: float, q: float, raiser: Raiser, reserve: float, wanted: float, mix: tuple[float, float, float]
) -> float | None:  # fmt: skip
    """The smallest radius of the raiser's field that lifts a reserve to what is wanted, or None when no radius does.

    The reserve is taken to follow one over the factor under ``mix``, the nominal stresses from pull, upward and sideways bending,
    which holds where that raiser governs.
    """
    if not raiser.field or reserve <= 0:
        return None
    radii = [max(raiser.radius_mm, 0.2)]
    while radii[-1] <= 40:
        radii.append(round(radii[-1] * 1.12 + 0.1, 1))

    def lifted(r: float) -> float:
        changed = stress_raisers(shape.model_copy(update={raiser.field: r}), length_mm, q)
        same = [c.under(*mix) for c in changed if c.field == raiser.field]
        return reserve * raiser.under(*mix) / max(same) if same else -1.0

    radii = radii[1:-1]
    k = bisect_left(radii, wanted, key=lifted)
    return radii[k] if k < len(radii) else None
