"""Plugs that do not go in: what stands where a plug and the bend of its wire want room."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from manifold3d import Manifold

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.model.craft import SIDE_LABELS
from fravik.shape.clash import apart_mm, bounds, box
from fravik.study.findings import Cure, Finding

from .bodies import Thing, copies, near, placed, things

# along which axis a side looks, and which way
SIDES: dict[str, tuple[int, int]] = {
    "front": (0, 1), "back": (0, -1), "left": (1, 1), "right": (1, -1), "up": (2, 1), "down": (2, -1),
}  # fmt: skip
GIVES_MM = 0.5  # what a wire is pressed aside by


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """One for each thing that cannot be plugged in: what is nearest in the way, and sides that are free."""
    every = things(result)
    for thing in every:
        side, room_mm, _ = thing.plug
        if side not in SIDES:
            continue
        free, name = free_mm(engine, result, every, thing, side)
        if free >= room_mm - GIVES_MM:
            continue
        cures = tuple(
            Cure(f"{thing.name}: plug {SIDE_LABELS[s].lower()}", ((f"{thing.path}.plug_side", s),))
            for s in SIDES
            if s != side and free_mm(engine, result, every, thing, s)[0] >= room_mm - GIVES_MM
        )
        yield Finding(
            f"fit.plug:{thing.id}", "likely", "Airframe", f"{thing.path}.plug_side", thing.name,
            f"It cannot be plugged in: {name} is in the way.",
            f"Plug and wire want {room_mm:.0f} mm {SIDE_LABELS[side].lower()}; {max(free, 0.0):.0f} mm are free.",
            "Turn it, move it, or take an angled plug.", cures,
        )  # fmt: skip


def keep_out(thing: Thing, side: str) -> Manifold:
    """The room that a plug at a side wants."""
    axis, way = SIDES[side]
    _, room_mm, wide_mm = thing.plug
    size = np.full(3, wide_mm)
    size[axis] = room_mm
    centre = np.array(thing.centre_mm, dtype=float)
    centre[axis] += way * (thing.size_mm[axis] + room_mm) / 2
    return box(centre, size)


def free_mm(engine: Engine, result: Evaluation, every: list[Thing], thing: Thing, side: str) -> tuple[float, str]:
    """How far out from a face there is nothing in a plug's way, and the name of what is there; all of its room where nothing is."""
    axis, way = SIDES[side]
    room, best = keep_out(thing, side), (thing.plug[1], "")
    face = float(thing.centre_mm[axis] + way * thing.size_mm[axis] / 2)
    around = bounds(room)
    bodies = [(c.name, near(engine, c), lambda c=c: placed(engine, c)) for c in copies(result)]
    bodies += [(t.name, bounds(t.body), lambda t=t: t.body) for t in every if t.id != thing.id]
    for name, span, body in bodies:
        if apart_mm(span, around) > 0.0:
            continue
        shared = room ^ body()
        if shared.is_empty():
            continue
        low, high = bounds(shared)[:, axis]
        free = float(low - face if way > 0 else face - high)
        if free < best[0]:
            best = (free, f"the {name[0].lower()}{name[1:]}")
    return best
