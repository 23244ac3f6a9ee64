"""A pair of printed spur gears between a servo and an axis: what its teeth bear, how they wear, and whether it holds by itself.

Tooth bending by Lewis 1892: stress = force / (module face Y), force at the pitch circle; Y of full-depth teeth at 20 degrees by his table.
Driven back, of what comes from the axis 2 - 1 / efficiency arrives: at half or less, nothing (holds by itself).

Wear by Archard 1953: volume = coefficient x force x way that is slid. What a tooth slides under its load in one mesh is, over torque
times the
angle turned, the pair's tooth-loss factor (Ohlendorf 1958)

    H = pi (1/z1 + 1/z2) (1 - e + e1^2 + e2^2),

e1 and e2 the parts of the contact ratio before and after the pitch point; the volume is spread over the tooth's working flank.
"""

from __future__ import annotations

import math

import numpy as np

from fravik.model.material import Spread

# Lewis' form factor over teeth, 20 degrees full depth, load at the tip
TEETH = (12, 14, 16, 18, 20, 24, 30, 40, 60, 80)
FORM = (0.245, 0.277, 0.296, 0.309, 0.322, 0.337, 0.359, 0.389, 0.422, 0.436)
PRESSURE_RAD = math.radians(20.0)
# printed teeth on printed teeth, from greased to dry: mm3 over N m slid; a working assumption, and a wide one
WEAR_MM3_NM = Spread(2e-6, 2e-5, 2e-4)
WORN_OUT = 0.2  # of the module, off a flank: then teeth no longer mesh as they should; a working assumption


def tooth_mpa(torque_nmm: float, module_mm: float, teeth: int, face_mm: float) -> float:
    """Bending stress at the root of the pinion's tooth under a torque of the pinion."""
    force = 2 * torque_nmm / (module_mm * teeth)
    return force / (module_mm * face_mm * float(np.interp(teeth, TEETH, FORM)))


def back_share(efficiency: float) -> float:
    """Of a torque on the driven axis, what arrives at the driver by way of friction: 0 where the pair holds by itself."""
    return max(2 - 1 / max(efficiency, 1e-9), 0.0)


def approach(teeth: int, other: int) -> float:
    """Part of the contact ratio that the tips of a wheel of ``teeth`` make; of full-depth teeth with addendum of one module."""
    base, tip = teeth / 2 * math.cos(PRESSURE_RAD), teeth / 2 + 1
    way = math.sqrt(tip**2 - base**2) - teeth / 2 * math.sin(PRESSURE_RAD)
    # no farther than where the other wheel's involute begins
    way = min(way, other / 2 * math.sin(PRESSURE_RAD))
    return way / (math.pi * math.cos(PRESSURE_RAD))


def loss_factor(teeth: int, other: int) -> float:
    """Way slid under load over way rolled, in one mesh."""
    e1, e2 = approach(teeth, other), approach(other, teeth)
    return math.pi * (1 / teeth + 1 / other) * (1 - (e1 + e2) + e1**2 + e2**2)


def flank_mm(module_mm: float, teeth: int) -> float:
    """Length of a tooth's involute from one module under the pitch circle, or its base circle, to its tip."""
    base, tip = teeth / 2 * math.cos(PRESSURE_RAD), teeth / 2 + 1
    low = max(teeth / 2 - 1, base)
    return module_mm * (tip**2 - low**2) / (2 * base)


def wear_a_mesh_mm(torque_nmm: float, module_mm: float, teeth: int, other: int, face_mm: float, coefficient: float) -> float:
    """Mean depth off a flank of the wheel of ``teeth`` each time that a tooth goes through the mesh under a torque of that wheel;
    ``coefficient`` in mm3/(N m)."""
    slid_nm = torque_nmm * 1e-3 * 2 * math.pi / teeth * loss_factor(teeth, other)
    return coefficient * slid_nm / (flank_mm(module_mm, teeth) * face_mm)


def moves_till_worn(torque_nmm: float, turned_rad: float, module_mm: float, teeth: int, other: int, face_mm: float) -> Spread:
    """How often the pinion makes a move of so far under a mean torque until its most used tooth has lost ``WORN_OUT`` of the module."""
    meshes = max(math.ceil(turned_rad / (2 * math.pi)), 1)
    each = [wear_a_mesh_mm(torque_nmm, module_mm, teeth, other, face_mm, k) * meshes for k in reversed(WEAR_MM3_NM)]
    return Spread(*(WORN_OUT * module_mm / max(d, 1e-15) for d in each))
