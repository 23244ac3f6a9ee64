"""The whole craft's weight and clearances, from its parts in their places and what is bought."""

from __future__ import annotations

from functools import lru_cache

from fravik.flight import mass
from fravik.flight.mass import Clearances, Placed
from fravik.model.project import Project
from fravik.printing.mass import MassProperties
from fravik.shape.stations import arrangement

from .around import arm_ends, motor_radii_mm, stations
from .asking import places_of
from .drives import BELOW, drives
from .registry import kind_of
from .wing.bodies import bodies


@lru_cache(maxsize=16)
def placed_components(project: Project) -> tuple[Placed, ...]:
    """Every bought component where it sits, and what else flies on wings."""
    every = stations(project)
    along = [b for p in project.parts for b in kind_of(p.shape).brings(p, p.shape, project)]
    return (*mass.placed_components(project.components, every, drives(project)), *bodies(project, every), *along)


def craft_mass(project: Project, part_mass: dict[str, MassProperties], carbon_g: dict[str, float]) -> MassProperties:
    """All parts in place and all components as one body; carbon rides at its part's centre of mass. What goes round with a motor's
    shaft weighs with the drives."""
    parts = []
    for part in (p for p in project.parts if kind_of(p.shape).seat != "shaft"):
        one = part_mass[part.id]
        if carbon_g.get(part.id):
            one = MassProperties(one.mass_g + carbon_g[part.id], one.com_mm, one.inertia_gmm2)
        parts.append((one, [place.pose for place in places_of(part, project)]))
    return mass.craft_mass(placed_components(project), parts)


def clearances(project: Project) -> Clearances:
    """Plan clearances."""
    reach, clamp = arrangement(project.layout).reach, project.layout.clamp_radius_mm
    out, each = {s.id: reach * r - clamp for s, r in zip(arm_ends(project), motor_radii_mm(project), strict=True)}, stations(project)
    return mass.clearances(project.components, each, drives(project), [out[s.id.removesuffix(BELOW)] for s in each])
