"""Where the rotors stand: one station for each, from the layout and the arm that reaches out to it.

Everything that depends on how many rotors there are, where they stand and which way they turn asks here and nowhere else. Craft axes:
x forward, y left, z up from the bottom plate's top.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fravik.model.craft import FreeStation, Layout, LayoutKind

Floats = NDArray[np.float64]


TILT_DEG = 30.0  # how far a tilting rotor leans to either side


@dataclass(frozen=True)
class Stand:
    """Where an arm leaves the plates: the direction it leaves in, and the middle of its root, in the craft's plan."""

    azimuth_rad: float
    x_mm: float
    y_mm: float


@dataclass(frozen=True)
class Arrangement:
    """How the arms of a layout stand: where their ends are, by name, in degrees from forward to the left.

    They follow one another counter-clockwise seen from above. ``ways_deg`` are the directions in which they leave the plates, where those
    are not straight out from the middle. Neighbours turn against each other, so that their torques cancel; of two rotors on one arm, the
    lower one turns against the upper. Rotors of the arms in ``tilting`` lean to either side of their arm.
    Of the maker's own stations ``spins``, ``radii_mm``, ``tilts_deg`` and ``pairs`` say what is left to say, an arm each.
    """

    name: str
    about: str
    arms: tuple[tuple[str, float], ...]
    coaxial: bool = False
    ways_deg: tuple[float, ...] = ()
    tilting: tuple[str, ...] = ()
    spins: tuple[int, ...] = ()
    radii_mm: tuple[float, ...] = ()
    tilts_deg: tuple[float, ...] = ()
    pairs: tuple[bool, ...] = ()

    @property
    def rotors(self) -> int:
        """How many rotors there are."""
        return sum(2 if self.paired(k) else 1 for k in range(len(self.arms)))

    def paired(self, arm: int) -> bool:
        """Whether an arm has a second rotor under it."""
        return self.pairs[arm] if self.pairs else self.coaxial

    @property
    def ends_rad(self) -> tuple[float, ...]:
        """Where the arms' ends stand, seen from the middle."""
        return tuple(math.radians(degrees) for _, degrees in self.arms)

    @property
    def ways_rad(self) -> tuple[float, ...]:
        """The directions of the arms."""
        return tuple(math.radians(degrees) for degrees in self.ways_deg) or self.ends_rad

    @property
    def reach(self) -> float:
        """How much of the way from the middle to a rotor lies along its arm; 1 where arms point straight out."""
        return math.cos(self.ways_rad[0] - self.ends_rad[0]) if self.ways_deg else 1.0

    def stands(self, clamp_mm: float, radii_mm: Sequence[float]) -> tuple[Stand, ...]:
        """One an arm, for plates that end ``clamp_mm`` from the middle and rotors ``radii_mm`` from it."""
        out = []
        for end, way, radius in zip(self.ends_rad, self.ways_rad, radii_mm, strict=True):
            beside = radius * math.sin(end - way) if self.ways_deg else 0.0
            out.append(Stand(way, clamp_mm * math.cos(way) - beside * math.sin(way), clamp_mm * math.sin(way) + beside * math.cos(way)))
        return tuple(out)

    def spin(self, arm: int) -> int:
        """Which way the rotor (of two, the upper one) of an arm turns: neighbours against each other, and the tail of three as it must."""
        if self.spins:
            return self.spins[arm]
        return -1 if arm % 2 == 0 or (self.coaxial and len(self.arms) % 2) else 1

    def tilt_deg(self, arm: int) -> float:
        """How far its rotor leans to either side."""
        if self.tilts_deg:
            return self.tilts_deg[arm]
        return TILT_DEG if self.arms[arm][0] in self.tilting else 0.0

    @property
    def apart(self) -> float:
        """Distance of the two arms' ends that stand nearest each other, for ends a unit from the middle."""
        a = self.ends_rad
        return min(2 * abs(math.sin((p - q) / 2)) for i, p in enumerate(a) for q in a[i + 1 :])

    @property
    def least_turn_rad(self) -> float:
        """The smallest angle between two arms' ends, seen from the middle."""
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
    "true_x": Arrangement("True X", "motors on a square, as in a quad X: as quick in roll as in pitch", _quad(45.0, 135.0)),
    "h": Arrangement("H", "arms straight out from the sides of a long body", _quad(45.0, 135.0), ways_deg=(90.0, 90.0, 270.0, 270.0)),
    "tri": Arrangement("Tricopter", "two arms ahead, and a tail whose motor tilts to turn the craft", _ring(3, 60.0), tilting=("arm_2",)),
    "side_by_side": Arrangement(
        "Side by side",
        "two rotors that tilt: the fewest parts, but weak in pitch",
        (("left", 90.0), ("right", 270.0)),
        tilting=("left", "right"),
    ),
}


def arrangement(layout: Layout) -> Arrangement:
    """How the arms of a layout stand, the maker's own stations included."""
    return _free(layout.stations) if layout.kind == "free" else ARRANGEMENTS[layout.kind]


@lru_cache(maxsize=64)
def _free(stations: tuple[FreeStation, ...]) -> Arrangement:
    around = sorted(stations, key=lambda s: math.atan2(s.y_mm, s.x_mm) % (2 * math.pi))
    return Arrangement(
        "Free", "stations of your own", tuple((s.id, math.degrees(math.atan2(s.y_mm, s.x_mm))) for s in around),
        tilting=tuple(s.id for s in around if s.tilt_deg), spins=tuple(1 if s.turns == "left" else -1 for s in around),
        radii_mm=tuple(math.hypot(s.x_mm, s.y_mm) for s in around), tilts_deg=tuple(s.tilt_deg for s in around),
        pairs=tuple(s.pair for s in around),
    )  # fmt: skip


@dataclass(frozen=True)
class Station:
    """A rotor's place: the middle of its motor's mounting face, and the direction in which its arm leaves the craft's middle.

    ``spin`` is +1 for a propeller that turns counter-clockwise seen from above, -1 for one that turns clockwise; its torque on the craft is
    the other way round. ``up`` is +1 for a motor that stands on its arm, -1 for one that hangs under it. ``tilt_deg`` is how far it leans
    to either side of its arm, about it; 0 for one that is fixed.
    """

    id: str
    x_mm: float
    y_mm: float
    z_mm: float
    azimuth_rad: float
    spin: int
    up: int = 1
    tilt_deg: float = 0.0

    @property
    def at_mm(self) -> Floats:
        """(3,) in craft axes."""
        return np.array([self.x_mm, self.y_mm, self.z_mm])

    @property
    def radius_mm(self) -> float:
        """From the craft's middle, in plan."""
        return math.hypot(self.x_mm, self.y_mm)

    @property
    def bearing_rad(self) -> float:
        """Where it stands, seen from the craft's middle, from forward to the left."""
        return math.atan2(self.y_mm, self.x_mm)

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


def in_plan(local: Iterable[tuple[float, float]], stand: Stand) -> list[tuple[float, float]]:
    """Places given from an arm's root, along and across it, in the craft's plan."""
    c, s = math.cos(stand.azimuth_rad), math.sin(stand.azimuth_rad)
    return [(stand.x_mm + x * c - y * s, stand.y_mm + x * s + y * c) for x, y in local]


def tongue_room_mm(stands: Sequence[Stand], tongue_mm: float) -> float:
    """How wide tongues of a length may be before two of them overlap."""
    room = math.inf
    for i, a in enumerate(stands):
        for b in stands[i + 1 :]:
            room = min(room, _room_mm(a, b, tongue_mm))
    return room


def _room_mm(a: Stand, b: Stand, tongue_mm: float) -> float:
    turn = abs((a.azimuth_rad - b.azimuth_rad + math.pi) % (2 * math.pi) - math.pi)
    dx, dy = b.x_mm - a.x_mm, b.y_mm - a.y_mm
    if turn < 1e-9:
        return abs(dy * math.cos(a.azimuth_rad) - dx * math.sin(a.azimuth_rad))
    if turn > math.pi - 1e-9:
        return math.inf
    # how far out from where their middle lines cross each one's inner end is
    cross = math.sin(b.azimuth_rad - a.azimuth_rad)
    out_a = (dx * math.sin(b.azimuth_rad) - dy * math.cos(b.azimuth_rad)) / cross
    out_b = (dx * math.sin(a.azimuth_rad) - dy * math.cos(a.azimuth_rad)) / cross
    return max(2 * (min(-out_a, -out_b) - tongue_mm) * math.tan(turn / 2), 0.0)


def widest(every: tuple[Station, ...]) -> tuple[Station, Station, float]:
    """The two stations that stand farthest apart in plan, and how far, mm."""
    pairs = [(a, b, math.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm)) for i, a in enumerate(every) for b in every[i + 1 :]]
    return max(pairs, key=lambda pair: round(pair[2], 6))
