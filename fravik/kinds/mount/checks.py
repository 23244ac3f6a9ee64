"""What keeps a camera mount from being made."""

from __future__ import annotations

from fravik.model.problem import Problem
from fravik.model.shapes import MountShape
from fravik.shape.mount import mount_bolts


def mount_problems(m: MountShape, at: str) -> list[Problem]:
    """Contradictions of tongue, blade and pad."""
    out: list[Problem] = []
    if m.root_width_mm > m.tongue_width_mm:
        out.append(Problem(at + "root_width_mm", f"Root width {m.root_width_mm:g} mm is wider than the tongue, {m.tongue_width_mm:g} mm."))
    if m.tip_width_mm > m.pad_width_mm:
        out.append(Problem(at + "tip_width_mm", f"Tip width {m.tip_width_mm:g} mm is wider than the pad, {m.pad_width_mm:g} mm."))
    if m.length_mm < m.pad_length_mm / 2 + m.root_fillet_mm + 3:
        out.append(Problem(at + "length_mm", "The pad and root fillet leave no blade: lengthen the mount or shorten its pad."))
    if mount_bolts(m)[1][1] < m.tongue_bolt_mm / 2 + 1.0:
        out.append(Problem(at + "tongue_bolt_mm", f"Two {m.tongue_bolt_mm:g} mm bolts do not fit side by side in the tongue."))
    if 2.2 * m.tongue_bolt_mm + m.tongue_bolt_mm > m.tongue_length_mm:
        out.append(Problem(at + "tongue_length_mm", "The tongue is too short for its bolts."))
    return out
