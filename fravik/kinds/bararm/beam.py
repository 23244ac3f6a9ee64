"""A bar as beams: held at its root in a clamp's bore, with another clamp round its end."""

from __future__ import annotations

import numpy as np

from fravik.library import stock_material
from fravik.model.joint import Joint
from fravik.model.project import Part
from fravik.model.shapes import BarArmShape
from fravik.shape.arm import tongue_bolts
from fravik.shape.bararm import HOLLOW_FORMS, bar_section, is_round
from fravik.structure.form import BeamForm
from fravik.structure.joints import BarGrip, RootGeometry, ring_moment
from fravik.structure.path import straight_path

GRIP_HALF_RAD = np.radians(75.0)  # a bore that is slit bears on the bar over so much to either side of the screws' pull


def bar_form(part: Part, s: BarArmShape, length_mm: float) -> BeamForm:
    """Along x from the clamp's edge to the motor's axis; half the holder's grip of bar lies beyond it."""
    path = straight_path(length_mm, [max(length_mm - s.holder_grip_mm / 2, 0.5 * length_mm)])
    bending = stock_material(s.material).e_road_mpa.typical * second_moment_mm4(s)
    root, end = (BarGrip(s.outer_mm, along, is_round(s), bending) for along in (s.tongue_length_mm, s.holder_grip_mm))
    block = RootGeometry(
        s.tongue_width_mm, s.root_height_mm, s.tongue_length_mm, s.tongue_width_mm, tuple(tongue_bolts(s)), s.tongue_bolt_mm, root
    )
    return BeamForm(
        s, length_mm, path, np.arange(len(path.line.positions_mm)), block, lambda q: [], held="clamped bar",
        overhang_mm=s.holder_grip_mm / 2, end_grip=end,
    )  # fmt: skip


def second_moment_mm4(s: BarArmShape) -> float:
    """About the crosswise axis through the middle of its section, from the section's outline (Green's theorem)."""
    area = first = second = 0.0
    for loop in bar_section(s).to_polygons():
        p = np.asarray(loop, dtype=np.float64)
        q = np.roll(p, -1, axis=0)
        turn = p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1]
        area += float(turn.sum()) / 2
        first += float((turn * (p[:, 1] + q[:, 1])).sum()) / 6
        second += float((turn * (p[:, 1] ** 2 + p[:, 1] * q[:, 1] + q[:, 1] ** 2)).sum()) / 12
    return second - first**2 / area


def pinched(s: BarArmShape, joint: Joint, preload_n: float) -> float:
    """Share of what the wall bears across its grain that a clamp's screws take, by the bending of a ring pressed by a bore from two
    sides; 0 for a bar that is no round tube."""
    if s.form not in HOLLOW_FORMS or not is_round(s):
        return 0.0
    press = joint.clamp_screws * preload_n / s.tongue_length_mm
    moment = ring_moment(GRIP_HALF_RAD) * press * (s.outer_mm - s.wall_mm) / 2
    return 6 * moment / s.wall_mm**2 / stock_material(s.material).s_cross_mpa.typical
