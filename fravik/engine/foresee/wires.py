"""The motors' leads and those of the pack: which way they run, how long and heavy they are, and what they lose."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds import kind_of
from fravik.kinds.around import arm_ends, arms_by_slot, rooted_at, stations
from fravik.power.pack import supply
from fravik.power.wire import PHASE_SHARE, drop_v, gram_per_m, section_mm2
from fravik.study.findings import Cure, Finding

from .compass import leads

SLACK, ENDS_MM = 1.1, 20.0  # it is never laid straight, and ends are bent and soldered
PHASES = 3
MOST_LOST = 0.03  # of the pack's voltage
LIGHTER_G, LIGHTER = 5.0, 0.7  # a bundle counted as lighter than this share of its wires, by so much at least


@dataclass(frozen=True)
class Wire:
    """A run of ``count`` equal wires. ``lost_v`` is lost there and back, at full throttle."""

    start: str
    end: str
    way: str
    count: int
    length_mm: float
    section_mm2: float
    mass_g: float
    lost_v: float


def wires(result: Evaluation) -> tuple[Wire, ...]:
    """Every motor's to what feeds it, and the pack's. None where no component feeds the motors, or the flight is not judged."""
    project, run = result.project, leads(result)
    fed = next((b for b in project.components.blocks if b.feeds_motors), None)
    arms = arms_by_slot(project)
    if result.scope.flight or run is None or fed is None or not arms:
        return ()
    board = np.array([fed.x_mm, fed.y_mm, fed.z_mm])
    out = []
    slots = {s.id: k for k, s in enumerate(arm_ends(project))}
    for s, own in zip(stations(project), result.power.rotors, strict=True):
        slot = slots[s.id.removesuffix("_below")]
        part = arms[slot]
        root = rooted_at(arm_ends(project)[slot], project)[:3, 3]
        straight = float(np.linalg.norm(s.at_mm - root) + np.linalg.norm(root - board))
        kind = kind_of(part.shape)
        out.append(_wire(f"motor {s.side}", fed.name, kind.wires_run(part.shape), PHASES, straight, PHASE_SHARE * own.full_current_a, 2))
    total = result.power.all_current_a
    out.append(_wire("battery", fed.name, "straight", 2, float(np.linalg.norm(run[0] - run[1])), total, 2))
    return tuple(out)


def _wire(start: str, end: str, way: str, count: int, straight_mm: float, amps: float, there_and_back: int) -> Wire:
    length, section = SLACK * straight_mm + ENDS_MM, section_mm2(amps)
    return Wire(start, end, way, count, length, section, count * length * 1e-3 * gram_per_m(section),
                there_and_back * drop_v(length, amps, section))  # fmt: skip


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Wires that are heavier than what is counted for them, or lose much."""
    every = wires(result)
    if not every:
        return
    blocks = result.project.components.blocks
    weigh, counted = sum(w.mass_g for w in every), sum(b.mass_g for b in blocks if b.spread)
    if counted < LIGHTER * weigh and weigh - counted > LIGHTER_G:
        bundle = next((b for b in blocks if b.spread), None)
        path = f"components.blocks.{bundle.id}.mass_g" if bundle is not None else "components.blocks"
        cures = (Cure(f"Count {weigh:.0f} g of wires", ((path, float(round(weigh))),)),) if bundle is not None else ()
        yield Finding(
            "wires.weight", "likely", "Airframe", path, bundle.name if bundle is not None else "The wires",
            f"Motors' and pack's wires alone weigh about {weigh:.0f} g, of which {counted:.0f} g are counted.",
            f"{every[0].section_mm2:g} mm² to each motor, {every[-1].section_mm2:g} mm² to the pack, laid along the arms.",
            "" if bundle is not None else "Add a component for wires and screws, spread over the craft.", cures, "fit",
        )  # fmt: skip
    volts = supply(result.project.components).volts
    worst = max(every, key=lambda w: w.lost_v)
    if worst.lost_v > MOST_LOST * volts:
        yield Finding(
            "wires.loss", "worth knowing", "Airframe", "components.battery.cells", f"The wires from {worst.start}",
            f"At full throttle they lose {worst.lost_v:.1f} V of {volts:.0f} V, which thrust and endurance do not count.",
            f"{worst.length_mm:.0f} mm of {worst.section_mm2:g} mm².", "Thicker or shorter leads, or more cells.", (), "fit",
        )  # fmt: skip
