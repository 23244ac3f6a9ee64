"""What hangs, and what is put under it: overhanging regions of every layer, and pillars or walls that carry them.

A layer hangs where it reaches out over the one below by more than a surface at the threshold angle would. Supports are grown from the
top down: what hangs in a layer needs material in the layers below until the part itself or the bed is met.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, JoinType, OpType

from fravik.model.laying import Laying
from fravik.model.recipe import Recipe
from fravik.shape.outline import pieces_of

from .hatch import hatch
from .layerroads import CAP, SUPPORT, Road
from .layers import Cut

GAP_MM = 0.5  # between a support and the part beside it
INTERFACE_LAYERS = 2
PILLAR_MM, PILLAR_PITCH_MM = 2.0, 6.0
WALL_PITCH_MM = 2.5
SMALL_MM2 = 0.6


@dataclass(frozen=True)
class Supports:
    """Support regions of every layer, and those of them that are dense because they touch the part; both empty without supports."""

    body: list[CrossSection]
    interface: list[CrossSection]

    def volume_mm3(self, heights: np.ndarray, density: float) -> float:
        """Plastic in the columns, at a share of solid; interfaces are solid."""
        dense = np.array([c.area() for c in self.interface])
        loose = np.array([c.area() for c in self.body])
        return float(((loose * density + dense) * heights).sum())


def overhangs(cut: Cut, angle_deg: float) -> list[CrossSection]:
    """Per layer, the region that reaches out over the layer below further than a surface ``angle_deg`` from level would.

    The first layer lies on the bed and never hangs. Shreds narrower than a line are left out.
    """
    outer, thick = cut.divided.outer, cut.layers.height_mm
    line = cut.layers.recipe.line_width_mm
    out = [CrossSection()]
    memo: dict[tuple[int, int], CrossSection] = {}
    for k in range(1, len(outer)):
        key = (id(outer[k]), id(outer[k - 1]))
        if key[0] == key[1]:
            out.append(out[0])
            continue
        found = memo.get(key)
        if found is None:
            reach = float(thick[k]) / math.tan(math.radians(angle_deg))
            over = outer[k] - outer[k - 1].offset(reach, JoinType.Round, 2.0, 32)
            over = over.offset(-line / 4, JoinType.Miter, 2.0).offset(line / 4, JoinType.Miter, 2.0)
            found = memo[key] = over if over.area() > SMALL_MM2 else out[0]
        out.append(found)
    return out


def grow_supports(cut: Cut, hanging: list[CrossSection], laying: Laying) -> Supports:
    """Support regions under what hangs, from the top down."""
    empty = CrossSection()
    count = len(hanging)
    if laying.support == "none" or all(h.is_empty() for h in hanging):
        return Supports([empty] * count, [empty] * count)
    outer = cut.divided.outer
    body, dense = [empty] * count, [empty] * count
    fresh: list[CrossSection] = []
    column = empty
    # break-away supports stop one layer short of what they carry
    free = 0 if laying.soluble else 1
    waiting: list[CrossSection] = [empty] * (free + 1)
    for k in range(count - 1, -1, -1):
        arrives = waiting.pop(0)
        waiting.append(hanging[k].offset(GAP_MM, JoinType.Round, 2.0, 16) if not hanging[k].is_empty() else empty)
        column = column + arrives if not arrives.is_empty() else column
        if column.is_empty():
            continue
        fresh = [*fresh, arrives][-INTERFACE_LAYERS:]
        room = outer[k].offset(GAP_MM, JoinType.Round, 2.0, 16)
        column = column - room
        top = CrossSection.batch_boolean(fresh, OpType.Add) - room if any(not f.is_empty() for f in fresh) else empty
        dense[k] = top ^ column
        body[k] = column - dense[k]
    return Supports(body, dense)


def support_roads(body: CrossSection, dense: CrossSection, laying: Laying, recipe: Recipe, layer: int) -> list[Road]:
    """Roads of one layer's supports: pillars or walls, and a close hatch where they carry the part."""
    w = recipe.line_width_mm
    out = [Road(c, CAP, w) for c in hatch(dense, math.pi / 2 * (layer % 2), 1.5 * w, 0.0, w)]
    if body.is_empty():
        return out
    if laying.support == "walls":
        return [*out, *(Road(c, SUPPORT, w) for c in hatch(body, 0.0, WALL_PITCH_MM, 0.0, w))]
    u0, v0, u1, v1 = body.bounds()
    across = np.arange(math.floor(u0 / PILLAR_PITCH_MM), math.ceil(u1 / PILLAR_PITCH_MM) + 1) * PILLAR_PITCH_MM
    along = np.arange(math.floor(v0 / PILLAR_PITCH_MM), math.ceil(v1 / PILLAR_PITCH_MM) + 1) * PILLAR_PITCH_MM
    square = CrossSection.square((PILLAR_MM, PILLAR_MM), True)
    pillars = CrossSection.batch_boolean([square.translate((float(u), float(v))) for u in across for v in along], OpType.Add) ^ body
    for loop in pillars.offset(-w / 2, JoinType.Miter, 2.0).to_polygons():
        out.append(Road(np.asarray(loop, dtype=np.float64), SUPPORT, w, True))
    return out


def slenderest(supports: Supports, tops_mm: np.ndarray, laying: Laying) -> tuple[float, tuple[float, float, float]] | None:
    """Height over width of the most slender support column with its place (u, v, w of its top), or None without supports.

    Columns are followed down from where they begin; a pillar is as wide as itself, a wall block as its narrowest side.
    """
    worst: tuple[float, tuple[float, float, float]] | None = None
    for k in range(len(supports.body) - 1, 0, -1):
        above = supports.body[k + 1] + supports.interface[k + 1] if k + 1 < len(supports.body) else CrossSection()
        here = supports.body[k] + supports.interface[k]
        if here.is_empty() or not above.is_empty():
            continue
        for piece in pieces_of(here):
            u0, v0, u1, v1 = piece.bounds()
            wide = PILLAR_MM if laying.support == "pillars" else min(u1 - u0, v1 - v0)
            ratio = float(tops_mm[k]) / max(wide, 0.3)
            if worst is None or ratio > worst[0]:
                worst = (ratio, ((u0 + u1) / 2, (v0 + v1) / 2, float(tops_mm[k])))
    return worst
