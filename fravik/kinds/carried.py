"""Which bought thing stands on which mount."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from fravik.model.project import Part, Project
from fravik.structure.craft.body import G_TO_T

from .asking import places_of
from .registry import kind_of
from .whole import placed_components

ALIKE = 0.1  # a block and what a mount is made for weigh the same within this


def on_mounts(project: Project, mounts: Sequence[Part]) -> dict[str, str]:
    """Which block each mount carries, by part: the nearest of about the mass that it is made for."""
    out: dict[str, str] = {}
    for part in mounts:
        tip = kind_of(part.shape).tip(part, part.shape, project)
        grams = tip.mass_t / G_TO_T if tip is not None else 0.0
        like = [b for b in placed_components(project) if b.kind == "block" and b.id not in out.values()
                and abs(b.mass.mass_g - grams) <= ALIKE * grams]  # fmt: skip
        if like:
            root = places_of(part, project)[0].at_mm
            out[part.id] = min(like, key=lambda b: float(np.linalg.norm(b.centre_mm - root))).id
    return out
