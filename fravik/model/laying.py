"""How a part's layers are laid on the bed: heights, order of walls, starts, hem and supports. None of it is felt by the sections."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator

from .base import Frozen, Slug, choice, quantity

Start = Literal["corner", "back", "near"]
Edge = Literal["none", "ring", "hem"]
PauseReason = Literal["lay_in", "colour", "look"]
Support = Literal["none", "pillars", "walls"]

START_LABELS: dict[str, str] = {"corner": "Sharpest corner", "back": "At the back", "near": "Nearest"}
EDGE_LABELS: dict[str, str] = {"none": "None", "ring": "Loose ring", "hem": "Hem"}
SUPPORT_LABELS: dict[str, str] = {"none": "None", "pillars": "Pillars", "walls": "Walls"}

PAUSE_LABELS: dict[str, str] = {"lay_in": "Laying something in", "colour": "Another colour", "look": "A look at it"}


class Pause(Frozen):
    """The printer stops with a layer done, and goes on when it is told to."""

    id: Slug
    height_mm: float = quantity(5.0, 0.1, 1000.0, "mm", "Pauses at", "of the part as it lies, up from the bed", step=0.2)
    why: PauseReason = choice("lay_in", "For")


class Laying(Frozen):
    """Layer heights, order of walls, where outlines start, hem and supports of one part."""

    first_layer_mm: float = quantity(0.2, 0.08, 0.6, "mm", "First layer", "squashed onto the bed; forgives a bed not quite flat", step=0.05)
    adaptive: bool = choice(False, "Thinner layers on slopes", "layers from half to full height, by how steep the surface is")
    outline_first: bool = choice(False, "Outline first", "better faces; poorer overhangs")
    starts: Start = choice("corner", "Outlines start")
    edge: Edge = choice("ring", "Around the first layer")
    hem_mm: float = quantity(5.0, 0.5, 30.0, "mm", "Hem width", "cut off by hand afterwards", step=0.5)
    support: Support = choice("none", "Supports")
    support_angle_deg: float = quantity(45.0, 20.0, 80.0, "°", "Supported below", "a surface flatter than this from level hangs", step=5)
    bath_h: float = quantity(
        6.0, 0.25, 72.0, "h", "Bath",
        "water-soluble support in warm stirred water 3 to 12 h, alkali-soluble 1 to 6 h, thin caps half an hour",
        step=0.5,
    )  # fmt: skip
    soluble: bool = choice(False, "Soluble cap", "touches the part and is dissolved; break-away leaves one layer free")
    pauses: tuple[Pause, ...] = ()

    @model_validator(mode="after")
    def _pauses_told_apart(self) -> Laying:
        if len({p.id for p in self.pauses}) != len(self.pauses):
            raise ValueError("two pauses share one id")
        return self
