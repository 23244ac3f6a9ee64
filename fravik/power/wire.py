"""Wires: how thick for their current, what they weigh, and the voltage they lose.

A motor's three leads carry, switched in six steps, sqrt(2/3) of the controller's current each. A wire is the thinnest one sold whose
current a square millimetre is at most BRIEFLY at full throttle. Loss: U = rho L I / S. Limits: fine-stranded copper in silicone, at room
temperature; connectors and solder are left out.
"""

from __future__ import annotations

import math

COPPER_G_CM3, SILICONE_G_CM3 = 8.96, 1.25
COPPER_OHM_MM2_M = 0.0178
PHASE_SHARE = math.sqrt(2.0 / 3.0)
BRIEFLY_A_MM2 = 15.0  # silicone stands it for the seconds of full throttle in moving air: a working assumption
FILL = 0.7  # of a round strand that is copper
SECTIONS_MM2 = (0.05, 0.08, 0.14, 0.25, 0.34, 0.5, 0.75, 1.0, 1.5, 2.0, 2.5, 3.3, 4.0, 5.3, 6.0, 8.4, 10.0)
COAT_MM = ((0.1, 0.25), (0.5, 0.4), (2.0, 0.6), (math.inf, 0.9))  # up to so many mm2, the silicone is so thick


def section_mm2(current_a: float) -> float:
    """The thinnest wire sold that stands a current briefly; the thickest of them where none does."""
    return next((s for s in SECTIONS_MM2 if current_a <= BRIEFLY_A_MM2 * s), SECTIONS_MM2[-1])


def gram_per_m(section: float) -> float:
    """Copper and silicone of a metre of one wire."""
    core = math.sqrt(4 * section / FILL / math.pi)
    coat = next(t for up_to, t in COAT_MM if section <= up_to)
    return COPPER_G_CM3 * section + SILICONE_G_CM3 * math.pi * coat * (core + coat)


def drop_v(length_mm: float, current_a: float, section: float) -> float:
    """Voltage lost along one wire."""
    return COPPER_OHM_MM2_M * length_mm * 1e-3 * current_a / section
