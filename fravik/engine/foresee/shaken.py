"""Gyro and camera that are shaken too much, and rubber feet that make it worse.

Thresholds, working assumptions: LOUD_DPS at the gyro is what filters begin to struggle with, TORN_PX in the camera is seen; feet that let
more than all of 1/rev through ring with it; what sinks more than SAGS_MM tilts and strikes.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.shake import BAND_POINTS, soft_mount
from fravik.kinds import Edits
from fravik.kinds.drives import unlike
from fravik.model.craft import Block
from fravik.study.findings import Cure, Finding, Weight

LOUD_DPS, TORN_PX = 50.0, 2.0
SAGS_MM = 2.0
FEET, STIFF_N_MM = 4, (0.5, 1.0, 2.0, 4.0, 8.0, 16.0, 32.0)
HELPS = 0.6  # of 1/rev that feet may let through to be worth it
ABOVE_LOOP = 2.5  # times the crossover that a gyro's feet must ring above, or the loop feels them


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the modes are not known."""
    if result.whole is None or result.scope.flight:
        return
    felt = result.whole.shake.over(60.0 * np.linspace(*result.working_hz, BAND_POINTS))
    gyro = next((b for b in result.project.components.blocks if b.has_gyro), None)
    camera = next((b for b in result.project.components.blocks if b.view_deg > 0), None)
    for what, block, every, limit, unit, there in (
        ("gyro", gyro, felt.gyro_dps, LOUD_DPS, "°/s", True), ("camera", camera, felt.camera_px, TORN_PX, "px", felt.camera),
    ):  # fmt: skip
        worst = np.sqrt((every**2).sum(axis=1)).max(axis=1)
        if there and float(worst[1]) > limit:
            yield _shaken(result, what, block, float(worst[1]), limit, unit)
    for what, block in (("gyro", gyro), ("camera", camera)):
        if block is not None and block.grommets:
            yield from _feet(result, what, block)


def _shaken(result: Evaluation, what: str, block: Block | None, worst: float, limit: float, unit: str) -> Finding:
    cures = [_balanced(result)] if any(d.propeller.balance != "balanced" for d in unlike(result.project)) else []
    if block is not None and not block.grommets:
        cures += _softer(result, what, block)
    weight: Weight = "likely" if worst > 2 * limit or what == "camera" else "worth knowing"
    does = "motors grow hot and filters have to smooth it away" if what == "gyro" else "the picture is torn"
    return Finding(
        f"shaken.{what}", weight, "Vibration", f"components.blocks.{block.id}.grommets" if block is not None else "components.blocks",
        block.name if block is not None else f"The {what}", f"At working speeds the {what} is shaken much: {does}.",
        f"{worst:.3g} {unit} with usual propellers, half to twice as much; {limit:g} {unit} are much.",
        "Balance the propellers, move the mode that rings, or put it on rubber feet."
        + ("" if block is not None else f" Say which component has the {what} to try feet."), tuple(cures), "vibration",
    )  # fmt: skip


def _balanced(result: Evaluation) -> Cure:
    return Cure("Propellers balanced", tuple((f"{d.path}.propeller.balance", "balanced") for d in unlike(result.project)))


def lets_through(result: Evaluation, block: Block, what: str) -> float:
    """The most of 1/rev that its feet let through at working speeds: of turning for gyro and camera alike; 1 without feet."""
    feet = soft_mount(block)
    if feet is None:
        return 1.0
    w = 2 * math.pi * np.linspace(*result.working_hz, BAND_POINTS)
    axes = slice(3, 6) if what == "gyro" else slice(4, 6)
    return float(np.abs(feet.through(w)[:, axes]).max())


def _softer(result: Evaluation, what: str, block: Block) -> list[Cure]:
    """Feet that keep 1/rev out, the stiffest that do; for a gyro only such as ring well above what the loop follows."""
    out = []
    for stiff in reversed(STIFF_N_MM):
        edits: Edits = ((f"components.blocks.{block.id}.grommets", FEET), (f"components.blocks.{block.id}.grommet_n_mm", stiff))
        tried = block.model_copy(update={"grommets": FEET, "grommet_n_mm": stiff})
        feet = soft_mount(tried)
        if feet is None or lets_through(result, tried, what) > HELPS or feet.sag_mm > SAGS_MM:
            continue
        if what == "gyro" and float(feet.rings_hz()[3:].min()) < ABOVE_LOOP * result.project.brief.loop_crossover_hz:
            continue
        out.append(Cure(f"{FEET} rubber feet of {stiff:g} N/mm", edits))
        if len(out) == 2:
            break
    return out


def _feet(result: Evaluation, what: str, block: Block) -> Iterable[Finding]:
    feet = soft_mount(block)
    assert feet is not None
    share, path = lets_through(result, block, what), f"components.blocks.{block.id}.grommet_n_mm"
    if share > 1.0:
        rings = feet.rings_hz()[3:]
        hard: Edits = ((f"components.blocks.{block.id}.grommets", 0),)
        yield Finding(
            f"feet.ring:{block.id}", "likely" if share > 1.0 / HELPS else "worth knowing", "Vibration", path, block.name,
            f"Its rubber feet ring with the motors' turns: they shake the {what} more than hard screws.",
            f"They ring at {rings.min():.0f} to {rings.max():.0f} Hz; 1/rev is {result.working_hz[0]:.0f} to "
            f"{result.working_hz[1]:.0f} Hz at working speeds, of which {share:.1f} times gets through.",
            "Softer feet ring lower and keep it out, as far as the loop and the sag allow; or screw it down hard.",
            (*_softer(result, what, block), Cure("Screwed down hard", hard)), "vibration",
        )  # fmt: skip
    if feet.sag_mm > SAGS_MM:
        yield Finding(
            f"feet.sag:{block.id}", "worth knowing", "Airframe", path, block.name,
            "On its rubber feet it sinks far: it tilts, and strikes what is near in a turn.",
            f"{feet.sag_mm:.1f} mm at rest, {feet.sag_mm * result.project.brief.pull_up_g:.1f} mm in a pull-up.",
            "Stiffer feet, or more of them.", (), "vibration",
        )  # fmt: skip
