"""A compass beside the leads that feed the motors."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.model.craft import Block
from fravik.power.magnetic import EARTH_LEVEL_UT, pair_field_ut, turned_deg
from fravik.printing.zones import Floats
from fravik.study.findings import Cure, Finding, Weight

APART_MM = 8.0  # from the middle of one lead to the other: thick leads side by side, a working assumption
NOTED_DEG, ASTRAY_DEG, LOST_DEG = 5.0, 15.0, 45.0
HIGHER_MM = (30.0, 60.0, 100.0)


def leads(result: Evaluation) -> tuple[Floats, Floats] | None:
    """From the end of the pack that is nearer to what feeds the motors; None where nothing does."""
    c = result.project.components
    fed = next((b for b in c.blocks if b.feeds_motors), None)
    if fed is None:
        return None
    to = np.array([fed.x_mm, fed.y_mm, fed.z_mm])
    ends = [np.array([c.battery.x_mm + s * c.battery.length_mm / 2, 0.0, c.battery.z_mm]) for s in (1.0, -1.0)]
    return min(ends, key=lambda e: float(np.linalg.norm(e - to))), to


def turns_deg(result: Evaluation, compass: Block, amps: float) -> float:
    """How far the current turns it at most; 0 where the leads are not known."""
    run = leads(result)
    at = np.array([compass.x_mm, compass.y_mm, compass.z_mm])
    return turned_deg(pair_field_ut(*run, at, amps, APART_MM)) if run is not None else 0.0


def _most(deg: float) -> str:
    return f"{deg:.0f}°" if deg < 180 else "right round"


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """One finding for each compass that is turned, and for one whose leads are not known."""
    if result.scope.flight:
        return
    hover, full = result.power.hover_current_a, result.power.all_current_a
    for compass in (b for b in result.project.components.blocks if b.has_compass):
        path = f"components.blocks.{compass.id}"
        if leads(result) is None:
            yield Finding(f"compass.unknown:{compass.id}", "worth knowing", "Airframe", path, compass.name,
                          "Whether the pack's leads turn its compass is not known.",
                          "No component is said to feed the motors.", "Say so of the board that the pack is plugged into.")  # fmt: skip
            continue
        turn, most = turns_deg(result, compass, hover), turns_deg(result, compass, full)
        if turn < NOTED_DEG and most < ASTRAY_DEG:
            continue
        weight: Weight = "grave" if turn >= LOST_DEG else "likely" if turn >= ASTRAY_DEG or most >= LOST_DEG else "worth knowing"
        yield Finding(
            f"compass.turned:{compass.id}", weight, "Airframe", f"{path}.z_mm", compass.name,
            f"The pack's leads turn its compass by up to {turn:.0f}° in hover and {_most(most)} at full throttle"
            f"{': it drifts in circles' if weight != 'worth knowing' else ''}.",
            f"{hover:.0f} A in hover and {full:.0f} A at most, in leads {APART_MM:.0f} mm apart, beside the earth's "
            f"{EARTH_LEVEL_UT:.0f} µT. Twisted leads do far better.", "A mast, another side of the craft, or leads twisted all the way.",
            tuple(Cure(f"{compass.name} {up:.0f} mm higher", ((f"{path}.z_mm", round(compass.z_mm + up, 1)),))
                  for up in HIGHER_MM if compass.z_mm + up <= 300),
        )  # fmt: skip
