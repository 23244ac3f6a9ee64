"""What stands in the rotors' air."""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterable
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, FillRule

from fravik.engine.evaluate import Engine
from fravik.engine.memo import Memo
from fravik.engine.results import Evaluation
from fravik.flight.blocked import thrust_lost
from fravik.flight.mass import HUB_OVER_MM
from fravik.flight.wind import DRAG
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
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
    key: Hashable
    loops: list[Floats]
    low_mm: float
    high_mm: float


def shadows(engine: Engine, result: Evaluation) -> tuple[Shadow, ...]:
    """One for each rotor. What two bodies cover together counts once, for the nearer; the motor's own disk is left out."""
    every = zip(stations(result.project), drives(result.project), strict=True)
    blots = _blots(engine, result)
    rings = [_Ring(s.id, s.at_mm + np.array([0.0, 0.0, s.up * (d.motor.height_mm + HUB_OVER_MM)]), d.propeller.diameter_mm / 2,
                   d.motor.diameter_mm / 2) for s, d in every]  # fmt: skip
    key = (tuple(b.key for b in blots), tuple(r.key for r in rings))
    return engine.memo.get("shadows", key, lambda: tuple(_shadow(engine.memo, ring, blots) for ring in rings))


@dataclass(frozen=True, eq=False)
class _Ring:
    """What a rotor's blades sweep in plan, about its hub (3,)."""

    station: str
    hub_mm: Floats
    radius_mm: float
    inner_mm: float

    @property
    def key(self) -> tuple[str, bytes, float, float]:
        return self.station, self.hub_mm.tobytes(), self.radius_mm, self.inner_mm

    def area(self) -> CrossSection:
        at = (float(self.hub_mm[0]), float(self.hub_mm[1]))
        inner = min(self.inner_mm, 0.5 * self.radius_mm)
        return CrossSection.circle(self.radius_mm, CIRCLE).translate(at) - CrossSection.circle(inner, CIRCLE).translate(at)

    def under(self, blot: _Blot) -> CrossSection | None:
        """What of a body lies in it; None where nothing does."""
        low, high = np.concatenate(blot.loops).min(axis=0), np.concatenate(blot.loops).max(axis=0)
        if np.linalg.norm(np.clip(self.hub_mm[:2], low, high) - self.hub_mm[:2]) >= self.radius_mm:
            return None
        found = self.area() ^ CrossSection(blot.loops, FillRule.EvenOdd)
        return None if found.is_empty() else found


def _blots(engine: Engine, result: Evaluation) -> list[_Blot]:
    out = []
    for copy in copies(result):
        low, high = near(engine, copy)[:, 2]
        out.append(_Blot(copy.key, engine.outline(copy.given, copy.pose), float(low), float(high)))
    for thing in things(result):
        (x0, y0, low), (x1, y1, high) = bounds(thing.body)
        out.append(_Blot(thing.key, [np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]])], float(low), float(high)))
    return out


def _shadow(memo: Memo, ring: _Ring, blots: list[_Blot]) -> Shadow:
    z, disk = float(ring.hub_mm[2]), math.pi * ring.radius_mm**2
    taken, blocked, lost = CrossSection(), 0.0, [0.0, 0.0, 0.0]
    for blot in sorted(blots, key=lambda b: _away_mm(b, z)):
        (under,) = memo.get("in a disk", (ring.key, blot.key), lambda b=blot: (ring.under(b),))  # type: ignore[misc]
        if under is None:
            continue
        share = (under - taken).area() / disk
        taken = taken + under
        blocked += share
        below = z - blot.high_mm if blot.high_mm <= z else min(z - blot.low_mm, 0.0)
        for k, drag in enumerate(DRAG):
            lost[k] += thrust_lost(share, below, ring.radius_mm, drag)
    return Shadow(ring.station, blocked, (lost[0], lost[1], lost[2]))


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
