"""How far off its pilot can still see which way a craft leans.

Which way a thing is turned is told by half of all observers when 1.4 pairs of lines across its critical size can be resolved (a published
criterion; the critical size is the root of the area that is seen), and by nearly all at twice that. A good eye resolves lines one minute
of arc apart. Limits: clear air, a craft that stands out against the sky, an eye that is on it; dusk, haze and a bright sky take more than
half of it away. Local rules on keeping it in sight come first.
"""

from __future__ import annotations

import math

LINE_RAD = math.radians(1 / 60)
PAIRS = 1.4
SURE = 2.0  # times as many lines for nearly all instead of half of all observers


def attitude_seen_m(area_mm2: float, pairs: float = PAIRS) -> float:
    """Distance at which so many pairs of lines are resolved across the root of an area."""
    return math.sqrt(max(area_mm2, 0.0)) * 1e-3 / (2 * pairs * LINE_RAD)
