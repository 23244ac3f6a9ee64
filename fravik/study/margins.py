"""Margins: how far a result is from its target, with its uncertainty, and the verdict."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from fravik.model.project import Metric, Project, Target

Verdict = Literal["holds", "tight", "fails", "not known yet"]
Sense = Literal["at most", "at least"]


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
        "Tip deflection", "mm", "at most", 2, 1.5, "at most, mm",
        "How far the worst rotor rises over the controller's seat at full throttle, the craft free in the air.", "craft"),
    "modes_clear_pct": MetricInfo(
        "Modes clear", "%", "at least", 0, 5.0, "clear by at least, %",
        "How far every mode of the craft that the rotors can drive stays outside what they shake it with over the working speeds.",
        "vibration"),
    "mode_floor_hz": MetricInfo(
        "Lowest mode", "Hz", "at least", 0, 2.5, "at least, times the loop's crossover",
        "The craft's lowest natural frequency that a rotor or the gyro feels. A soft frame feeds the controller with its own swing: as a "
        "rule it lies well above the loop's crossover; whether the loop rings, the ring margin tells.", "vibration"),
    "least_reserve": MetricInfo(
        "Flight reserve", "", "at least", 2, 1.5, "at least",
        "Strength over stress at the weakest spot of all parts, crashes apart.", "frame"),
    "flat_drop_m": MetricInfo(
        "Drop survived", "m", "at least", 2, 1.0, "at least, m",
        "Height of a flat fall onto the legs before the first part breaks.", "crash"),
    "arm_strike_m_s": MetricInfo(
        "Strike survived", "m/s", "at least", 1, 4.0, "at least, m/s", "Speed at which a front motor may hit a pole.", "crash"),
    "print_minutes": MetricInfo("Print time", "min", "at most", 0, 900.0, "at most, min",
        "All batches of the run, with warm-ups and bed changes.", "printing"),
    "endurance_min": MetricInfo("Endurance", "min", "at least", 1, 15.0, "at least, min",
        "Hovering in still air on the usable charge.", "power"),
    "thrust_to_weight": MetricInfo("Thrust to weight", "", "at least", 1, 2.0, "at least",
        "All motors at full throttle over weight.", "power"),
    "gyro_shake_dps": MetricInfo("Gyro shake", "°/s", "at most", 0, 20.0, "at most, °/s",
        "How fast imbalance and blade pass of all propellers turn the flight controller to and fro, at the worst of the working speeds.",
        "vibration"),
    "camera_shake_px": MetricInfo("Camera shake", "px", "at most", 1, 1.0, "at most, pixels",
        "How far the camera's picture is torn while it is read out, at the worst of the working speeds.", "vibration"),
    "ring_margin_db": MetricInfo("Ring margin", "dB", "at least", 1, 6.0, "at least, dB",
        "By how much the controller's gain could grow before frame and loop ring together, at the worst axis, throttle and charge; below 0 "
        "they do.", "loop"),
    "motor_temp_c": MetricInfo("Motor temperature", "°C", "at most", 0, 100.0, "at most, °C",
        "Of the hottest winding, in long hover with the gyro's buzz, and after 20 s of full throttle from it.", "power"),
    "top_current_a": MetricInfo("Top current", "A", "at most", 0, 60.0, "at most, A",
        "What all motors and components draw from a full pack at full throttle.", "power"),
    "thrust_left": MetricInfo("Thrust left at the end", "", "at least", 1, 1.6, "at least, times the weight",
        "All motors at full throttle over weight when it is time to land: the pack sags most then.", "power"),
    "material_cost": MetricInfo("Material cost", "", "at most", 2, 20.0, "at most", "Filament and carbon in the printed parts.", "zones"),
    "craft_cost": MetricInfo("Cost of the craft", "", "at most", 0, 300.0, "at most",
        "Everything in it: what is printed and cut, motors, propellers, battery and components, at their prices in Airframe.", "fit"),
    "made_mass_g": MetricInfo("Weight of made parts", "g", "at most", 0, 400.0, "at most, g",
        "All that is printed or cut, with its carbon: this group's share of the flying weight.", "fit"),
    "drive_mass_g": MetricInfo("Weight of the drive", "g", "at most", 0, 250.0, "at most, g", "All motors and propellers.", "fit"),
    "battery_mass_g": MetricInfo("Weight of the battery", "g", "at most", 0, 350.0, "at most, g", "The pack with its leads.", "fit"),
    "equipment_mass_g": MetricInfo("Weight of equipment", "g", "at most", 0, 250.0, "at most, g",
        "All components but motors, propellers and battery.", "fit"),
    "stall_m_s": MetricInfo("Stall speed", "m/s", "at most", 1, 11.0, "at most, m/s",
        "The slowest speed at which the wing carries the whole weight without thrust.", "wing"),
    "static_margin_pct": MetricInfo("Static margin", "%", "at least", 1, 6.0, "at least, % of the mean chord",
        "How far behind the centre of mass the neutral point lies in forward flight: below 0 the nose runs away; much over 25 it is "
        "sluggish.",
        "wing"),
    "spar_reserve": MetricInfo("Spar reserve", "", "at least", 2, 1.5, "at least",
        "Strength over stress of tube and skin along the wing, in its pull-up and in its gust.", "wing"),
    "wing_hover_throttle": MetricInfo("Hover throttle", "", "at most", 2, 0.65, "at most",
        "Of full voltage, with what the wing takes from the rotors' wash.", "transition"),
    "corridor_reserve_pct": MetricInfo("Corridor reserve", "%", "at least", 0, 20.0, "at least, %",
        "The least on the way from hover to forward flight and back: of thrust, of control over the nose, of room to stall.", "transition"),
    "com_travel_mm": MetricInfo("Mass centre travel", "mm", "at most", 1, 8.0, "at most, mm",
        "How far the centre of mass goes fore and aft between hover and forward flight.", "transition"),
    "tilt_share": MetricInfo("Tilt torque", "", "at most", 2, 0.5, "at most, of what its drive has",
        "The most that tilting asks of its servo or actuator, over what that gives as it is fed.", "transition"),
    "cruise_min": MetricInfo("Cruise endurance", "min", "at least", 1, 30.0, "at least, min",
        "In forward flight at its cruise on the usable charge, less a way out and back.", "wing"),
}  # fmt: skip


# beyond these a crash figure says only that nothing breaks: no fall of a craft that air holds back is faster, no flight either
BREAKS_BELOW: dict[Metric, float] = {"flat_drop_m": 60.0, "arm_strike_m_s": 35.0}
# what the settled tier works out again, from real layers and roads
SETTLES: tuple[Metric, ...] = ("flying_mass_g", "print_minutes")
MONEY: tuple[Metric, ...] = ("material_cost", "craft_cost")

# how bad a verdict is beside others
RANK: dict[str, int] = {"holds": 0, "not known yet": 1, "tight": 2, "fails": 3}


@dataclass(frozen=True)
class Margin:
    """One target's result. ``detail`` names what governs, or says why it is not known."""

    id: str
    metric: Metric
    name: str
    unit: str
    sense: Sense
    decimals: int
    value: float | None
    low: float | None
    high: float | None
    limit: float
    verdict: Verdict
    detail: str = ""
    source: Literal["live", "settled"] = "live"

    @property
    def headroom(self) -> float:
        """Signed relative distance to the limit on the typical value; negative when it fails. NaN when not known."""
        if self.value is None:
            return math.nan
        gap = self.limit - self.value if self.sense == "at most" else self.value - self.limit
        return gap / max(abs(self.limit), 1e-9)

    @property
    def safe_headroom(self) -> float:
        """As ``headroom`` but on the unfavourable end of the uncertainty."""
        if self.value is None or self.low is None or self.high is None:
            return math.nan
        gap = self.limit - self.high if self.sense == "at most" else self.low - self.limit
        return gap / max(abs(self.limit), 1e-9)


def judge(low: float, high: float, limit: float, sense: Sense) -> Verdict:
    """Holds when all of low..high is allowed, fails when none of it is, tight in between."""
    if sense == "at most":
        return "holds" if high <= limit else ("fails" if low > limit else "tight")
    return "holds" if low >= limit else ("fails" if high < limit else "tight")


def margin(
    target_id: str, metric: Metric, limit: float, values: tuple[float, float, float] | None, detail: str = "", unit: str | None = None
) -> Margin:
    """A margin from (low, typical, high), or not known yet; in the metric's own unit, or another one's name for it."""
    info = METRICS[metric]
    unit = info.unit if unit is None else unit
    if values is None or not all(math.isfinite(v) for v in values):
        return Margin(target_id, metric, info.name, unit, info.sense, info.decimals, None, None, None, limit, "not known yet", detail)
    low, value, high = min(values), values[1], max(values)
    return Margin(target_id, metric, info.name, unit, info.sense, info.decimals, value, low, high, limit,
                  judge(low, high, limit, info.sense), detail)  # fmt: skip


def unit_of(project: Project, metric: Metric) -> str:
    """A metric's unit; the maker's currency for money."""
    return project.brief.currency if metric in MONEY else METRICS[metric].unit


def limit_of(project: Project, target: Target) -> float:
    """A target's limit in its metric's own unit."""
    return target.limit * project.brief.loop_crossover_hz if target.metric == "mode_floor_hz" else target.limit


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
