"""What keeps a plate from being made."""

from __future__ import annotations

from fravik.model.problem import Problem
from fravik.model.shapes import PlateShape
from fravik.shape.plate import rib_pitches_mm

LEAST_WEB_MM = 1.5
MOST_SLENDER = 8.0


def plate_problems(s: PlateShape, at: str) -> list[Problem]:
    """Contradictions of outline, stack holes and window."""
    out: list[Problem] = []
    short = min(s.length_mm, s.width_mm)
    if s.corner_mm > short / 2:
        out.append(Problem(at + "corner_mm", f"A corner of {s.corner_mm:g} mm is more than half the plate ({short:g} mm)."))
    if s.stack_pitch_mm + s.stack_hole_mm + 4 > short:
        out.append(
            Problem(at + "stack_pitch_mm", f"The stack holes need a plate at least {s.stack_pitch_mm + s.stack_hole_mm + 4:.0f} mm wide.")
        )
    for field, size, limit in (("window_length_mm", s.window_length_mm, s.length_mm), ("window_width_mm", s.window_width_mm, s.width_mm)):
        if size > limit - 16:
            out.append(Problem(at + field, f"The window leaves under 8 mm of plate at the edge; at most {limit - 16:.0f} mm."))
    if s.window_length_mm > 0 and s.window_width_mm > 0:
        reach = s.stack_pitch_mm - s.stack_hole_mm - 3
        if s.window_length_mm > reach and s.window_width_mm > reach:
            out.append(Problem(at + "window_length_mm", f"The window swallows the stack holes; keep one side under {reach:.0f} mm."))
    if s.grid_pitch_mm > 0 and s.grid_hole_mm + LEAST_WEB_MM > s.grid_pitch_mm:
        out.append(Problem(at + "grid_hole_mm", f"Holes of {s.grid_hole_mm:g} mm every {s.grid_pitch_mm:g} mm leave under "
                           f"{LEAST_WEB_MM:g} mm of plate between them: smaller holes, or a wider pitch."))  # fmt: skip
    if s.rib_height_mm > 0 and s.rib_width_mm + LEAST_WEB_MM > s.rib_pitch_mm:
        out.append(Problem(at + "rib_pitch_mm", f"Ribs {s.rib_width_mm:g} mm wide every {s.rib_pitch_mm:g} mm fill the plate: set them "
                           "farther apart, or make the plate thicker."))  # fmt: skip
    elif s.rib_height_mm > 0 and not any(rib_pitches_mm(s)):
        out.append(Problem(at + "rib_pitch_mm", f"No rib fits on the plate every {s.rib_pitch_mm:g} mm: set them closer, or their height "
                           "to 0."))  # fmt: skip
    if s.rib_height_mm > MOST_SLENDER * s.rib_width_mm:
        out.append(Problem(at + "rib_height_mm", f"Ribs {s.rib_height_mm:g} mm tall and {s.rib_width_mm:g} wide fold over before they "
                           f"carry: at most {MOST_SLENDER:g} times as tall as wide.", "warning"))  # fmt: skip
    return out
