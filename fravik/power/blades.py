"""A bought propeller's coefficients from its diameter, pitch, blades and family: a blade drawn by its family's laws, in the same air as one
that the maker draws (``bem``). A stand-in until the propeller is measured, good to 12 % by assumption.

Moulded blades are smooth and thinner than printed ones. Coefficients are told at tips of TIP_M_S: slower and smaller blades lose more to
the drag of their sections.
"""

from __future__ import annotations

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
ADVANCES = tuple(0.04 * k for k in range(13))  # speed along the shaft over that of the tips


@dataclass(frozen=True)
class Coefficients:
    """Thrust over rho n^2 D^4, power over rho n^3 D^5, and in hover the ideal power over the real."""

    thrust: float
    power: float
    merit: float


def family_shape(diameter_mm: float, pitch_mm: float, blades: int, family: str) -> PropellerShape:
    """Drawn by the family's laws. Its fields lie outside those of a print where the propeller is tiny: nobody prints it."""
    radius = diameter_mm / 2
    return PropellerShape.model_construct(
        diameter_mm=diameter_mm, pitch_mm=pitch_mm, blades=blades, outline=cast(Outline, family),
        chord_share=CHORD_SHARE[family], camber=CAMBER,
        root_thickness=ROOT_THICKNESS, tip_thickness=TIP_THICKNESS, least_mm=LEAST_OF_RADIUS * radius, edge_mm=EDGE_OF_RADIUS * radius,
        hub_diameter_mm=HUB_OF_DIAMETER * diameter_mm,
    )  # fmt: skip


@lru_cache(maxsize=256)
def coefficients(diameter_mm: float, pitch_mm: float, blades: int, family: str) -> tuple[Coefficients, ...]:
    """Of a propeller by its family, at each of ADVANCES: standing first."""
    from .drawn import disk_m2, flown  # compiled code loads only for crafts that need it

    shape, d = family_shape(diameter_mm, pitch_mm, blades, family), diameter_mm * 1e-3
    n = TIP_M_S / (math.pi * d)
    there = flown(shape, np.full(len(ADVANCES), 60.0 * n), np.array(ADVANCES) * TIP_M_S, SMOOTH)
    return tuple(
        Coefficients(float(t / (DENSITY_KG_M3 * n**2 * d**4)), float(p / (DENSITY_KG_M3 * n**3 * d**5)), float(m))
        for t, p, m in zip(there.thrust_n, there.power_w, there.merit(disk_m2(shape)), strict=True)
    )


def resolved(propeller: Propeller) -> Propeller:
    """With the coefficients of its family in place of typed ones; as it is where they are typed."""
    if propeller.family == "typed":
        return propeller
    c = coefficients(propeller.diameter_mm, propeller.pitch_mm, propeller.blades, propeller.family)[0]
    return propeller.model_copy(update={"thrust_coefficient": max(c.thrust, 1e-3), "figure_of_merit": min(max(c.merit, 0.05), 0.95)})


def climbing_share(propeller: Propeller, rpm: float, speed_m_s: Floats) -> Floats:
    """Thrust left at speeds (n,) along the shaft, over that at rest, at the same turns; of its family, or the usual one."""
    tip = math.pi * propeller.diameter_mm * 1e-3 * rpm / 60.0
    family = propeller.family if propeller.family != "typed" else "usual"
    each = coefficients(propeller.diameter_mm, propeller.pitch_mm, propeller.blades, family)
    moving = np.array([c.thrust for c in each]) / max(each[0].thrust, 1e-9)
    return np.asarray(np.interp(speed_m_s / max(tip, 1e-9), ADVANCES, moving))
