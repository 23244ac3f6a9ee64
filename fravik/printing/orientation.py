"""How a part lies on the bed: the rotation from part axes to print axes (u, v on the bed, w up)."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fravik.model.recipe import Recipe

Floats = NDArray[np.float64]

_NAMED: dict[str, Floats] = {
    "flat": np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]]),
    "flat_over": np.array([[1.0, 0.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, -1.0]]),
    "on_side": np.array([[1.0, 0.0, 0.0], [0.0, 0.0, -1.0], [0.0, 1.0, 0.0]]),
    "on_other_side": np.array([[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, -1.0, 0.0]]),
    "on_end": np.array([[0.0, 1.0, 0.0], [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]]),
    "on_other_end": np.array([[0.0, -1.0, 0.0], [0.0, 0.0, 1.0], [-1.0, 0.0, 0.0]]),
}


def print_from_part(recipe: Recipe) -> Floats:
    """Rotation (3, 3) whose rows are the print axes written in part axes.

    Turned freely, the part is first rolled about its own length and then pitched so that its tip lifts off the bed.
    """
    if recipe.lies != "free":
        return _NAMED[recipe.lies]
    a, b = math.radians(recipe.roll_deg), math.radians(recipe.pitch_deg)
    roll = np.array([[1.0, 0.0, 0.0], [0.0, math.cos(a), -math.sin(a)], [0.0, math.sin(a), math.cos(a)]])
    pitch = np.array([[math.cos(b), 0.0, -math.sin(b)], [0.0, 1.0, 0.0], [math.sin(b), 0.0, math.cos(b)]])
    turned = pitch @ roll
    return np.where(np.abs(turned) < 1e-12, 0.0, turned)


def layer_normal(recipe: Recipe) -> Floats:
    """Unit vector across the layers, in part axes."""
    return np.asarray(print_from_part(recipe)[2])
