"""A bought propeller's coefficients from its diameter, pitch, blades and family: a blade drawn by its family's laws, in the same air as one
that the maker draws (``bem``). A stand-in until the propeller is measured, good to 12 % by assumption.

Moulded blades are smooth and thinner than printed ones. Coefficients are told at tips of TIP_M_S: slower and smaller blades lose more to
the drag of their sections.
"""

from __future__ import annotations

import importlib.resources
import math
from dataclasses import dataclass
from functools import lru_cache
from typing import cast

import numpy as np
from numpy.typing import NDArray

from fravik.library.air import DENSITY_KG_M3
from fravik.model.blade import Outline, PropellerShape
from fravik.model.craft import Propeller

Floats = NDArray[np.float64]
# chord over radius where most of the push is made, by family; moulded sections and hubs: working assumptions
CHORD_SHARE = {"slim": 0.13, "usual": 0.17, "broad": 0.22}
CAMBER, ROOT_THICKNESS, TIP_THICKNESS, LEAST_OF_RADIUS, EDGE_OF_RADIUS, HUB_OF_DIAMETER = 0.05, 0.13, 0.07, 0.006, 0.004, 0.15
SMOOTH = 1.0  # drag of a moulded face over a smooth one's
TIP_M_S = 60.0
FEWEST, MOST = 2, 6  # blades
ADVANCES = tuple(0.04 * k for k in range(13))  # speed along the shaft over that of the tips


@dataclass(frozen=True)
class Coefficients:
    """Standing: thrust over rho n^2 D^4, power over rho n^3 D^5, and the ideal power over the real. ``moving`` is the thrust at each of
    ADVANCES over that."""

    thrust: float
    power: float
    moving: tuple[float, ...]

    @property
    def merit(self) -> float:
        """Ideal power over real, standing."""
        return max(self.thrust, 0.0) ** 1.5 * math.sqrt(2 / math.pi) / max(self.power, 1e-9)


def family_shape(diameter_mm: float, pitch_mm: float, blades: int, family: str) -> PropellerShape:
    """Drawn by the family's laws. Its fields lie outside those of a print where the propeller is tiny: nobody prints it."""
    radius = diameter_mm / 2
    return PropellerShape.model_construct(
        diameter_mm=diameter_mm, pitch_mm=pitch_mm, blades=blades, outline=cast(Outline, family),
        chord_share=CHORD_SHARE[family], camber=CAMBER,
        root_thickness=ROOT_THICKNESS, tip_thickness=TIP_THICKNESS, least_mm=LEAST_OF_RADIUS * radius, edge_mm=EDGE_OF_RADIUS * radius,
        hub_diameter_mm=HUB_OF_DIAMETER * diameter_mm,
    )  # fmt: skip


def worked_out(diameter_mm: float, pitch_mm: float, blades: int, family: str) -> Coefficients:
    """Of a propeller by its family, by the blade model itself."""
    from .drawn import flown  # compiled code loads only where it is needed

    shape, d = family_shape(diameter_mm, pitch_mm, blades, family), diameter_mm * 1e-3
    n = TIP_M_S / (math.pi * d)
    there = flown(shape, np.full(len(ADVANCES), 60.0 * n), np.array(ADVANCES) * TIP_M_S, SMOOTH)
    push = float(there.thrust_n[0])
    return Coefficients(push / (DENSITY_KG_M3 * n**2 * d**4), float(there.power_w[0]) / (DENSITY_KG_M3 * n**3 * d**5),
                        tuple((there.thrust_n / max(push, 1e-9)).tolist()))  # fmt: skip


@dataclass(frozen=True, eq=False)
class Table:
    """What ``tools/family_table.py`` worked out: coefficients of thrust and power (families, blades, diameters, pitches), and how thrust
    goes with the advance (..., advances)."""

    log_diameter: Floats
    pitch_share: Floats
    thrust: Floats
    power: Floats
    moving: Floats


@lru_cache(maxsize=1)
def table() -> Table:
    """Read once."""
    with importlib.resources.as_file(importlib.resources.files("fravik.library") / "data" / "families.npz") as path, np.load(path) as f:
        return Table(np.log(f["diameter_mm"]), f["pitch_share"], *(f[k].astype(float) for k in ("thrust", "power", "moving")))


@lru_cache(maxsize=256)
def coefficients(diameter_mm: float, pitch_mm: float, blades: int, family: str) -> Coefficients:
    """The same, read off the table within 1 %; worked out where the propeller lies outside it."""
    t, share, at = table(), pitch_mm / diameter_mm, math.log(diameter_mm)
    inside = t.log_diameter[0] <= at <= t.log_diameter[-1] and t.pitch_share[0] <= share <= t.pitch_share[-1]
    if not inside or not FEWEST <= blades <= MOST:
        return worked_out(diameter_mm, pitch_mm, blades, family)
    i, f = _between(t.log_diameter, at)
    j, g = _between(t.pitch_share, share)

    def read(values: Floats) -> Floats:
        four = values[list(CHORD_SHARE).index(family), blades - FEWEST, i : i + 2, j : j + 2]
        low, high = (1 - f) * four[0] + f * four[1]
        return np.asarray((1 - g) * low + g * high)

    return Coefficients(float(read(t.thrust)), float(read(t.power)), tuple(read(t.moving).tolist()))


def _between(edges: Floats, at: float) -> tuple[int, float]:
    """The step of a table in which a value lies, and how far along it."""
    i = min(int(np.searchsorted(edges, at, side="right")) - 1, len(edges) - 2)
    return i, float((at - edges[i]) / (edges[i + 1] - edges[i]))


def resolved(propeller: Propeller) -> Propeller:
    """With the coefficients of its family in place of typed ones; as it is where they are typed."""
    if propeller.family == "typed":
        return propeller
    c = coefficients(propeller.diameter_mm, propeller.pitch_mm, propeller.blades, propeller.family)
    return propeller.model_copy(update={"thrust_coefficient": max(c.thrust, 1e-3), "figure_of_merit": min(max(c.merit, 0.05), 0.95)})


def climbing_share(propeller: Propeller, rpm: float, speed_m_s: Floats) -> Floats:
    """Thrust left at speeds (n,) along the shaft, over that at rest, at the same turns; of its family, or the usual one."""
    tip = math.pi * propeller.diameter_mm * 1e-3 * rpm / 60.0
    family = propeller.family if propeller.family != "typed" else "usual"
    moving = coefficients(propeller.diameter_mm, propeller.pitch_mm, propeller.blades, family).moving
    return np.asarray(np.interp(speed_m_s / max(tip, 1e-9), ADVANCES, moving))
