"""A leg as beams, and where its stress is raised."""

from __future__ import annotations

import math

from fravik.model.project import Part
from fravik.model.shapes import LegShape
from fravik.shape.leg import leg_body
from fravik.structure.form import BeamForm, Flange, beyond_fillet
from fravik.structure.joints import RootGeometry
from fravik.structure.notches import Raiser, shoulder
from fravik.structure.path import straight_path


def leg_form(part: Part, s: LegShape) -> BeamForm:
    """Along x from the flange to the toe's centre; it gives as one piece with its flange, whose bolts run along it."""
    length = s.length_mm
    path = straight_path(length, [min(s.root_fillet_mm, 0.3 * length)], part.carbon, part.facing)
    root = RootGeometry(s.root_width_mm, s.thickness_mm, s.flange_length_mm, s.flange_width_mm)
    return BeamForm(
        s, length, path, beyond_fillet(path, s.root_fillet_mm, length), root, lambda q: leg_raisers(s, q), "one piece",
        overhang_mm=math.pi / 4 * s.tip_width_mm / 2, body=leg_body(s),
        flange=Flange(s.flange_length_mm, s.root_width_mm, s.flange_width_mm, s.thickness_mm),
    )  # fmt: skip


def leg_raisers(s: LegShape, q: float) -> list[Raiser]:
    """The root fillet."""
    r = s.root_fillet_mm
    return [shoulder(0.0, r, r, s.root_width_mm, s.flange_width_mm, s.thickness_mm, q, "root fillet", "root_fillet_mm")]
