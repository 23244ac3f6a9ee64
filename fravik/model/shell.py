"""A piece of printed shell that the rib guide weighs."""

from __future__ import annotations

from .base import Frozen, choice, quantity


class ShellPanel(Frozen):
    """A piece of shell between two frames or edges."""

    filament: str = choice("pla_foam", "Filament")
    span_mm: float = quantity(160.0, 20.0, 1000.0, "mm", "Span", "between what holds it: frames, a spar, an edge", step=5)
    width_mm: float = quantity(90.0, 15.0, 600.0, "mm", "Width", "across the ribs", step=5)
    skin_lines: int = quantity(1, 1, 3, "", "Lines in the skin", "one line is light, two do not leak or dent", step=1)
    line_width_mm: float = quantity(0.45, 0.2, 1.2, "mm", "Line width", "of skin and ribs", step=0.05)
    pressure_pa: float = quantity(250.0, 5.0, 20000.0, "Pa", "Air load", "q at 20 m/s is 245 Pa; a wing of 50 N/m² carries 50", step=25)
    rib_share: float = quantity(0.4, 0.05, 3.0, "×", "Ribs over skin", "grams spent on ribs for each gram of skin", step=0.05)
