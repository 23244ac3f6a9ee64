"""One blade as a straight, twisted chain of beams from the hub's edge to the tip."""

from __future__ import annotations

import math

import numpy as np

from fravik.model.blade import PropellerShape
from fravik.shape.blade import blade_of
from fravik.structure.form import BeamForm
from fravik.structure.joints import RootGeometry
from fravik.structure.notches import Raiser, shoulder
from fravik.structure.path import Path
from fravik.structure.rows import AxisLine

PIECES = 22
REACH = 1.1  # of the widest chord: how far from the blade's line its section reaches


def propeller_form(shape: PropellerShape) -> BeamForm:
    """The blade along +x. Its sections' own axes lie along their chords."""
    blade = blade_of(shape)
    # the last of the tip is as good as nothing
    start, tip = shape.root_mm, 0.985 * shape.radius_mm
    nodes = start + (tip - start) * np.linspace(0.0, 1.0, PIECES + 1) ** 1.15
    mids = (nodes[1:] + nodes[:-1]) / 2
    there = blade.at(mids)
    angle = there.angle_rad * (1 if shape.turns == "anticlockwise" else -1)
    c, s, none = np.cos(angle), np.sin(angle), np.zeros(PIECES)
    frames = np.stack([np.stack([none + 1, none, none], axis=1), np.stack([none, c, s], axis=1), np.stack([none, -s, c], axis=1)], axis=1)
    middle, place = np.zeros((PIECES, 3)), np.zeros((PIECES + 1, 3))
    middle[:, 0], place[:, 0] = mids, nodes
    middle[:, 2] = place[:, 2] = shape.hub_height_mm / 2
    line = AxisLine(mids - start, middle, frames, REACH * float(there.chord_mm.max()) + 2.0)
    path = Path(place, nodes - start, line, PIECES, False)
    root = RootGeometry(float(there.chord_mm[0]), float(there.thickness_mm[0]), 1.0, shape.hub_diameter_mm)
    # its root swells over a length of its own: what is there is what bears
    return BeamForm(shape, tip - start, path, np.arange(PIECES), root, lambda q: propeller_raisers(shape, q), "one piece")


def propeller_raisers(shape: PropellerShape, q: float) -> list[Raiser]:
    """Where the blade leaves the hub: as a shoulder from its thickness to the hub's height, with half the root's length as its radius."""
    at = blade_of(shape).at(np.array([shape.root_mm + shape.root_fillet_mm]))
    wide, thick = float(at.chord_mm[0]), float(at.thickness_mm[0])
    radius = max(shape.root_fillet_mm / 2, 0.2)
    return [shoulder(0.0, shape.root_fillet_mm, radius, wide, max(wide + 2 * radius, math.sqrt(wide * shape.hub_diameter_mm)), thick, q,
                     "blade root", "root_fillet_mm")]  # fmt: skip
