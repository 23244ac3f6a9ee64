"""Rotors that cannot hold the craft level, turn it lazily, or lose it with one of them."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.rotors import authority_rad_s2, battery_slide_mm, full_thrusts_n, mix_of
from fravik.flight.allocation import thrust_centre_mm
from fravik.kinds.around import motor_radius_mm, stations
from fravik.power.momentum import GRAVITY_M_S2
from fravik.printing.zones import Floats
from fravik.study.findings import Cure, Finding

OFF_CENTRE = 0.03  # of the way to the motors
SLOW_S, LAZY_S = 1.2, 2.5  # for a quarter turn from rest to rest
LEAST_TO_LOSE = 5
LEFT = 0.1  # of the moment of one rotor at full thrust


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the flight is not judged."""
    if result.scope.flight:
        return
    if result.allocation.short:
        yield Finding(
            "balance.short", "grave", "Airframe", "layout.kind", "The layout",
            f"The rotors cannot hold {' and '.join(result.allocation.short)} here: it turns over or spins.",
            "No share of thrust over its rotors keeps the craft level without turning it.", "Take another layout, spin or place for them.",
        )  # fmt: skip
        return
    yield from _off_centre(result)
    yield from _turning(result)


def _off_centre(result: Evaluation) -> Iterable[Finding]:
    off = float(np.hypot(*(result.craft.com_mm[:2] - thrust_centre_mm(stations(result.project)))))
    if off <= OFF_CENTRE * motor_radius_mm(result.project):
        return
    hover = result.allocation.hover_n
    slide = battery_slide_mm(result.project, result.craft)
    at = round(result.project.components.battery.x_mm + slide, 1)
    cures = (Cure(f"Battery {abs(slide):.0f} mm {'forward' if slide > 0 else 'back'}", (("components.battery.x_mm", at),)),)
    yield Finding(
        "balance.off_centre", "likely", "Airframe", "components.battery.x_mm", "The battery",
        "The centre of mass is off centre: the rotors on its side work harder, grow hotter and reach full throttle first.",
        f"{off:.0f} mm off the middle of thrust; in hover they carry {hover.min():.2f} to {hover.max():.2f} N.", "",
        cures if abs(slide) >= 0.5 else (),
    )  # fmt: skip


def _turning(result: Evaluation) -> Iterable[Finding]:
    for axis, rate in authority_rad_s2(result).items():
        seconds = math.inf if rate <= 0 else 2 * math.sqrt(math.pi / 2 / rate)
        if seconds <= SLOW_S:
            continue
        helps = "Tilt the motors a few degrees, or take larger, slower propellers." if axis == "yaw" else "More thrust, or mass farther in."
        told = "cannot be turned" if not math.isfinite(seconds) else f"takes {seconds:.1f} s for a quarter turn"
        yield Finding(
            f"balance.{axis}", "likely" if seconds > LAZY_S else "worth knowing", "Airframe", "layout.kind", "The rotors",
            f"About its {axis} axis it {told}.",
            f"At most {rate:.1f} rad/s² from hover, with the other axes held, against "
            f"{result.craft.inertia_gmm2[_axis(axis)] * 1e-9:.4f} kg m² of inertia; wind comes on top.", helps,
        )  # fmt: skip


def _axis(axis: str) -> tuple[int, int]:
    k = ("roll", "pitch", "yaw").index(axis)
    return k, k


def lost(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Of craft with rotors to spare: whether the others still steer it."""
    every = stations(result.project)
    if result.scope.flight or result.allocation.short or len(every) < LEAST_TO_LOSE:
        return
    mix = mix_of(result.project, result.craft, result.power)[:, : len(every)]
    weight, full = result.craft.mass_g * 1e-3 * GRAVITY_M_S2, full_thrusts_n(result)
    level, spins, falls = 0, [], []
    for k, s in enumerate(every):
        most = full.copy()
        most[k] = 0.0
        if steers(mix, weight, most):
            level += 1
        elif steers(mix[:3], weight, most):
            spins.append(s.side)
        else:
            falls.append(s.side)
    if level == len(every):
        return
    what = f"Without its {falls[0]} motor it comes down" if falls else f"Without its {spins[0]} motor it stays up, but turns about itself"
    more = len(falls or spins) - 1
    others = f"; so without {more} other{'s' * (more > 1)}" if more else ""
    yield Finding(
        "balance.one_lost", "worth knowing", "Airframe", "layout.kind", "The rotors", f"{what}{others}.",
        f"Of its {len(every)} motors the loss of {level} leaves it steered about all axes, of {len(spins)} about roll and pitch alone, "
        f"of {len(falls)} about neither; thrust to weight {result.power.thrust_to_weight:.1f}.",
        "More thrust to spare, or another layout. The controller has to know how to.",
    )  # fmt: skip


def steers(mix: Floats, weight_n: float, most_n: Floats) -> bool:
    """Whether rotors of given most thrust (n,) hold a weight, and turn it both ways about each axis of ``mix`` with the others held.

    To hang level is not enough: what can be turned one way only is lost at the first gust. LEFT of a rotor's own moment is asked for.
    """
    from scipy.optimize import linprog  # loads much else: not while the window starts

    wanted = LEFT * float(most_n.max()) * np.abs(mix).max(axis=1)
    bounds = [(0.0, float(m)) for m in most_n]
    for axis in range(1, len(mix)):
        rest = [i for i in range(len(mix)) if i != axis]
        level = np.zeros(len(rest))
        level[0] = weight_n
        for sign in (1.0, -1.0):
            found = linprog(-sign * mix[axis], A_eq=mix[rest], b_eq=level, bounds=bounds, method="highs")
            if found.status != 0 or sign * float(mix[axis] @ found.x) < wanted[axis]:
                return False
    return True
