"""Stress raisers: shoulder fillets, holes, slots and bent bars, to be scaled by the filament's notch sensitivity.

Shoulder fillets in a flat bar: a table of fine plane-stress models (``tools/notch_table.py``), which agrees with the published fits
within 5 % where these are reliable and goes on to sharper corners, where they fall short. Bent flatwise, a shoulder's factor depends on
its radius over the bar's thickness: a table of solid models (``tools/flatwise_table.py``). Hole in a finite strip: Heywood in tension, and
out of plane the fit of Reissner's plates in Pilkey and Pilkey (Peterson's Stress Concentration Factors), 1.79 when thin to 3 when thick.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from functools import cache

import numpy as np
from numpy.typing import NDArray

from fravik.library import flatwise_table, notch_table


@cache
def _logs(load: str) -> tuple[list[float], list[float], list[list[float]]]:
    """The table in logarithms: radius, step, and excess over 1."""
    t = notch_table()
    return np.log(t["radius"]).tolist(), np.log(t["wide"] - 1.0).tolist(), np.log(t[load] - 1.0).tolist()


def _shoulder(load: str, radius: float, narrow: float, wide: float) -> float:
    step = (wide - narrow) / max(narrow, 1e-9)
    if step <= 1e-6 or narrow <= 0:
        return 1.0
    r, w, excess = _logs(load)
    at_r, at_w = math.log(max(radius, 1e-4) / narrow), min(math.log(step), w[-1])
    i, j = (min(max(bisect_left(table, at) - 1, 0), len(table) - 2) for table, at in ((r, at_r), (w, at_w)))
    # beyond the table the excess goes on along its last slope
    u, v = (at_r - r[i]) / (r[i + 1] - r[i]), (at_w - w[j]) / (w[j + 1] - w[j])
    a = excess[i][j] * (1 - u) + excess[i + 1][j] * u
    b = excess[i][j + 1] * (1 - u) + excess[i + 1][j + 1] * u
    return 1.0 + math.exp(min(a * (1 - v) + b * v, 4.0))


def shoulder_bending(radius_mm: float, narrow_mm: float, wide_mm: float) -> float:
    """Kt of a stepped flat bar bent in its plane, on the narrow bar's nominal stress."""
    return _shoulder("bending", radius_mm, narrow_mm, wide_mm)


def shoulder_tension(radius_mm: float, narrow_mm: float, wide_mm: float) -> float:
    """Kt of a stepped flat bar in tension, on the narrow bar's nominal stress."""
    return _shoulder("tension", radius_mm, narrow_mm, wide_mm)


@cache
def _flatwise() -> tuple[list[list[float]], NDArray[np.float64]]:
    """The table in logarithms: its axes (radius over narrow, radius over thickness, step) and excess over 1."""
    t = flatwise_table()
    axes = [np.log(t["radius"]).tolist(), np.log(t["thick"]).tolist(), np.log(t["wide"] - 1.0).tolist()]
    return axes, np.log(t["factor"] - 1.0)


def shoulder_flatwise(radius_mm: float, narrow_mm: float, wide_mm: float, thick_mm: float) -> float:
    """Kt of a stepped bar bent out of its plane, on the narrow bar's nominal stress; ``thick_mm`` is the way it bends.

    Between the table's places the excess over 1 is interpolated by its logarithm; beyond them it goes on along its last slope, but
    beside a step wider than the table's it stays.
    """
    step = (wide_mm - narrow_mm) / max(narrow_mm, 1e-9)
    if step <= 1e-6 or narrow_mm <= 0:
        return 1.0
    axes, excess = _flatwise()
    radius = max(radius_mm, 1e-4)
    at = (math.log(radius / narrow_mm), math.log(radius / max(thick_mm, 1e-6)), min(math.log(step), axes[2][-1]))
    values = excess
    for table, x in zip(axes, at, strict=True):
        i = min(max(bisect_left(table, x) - 1, 0), len(table) - 2)
        u = (x - table[i]) / (table[i + 1] - table[i])
        values = values[i] * (1 - u) + values[i + 1] * u
    return 1.0 + math.exp(min(float(values), 4.0))


def flatwise_share(diameter_mm: float, thick_mm: float) -> float:
    """Excess of a round hole's factor in a plate bent out of its plane over that in tension, by diameter over thickness."""
    x = max(diameter_mm, 0.0) / max(thick_mm, 1e-6)
    return (0.79 + 0.25 / (0.39 + x) + 0.81 / (1 + x * x) - 0.26 / (1 + x**3)) / 2.0


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


def curved_bar(inner_radius_mm: float, depth_mm: float) -> float:
    """Stress at the inside of a curved rectangular bar over that of a straight one in bending (Winkler and Bach)."""
    r_i, w = max(inner_radius_mm, 1e-3), depth_mm
    mean = r_i + w / 2
    e = mean - w / math.log1p(w / r_i)  # exact for a slight bend too, where both sides are nearly alike
    return (w / 2 - e) / (w * e * r_i) * w**2 / 6


def stiffness_step(bare_nmm2: float, reinforced_nmm2: float) -> float:
    """Factor where a stiff insert stops: half the share of the load that it hands back. A working assumption."""
    return 1.0 + 0.5 * max(0.0, 1.0 - bare_nmm2 / max(reinforced_nmm2, 1e-9))
