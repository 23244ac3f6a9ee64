"""The picture of speeds and frequencies for one spot: what a log there shows, what is worst, and which crossings nobody feels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fravik.printing.zones import Floats
from fravik.structure.excitation import Meeting

from .results import Evaluation, WholeCraft
from .shake import MAP_POINTS
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


def worst_first(result: Evaluation, rows: int) -> tuple[list[Meeting], list[float]]:
    """So many meetings, and the rate of the gyro in °/s at each (none where the craft's modes are not known): those within the working
    speeds first, the worst before the rest; then the least clear."""
    met = sorted(result.meetings, key=lambda x: x.where != "working")
    inside = sum(x.where == "working" for x in met)
    if result.whole is None or not met:
        return met[:rows], []
    some = met[: max(inside, rows)]
    dps, _ = _felt(result.whole, some)
    order = sorted(range(len(some)), key=lambda k: (some[k].where != "working", -dps[k] if some[k].where == "working" else k))[:rows]
    return [some[k] for k in order], [float(dps[k]) for k in order]


def harmless(result: Evaluation) -> tuple[int, int]:
    """Of the crossings at working speeds, how many neither gyro nor camera feels, and how many there are."""
    met = [x for x in result.meetings if x.reached and x.where == "working"]
    if result.whole is None or not met:
        return 0, len(met)
    dps, px = _felt(result.whole, met)
    return int(((dps < HARMLESS_DPS) & (px < HARMLESS_PX)).sum()), len(met)


def _felt(whole: WholeCraft, met: Sequence[Meeting]) -> tuple[Floats, Floats]:
    """What each order does where it meets its mode: (m,) °/s at the gyro and px at the camera, for usual plastic."""
    names, each = [o.name for o in whole.shake.orders], np.arange(len(met))
    order = [names.index(x.order.name) for x in met]
    felt = whole.shake.over(np.array([max(x.rpm, 1.0) for x in met]))
    return felt.gyro_dps[1][order, each], felt.camera_px[1][order, each]
