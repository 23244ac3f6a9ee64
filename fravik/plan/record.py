"""What the record of prints teaches: how long a printer really takes, and what a wrong weight suggests."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fravik.model.run import PrintRecord

TOLERANCE = 0.03
LEAST_SPREAD = 0.02


@dataclass(frozen=True)
class Learned:
    """Real over planned minutes of a printer: mean, a range that should hold the next batch, and from how many batches."""

    mean: float
    low: float
    high: float
    batches: int


def learned_ratios(records: Sequence[PrintRecord]) -> dict[str, Learned]:
    """Per printer, from batches that were finished. The range is two standard deviations, at least ``LEAST_SPREAD`` each."""
    seen: dict[str, dict[str, float]] = {}
    for r in records:
        if r.planned_min > 0 and r.real_min > 0 and r.printer:
            seen.setdefault(r.printer, {})[r.batch or r.id] = r.real_min / r.planned_min
    out = {}
    for printer, batches in seen.items():
        ratios = np.array(list(batches.values()))
        n = len(ratios)
        spread = max(float(ratios.std(ddof=1)) if n > 1 else 0.0, LEAST_SPREAD) * math.sqrt(1 + 1 / n)
        mean = float(ratios.mean())
        out[printer] = Learned(mean, mean - 2 * spread, mean + 2 * spread, n)
    return out


@dataclass(frozen=True)
class Weighing:
    """A weighed part against its prediction: relative difference, whether it is within tolerance, and what it suggests."""

    off: float
    fine: bool
    text: str


def judge_weight(
    planned_g: float, weighed_g: float, solid_g: float, core_g: float, core_density: float, density_g_cm3: float,
    others: Sequence[tuple[str, float]] = (), tolerance: float = TOLERANCE,
) -> Weighing:  # fmt: skip
    """What a weight says. ``solid_g`` is walls and covers, ``core_g`` the core were it solid; ``others`` names plastics on the shelf
    with their densities."""
    off = weighed_g / planned_g - 1 if planned_g > 0 else 0.0
    if abs(off) <= tolerance:
        return Weighing(off, True, "as predicted")
    guesses = []
    if core_g > 0.02 * planned_g:
        as_if = (weighed_g - solid_g) / core_g
        if 0.0 <= as_if <= 1.0 and abs(as_if - core_density) >= 0.03:
            guesses.append(f"{as_if:.0%} core instead of {core_density:.0%}")
    for name, density in others:
        if abs(density / density_g_cm3 - 1 - off) < 0.012:
            guesses.append(f"printed in {name}")
    if off < 0:
        guesses.append(
            "under-extrusion: partly clogged nozzle, slipping feed or too small a flow" if off > -0.15 else "missing layers or walls"
        )
        guesses.append("wet filament, which foams: look for bubbles")
    else:
        guesses.append("over-extrusion, or supports left on")
    return Weighing(off, False, f"{off:+.1%} of what was predicted. It suggests " + "; or ".join(guesses) + ".")
