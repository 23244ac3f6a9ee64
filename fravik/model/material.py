"""Filament and carbon stock as data: every property low, typical and high, because batches differ."""

from __future__ import annotations

from typing import Literal, NamedTuple

from .base import Frozen

Corner = Literal["low", "typical", "high"]


class Spread(NamedTuple):
    """A property's low, typical and high value."""

    low: float
    typical: float
    high: float

    def at(self, corner: Corner) -> float:
        """The value at one corner of the spread."""
        return float(getattr(self, corner))


class Filament(Frozen):
    """Road properties of a generic filament; 1 along the road, 2 across it in the layer, 3 across layers."""

    id: str
    name: str
    basis: str
    e_road_mpa: Spread
    e_cross_mpa: Spread
    e_layer_mpa: Spread
    g_plane_mpa: Spread
    g_layer_mpa: Spread
    poisson: float
    s_road_mpa: Spread
    s_cross_mpa: Spread
    s_layer_mpa: Spread
    t_plane_mpa: Spread
    t_layer_mpa: Spread
    ductility_road: Spread
    ductility_layer: Spread
    notch_sensitivity: float
    loss_factor: Spread
    density_g_cm3: Spread
    glass_transition_c: float
    flow_limit_mm3_s: float
    price_per_kg: float
    abrasive: bool = False
    needs_enclosure: bool = False
    note: str = ""


class CarbonStock(Frozen):
    """A pultruded profile from the generic stock list. Modulus is of the laminate along its length."""

    id: str
    name: str
    form: Literal["tube", "rod", "strip"]
    outer_mm: float
    inner_mm: float = 0.0
    thickness_mm: float = 0.0
    modulus_mpa: Spread
    shear_mpa: Spread
    strength_mpa: Spread
    density_g_cm3: float
    price_per_m: float
