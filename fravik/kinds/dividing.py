"""A part told where its copies stand: as many as the stations it names, and of arms the others at what is left."""

from __future__ import annotations

from fravik.model.project import Part, Project

from .base import Edits
from .following import stands_alike
from .registry import kind_of


def divided(project: Project, part_id: str, at: tuple[str, ...]) -> Edits:
    """The edits that stand a part at stations of its own; none names what is left.

    Every station has an arm and no more: those that other arms named go over to this one, and who names none takes what no one has.
    """
    me = project.part(part_id)
    out: list[tuple[str, object]] = [(f"parts.{part_id}.at", at)]
    alike = [p for p in project.parts if stands_alike(p, me)]
    ids = [s.id for s in kind_of(me.shape).stations(project)]
    if at:
        out.append((f"parts.{part_id}.count", len(at)))
    if kind_of(me.shape).seat != "root":
        return tuple(out)
    left = [i for i in ids if i not in at]
    named = {p.id: tuple(i for i in p.at if i in left) for p in alike if p.id != part_id and p.at}
    for k, theirs in named.items():
        if theirs != project.part(k).at:  # who keeps none takes what is left
            out += [(f"parts.{k}.at", theirs), *([(f"parts.{k}.count", len(theirs))] if theirs else [])]
    rest = len(left) - sum(len(t) for t in named.values())
    open_ones = [p.id for p in alike if not (at if p.id == part_id else named.get(p.id, p.at))]
    if len(open_ones) == 1 and rest > 0:
        out.append((f"parts.{open_ones[0]}.count", rest))
    return tuple(out)


def with_another_arm(project: Project, new: Part) -> tuple[Part, ...]:
    """The parts with a second kind of arm, at the stations ahead where all have an arm already; as they are and it where not."""
    parts = (*project.parts, new)
    alike = [p for p in project.parts if stands_alike(p, new)]
    every = kind_of(new.shape).stations(project)
    if kind_of(new.shape).seat != "root" or len(alike) != 1 or alike[0].count != len(every):
        return parts
    ahead = tuple(s.id for s in every if s.x_mm > 0) or tuple(s.id for s in every[: len(every) // 2])
    if not 0 < len(ahead) < len(every):
        return parts
    mine = new.model_copy(update={"at": ahead, "count": len(ahead)})
    rest = alike[0].model_copy(update={"at": (), "count": len(every) - len(ahead)})
    return tuple(mine if p is new else rest if p is alike[0] else p for p in parts)


def without(project: Project, part_id: str) -> tuple[Part, ...]:
    """The parts less one; where it was one of two kinds of arm, the other takes its stations."""
    gone = project.part(part_id)
    kept = tuple(p for p in project.parts if p.id != part_id)
    alike = [p for p in kept if stands_alike(p, gone)]
    every = kind_of(gone.shape).stations(project)
    if kind_of(gone.shape).seat != "root" or len(alike) != 1 or alike[0].count + gone.count != len(every):
        return kept
    rest = alike[0].model_copy(update={"at": (), "count": len(every)})
    return tuple(rest if p is alike[0] else p for p in kept)
