"""Propellers that strike each other, a part, a thing or the ground."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.kinds.newcraft import NEIGHBOUR_MM
from fravik.shape.clash import apart_mm, bounds, gap_mm
from fravik.study.findings import Cure, Finding

from .bodies import copies, corners, disks, near, placed, things
from .standing import ground_mm

# blades bend and arms give: less than this is soon nothing
LEAST_MM = 2.0
GRASS_MM = 10.0
REACH_MM = 25.0
SAME_AXIS_MM = 1.0


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Disk to disk, to every part and thing, and to the ground."""
    yield from _each_other(result)
    yield from _bodies(engine, result)
    yield from _ground(engine, result)


def _each_other(result: Evaluation) -> Iterable[Finding]:
    gap = result.clearances.prop_to_prop_mm
    if not math.isfinite(gap) or gap >= NEIGHBOUR_MM or result.scope.flight:
        return
    layout, drive = result.project.layout, max(drives(result.project), key=lambda d: d.propeller.diameter_mm)
    prop, at = drive.propeller, f"{drive.path}.propeller."
    d = prop.diameter_mm
    # both of two neighbours get smaller, where all are alike
    less = math.floor(d + (gap - NEIGHBOUR_MM) * (1 if len(set(drives(result.project))) == 1 else 2))
    cures: list[Cure] = []
    if layout.kind != "free":
        apart = d + gap
        wide = math.ceil(layout.motor_to_motor_mm * (d + NEIGHBOUR_MM) / max(apart, 1.0))
        if wide <= 1400:
            cures.append(Cure(f"Motors {wide} mm apart", (("layout.motor_to_motor_mm", float(wide)),)))
    if less >= 25:
        pitch = round(prop.pitch_mm * less / d, 1)
        cures.append(Cure(f"Propellers of {less} mm", ((at + "diameter_mm", float(less)), (at + "pitch_mm", pitch))))
    what = "The propellers strike each other." if gap <= 0 else "The propellers all but touch: arms that give let them strike."
    yield Finding("disks.each_other", "grave" if gap <= 0 else "likely", "Airframe", "layout.motor_to_motor_mm", "The layout", what,
                  f"{gap:.0f} mm from disk to disk; {NEIGHBOUR_MM:.0f} mm are the least.", "", tuple(cures), "craft")  # fmt: skip


def nearest(engine: Engine, result: Evaluation) -> dict[str, float]:
    """For every part and bought thing the least gap to any disk in mm, up to REACH_MM."""
    swept = disks(result)
    out: dict[str, float] = {}

    def note(name: str, gap: float) -> None:
        if gap < out.get(name, REACH_MM):
            out[name] = gap

    boxes = [(k, d, bounds(d)) for k, d in swept]
    for copy in copies(result):
        for _, d, b in boxes:
            if apart_mm(near(engine, copy), b) < REACH_MM:
                key = (copy.key, b.tobytes())
                note(copy.part_id, engine.memo.get("disk gap", key, lambda c=copy, d=d: gap_mm(placed(engine, c), d, REACH_MM)))  # type: ignore[misc]
    for thing in things(result):
        for _, d, _ in boxes:
            note(thing.id, gap_mm(thing.body, d, REACH_MM))
    return out


@dataclass(frozen=True)
class Tight:
    """Where a disk is nearest to something: both ends in plan, the gap (below nothing where they overlap), and what it is nearest to."""

    from_mm: tuple[float, float]
    to_mm: tuple[float, float]
    gap_mm: float
    name: str


def tightest(engine: Engine, result: Evaluation) -> tuple[Tight, ...]:
    """The least of the gaps from disk to disk, and the least from a disk to a part or a thing; the latter if it is within REACH_MM."""
    return engine.memo.get("tightest", result.project, lambda: tuple(t for t in (_two_disks(result), _disk_and_body(engine, result)) if t))


def _two_disks(result: Evaluation) -> Tight | None:
    each = [(s.x_mm, s.y_mm, d.propeller.diameter_mm / 2) for s, d in zip(stations(result.project), drives(result.project), strict=True)]
    pairs = [(math.dist(a[:2], b[:2]), a, b) for a, b in combinations(each, 2)]
    apart = [p for p in pairs if p[0] > SAME_AXIS_MM]
    if not apart:
        return None
    far, (ax, ay, a), (bx, by, b) = min(apart, key=lambda p: p[0] - p[1][2] - p[2][2])
    ux, uy = (bx - ax) / far, (by - ay) / far
    return Tight((ax + ux * a, ay + uy * a), (bx - ux * b, by - uy * b), far - a - b, "the next propeller")


def _disk_and_body(engine: Engine, result: Evaluation) -> Tight | None:
    gaps = nearest(engine, result)
    if not gaps:
        return None
    name = min(gaps, key=lambda k: gaps[k])
    thing = next((t for t in things(result) if t.id == name), None)
    called = thing.name if thing is not None else result.project.part(name).name
    bodies = [np.asarray(thing.body.to_mesh().vert_properties)[:, :3]] if thing is not None else [
        corners(engine, c).reshape(-1, 3) for c in copies(result) if c.part_id == name]  # fmt: skip
    best = (math.inf, (0.0, 0.0), (0.0, 0.0))
    for _, swept in disks(result):
        low, high = bounds(swept)
        (x, y), radius = (low[:2] + high[:2]) / 2, float(high[0] - low[0]) / 2
        for points in bodies:
            rho = np.hypot(points[:, 0] - x, points[:, 1] - y)
            off = np.hypot(np.maximum(rho - radius, 0.0), np.maximum(np.maximum(low[2] - points[:, 2], points[:, 2] - high[2]), 0.0))
            k = int(off.argmin())
            if off[k] < best[0]:
                share = min(1.0, radius / max(float(rho[k]), 1e-9))
                rim = (x + share * (points[k, 0] - x), y + share * (points[k, 1] - y))
                best = (float(off[k]), (float(rim[0]), float(rim[1])), (float(points[k, 0]), float(points[k, 1])))
    return Tight(best[1], best[2], gaps[name], called)


def _bodies(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    paths = {t.id: (t.path, t.name) for t in things(result)}
    for name, gap in nearest(engine, result).items():
        if gap >= LEAST_MM:
            continue
        part = next((p for p in result.project.parts if p.id == name), None)
        where, path = (part.name, f"parts.{name}.shape") if part is not None else (paths[name][1], paths[name][0])
        what = "A propeller strikes it." if gap <= 0 else "A propeller passes so near that it strikes when anything bends."
        yield Finding(f"disks.strike:{name}", "grave" if gap <= 0 else "likely", "Parts" if part is not None else "Airframe", path, where,
                      what, f"{gap:.1f} mm from what the blades sweep; {LEAST_MM:g} mm are the least.",
                      "Move it out of the disk, raise the motor, or take a smaller propeller.")  # fmt: skip


def rest_mm(engine: Engine, result: Evaluation) -> float:
    """From the ground to the lowest that a propeller sweeps, as the craft stands."""
    return min((float(bounds(d)[0, 2]) for _, d in disks(result)), default=math.inf) - ground_mm(engine, result)


def _ground(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    low = rest_mm(engine, result)
    if low >= GRASS_MM or not stations(result.project):
        return
    yield Finding("disks.ground", "grave" if low <= 0 else "likely", "Airframe", "layout.leg_radius_mm", "The propellers",
                  "A propeller strikes the ground as it starts." if low <= 0 else "Grass and stones reach into the propellers.",
                  f"{low:.0f} mm above the ground on which it stands; {GRASS_MM:.0f} mm are little.",
                  "Longer legs, or motors above the arms.")  # fmt: skip
