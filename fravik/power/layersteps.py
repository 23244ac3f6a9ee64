"""What the layers of a printed blade do to its drag, by how it lies.

A face that leans by beta from its layers has steps as deep as the layer's height times cos(beta), the closer together the steeper it leans;
a face across its layers keeps the ridges of its roads, RIDGE of their height. Together k = h (sin 2 beta / 2 + RIDGE sin beta), the height
of sand that is as rough. Friction on a plate so rough (Schlichting 1937), over that on a smooth one, raises the share of a section's drag
that is friction. The band is wide: what is sanded is smoother, what strings and blobs is rougher.
"""

from __future__ import annotations

import math

import numpy as np

from fravik.model.blade import PropellerShape
from fravik.model.material import Spread
from fravik.model.recipe import Recipe
from fravik.printing.orientation import layer_normal
from fravik.shape.blade import blade_of

from .bem import NU

RIDGE, FRICTION = 0.15, 0.6
AT, TIP_M_S = 0.75, 60.0  # where of the radius, and how fast its tips go, as it is told
LOW, HIGH, LEAST = 0.3, 2.5, 1.01  # of what is added to drag; and no print is smoother


def roughness_mm(shape: PropellerShape, recipe: Recipe) -> float:
    """The height of sand that is as rough as its faces at AT of the radius."""
    angle = float(np.interp(AT * shape.radius_mm, blade_of(shape).radius_mm, blade_of(shape).angle_rad))
    turn = 1 if shape.turns == "anticlockwise" else -1
    face = np.array([0.0, -turn * math.sin(angle), math.cos(angle)])
    across = min(abs(float(face @ layer_normal(recipe))), 1.0)
    beta = math.acos(across)
    return recipe.layer_height_mm * (math.sin(2 * beta) / 2 + RIDGE * math.sin(beta))


def drag_factor(shape: PropellerShape, recipe: Recipe) -> Spread:
    """Drag of its sections over that of smooth ones."""
    chord = float(np.interp(AT * shape.radius_mm, blade_of(shape).radius_mm, blade_of(shape).chord_mm))
    re = AT * TIP_M_S * chord * 1e-3 / NU
    smooth = 0.074 / re**0.2
    k = roughness_mm(shape, recipe)
    rough = (1.89 + 1.62 * math.log10(chord / k)) ** -2.5 if k > 1e-6 else 0.0
    more = max(FRICTION * max(rough / smooth - 1.0, 0.0), LEAST - 1.0)
    return Spread(1 + LOW * more, 1 + more, 1 + HIGH * more)
