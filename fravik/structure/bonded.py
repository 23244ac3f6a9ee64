"""What bonded carbon and facings add to a part besides stiffness: grams with their glue, price, and minutes by hand."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.library import adhesive, carbon_stock, facing_stock
from fravik.model.project import Part
from fravik.model.recipe import Carbon, Facing
from fravik.shape.inlay import StraightBody

from .inserts import profile_area_mm2

PROFILE_HANDWORK_MIN = 8.0
SLOT_HANDWORK_MIN = 4.0


@dataclass(frozen=True)
class Bonded:
    """Of one copy: grams of carbon or glass and of glue, price, minutes by hand, and hours of cure."""

    carbon_g: float = 0.0
    glue_g: float = 0.0
    price: float = 0.0
    handwork_min: float = 0.0
    cure_h: float = 0.0

    @property
    def grams(self) -> float:
        """All that is added."""
        return self.carbon_g + self.glue_g

    def __add__(self, other: Bonded) -> Bonded:
        return Bonded(self.carbon_g + other.carbon_g, self.glue_g + other.glue_g, self.price + other.price,
                      self.handwork_min + other.handwork_min, max(self.cure_h, other.cure_h))  # fmt: skip


def _profiles(c: Carbon) -> Bonded:
    stock, glue = carbon_stock(c.stock), adhesive(c.adhesive)
    length = max(c.end_mm - c.start_mm, 0.0)
    round_ = stock.form in ("tube", "rod")
    girth = math.pi * stock.outer_mm if round_ else 2 * (stock.outer_mm + (stock.thickness_mm or stock.outer_mm))
    glue_g = girth * (1.0 if c.place == "inside" else 0.6) * c.adhesive_gap_mm * length * glue.density_g_cm3 * 1e-3 * c.count
    work = c.count * (PROFILE_HANDWORK_MIN + (SLOT_HANDWORK_MIN if c.place != "inside" else 0.0))
    return Bonded(profile_area_mm2(stock) * stock.density_g_cm3 * 1e-3 * length * c.count, glue_g,
                  stock.price_per_m * 1e-3 * length * c.count + glue_g * glue.price_per_g, work, glue.cure_h)  # fmt: skip


def _sheets(f: Facing, body: StraightBody | None, flat_mm2: float) -> Bonded:
    stock, glue = facing_stock(f.stock), adhesive(f.adhesive)
    area = flat_mm2 * f.cover
    if body is not None:
        a, b = max(f.start_mm, 0.0), min(f.end_mm, body.length_mm)
        area = f.cover * (body.width_mm(a) + body.width_mm(b)) / 2 * max(f.end_mm - f.start_mm, 0.0)
    area *= 2 if f.faces == "both" else 1
    glue_g = area * f.adhesive_gap_mm * glue.density_g_cm3 * 1e-3
    return Bonded(area * stock.thickness_mm * stock.density_g_cm3 * 1e-3, glue_g, area * 1e-2 * stock.price_per_cm2
                  + glue_g * glue.price_per_g, stock.handwork_min * (2 if f.faces == "both" else 1), glue.cure_h)  # fmt: skip


def bonded(part: Part, body: StraightBody | None, flat_mm2: float) -> Bonded:
    """Everything glued into or onto one copy of a part: into a straight body, or onto flat faces of an area each."""
    out = Bonded()
    if part.carbon is not None and body is not None:
        out += _profiles(part.carbon)
    if part.facing is not None and (body is not None or flat_mm2 > 0):
        out += _sheets(part.facing, body, flat_mm2)
    return out
