"""Motors, propellers and pack that do not suit the craft.

Thresholds: what a craft is steered with is the thrust left over its weight: under LEAST_LIFT it cannot arrest a descent, under EASY_LIFT
gusts take a share that it cannot spare. Current over capacity (C): a good pack gives USUAL_C steadily and BURST_C for seconds.
All four are working assumptions, said with each finding.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds.drives import drives
from fravik.power.pack import supply
from fravik.study.findings import Cure, Finding

LEAST_LIFT, EASY_LIFT = 1.3, 1.8
HIGH_HOVER = 0.70
USUAL_C, BURST_C = 30.0, 60.0
SOUND_M_S = 340.0
FAST_TIP_MACH = 0.7
LARGER = (1.25, 1.6, 2.0)


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Lift, hover throttle, current and tip speed; nothing where the flight is not judged."""
    if result.scope.flight:
        return
    yield from _lift(result)
    yield from _current(result)
    yield from _tips(result)


def _lift(result: Evaluation) -> Iterable[Finding]:
    p = result.power
    weakest = max(range(len(p.rotors)), key=lambda k: p.rotors[k].hover_throttle)
    drive = drives(result.project)[weakest]
    prop, at = drive.propeller, f"{drive.path}.propeller."
    if p.thrust_to_weight >= EASY_LIFT and p.hover_throttle <= HIGH_HOVER:
        return
    weak = p.thrust_to_weight < LEAST_LIFT
    what = "It cannot climb safely." if weak else "It has little thrust to spare: gusts and hard turns take it down."
    cures = tuple(
        Cure(f"Propellers of {size:.0f} mm", ((at + "diameter_mm", size), (at + "pitch_mm", pitch)))
        for size, pitch in ((round(prop.diameter_mm * f, 1), round(prop.pitch_mm * f, 1)) for f in (1.1, 1.2))
        if size <= 760.0 and pitch <= 500.0
    )
    yield Finding(
        "drive.lift", "grave" if weak else "likely", "Airframe", f"{drive.path}.motor.kv_rpm_per_v", "The motors", what,
        f"Full thrust is {p.thrust_to_weight:.2f} times its weight; {EASY_LIFT:g} is little, {LEAST_LIFT:g} too little. "
        f"It hovers at {p.hover_throttle:.0%} throttle.", "Make it lighter, or take more KV, more cells or larger propellers.", cures,
    )  # fmt: skip


def _current(result: Evaluation) -> Iterable[Finding]:
    pack, amps = supply(result.project.components), result.power.all_current_a
    own = result.project.components.battery
    rate, hover = amps / (pack.capacity_mah * 1e-3), result.power.hover_current_a / (pack.capacity_mah * 1e-3)
    if rate <= USUAL_C and hover <= USUAL_C / 2:
        return
    cures = tuple(_larger(result, f) for f in LARGER if own.capacity_mah * f <= 40000.0 and own.mass_g * f <= 5000.0)
    yield Finding(
        "drive.current", "grave" if rate > BURST_C or hover > USUAL_C else "likely", "Airframe", "components.battery.capacity_mah",
        "The battery", "The pack cannot give what the motors take: it sags, grows hot and ages fast.",
        f"At full throttle {amps:.0f} A are drawn from {pack.capacity_mah:.0f} mAh, {rate:.0f} C, and {hover:.0f} C in hover. "
        f"A good pack gives about {USUAL_C:.0f} C for a while and {BURST_C:.0f} C for seconds.",
        "Take a larger pack, fewer KV or smaller propellers. Hot packs burn: stop at the first swelling.", cures,
    )  # fmt: skip


def _larger(result: Evaluation, times: float) -> Cure:
    pack = result.project.components.battery
    size, grams = round(pack.capacity_mah * times, -1), round(pack.mass_g * times, 1)
    return Cure(
        f"A pack of {size:.0f} mAh and {grams:.0f} g", (("components.battery.capacity_mah", size), ("components.battery.mass_g", grams))
    )


def _tips(result: Evaluation) -> Iterable[Finding]:
    each = {d: (math.pi * d.propeller.diameter_mm * 1e-3 * r.full_rpm / 60.0, r.full_rpm)
            for d, r in zip(drives(result.project), result.power.rotors, strict=True)}  # fmt: skip
    drive, (speed, rpm) = max(each.items(), key=lambda found: found[1][0])
    if speed / SOUND_M_S <= FAST_TIP_MACH:
        return
    yield Finding(
        "drive.tips", "likely", "Airframe", f"{drive.path}.propeller.diameter_mm", "The propeller",
        "At full throttle its tips near the speed of sound: it screams, and power goes into noise instead of thrust.",
        f"{speed:.0f} m/s at {rpm:.0f} rpm, {speed / SOUND_M_S:.2f} of the speed of sound; beyond {FAST_TIP_MACH:g} "
        "blades lose.", "Take fewer KV with larger propellers, or fewer cells.",
    )  # fmt: skip
