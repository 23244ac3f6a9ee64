"""The two plates of a body acting together through the arms' tongues: what the arms' roots stand on, and the plates' own stress.

Each plate is a grillage of cells (``plate``), condensed to its points: the tongue bolts, the stack holes, and spots for battery,
strap and legs. A tongue is a stiff block between the plates: it carries shear from one to the other, which is what makes the pair far
stiffer than two single plates. The body is held at the stack holes of the bottom plate, where its mass hangs.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .plate import PlateAnswer
from .solve import solve_positive

STACK, BATTERY, STRAP, LEGS = "stack", "battery", "strap", "legs"
BLOCK_SPRING = 5.0


@dataclass(frozen=True)
class BodyPoints:
    """Plan points of the plates (P, 2) and which of them belong to what: tongue bolts by arm, and named spots."""

    xy_mm: Floats
    bolts: tuple[tuple[int, ...], ...]
    spots: dict[str, tuple[int, ...]]


@dataclass(frozen=True)
class Tongues:
    """The blocks between the plates: height, area of one tongue, and shear and squeeze moduli of its plastic."""

    gap_mm: float
    area_mm2: float
    shear_mpa: float
    squeeze_mpa: float


@dataclass(frozen=True)
class BodyAnswer:
    """The pair at the typical material. ``root`` (6, 6): compliance at the first arm's root in its own axes, body held at the stack.

    ``on_points`` per plate (5 P, 24): forces that unit forces and moments at the four roots put on its points; ``spots`` per spot and plate
    (5 P, places): the same for unit upward forces at the spot's places.
    """

    root: Floats
    on_points: dict[str, Floats]
    spots: dict[str, dict[str, Floats]]


def body_points(
    bolts: list[list[tuple[float, float]]], stack_pitch_mm: float, half_length_mm: float, half_width_mm: float,
    battery_x_mm: float, battery_half_mm: float, leg_radius_mm: float,
) -> BodyPoints:  # fmt: skip
    """All points of both plates. ``bolts`` are the plan places of each arm's bolts (or of its tongue's corners)."""
    xy: list[tuple[float, float]] = []
    groups = []
    for arm in bolts:
        groups.append(tuple(range(len(xy), len(xy) + len(arm))))
        xy += arm
    spots: dict[str, tuple[int, ...]] = {}

    def add(name: str, places: list[tuple[float, float]]) -> None:
        spots[name] = tuple(range(len(xy), len(xy) + len(places)))
        xy.extend(places)

    p = stack_pitch_mm / 2
    add(STACK, [(sx * p, sy * p) for sx in (-1, 1) for sy in (-1, 1)])
    reach = 0.8 * half_length_mm
    fore, aft = (min(max(battery_x_mm + k * battery_half_mm * 0.6, -reach), reach) for k in (1, -1))
    add(BATTERY, [(x, 0.0) for x in (aft, fore)])
    add(STRAP, [(x, s * half_width_mm) for x in (aft, fore) for s in (-1.0, 1.0)])
    add(LEGS, [(leg_radius_mm * math.cos(a), leg_radius_mm * math.sin(a)) for a in (math.pi / 4 + k * math.pi / 2 for k in range(4))])
    return BodyPoints(np.array(xy), tuple(groups), spots)


def _attach(points: Floats, blocks: Floats, height: Floats) -> Floats:
    """Rows (n, 3, 11) that take a plate point's dofs (5) and its block's (6) to the slip (3) between them at the plate's mid-plane height.

    A block is rigid about its place in ``blocks``; the plate's own turn carries its face.
    """
    dx, dy = (points - blocks).T
    out = np.zeros((len(points), 3, 11))
    for i in range(3):
        out[:, i, i], out[:, i, 5 + i] = 1.0, -1.0
    out[:, 0, 9], out[:, 0, 10] = -height, dy
    out[:, 1, 8], out[:, 1, 10] = height, -dx
    out[:, 2, 8], out[:, 2, 9] = -dy, dx
    return out


def _arm_turn(k: int) -> Floats:
    """(6, 6) from craft axes to the k-th arm's."""
    a = math.pi / 4 + k * math.pi / 2
    c, s = math.cos(a), math.sin(a)
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


@dataclass(frozen=True)
class _Pair:
    """Stiffness of plates and blocks on the used dofs, held at the stack; each plate's own stiffness; and where a dof stands in it."""

    k: Floats
    own: dict[str, Floats]
    slots: NDArray[np.int64]
    place: dict[int, int]

    @property
    def many(self) -> int:
        """Used dofs of one plate."""
        return len(self.slots)


def _pair(plates: dict[str, PlateAnswer], points: BodyPoints, tongues: Tongues) -> _Pair:
    slots = next(iter(plates.values())).slots
    place = {int(s): i for i, s in enumerate(slots)}
    own = {name: p.stiffness for name, p in plates.items()}
    many, names = len(slots), list(plates)
    k = np.zeros((many * len(names) + 6 * len(points.bolts),) * 2)
    for i, name in enumerate(names):
        k[many * i : many * (i + 1), many * i : many * (i + 1)] = own[name]
    half = max(tongues.gap_mm / 2, 0.5)
    bolts = np.concatenate([np.array(b) for b in points.bolts])
    arm = np.repeat(np.arange(len(points.bolts)), [len(b) for b in points.bolts])
    middles = np.array([points.xy_mm[list(b)].mean(axis=0) for b in points.bolts])
    share = (tongues.area_mm2 / np.bincount(arm))[arm]
    spring = BLOCK_SPRING / half * share[:, None] * np.array([tongues.shear_mpa, tongues.shear_mpa, tongues.squeeze_mpa])
    first = np.array([place[5 * int(p)] for p in bolts])
    for i, name in enumerate(names):
        height = (tongues.gap_mm + plates[name].section.thickness_mm) / 2 * (1 if name == "top" else -1)
        rows = _attach(points.xy_mm[bolts], middles[arm], np.full(len(bolts), height))
        blocks = rows.transpose(0, 2, 1) @ (spring[:, :, None] * rows)
        at = np.hstack([many * i + first[:, None] + np.arange(5), many * len(names) + 6 * arm[:, None] + np.arange(6)])
        np.add.at(k, (at[:, :, None], at[:, None, :]), blocks)
    held = many * (names.index("bottom") if "bottom" in names else 0)
    stiff = 1e3 * float(np.abs(np.diag(k)).max()) ** 0.5
    for p in points.spots[STACK]:
        for d in (0, 1, 2):
            at_d = held + place[5 * p + d]
            k[at_d, at_d] += stiff
    return _Pair(k, own, slots, place)


def _root_loads(points: BodyPoints, first: int, total: int, radius_mm: float) -> Floats:
    """Unit forces and moments at each arm's root, in the arm's axes, on the blocks; (total, 24)."""
    out = np.zeros((total, 6 * len(points.bolts)))
    for a, bolts in enumerate(points.bolts):
        block = points.xy_mm[list(bolts)].mean(axis=0)
        turn = _arm_turn(a)
        dx, dy = radius_mm * turn[0, :2] - block
        move = np.eye(6)
        move[[0, 1, 2, 2], [5, 5, 3, 4]] = np.array([-dy, dx, dy, -dx])
        out[first + 6 * a : first + 6 * a + 6, 6 * a : 6 * a + 6] = (turn @ move).T
    return out


def solve_body(plates: dict[str, PlateAnswer], points: BodyPoints, tongues: Tongues, root_radius_mm: float) -> BodyAnswer:
    """The pair (or a single plate) with four tongues, held at the bottom plate's stack holes."""
    names = list(plates)
    pair = _pair(plates, points, tongues)
    loads = _root_loads(points, pair.many * len(names), len(pair.k), root_radius_mm)
    spots = {name: _spot_loads(points, names, pair, name) for name in points.spots}
    every = np.concatenate([loads, *spots.values()], axis=1)
    u = solve_positive(pair.k, every)
    root = loads[:, :6].T @ u[:, :6]

    def taken(columns: slice) -> dict[str, Floats]:
        out = {}
        for i, name in enumerate(names):
            out[name] = np.zeros((5 * len(points.xy_mm), u[:, columns].shape[1]))
            out[name][pair.slots] = pair.own[name] @ u[pair.many * i : pair.many * (i + 1), columns]
        return out

    start, by_spot = loads.shape[1], {}
    for name, columns in spots.items():
        by_spot[name] = taken(slice(start, start + columns.shape[1]))
        start += columns.shape[1]
    return BodyAnswer((root + root.T) / 2, taken(slice(0, loads.shape[1])), by_spot)


def _spot_loads(points: BodyPoints, names: list[str], pair: _Pair, spot: str) -> Floats:
    """Unit upward forces, one column a point: legs and stack on the bottom plate, battery and strap on the top one."""
    wanted = "bottom" if spot in (LEGS, STACK) else "top"
    i = names.index(wanted) if wanted in names else 0
    out = np.zeros((len(pair.k), len(points.spots[spot])))
    for c, p in enumerate(points.spots[spot]):
        out[pair.many * i + pair.place[5 * p + 2], c] = 1.0
    return out


def stiffer_together(plates: dict[str, PlateAnswer], points: BodyPoints, tongues: Tongues, root_radius_mm: float) -> tuple[float, float]:
    """How much stiffer the pair is than its plates apart (each with its own tongues, stiffnesses summed): bent fore and aft by moments at
    the roots, and twisted by diagonal pairs of roots pushed up and down."""
    if len(plates) < 2:
        return 1.0, 1.0
    front = np.array([1.0, -1.0, -1.0, 1.0])
    bend, twist = np.zeros(24), np.zeros(24)
    for a in range(4):
        bend[6 * a : 6 * a + 6] = _arm_turn(a) @ np.array([0, 0, 0, 0, front[a], 0])
        twist[6 * a + 2] = (1.0, -1.0, 1.0, -1.0)[a]

    def stiffness(some: dict[str, PlateAnswer], load: Floats) -> float:
        pair = _pair(some, points, tongues)
        f = _root_loads(points, pair.many * len(some), len(pair.k), root_radius_mm) @ load
        return 1.0 / float(f @ np.linalg.solve(pair.k, f))

    # a plate alone is held at its own stack holes
    apart = [{"bottom": p} for p in plates.values()]
    return tuple(stiffness(plates, w) / sum(stiffness(a, w) for a in apart) for w in (bend, twist))  # type: ignore[return-value]
