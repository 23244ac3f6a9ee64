"""Stress raisers: shoulder fillets and holes by published fits, scaled by the filament's notch sensitivity.

Shoulder fillet in a flat bar: Young and Budynas, Roark's Formulas, table of stress concentration factors (stepped flat bar,
in-plane bending and tension). Hole in a finite strip: Heywood. Out of plane, a thin plate's hole carries
(5 + 3v)/(3 + v) against 3 in tension; shoulders are scaled by the same share.
"""

from __future__ import annotations

import numpy as np

_BENDING = (
    ((1.007, 1.000, -0.031), (-0.270, -2.404, 0.749), (0.677, 1.133, -0.904), (-0.414, 0.271, 0.186)),
    ((1.042, 0.982, -0.036), (-3.599, 1.619, -0.431), (6.084, -5.607, 1.158), (-2.527, 3.006, -0.691)),
)
_TENSION = (
    ((1.007, 1.000, -0.031), (-0.114, -0.585, 0.314), (0.241, -0.992, -0.271), (-0.134, 0.577, -0.012)),
    ((1.042, 0.982, -0.036), (-0.074, -0.156, -0.010), (-3.418, 1.220, -0.005), (3.450, -2.046, 0.051)),
)
OUT_OF_PLANE_SHARE = ((5 + 3 * 0.36) / (3 + 0.36) - 1) / 2


def _shoulder(table: tuple[tuple[tuple[float, ...], ...], ...], radius: float, narrow: float, wide: float) -> float:
    h = (wide - narrow) / 2
    if h <= 0 or narrow <= 0:
        return 1.0
    ratio = min(max(h / max(radius, 1e-6), 1e-9), 20.0)
    if ratio < 0.1:
        # below the fit's range the factor closes on 1 with the root of the step
        return 1.0 + (_shoulder(table, h / 0.1, narrow, wide) - 1.0) * (ratio / 0.1) ** 0.5
    rows = table[0] if ratio <= 2.0 else table[1]
    x = 2 * h / wide
    c = [r[0] + r[1] * ratio**0.5 + r[2] * ratio for r in rows]
    return max(1.0, c[0] + c[1] * x + c[2] * x**2 + c[3] * x**3)


def shoulder_bending(radius_mm: float, narrow_mm: float, wide_mm: float) -> float:
    """Kt of a stepped flat bar bent in its plane, on the narrow bar's nominal stress. Fit range 0.1 <= h/r <= 20."""
    return _shoulder(_BENDING, radius_mm, narrow_mm, wide_mm)


def shoulder_tension(radius_mm: float, narrow_mm: float, wide_mm: float) -> float:
    """Kt of a stepped flat bar in tension, on the narrow bar's nominal stress."""
    return _shoulder(_TENSION, radius_mm, narrow_mm, wide_mm)


def shoulder_out_of_plane(radius_mm: float, narrow_mm: float, wide_mm: float) -> float:
    """Kt of the same step when the bar bends out of its plane: the tension factor's excess, scaled."""
    return 1.0 + OUT_OF_PLANE_SHARE * (shoulder_tension(radius_mm, narrow_mm, wide_mm) - 1.0)


def hole_tension(diameter_mm: float, width_mm: float) -> float:
    """Kt of a central hole in a strip on the net section (Heywood): 2 + (1 - d/W)^3."""
    return 2.0 + (1.0 - min(diameter_mm / max(width_mm, 1e-9), 1.0)) ** 3


def slot_tension(width_mm: float, corner_mm: float, strip_mm: float) -> float:
    """Kt of a slot across the load with rounded corners: the hole's excess grown with the root of half-width over radius."""
    r = max(min(corner_mm, width_mm / 2), 1e-3)
    return 1.0 + (hole_tension(width_mm, strip_mm) - 1.0) * float(np.sqrt(width_mm / 2 / r))


def notched(kt: float, sensitivity: float) -> float:
    """Effective factor of a filament with notch sensitivity 0 to 1: 1 + q (Kt - 1)."""
    return 1.0 + sensitivity * (kt - 1.0)
