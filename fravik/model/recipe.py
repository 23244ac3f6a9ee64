"""How a part is printed, and the carbon or glass bonded into or onto it."""

from __future__ import annotations

from typing import Literal

from .base import Frozen, choice, quantity

Lies = Literal["flat", "flat_over", "on_side", "on_other_side", "on_end", "on_other_end", "free"]
Pattern = Literal["lines", "grid", "triangles", "honeycomb", "gyroid", "cubic", "concentric"]
Place = Literal["inside", "slot", "face"]

LIES_LABELS: dict[str, str] = {
    "flat": "Flat, as drawn",
    "flat_over": "Flat, face down",
    "on_side": "On its right side",
    "on_other_side": "On its left side",
    "on_end": "Standing, root down",
    "on_other_end": "Standing, tip down",
    "free": "Turned freely",
}
PLACE_LABELS: dict[str, str] = {"inside": "Inside, in a bore", "slot": "In a slot, flush", "face": "On the face"}


class Recipe(Frozen):
    """Filament, orientation on the plate, and the settings that decide what is inside."""

    filament: str = choice("petg", "Filament")
    lies: Lies = choice("flat", "Lies on the bed")
    roll_deg: float = quantity(0.0, -180.0, 180.0, "°", "Roll", "turned about its own length; used when turned freely", step=5)
    pitch_deg: float = quantity(0.0, -90.0, 90.0, "°", "Pitch", "tip lifted off the bed; used when turned freely", step=5)
    layer_height_mm: float = quantity(0.2, 0.05, 0.6, "mm", "Layer height", "most nozzles lay 0.05 to 0.6", step=0.05)
    line_width_mm: float = quantity(0.45, 0.2, 1.2, "mm", "Line width", "about the nozzle bore to twice it", step=0.05)
    walls: int = quantity(3, 1, 40, "", "Walls", "roads around every layer", step=1)
    cover_layers: int = quantity(4, 0, 60, "", "Cover layers", "solid layers wherever the part is exposed", step=1)
    core_density: float = quantity(0.25, 0.0, 1.0, "", "Core density", "0 is hollow, 1 is solid", step=0.05)
    pattern: Pattern = choice("gyroid", "Pattern")
    fan: float | None = quantity(
        None, 0.0, 1.0, "", "Fan",
        "share of full; leave empty for the filament's usual. More cools bridges and weakens the layers' bond", step=0.1
    )  # fmt: skip
    core_angle_deg: float = quantity(45.0, 0.0, 90.0, "°", "Core angle", "of the pattern's lines to the part's length", step=15)


class Carbon(Frozen):
    """Pultruded profiles glued along an arm, leg, guard or mount: in bores, in flush slots or on the faces."""

    stock: str = choice("tube_6x4", "Stock")
    count: int = quantity(1, 1, 2, "", "How many", "one in the middle or underneath, or two", step=1)
    place: Place = choice("inside", "Place")
    start_mm: float = quantity(-20.0, -120.0, 400.0, "mm", "Starts at", "position; negative is inside the tongue", step=1)
    end_mm: float = quantity(90.0, -100.0, 420.0, "mm", "Ends at", "position", step=1)
    adhesive: str = choice("epoxy_slow", "Adhesive")
    adhesive_gap_mm: float = quantity(0.15, 0.05, 1.0, "mm", "Glue gap", "room for the adhesive all round", step=0.05)
    bond_strength_mpa: float | None = quantity(
        None, 1.0, 30.0, "MPa", "Bond strength", "from your own pull test; leave empty for the adhesive's", step=0.5
    )


class Facing(Frozen):
    """A cut carbon plate or a glass skin bonded onto one or both flat faces of a part."""

    stock: str = choice("plate_1", "Stock")
    faces: Literal["top", "bottom", "both"] = choice("both", "Faces")
    cover: float = quantity(0.9, 0.2, 1.0, "", "Share of the width", "of the face that it covers", step=0.05)
    start_mm: float = quantity(0.0, -120.0, 400.0, "mm", "Starts at", "position; negative is inside the tongue", step=1)
    end_mm: float = quantity(90.0, -100.0, 420.0, "mm", "Ends at", "position", step=1)
    adhesive: str = choice("epoxy_slow", "Adhesive")
    adhesive_gap_mm: float = quantity(0.15, 0.05, 1.0, "mm", "Glue line", "thickness of the adhesive", step=0.05)
