"""A craft put together for the air: its surfaces, rotors, body and mass, and between what everything may move."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from fravik.library.air import GRAVITY_M_S2
from fravik.power.oblique import Disk, most_n

from .forces import AirCraft, com_at, row_disk
from .liftline import arrays_of
from .strips import PanelPlan, Strips, strips_of
from .trim import ATTITUDE, GAIN, SURFACE, THRUST_A, THRUST_B, UNKNOWNS, VECTOR

Floats = NDArray[np.float64]
FRONT, BACK, PUSHER = range(3)
MOST_GAIN, TAIL_GAIN, FREE_RAD = (
    3.0,
    8.0,
    math.radians(14),
)  # m/s2 that speed may change by on the way; nose up that a wing may want to carry
COSTS = {ATTITUDE: math.radians(4), SURFACE: math.radians(10), GAIN: 0.7, VECTOR: math.radians(5)}
ALONE_VECTOR_RAD = math.radians(12)  # a craft of one group of tilting rotors balances by turning them
ROOM_V, SPEEDS, ASIDE = 1.25, 25, 9
# what still stands over the centre of mass; share of the farthest rotor's lever that two groups want between them
SAME_M, LEAST_LEVER = 1e-6, 0.2


@lru_cache(maxsize=32)
def _most_kept(disk: Disk, along: tuple[float, ...], across: tuple[float, ...]) -> Floats:
    return np.array([[most_n(disk, a, b) for b in across] for a in along])


def _most(disk: Disk, along: Floats, across: Floats) -> Floats:
    """(along, across) thrust at full voltage, N; an edit of the airframe leaves its rotors as they are."""
    return _most_kept(disk, tuple(along), tuple(across))


@dataclass(frozen=True, eq=False)
class RotorPlan:
    """A rotor: hub with the rotor upright (3,) m, its disk, how far it is turned ahead in hover, and if it tilts, about where."""

    id: str
    at_m: Floats
    disk: Disk
    base_rad: float = 0.0
    pivot_m: Floats | None = None
    along: float = 0.0
    pusher: bool = False
    stops: bool = False
    still_m2: float = 0.0


@dataclass(frozen=True)
class BodyPlan:
    """What the wind meets besides wings and rotors: drag areas from the front and from below (m2) and their middle (m)."""

    front_m2: float
    under_m2: float
    x_m: float = 0.0
    z_m: float = 0.0


@dataclass(frozen=True, eq=False)
class Flyer:
    """``com_m`` (k, 2) is the centre of mass (x, z) over evenly spaced parts of the way, ``inertia`` about the pitch axis in kg m2. On its
    tail the way over is the attitude, from upright; else the tilt of ``tilt_rad``, or the pusher's throttle. The first ``wings``
    surfaces carry."""

    surfaces: tuple[tuple[PanelPlan, ...], ...]
    rotors: tuple[RotorPlan, ...]
    body: BodyPlan
    mass_kg: float
    inertia: float
    com_m: Floats
    on_tail: bool = False
    tilt_rad: float = math.pi / 2
    vector_rad: float = 0.0
    lean_rad: float = math.radians(12)
    hang_rad: float = 0.0
    top_m_s: float = 30.0
    strip_counts: tuple[int, ...] | None = None
    wings: int = 1
    roll_kgm2: float = 1.0
    yaw_kgm2: float = 1.0

    @property
    def weight_n(self) -> float:
        return self.mass_kg * GRAVITY_M_S2

    @cached_property
    def strips(self) -> Strips:
        """Of the left half."""
        return strips_of(self.surfaces, self.strip_counts)

    @cached_property
    def groups(self) -> NDArray[np.int64]:
        """(r,) those that tilt apart from those that do not, where that leaves a lever for the nose; else front from back of the centre of
        mass (on its tail: upper from lower in forward flight). Where all would be of the second, they are of the first."""
        x, z = self.com_m[0]
        ahead = np.array([(z - r.at_m[2]) if self.on_tail else (r.at_m[0] - x) for r in self.rotors])
        lifts = np.array([not r.pusher for r in self.rotors])
        tilts = np.array([r.along > 0 for r in self.rotors])
        front = ahead >= -SAME_M
        if (tilts & lifts).any() and (~tilts & lifts).any():
            lever = float(ahead[tilts & lifts].mean() - ahead[~tilts & lifts].mean())
            if abs(lever) > LEAST_LEVER * float(np.abs(ahead[lifts]).max()):
                front = tilts
        if not front[lifts].any():
            front = np.ones(len(front), dtype=bool)
        return np.where(lifts, np.where(front, FRONT, BACK), PUSHER).astype(np.int64)

    @property
    def balances_by_turning(self) -> bool:
        """Whether it has but one group of rotors, and these tilt."""
        return not (self.groups == BACK).any() and any(r.along > 0 for r in self.rotors)

    @cached_property
    def air(self) -> AirCraft:
        """The same, as compiled code takes it."""
        s = self.strips
        disks = np.array([tuple(r.disk) for r in self.rotors])
        at = np.array([r.at_m for r in self.rotors], dtype=np.float64)
        pivots = np.array([r.pivot_m if r.pivot_m is not None else r.at_m for r in self.rotors], dtype=np.float64)
        middle = s.quarter_m - np.column_stack([s.chord_m / 4, np.zeros((len(s.chord_m), 2))])
        body = np.array([self.body.front_m2, self.body.under_m2, self.body.x_m, self.body.z_m])
        return AirCraft(
            arrays_of(s), s.quarter_m, middle, s.width_m, s.angle_rad, s.pitch, s.hangs, s.tilts, s.hover, s.surface < self.wings, disks,
                at, pivots,
            np.array([r.base_rad for r in self.rotors]), np.array([r.along for r in self.rotors]), self.groups,
            0.0 if self.on_tail else self.tilt_rad, body,
            np.array([r.still_m2 for r in self.rotors]), bool((self.groups == PUSHER).any()), self.hang_rad, self.mass_kg, self.inertia,
            np.ascontiguousarray(self.com_m), self.weight_n,
        )  # fmt: skip

    @cached_property
    def surface_rad(self) -> float:
        """How far what turns the nose goes either way; 0 where nothing does."""
        s = self.strips
        return float(s.flap_most_rad[s.pitch > 0].max(initial=0.0))

    @cached_property
    def most(self) -> Floats:
        """(r, SPEEDS, ASIDE) thrust at full voltage, N, over speeds along the shaft from -top/3 to top and across it from 0 to top."""
        along, across = self._grid
        rows = np.array([tuple(r.disk) for r in self.rotors])
        kinds, of = np.unique(rows, axis=0, return_inverse=True)
        return np.array([_most(row_disk(kinds, k), along, across) for k in range(len(kinds))])[of]

    @property
    def _grid(self) -> tuple[Floats, Floats]:
        top = ROOM_V * self.top_m_s
        return np.linspace(-top / 3, top, SPEEDS), np.linspace(0.0, top, ASIDE)

    def most_at(self, rotor: int, along: Floats, across: Floats) -> Floats:
        """Thrust of a rotor at full voltage in streams (n,), N."""
        a, b = self._grid
        i = np.clip((along - a[0]) / (a[1] - a[0]), 0.0, SPEEDS - 1.001)
        j = np.clip(across / b[1], 0.0, ASIDE - 1.001)
        k, m = i.astype(np.int64), j.astype(np.int64)
        f, g = i - k, j - m
        t = self.most[rotor]
        return np.asarray((t[k, m] * (1 - g) + t[k, m + 1] * g) * (1 - f) + (t[k + 1, m] * (1 - g) + t[k + 1, m + 1] * g) * f)

    def limits(self, over: float, speeds: Floats, attitude: float = 0.0) -> tuple[Floats, Floats, Floats]:
        """Least and most of each unknown (n, 6) so far over at speeds (n,), and the pusher's thrust there."""
        n = len(speeds)
        least, most, push = np.zeros((n, UNKNOWNS)), np.zeros((n, UNKNOWNS)), np.zeros(n)
        least[:, ATTITUDE], most[:, ATTITUDE] = -self.lean_rad, max(self.lean_rad, FREE_RAD)
        if self.on_tail:
            attitude = math.pi / 2 * (1 - over)
            least[:, ATTITUDE] = most[:, ATTITUDE] = attitude
        group = self.groups
        for which, k in ((FRONT, THRUST_A), (BACK, THRUST_B), (PUSHER, -1)):
            mine = [i for i in range(len(self.rotors)) if group[i] == which]
            if not mine:
                continue
            # rotors alike in the same stream give the same
            each = {self._alike(i): i for i in mine}
            thrust = np.min([self._most_of(i, over, speeds, attitude) for i in each.values()], axis=0)
            if k < 0:
                push = over * thrust
            elif not (over >= 0.99 and all(self.rotors[i].stops for i in mine)):
                most[:, k] = thrust
        most[:, SURFACE], most[:, GAIN] = self.surface_rad, TAIL_GAIN if self.on_tail else MOST_GAIN
        most[:, VECTOR] = max(self.vector_rad, ALONE_VECTOR_RAD if self.balances_by_turning else 0.0)
        for k in (SURFACE, GAIN, VECTOR):
            least[:, k] = -most[:, k]
        if (group == PUSHER).any():
            least[:, VECTOR] = most[:, VECTOR] = 0.0
        return least, most, push

    def limits_at(self, over: float, speed: float, attitude: float = 0.0) -> tuple[Floats, Floats, float]:
        """The same at one speed: (6,), (6,) and the pusher's thrust."""
        least, most, push = self.limits(over, np.array([speed]), attitude)
        return least[0], most[0], float(push[0])

    def _alike(self, i: int) -> tuple[object, ...]:
        r = self.rotors[i]
        return (tuple(r.disk), r.base_rad, r.along)

    def _most_of(self, i: int, over: float, speeds: Floats, attitude: float) -> Floats:
        r = self.rotors[i]
        a = r.base_rad + (0.0 if self.on_tail else over * self.tilt_rad * r.along)
        u, w = speeds * math.cos(attitude), speeds * math.sin(attitude)
        return self.most_at(i, u * math.sin(a) - w * math.cos(a), np.abs(u * math.cos(a) + w * math.sin(a)))

    def costs(self) -> Floats:
        """What each unknown may move for one."""
        out = np.ones(UNKNOWNS)
        for k, v in COSTS.items():
            out[k] = v
        n = max(int((self.groups != PUSHER).sum()), 1)
        out[THRUST_A] = out[THRUST_B] = 3 * self.weight_n / n
        return out

    def com_at(self, over: float) -> tuple[float, float]:
        """Centre of mass (x, z) m so far over."""
        return com_at(np.ascontiguousarray(self.com_m), over)
