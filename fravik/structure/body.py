"""The two plates of a body acting together through the arms' tongues: what the arms' roots stand on, and the plates' own stress.

Each plate is a grillage of cells (``plate``), condensed to the bearing faces it is held by: the tongue bolts' washers, the standoffs of
the stack, and spots for battery, strap and legs. A tongue is a rigid block here (its own give is the root joint's): it carries shear
from one plate to the other, which is what makes the pair far stiffer than two single plates. The body is held at the standoffs
of the bottom plate, where its mass hangs. How much of a tongue really bears is between two bounds: *washers*, where only the faces round
its bolts hold, and *bonded*, where its whole face does.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .plate import PlateFaces
from .plateface import by_kind
from .solve import solve_positive

STACK, BATTERY, STRAP, LEGS = "stack", "battery", "strap", "legs"
SPOT_RADIUS_MM = 3.0
HELD_STIFFER = 1e4
LINE_MM = 0.01  # off a line by less, faces lie on it


@dataclass(frozen=True)
class BodyPoints:
    """Plan points of the plates (P, 2) with the radii of their bearing faces (P,), and which of them belong to what: tongue bolts by
    arm, and named spots. ``outlines`` (4, 2) are the tongues' corners; ``azimuths_rad`` the directions of the arms, and ``roots_mm``
    (arms, 2) where their roots are, told where they do not all point straight out from the middle."""

    xy_mm: Floats
    radii_mm: Floats
    bolts: tuple[tuple[int, ...], ...]
    spots: dict[str, tuple[int, ...]]
    outlines: tuple[Floats, ...]
    azimuths_rad: tuple[float, ...]
    roots_mm: Floats | None = None

    def root_mm(self, arm: int, radius_mm: float) -> Floats:
        """(2,) where an arm's root is: as told, or ``radius_mm`` out from the middle."""
        if self.roots_mm is not None:
            return np.asarray(self.roots_mm[arm])
        return radius_mm * _arm_turn(self.azimuths_rad[arm])[0, :2]


@dataclass(frozen=True)
class BodyAnswer:
    """A pair of plates at one stiffness. ``roots`` (arms, 6, 6): compliance at each arm's root in its own axes, body held at the stack.

    ``on_points`` per plate (5 P, 6 arms): forces that unit forces and moments at the roots put on its points; ``spots`` per spot and plate
    (5 P, places): the same for unit upward forces at the spot's places.
    """

    roots: Floats
    on_points: dict[str, Floats]
    spots: dict[str, dict[str, Floats]]


def body_points(
    azimuths_rad: tuple[float, ...], bolts: list[list[tuple[float, float]]], outlines: list[Floats], washer_mm: float,
    stack_pitch_mm: float, standoff_mm: float,
    half_length_mm: float, half_width_mm: float, battery_x_mm: float, battery_half_mm: float,
    legs_mm: Sequence[tuple[float, float]], roots_mm: Floats | None = None,
) -> BodyPoints:  # fmt: skip
    """All points of both plates. ``bolts`` are the plan places of each arm's bolts (or of its tongue's corners);
    legs are screwed on at ``legs_mm``.

    What lies beyond a plate's edge presses on the nearest place inside it.
    """
    xy: list[tuple[float, float]] = []
    radii: list[float] = []
    groups = []
    for arm in bolts:
        groups.append(tuple(range(len(xy), len(xy) + len(arm))))
        xy += arm
        radii += [washer_mm / 2] * len(arm)
    spots: dict[str, tuple[int, ...]] = {}

    def add(name: str, places: list[tuple[float, float]], radius_mm: float) -> None:
        spots[name] = tuple(range(len(xy), len(xy) + len(places)))
        xy.extend((min(max(x, -half_length_mm), half_length_mm), min(max(y, -half_width_mm), half_width_mm)) for x, y in places)
        radii.extend([radius_mm] * len(places))

    p = stack_pitch_mm / 2
    add(STACK, [(sx * p, sy * p) for sx in (-1, 1) for sy in (-1, 1)], standoff_mm / 2)
    reach = 0.8 * half_length_mm
    half = min(battery_half_mm * 0.6, reach)
    middle = min(max(battery_x_mm, half - reach), reach - half)
    fore, aft = middle + half, middle - half
    add(BATTERY, [(x, 0.0) for x in (aft, fore)], SPOT_RADIUS_MM)
    add(STRAP, [(x, s * half_width_mm) for x in (aft, fore) for s in (-1.0, 1.0)], SPOT_RADIUS_MM)
    add(LEGS, list(legs_mm), washer_mm / 2)
    return BodyPoints(np.array(xy), np.array(radii), tuple(groups), spots, tuple(outlines), azimuths_rad, roots_mm)


def _attach(points: Floats, block: Floats) -> Floats:
    """(2, 5 n, 6): what takes a rigid block's motion to that of the plate's faces bonded to it, when it holds them at its own height,
    and how that changes with every mm."""
    out = np.zeros((2, len(points), 5, 6))
    dx, dy = (points - block).T
    out[0, :, range(5), range(5)] = 1.0
    out[0, :, 0, 5], out[0, :, 1, 5] = -dy, dx
    out[0, :, 2, 3], out[0, :, 2, 4] = dy, -dx
    out[1, :, 0, 4], out[1, :, 1, 3] = 1.0, -1.0
    return out.reshape(2, -1, 6)


def _arm_turn(azimuth_rad: float) -> Floats:
    """(6, 6) from craft axes to an arm's."""
    c, s = math.cos(azimuth_rad), math.sin(azimuth_rad)
    turn = np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]])
    out = np.zeros((6, 6))
    out[:3, :3] = out[3:, 3:] = turn
    return out


def used_slots(points: BodyPoints) -> NDArray[np.int64]:
    """Dofs of a plate's points (of 5 P) that take part: all at the bolts, u v w at the stack, w elsewhere."""
    bolts = [5 * p + d for arm in points.bolts for p in arm for d in range(5)]
    stack = [5 * p + d for p in points.spots[STACK] for d in range(3)]
    rest = [5 * p + 2 for name, spot in points.spots.items() if name != STACK for p in spot]
    return np.array(sorted(bolts + stack + rest))


def bonded_slots(points: BodyPoints) -> NDArray[np.int64]:
    """Of ``used_slots`` those that tell all when the tongues are bonded, each a rigid block: how far its faces move, all of them, so that
    left and right count alike; of faces in one line the outer two, with their turns."""
    kept: set[int] = set()
    for arm in points.bolts:
        away = points.xy_mm[list(arm)] - points.xy_mm[arm[0]]
        in_line = np.linalg.matrix_rank(away, tol=LINE_MM) < 2
        kept |= {5 * p + d for p in ((arm[0], arm[-1]) if in_line else arm) for d in range(5 if in_line else 3)}
    bolts = 5 * sum(len(arm) for arm in points.bolts)
    return np.array([s for s in used_slots(points) if s >= bolts or s in kept])


@dataclass(frozen=True)
class Condensed:
    """A plate's stiffness on its loose dofs and the tongues' blocks, as a quadratic of the height at which the blocks hold it.

    ``kinds`` (2, 3, n, n), of bending and of stretching: the value is the sum of k0 + h k1 + h^2 k2. ``ties`` (2, slots, n) take n to
    the used dofs, t0 + h t1; ``own`` is the stiffness there.
    """

    kinds: Floats
    ties: Floats
    own: Floats
    slots: NDArray[np.int64]
    thickness_mm: float

    def at(self, height_mm: float) -> Floats:
        """Stiffness (n, n) at a height of the blocks over the plate's middle."""
        k = self.kinds[0] + self.kinds[1]
        return np.asarray(k[0] + height_mm * k[1] + height_mm**2 * k[2])

    def tie(self, height_mm: float) -> Floats:
        """(slots, n) at a height."""
        return np.asarray(self.ties[0] + height_mm * self.ties[1])

    def scaled(self, bending: float, stretching: float) -> Condensed:
        """The plate with its bending and its stretching stiffness so many times as great."""
        share = np.array([bending, stretching])
        each = np.sqrt(share[(self.slots % 5 < 2).astype(int)])
        return replace(self, kinds=share[:, None, None, None] * self.kinds, own=self.own * np.outer(each, each))


def tie_faces(points: BodyPoints, slots: NDArray[np.int64]) -> Floats:
    """What ties the bolts' faces among the used dofs to rigid blocks, one an arm: ``Condensed.ties``."""
    loose = np.flatnonzero(slots >= 5 * sum(len(b) for b in points.bolts))
    many = len(loose)
    ties = np.zeros((2, len(slots), many + 6 * len(points.bolts)))
    ties[0, loose, np.arange(many)] = 1.0
    for a, bolts in enumerate(points.bolts):
        own = (5 * np.array(bolts)[:, None] + np.arange(5)).ravel()
        used = np.isin(own, slots)
        rows = np.searchsorted(slots, own[used])
        moved = _attach(points.xy_mm[list(bolts)], points.xy_mm[list(bolts)].mean(axis=0))
        ties[:, rows, many + 6 * a : many + 6 * a + 6] = moved[:, used]
    return ties


def condense(plate: PlateFaces, ties: Floats) -> Condensed:
    """Tie a plate's bolt faces to rigid blocks."""
    slots, own = plate.slots, plate.stiffness
    kinds = np.empty((2, 3, ties.shape[2], ties.shape[2]))
    for out, mine in zip(kinds, by_kind(slots), strict=True):
        flat, raised = ties[0, mine], ties[1, mine]
        half = own[np.ix_(mine, mine)]
        by_flat, by_raised = half @ flat, half @ raised
        once = flat.T @ by_raised
        out[0], out[1], out[2] = flat.T @ by_flat, once + once.T, raised.T @ by_raised
    return Condensed(kinds, ties, own, slots, plate.section.thickness_mm)


@dataclass(frozen=True)
class Pair:
    """Free stiffness of plates and blocks on what is free to move; blocks come last. ``into`` says which of it belongs to each plate,
    ``heights`` at what height over the plates' middles the blocks hold them, and ``hold`` what the stack holds."""

    k: Floats
    into: dict[str, NDArray[np.int64]]
    heights: dict[str, float]
    free: int
    hold: list[int]


def free_pair(plates: dict[str, Condensed], points: BodyPoints, gap_mm: float) -> Pair:
    """The pair, or a single plate, held by nothing, with the arms' tongues ``gap_mm`` tall between."""
    names, blocks = list(plates), 6 * len(points.bolts)
    many = next(iter(plates.values())).kinds.shape[2] - blocks
    free = many * len(names)
    k = np.zeros((free + blocks, free + blocks))
    into, heights = {}, {}
    for i, name in enumerate(names):
        heights[name] = (gap_mm + plates[name].thickness_mm) / 2 * (1 if name == "top" else -1)
        mine = slice(many * i, many * (i + 1))
        into[name] = np.r_[mine, free : free + blocks]
        own = plates[name].at(heights[name])
        k[mine, mine], k[free:, free:] = own[:many, :many], k[free:, free:] + own[many:, many:]
        k[mine, free:], k[free:, mine] = own[:many, many:], own[many:, :many]
    held = names.index("bottom") if "bottom" in names else 0
    slots = next(iter(plates.values())).slots
    first = len(slots) - many
    hold = [many * held + int(np.searchsorted(slots, 5 * p + d)) - first for p in points.spots[STACK] for d in range(3)]
    return Pair(k, into, heights, free, hold)


def _pair(plates: dict[str, Condensed], points: BodyPoints, gap_mm: float) -> Pair:
    """The same held at the stack."""
    pair = free_pair(plates, points, gap_mm)
    pair.k[pair.hold, pair.hold] *= 1 + HELD_STIFFER
    return pair


def _root_loads(points: BodyPoints, first: int, total: int, radius_mm: float, arms: Sequence[int] | None = None) -> Floats:
    """Unit forces and moments at the roots of all arms, or of some, in each arm's axes, on the blocks; (total, 6 arms)."""
    some = range(len(points.bolts)) if arms is None else arms
    out = np.zeros((total, 6 * len(some)))
    for i, a in enumerate(some):
        block = points.xy_mm[list(points.bolts[a])].mean(axis=0)
        turn = _arm_turn(points.azimuths_rad[a])
        dx, dy = points.root_mm(a, radius_mm) - block
        move = np.eye(6)
        move[[0, 1, 2, 2], [5, 5, 3, 4]] = np.array([-dy, dx, dy, -dx])
        out[first + 6 * a : first + 6 * a + 6, 6 * i : 6 * i + 6] = (turn @ move).T
    return out


def solve_body(plates: dict[str, Condensed], points: BodyPoints, gap_mm: float, root_radius_mm: float) -> BodyAnswer:
    """The pair (or a single plate) with the arms' tongues ``gap_mm`` tall, held at the bottom plate's stack."""
    pair = _pair(plates, points, gap_mm)
    loads = _root_loads(points, pair.free, len(pair.k), root_radius_mm)
    spots = {name: _spot_loads(points, plates, pair, name) for name in points.spots}
    every = np.concatenate([loads, *spots.values()], axis=1)
    u = solve_positive(pair.k, every)
    roots = np.stack([loads[:, a : a + 6].T @ u[:, a : a + 6] for a in range(0, loads.shape[1], 6)])

    on_points = {}
    for name, plate in plates.items():
        on_points[name] = np.zeros((5 * len(points.xy_mm), every.shape[1]))
        on_points[name][plate.slots] = plate.own @ (plate.tie(pair.heights[name]) @ u[pair.into[name]])
    start, by_spot = loads.shape[1], {}
    for name, columns in spots.items():
        by_spot[name] = {plate: on[:, start : start + columns.shape[1]] for plate, on in on_points.items()}
        start += columns.shape[1]
    return BodyAnswer((roots + roots.transpose(0, 2, 1)) / 2, {plate: on[:, : loads.shape[1]] for plate, on in on_points.items()}, by_spot)


def root_compliances(plates: dict[str, Condensed], points: BodyPoints, gap_mm: float, root_radius_mm: float, arms: Sequence[int]) -> Floats:
    """(arms, 6, 6) at some arms' roots, as ``solve_body`` has them."""
    pair = _pair(plates, points, gap_mm)
    loads = _root_loads(points, pair.free, len(pair.k), root_radius_mm, arms)
    whole = loads.T @ solve_positive(pair.k, loads)
    roots = np.stack([whole[a : a + 6, a : a + 6] for a in range(0, len(whole), 6)])
    return np.asarray((roots + roots.transpose(0, 2, 1)) / 2)


def _spot_loads(points: BodyPoints, plates: dict[str, Condensed], pair: Pair, spot: str) -> Floats:
    """Unit upward forces, one column a point: legs and stack on the bottom plate, battery and strap on the top one."""
    wanted = "bottom" if spot in (LEGS, STACK) else "top"
    name = wanted if wanted in plates else next(iter(plates))
    out = np.zeros((len(pair.k), len(points.spots[spot])))
    for c, p in enumerate(points.spots[spot]):
        out[pair.into[name], c] = plates[name].ties[0][int(np.searchsorted(plates[name].slots, 5 * p + 2))]
    return out


def stiffer_together(plates: dict[str, PlateFaces], points: BodyPoints, gap_mm: float, root_radius_mm: float) -> tuple[float, float]:
    """How much stiffer the pair is than its plates apart (each with its own tongues, stiffnesses summed): bent fore and aft by moments at
    the roots, and twisted by neighbouring roots pushed up and down in turn."""
    if len(plates) < 2:
        return 1.0, 1.0
    bend, twist = (np.zeros(6 * len(points.bolts)) for _ in range(2))
    for a, azimuth in enumerate(points.azimuths_rad):
        bend[6 * a : 6 * a + 6] = _arm_turn(azimuth) @ np.array([0, 0, 0, 0, math.copysign(1.0, math.cos(azimuth)), 0])
        twist[6 * a + 2] = (-1.0) ** a

    def stiffness(some: dict[str, PlateFaces], load: Floats) -> float:
        pair = _pair({n: condense(p, tie_faces(points, p.slots)) for n, p in some.items()}, points, gap_mm)
        f = _root_loads(points, pair.free, len(pair.k), root_radius_mm) @ load
        return 1.0 / float(f @ solve_positive(pair.k, f[:, None])[:, 0])

    # a plate alone is held at its own stack holes
    apart = [{"bottom": p} for p in plates.values()]
    return tuple(stiffness(plates, w) / sum(stiffness(a, w) for a in apart) for w in (bend, twist))  # type: ignore[return-value]
