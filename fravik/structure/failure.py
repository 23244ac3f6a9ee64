"""Kinds of failure, what a member has in hand against each, and which one governs."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.printing.zones import Floats

from .loadcases import CaseKey

KINDS = ("road pull", "road-to-road", "layer split", "layer shear", "core crush", "wall buckling", "carbon", "bond line",
         "bearing", "bolt tear-out", "joint")  # fmt: skip
ROAD, CROSS, SPLIT, SLIDE, CRUSH, BUCKLE, FIBRE, BOND, BEARING, TEAR, JOINT = range(len(KINDS))
# kinds in which two strengths act together, squares summed
TOGETHER = (CROSS, SPLIT, SLIDE, CRUSH)
BRITTLE_KINDS = frozenset({"layer split", "layer shear", "carbon", "bond line", "joint"})
CAP = 99.0


@dataclass(frozen=True)
class CaseReserves:
    """Reserves of one member in one case: (kinds, positions), capped at CAP; and the governing one."""

    values: Floats
    kind: str
    position_mm: float
    reserve: float
    detail: str = ""

    def envelope(self) -> Floats:
        """Least reserve at each position."""
        return self.values.min(axis=0)


def capped(index: Floats) -> Floats:
    """Strength over stress, at most CAP, from stress over strength."""
    return np.asarray(1.0 / np.maximum(index, 1.0 / CAP))


def ratio(strength: float, stress: Floats) -> Floats:
    """Strength over stress, at most CAP."""
    return np.minimum(strength / np.maximum(stress, strength / CAP), CAP)


def governing(
    values: Floats, names: list[CaseKey], positions_mm: Floats, joints: list[str], ends: list[str]
) -> list[dict[CaseKey, CaseReserves]]:
    """At each corner every case's reserves (corners, kinds, positions, cases) with the kind and position of its least; ``joints`` and
    ``ends`` say what a corner's root joint, and what holds at its end, fail by."""
    corners, kinds, positions, cases = values.shape
    flat = values.reshape(corners, kinds * positions, cases)
    least = flat.argmin(axis=1)
    found = np.take_along_axis(flat, least[:, None], axis=1)[:, 0].tolist()
    where = positions_mm.tolist()
    out = []
    for mine, joint, end, places, reserves in zip(values, joints, ends, least.tolist(), found, strict=True):
        each = {}
        for c, (name, at, reserve) in enumerate(zip(names, places, reserves, strict=True)):
            k, i = divmod(at, positions)
            detail = "" if k != JOINT else joint if i == 0 else end
            each[name] = CaseReserves(mine[:, :, c], KINDS[k], where[i], reserve, detail)
        out.append(each)
    return out
