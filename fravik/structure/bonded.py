"""What bonded carbon and sheets add to a part besides stiffness: grams with their glue, price, and minutes by hand."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.library import adhesive, carbon_stock, sheet
from fravik.model.project import Part
from fravik.model.shapes import GuardShape, ImportedShape, PlateShape
from fravik.shape.inlay import body_width_mm

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


def _profiles(part: Part) -> Bonded:
    c = part.carbon
    if c is None or isinstance(part.shape, PlateShape | GuardShape):
        return Bonded()
    stock, glue = carbon_stock(c.stock), adhesive(c.adhesive)
    length = max(c.end_mm - c.start_mm, 0.0)
    round_ = stock.form in ("tube", "rod")
    girth = math.pi * stock.outer_mm if round_ else 2 * (stock.outer_mm + (stock.thickness_mm or stock.outer_mm))
    glue_g = girth * (1.0 if c.place == "inside" else 0.6) * c.adhesive_gap_mm * length * glue.density_g_cm3 * 1e-3 * c.count
    work = c.count * (PROFILE_HANDWORK_MIN + (SLOT_HANDWORK_MIN if c.place != "inside" else 0.0))
    return Bonded(profile_area_mm2(stock) * stock.density_g_cm3 * 1e-3 * length * c.count, glue_g,
                  stock.price_per_m * 1e-3 * length * c.count + glue_g * glue.price_per_g, work, glue.cure_h)  # fmt: skip


def _sheets(part: Part, length_mm: float) -> Bonded:
    f, shape = part.facing, part.shape
    if f is None or isinstance(shape, GuardShape | ImportedShape):
        return Bonded()
    stock, glue = sheet(f.sheet), adhesive(f.adhesive)
    if isinstance(shape, PlateShape):
        area = shape.length_mm * shape.width_mm * f.cover
    else:
        a, b = max(f.start_mm, 0.0), min(f.end_mm, length_mm)
        area = f.cover * (body_width_mm(shape, length_mm, a) + body_width_mm(shape, length_mm, b)) / 2 * max(f.end_mm - f.start_mm, 0.0)
    area *= 2 if f.faces == "both" else 1
    glue_g = area * f.adhesive_gap_mm * glue.density_g_cm3 * 1e-3
    return Bonded(area * stock.thickness_mm * stock.density_g_cm3 * 1e-3, glue_g, area * 1e-2 * stock.price_per_cm2
                  + glue_g * glue.price_per_g, stock.handwork_min * (2 if f.faces == "both" else 1), glue.cure_h)  # fmt: skip


def bonded(part: Part, length_mm: float) -> Bonded:
    """Everything glued into or onto one copy of a part."""
    return _profiles(part) + _sheets(part, length_mm)
