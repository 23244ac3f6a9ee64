"""A round tube held in a socket, or in another tube, and by screws set on it.

A stiff tube in a bed along its length presses by its shear evenly and by its moment about the middle as a wedge. Of a tube that is pressed
from inside over half of its girth, as a cosine, and held by shear all round, the wall bends most beside the pressure by

    M = (pi^2 - 8) / (4 pi^2) w R

(thin ring without stretch, harmonic by harmonic: m_n = R^2 p_n / (n^2 - 1)); of one that a screw presses from outside against its tunnel by
F R / pi, over its own width and a tube's diameter (the load spreads by half a right angle: a working assumption).
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
IN_A_HOLE = 1.6  # strength of a plastic pressed in a hole over its strength in pull: a working assumption
FROM_INSIDE = (math.pi**2 - 8) / (4 * math.pi**2)
FROM_OUTSIDE = 1 / math.pi


def socket_mpa(shear_n: Floats | float, moment_nmm: Floats | float, wide_mm: float, long_mm: float) -> Floats:
    """Peak pressure between a tube and its bed; shear and moment are those at the middle of the bed."""
    bed = wide_mm * long_mm
    return np.asarray((np.abs(shear_n) + 6 * np.abs(moment_nmm) / long_mm) / bed)


def wall_from_inside_mpa(pressure_mpa: float, inside_mm: float, outside_mm: float) -> float:
    """Bending stress round the wall of a tube that another one inside presses on; ``pressure_mpa`` over the other's diameter."""
    wall = (outside_mm - inside_mm) / 2
    radius = (outside_mm + inside_mm) / 4
    return 6 * FROM_INSIDE * pressure_mpa * inside_mm * radius / wall**2


def wall_under_screw_mpa(force_n: float, screw_mm: float, outside_mm: float, wall_mm: float) -> float:
    """Bending stress round the wall of a tube that a screw presses against its tunnel."""
    radius = (outside_mm - wall_mm) / 2
    return 6 * FROM_OUTSIDE * force_n * radius / ((screw_mm + 2 * radius) * wall_mm**2)


def set_screw_nmm(count: int, force_n: float, friction: float, outside_mm: float) -> float:
    """Torque at which a tube turns under screws set on it: each rubs at its point and on the tunnel's far side."""
    return count * force_n * friction * outside_mm


def tube_mpa(moment_nmm: float, outside_mm: float, inside_mm: float) -> float:
    """Bending stress of a tube that bears alone."""
    return abs(moment_nmm) * outside_mm / 2 / (math.pi / 64 * (outside_mm**4 - inside_mm**4))
