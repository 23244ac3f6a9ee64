"""What a section of a wing does: from the shipped table by thickness and camber, and what its own middle line changes.

A section of the maker's own is taken as the four-digit one as thick and as cambered, with its angle of no lift and its moment moved by
what thin aerofoil theory (Glauert 1926) gives for its own middle line over the other's. A plain flap moves lift and moment by the same
theory, less what real flaps fall short (after McCormick 1979, figure 3.19), and drags by Young 1953.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.shape.wing import four_digit_slope

Floats = NDArray[np.float64]
ANGLES = 200
FLAP_SMALL_RAD, FLAP_GOOD, FLAP_LEAST = (
    math.radians(10),
    0.85,
    0.45,
)  # up to which a flap gives so much of thin aerofoil theory; past 40 deg
FLAP_LARGE_RAD = math.radians(40)


@dataclass(frozen=True)
class Section:
    """Thickness and camber over the chord, and how its angle of no lift (rad) and its moment differ from the four-digit section's."""

    thickness: float
    camber: float
    no_lift_rad: float = 0.0
    moment: float = 0.0


def thin_aerofoil(slope: Floats, theta: Floats) -> tuple[float, float]:
    """Angle of no lift (rad) and moment about the quarter chord of a middle line with ``slope`` at x = (1 - cos theta) / 2: Glauert."""
    a0 = -float(np.trapezoid(slope * (np.cos(theta) - 1), theta)) / math.pi
    a1 = 2 / math.pi * float(np.trapezoid(slope * np.cos(theta), theta))
    a2 = 2 / math.pi * float(np.trapezoid(slope * np.cos(2 * theta), theta))
    return a0, math.pi / 4 * (a2 - a1)


def own_section(points: Floats) -> Section:
    """From an outline (n, 2) over the chord, from the trailing edge over the top and back. Raises ValueError where it is none."""
    if len(points) < 12 or not np.isfinite(points).all():
        raise ValueError("a section wants 12 points or more")
    nose = int(points[:, 0].argmin())
    if nose < 4 or nose > len(points) - 5:
        raise ValueError("its points do not go from the trailing edge over the top to the nose and back")
    top, low = points[nose::-1], points[nose:]
    if (np.diff(top[:, 0]) < -1e-9).any() or (np.diff(low[:, 0]) < -1e-9).any():
        raise ValueError("its points turn back on themselves between nose and trailing edge")
    theta = np.linspace(0.0, math.pi, ANGLES)
    x = (1 - np.cos(theta)) / 2
    start, long = points[nose, 0], max(points[0, 0], points[-1, 0]) - points[nose, 0]
    if long < 0.5:
        raise ValueError("its chord is not near 1: points are over the chord")
    up, down = (np.interp(x, (s[:, 0] - start) / long, s[:, 1] / long) for s in (top, low))
    if (up - down)[5:-5].min() <= 0:
        raise ValueError("its top lies under its bottom")
    middle, thick = (up + down) / 2, float((up - down).max())
    middle = middle - (middle[0] + (middle[-1] - middle[0]) * x)
    camber = float(middle[np.abs(middle).argmax()])
    slope = np.gradient(middle, theta) / np.maximum(np.sin(theta) / 2, 1e-3)
    like = min(max(camber, 0.0), 0.08)
    own, other = thin_aerofoil(slope, theta), thin_aerofoil(four_digit_slope(like, x), theta)
    return Section(thick, like, own[0] - other[0], own[1] - other[1])


def flap_effect(share: float) -> tuple[float, float]:
    """What a plain flap of a share of the chord does by thin aerofoil theory: turn of the angle of no lift over its own, and moment about
    the quarter chord for a radian (nose down: negative)."""
    hinge = math.acos(2 * share - 1)
    return 1 - (hinge - math.sin(hinge)) / math.pi, -0.5 * math.sin(hinge) * (1 - math.cos(hinge))
