"""Which rotors turn a printed propeller."""

from __future__ import annotations

from functools import lru_cache

from fravik.library import filaments_of
from fravik.model.blade import PropellerShape
from fravik.model.craft import Propeller
from fravik.model.project import Part, Project
from fravik.power.momentum import GRAVITY_M_S2
from fravik.shape.stations import Station

from .around import KEPT, stations

WITH_PRINTED = 1.3

SPINS = {"anticlockwise": 1, "clockwise": -1}


def is_propeller(part: Part) -> bool:
    """Whether it is one, or the blades of one that folds; their hub is told with them."""
    return isinstance(part.shape, PropellerShape) and part.shape.piece != "hub"


def drawn(part: Part) -> PropellerShape:
    """The shape of a propeller. Raises TypeError for a part of another kind."""
    if not isinstance(part.shape, PropellerShape):
        raise TypeError(f"{part.id} is no propeller.")
    return part.shape


def rotors_of(part: Part, project: Project) -> tuple[Station, ...]:
    """The rotors that a propeller goes on: those that turn its way, as many as there are of it."""
    shape = drawn(part)
    rotors = part.count // shape.blades if shape.piece == "blade" else part.count
    return tuple(s for s in stations(project) if s.spin == SPINS[shape.turns])[:rotors]


@lru_cache(maxsize=KEPT)
def printed_on(project: Project) -> dict[str, Part]:
    """By station, the printed propeller that flies there."""
    out: dict[str, Part] = {}
    for part in project.parts:
        if is_propeller(part) and drawn(part).in_use:
            out = {**{s.id: part for s in rotors_of(part, project)}, **out}
    return out


def in_place_of(bought: Propeller, part: Part, project: Project) -> Propeller:
    """A printed propeller with what the craft needs to know of one; its balance is the bought one's."""
    from fravik.power.drawn import as_flown  # compiled code loads only for crafts that fly such a one
    from fravik.power.layersteps import drag_factor

    plastic = filaments_of(project).get(part.recipe.filament)
    if plastic is None:
        return bought  # said at its filament
    density = plastic.density_g_cm3.typical
    return as_flown(bought, drawn(part), density, hover_n(project), drag_factor(drawn(part), part.recipe).typical)


def hover_n(project: Project) -> float:
    """About what one rotor carries in hover: what is bought, and as much again as printed parts usually are of it."""
    c, n = project.components, max(len(stations(project)), 1)
    bought = c.battery.mass_g + sum(b.mass_g for b in c.blocks) + n * (c.motor.mass_g + c.propeller.mass_g)
    return WITH_PRINTED * bought * 1e-3 * GRAVITY_M_S2 / n
