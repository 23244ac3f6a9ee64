"""The pack over its life and over a flight: age, cold, and how its end is seen.

Thresholds, working assumptions: AGED and OLD are shares of charge left, COOL and COLD the pack's degrees at take-off; who flies by the
clock alone lands after BY_THE_CLOCK of the shortest hover, for flying about takes more.
"""

from __future__ import annotations

from collections.abc import Iterable

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.power.pack import Supply, supply
from fravik.study.findings import Cure, Finding, Weight

from .drive import train_of

AGED, OLD = 0.92, 0.80
COOL_C, COLD_C = 10.0, 0.0
BY_THE_CLOCK = 0.75
EARLY = 0.9  # of the usable charge, where voltage ends the flight before
BAND = "Charge, and rest, batteries where a fire does no harm; a swollen pack flies no more."


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the flight is not judged."""
    if result.scope.flight:
        return
    pack = supply(result.project.components)
    yield from _aged(result, pack)
    yield from _unseen(result)
    yield from _cold(engine, result)
    yield from _early(engine, result, pack)


def clock_min(result: Evaluation) -> float:
    """After how many minutes to land by the clock alone."""
    return BY_THE_CLOCK * result.power.endurance_low_min


def _aged(result: Evaluation, pack: Supply) -> Iterable[Finding]:
    left, own = pack.left, result.project.components.battery
    if not (own.cycles or own.age_months or own.full_months) or left.typical >= AGED:
        return
    weight: Weight = "likely" if left.typical < OLD or left.low < OLD - 0.1 else "worth knowing"
    rested = f", {own.full_months:g} of them full" if own.full_months else ""
    cell = pack.ohm.typical / pack.cells * 1e3
    yield Finding(
        "pack.aged", weight, "Airframe", "components.battery.age_months", "The battery",
        "It reads full after charging and is not: it holds less than its label says, and sags more.",
        f"{own.cycles} charges, {own.age_months:g} months{rested}: about {left.low:.0%} to {left.high:.0%} of {own.capacity_mah:.0f} mAh "
        f"are left and a cell has some {cell:.1f} mΩ. It hovers for {result.power.endurance_low_min:.0f} to "
        f"{result.power.endurance_high_min:.0f} min.",
        f"Measure what it takes in after a flight and what its cells resist; set the clock to {clock_min(result):.0f} min until then. "
        f"{BAND}",
        page="power",
    )  # fmt: skip


def _unseen(result: Evaluation) -> Iterable[Finding]:
    if result.project.components.battery.voltage_seen:
        return
    yield Finding(
        "pack.unseen", "likely", "Airframe", "components.battery.voltage_seen", "The battery",
        "Nobody sees its voltage in flight: it is flown until it drops.",
        f"With a poor pack hover ends after {result.power.endurance_low_min:.1f} min; flying about takes more.",
        f"Land by the clock, after {clock_min(result):.1f} min, and a minute sooner in cold; or have the voltage told by an alarm.",
        (Cure("An alarm tells the voltage", (("components.battery.voltage_seen", True),)),), "power",
    )  # fmt: skip


def _cold(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    own = result.project.components.battery
    if own.start_c >= COOL_C:
        return
    train = train_of(engine, result)
    yield Finding(
        "pack.cold", "likely" if own.start_c < COLD_C else "worth knowing", "Airframe", "components.battery.start_c", "The battery",
        "Cold, it sags from the first moment and gives less of its charge.",
        f"At {own.start_c:g} °C it has {train.full.thrust_to_weight:.1f} times the weight in thrust at first, "
        f"{train.empty.thrust_to_weight:.1f} at the end.",
        "Keep it in a warm pocket until take-off, and hover for a minute before you ask for more.",
        (Cure("Kept at 20 °C until take-off", (("components.battery.start_c", 20.0),)),), "power",
    )  # fmt: skip


def _early(engine: Engine, result: Evaluation, pack: Supply) -> Iterable[Finding]:
    flown = train_of(engine, result).flight
    reached = float(flown.drawn[-1]) if len(flown.drawn) else 0.0
    if not flown.by_voltage or reached >= EARLY * pack.to_use():
        return
    own = result.project.components.battery
    yield Finding(
        "pack.early", "worth knowing" if reached > 0.5 * pack.to_use() else "likely", "Airframe", "components.battery.stop_cell_v",
        "The battery", "Its voltage under load is down to where you land long before the usable charge is out.",
        f"At {own.stop_cell_v:g} V a cell {reached:.0%} of its charge are drawn; {pack.usable:.0%} of the label were meant to be.",
        "A larger pack or cells of less resistance sag less; a lower landing voltage ages them.", (), "power",
    )  # fmt: skip
