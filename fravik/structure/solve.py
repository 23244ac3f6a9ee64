"""Small symmetric positive-definite systems, solved with as little overhead as the live tier needs."""

from __future__ import annotations

import numpy as np
from scipy.linalg.lapack import dposv

from fravik.printing.zones import Floats


def solve_positive(k: Floats, loads: Floats) -> Floats:
    """Solution of k u = loads for a symmetric positive-definite k (n, n) and loads (n, cases).

    Raises LinAlgError when something that bears load is not held.
    """
    _, u, info = dposv(k, loads)
    if info:
        raise np.linalg.LinAlgError("the stiffness is not positive definite: something is not held")
    return np.asarray(u, dtype=np.float64)
