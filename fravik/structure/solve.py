"""Small symmetric positive-definite systems, solved with as little overhead as the live tier needs."""

from __future__ import annotations

import numpy as np
from scipy.linalg.lapack import dposv

from fravik.printing.zones import Floats

from .faults import StructureFault


def solve_positive(k: Floats, loads: Floats) -> Floats:
    """Solution of k u = loads for a symmetric positive-definite k (n, n) and loads (n, cases).

    Raises StructureFault when something that bears load is not held, or is held by so little that digits run out.
    """
    _, u, info = dposv(k, loads)
    if info:
        raise StructureFault("solve.loose", "Something that bears load is not held: look for a joint or a section of next to nothing.")
    return np.asarray(u, dtype=np.float64)
