"""Named features of flat parts, by dimensions: what is added to the outline, cut from it, or stands on it."""

from __future__ import annotations

from typing import Literal

from .base import Frozen, Slug, choice, quantity

FeatureKind = Literal["disc", "strip", "arc", "cutout", "holes", "windows", "rib", "boss"]
Mirrored = Literal["none", "sides", "ends", "both"]

FEATURE_LABELS: dict[str, str] = {
    "disc": "Disc", "strip": "Strip", "arc": "Arc", "cutout": "Cut-out", "holes": "Holes", "windows": "Honeycomb windows", "rib": "Rib",
    "boss": "Boss",
}  # fmt: skip
MIRROR_LABELS: dict[str, str] = {"none": "Once", "sides": "Left and right", "ends": "Fore and aft", "both": "All four"}
# which fields count for which kind, in the order they are shown
FEATURE_FIELDS: dict[str, tuple[str, ...]] = {
    "disc": ("x_mm", "y_mm", "width_mm"),
    "strip": ("x_mm", "y_mm", "turn_deg", "length_mm", "width_mm"),
    "arc": ("x_mm", "y_mm", "turn_deg", "radius_mm", "span_deg", "width_mm"),
    "cutout": ("x_mm", "y_mm", "turn_deg", "length_mm", "width_mm", "corner_mm"),
    "holes": ("x_mm", "y_mm", "turn_deg", "count", "pitch_mm", "radius_mm", "hole_mm"),
    "windows": ("x_mm", "y_mm", "turn_deg", "length_mm", "width_mm", "hole_mm", "pitch_mm"),
    "rib": ("x_mm", "y_mm", "turn_deg", "length_mm", "width_mm", "height_mm", "face"),
    "boss": ("x_mm", "y_mm", "width_mm", "height_mm", "hole_mm", "face"),
}
ADDS, CUTS, STANDS = ("disc", "strip", "arc"), ("cutout", "holes", "windows"), ("rib", "boss")
MOST_FEATURES = 60


class PlateFeature(Frozen):
    """One feature. Only the fields of its kind count; the others keep their values for a change of mind."""

    id: Slug
    name: str = choice("", "Name", "what it is for")
    kind: FeatureKind = choice("disc", "Is")
    mirror: Mirrored = choice("none", "Stands", "mirror images on the other side, the other end, or both")
    x_mm: float = quantity(0.0, -700.0, 700.0, "mm", "Forward", "of the part's middle", step=1)
    y_mm: float = quantity(0.0, -700.0, 700.0, "mm", "Left", "of the part's middle", step=1)
    turn_deg: float = quantity(0.0, -180.0, 180.0, "°", "Turned", "from fore and aft, to the left", step=5)
    length_mm: float = quantity(30.0, 1.0, 1000.0, "mm", "Length", "along its own way", step=1)
    width_mm: float = quantity(10.0, 0.8, 600.0, "mm", "Width", "or diameter", step=0.5)
    radius_mm: float = quantity(0.0, 0.0, 600.0, "mm", "Radius", "of an arc's middle line, or of a ring of holes; 0: a row", step=1)
    span_deg: float = quantity(90.0, 5.0, 360.0, "°", "Arc", "how far round, half to each side of where it is turned to", step=5)
    corner_mm: float = quantity(2.0, 0.2, 100.0, "mm", "Corner radius", "at most half its width", step=0.5)
    count: int = quantity(4, 1, 60, "", "Holes", "in the row or ring", step=1)
    pitch_mm: float = quantity(10.0, 1.0, 200.0, "mm", "Pitch", "from hole to hole, or from window to window", step=0.5)
    hole_mm: float = quantity(3.2, 0.0, 100.0, "mm", "Hole", "diameter, of windows across flats; of a boss 0 for none", step=0.1)
    height_mm: float = quantity(4.0, 0.2, 60.0, "mm", "Height", "over the face", step=0.5)
    face: Literal["above", "below"] = choice("above", "Stands on", "the upper face or the lower")
