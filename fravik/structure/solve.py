"""Small symmetric positive-definite systems, solved with as little overhead as the live tier needs."""

from __future__ import annotations

import numpy as np
from scipy.linalg.lapack import dposv, dpotrf, dpotri

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


def inverse_of_positive(k: Floats) -> Floats:
    """Inverse of a symmetric positive-definite k (n, n); where rounding leaves it not quite positive, that of any matrix.

    Raises numpy.linalg.LinAlgError where there is none.
    """
    factor, bad = dpotrf(k, lower=1, clean=1)
    if bad:
        return np.asarray(np.linalg.inv(k), dtype=np.float64)
    half, _ = dpotri(factor, lower=1, overwrite_c=1)
    np.fill_diagonal(half, half.diagonal() / 2)
    return np.asarray(half + half.T, dtype=np.float64)
