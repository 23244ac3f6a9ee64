"""How a craft stands: over which edge it tips first, on what slope, and how fast it may drift as it touches down.

The feet are taken as points on firm ground. At rest it tips about an edge of their hull once the centre of mass is not over the hull any
more: tan(slope) = distance / height. Drifting sideways into a foot that catches, its momentum about the edge, m v h, turns it with the
inertia about that edge, I = I_c + m (d^2 + h^2); it goes over when the energy of that turn lifts the centre of mass over the edge:
v = sqrt(2 m g (sqrt(d^2 + h^2) - h) I) / (m h). Limits: feet that neither slip nor give, motors off, level ground for the drift.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import MultiPoint, Point, Polygon

from fravik.library.air import GRAVITY_M_S2

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Stance:
    """The edge over which it tips first: the slope in degrees, which way that is (degrees from forward to the left), how far the edge is
    from under the centre of mass, how high that is, and the drift in m/s that is just too fast."""

    tips_at_deg: float
    toward_deg: float
    edge_mm: float
    height_mm: float
    drift_m_s: float

    @property
    def toward(self) -> str:
        """The same way in a word."""
        turn = self.toward_deg % 360.0
        return ("forward", "left", "backward", "right")[int((turn + 45.0) // 90.0) % 4]


def stance(feet_mm: Floats, ground_mm: float, mass_g: float, com_mm: Floats, inertia_gmm2: Floats) -> Stance | None:
    """How a craft stands on feet (n, 2) at a height; None where they are too few to stand on, and it falls.

    ``inertia_gmm2`` (3, 3) is about the centre of mass.
    """
    hull = MultiPoint(feet_mm).convex_hull
    here = Point(com_mm[:2])
    if not isinstance(hull, Polygon) or not hull.contains(here):
        return None
    corners = np.asarray(hull.exterior.coords)
    height = float(com_mm[2]) - ground_mm
    best: Stance | None = None
    for a, b in pairwise(corners):
        along = (b - a) / np.linalg.norm(b - a)
        away = np.array([along[1], -along[0]])
        edge = float((a - com_mm[:2]) @ away)
        if edge < 0:
            away, edge = -away, -edge
        axis = np.array([along[0], along[1], 0.0])
        about = float(axis @ inertia_gmm2 @ axis) + mass_g * (edge**2 + height**2)
        rise = math.hypot(edge, height) - height
        # g, mm and s: gravity in mm/s^2
        drift = math.sqrt(2 * mass_g * GRAVITY_M_S2 * 1e3 * rise * about) / (mass_g * max(height, 1e-9)) * 1e-3
        found = Stance(math.degrees(math.atan2(edge, max(height, 1e-9))), math.degrees(math.atan2(away[1], away[0])), edge, height, drift)
        if best is None or found.tips_at_deg < best.tips_at_deg:
            best = found
    return best
