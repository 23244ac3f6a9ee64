"""A deck on four standoffs: as many of them over and under the body as are wanted. It rides on the body and does not stiffen it; what it
carries bends it between them."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from manifold3d import Manifold

from fravik.flight.mass import Placed, placed_components
from fravik.model.features import STANDS
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.model.shapes import DeckShape, FrameShape, PlateShape
from fravik.printing.mass import MassProperties
from fravik.shape.build import ShapeInput
from fravik.shape.deck import deck_plan, deck_solid, standoffs
from fravik.shape.features import stands_on
from fravik.shape.rising import Rising, Slope

from ..around import bottom_plate_mm, plate_gap_mm
from ..base import PartKind, Pins, Posed, Start, Step
from ..flatfeatures import apart, feature_problems
from ..ladders import thicker
from ..proportion import half

MOST_DEEP = 12  # decks over one another
OVER_GOODS_MM, MOST_STANDOFF_MM = 5.0, 150.0  # a new one over what lies below it: so far off that it does not hang from it
WEB_MM = 1.5


class Deck(PartKind[DeckShape]):
    """What the product asks of decks."""

    kind = "deck"
    seat = "loose"
    shape_type = DeckShape
    shade, plan_layer = "core", 3
    groups = (
        ("Outline", ("length_mm", "width_mm", "thickness_mm", "corner_mm",)),
        ("Where it stands", ("side", "over", "x_mm", "standoff_mm", "pitch_x_mm", "pitch_y_mm", "screw_hole_mm", "standoff_g",)),
        ("Holes", ("window_length_mm", "window_width_mm", "grid_pitch_mm", "grid_hole_mm",)),
    )  # fmt: skip
    starts = {"deck": Start("deck", "Deck")}
    takes_bonds = False
    unjudged = "A deck is judged on its standoffs once arms tell how hard the craft lands."

    def given(self, part: Part, shape: DeckShape, project: Project) -> ShapeInput:
        """Where it stands leaves its form alone."""
        return ShapeInput(shape.model_copy(update={"over": "", "side": "above", "x_mm": 0.0, "standoff_mm": 25.0, "standoff_g": 1.5}),
                          shape.length_mm, None)  # fmt: skip

    def solid(self, given: ShapeInput, shape: DeckShape) -> Manifold:
        return deck_solid(shape)

    def plain(self, shape: DeckShape) -> DeckShape:
        flat = tuple(f for f in shape.features if f.kind not in STANDS)
        return shape if len(flat) == len(shape.features) else shape.model_copy(update={"features": flat})

    def rising(self, given: ShapeInput, shape: DeckShape) -> Rising | None:
        if stands_on(shape.features):
            return None
        return Rising(((deck_plan(shape), Slope(shape.thickness_mm, shape.thickness_mm, 1.0)),))

    def posed(self, part: Part, shape: DeckShape, project: Project) -> list[Posed]:
        m = np.eye(4)
        m[0, 3], m[2, 3] = shape.x_mm, _under_mm(part, project)
        return [Posed(m)] * part.count

    def brings(self, part: Part, shape: DeckShape, project: Project) -> list[Placed]:
        """Its standoffs."""
        if shape.standoff_g <= 0:
            return []
        low = _under_mm(part, project)
        middle = low - shape.standoff_mm / 2 if shape.side == "above" else low + shape.thickness_mm + shape.standoff_mm / 2
        out = []
        for k, (x, y) in enumerate(standoffs(shape)):
            at, tall, grams = np.array([shape.x_mm + x, y, middle]), shape.standoff_mm, shape.standoff_g
            own = grams * tall**2 / 12 * np.diag([1.0, 1.0, 0.02])
            out.append(Placed(f"{part.id}_standoff_{k}", "Standoff", "flying", at, np.array([5.0, 5.0, tall]), MassProperties(grams, at,
                own),
                              "upright"))  # fmt: skip
        return out

    def pins(self, part: Part, shape: DeckShape, project: Project) -> Pins:
        at = np.array(standoffs(shape)) + np.array([shape.x_mm, 0.0])
        return Pins(at, shape.screw_hole_mm, shape.over, (shape.length_mm, shape.width_mm), shape.thickness_mm)

    def ladders(self, part: Part, shape: DeckShape, project: Project) -> Iterator[list[Step]]:
        yield thicker(part, "thickness_mm", shape.thickness_mm, (0.6, 1.2, 2.0, 3.0))

    def problems(self, part: Part, shape: DeckShape, project: Project) -> list[Problem]:
        at, out = f"parts.{part.id}.shape.", list[Problem]()
        if shape.corner_mm > min(shape.length_mm, shape.width_mm) / 2:
            out.append(Problem(at + "corner_mm", "A corner is more than half the deck."))
        for field, pitch, size in (("pitch_x_mm", shape.pitch_x_mm, shape.length_mm), ("pitch_y_mm", shape.pitch_y_mm, shape.width_mm)):
            if pitch + shape.screw_hole_mm + 4 > size:
                out.append(Problem(at + field, f"The standoffs need a deck {pitch + shape.screw_hole_mm + 4:.0f} mm long that way."))
        for field, window, size in (("window_length_mm", shape.window_length_mm, shape.length_mm),
                                    ("window_width_mm", shape.window_width_mm, shape.width_mm)):  # fmt: skip
            if window > size - 12:
                out.append(Problem(at + field, f"The window leaves under 6 mm at the edge; at most {size - 12:.0f} mm."))
        if shape.grid_pitch_mm > 0 and shape.grid_hole_mm + WEB_MM > shape.grid_pitch_mm:
            out.append(Problem(at + "grid_hole_mm", "The grid's holes run into one another: smaller holes, or a wider pitch."))
        if shape.over and _host(shape.over, part.id, project) is None:
            out.append(Problem(at + "over", f"There is no deck {shape.over!r} to stand on."))
        elif shape.over and _depth(part, project) >= MOST_DEEP:
            out.append(Problem(at + "over", "Decks stand on each other in a ring."))
        out += feature_problems(shape.features, at, bool(part.cut_from))
        if shape.features:
            out += apart(deck_plan(shape), at)
        if part.count != 1:
            out.append(Problem(f"parts.{part.id}.count", "Decks stand one by one: each is a part of its own."))
        return out

    def default(self, project: Project, shape: DeckShape | None = None, start: str = "") -> DeckShape:
        """Over the topmost and over what lies there, smaller than the body."""
        long, wide = _body_mm(project)
        length, width = max(half(0.75 * long), 24.0), max(half(0.75 * wide), 24.0)
        topmost = [p.id for p in project.parts if isinstance(p.shape, DeckShape) and p.shape.side == "above"]
        made = DeckShape(length_mm=length, width_mm=width, pitch_x_mm=half(length - 12), pitch_y_mm=half(width - 12),
                         corner_mm=min(6.0, width / 4), over=topmost[-1] if topmost else "")  # fmt: skip
        return made.model_copy(update={"standoff_mm": _clear_mm(made, project)})

    def first_recipe(self, filament: str) -> Recipe:
        return Recipe(filament=filament, core_density=0.4, pattern="grid")

    def picks(self, field: str) -> dict[str, str]:
        return {"above": "Over the body", "below": "Under the body"} if field == "side" else {}


def _body_mm(project: Project) -> tuple[float, float]:
    for p in project.parts:
        if isinstance(p.shape, PlateShape | FrameShape):
            return p.shape.length_mm, p.shape.width_mm
    return 80.0, 60.0


def _clear_mm(made: DeckShape, project: Project) -> float:
    """Standoffs that lift it over what lies below it, in whole millimetres."""
    foot = _foot_mm(made, "", project)
    tops = [made.standoff_mm]
    for b in placed_components(project.components, (), ()):
        near, top = np.abs(b.centre_mm[:2]) - b.size_mm[:2] / 2, float(b.centre_mm[2] + b.size_mm[2] / 2)
        if top > foot and near[0] < made.length_mm / 2 and near[1] < made.width_mm / 2:
            tops.append(math.ceil(top - foot + OVER_GOODS_MM))
    return min(max(tops), MOST_STANDOFF_MM)


def _host(over: str, own_id: str, project: Project) -> Part | None:
    """The deck that one stands on."""
    return next((p for p in project.parts if p.id == over and p.id != own_id and isinstance(p.shape, DeckShape)), None)


def _depth(part: Part, project: Project) -> int:
    depth, at = 0, part
    while depth < MOST_DEEP and isinstance(at.shape, DeckShape):
        host = _host(at.shape.over, at.id, project)
        if host is None:
            break
        depth, at = depth + 1, host
    return depth


def _foot_mm(shape: DeckShape, own_id: str, project: Project, depth: int = 0) -> float:
    """Height over the bottom plate's top of the face that its standoffs stand on or hang from."""
    host = _host(shape.over, own_id, project)
    if host is not None and depth < MOST_DEEP and isinstance(host.shape, DeckShape):
        under = _under_mm(host, project, depth + 1)
        return under if host.shape.side == "below" else under + host.shape.thickness_mm
    if shape.side == "below":
        return -bottom_plate_mm(project)
    top = next((p.shape for p in project.parts if isinstance(p.shape, PlateShape) and p.shape.place == "top"), None)
    return plate_gap_mm(project) + top.thickness_mm if top is not None else 0.0


def _under_mm(part: Part, project: Project, depth: int = 0) -> float:
    """Height of its underside over the bottom plate's top."""
    s = part.shape
    assert isinstance(s, DeckShape)
    host = _host(s.over, part.id, project)
    hangs = host.shape.side == "below" if host is not None and isinstance(host.shape, DeckShape) else s.side == "below"
    foot = _foot_mm(s, part.id, project, depth)
    return foot - s.standoff_mm - s.thickness_mm if hangs else foot + s.standoff_mm
