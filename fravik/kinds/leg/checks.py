"""What keeps a leg from being made."""

from __future__ import annotations

from fravik.model.problem import Problem
from fravik.model.shapes import LegShape


def leg_problems(s: LegShape, at: str) -> list[Problem]:
    """Contradictions of flange, blade and bolts."""
    out: list[Problem] = []
    if s.root_width_mm > s.flange_width_mm:
        out.append(Problem(at + "root_width_mm", f"Root width {s.root_width_mm:g} mm is wider than the flange, {s.flange_width_mm:g} mm."))
    elif (s.flange_width_mm - s.root_width_mm) / 2 < s.flange_bolt_mm + 0.8:
        out.append(Problem(at + "flange_width_mm", "The flange leaves no shoulder for its bolts beside the blade: widen the flange "
                           "or narrow the root."))  # fmt: skip
    if s.thickness_mm < s.flange_bolt_mm + 1.6:
        out.append(Problem(at + "flange_bolt_mm", f"A {s.flange_bolt_mm:g} mm hole leaves under 0.8 mm each side in a leg "
                           f"{s.thickness_mm:g} mm thick."))  # fmt: skip
    return out
