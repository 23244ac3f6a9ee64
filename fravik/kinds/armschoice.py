"""Which arms serve a new craft whose maker leaves them open: printed ones, unless they are too long for the bed or would meet in the
middle."""

from __future__ import annotations

from dataclasses import replace

from fravik.model.project import Project

from .asking import printed_parts
from .newcraft import SMALL_MM, UNNAMED, Wish, off_bed, sized
from .registry import kind_of

ANY = "any"
PRINTED = "arm"
GOES = {
    "frame": "A frame plate, arms and middle in one piece, goes there.",
    "bar_arm": "Carbon tube in printed clamps goes there.",
}
SHORT = {"arm": "printed", "bar_arm": "carbon tubes", "frame": "in one piece"}
WHY = {  # none where they are as they usually are
    "bar_arm": "Arms of carbon tube in printed clamps, as printed ones would be longer than the bed.",
    "frame": "Arms in one piece with the middle, as arms of their own would meet there.",
}


def with_arms(wish: Wish, name: str = UNNAMED) -> tuple[Wish, Project]:
    """The wish with arms that serve it, where it leaves them open (``ANY``), and the craft that comes of it.

    Raises ValueError when the wishes leave no craft, with which of them to give up.
    """
    if wish.arms != ANY:
        try:
            return wish, sized(wish, name)
        except ValueError as err:
            instead = _instead(wish, name)
            if instead is None:
                raise
            raise ValueError(f"{err} {GOES[instead[0].arms]}") from None
    plain = replace(wish, arms=PRINTED)
    try:
        made = sized(plain, name)
    except ValueError:
        instead = _instead(wish, name)
        if instead is None:
            raise
        return instead
    if _arms_lie(made):
        return plain, made
    try:
        barred = replace(wish, arms="bar_arm")
        return barred, sized(barred, name)
    except ValueError:
        return plain, made


def _arms_lie(made: Project) -> bool:
    """Whether all printed arms lie on the bed."""
    arms = [p for p in printed_parts(made) if kind_of(p.shape).carries_rotor]
    return not off_bed(made.model_copy(update={"parts": tuple(arms)}))


def _instead(wish: Wish, name: str) -> tuple[Wish, Project] | None:
    """What goes where printed arms do not: one piece for a small craft, bars for a large one."""
    small = (wish.motor_to_motor_mm or 0.0) < SMALL_MM
    for arms in (a for a in (("frame", "bar_arm") if small else ("bar_arm", "frame")) if a != wish.arms):
        other = replace(wish, arms=arms)
        try:
            return other, sized(other, name)
        except ValueError:
            continue
    return None
