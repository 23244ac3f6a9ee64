"""How a printed propeller sits on its shaft: what torque it holds before it slips, and how far out of balance it comes off the bed."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.kinds.printedblades import drawn
from fravik.library import filaments_of
from fravik.model.blade import PropellerShape
from fravik.model.material import CORNERS, Corner, Filament, Spread
from fravik.model.project import Project
from fravik.shape.blade import as_printed_gmm
from fravik.structure.fatigue import relaxed
from fravik.structure.pressfit import FRICTION, SOFT_FRICTION, Elastic, grip_nmm, hoop_mpa, pressures_mpa
from fravik.structure.service import Service, in_service
from fravik.structure.tubejoint import IN_A_HOLE

from .results import PartResult

SUDDEN = 2.0  # times the motor's most torque: a controller that reverses or brakes
SAND_AT = 0.9  # of the radius
MONTH_H = 720.0  # pressed plastic lets go by and by: in service it is told after so long
OTHER: dict[Corner, Corner] = {"low": "high", "typical": "typical", "high": "low"}  # the weak plastic creeps most
ROOM = Service()


@dataclass(frozen=True)
class Grip:
    """Torque in N mm that the hub holds, just fitted at room temperature and a month later in service; None where it is not known, and why.
    ``hoop`` is the strength of the hub over the pull round its hole, None where nothing presses."""

    by: str
    room_nmm: Spread | None
    warm_nmm: Spread | None
    hoop: float | None
    unknown: str = ""


@dataclass(frozen=True)
class Balance:
    """Out of balance by so many g mm, what to sand off the heavy side and where, what a bought one comes with, and if it was measured."""

    gmm: float
    sand_g: float
    sand_at_mm: float
    bought_gmm: float
    measured: bool


def grip_of(project: Project, part: PartResult) -> Grip:
    """By how its bore is made."""
    shape = drawn(part.part)
    if shape.bore == "round":
        return _pressed(project, part, shape)
    warm, room = part.filament, in_service(_dry(project, part), ROOM)
    by = {"flat": "flat of the shaft", "hex": "hexagon", "screws": "four screws"}[shape.bore]
    return Grip(by, _locked(shape, room), _locked(shape, warm), None)


def _dry(project: Project, part: PartResult) -> Filament:
    return filaments_of(project)[part.part.recipe.filament]


def _locked(shape: PropellerShape, f: Filament) -> Spread:
    """What a flat, a hexagon or screws hold until the plastic beside them is crushed: pressure grows evenly from the middle of a face."""
    long = shape.hub_height_mm
    if shape.bore == "screws":
        arm = 4 * shape.screw_hole_mm * long * shape.screw_circle_mm / 2
    elif shape.bore == "hex":
        arm = 6 * long * (shape.flat_mm / math.sqrt(3)) ** 2 / 12
    else:
        r = shape.bore_mm / 2
        arm = long * 4 * max(r**2 - (shape.flat_mm - r) ** 2, 0.0) / 12
    return Spread(*(IN_A_HOLE * f.s_cross_mpa.at(c) * arm for c in CORNERS))


def _pressed(project: Project, part: PartResult, shape: PropellerShape) -> Grip:
    over = shape.shaft_mm - shape.bore_mm
    soft = next((f for f in filaments_of(project).values() if f.flexible), None)
    if shape.bush_mm <= 0 and over <= 0:
        fits = f"{-over:.2f} mm wider than the shaft" if over < -5e-3 else "as wide as the shaft"
        why = f"The bore is {fits}: a nut holds it, and how hard is not known."
        return Grip("nut", None, None, None, why)
    if shape.bush_mm > 0 and soft is None:
        return Grip("soft bush", None, None, None, "No flexible filament is known for the bush.")
    found, hoop = [], math.inf
    for state, hours in zip((ROOM, part.service), (1.0, MONTH_H), strict=True):
        hub = in_service(_dry(project, part), state)
        bush = in_service(soft, state) if soft is not None and shape.bush_mm > 0 else None
        each = []
        for corner in CORNERS:
            own = Elastic(hub.e_cross_mpa.at(corner), hub.poisson)
            inner = None if bush is None else Elastic(bush.e_cross_mpa.at(corner), bush.poisson)
            seat = shape.bore_mm + 2 * shape.bush_mm
            on_shaft = shape.bush_grip_mm if bush is not None else over
            p, q = pressures_mpa(shape.shaft_mm, seat, shape.hub_diameter_mm, inner, own, on_shaft, shape.bush_grip_mm)
            slips = [grip_nmm(shape.shaft_mm, shape.hub_height_mm, p, SOFT_FRICTION if bush is not None else FRICTION)]
            if bush is not None:
                slips.append(grip_nmm(seat, shape.hub_height_mm, q, SOFT_FRICTION))
            gives = (soft if bush is not None and soft is not None else hub).creep_exponent.at(OTHER[corner])
            each.append(min(slips) * relaxed(gives, hours))
            hole, pressure = (seat, q) if bush is not None else (shape.bore_mm, p)
            hoop = min(hoop, hub.s_cross_mpa.at(corner) / max(hoop_mpa(hole, shape.hub_diameter_mm, pressure), 1e-9))
        found.append(Spread(*sorted(each)))
    return Grip("soft bush" if shape.bush_mm > 0 else "press fit", found[0], found[1], hoop)


def balance_of(part: PartResult, bought_gmm: float) -> Balance:
    """Measured, or else as it is printed; beside a bought one's."""
    shape = drawn(part.part)
    gmm = shape.unbalance_gmm if shape.unbalance_gmm is not None else as_printed_gmm(shape, part.filament.density_g_cm3.typical)
    at = SAND_AT * shape.radius_mm
    return Balance(gmm, gmm / at, at, bought_gmm, shape.unbalance_gmm is not None)
