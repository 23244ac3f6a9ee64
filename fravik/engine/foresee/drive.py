"""Motors, propellers and pack that do not suit the craft.

Thresholds: what a craft is steered with is the thrust left over its weight: under LEAST_LIFT it cannot arrest a descent, under EASY_LIFT
gusts take a share that it cannot spare. What current a pack gives is its label's, for seconds RATED_BRIEFLY times that, or its sort's.
All are working assumptions, said with each finding.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from fravik.engine.drivetrain import DriveTrain, drive_of
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.ring import craft_of
from fravik.kinds.drives import drives
from fravik.power.pack import supply
from fravik.study.findings import Cure, Finding

LEAST_LIFT, EASY_LIFT = 1.3, 1.8
HIGH_HOVER = 0.70
RATED_BRIEFLY = 2.0
FAR_OVER = 1.25  # of what a part stands
SOUND_M_S = 340.0
FAST_TIP_MACH = 0.7
LARGER = (1.25, 1.6, 2.0)


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Lift, hover throttle, current and tip speed; nothing where the flight is not judged."""
    if result.scope.flight:
        return
    train = train_of(engine, result)
    yield from _lift(result)
    yield from _current(result, train)
    yield from _limits(train)
    yield from _end(result, train)
    yield from _tips(result)


def train_of(engine: Engine, result: Evaluation) -> DriveTrain:
    """The drive from full to empty, worked out once a design."""
    craft = engine.memo.get("ring craft", result.project, lambda: craft_of(result))
    return engine.memo.get("drive train", result.project, lambda: drive_of(result, craft))


def given_c(result: Evaluation) -> tuple[float, float]:
    """Current over charge that the pack gives for a flight, and for seconds."""
    own, sort = result.project.components.battery, supply(result.project.components).sort
    return (own.rated_c, RATED_BRIEFLY * own.rated_c) if own.rated_c > 0 else (sort.usual_c.typical, sort.briefly_c)


def _end(result: Evaluation, train: DriveTrain) -> Iterable[Finding]:
    """Lift that is there at first and not when it is time to land."""
    left, worst = train.empty.thrust_to_weight, train.worst_empty.thrust_to_weight
    if result.power.thrust_to_weight < EASY_LIFT or worst >= EASY_LIFT:
        return
    yield Finding(
        "drive.end", "grave" if left < LEAST_LIFT else "likely", "Airframe", "components.battery.capacity_mah", "The battery",
        "At the end of the flight it has little thrust to spare, although it had enough at first.",
        f"Full thrust falls from {train.full.thrust_to_weight:.1f} to {left:.1f} times the weight as the pack empties, {worst:.1f} with a "
        "poor pack.", "Land earlier, or take a larger pack: it sags less.",
        tuple(_larger(result, f) for f in LARGER[:2] if result.project.components.battery.capacity_mah * f <= 40000.0), "power",
    )  # fmt: skip


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


def _current(result: Evaluation, train: DriveTrain) -> Iterable[Finding]:
    pack, amps = supply(result.project.components), train.top_a
    own = result.project.components.battery
    steady, briefly = given_c(result)
    rate, hover = amps / (pack.capacity_mah * 1e-3), result.power.hover_current_a / (pack.capacity_mah * 1e-3)
    if rate <= steady and hover <= steady / 2:
        return
    cures = tuple(_larger(result, f) for f in LARGER if own.capacity_mah * f <= 40000.0 and own.mass_g * f <= 5000.0)
    says = f"It is labelled for {steady:.0f} C" if own.rated_c > 0 else f"A good pack of such cells gives about {steady:.0f} C"
    yield Finding(
        "drive.current", "grave" if rate > briefly or hover > steady else "likely", "Airframe", "components.battery.capacity_mah",
        "The battery", "The pack cannot give what the motors take: it sags, grows hot and ages fast.",
        f"At full throttle {amps:.0f} A are drawn from {pack.capacity_mah:.0f} mAh, {rate:.0f} C, and {hover:.0f} C in hover. "
        f"{says} for a while and {briefly:.0f} C for seconds.",
        "Take a larger pack, fewer KV or smaller propellers. Hot packs burn: stop at the first swelling.", cures, "power",
    )  # fmt: skip


def _limits(train: DriveTrain) -> Iterable[Finding]:
    for x in train.limits:
        if x.what == "pack" or x.over <= 1.0:
            continue
        for_how_long = "for seconds" if x.briefly else "steadily"
        yield Finding(
            f"drive.limit:{x.path}", "grave" if x.over > FAR_OVER else "likely", "Airframe", x.path, f"The {x.what}",
            f"At full throttle more current goes through the {x.what} than it stands: it fails, in the air.",
            f"{x.asked_a:.0f} A from a full pack; it stands {x.stands_a:.0f} A {for_how_long}.",
            f"A stronger {x.what}, fewer KV, smaller propellers, or full throttle held back by the controller.", (), "power",
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
