"""Lay the roads of a part: slice it, offset its walls, fill it, put the roads in order and time them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import NamedTuple

import numpy as np
import shapely
from manifold3d import CrossSection, JoinType, Manifold

from fravik.model.laying import Laying
from fravik.model.material import Filament
from fravik.model.project import Printer
from fravik.model.recipe import Recipe

from .examine import examine, loose_risk
from .hatch import hatch
from .job import GivenUpError, PrintJob
from .layerroads import BRIDGE, CHANGE, CORE, COVER, GAP, HEM, OUTLINE, STEP_LINES, WAIT, WALL, LayerRoads, Road
from .layers import Cut, cut_layers, stand
from .pace import Pacing, in_order
from .patterns import core_roads, loop_area_mm2, phase_of, polygons_of
from .supports import Supports, grow_supports, overhangs, support_roads
from .walls import LEAST_LINES, Walls, opened, parted, thin_roads, wall_roads
from .zones import Floats

RING_GAP_MM = 3.0
# a cover laid this many lines out over nothing, from side to side, is a bridge
BRIDGE_LINES = 3.0


class _Key(NamedTuple):
    slice_id: int
    cover_turn: int
    phase: int
    first: bool
    height: float
    hanging: int
    support: int


def print_job(
    solid: Manifold, recipe: Recipe, laying: Laying, filament: Filament, printer: Printer,
    progress: Callable[[int, int], None] | None = None, cancelled: Callable[[], bool] | None = None,
) -> PrintJob:  # fmt: skip
    """Slice a solid, lay its roads and time them.

    Raises ValueError when the solid is empty or would take too many layers, GivenUpError when ``cancelled`` says so.
    """
    cut = cut_layers(solid, recipe, laying)
    hanging = overhangs(cut, laying.support_angle_deg)
    held = grow_supports(cut, hanging, laying)
    maker = _Maker(cut, hanging, held, laying, filament, printer)
    count = cut.layers.count
    keys: dict[_Key, int] = {}
    layer_roads: list[LayerRoads] = []
    roads_of_layer = np.zeros(count, dtype=np.int64)
    for k in range(count):
        key = maker.key(k)
        if key not in keys:
            keys[key] = len(layer_roads)
            layer_roads.append(maker.roads_of(k, key))
            if cancelled is not None and cancelled():
                raise GivenUpError
        roads_of_layer[k] = keys[key]
        if progress is not None and (k % 20 == 0 or k == count - 1):
            progress(k + 1, count)
    thick = cut.layers.height_mm
    areas = np.array([s.area_mm2() for s in layer_roads])
    seconds = np.array([s.seconds for s in layer_roads])[roads_of_layer]
    seconds[:, CHANGE] += printer.layer_change_s
    seconds[:, WAIT] = np.maximum(0.0, filament.min_layer_s - seconds.sum(axis=1))
    breaks = np.array([t.breaks(STEP_LINES * recipe.line_width_mm) for t in layer_roads], dtype=np.float64)[roads_of_layer]
    unfilled = np.array([maker.walls(k).unfilled_mm2 for k in range(count)])
    return PrintJob(
        cut.layers, tuple(layer_roads), roads_of_layer, areas[roads_of_layer] * thick[:, None], seconds,
        np.array([int(s.lift.sum()) for s in layer_roads])[roads_of_layer], filament.density_g_cm3.typical, unfilled,
        np.array([h.area() for h in hanging]), _outline(solid, cut, held, laying),
        examine(cut, hanging, held, breaks, laying, filament, printer), loose_risk(cut, laying),
    )  # fmt: skip


def _outline(solid: Manifold, cut: Cut, held: Supports, laying: Laying) -> tuple[Floats, ...]:
    """Shadow on the bed of part, supports and hem, holes left out."""
    foot = cut.divided.outer[0] + held.body[0] + held.interface[0]
    shadow = stand(solid, cut.layers.recipe).project() + foot
    if laying.edge == "hem":
        shadow = shadow + foot.offset(laying.hem_mm, JoinType.Round, 2.0, 32)
    loops = [np.asarray(p, dtype=np.float64) for p in shadow.simplify(0.05).to_polygons()]
    return tuple(p for p in loops if loop_area_mm2(p) > 0)


class _Maker:
    """Lays the roads of one layer after another, remembering what layers share."""

    def __init__(self, cut: Cut, hanging: list[CrossSection], held: Supports, laying: Laying, filament: Filament, printer: Printer) -> None:
        self.cut, self.hanging, self.held = cut, hanging, held
        self.laying, self.filament, self.printer = laying, filament, printer
        self.recipe = cut.layers.recipe
        self.ids = cut.slice_ids()
        self.middles = cut.layers.top_mm - cut.layers.height_mm / 2
        self._walls: dict[int, Walls] = {}
        self._cores: dict[tuple[int, int], list[Road]] = {}
        self._lands: dict[int, shapely.Geometry] = {}

    def key(self, k: int) -> _Key:
        """What decides a layer's roads: layers with one key have the same."""
        r, c = self.recipe, self.cut.divided
        solid = c.core[k].is_empty()
        phase = 0 if solid else phase_of(r.pattern, r.core_density or 1.0, r.line_width_mm, k, float(self.middles[k]))
        bare = self.held.body[k].is_empty() and self.held.interface[k].is_empty()
        return _Key(int(self.ids[k]), k % 2, phase, k == 0, round(float(self.cut.layers.height_mm[k]), 4),
                    0 if self.hanging[k].is_empty() else k, 0 if bare else k + 1)  # fmt: skip

    def walls(self, k: int) -> Walls:
        """Wall roads of a layer."""
        outer = self.cut.divided.outer[k]
        if id(outer) not in self._walls:
            found = wall_roads(outer, self.recipe.walls, self.recipe.line_width_mm)
            self._walls[id(outer)] = replace(found, loops=tuple(tuple(self._started(p) for p in level) for level in found.loops))
        return self._walls[id(outer)]

    def roads_of(self, k: int, key: _Key) -> LayerRoads:
        """All roads of a layer, in order and timed."""
        r, d, w = self.recipe, self.cut.divided, self.recipe.line_width_mm
        roads: list[Road] = []
        depth: list[int] = []
        walls = self.walls(k)
        for level, (loops, width) in enumerate(zip(walls.loops, walls.widths_mm, strict=True)):
            roads += [Road(loop, OUTLINE if level == 0 else WALL, width, True) for loop in loops]
            depth += [level] * len(loops)
        roads += [Road(p, GAP, b) for p, b in walls.gaps]
        roads += self._cover(k)
        roads += self._core(k, key.phase)
        if key.support:
            roads += support_roads(self.held.body[k], self.held.interface[k], self.laying, r, k)
        if k == 0:
            roads += self._edge(d.outer[0] + self.held.body[0] + self.held.interface[0])
        depth += [0] * (len(roads) - len(depth))
        pacing = Pacing(self.printer, self.filament, key.height, w, key.first)
        low = self.cut.layers.low_mm
        return in_order(roads, depth, self.laying, pacing, (float(low[0]), float(low[1])), self._land(k))

    def _core(self, k: int, phase: int) -> list[Road]:
        core, r, w = self.cut.divided.core[k], self.recipe, self.recipe.line_width_mm
        at = (id(core), phase)
        if at not in self._cores:
            found = core_roads(core, r.pattern, r.core_density, w, r.core_angle_deg, phase)
            self._cores[at] = [Road(p, CORE, w) for p in found]
        return self._cores[at]

    def _land(self, k: int) -> shapely.Geometry:
        outer = self.cut.divided.outer[k]
        if id(outer) not in self._lands:
            self._lands[id(outer)] = land = shapely.buffer(polygons_of(outer), 0.02, quad_segs=1)
            shapely.prepare(land)
        return self._lands[id(outer)]

    def _cover(self, k: int) -> list[Road]:
        d, w = self.cut.divided, self.recipe.line_width_mm
        cover = d.inner[k] - d.core[k]
        if cover.is_empty():
            return []
        wide, thin = parted(cover, w, w)
        made, _ = thin_roads(thin, w)
        roads = [Road(p, GAP, b) for p, b in made]
        angle = math.pi / 4 if k % 2 == 0 else -math.pi / 4
        lines = hatch(wide, angle, w, 0.0, LEAST_LINES * w)
        if len(lines) == 0:
            return roads
        # lines of whole width seldom fit a whole number of times: they are laid at the width that fills the region
        long = float(np.hypot(*(lines[:, 1] - lines[:, 0]).T).sum())
        width = wide.area() / long
        over = self._bridged(k)
        kinds = np.full(len(lines), COVER)
        if over is not None:
            middle = lines.mean(axis=1)
            kinds[shapely.contains_xy(over, middle[:, 0], middle[:, 1])] = BRIDGE
        return roads + [Road(line, int(kind), width) for line, kind in zip(lines, kinds, strict=True)]

    def _bridged(self, k: int) -> shapely.Geometry | None:
        wide = opened(self.hanging[k], BRIDGE_LINES * self.recipe.line_width_mm)
        return None if wide.is_empty() else polygons_of(wide)

    def _edge(self, foot: CrossSection) -> list[Road]:
        """A ring or hem around everything on the bed."""
        w, laying = self.recipe.line_width_mm, self.laying
        if laying.edge == "none":
            return []
        if laying.edge == "ring":
            rings = [foot.offset(RING_GAP_MM + w / 2, JoinType.Round, 2.0, 32)]
        else:
            rings = [foot.offset((i + 0.5) * w, JoinType.Round, 2.0, 32) for i in range(max(1, round(laying.hem_mm / w)))]
        out = []
        for ring in rings:
            for loop in ring.to_polygons():
                p = np.asarray(loop, dtype=np.float64)
                # the outside only: a brim inside holes is hard to cut away
                if loop_area_mm2(p) > 0:
                    out.append(Road(p, HEM, w, True))
        return out

    def _started(self, loop: Floats) -> Floats:
        """The loop begun at its seam."""
        if self.laying.starts == "back":
            at = int(np.lexsort((loop[:, 0], -loop[:, 1]))[0])
        else:
            into, out = loop - np.roll(loop, 1, axis=0), np.roll(loop, -1, axis=0) - loop
            turn = np.arctan2(into[:, 0] * out[:, 1] - into[:, 1] * out[:, 0], (into * out).sum(axis=1))
            at = int(np.argmax(np.round(np.abs(turn), 6)))
        return np.roll(loop, -at, axis=0)
