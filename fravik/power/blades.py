"""A propeller's coefficients from its diameter, pitch and blades, by blade elements in the momentum of their own rings.

Each ring of the disk pushes as much as its blades: 4 F l (l + l_c) r = s/2 (r^2 + (l + l_c)^2) (c_l cos - c_d sin), the inflow l and the
speed of flight l_c over the tip's, the blades' share of the ring s, and Prandtl's loss F at tip and root. The root of it lies between no
inflow and as much as turns the blade's angle to nothing, and is bracketed there. The blade's angle is atan(pitch / (2 pi r)). Chord by a
family's law, sections with a straight lift curve up to their stall: a stand-in until a blade is measured or drawn, good to SPREAD.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fravik.model.craft import Propeller

Floats = NDArray[np.float64]
Chord = Callable[[Floats], Floats]
# chord over radius where most of the push is made, by family; and how it goes along the blade: working assumptions
AT_75 = {"slim": 0.13, "usual": 0.17, "broad": 0.22}
ALONG = ((0.0, 0.15, 0.3, 0.5, 0.75, 0.95, 1.0), (0.7, 0.8, 1.12, 1.18, 1.0, 0.6, 0.35))
# sections at the low Reynolds numbers of small propellers: slope a radian, angle without lift, most lift, and drag over lift
SLOPE, NO_LIFT_RAD, MOST_LIFT = 5.2, math.radians(-3.5), 1.15
DRAG, DRAG_LIFT, DRAG_AT = 0.04, 0.05, 0.4
SPREAD = 0.12
ROOT, RINGS, HALVINGS = 0.15, 48, 48
ADVANCES = tuple(0.04 * k for k in range(13))  # speed along the shaft over that of the tips
TO_PROPELLER = math.pi**3 / 4  # thrust over rho A (tip speed)^2 to thrust over rho n^2 D^4


@dataclass(frozen=True)
class Coefficients:
    """Thrust over rho n^2 D^4, power over rho n^3 D^5, and in hover the ideal power over the real."""

    thrust: float
    power: float
    merit: float


def family_chord(family: str) -> Chord:
    """Chord over radius of a family, over the radius."""
    return lambda r: np.asarray(AT_75[family] * np.interp(r, *ALONG))


def blade_elements(
    blades: int, chord: Chord, angle_rad: Callable[[Floats], Floats], advance: float = 0.0, slope: float = SLOPE, drag: bool = True,
    tip_loss: bool = True, rings: int = RINGS, root: float = ROOT,
) -> Coefficients:  # fmt: skip
    """A propeller whose speed along its shaft over its tip speed is ``advance``."""
    edges = np.linspace(root, 1.0, rings + 1)
    r, wide = (edges[1:] + edges[:-1]) / 2, np.diff(edges)
    share, angle = blades * chord(r) / (math.pi * r), angle_rad(r)

    def section(inflow: Floats) -> tuple[Floats, Floats, Floats]:
        """Push and drag of a ring's blades over r's width, and its loss at tip and root."""
        flow = np.arctan2(inflow + advance, r)
        attack = angle - flow
        lift = np.clip(slope * (attack - (NO_LIFT_RAD if drag else 0.0)), -MOST_LIFT, MOST_LIFT) if drag else slope * attack
        cd = DRAG + DRAG_LIFT * (lift - DRAG_AT) ** 2 if drag else np.zeros_like(r)
        speed2 = share * r * (r**2 + (inflow + advance) ** 2) / 2
        push, hold = speed2 * (lift * np.cos(flow) - cd * np.sin(flow)), speed2 * (lift * np.sin(flow) + cd * np.cos(flow)) * r
        sine = np.maximum(np.abs(np.sin(flow)), 1e-4)
        loss = 2 / math.pi * np.arccos(np.exp(-np.minimum(blades / 2 * (1 - r) / (r * sine), 50.0))) if tip_loss else np.ones_like(r)
        return push, hold, np.maximum(loss, 1e-3)

    low, high = np.full(rings, -advance / 2), np.ones(rings)
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        push, _, loss = section(middle)
        more = push > 4 * loss * middle * np.abs(middle + advance) * r
        low, high = np.where(more, middle, low), np.where(more, high, middle)
    push, hold, _ = section((low + high) / 2)
    thrust, power = float((push * wide).sum()), float((hold * wide).sum())
    merit = max(thrust, 0.0) ** 1.5 / math.sqrt(2) / max(power, 1e-12)
    return Coefficients(thrust * TO_PROPELLER, power * TO_PROPELLER * math.pi, merit)


@lru_cache(maxsize=256)
def coefficients(diameter_mm: float, pitch_mm: float, blades: int, family: str, advance: float = 0.0) -> Coefficients:
    """Of a propeller by its family."""
    pitch = pitch_mm / (diameter_mm / 2)
    return blade_elements(blades, family_chord(family), lambda r: np.arctan(pitch / (2 * math.pi * r)), advance)


def resolved(propeller: Propeller) -> Propeller:
    """With the coefficients of its family in place of typed ones; as it is where they are typed."""
    if propeller.family == "typed":
        return propeller
    c = coefficients(propeller.diameter_mm, propeller.pitch_mm, propeller.blades, propeller.family)
    return propeller.model_copy(update={"thrust_coefficient": max(c.thrust, 1e-3), "figure_of_merit": min(max(c.merit, 0.05), 0.95)})


@lru_cache(maxsize=64)
def _moving(diameter_mm: float, pitch_mm: float, blades: int, family: str) -> tuple[float, ...]:
    """Thrust at every one of ADVANCES over that at rest."""
    each = [coefficients(diameter_mm, pitch_mm, blades, family, a).thrust for a in ADVANCES]
    return tuple(t / max(each[0], 1e-9) for t in each)


def climbing_share(propeller: Propeller, rpm: float, speed_m_s: Floats) -> Floats:
    """Thrust left at speeds (n,) along the shaft, over that at rest, at the same turns; of its family, or the usual one."""
    tip = math.pi * propeller.diameter_mm * 1e-3 * rpm / 60.0
    family = propeller.family if propeller.family != "typed" else "usual"
    moving = _moving(propeller.diameter_mm, propeller.pitch_mm, propeller.blades, family)
    return np.asarray(np.interp(speed_m_s / max(tip, 1e-9), ADVANCES, moving))
