"""Where carbon profiles lie in a straight part, and the room that is cut for them and their glue."""

from __future__ import annotations

from manifold3d import Manifold

from fravik.model.material import CarbonStock
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape, LegShape, MountShape

from .outline import disc

Straight = ArmShape | LegShape | MountShape


def body_height_mm(shape: Straight, length_mm: float, x_mm: float) -> float:
    """Height of the body without bars at a station: an arm's straight taper to its pad, else the thickness."""
    if not isinstance(shape, ArmShape):
        return shape.thickness_mm
    end = max(1.0, length_mm - shape.pad_diameter_mm / 2)
    t = min(1.0, max(0.0, x_mm / end))
    return shape.root_height_mm + t * (shape.tip_height_mm - shape.root_height_mm)


def body_width_mm(shape: Straight, length_mm: float, x_mm: float) -> float:
    """Width of the tapered body (fillets and pad apart) at a station."""
    t = min(1.0, max(0.0, x_mm / length_mm))
    return shape.root_width_mm + t * (shape.tip_width_mm - shape.root_width_mm)


def least_height_mm(shape: Straight) -> float:
    """Height of the body where it is lowest."""
    return min(shape.root_height_mm, shape.tip_height_mm) if isinstance(shape, ArmShape) else shape.thickness_mm


def profile_size_mm(stock: CarbonStock) -> tuple[float, float]:
    """Width and height of a profile as it lies."""
    return (stock.outer_mm, stock.thickness_mm) if stock.form == "strip" else (stock.outer_mm, stock.outer_mm)


def profile_places(shape: Straight, carbon: Carbon, stock: CarbonStock, length_mm: float, x_mm: float) -> list[tuple[float, float]]:
    """(y, z) of each profile's middle at a station.

    Inside, bores run level at mid-height of the lowest spot, two of them side by side. In slots and on faces the first lies at
    the underside, the second on top; on a face the glue lies between.
    """
    _, tall = profile_size_mm(stock)
    low = least_height_mm(shape)
    if carbon.place == "inside":
        if carbon.count == 1:
            return [(0.0, low / 2)]
        off = min(shape.root_width_mm, shape.tip_width_mm) / 4
        return [(-off, low / 2), (off, low / 2)]
    top = body_height_mm(shape, length_mm, x_mm)
    depth = tall / 2 if carbon.place == "slot" else -tall / 2 - carbon.adhesive_gap_mm
    return [(0.0, depth), (0.0, top - depth)][: carbon.count]


def carbon_room(shape: Straight, carbon: Carbon, stock: CarbonStock, length_mm: float) -> Manifold:
    """What is cut from the part for the profiles and the glue around them; nothing for profiles on a face."""
    room = Manifold()
    if carbon.place == "face":
        return room
    span, gap = carbon.end_mm - carbon.start_mm, carbon.adhesive_gap_mm
    wide, tall = profile_size_mm(stock)
    round_ = stock.form in ("tube", "rod")
    for i, (y, z) in enumerate(profile_places(shape, carbon, stock, length_mm, 0.0)):
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
