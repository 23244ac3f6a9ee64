"""How a part is printed, and the carbon glued into it."""

from __future__ import annotations

from typing import Literal

from .base import Frozen, choice, quantity

Lies = Literal["flat", "on_side", "on_end"]
Pattern = Literal["lines", "grid", "triangles", "honeycomb", "gyroid"]

LIES_LABELS: dict[str, str] = {
    "flat": "Flat, as drawn",
    "on_side": "On its side",
    "on_end": "Standing on end",
}
LAYER_NORMAL: dict[str, tuple[float, float, float]] = {
    "flat": (0.0, 0.0, 1.0),
    "on_side": (0.0, 1.0, 0.0),
    "on_end": (1.0, 0.0, 0.0),
}


class Recipe(Frozen):
    """Filament, orientation on the plate, and the settings that decide what is inside."""

    filament: str = choice("petg", "Filament")
    lies: Lies = choice("flat", "Lies")
    layer_height_mm: float = quantity(0.2, 0.05, 0.6, "mm", "Layer height", "most nozzles lay 0.05 to 0.6", step=0.05)
    line_width_mm: float = quantity(0.45, 0.2, 1.2, "mm", "Line width", "about the nozzle bore to twice it", step=0.05)
    walls: int = quantity(3, 1, 40, "", "Walls", "roads around every layer", step=1)
    skin_layers: int = quantity(4, 0, 60, "", "Top and bottom layers", "solid layers wherever the part is exposed", step=1)
    infill: float = quantity(0.25, 0.0, 1.0, "", "Infill", "0 is hollow, 1 is solid", step=0.05)
    pattern: Pattern = choice("gyroid", "Pattern")


class Carbon(Frozen):
    """A pultruded profile glued along an arm or leg: tubes and rods in bores, strips in slots on both faces."""

    stock: str = choice("tube_6x4", "Stock")
    count: int = quantity(1, 1, 2, "", "Bores or faces", "one in the middle, or two", step=1)
    start_mm: float = quantity(-20.0, -120.0, 400.0, "mm", "Starts at", "station; negative is inside the tongue", step=1)
    end_mm: float = quantity(90.0, -100.0, 420.0, "mm", "Ends at", "station", step=1)
    adhesive_gap_mm: float = quantity(0.15, 0.05, 1.0, "mm", "Glue gap", "room for the adhesive all round", step=0.05)
    bond_strength_mpa: float = quantity(8.0, 1.0, 30.0, "MPa", "Bond shear strength", "glue on printed plastic", step=0.5)
