"""The middle line of every beam-like part: nodes, frames, where it is held and where its load sits."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from fravik.model.recipe import Carbon, Facing
from fravik.model.shapes import ArmShape, GuardShape, LegShape, MountShape
from fravik.printing.zones import Floats
from fravik.shape.arm import pocket_spans
from fravik.shape.guard import guard_line

from .rows import AxisLine

BeamShape = ArmShape | LegShape | GuardShape | MountShape
PIECES = 16


@dataclass(frozen=True)
class Path:
    """Nodes (n+1, 3), mid-element stations with frames, arc length of each node, the loaded node, and whether both ends are held."""

    nodes_mm: Floats
    arc_mm: Floats
    line: AxisLine
    load_node: int
    both_ends: bool

    @property
    def length_mm(self) -> float:
        """Length along the middle line."""
        return float(self.arc_mm[-1])


def _breaks(shape: ArmShape | LegShape | MountShape, length_mm: float, carbon: Carbon | None, facing: Facing | None) -> list[float]:
    marks = {0.0, min(shape.root_fillet_mm, 0.3 * length_mm), length_mm}
    if isinstance(shape, ArmShape):
        marks.add(max(length_mm - shape.pad_diameter_mm / 2, 0.5 * length_mm))
        for x0, x1 in pocket_spans(shape, length_mm):
            marks.update((x0, x0 + 2, x1 - 2, x1))
    if isinstance(shape, MountShape):
        marks.add(max(length_mm - shape.pad_length_mm / 2, 0.3 * length_mm))
    for glued in (carbon, facing):
        if glued is not None:
            marks.update((glued.start_mm, glued.start_mm + 3, glued.end_mm - 3, glued.end_mm))
    points = sorted(m for m in marks if 0 <= m <= length_mm)
    merged = [points[0]]
    for p in points[1:]:
        if p - merged[-1] > 0.5:
            merged.append(p)
    merged[-1] = length_mm
    return merged


def _straight(shape: ArmShape | LegShape | MountShape, length_mm: float, carbon: Carbon | None, facing: Facing | None) -> Path:
    """Element ends at geometry breaks (fillet end, pocket ends, pad edge, carbon ends) and between them about 1/16 of the length."""
    step = length_mm / PIECES
    nodes = [0.0]
    for a, b in itertools.pairwise(_breaks(shape, length_mm, carbon, facing)):
        pieces = max(1, math.ceil((b - a) / step - 0.3))
        nodes.extend(a + (b - a) * (i + 1) / pieces for i in range(pieces))
    x = np.array(nodes)
    place = np.zeros((len(x), 3))
    place[:, 0] = x
    mids = (x[1:] + x[:-1]) / 2
    middle = np.zeros((len(mids), 3))
    middle[:, 0] = mids
    frames = np.broadcast_to(np.eye(3), (len(mids), 3, 3))
    return Path(place, x, AxisLine(mids, middle, frames), len(x) - 1, False)


def _round(shape: GuardShape, radius_mm: float) -> Path:
    nodes = guard_line(shape, radius_mm, max(6.0, radius_mm * math.radians(shape.span_deg) / 12))
    edge = np.diff(nodes, axis=0)
    length = np.linalg.norm(edge, axis=1)
    tangent = edge / length[:, None]
    up = np.broadcast_to([0.0, 0.0, 1.0], tangent.shape)
    frames = np.stack([tangent, np.cross(up, tangent), up], axis=1)
    arc = np.concatenate([[0.0], np.cumsum(length)])
    middle = (nodes[1:] + nodes[:-1]) / 2
    # an arc's middle lies outside its chord
    out = np.hypot(middle[:, 0], middle[:, 1])
    on_arc = out > radius_mm * 0.98
    middle[on_arc] *= (radius_mm / out[on_arc])[:, None]
    reach = max(1.6 * shape.width_mm, 1.3 * shape.height_mm) + 1.0
    line = AxisLine((arc[1:] + arc[:-1]) / 2, middle, frames, reach)
    return Path(nodes, arc, line, len(nodes) // 2, True)


def part_path(shape: BeamShape, length_mm: float, carbon: Carbon | None = None, facing: Facing | None = None) -> Path:
    """The middle line of a part; ``length_mm`` of a guard is the radius of its arc."""
    if isinstance(shape, GuardShape):
        return _round(shape, length_mm)
    return _straight(shape, length_mm, carbon, facing)
