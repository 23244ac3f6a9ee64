"""Filament and carbon stock as data: every property low, typical and high, because batches differ."""

from __future__ import annotations

from typing import Literal, NamedTuple

from pydantic import model_validator

from .base import Frozen

Corner = Literal["low", "typical", "high"]
CORNERS: tuple[Corner, Corner, Corner] = ("low", "typical", "high")


class Spread(NamedTuple):
    """A property's low, typical and high value."""

    low: float
    typical: float
    high: float

    def at(self, corner: Corner) -> float:
        """The value at one corner of the spread."""
        return float(getattr(self, corner))


SPREAD_LABELS: dict[str, str] = {
    "e_road_mpa": "Modulus along the road, MPa",
    "e_cross_mpa": "Modulus across roads, MPa",
    "e_layer_mpa": "Modulus across layers, MPa",
    "g_plane_mpa": "Shear modulus in the layer, MPa",
    "g_layer_mpa": "Shear modulus between layers, MPa",
    "s_road_mpa": "Strength along the road, MPa",
    "s_cross_mpa": "Strength across roads, MPa",
    "s_layer_mpa": "Strength across layers, MPa",
    "t_plane_mpa": "Shear strength in the layer, MPa",
    "t_layer_mpa": "Shear strength between layers, MPa",
    "ductility_road": "Break over yield strain, roads",
    "ductility_layer": "Break over yield strain, layers",
    "loss_factor": "Loss factor",
    "density_g_cm3": "Density, g/cm³",
    "fatigue_slope": "Fatigue slope",
    "creep_exponent": "Creep exponent",
}


# what a plastic can be at all; beyond it figures would mean nothing, or the solver would have no answer
FILAMENT_RANGES: dict[str, tuple[float, float]] = {
    "poisson": (0.0, 0.495), "glass_transition_c": (-150.0, 400.0), "flow_limit_mm3_s": (0.1, 200.0), "price_per_kg": (0.0, 2000.0),
    "soft_share": (0.0, 1.0), "service_limit_c": (-50.0, 400.0), "wet_stiffness": (0.05, 1.5), "wet_strength": (0.05, 1.5),
    "wet_ductility": (0.2, 10.0), "wet_layer_bond": (0.05, 1.0), "warp": (0.0, 1.0), "min_layer_s": (0.0, 120.0), "usual_fan": (0.0, 1.0),
    "nozzle_c": (100.0, 500.0), "expansion": (0.5, 4.0), "drying_h": (0.0, 72.0),
}  # fmt: skip


class Filament(Frozen):
    """Road properties of a filament, dry at 23 degrees; 1 along the road, 2 across it in the layer, 3 across layers.

    ``soft_share`` is the share of stiffness left well above the glass transition; the ``wet_`` shares are what is left of
    stiffness and strength, and how much ductility grows, in plastic soaked to saturation. ``min_layer_s`` is the least time a
    layer needs to set, ``usual_fan`` the fan its figures belong to (0 to 1),
    ``fatigue_slope`` is the power by which cycles to failure fall as stress grows, ``creep_exponent`` that by which what is held strained
    lets go as time grows, ``expansion`` the volume laid over the volume fed: above 1 for a foaming filament.
    """

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
    fatigue_slope: Spread = Spread(7.0, 9.0, 12.0)
    creep_exponent: Spread = Spread(0.02, 0.04, 0.08)
    soft_share: float = 0.02
    service_limit_c: float = 55.0
    wet_stiffness: float = 1.0
    wet_strength: float = 1.0
    wet_ductility: float = 1.0
    wet_layer_bond: float = 0.8
    warp: float = 0.2
    min_layer_s: float = 8.0
    usual_fan: float = 0.5
    nozzle_c: float = 230.0
    expansion: float = 1.0
    drying_h: float = 4.0
    flexible: bool = False
    abrasive: bool = False
    needs_enclosure: bool = False
    conducts: bool = False
    note: str = ""
    copied_from: str = ""

    @model_validator(mode="after")
    def _ordered(self) -> Filament:
        for name in type(self).model_fields:
            value = getattr(self, name)
            if isinstance(value, Spread) and not 0 < value.low <= value.typical <= value.high < 1e7:
                raise ValueError(f"{SPREAD_LABELS.get(name, name)}: low, typical and high must be above 0 and rise in this order")
        if self.density_g_cm3.high > 9 or not 0 <= self.notch_sensitivity <= 1:
            raise ValueError("density is in g/cm3, and notch sensitivity runs from 0 to 1")
        for name, (low, high) in FILAMENT_RANGES.items():
            value = getattr(self, name)
            if not low <= value <= high:
                raise ValueError(f"{name.replace('_', ' ')} {value:g} is out of range: plastics come within {low:g} to {high:g}")
        return self


StockForm = Literal["tube", "square_tube", "rod", "square_rod", "channel", "plate"]


class StockMaterial(Filament):
    """A material that is bought as bar or plate and cut, not printed: 1 along its grain or main fibres, 2 across them in its plane, 3
    through it. What concerns printing plays no part."""

    forms: tuple[StockForm, ...]
    flow_limit_mm3_s: float = 10.0
    warp: float = 0.0
    wet_layer_bond: float = 1.0


class Adhesive(Frozen):
    """A kind of glue: shear strength on printed plastic, shear modulus of the layer, the gaps it fills and its cure time."""

    id: str
    name: str
    strength_mpa: Spread
    shear_modulus_mpa: float
    gap_mm: tuple[float, float]
    cure_h: float
    density_g_cm3: float
    price_per_g: float
    note: str = ""


class FacingStock(Frozen):
    """A cut carbon plate or glass skin; modulus and strength are of the laminate along the part, not of its fibre."""

    id: str
    name: str
    form: Literal["carbon plate", "glass skin"]
    thickness_mm: float
    modulus_mpa: Spread
    shear_mpa: Spread
    strength_mpa: Spread
    density_g_cm3: float
    price_per_cm2: float
    handwork_min: float


class ScrewSize(Frozen):
    """A metric coarse screw and its heat-set insert: sizes in mm, stress area in mm2, proof stress in MPa."""

    id: str
    diameter_mm: float
    stress_area_mm2: float
    pitch_mm: float
    head_mm: float
    washer_mm: float
    nut_across_mm: float
    nut_height_mm: float
    insert_outer_mm: float
    clearance_mm: float
    proof_mpa: float = 580.0


class CarbonStock(Frozen):
    """A pultruded profile from the generic stock list. Modulus is of the laminate along its length."""

    id: str
    name: str
    form: Literal["tube", "rod", "square", "strip"]
    outer_mm: float
    inner_mm: float = 0.0
    thickness_mm: float = 0.0
    modulus_mpa: Spread
    shear_mpa: Spread
    strength_mpa: Spread
    density_g_cm3: float
    price_per_m: float
