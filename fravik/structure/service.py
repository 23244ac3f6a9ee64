"""What heat, cold, moisture and its welding (``bond``) leave of a filament's dry figures at 23 degrees.

Heat: the glassy slope down to the glass transition, then an S-shaped drop to the share of stiffness that is left above it,
the shape of a dynamic mechanical test. Cold takes ductility. Moisture scales linearly to the figures soaked plastic has.
Sun: a surface in full sun in still air is taken as warmer than the air by a fixed amount for its shade.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from fravik.model.material import Filament, Spread
from fravik.model.problem import Problem
from fravik.model.project import Part, Project, Spool

from .bond import USUAL_LAYER_S, USUAL_WELDING, Welding, bond_factors, layer_bond, road_bond

ROOM_C = 23.0
GLASSY_FALL = 0.3
TRANSITION_WIDTH_C = 4.0
COLD_DUCTILITY_PER_C = 0.012
SUN_RISE_C = {"light": 8.0, "medium": 18.0, "dark": 30.0}
DAMP_SHARE = {"dry": 0.0, "room": 0.4, "wet": 1.0}


@dataclass(frozen=True)
class Service:
    """The state a printed part is used in: its own temperature, moisture 0 to 1, and how it was welded."""

    temp_c: float = ROOM_C
    damp: float = 0.0
    welding: Welding = USUAL_WELDING


def spool_of(project: Project, filament: str) -> Spool | None:
    """The spool a part of this filament is printed from: the first on the shelf."""
    return next((s for s in project.spools if s.filament == filament), None)


def service_of(project: Project, part: Part, layer_s: float | None = USUAL_LAYER_S) -> Service:
    """The state of one part by the brief, the shade of its spool, its printer and the time of its layers; None for what is not printed."""
    damp = DAMP_SHARE[project.brief.damp]
    if layer_s is None:
        # bar and plate are taken as dark as carbon
        return Service(project.brief.service_temp_c + (SUN_RISE_C["dark"] if project.brief.sun else 0.0), damp)
    spool = spool_of(project, part.recipe.filament)
    rise = SUN_RISE_C[spool.shade if spool is not None else "medium"] if project.brief.sun else 0.0
    welding = Welding(project.printer.enclosed, part.recipe.fan, layer_s, spool.dried if spool is not None else True)
    return Service(project.brief.service_temp_c + rise, damp, welding)


def heat_left(temp_c: float, transition_c: float, soft_share: float) -> float:
    """Stiffness at a temperature over that at 23 degrees. Falls all the way as the temperature rises."""

    def curve(t: float) -> float:
        glassy = max(1.0 - GLASSY_FALL * (t - ROOM_C) / max(transition_c - ROOM_C, 40.0), 0.2)
        drop = 1.0 / (1.0 + math.exp(min((t - transition_c) / TRANSITION_WIDTH_C, 60.0)))
        return (soft_share + (1.0 - soft_share) * drop) * glassy

    return curve(temp_c) / curve(ROOM_C)


def in_service(f: Filament, state: Service) -> Filament:
    """The filament as it is in service, every low, typical and high alike."""
    return _in_service(f, state.temp_c, state.damp, layer_bond(f, state.welding))


@lru_cache(maxsize=256)
def _in_service(f: Filament, temp_c: float, damp: float, bond: float) -> Filament:
    heat = heat_left(temp_c, f.glass_transition_c, f.soft_share)
    stiff = heat * (1.0 - damp * (1.0 - f.wet_stiffness))
    strong = heat * (1.0 - damp * (1.0 - f.wet_strength))
    give = 1.0 + damp * (f.wet_ductility - 1.0)
    cold = max(0.2, 1.0 - COLD_DUCTILITY_PER_C * max(0.0, ROOM_C - temp_c))

    def scaled(s: Spread, k: float) -> Spread:
        return Spread(s.low * k, s.typical * k, s.high * k)

    def ductile(s: Spread, weld: float) -> Spread:
        return Spread(*(1.0 + (v * give - 1.0) * cold * weld**2 if v * give > 1.0 else v for v in s))

    return f.model_copy(update={
        **{k: scaled(getattr(f, k), stiff) for k in ("e_road_mpa", "e_cross_mpa", "e_layer_mpa", "g_plane_mpa", "g_layer_mpa")},
        "s_road_mpa": scaled(f.s_road_mpa, strong),
        **{k: scaled(getattr(f, k), strong * road_bond(bond)) for k in ("s_cross_mpa", "t_plane_mpa")},
        **{k: scaled(getattr(f, k), strong * bond) for k in ("s_layer_mpa", "t_layer_mpa")},
        # a poor weld tears before it gives; cracked between its roads a part gives less as a whole
        "ductility_road": ductile(f.ductility_road, road_bond(bond)), "ductility_layer": ductile(f.ductility_layer, bond),
    })  # fmt: skip


def service_problems(project: Project, part: Part, f: Filament, state: Service, printed: bool = True) -> list[Problem]:
    """A part that gets hotter than its plastic bears, one that goes cold and brittle, and a spool that was not dried."""
    at = f"parts.{part.id}.recipe.filament"
    out = []
    if not printed:
        if state.temp_c > f.service_limit_c:
            sun = " in the sun" if project.brief.sun else ""
            out.append(Problem(f"parts.{part.id}.shape", f"{f.name} reaches {state.temp_c:.0f} °C{sun}; it is good to "
                               f"{f.service_limit_c:.0f} °C: shade it, or take another material.", "warning"))  # fmt: skip
        return out
    air = project.brief.service_temp_c
    if state.temp_c > f.service_limit_c:
        spool = spool_of(project, part.recipe.filament)
        shade = spool.shade if spool is not None else "medium"
        sun = f" in the sun ({air:.0f} °C air, {shade} plastic)" if project.brief.sun else ""
        out.append(Problem(at, f"{f.name} reaches {state.temp_c:.0f} °C{sun}; it is good to {f.service_limit_c:.0f} °C: "
                           "print it lighter, shade it, or take a plastic that bears heat.", "warning"))  # fmt: skip
    if state.temp_c < 0 and f.ductility_road.typical < 2.0:
        out.append(Problem(at, f"{f.name} is brittle already and more so at {state.temp_c:.0f} °C.", "warning"))
    causes = {k: v for k, v in bond_factors(f, state.welding).items() if v < 0.86}
    if causes:
        words = {"open": "printed in the open", "fan": "with so much fan", "layer time": f"at {state.welding.layer_s:.0f} s a layer",
                 "damp spool": "from a spool that was not dried"}  # fmt: skip
        why = ", ".join(words[k] for k in causes)
        out.append(Problem(at, f"{f.name} {why} keeps about {layer_bond(f, state.welding):.0%} of its bond between layers.", "warning"))
    return out
