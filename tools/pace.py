"""A fixed workload, by which times taken at one pace of a machine are read at another."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np

from fravik.printing.zones import Floats

BOUNDS_PACE_MS = 17.8  # what the workload took on the machine, and in the hour, in which the bounds in ms were set
PACE_REACH = 2  # workloads before and after a time's own


def reference_workload() -> Callable[[], float]:
    """A fixed workload that does not change with the product, so that runs on machines of different speed, or on one whose speed drifts,
    can be compared; a call does it once and returns the ms that it took."""
    matrix = np.random.default_rng(0).normal(size=(150, 150))

    def once() -> float:
        start = time.perf_counter()
        total = 0.0
        for i in range(60_000):
            total += i * 0.5
        for _ in range(6):
            np.linalg.eigh(matrix + matrix.T)
        return (time.perf_counter() - start) * 1e3

    return once


def reference() -> dict[str, float]:
    """The fixed workload, done a few times."""
    work = reference_workload()
    runs = [work() for _ in range(15)]
    return {"reference workload, median ms": float(np.median(runs)), "reference workload, slowest ms": max(runs)}


def pace_about(paces_ms: Floats) -> Floats:
    """The machine's pace at each edit: the middle one of the reference workloads about it."""
    padded = np.pad(paces_ms, PACE_REACH, mode="edge")
    return np.asarray(np.median(np.lib.stride_tricks.sliding_window_view(padded, 2 * PACE_REACH + 1), axis=1))


def at_bounds_pace(times_ms: Floats, paces_ms: Floats) -> Floats:
    """Times (n,) as they would be at the pace at which the bounds were set; ``paces_ms`` (n,) are the workloads done beside them."""
    return np.asarray(times_ms * BOUNDS_PACE_MS / pace_about(paces_ms))
