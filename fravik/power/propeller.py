"""A propeller as a turning mass."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fravik.model.craft import Propeller


def propeller_inertia_gmm2(propeller: Propeller) -> NDArray[np.float64]:
    """(3, 3) about its hub, z the shaft, averaged over a turn: m (k R)^2 about the shaft and half of it across, the blades being flat.

    The radius of gyration k R is the propeller's own figure. Two blades alone swing between nothing and twice the cross value.
    """
    about = propeller.mass_g * (propeller.gyration * propeller.diameter_mm / 2) ** 2
    return np.diag([about / 2, about / 2, about])
