"""How much support a part wants as it lies: faces that look down too flatly, and the columns under them.

A quick estimate from the surface: every triangle that leans out beyond the threshold and is off the bed is taken to need a column
down to the bed. What stands under it is not looked at, so bridges and faces above the part itself count too much.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.shape.build import Mesh

from .zones import Floats

THRESHOLD_DEG = 45.0
BED_MM = 0.35


@dataclass(frozen=True)
class SupportNeed:
    """Overhanging area in cm2, volume of the columns in cm3, and the footprint that touches the bed in cm2."""

    area_cm2: float
    columns_cm3: float
    contact_cm2: float


def support_need(mesh: Mesh, rotation: Floats, threshold_deg: float = THRESHOLD_DEG) -> SupportNeed:
    """Support a part wants when its axes are turned by ``rotation`` onto the bed."""
    v = mesh.vertices_mm @ rotation.T
    tri = v[mesh.faces]
    tri = tri - np.array([0.0, 0.0, float(v[:, 2].min())])
    cross = np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0])
    size = np.linalg.norm(cross, axis=1)
    down = np.divide(-cross[:, 2], size, out=np.zeros_like(size), where=size > 1e-12)
    plan = np.abs(cross[:, 2]) / 2
    on_bed = tri[:, :, 2].max(axis=1) < BED_MM
    hangs = (down > np.sin(np.radians(90.0 - threshold_deg))) & ~on_bed
    columns = (plan * tri[:, :, 2].mean(axis=1))[hangs].sum()
    return SupportNeed(float(plan[hangs].sum()) / 100, float(columns) / 1000, float(plan[on_bed & (down > 0.5)].sum()) / 100)
