"""Panels of wings as the made-up demos print them: foamed, one road round, standing on their root."""

from __future__ import annotations

from fravik.model.project import Part
from fravik.model.recipe import Recipe
from fravik.model.wing import WingShape

FOAM = Recipe(filament="pla_foam", lies="on_end", walls=1, cover_layers=0, core_density=0.0, line_width_mm=0.5, layer_height_mm=0.25)


def panel(part_id: str, name: str, shape: WingShape, recipe: Recipe = FOAM) -> Part:
    """A panel with as many copies as its stand asks for."""
    return Part(id=part_id, name=name, count=2 if shape.hand == "pair" else 1, shape=shape, recipe=recipe)
