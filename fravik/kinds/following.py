"""Places of parts of which there is one at every station."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from fravik.model.project import Part, Project
from fravik.shape.stations import Floats, Station

from .base import Posed


def one_each(part: Part, project: Project, stations: Sequence[Station], pose: Callable[[Station], Floats]) -> list[Posed]:
    """One station after another; copies of an earlier part of the same kind have theirs already."""
    first = 0
    for other in project.parts:
        if other.id == part.id:
            break
        if other.shape.kind == part.shape.kind:
            first += other.count
    mine = [stations[(first + k) % len(stations)] for k in range(part.count)]
    # what stands where no rotor does follows none
    return [Posed(pose(s), s.id if s.spin else None) for s in mine]
