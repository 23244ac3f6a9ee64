"""What stands in the rotors' air."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, FillRule

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.blocked import thrust_lost
from fravik.flight.wind import DRAG
from fravik.kinds.around import stations
from fravik.printing.zones import Floats
from fravik.shape.clash import bounds
from fravik.study.findings import Finding

from .bodies import copies, near, things

MUCH, SOME = 0.08, 0.04  # of the thrust
CIRCLE = 96


@dataclass(frozen=True)
class Shadow:
    """Of one rotor: the share of its disk that is blocked, and the share of its thrust lost with the least, usual and most drag."""

    station: str
    blocked: float
    lost: tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class _Blot:
    key: tuple[bytes, ...]
    loops: list[Floats]
    low_mm: float
    high_mm: float


def shadows(engine: Engine, result: Evaluation) -> tuple[Shadow, ...]:
    """One for each rotor. What two bodies cover together counts once, for the nearer; the motor's own disk is left out."""
    prop, motor = result.project.components.propeller, result.project.components.motor
    every = stations(result.project)
    blots = _blots(engine, result)
    key = (tuple(b.key for b in blots), tuple(s.at_mm.tobytes() + bytes([s.up > 0]) for s in every), prop.diameter_mm, motor.diameter_mm,
           motor.height_mm)  # fmt: skip

    def make() -> tuple[Shadow, ...]:
        rise = motor.height_mm + 3.0
        return tuple(_shadow(s.id, s.at_mm + np.array([0.0, 0.0, s.up * rise]), prop.diameter_mm / 2, motor.diameter_mm / 2, blots)
                     for s in every)  # fmt: skip

    return engine.memo.get("shadows", key, make)


def _blots(engine: Engine, result: Evaluation) -> list[_Blot]:
    out = []
    for copy in copies(result):
        low, high = near(engine, copy)[:, 2]
        out.append(_Blot((repr(copy.key[0]).encode(), copy.key[1]), engine.outline(copy.given, copy.pose), float(low), float(high)))
    for thing in things(result):
        (x0, y0, low), (x1, y1, high) = bounds(thing.body)
        out.append(_Blot(thing.key, [np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]])], float(low), float(high)))
    return out


def _shadow(name: str, hub_mm: Floats, radius_mm: float, inner_mm: float, blots: list[_Blot]) -> Shadow:
    at = (float(hub_mm[0]), float(hub_mm[1]))
    left = CrossSection.circle(radius_mm, CIRCLE).translate(at) - CrossSection.circle(min(inner_mm, 0.5 * radius_mm), CIRCLE).translate(at)
    whole, disk = left.area(), math.pi * radius_mm**2
    lost = [0.0, 0.0, 0.0]
    for blot in sorted(blots, key=lambda b: _away_mm(b, float(hub_mm[2]))):
        low, high = np.concatenate(blot.loops).min(axis=0), np.concatenate(blot.loops).max(axis=0)
        if np.linalg.norm(np.clip(hub_mm[:2], low, high) - hub_mm[:2]) >= radius_mm:
            continue
        under = CrossSection(blot.loops, FillRule.EvenOdd)
        share = (left ^ under).area() / disk
        if share <= 0.0:
            continue
        left = left - under
        below = float(hub_mm[2]) - blot.high_mm if blot.high_mm <= hub_mm[2] else min(float(hub_mm[2]) - blot.low_mm, 0.0)
        for k, drag in enumerate(DRAG):
            lost[k] += thrust_lost(share, below, radius_mm, drag)
    return Shadow(name, (whole - left.area()) / disk, (lost[0], lost[1], lost[2]))


def _away_mm(blot: _Blot, height_mm: float) -> float:
    return max(height_mm - blot.high_mm, blot.low_mm - height_mm, 0.0)


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """One finding, for the rotor that loses most."""
    if not result.parts:
        return
    worst = max(shadows(engine, result), key=lambda s: s.lost[1])
    if worst.lost[1] < SOME:
        return
    yield Finding(
        "disks.shadow", "likely" if worst.lost[1] > MUCH else "worth knowing", "Airframe", "layout.motor_to_motor_mm", "The rotors",
        f"What stands under a rotor takes {worst.lost[0]:.0%} to {worst.lost[2]:.0%} of its thrust, and makes it loud.",
        f"The {worst.station.replace('_', ' ')} rotor: {worst.blocked:.0%} of its disk is blocked. Thrust and endurance are those of "
        "a free disk.", "Narrower arms under the disk, motors farther out, or bodies drawn in.", (), "fit",
    )  # fmt: skip
