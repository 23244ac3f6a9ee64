"""Bought things that run into parts or into each other."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from itertools import combinations

from manifold3d import Manifold

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.shape.clash import Clash, apart_mm, bounds, clash
from fravik.study.findings import Cure, Finding, Weight

from .bodies import Copy, Thing, copies, near, placed, things

# what presses into rubber, tape or a strap, and what a box about a rounded thing claims too much
GIVES_MM = 0.5
DEEP_MM = 3.0
ROOM_MM = 0.5  # left between two things by a cure


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """One finding for each thing and what it runs into; of several copies of a part the worst."""
    every = things(result)
    yield from _in_parts(engine, result, every)
    for a, b in combinations(every, 2):
        shared = _between(engine, a, b)
        if shared is None or shared.depth_mm <= GIVES_MM:
            continue
        moved = a if _smaller(a, b) else b
        still = b if moved is a else a
        yield Finding(
            f"fit.clash:{a.id}:{b.id}", _weight(shared), "Airframe", moved.path, moved.name,
            f"It does not go in beside {_low(still.name)}.",
            f"The two share {shared.volume_mm3 / 1000:.1f} cm³, {shared.depth_mm:.1f} mm deep.", "", _moves(result, moved, still.body),
        )  # fmt: skip


def _in_parts(engine: Engine, result: Evaluation, every: list[Thing]) -> Iterable[Finding]:
    all_copies = copies(result)
    for thing in every:
        worst: dict[str, tuple[Clash, Copy]] = {}
        for copy in all_copies:
            shared = _within(engine, thing, copy)
            if shared is not None and shared.depth_mm > max(GIVES_MM, worst[copy.part_id][0].depth_mm if copy.part_id in worst else 0.0):
                worst[copy.part_id] = (shared, copy)
        for part_id, (shared, copy) in worst.items():
            yield Finding(
                f"fit.clash:{thing.id}:{part_id}", _weight(shared), "Airframe", thing.path, thing.name,
                f"It does not go in: it runs into {_low(copy.name)}.",
                f"The two share {shared.volume_mm3 / 1000:.1f} cm³, {shared.depth_mm:.1f} mm deep.", "",
                _moves(result, thing, placed(engine, copy)),
            )  # fmt: skip


def gaps(engine: Engine, result: Evaluation, reach_mm: float = 20.0) -> list[dict[str, object]]:
    """For each thing what stands nearest to it: ``gap_mm`` is below nothing by how deep they run into each other."""
    every, rows = things(result), []
    parts = [(c.part_id, c.key, near(engine, c), partial(placed, engine, c)) for c in copies(result)]
    boxes = [(t.id, t.key, bounds(t.body), partial(getattr, t, "body")) for t in every]
    for thing in every:
        span = bounds(thing.body)
        others = (*parts, *(b for b in boxes if b[0] != thing.id))
        around = [(apart_mm(box, span), name, key, body) for name, key, box, body in others]
        best = ("", reach_mm)
        for apart, name, key, body in sorted(around, key=lambda a: a[0]):
            if apart > 0.0 and apart >= best[1]:
                break  # no body farther off by its box can be nearer
            gap = engine.memo.get("gap", (thing.key, key), lambda b=body, t=thing: _gap_mm(t.body, b(), reach_mm))  # type: ignore[misc]
            if gap < best[1]:
                best = (name, gap)
        rows.append({"item": thing.id, "against": best[0], "gap_mm": best[1]})
    return rows


def _gap_mm(a: Manifold, b: Manifold, reach_mm: float) -> float:
    shared = clash(a, b)
    return -shared.depth_mm if shared is not None else float(min(a.min_gap(b, reach_mm), reach_mm))


def _within(engine: Engine, thing: Thing, copy: Copy) -> Clash | None:
    if apart_mm(near(engine, copy), bounds(thing.body)) > 0.0:
        return None
    return engine.memo.get("clash", (thing.key, copy.key), lambda: (clash(thing.body, placed(engine, copy)),))[0]


def _between(engine: Engine, a: Thing, b: Thing) -> Clash | None:
    return engine.memo.get("clash", (a.key, b.key), lambda: (clash(a.body, b.body),))[0]


def _weight(shared: Clash) -> Weight:
    return "grave" if shared.depth_mm > DEEP_MM else "likely"


def _smaller(a: Thing, b: Thing) -> bool:
    return float(a.size_mm.prod()) <= float(b.size_mm.prod())


def _low(name: str) -> str:
    return f"the {name[0].lower()}{name[1:]}"


def _moves(result: Evaluation, thing: Thing, other: Manifold) -> tuple[Cure, ...]:
    """The shortest ways past the other body along the axes, and for a box that stands for wires, that."""
    low, high = bounds(other)
    half = thing.size_mm / 2
    out: list[tuple[float, Cure]] = []
    ways = (("x_mm", 0, "forward", "back"), ("z_mm", 2, "up", "down")) if thing.id == "battery" else (
        ("x_mm", 0, "forward", "back"), ("y_mm", 1, "left", "right"), ("z_mm", 2, "up", "down"))  # fmt: skip
    for name, k, more, less in ways:
        here = float(thing.centre_mm[k])
        for to, word in ((float(high[k] + half[k] + ROOM_MM), more), (float(low[k] - half[k] - ROOM_MM), less)):
            way = abs(to - here)
            if way > 1e-6:
                at = round(to, 1)
                out.append((way, Cure(f"{thing.name} {way:.0f} mm {word}", ((f"{thing.path}.{name}", at),))))
    out.sort(key=lambda pair: pair[0])
    return tuple(c for _, c in out[:4])
