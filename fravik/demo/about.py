"""The demos in a few words each, told without building them: what each is called, its layout, and what it is there to show."""

from __future__ import annotations

from fravik.model.craft import LayoutKind

ABOUT: dict[str, tuple[str, LayoutKind, str]] = {
    "tern": ("Tern", "quad_x", "A survey quad with printed arms that ring and snap: stiffen them, or calm them."),
    "wren": ("Wren", "quad_x", "A guarded quad of one flat frame for a greenhouse, printed on a small bed."),
    "redshank": ("Redshank", "hexa_x", "A hexa on carbon tubes in printed clamps, with ribbed plates, that draws water samples."),
    "dunlin": ("Dunlin", "y6", "Three arms of two kinds with six slow rotors, carrying microphones."),
    "turnstone": ("Turnstone", "quad_x", "Propellers of its own, printed: quieter blades for a bat listener."),
    "whimbrel": ("Whimbrel", "quad_x", "Stands on its tail and flies off on a wing that folds."),
    "wheatear": ("Wheatear", "tri", "Its front rotors tilt until a wing carries it, to sample the air over a reservoir."),
    "ruff": ("Ruff", "quad_x", "Four rotors lift it, a propeller behind pushes it on a foamed wing."),
}
