"""Hinges of control surfaces: a printed pin in its knuckles, a glued strip of rubber, plastic thin enough to bend.

Bending plastic is strained at its faces by thickness x turn / (2 x length that bends). How often it lasts: universal slopes (Manson
1965) with
the plastic's own break,

    range = 3.5 (s/E) N^-0.12 + (break strain)^0.6 N^-0.6,

range being twice the strain either way; for metals, here a working assumption about plastics. A pin is sheared on two faces a knuckle.
Rubber
peels at its glue's edge.
"""

from __future__ import annotations

import math

from scipy.optimize import brentq

ELASTIC_POWER, ELASTIC_SHARE, PLASTIC_POWER = -0.12, 3.5, -0.6
KNUCKLE_MM = 25.0  # a knuckle for each so much of the hinge: a working assumption
PEEL_N_MM = 1.0  # rubber glued on a roughened print: a working assumption
MOST_TURNS = 1e7


def bending_strain(thick_mm: float, gap_mm: float, turn_rad: float) -> float:
    """At the faces of a strip that takes up all of the turn evenly."""
    return thick_mm * turn_rad / (2 * gap_mm)


def bending_nmm(e_mpa: float, thick_mm: float, gap_mm: float, span_mm: float, turn_rad: float) -> float:
    """Torque that the strip gives back, as long as it is elastic."""
    return e_mpa * span_mm * thick_mm**3 / 12 * turn_rad / gap_mm


def turns_till_broken(strain: float, yields_at: float, breaks_at: float) -> float:
    """How often a strip bends to ``strain`` either way before it cracks; 0 where the first does it."""
    if strain >= breaks_at:
        return 0.0

    def over(log_n: float) -> float:
        n = math.exp(log_n)
        return ELASTIC_SHARE * yields_at * n**ELASTIC_POWER + breaks_at**-PLASTIC_POWER * n**PLASTIC_POWER - 2 * strain

    top = math.log(MOST_TURNS)
    if over(top) >= 0:
        return MOST_TURNS
    if over(0.0) <= 0:
        return 1.0
    return math.exp(brentq(over, 0.0, top, xtol=1e-6))


def pin_use(force_n: float, pin_mm: float, span_mm: float, shear_mpa: float) -> float:
    """Shear in a pin over what it stands: two faces for each knuckle."""
    knuckles = max(int(span_mm // KNUCKLE_MM), 2)
    return force_n / knuckles / (2 * math.pi / 4 * pin_mm**2) / shear_mpa


def peel_use(force_n: float, span_mm: float) -> float:
    """Pull along a glued strip over what its glue's edge stands."""
    return force_n / (PEEL_N_MM * span_mm)
