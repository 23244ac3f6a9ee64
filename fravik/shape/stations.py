"""Where the rotors stand: one station for each, from the layout and the arm that reaches out to it.

Everything that depends on how many rotors there are, where they stand and which way they turn asks here and nowhere else. Craft axes:
x forward, y left, z up from the bottom plate's top.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
# front left first, counter-clockwise seen from above; neighbours turn against each other, so that their torques cancel
QUAD_X = (("front_left", 45.0, -1), ("rear_left", 135.0, 1), ("rear_right", 225.0, -1), ("front_right", 315.0, 1))


@dataclass(frozen=True)
class Station:
    """A rotor's place: the middle of its motor's mounting face, and the direction in which its arm leaves the craft's middle.

    ``spin`` is +1 for a propeller that turns counter-clockwise seen from above, -1 for one that turns clockwise; its torque on the craft is
    the other way round.
    """

    id: str
    x_mm: float
    y_mm: float
    z_mm: float
    azimuth_rad: float
    spin: int

    @property
    def at_mm(self) -> Floats:
        """(3,) in craft axes."""
        return np.array([self.x_mm, self.y_mm, self.z_mm])

    @property
    def radius_mm(self) -> float:
        """From the craft's middle, in plan."""
        return math.hypot(self.x_mm, self.y_mm)

    @property
    def side(self) -> str:
        """In words."""
        return self.id.replace("_", " ")


def azimuths_rad() -> tuple[float, ...]:
    """Directions of the arms, from forward to the left."""
    return tuple(math.radians(degrees) for _, degrees, _ in QUAD_X)


def turned(azimuth_rad: float) -> Floats:
    """(4, 4) turn about the upright axis."""
    c, s = math.cos(azimuth_rad), math.sin(azimuth_rad)
    m = np.eye(4)
    m[:2, :2] = [[c, -s], [s, c]]
    return m


def in_plan(local: list[tuple[float, float]], radius_mm: float, azimuth_rad: float) -> list[tuple[float, float]]:
    """Places given from an arm's root, along and across it, in the craft's plan."""
    c, s = math.cos(azimuth_rad), math.sin(azimuth_rad)
    return [((radius_mm + x) * c - y * s, (radius_mm + x) * s + y * c) for x, y in local]


def widest(every: tuple[Station, ...]) -> tuple[Station, Station, float]:
    """The two stations that stand farthest apart in plan, and how far, mm."""
    pairs = [(a, b, math.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm)) for i, a in enumerate(every) for b in every[i + 1 :]]
    return max(pairs, key=lambda pair: round(pair[2], 6))
