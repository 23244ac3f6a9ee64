"""What the arms stand on in the whole craft: the printed plates, bending, or a bought body that does not give."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from fravik.kinds.around import arm_ends
from fravik.kinds.boughtbody import bought_body
from fravik.kinds.whole import placed_components
from fravik.model.material import CORNERS
from fravik.model.project import Project
from fravik.printing.zones import Floats
from fravik.structure.body import free_pair
from fravik.structure.craft.body import BodyFrame, Spot, averaged, body_element, body_frame, rigid_body, seat_port
from fravik.structure.craft.element import Port, SuperElement

from .body import BEARINGS, Body
from .memo import Memo


@dataclass(frozen=True, eq=False)
class Ground:
    """Where the controller sits, where each arm's root stands (3,), the names of the lower and the upper deck, the part that the body's
    own bending is called by, and the body as an element for what stands on it. ``key`` names all it depends on."""

    key: Any
    seat: Port
    roots_mm: tuple[Floats, ...]
    low: str
    high: str
    part: str
    element: Callable[[Mapping[str, Spot]], SuperElement]


def ground_of(memo: Memo, project: Project, body: Body | None, first: str) -> Ground | None:
    """None where nothing holds the arms. ``first`` is a part to call a bought body's bending by; as it never bends, it is never called."""
    if body is not None:
        return _printed(memo, body)
    bought = bought_body(project)
    return None if bought is None else _bought(project, bought.id, first)


def _printed(memo: Memo, body: Body) -> Ground:
    frame, seat, k = memo.get("craft body", (body.key, body.glued), lambda: _plates(body))
    low = "bottom" if "bottom" in frame.plate_z_mm else next(iter(frame.plate_z_mm))
    high = "top" if "top" in frame.plate_z_mm else low
    roots = tuple(frame.at_mm[frame.pair.free + 6 * a] for a in range(frame.blocks))
    return Ground((body.key, body.glued), seat, roots, low, high, body.ids[low], lambda spots: body_element(frame, seat, k, spots))


def _plates(body: Body) -> tuple[BodyFrame, Port, Floats]:
    """The pair's frame, its seat, and its stiffness at the corners as the mean of what bounds it."""
    found: dict[tuple[str, str], Floats] = {}
    frame = seat = None
    for corner in CORNERS:
        for how in ("bonded",) if body.glued else BEARINGS[corner]:
            plates = {n: p.condensed(how, corner) for n, p in body.plates.items()}
            pair = free_pair(plates, body.points, body.gap_mm)
            found[how, corner] = pair.k
            if frame is None:
                frame = body_frame(pair, plates, body.points, body.gap_mm)
                seat = seat_port(frame, body.points)
    assert frame is not None
    assert seat is not None
    k = np.stack([
        averaged([found[how, c] for how in (("bonded",) if body.glued else BEARINGS[c])], seat.motion) for c in CORNERS
    ])  # fmt: skip
    return frame, seat, k


def _bought(project: Project, block: str, first: str) -> Ground:
    middle = next(b.centre_mm for b in placed_components(project) if b.id == block)
    radius = project.layout.clamp_radius_mm
    roots = []
    for end in arm_ends(project):
        way = np.array([np.cos(end.azimuth_rad), np.sin(end.azimuth_rad)])
        roots.append(np.array([*(radius * way), 0.0]))
    seat = Port(middle, np.eye(6))
    decks = (block, block)
    return Ground(
        ("bought", middle.tobytes(), project.layout), seat, tuple(roots), *decks, first,
        lambda spots: rigid_body(middle, roots, {name: s.at_mm for name, s in spots.items()}),
    )  # fmt: skip
