"""BLAS and LAPACK for compiled loops: the routines that SciPy publishes to compiled code, by names that the compiler's cache keeps.

They work on matrices column by column in the Fortran way: a row-major array is its own transpose to them. All arguments are arrays; sizes
and letters are arrays of one.
"""

from __future__ import annotations

from typing import Any

import llvmlite.binding
import numpy as np
from numba import types
from numba.extending import get_cython_function_address


def _routine(home: str, name: str, arguments: int) -> Any:
    known_as = f"fravik_{name}"
    llvmlite.binding.add_symbol(known_as, get_cython_function_address(f"scipy.linalg.cython_{home}", name))
    return types.ExternalFunction(known_as, types.void(*[types.voidptr] * arguments))


dpotrf, dpotri, dtrtri = (_routine("lapack", name, count) for name, count in (("dpotrf", 5), ("dpotri", 5), ("dtrtri", 6)))
dsyrk, dtrmm, dgemm = (_routine("blas", name, count) for name, count in (("dsyrk", 10), ("dtrmm", 11), ("dgemm", 13)))

# letters that tell a routine which triangle, which side, and whether to transpose
LOWER, PLAIN, TURNED, RIGHT = (np.frombuffer(letter, np.uint8) for letter in (b"L", b"N", b"T", b"R"))
ONE, MINUS = np.array([1.0]), np.array([-1.0])
