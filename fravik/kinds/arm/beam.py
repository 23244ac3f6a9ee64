"""An arm as beams, and where its stress is raised."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from fravik.model.project import Part
from fravik.model.shapes import ArmShape
from fravik.shape.arm import arm_body, bow_mm, channel_spans, pocket_spans, tongue_bolts
from fravik.shape.comb import comb_of
from fravik.structure.form import BeamForm, ScrewedPad, beyond_fillet
from fravik.structure.joints import RootGeometry
from fravik.structure.lattice import SHEARED_PEAK, Lattice
from fravik.structure.notches import STEP_RADIUS_MM, Raiser, hole, raiser_of, shoulder
from fravik.structure.path import Path, bowed_path, straight_path
from fravik.structure.raisers import flatwise_share, shoulder_bending, shoulder_tension, slot_tension


def arm_form(part: Part, s: ArmShape, length_mm: float) -> BeamForm:
    """Along x from the plates' edge to the motor's axis; half the pad lies beyond it and weighs as much as pi/4 of its bounding strip."""
    comb = comb_of(s, length_mm)
    breaks = [min(s.root_fillet_mm, 0.3 * length_mm), max(length_mm - s.pad_diameter_mm / 2, 0.5 * length_mm)]
    for x0, x1 in pocket_spans(s, length_mm):
        breaks += [x0, x0 + 2, x1 - 2, x1]
    for x0, x1 in channel_spans(s, length_mm):
        breaks += [x0, x1]
    if comb is not None:
        breaks += [comb.start_mm, comb.end_mm]
    path = straight_path(length_mm, breaks, part.carbon, part.facing)
    if s.bow_mm:
        path = bowed_path(path, lambda x: bow_mm(s, length_mm, x), 0.75 * max(s.tongue_width_mm, s.pad_diameter_mm))
    lattice = None
    if comb is not None:
        start, end = (float(np.interp(x, path.nodes_mm[:, 0], path.arc_mm)) for x in (comb.start_mm, comb.end_mm))
        lattice = Lattice(start, end, comb.half_mm, comb.share)
    root = RootGeometry(s.root_width_mm, s.root_height_mm, s.tongue_length_mm, s.tongue_width_mm, tuple(tongue_bolts(s)), s.tongue_bolt_mm)
    return BeamForm(
        s, length_mm, path, beyond_fillet(path, s.root_fillet_mm, length_mm), root, lambda q: [_along(r, path) for r in arm_raisers(s,
            length_mm, q)],
        overhang_mm=math.pi / 4 * s.pad_diameter_mm / 2, body=arm_body(s, length_mm, part.joint.kind == "bolted"),
        pad=ScrewedPad(s.pad_diameter_mm, s.bolt_circle_mm, s.bolt_hole_mm, s.tip_height_mm), lattice=lattice,
    )  # fmt: skip


def _along(r: Raiser, path: Path) -> Raiser:
    """A raiser told along the arm's own axis, where it is along its middle line."""
    start, end = (float(np.interp(x, path.nodes_mm[:, 0], path.arc_mm)) + min(x, 0.0) for x in (r.start_mm, r.end_mm))
    return replace(r, start_mm=start, end_mm=end)


def arm_raisers(s: ArmShape, length: float, q: float) -> list[Raiser]:
    """Root and pad fillets, pocket corners, a honeycomb's walls, the bars' ends and the motor's screw holes."""
    r, thick = s.root_fillet_mm, s.root_height_mm
    root = shoulder(0.0, r, r, s.root_width_mm, s.tongue_width_mm, thick, q, "root fillet", "root_fillet_mm")
    edge, r, body = length - s.pad_diameter_mm / 2, s.pad_fillet_mm, arm_body(s, length)
    # the round pad is met near its widest only where the fillet ends: take the chord there as the wide side
    narrow = body.width_mm(edge)
    reach = min(s.pad_diameter_mm, narrow + 2 * math.sqrt(max((s.pad_diameter_mm / 2) ** 2 - (s.pad_diameter_mm / 2 - r - 3) ** 2, 0.0)))
    out = [root, shoulder(edge - r, edge, r, narrow, max(reach, narrow), s.tip_height_mm, q, "pad fillet", "pad_fillet_mm")]
    for x0, x1 in pocket_spans(s, length):
        kt = slot_tension(s.pocket_width_mm, s.pocket_corner_mm, body.width_mm(x0) / s.pocket_rows)
        flat = 1 + flatwise_share(2 * s.pocket_corner_mm, body.height_mm(x0)) * (kt - 1)
        out += [raiser_of(at - 2.0, at + 2.0, (kt, flat, 1 + 0.5 * (kt - 1)), q, f"pocket corner {s.pocket_corner_mm:g} mm",
                        "pocket_corner_mm", s.pocket_corner_mm) for at in (x0, x1)]  # fmt: skip
    comb = comb_of(s, length)
    if comb is not None:
        # its walls are strained as the arm is; sideways the arm's edges are strained more than they
        peak = Lattice(0.0, 0.0, comb.half_mm, comb.share).pulled_peak
        side = max(1.0, peak * comb.half_mm / (body.width_mm(comb.end_mm) / 2))
        out.append(Raiser(comb.start_mm, comb.end_mm, peak, peak, side, f"honeycomb walls {s.comb_wall_mm:g} mm", shear=SHEARED_PEAK))
    if s.bar_height_mm > 0:
        at = max(2.0, edge - 1.0)
        low = body.height_mm(at)
        kt_pull, kt_up = (k(STEP_RADIUS_MM, low, low + s.bar_height_mm) for k in (shoulder_tension, shoulder_bending))
        out.append(raiser_of(at - 1.0, at + 1.5, (kt_pull, kt_up, 1.0), q, f"bars end, step of {s.bar_height_mm:g} mm"))
    if s.channel_width_mm > 0:
        at = channel_spans(s, length)[-1][1]
        low = body.height_mm(at) - s.channel_depth_mm
        kt_pull, kt_up = (k(STEP_RADIUS_MM, low, low + s.channel_depth_mm) for k in (shoulder_tension, shoulder_bending))
        out.append(raiser_of(at - 1.5, at + 1.0, (kt_pull, kt_up, 1.0), q, f"channel ends, step of {s.channel_depth_mm:g} mm"))
    screw_at = length - s.bolt_circle_mm / 2 * math.cos(math.pi / 4)
    out.append(hole(screw_at, s.bolt_hole_mm, s.pad_diameter_mm / 2, s.tip_height_mm, q, f"motor screw hole {s.bolt_hole_mm:g} mm"))
    return out
