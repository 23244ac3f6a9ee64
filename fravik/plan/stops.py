"""Where a batch pauses."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from fravik.model.laying import PAUSE_LABELS, Pause

from .place import Stop

Floats = NDArray[np.float64]
HEIGHT_MM = 0.02  # layers' heights are the same within this


def stops_of(pauses: Sequence[Pause], tops_mm: Floats, seconds: Floats, warm_min: float) -> tuple[Stop, ...]:
    """Where a batch pauses, lowest first: with the layer done that ends nearest to the height asked for; none above all layers."""
    at: dict[int, list[Pause]] = {}
    for p in pauses:
        if p.height_mm < float(tops_mm[-1]) - HEIGHT_MM:
            at.setdefault(int(np.abs(tops_mm - p.height_mm).argmin()), []).append(p)
    done = np.cumsum(seconds) / 60 + warm_min
    out = []
    for k in sorted(at):
        why = tuple(dict.fromkeys(p.why for p in at[k]))
        words = ", ".join(PAUSE_LABELS[w].lower() for w in why)
        out.append(Stop(float(tops_mm[k]), float(done[k]), why, f"{words}, at {tops_mm[k]:.1f} mm"))
    return tuple(out)
