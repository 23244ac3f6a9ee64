"""Where carbon profiles lie in a straight part, and the room that is cut for them and their glue."""

from __future__ import annotations

from dataclasses import dataclass

from manifold3d import Manifold

from fravik.model.material import CarbonStock
from fravik.model.recipe import Carbon

from .outline import disc


@dataclass(frozen=True)
class StraightBody:
    """A straight part along x as carbon and facings see it: a body that tapers in width, and in height up to ``even_from_mm``.

    It begins ``back_mm`` behind position 0; profiles in bores may reach ``inside_to_mm``, slots and facings ``outside_to_mm``. In their
    way are ``bolts`` (x, y) and ``pockets`` (start, end).
    """

    length_mm: float
    root_width_mm: float
    tip_width_mm: float
    root_height_mm: float
    tip_height_mm: float
    even_from_mm: float
    back_mm: float
    inside_to_mm: float
    outside_to_mm: float
    beyond: str = "out of the part"
    closed_behind: bool = True
    bolts: tuple[tuple[float, float], ...] = ()
    bolt_hole_mm: float = 0.0
    pockets: tuple[tuple[float, float], ...] = ()
    pocket_width_mm: float = 0.0
    barred: bool = False

    def height_mm(self, x_mm: float) -> float:
        """Height without bars at a position."""
        t = min(1.0, max(0.0, x_mm / max(1.0, self.even_from_mm)))
        return self.root_height_mm + t * (self.tip_height_mm - self.root_height_mm)

    def width_mm(self, x_mm: float) -> float:
        """Width (fillets and pad apart) at a position."""
        t = min(1.0, max(0.0, x_mm / self.length_mm))
        return self.root_width_mm + t * (self.tip_width_mm - self.root_width_mm)

    @property
    def least_height_mm(self) -> float:
        """Height where it is lowest."""
        return min(self.root_height_mm, self.tip_height_mm)


def profile_size_mm(stock: CarbonStock) -> tuple[float, float]:
    """Width and height of a profile as it lies."""
    return (stock.outer_mm, stock.thickness_mm) if stock.form == "strip" else (stock.outer_mm, stock.outer_mm)


def profile_places(body: StraightBody, carbon: Carbon, stock: CarbonStock, x_mm: float) -> list[tuple[float, float]]:
    """(y, z) of each profile's middle at a position.

    Inside, bores run level at mid-height of the lowest spot, two of them side by side. In slots and on faces the first lies at
    the underside, the second on top; on a face the glue lies between.
    """
    _, tall = profile_size_mm(stock)
    low = body.least_height_mm
    if carbon.place == "inside":
        if carbon.count == 1:
            return [(0.0, low / 2)]
        off = min(body.root_width_mm, body.tip_width_mm) / 4
        return [(-off, low / 2), (off, low / 2)]
    top = body.height_mm(x_mm)
    depth = tall / 2 if carbon.place == "slot" else -tall / 2 - carbon.adhesive_gap_mm
    return [(0.0, depth), (0.0, top - depth)][: carbon.count]


def carbon_room(body: StraightBody, carbon: Carbon, stock: CarbonStock) -> Manifold:
    """What is cut from the part for the profiles and the glue around them; nothing for profiles on a face."""
    room = Manifold()
    if carbon.place == "face":
        return room
    span, gap = carbon.end_mm - carbon.start_mm, carbon.adhesive_gap_mm
    wide, tall = profile_size_mm(stock)
    round_ = stock.form in ("tube", "rod")
    for i, (y, z) in enumerate(profile_places(body, carbon, stock, 0.0)):
        w, h = wide + 2 * gap, tall + 2 * gap
        if round_:
            bore = disc(0.0, 0.0, w).extrude(span).rotate((0.0, 90.0, 0.0))
        else:
            bore = Manifold.cube((span, w, h)).translate((0.0, -w / 2, -h / 2))
        room = room + bore.translate((carbon.start_mm, y, z))
        if carbon.place == "slot":
            # open the bore to the face it lies at
            z0, z1 = (-1.0, z) if i == 0 else (z, z + 40.0)
            room = room + Manifold.cube((span, w, z1 - z0)).translate((carbon.start_mm, y - w / 2, z0))
    return room
