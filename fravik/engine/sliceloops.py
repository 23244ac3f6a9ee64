"""What a layer of a part covers, as loops to draw."""

from __future__ import annotations

import numpy as np

from fravik.printing.job import PrintJob
from fravik.printing.zones import Floats


def slice_of(job: PrintJob, layer: int) -> int:
    """Layers alike share one slice: its number."""
    return int(job.layers.outer.slice_of_layer[layer])


def loops(job: PrintJob, layer: int) -> tuple[Floats, np.ndarray]:
    """Boundary points of a layer in its own axes (n, 2), and which are joined to the next (n,)."""
    region = job.layers.outer
    mine = region.slice_of_edge == slice_of(job, layer)
    start, end = region.start[mine], region.end[mine]
    last = np.append(np.abs(start[1:] - end[:-1]).max(axis=1) > 1e-9, True) if len(start) else np.zeros(0, dtype=bool)
    # every loop is closed by its last edge's end
    points = np.insert(start, np.flatnonzero(last) + 1, end[last], axis=0) if len(start) else start
    joined = np.ones(len(points), dtype=bool)
    joined[np.flatnonzero(last) + np.arange(1, last.sum() + 1)] = False
    return points, joined


def apart(points: Floats, joined: np.ndarray) -> list[Floats]:
    """The same loops one by one, each (n, 2)."""
    ends = np.flatnonzero(~joined) + 1
    return [x for x in np.split(points, ends) if len(x) > 2]
