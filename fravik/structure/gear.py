"""A pair of printed spur gears between a servo and an axis: what its teeth bear, and whether it holds by itself.

Tooth bending by Lewis 1892: stress = force / (module face Y), force at the pitch circle; Y of full-depth teeth at 20 degrees by his table.
Driven back, of what comes from the axis 2 - 1 / efficiency arrives: at half or less, nothing (holds by itself).
"""

from __future__ import annotations

import numpy as np

# Lewis' form factor over teeth, 20 degrees full depth, load at the tip
TEETH = (12, 14, 16, 18, 20, 24, 30, 40, 60, 80)
FORM = (0.245, 0.277, 0.296, 0.309, 0.322, 0.337, 0.359, 0.389, 0.422, 0.436)


def tooth_mpa(torque_nmm: float, module_mm: float, teeth: int, face_mm: float) -> float:
    """Bending stress at the root of the pinion's tooth under a torque of the pinion."""
    force = 2 * torque_nmm / (module_mm * teeth)
    return force / (module_mm * face_mm * float(np.interp(teeth, TEETH, FORM)))


def back_share(efficiency: float) -> float:
    """Of a torque on the driven axis, what arrives at the driver by way of friction: 0 where the pair holds by itself."""
    return max(2 - 1 / max(efficiency, 1e-9), 0.0)
