"""A guard as a curved chain of beams, and where its stress is raised."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from fravik.model.shapes import GuardShape
from fravik.shape.guard import guard_line
from fravik.structure.form import BeamForm
from fravik.structure.joints import RootGeometry
from fravik.structure.notches import Raiser, raiser_of, shoulder
from fravik.structure.path import Path, curved_path
from fravik.structure.raisers import curved_bar

TALL = 2.5  # taller than so many times its width, a guard's section reaches no farther across


def guard_form(g: GuardShape, radius_mm: float) -> BeamForm:
    """Hub, strut, arc, strut, hub; the hub is clamped hard under the motor and gives as one piece."""
    nodes = guard_line(g, radius_mm, max(6.0, radius_mm * math.radians(g.span_deg) / 12))
    across = max(1.6 * g.width_mm, 1.3 * min(g.height_mm, TALL * g.width_mm), g.width_mm / 2 + g.corner_mm) + 1.0
    path = curved_path(nodes, radius_mm, across, 1.3 * g.height_mm + 1.0)
    root = RootGeometry(g.width_mm, g.height_mm, 1.0, g.hub_diameter_mm)
    return BeamForm(g, radius_mm, path, _nominal(g, radius_mm, path), root, lambda q: guard_raisers(g, radius_mm, q), "one piece")


def _nominal(g: GuardShape, radius_mm: float, path: Path) -> NDArray[np.int64]:
    positions = path.line.positions_mm
    strut = radius_mm - g.hub_diameter_mm / 2
    reach = g.corner_mm + g.width_mm / 2
    from_end = np.minimum(positions, path.length_mm - positions)
    # close to the hub, what rounds the corners fills the wedge between struts that stand at a sharp angle
    wedge = (2 * g.corner_mm + g.width_mm) / (2 * math.sin(math.radians(min(g.span_deg, 360.0 - g.span_deg)) / 2))
    thick = from_end < max(g.root_fillet_mm, wedge - g.hub_diameter_mm / 2)
    for corner in (strut, path.length_mm - strut):
        thick |= np.abs(positions - corner) < reach
    plain = np.flatnonzero(~thick)
    if not len(plain):
        return np.arange(len(positions))
    nearest = plain[np.argmin(np.abs(positions[:, None] - positions[plain]), axis=1)]
    return np.asarray(np.where(thick, nearest, np.arange(len(positions))), dtype=np.int64)


def guard_raisers(g: GuardShape, radius_mm: float, q: float) -> list[Raiser]:
    """Both hub fillets and both corners between strut and arc."""
    strut = radius_mm - g.hub_diameter_mm / 2
    arc = radius_mm * math.radians(g.span_deg)
    wide = g.width_mm + 2 * g.root_fillet_mm + 8
    root = shoulder(0.0, g.root_fillet_mm, g.root_fillet_mm, g.width_mm, wide, g.height_mm, q, "hub fillet", "root_fillet_mm")
    bend = curved_bar(g.corner_mm, g.width_mm)
    out = [root]
    for at in (strut, strut + arc):
        out.append(
            raiser_of(at - g.corner_mm, at + g.corner_mm, (1.0, 1.0, bend), q, f"corner {g.corner_mm:g} mm", "corner_mm", g.corner_mm)
        )
    end = 2 * strut + arc
    out.append(replace(root, start_mm=end - g.root_fillet_mm, end_mm=end))
    return out
