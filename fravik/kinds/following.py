"""Who stands at which station: copies where their part says, the others at those that are left."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from fravik.model.project import Part, Project
from fravik.model.shapes import RootedArm
from fravik.shape.stations import Floats, Station

from .base import Posed


def shared_out(parts: Sequence[Part], ids: Sequence[str]) -> dict[str, tuple[int, ...]]:
    """Which of the stations ``ids`` the copies of parts of one kind stand at, by part.

    A part may name its own; what is left goes one after another to the copies that name none. More copies than stations begin anew.
    """
    named = {i for p in parts for i in p.at}
    free = [k for k, i in enumerate(ids) if i not in named] or list(range(len(ids)))
    out: dict[str, tuple[int, ...]] = {}
    taken = 0
    for part in parts:
        mine = [ids.index(i) for i in part.at if i in ids][: part.count]
        more = part.count - len(mine)
        mine += [free[(taken + k) % len(free)] for k in range(more)] if free else []
        taken += more
        out[part.id] = tuple(mine)
    return out


def stands_alike(one: Part, other: Part) -> bool:
    """Whether two parts share the same stations among them: those of one kind, and all arms."""
    return one.shape.kind == other.shape.kind or (isinstance(one.shape, RootedArm) and isinstance(other.shape, RootedArm))


def one_each(part: Part, project: Project, stations: Sequence[Station], pose: Callable[[Station], Floats]) -> list[Posed]:
    """Where the copies of a part of which there is one at a station stand."""
    alike = [p for p in project.parts if stands_alike(p, part)]
    mine = [stations[k] for k in shared_out(alike, [s.id for s in stations])[part.id]]
    # what stands where no rotor does follows none
    return [Posed(pose(s), s.id if s.spin else None) for s in mine]
