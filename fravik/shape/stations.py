"""Where the rotors stand: one station for each, from the layout and the arm that reaches out to it.

Everything that depends on how many rotors there are, where they stand and which way they turn asks here and nowhere else. Craft axes:
x forward, y left, z up from the bottom plate's top.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.model.craft import LayoutKind

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Arrangement:
    """How the arms of a layout stand: their directions in degrees from forward to the left, by name, counter-clockwise seen from above.

    Neighbours turn against each other, so that their torques cancel; of two rotors on one arm, the lower one turns against the upper.
    """

    name: str
    about: str
    arms: tuple[tuple[str, float], ...]
    coaxial: bool = False

    @property
    def rotors(self) -> int:
        """How many rotors there are."""
        return len(self.arms) * (2 if self.coaxial else 1)

    @property
    def azimuths_rad(self) -> tuple[float, ...]:
        """Directions of the arms."""
        return tuple(math.radians(degrees) for _, degrees in self.arms)

    @property
    def apart(self) -> float:
        """Distance of the two arms' ends that stand nearest each other, for ends a unit from the middle."""
        a = self.azimuths_rad
        return min(2 * abs(math.sin((p - q) / 2)) for i, p in enumerate(a) for q in a[i + 1 :])

    @property
    def least_turn_rad(self) -> float:
        """The smallest angle between two arms."""
        return 2 * math.asin(self.apart / 2)


def _quad(front: float, rear: float) -> tuple[tuple[str, float], ...]:
    return (("front_left", front), ("rear_left", rear), ("rear_right", 360 - rear), ("front_right", 360 - front))


def _ring(count: int, first: float) -> tuple[tuple[str, float], ...]:
    return tuple((f"arm_{k + 1}", first + 360.0 * k / count) for k in range(count))


PAIRS = "two rotors on each: little room, but a pair takes more power than two apart"
ARRANGEMENTS: dict[LayoutKind, Arrangement] = {
    "quad_x": Arrangement("Quad X", "four arms, all as far apart: the usual choice", _quad(45.0, 135.0)),
    "stretched_x": Arrangement("Stretched X", "four arms, longer than wide: less lever in roll than in pitch", _quad(37.0, 143.0)),
    "swept": Arrangement("Swept front", "front arms swept out of the camera's picture", _quad(62.0, 142.0)),
    "plus": Arrangement("Plus", "four arms, one straight ahead", _ring(4, 0.0)),
    "hexa_x": Arrangement("Hexa X", "six arms, two ahead", _ring(6, 30.0)),
    "hexa_plus": Arrangement("Hexa plus", "six arms, one straight ahead", _ring(6, 0.0)),
    "octa_x": Arrangement("Octa X", "eight arms, so small propellers", _ring(8, 22.5)),
    "y6": Arrangement("Y6", f"three arms, {PAIRS}", _ring(3, 60.0), coaxial=True),
    "x8": Arrangement("X8", f"four arms, {PAIRS}", _quad(45.0, 135.0), coaxial=True),
}


def azimuths_rad(kind: LayoutKind = "quad_x") -> tuple[float, ...]:
    """Directions of a layout's arms, from forward to the left."""
    return ARRANGEMENTS[kind].azimuths_rad


@dataclass(frozen=True)
class Station:
    """A rotor's place: the middle of its motor's mounting face, and the direction in which its arm leaves the craft's middle.

    ``spin`` is +1 for a propeller that turns counter-clockwise seen from above, -1 for one that turns clockwise; its torque on the craft is
    the other way round. ``up`` is +1 for a motor that stands on its arm, -1 for one that hangs under it.
    """

    id: str
    x_mm: float
    y_mm: float
    z_mm: float
    azimuth_rad: float
    spin: int
    up: int = 1

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
