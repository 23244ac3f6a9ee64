"""Names beside marks along a line: none over another, and none over a mark where that can be had."""

from __future__ import annotations

from collections.abc import Sequence


def named(marks: Sequence[float], wide: Sequence[float], first: Sequence[int], low: float, high: float) -> dict[int, bool]:
    """Which marks are named, and whether the name stands after its mark; ``first`` says whose name counts most.

    Names as wide as ``wide`` stand between ``low`` and ``high``, all in the units of the line. Who has no room without covering another
    name stays without.
    """
    out: dict[int, bool] = {}
    taken: list[tuple[float, float]] = []
    for k in first:
        sides = {after: (marks[k], marks[k] + wide[k]) if after else (marks[k] - wide[k], marks[k]) for after in (True, False)}
        free = [
            (sum(a < m < b for m in marks), not after)
            for after, (a, b) in sides.items()
            if low <= a and b <= high and all(b <= c or a >= d for c, d in taken)
        ]
        if free:
            out[k] = not min(free)[1]
            taken.append(sides[out[k]])
    return out
