"""How fast each kind of road may be laid, and the order and time of a layer's roads."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from fravik.model.laying import Laying
from fravik.model.material import Filament
from fravik.model.project import Printer

from .layerroads import (
    BRIDGE,
    CAP,
    CORE,
    COVER,
    FEATURES,
    GAP,
    HEM,
    OUTLINE,
    RETRACT,
    STEP_LINES,
    SUPPORT,
    TRAVEL,
    WALL,
    LayerRoads,
    Road,
    flat,
)
from .motion import Bools, move_seconds, order_roads
from .zones import Floats, Ints

Kinds = NDArray[np.uint8]

# farther than this it lifts even over the part: oozing would show
LONG_MM = 40.0
BRIDGE_SPEED = 0.5
GAP_SPEED = 0.6
NEIGHBOUR_LINES = 1.9


@dataclass(frozen=True)
class Pacing:
    """The printer, the plastic and the layer that decide speeds."""

    printer: Printer
    filament: Filament
    height_mm: float
    line_width_mm: float
    first_layer: bool

    def speeds(self, kind: Kinds, width: Floats) -> Floats:
        """Speed of roads by kind and width, within the plastic's flow, mm/s."""
        p = self.printer
        by_kind = np.zeros(len(FEATURES))
        by_kind[[OUTLINE, WALL, HEM]] = p.wall_speed_mm_s
        by_kind[GAP] = GAP_SPEED * p.wall_speed_mm_s
        by_kind[[COVER, CAP]] = p.cover_speed_mm_s
        by_kind[BRIDGE] = BRIDGE_SPEED * p.cover_speed_mm_s
        by_kind[[CORE, SUPPORT]] = p.core_speed_mm_s
        asked = by_kind[kind.astype(np.int64)] * (p.first_layer_speed if self.first_layer else 1.0)
        flow = self.filament.flow_limit_mm3_s * self.filament.expansion
        return np.asarray(np.minimum(asked, flow / np.maximum(width * self.height_mm, 1e-6)))

    def accelerations(self, kind: Kinds) -> Floats:
        """Acceleration of roads by kind, mm/s2."""
        p = self.printer
        return np.where(kind == OUTLINE, p.wall_acceleration_mm_s2, p.acceleration_mm_s2)


def groups_of(roads: list[Road]) -> list[int]:
    """When each road is laid: ring, supports, walls, gaps, cover, core."""
    rank = {HEM: 0, SUPPORT: 1, CAP: 1, OUTLINE: 2, WALL: 2, GAP: 3, COVER: 4, BRIDGE: 4, CORE: 5}
    return [rank[road.kind] for road in roads]


def walls_after(roads: list[Road], depth: list[int], outline_first: bool, line_width_mm: float) -> Ints:
    """Which wall each wall is laid next to and after: its neighbour of the same contour, one deeper (or one less deep); else -1."""
    out = np.full(len(roads), -1, dtype=np.int64)
    walls = [i for i, r in enumerate(roads) if r.kind in (OUTLINE, WALL)]
    if not walls or max(depth[i] for i in walls) == min(depth[i] for i in walls):
        return out
    line = {i: shapely.linestrings(np.concatenate([roads[i].points_mm, roads[i].points_mm[:1]])) for i in walls}
    for d in sorted({depth[i] for i in walls}):
        here = [i for i in walls if depth[i] == d]
        others = [i for i in walls if depth[i] == d + (-1 if outline_first else 1)]
        if others:
            tree = shapely.STRtree([line[i] for i in others])
            found, apart = tree.query_nearest([line[i] for i in here], return_distance=True, all_matches=False)
            for k, j, far in zip(*found, apart, strict=True):
                if far < NEIGHBOUR_LINES * line_width_mm:
                    out[here[int(k)]] = others[int(j)]
    return out


def in_order(
    roads: list[Road], depth: list[int], laying: Laying, pacing: Pacing, start: tuple[float, float], land: shapely.Geometry
) -> LayerRoads:
    """Put a layer's roads in order, and time them. ``depth`` is each wall road's depth from the surface, 0 for the rest;
    the nozzle lifts only where it would leave the ``land`` printed in this layer.
    """
    if not roads:
        empty = np.zeros(0)
        return LayerRoads(np.zeros((0, 2), np.float32), np.zeros(1, np.int32), empty.astype(np.uint8), empty.astype(np.float32),
                     empty.astype(bool), np.zeros(len(FEATURES)))  # fmt: skip
    group = groups_of(roads)
    rank = sorted(range(len(roads)), key=lambda i: group[i])
    roads = [roads[i] for i in rank]
    after = walls_after(roads, [depth[i] for i in rank], laying.outline_first, pacing.line_width_mm)
    points, first = flat(roads)
    closed = np.array([r.closed for r in roads])
    order, begin = order_roads(
        points, first, closed, np.array([group[i] for i in rank], dtype=np.int64), after, laying.starts == "near", start[0], start[1]
    )
    runs = []
    for i, at in zip(order, begin, strict=True):
        p = points[first[i] : first[i + 1]]
        if closed[i]:
            k = at - first[i]
            runs.append(np.concatenate([p[k:], p[:k], p[k : k + 1]]))
        else:
            runs.append(p if at == first[i] else p[::-1])
    kind = np.array([roads[i].kind for i in order], dtype=np.uint8)
    width = np.array([roads[i].width_mm for i in order])
    path = np.concatenate(runs)
    sizes = np.array([len(r) for r in runs])
    where = np.concatenate([[0], np.cumsum(sizes)])
    lift, seconds = _timed(path, where, kind, width, pacing, land)
    return LayerRoads(path.astype(np.float32), where.astype(np.int32), kind, width.astype(np.float32), lift, seconds)


def _timed(path: Floats, where: Ints, kind: Kinds, width: Floats, pacing: Pacing, land: shapely.Geometry) -> tuple[Bools, Floats]:
    """Which roads start with a lift, and seconds by feature. Moves between roads are part of the path."""
    printer = pacing.printer
    heads, tails = path[where[1:-1]], path[where[1:-1] - 1]
    jump = np.hypot(*(heads - tails).T)
    far = jump > STEP_LINES * pacing.line_width_mm
    near = far & (jump < LONG_MM)
    if near.any():
        hops = shapely.linestrings(np.stack([tails[near], heads[near]], axis=1))
        far[near] = ~shapely.covers(land, hops)
    lift = np.concatenate([[True], far])
    # every move belongs to the road of its end; moves into a road's first point are travel
    owner = np.repeat(np.arange(len(kind)), np.diff(where))[1:]
    travels = np.zeros(len(path) - 1, dtype=bool)
    travels[where[1:-1] - 1] = True
    speed = np.where(travels, printer.travel_speed_mm_s, pacing.speeds(kind, width)[owner])
    accel = np.where(travels, printer.travel_acceleration_mm_s2, pacing.accelerations(kind)[owner])
    stop = np.zeros(len(path) - 1, dtype=bool)
    lifted = where[1:-1][lift[1:]]
    stop[lifted - 1] = True  # before the travel
    stop[lifted[lifted < len(stop)]] = True  # and after it
    took = move_seconds(path, speed, accel, stop, printer.corner_speed_mm_s)
    seconds = np.bincount(np.where(travels, TRAVEL, kind[owner]), took, len(FEATURES))
    seconds[RETRACT] = printer.retract_s * float(lift.sum())
    return lift, np.asarray(seconds, dtype=np.float64)
