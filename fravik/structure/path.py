"""The middle line of every beam-like part: nodes, frames, where it is held and where its load sits."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from fravik.model.recipe import Carbon, Facing
from fravik.printing.zones import Floats

from .rows import AxisLine

PIECES = 16
ON_ARC_MM = 1e-6


@dataclass(frozen=True)
class Path:
    """Nodes (n+1, 3), mid-element positions with frames, arc length of each node, the loaded node, and whether both ends are held."""

    nodes_mm: Floats
    arc_mm: Floats
    line: AxisLine
    load_node: int
    both_ends: bool

    @property
    def length_mm(self) -> float:
        """Length along the middle line."""
        return float(self.arc_mm[-1])


def _merged(length_mm: float, breaks_mm: Iterable[float], carbon: Carbon | None, facing: Facing | None) -> list[float]:
    marks = {0.0, length_mm, *breaks_mm}
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


def straight_path(length_mm: float, breaks_mm: Iterable[float], carbon: Carbon | None = None, facing: Facing | None = None) -> Path:
    """Along x, held at 0. Element ends at geometry breaks (fillet end, pocket ends, pad edge) and where carbon or a facing begins and ends,
    and between them about 1/16 of the length."""
    step = length_mm / PIECES
    nodes = [0.0]
    for a, b in itertools.pairwise(_merged(length_mm, breaks_mm, carbon, facing)):
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


def curved_path(nodes_mm: Floats, arc_radius_mm: float, reach_mm: float, reach_up_mm: float) -> Path:
    """Along a line of nodes (n, 3) in a plane, held at both ends and loaded in the middle; an arc about the origin is among them.

    ``reach_mm`` and ``reach_up_mm`` are how far from the line its own section reaches at most, in that plane and out of it.
    """
    nodes = nodes_mm
    edge = np.diff(nodes, axis=0)
    length = np.linalg.norm(edge, axis=1)
    tangent = edge / length[:, None]
    up = np.broadcast_to([0.0, 0.0, 1.0], tangent.shape)
    frames = np.stack([tangent, np.cross(up, tangent), up], axis=1)
    arc = np.concatenate([[0.0], np.cumsum(length)])
    middle = (nodes[1:] + nodes[:-1]) / 2
    # an arc's middle lies outside its chord
    ends = np.hypot(nodes[:, 0], nodes[:, 1]) > arc_radius_mm - ON_ARC_MM
    on_arc = ends[1:] & ends[:-1]
    middle[on_arc] *= arc_radius_mm / np.hypot(middle[on_arc, 0], middle[on_arc, 1])[:, None]
    line = AxisLine((arc[1:] + arc[:-1]) / 2, middle, frames, reach_mm, reach_up_mm)
    return Path(nodes, arc, line, len(nodes) // 2, True)


def bowed_path(straight: Path, aside_mm: Callable[[Floats], Floats], reach_mm: float) -> Path:
    """A straight path moved across by what holds for its place along x; its positions run along the bowed line."""
    nodes = straight.nodes_mm.copy()
    nodes[:, 1] += aside_mm(nodes[:, 0])
    edge = np.diff(nodes, axis=0)
    long = np.linalg.norm(edge, axis=1)
    tangent = edge / long[:, None]
    up = np.broadcast_to([0.0, 0.0, 1.0], tangent.shape)
    arc = np.concatenate([[0.0], np.cumsum(long)])
    middle = straight.line.origin_mm.copy()
    middle[:, 1] += aside_mm(middle[:, 0])
    line = AxisLine((arc[1:] + arc[:-1]) / 2, middle, np.stack([tangent, np.cross(up, tangent), up], axis=1), reach_mm)
    return Path(nodes, arc, line, straight.load_node, straight.both_ends)
