"""Cycles to failure: Basquin's line N = s^-m through the static strength, Goodman's for a mean stress, and Miner's sum of damage.

Stresses are shares of static strength at the same spot and kind of failure. Plastics have no limit below which nothing grows, so the line
is not cut off. Slopes are those of the filament; a notch is felt more than in one load: with a sensitivity of at least SENSITIVITY (working
assumption). What is printed scatters over decades: lives are told as bands.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SENSITIVITY = 0.9
MOST_MEAN = 0.98


def alternating(amplitude: Floats, mean: Floats) -> Floats:
    """The amplitude about nothing that does as much damage as one about a mean (Goodman)."""
    return np.asarray(amplitude / (1.0 - np.minimum(mean, MOST_MEAN)))


def cycles(share: Floats, slope: float) -> Floats:
    """Cycles to failure at an alternating share of the static strength."""
    return np.asarray(np.maximum(share, 1e-12) ** -slope)


def damage(share: Floats, times: float | Floats, slope: float) -> Floats:
    """Of a life, what so many cycles take (Miner)."""
    return np.asarray(times / cycles(share, slope))


def relaxed(exponent: float, hours: float) -> float:
    """Share of a pull that is left after hours, of what it was after the first minute: t^-n (Norton and Bailey's power of time)."""
    return float(max(hours * 60.0, 1.0) ** -exponent)
