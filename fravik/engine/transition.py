"""The way between hover and forward flight: where it can fly, the way out and back, what happens when it is flown otherwise."""

from __future__ import annotations

import math
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np

from fravik.flight.aero.alone import CRUISE_OVER_STALL, NOSE_RAD, stall
from fravik.flight.aero.corridor import WHY, Corridor, Way, along_way, corridor, row_of, way_through
from fravik.flight.aero.flyer import Flyer
from fravik.flight.aero.lateral import roll_and_yaw
from fravik.flight.aero.simulate import Flight, Plan, fly_plan, plan_from, start_at
from fravik.flight.aero.trim import (
    ATTITUDE,
    C_CONTROL,
    C_LEFT,
    C_LIFT,
    C_NOSE_DOWN,
    C_NOSE_UP,
    C_POWER,
    C_WHY,
    FLIES,
    GAIN,
    SURFACE,
    THRUST_A,
    THRUST_B,
    VECTOR,
)
from fravik.kinds.wing.geometry import goes_over, has_wing
from fravik.model.wing import Waypoint
from fravik.printing.job import GivenUpError
from fravik.printing.zones import Floats

from .evaluate import Engine
from .hovering import HoverSight, hover_sight
from .results import Evaluation
from .tilting import TiltSight, tilts_of
from .wing import WingSight, flyer, wing_sight

LONGEST_S, REST_S = 70.0, 8.0
ON_TAIL_S = 0.8  # in which a craft on its tail may lie over at the fastest
THROTTLE_S = 1.0  # in which a pusher comes up
GUST_AT = 0.55  # of the way's time, when the gust comes
ESTIMATE = 0.25  # of a reserve, that forces by strips and momentum may be off: a working assumption


@dataclass(frozen=True, eq=False)
class WayFlown:
    """One way: as planned, its balance (w, COLUMNS), and flights along it by what happens."""

    way: Way
    points: Floats
    push_n: Floats
    flights: tuple[Flight, ...]

    @property
    def as_planned(self) -> Flight:
        """The first of them."""
        return self.flights[0]

    @property
    def reserve(self) -> float:
        """The least on it; below nothing where it breaks."""
        return self.way.least[0]


@dataclass(frozen=True, eq=False)
class TransitionSight:
    """All that is known of the way over. ``unit`` says what the way over is counted in, with the most of it."""

    flyer: Flyer
    corridor: Corridor
    out: WayFlown
    back: WayFlown
    hover: HoverSight | None
    tilts: tuple[TiltSight, ...]
    wing: WingSight | None
    cruise_m_s: float
    own_way: bool

    @property
    def unit(self) -> tuple[str, float]:
        """What the way over is counted in, and how much the whole of it is."""
        if self.flyer.air.trims_push:
            return "% of the pusher", 100.0
        if self.flyer.on_tail:
            return "° over from upright", 90.0
        return "° tilt", math.degrees(self.flyer.tilt_rad)

    @property
    def upwards(self) -> str:
        """What goes up on the map."""
        return "the pusher's throttle" if self.flyer.air.trims_push else "lying over" if self.flyer.on_tail else "tilt"

    @property
    def reserve_pct(self) -> tuple[float, float, float]:
        """Least reserve on both ways, low, usual, high."""
        least = 100 * min(self.out.reserve, self.back.reserve)
        if least < 0:
            return -100.0, -100.0, -100.0
        return least * (1 - ESTIMATE), least, least * (1 + ESTIMATE)

    def least_roll(self) -> tuple[float, float]:
        """The slowest that it rolls anywhere on the way out, rad/s2, and at what speed."""
        every = [(roll_and_yaw(self.flyer, p, float(o), float(v))[0], float(v)) for p, o, v in
                 zip(self.out.points, self.out.way.over, self.out.way.speed_m_s, strict=True) if p[C_WHY] == FLIES]  # fmt: skip
        return min(every, default=(math.inf, 0.0))

    @property
    def energy_wh(self) -> float:
        """Drawn by both ways."""
        return (self.out.way.energy_j + self.back.way.energy_j) / 3600

    @property
    def energy_words(self) -> str:
        """What both ways take of the pack."""
        if self.wing is None:
            return f"Both ways take {self.energy_wh:.1f} Wh."
        left = self.wing.energy_wh - self.energy_wh
        return f"Both ways take {self.energy_wh:.1f} of {self.wing.energy_wh:.1f} Wh; {left:.1f} are left to fly on and to hover with."

    @property
    def com_mm(self) -> Floats:
        """(k, 2) centre of mass x, z over the way, mm."""
        return 1e3 * self.flyer.com_m

    @property
    def travel_mm(self) -> float:
        """How far it goes fore and aft."""
        return float(np.ptp(self.com_mm[:, 0]))

    def trim_range_mm(self) -> tuple[Floats, Floats, Floats]:
        """Over (w,) the way out: how far forward and back of where it is the centre of mass could lie and still be held, mm."""
        p = self.out.points
        weight = self.flyer.weight_n
        return self.out.way.over, 1e3 * p[:, C_NOSE_UP] / weight, 1e3 * p[:, C_NOSE_DOWN] / weight


def transition_sight(engine: Engine, result: Evaluation, wanted: Callable[[], bool] = lambda: True) -> TransitionSight | None:
    """None for a craft that has nothing to go over to. Raises GivenUpError when it is wanted no more: nothing is remembered then."""
    project = result.project
    if not goes_over(project):
        return None
    f = flyer(engine.memo, result)
    key = (project, f.mass_kg, f.com_m.tobytes())
    return engine.memo.get("transition", key, lambda: _sight(engine, result, f, wanted))


def _sight(engine: Engine, result: Evaluation, f: Flyer, wanted: Callable[[], bool]) -> TransitionSight:
    flying, wing = result.project.flying, wing_sight(engine.memo, result)
    cruise = flying.cruise_m_s or (CRUISE_OVER_STALL * stall(f)[0] if has_wing(result.project) else 0.6 * f.top_m_s)
    cruise = min(cruise, f.top_m_s)
    map_key = (result.project.parts, flying.model_copy(update={"out": (), "back": (), "steps": ()}), f.mass_kg, f.com_m.tobytes(),
               result.project.layout, result.project.components)  # fmt: skip
    c = engine.memo.get("corridor", map_key, lambda: corridor(f))
    key = (result.project, f.mass_kg, f.com_m.tobytes())
    end = _end_over(f, cruise)
    out = _flown(f, c, cruise, flying.gain_m_s2, end, flying.out, result, wanted)
    back = _flown(f, c, cruise, -flying.gain_m_s2, end, flying.back, result, wanted)
    return TransitionSight(
        f,
        c,
        out,
        back,
        engine.memo.get("hover", key, lambda: hover_sight(result, f)),
        tilts_of(result),
        wing,
        cruise,
        bool(flying.out or flying.back),
    )


def _end_over(f: Flyer, cruise: float) -> float:
    """How far over it is in cruise: whole for what tilts, less the attack for what stands on its tail, a share of throttle for a pusher."""
    row = row_of(f, 1.0, np.array([cruise]), 0.0, NOSE_RAD)[0]
    if row[C_WHY] != FLIES:
        return 1.0
    if f.on_tail:
        return 1 - float(row[ATTITUDE]) / (math.pi / 2)
    if f.air.trims_push:
        _, _, push = f.limits_at(1.0, cruise)
        return (push + float(row[VECTOR])) / max(push, 1e-9)
    return 1.0


def _pace(result: Evaluation, f: Flyer) -> float:
    """How fast it can go over, parts a second."""
    if f.on_tail:
        return 1 / ON_TAIL_S
    if f.air.trims_push:
        return 1 / THROTTLE_S
    tilts = tilts_of(result)
    return 1 / max(max((t.seconds for t in tilts), default=1.0), 0.05)


def _flown(f: Flyer, c: Corridor, cruise: float, gain: float, end: float, own: tuple[Waypoint, ...], result: Evaluation,
           wanted: Callable[[], bool]) -> WayFlown:  # fmt: skip
    way = way_through(c, cruise, gain, end)
    if own:
        speeds = np.array([w.speed_m_s for w in own])
        over = np.interp(way.speed_m_s, speeds, np.array([w.over_pct / 100 for w in own]))
        way = Way(way.speed_m_s, over, way.gain, way.power_w, way.reserve)
    points, push = along_way(f, way.speed_m_s, way.over, gain)
    way = _told(f, c, way, points, gain)
    if not wanted():
        raise GivenUpError
    plan = plan_from(f, way.speed_m_s, way.over, points, gain, _pace(result, f))
    seconds = min(1.4 * way.seconds + REST_S, LONGEST_S)
    start = start_at(plan, gain < 0)
    gust = result.project.flying.gust_m_s
    every: list[tuple[str, Plan]] = [("as planned", plan), ("all at once", plan._replace(at_once=True))]
    every.append(("a gust on the way", plan._replace(gust=-gust, gust_s=GUST_AT * way.seconds)))
    if f.tilt_rad > 0 and any(r.along > 0 for r in f.rotors):
        every.append(("the tilt sticks half way", plan._replace(stuck_at=0.5)))
    lost = _one_lost(f)
    if lost is not None:
        every.append(("one rotor stops", plan._replace(lost_group=lost[0], lost_share=lost[1])))
    if not wanted():
        raise GivenUpError
    with ThreadPoolExecutor(max_workers=2) as pool:
        flights = tuple(pool.map(lambda x: fly_plan(f, x[1], x[0], seconds, start), every))
    return WayFlown(way, points, push, flights)


def _one_lost(f: Flyer) -> tuple[int, float] | None:
    """The group that a rotor is missed most in, and what is left of its thrust; a rotor aside rolls the craft, which is not told here."""
    counts = [int((f.groups == g).sum()) for g in (0, 1)]
    group = 1 if 0 < counts[1] <= max(counts[0], 1) else 0
    return (group, 1 - 1 / counts[group]) if counts[group] else None


def _told(f: Flyer, c: Corridor, way: Way, points: Floats, gain: float) -> Way:
    """The way with what balance along it really has."""
    reserve = Corridor(way.over, way.speed_m_s, points[:, None, :]).reserve[:, 0]
    holes = np.flatnonzero(points[:, C_WHY] != FLIES)
    breaks = (float(way.speed_m_s[holes[0]]), float(way.speed_m_s[holes[-1]])) if len(holes) else None
    pace = np.where(points[:, GAIN] * gain > 0, points[:, GAIN], 0.0)
    return Way(way.speed_m_s, way.over, pace, points[:, C_POWER], reserve, breaks)


def why_at(s: TransitionSight, speed_m_s: float, over: float) -> tuple[str, Floats]:
    """Balance at a point of the map in words, and its figures (COLUMNS,)."""
    row = row_of(s.flyer, over, np.array([speed_m_s]))[0]
    return WHY[int(row[C_WHY])], row


def point_rows(s: TransitionSight) -> list[dict[str, Any]]:
    """The corridor as data: one row a point, with what limits it."""
    unit, whole = s.unit
    return [
        {"over_pct": 100 * float(o), "over": whole * float(o), "over_unit": unit, "speed_m_s": float(v), "limit": WHY[int(p[C_WHY])],
         "flies": bool(p[C_WHY] == FLIES), "power_w": float(p[C_POWER]), "thrust_left": float(p[C_LEFT]),
         "control_left": float(p[C_CONTROL]),
         "wing_carries": float(p[C_LIFT]), "attitude_deg": math.degrees(float(p[ATTITUDE])), "gain_m_s2": float(p[GAIN]),
         "surface_deg": math.degrees(float(p[SURFACE])), "thrust_a_n": float(p[THRUST_A]), "thrust_b_n": float(p[THRUST_B])}
        for o, row in zip(s.corridor.over, s.corridor.points, strict=True) for v, p in zip(s.corridor.speed_m_s, row, strict=True)
    ]  # fmt: skip


def way_rows(w: WayFlown) -> dict[str, Any]:
    """A way as data."""
    flown = [{"name": f.name, "reached": f.reached, "height_lost_m": f.height_lost_m, "overshoot_deg": math.degrees(f.overshoot_rad),
              "lost": f.lost} for f in w.flights]  # fmt: skip
    return {
        "speed_m_s": w.way.speed_m_s.tolist(), "over_pct": (100 * w.way.over).tolist(), "reserve": w.way.reserve.tolist(),
        "seconds": w.way.seconds, "energy_wh": w.way.energy_j / 3600, "breaks_m_s": w.way.breaks, "flights": flown,
        "height_lost_m": w.as_planned.height_lost_m,
    }  # fmt: skip
