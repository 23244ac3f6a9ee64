"""What a rotor's blades pass over: its arm, a guard's struts, a neighbour's leg, wherever one crosses the disk under or over it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Protocol

import numpy as np

from fravik.model.craft import Propeller
from fravik.power.heat import wash_m_s
from fravik.power.momentum import RotorFigures
from fravik.power.pulse import AT, blade_pass_share
from fravik.printing.zones import Floats
from fravik.structure.craft.assemble import Craft
from fravik.structure.member import Member


class Bent(Protocol):
    """A part that is solved as a beam."""

    @property
    def member(self) -> Member: ...


def pulse_of(craft: Craft, solved: Mapping[str, Bent], hub_mm: Floats, propeller: Propeller, own: RotorFigures) -> float:
    """Of a rotor's thrust, what pulses along its shaft as its blades pass over what crosses its disk."""
    radius = AT * propeller.diameter_mm / 2
    crossed = []
    for place, held in craft.places.items():
        part = solved.get(place.rsplit("_", 1)[0])
        if part is not None:
            crossed += _crossings(part.member, held.placed.pose, hub_mm, radius)
    return blade_pass_share(
        propeller.blades, propeller.diameter_mm, crossed, wash_m_s(own.hover_thrust_n, propeller.diameter_mm), own.hover_rpm
    )


def _crossings(member: Member, pose: Floats, hub_mm: Floats, radius_mm: float) -> list[tuple[float, float]]:
    """Half the width and the distance under the blades, wherever a part's middle line crosses a circle about the hub in plan."""
    line = pose[:3, :3] @ member.path.nodes_mm.T + pose[:3, 3:]
    off = np.hypot(line[0] - hub_mm[0], line[1] - hub_mm[1]) - radius_mm
    out = []
    for i in np.flatnonzero(np.diff(np.signbit(off))).tolist():
        k = min(i, len(member.positions_mm) - 1)
        low_y, high_y, low_z, high_z = (float(v[k]) for v in member.tables.extents)
        side, up = member.path.line.frame[k, 1:]
        middle = pose[:3, :3] @ (side * (low_y + high_y) / 2 + up * (low_z + high_z) / 2)
        share = off[i] / (off[i] - off[i + 1])
        out.append(((high_y - low_y) / 2, abs(float(hub_mm[2] - line[2, i] - share * (line[2, i + 1] - line[2, i]) - middle[2]))))
    return out
