"""Kinds of part: one folder each, and what the product asks of a part through them."""

from .asking import (
    bottom_reach_mm,
    build_solid,
    first_bond,
    ladders,
    places,
    places_of,
    rising_of,
    shape_for,
    shape_input,
    shape_problems,
)
from .base import Edits, PartKind, Posed, Start, Step
from .registry import KINDS, kind_of, register, withdraw

__all__ = [
    "KINDS", "Edits", "PartKind", "Posed", "Start", "Step", "bottom_reach_mm", "build_solid", "first_bond", "kind_of", "ladders", "places",
    "places_of", "register", "rising_of", "shape_for", "shape_input", "shape_problems", "withdraw",
]  # fmt: skip
