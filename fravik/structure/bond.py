"""How well layers weld: what the chamber, the fan, the time of a layer and a damp spool leave of a filament's bond.

A filament's figures are those of its usual printing: a warping plastic in a warm chamber, its usual fan, about ``USUAL_LAYER_S`` a layer,
dry. Heat left in the layer below makes the weld, so each of these is a factor on the strength between layers:

* chamber: 1 - OPEN_LOSS (warp - 0.3) for plastics that warp and are printed in the open, whose layers also crack as they shrink;
* fan: 1 - FAN_LOSS for every tenth of fan above the usual one, more for plastics that want little;
* layer time: LAYER_LOSS for each of the first doublings beyond the usual, half of that in a chamber, and no gain below it;
* a spool that was not dried: the filament's own figure.

Neighbouring roads weld in the same way but sooner: they lose half as much. The constants are judgement (docs/material.md).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.model.material import Filament

USUAL_LAYER_S = 25.0
OPEN_LOSS = 0.85
WARPS_FROM = 0.3
FAN_LOSS = 0.04
LAYER_LOSS = 0.06
MOST_DOUBLINGS = 2.0  # after that the layer below is as cold as it gets
LEAST = 0.2
STEP = 0.02


@dataclass(frozen=True)
class Welding:
    """How a part is printed as far as its bonds feel it. ``fan`` 0 to 1; ``layer_s`` is the mean time of one layer of the bed."""

    enclosed: bool = True
    fan: float | None = None
    layer_s: float = USUAL_LAYER_S
    dried: bool = True


USUAL_WELDING = Welding()


def bond_factors(f: Filament, w: Welding) -> dict[str, float]:
    """Each cause's factor on the strength between layers."""
    fan = f.usual_fan if w.fan is None else w.fan
    shy = 1.5 - f.usual_fan
    doublings = min(max(0.0, math.log2(max(w.layer_s, 1e-3) / USUAL_LAYER_S)), MOST_DOUBLINGS)
    return {
        "open": 1.0 if w.enclosed else 1.0 - OPEN_LOSS * max(0.0, f.warp - WARPS_FROM),
        "fan": 1.0 - 10 * FAN_LOSS * shy * max(0.0, fan - f.usual_fan),
        "layer time": 1.0 - LAYER_LOSS * (0.5 if w.enclosed else 1.0) * doublings,
        "damp spool": 1.0 if w.dried else f.wet_layer_bond,
    }


def layer_bond(f: Filament, w: Welding) -> float:
    """Strength between layers over that of the filament's usual printing, in steps of 2 % so that figures do not flutter."""
    whole = math.prod(max(x, 0.0) for x in bond_factors(f, w).values())
    return max(LEAST, round(whole / STEP) * STEP)


def road_bond(bond: float) -> float:
    """The same for neighbouring roads of one layer."""
    return 1.0 - (1.0 - bond) / 2
