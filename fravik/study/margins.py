"""Margins: how far a result is from its target, with its uncertainty, and the verdict."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from fravik.model.project import Metric

Verdict = Literal["holds", "tight", "fails", "not known yet"]
Sense = Literal["at most", "at least", "outside"]


@dataclass(frozen=True)
class MetricInfo:
    """Name, unit, sense, a sensible first limit and the formula page of something a brief can demand."""

    name: str
    unit: str
    sense: Sense
    decimals: int
    first_limit: float
    limit_label: str
    about: str
    page: str


METRICS: dict[Metric, MetricInfo] = {
    "flying_mass_g": MetricInfo("Flying weight", "g", "at most", 0, 1200.0, "at most, g",
        "All printed parts, carbon and components.", "zones"),
    "tip_sag_mm": MetricInfo(
        "Tip sag, full thrust", "mm", "at most", 2, 1.5, "at most, mm",
        "How far the motor lifts at full throttle with the body held.", "frame"),
    "first_mode_hz": MetricInfo(
        "First arm mode", "Hz", "outside", 0, 5.0, "clear of 1/rev by, %",
        "The arm's lowest natural frequency against 1/rev over the working speeds.", "vibration"),
    "least_reserve": MetricInfo(
        "Flight reserve", "", "at least", 2, 1.5, "at least",
        "Strength over stress at the weakest spot of all parts, crashes apart.", "frame"),
    "flat_drop_m": MetricInfo(
        "Drop survived", "m", "at least", 2, 1.0, "at least, m",
        "Height of a flat fall onto the legs before the first part breaks.", "crash"),
    "arm_strike_m_s": MetricInfo(
        "Strike survived", "m/s", "at least", 1, 4.0, "at least, m/s", "Speed at which a front motor may hit a pole.", "crash"),
    "print_minutes": MetricInfo("Print time", "min", "at most", 0, 900.0, "at most, min",
        "All plates of the run, with warm-ups and plate changes.", "printing"),
    "endurance_min": MetricInfo("Endurance", "min", "at least", 1, 15.0, "at least, min",
        "Hovering in still air on the usable charge.", "power"),
    "thrust_to_weight": MetricInfo("Thrust to weight", "", "at least", 1, 2.0, "at least",
        "All motors at full throttle over weight.", "power"),
    "material_cost": MetricInfo("Material cost", "", "at most", 2, 20.0, "at most", "Filament and carbon in the printed parts.", "zones"),
}  # fmt: skip


# what the settled tier works out again, from real layers and roads
SETTLES: tuple[Metric, ...] = ("flying_mass_g", "print_minutes")


@dataclass(frozen=True)
class Margin:
    """One target's result. ``limit`` is a number, or a (low, high) band that the value must stay outside of."""

    id: str
    metric: Metric
    name: str
    unit: str
    sense: Sense
    decimals: int
    value: float | None
    low: float | None
    high: float | None
    limit: float | tuple[float, float]
    verdict: Verdict
    source: Literal["live", "settled"] = "live"

    @property
    def headroom(self) -> float:
        """Signed relative distance to the limit on the typical value; negative when it fails. NaN when not known."""
        if self.value is None:
            return math.nan
        if isinstance(self.limit, tuple):
            lo, hi = self.limit
            return max(lo - self.value, self.value - hi) / max(hi, 1e-9)
        gap = self.limit - self.value if self.sense == "at most" else self.value - self.limit
        return gap / max(abs(self.limit), 1e-9)

    @property
    def safe_headroom(self) -> float:
        """As ``headroom`` but on the unfavourable end of the uncertainty."""
        if self.value is None or self.low is None or self.high is None:
            return math.nan
        if isinstance(self.limit, tuple):
            lo, hi = self.limit
            return max(lo - self.high, self.low - hi) / max(hi, 1e-9)
        gap = self.limit - self.high if self.sense == "at most" else self.low - self.limit
        return gap / max(abs(self.limit), 1e-9)


def judge(low: float, high: float, limit: float | tuple[float, float], sense: Sense) -> Verdict:
    """Holds when all of low..high is allowed, fails when none of it is, tight in between."""
    if isinstance(limit, tuple):
        a, b = limit
        if high < a or low > b:
            return "holds"
        return "fails" if low >= a and high <= b else "tight"
    if sense == "at most":
        return "holds" if high <= limit else ("fails" if low > limit else "tight")
    return "holds" if low >= limit else ("fails" if high < limit else "tight")


def margin(target_id: str, metric: Metric, limit: float | tuple[float, float],
           values: tuple[float, float, float] | None) -> Margin:  # fmt: skip
    """A margin from (low, typical, high), or not known yet."""
    info = METRICS[metric]
    if values is None or not all(math.isfinite(v) for v in values):
        return Margin(target_id, metric, info.name, info.unit, info.sense, info.decimals, None, None, None, limit, "not known yet")
    low, value, high = min(values), values[1], max(values)
    return Margin(target_id, metric, info.name, info.unit, info.sense, info.decimals, value, low, high, limit,
                  judge(low, high, limit, info.sense))  # fmt: skip


@dataclass(frozen=True)
class Scores:
    """What a lever is judged by: the margins and the three prices."""

    margins: tuple[Margin, ...]
    grams: float
    minutes: float
    cost: float

    def count(self, verdict: Verdict) -> int:
        """How many margins have this verdict."""
        return sum(m.verdict == verdict for m in self.margins)
