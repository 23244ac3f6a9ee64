"""The picture of speeds and frequencies for one spot: what a log there shows, what is worst, and which crossings nobody feels."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fravik.printing.zones import Floats

from .results import Evaluation
from .shake import MAP_POINTS, Felt
from .spots import Spot, SpotFelt, felt_at, spectrum, spots_of, throttle_at

HZ_POINTS, TOP_ORDERS = 220, 2.3
# what is felt less than this is harmless: it moves no picture and no loop (working assumptions)
HARMLESS_DPS, HARMLESS_PX = 5.0, 0.3


@dataclass(frozen=True, eq=False)
class SpeedMap:
    """At one spot over motor speeds (f,) and frequencies (n,): how loud it is there (f, n), in ``unit``."""

    spot: Spot
    unit: str
    felt: SpotFelt
    hz: Floats
    loud: Floats
    worst: str

    @property
    def rpm(self) -> Floats:
        """Motor speeds (f,)."""
        return self.felt.rpm

    @cached_property
    def by_order(self) -> Floats:
        """(orders, f) how loud each order is, for the usual plastic."""
        return self.felt.dps[1] if self.unit == "°/s" else self.felt.g[1]


def speed_map(result: Evaluation, spot_id: str) -> SpeedMap | None:
    """Of the spot, or of the gyro where there is none such; None where the modes are not known."""
    every = spots_of(result)
    if result.whole is None or not every:
        return None
    spot = next((s for s in every if s.id == spot_id), every[0])
    shake, power = result.whole.shake, result.power
    rpm = np.linspace(max(power.idle_rpm, 60.0), max(power.full_rpm, 120.0), MAP_POINTS)
    hz = np.linspace(0.0, TOP_ORDERS * power.full_rpm / 60.0, HZ_POINTS)
    felt = felt_at(shake, spot, rpm)
    unit = "°/s" if spot.id == "gyro" else "g"
    by_order = felt.dps[1] if unit == "°/s" else felt.g[1]
    return SpeedMap(spot, unit, felt, hz, spectrum(shake.orders, rpm, by_order, hz), worst_in_words(result, spot, unit))


def worst_in_words(result: Evaluation, spot: Spot, unit: str) -> str:
    """What shakes a spot most at working speeds, in a sentence."""
    assert result.whole is not None
    shake = result.whole.shake
    rpm = 60.0 * np.linspace(*result.working_hz, 48)
    felt = felt_at(shake, spot, rpm)
    values = felt.dps[1] if unit == "°/s" else felt.g[1]
    order, at = (int(i) for i in np.unravel_index(int(values.argmax()), values.shape))
    mode = result.whole.modes[shake.nearest(order, float(rpm[at]))]
    part = result.pieces[mode.part_id].part.name.lower()
    amount = f"{values[order, at]:.0f} °/s" if unit == "°/s" else f"{values[order, at]:.2g} g"
    return (f"{spot.name}: shaken most, {amount}, at {throttle_at(result, float(rpm[at])):.0%} throttle, "
            f"by {shake.orders[order].name} on {part}, {mode.name}.")  # fmt: skip


def harmless(result: Evaluation) -> tuple[int, int]:
    """Of the crossings at working speeds, how many neither gyro nor camera feels, and how many there are."""
    met = [x for x in result.meetings if x.reached and x.where == "working"]
    if result.whole is None or not met:
        return 0, len(met)
    shake = result.whole.shake
    names = [o.name for o in shake.orders]
    felt: Felt = shake.over(np.array([max(x.rpm, 1.0) for x in met]))
    calm = sum(
        felt.gyro_dps[1, names.index(x.order.name), k] < HARMLESS_DPS and felt.camera_px[1, names.index(x.order.name), k] < HARMLESS_PX
        for k, x in enumerate(met)
    )
    return int(calm), len(met)
