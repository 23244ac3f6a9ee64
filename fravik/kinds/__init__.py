"""Kinds of part: one folder each, and what the product asks of a part through them."""

from .asking import (
    as_made,
    build_solid,
    detach,
    first_bond,
    holders_of,
    is_printed,
    ladders,
    places,
    places_of,
    printed_parts,
    rising_of,
    shape_for,
    shape_input,
    shape_problems,
    stock_of,
)
from .base import Edits, PartKind, Posed, Start, Step
from .registry import KINDS, kind_of, register, withdraw

__all__ = [
    "KINDS", "Edits", "PartKind", "Posed", "Start", "Step", "as_made", "build_solid", "detach", "first_bond", "holders_of",
    "is_printed", "kind_of", "ladders", "places", "places_of", "printed_parts", "register", "rising_of", "shape_for", "shape_input",
    "shape_problems", "stock_of", "withdraw",
]  # fmt: skip
