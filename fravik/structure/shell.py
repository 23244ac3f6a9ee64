"""Printed shells: a skin of one or two lines stiffened by ribs inside, and what the layout of the ribs is worth.

A panel printed standing: its layers stack along the span, its roads run across it. Ribs run along the span. Air load presses evenly.

* Skin between ribs: a long clamped strip, w = p s^4 / (384 D) with D = E_road t^3 / (12 (1 - nu^2)) (Timoshenko and Woinowsky-Krieger);
  bays next to one another hold each other's edges level.
* The panel over its span: a beam on two supports, 5 p b L^4 / (384 EI), EI by sums over skin and ribs about their common middle, with
  the modulus across layers.
* Reserves: layer split at the outermost fibre under p b L^2 / 8, and buckling of the skin between ribs (k = 4, four edges held) and of
  ribs with a free edge (k = 0.43), sigma = k pi^2 E / (12 (1 - nu^2)) (t / width)^2; whichever side is in compression.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from fravik.model.material import Filament
from fravik.model.shell import ShellPanel

RIB_PITCH_MM = {"many thin": 15.0, "few deep": 45.0}
DEEP_SHARE = 0.7
# a panel that sags by more of its span is no beam any more
CAVES_IN = 0.1


@dataclass(frozen=True)
class RibSet:
    """Ribs of one kind: how many, lines thick, and how deep."""

    count: int
    lines: int
    depth_mm: float


@dataclass(frozen=True)
class ShellAnswer:
    """What a layout of ribs makes of a panel."""

    name: Literal["no ribs", "many thin", "few deep", "mixed"]
    ribs: tuple[RibSet, ...]
    pitch_mm: float
    flex_mm: float
    sag_mm: float
    ei_nmm2: float
    reserve: float
    kind: str
    grams: float
    lifts_per_layer: int
    caves_in: bool


def layouts(panel: ShellPanel) -> dict[str, tuple[RibSet, ...]]:
    """Three ways to spend the same plastic on ribs, and none."""
    w, t = panel.line_width_mm, panel.skin_lines * panel.line_width_mm
    area = panel.rib_share * panel.width_mm * t
    many = max(2, round(panel.width_mm / RIB_PITCH_MM["many thin"]))
    few = max(1, round(panel.width_mm / RIB_PITCH_MM["few deep"]))
    between = max(1, many - few)
    return {
        "no ribs": (),
        "many thin": (RibSet(many, 1, area / (many * w)),),
        "few deep": (RibSet(few, 2, area / (few * 2 * w)),),
        "mixed": (RibSet(few, 2, DEEP_SHARE * area / (few * 2 * w)), RibSet(between, 1, (1 - DEEP_SHARE) * area / (between * w))),
    }


def weigh_shell(panel: ShellPanel, ribs: tuple[RibSet, ...], f: Filament, name: str = "many thin") -> ShellAnswer:
    """What a panel with these ribs does under its air load."""
    w = panel.line_width_mm
    t, b, span = panel.skin_lines * w, panel.width_mm, panel.span_mm
    p = panel.pressure_pa * 1e-6
    pieces = [(b * t, t / 2, b * t**3 / 12), *((r.count * r.lines * w * r.depth_mm, t + r.depth_mm / 2,
              r.count * r.lines * w * r.depth_mm**3 / 12) for r in ribs)]  # fmt: skip
    area = sum(a for a, _, _ in pieces)
    middle = sum(a * y for a, y, _ in pieces) / area
    second = sum(i + a * (y - middle) ** 2 for a, y, i in pieces)
    e_road, e_layer, nu = f.e_road_mpa.typical, f.e_layer_mpa.typical, f.poisson
    pitch = b / (sum(r.count for r in ribs) + 1)
    flex = p * pitch**4 / (384 * e_road * t**3 / (12 * (1 - nu * nu)))
    sag = 5 * p * b * span**4 / (384 * e_layer * second)
    tall = t + max((r.depth_mm for r in ribs), default=0.0)
    moment = p * b * span * span / 8
    plate = math.pi**2 * e_layer / (12 * (1 - nu * nu))
    found = [
        (f.s_layer_mpa.typical / max(moment * max(tall - middle, middle) / second, 1e-12), "layer split"),
        (4.0 * plate * (t / pitch) ** 2 / max(moment * middle / second, 1e-12), "skin buckles"),
    ]
    for r in ribs:
        stress = moment * max(t + r.depth_mm - middle, 1e-9) / second
        found.append((0.43 * plate * (r.lines * w / r.depth_mm) ** 2 / stress, "ribs buckle"))
    reserve, kind = min(found)
    return ShellAnswer(
        name, ribs, pitch, flex, sag, e_layer * second, reserve, kind, area * span * f.density_g_cm3.typical * 1e-3,  # type: ignore[arg-type]
        sum(r.count for r in ribs), sag > CAVES_IN * span,
    )  # fmt: skip


def compare_shells(panel: ShellPanel, f: Filament) -> tuple[ShellAnswer, ...]:
    """All layouts of the same grams, and the bare skin."""
    return tuple(weigh_shell(panel, ribs, f, name) for name, ribs in layouts(panel).items())


def advice(answers: tuple[ShellAnswer, ...]) -> str:
    """Which layout to take for what."""
    ribbed = [a for a in answers if a.ribs]
    flex, sag = min(ribbed, key=lambda a: a.flex_mm), min(ribbed, key=lambda a: a.sag_mm)
    strong = max(ribbed, key=lambda a: a.reserve)
    ranks = f"Smoothest skin: {flex.name}. Stiffest panel: {sag.name}. Strongest: {strong.name}, reserve {min(strong.reserve, 99):.1f}"
    slits = "Ribs cut as slits from the outside keep the path unbroken; ribs drawn as walls lift once each, every layer."
    return f"{ranks} ({strong.kind}). {slits}"
