"""Fravik: a workbench for printed drone airframes."""

import os

# The live tier solves hundreds of tiny systems: one thread each beats a pool that wakes and sleeps for every one.
for _pool in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(_pool, "1")

__version__ = "0.1.0"
