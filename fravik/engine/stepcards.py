"""From bench to forward flight and back, one step at a time: what to enter with, what to watch, when to stop.

Each step changes one thing against the last that went well. Figures come from the way and its flights; heights leave room for the height
that a flight along the way would lose, three times over.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from fravik.model.wing import StepDone
from fravik.study.words import signed

from .transition import TransitionSight, WayFlown

Standing = Literal["done", "next", "open", "stopped", "barred"]
LEAST_M, ROOM = 20.0, 3.0  # height of the first step over; of the height lost, that is kept under it
PACK = ((4.05, "full"), (3.85, "three quarters"), (3.75, "half"))
GENERAL = ("Nobody below or near, height to fall, a spotter who watches the craft while you watch figures. Local rules and licensed "
           "practice "
           "decide where and whether you may fly it. A craft is never held by hand with its propellers turning.")  # fmt: skip


@dataclass(frozen=True)
class StepCard:
    """One step: what it is called, what it is entered with, what is done, what to watch, when to stop; whether it may be flown, and why
    not."""

    id: str
    title: str
    enter: tuple[str, ...]
    do: str
    watch: tuple[str, ...]
    stop: tuple[str, ...]
    standing: Standing
    barred: str = ""
    note: str = ""


def step_cards(s: TransitionSight, done: tuple[StepDone, ...], cells: int) -> tuple[StepCard, ...]:
    """All of them in order, each as far as it has come."""
    made = [_bench(s), _hover(s), _wind(s), *_over(s, cells), _back(s)]
    records = {d.step: d for d in done}
    out: list[StepCard] = []
    opened = True
    for card in made:
        r = records.get(card.id)
        state: Standing = "open"
        if card.barred:
            state = "barred"
        elif r is not None and r.state != "open":
            state = "done" if r.state == "done" else "stopped"
        elif opened:
            state = "next"
        opened = opened and state == "done"
        out.append(StepCard(card.id, card.title, card.enter, card.do, card.watch, card.stop, state, card.barred, r.note if r else ""))
    return tuple(out)


def _bench(s: TransitionSight) -> StepCard:
    do = "Turn it by hand into every attitude: the controller's picture follows. Move every surface and look which way it goes."
    watch = ["nose up on the stick: trailing edges go up", "roll to the right: right trailing edges go up"]
    stop = ["anything goes the wrong way, or nothing at all"]
    if s.tilts:
        t = s.tilts[0]
        do = "Tilt from end to end twenty times with weight on the pods, then with power off. " + do
        watch = [f"end to end in {t.seconds:.1f} s, at {t.amps:.1f} A at most", "both sides together, end stops before the gear",
                 "stays put with power off" if t.holds else f"falls back with power off ({t.back_nmm:.0f} N mm): it holds by current "
                                                            f"alone", *watch]  # fmt: skip
        stop.append("a servo hums, warms or stalls")
    return StepCard("bench", "Bench", ("propellers off", "pack full"), do, tuple(watch), tuple(stop), "open")


def _hover(s: TransitionSight) -> StepCard:
    h = s.hover
    if h is None:
        return StepCard("hover", "Hover", ("calm",), "Hang still.", (), (), "open", "It does not hover in balance as it is drawn.")
    turn = f"a quarter turn in {h.both_s:.1f} s" if math.isfinite(h.both_s) else "it hardly turns: keep its nose where it is"
    return StepCard(
        "hover", "Hover", ("calm, under 1 m/s", "2 m over grass", "pack full"),
        "Rise quickly through the ground's cushion to 2 m, hang for ten seconds with hands still, land. Never tied down and never by "
        "hand: a "
        "tether turns a drift into a tip-over, and a hand is in the disk.",
        (f"throttle {100 * h.throttle:.0f} % ± {100 * h.throttle * 0.08:.0f}", turn,
         f"the wash costs {h.extra_pct:.0f} % of power" if h.extra_pct >= 1 else "the wash hardly meets the wing"),
        ("it drifts more than a metre by itself", "throttle is off by more than a tenth", "anything buzzes or gets hot"), "open",
    )  # fmt: skip


def _wind(s: TransitionSight) -> StepCard:
    h = s.hover
    if h is None:
        return StepCard("wind", "Hover in wind", (), "", (), (), "open", "It does not hover in balance as it is drawn.")
    barred = ""
    if math.isnan(h.lean_rad):
        barred = f"It cannot hold its place in {h.wind_m_s:.0f} m/s: {h.most_wind_m_s:.0f} m/s is the most."
    lean = 0.0 if math.isnan(h.lean_rad) else math.degrees(h.lean_rad)
    return StepCard(
        "wind", "Hover in wind", (f"{h.wind_m_s:.0f} m/s, steady", "5 m up, grass", "broad side into the wind first"),
        "Hang ten seconds each way round: nose, side and tail into the wind.",
        (f"leans {lean:.0f}° to hold its place", f"{100 * h.wind_control:.0f} % of control over the nose is left",
         f"not above {h.most_wind_m_s:.0f} m/s"),
        ("it drifts downwind with full lean", "it will not turn its nose back"), "open", barred,
    )  # fmt: skip


def _over(s: TransitionSight, cells: int) -> list[StepCard]:
    unit, whole = s.unit
    way, plan = s.out.way, s.out.as_planned
    lost = max(plan.height_lost_m, *(f.height_lost_m for f in s.out.flights if f.name == "a gust on the way"), 2.0)
    out = []
    end = float(way.over[-1])
    for k, (name, share) in enumerate((("quarter", 0.25), ("half", 0.5), ("whole", 1.0))):
        gone = int(np.argmax(way.over >= share * end - 1e-9)), int(np.argmax(way.speed_m_s >= share * way.speed_m_s[-1] - 1e-9))
        at = max(gone) if name != "whole" else len(way.over) - 1
        speed, over = float(way.speed_m_s[at]), float(way.over[at])
        height = math.ceil(max(LEAST_M * (1 + k / 2), ROOM * lost) / 5) * 5
        p = s.out.points[at]
        volts, words = PACK[min(k, 2)]
        there = f"{whole * over:.0f}{unit if unit.startswith('°') else ' ' + unit}"
        barred = _broken(s.out, speed, "out") or (_weak(s.out, speed) if name == "whole" else "")
        watch = [f"speed settles near {speed:.0f} m/s", f"nose {signed(math.degrees(float(p[0])))}°", f"power about {float(p[9]):.0f} W",
                 f"the wing carries {100 * float(p[10]):.0f} %"]  # fmt: skip
        part_way = f"Go over to {there} and no farther, hold it for twenty seconds, turn both ways gently, then come back to hover."
        whole_way = f"Go over in {way.seconds:.0f} s as worked out, never all at once, and fly straight; come back with half the pack."
        out.append(StepCard(
            name, {"quarter": "A quarter", "half": "Half", "whole": "The whole way"}[name],
            (f"{height:.0f} m up, into the wind", f"pack over {volts * cells:.1f} V ({words})", f"{there}, {speed:.0f} m/s"),
            whole_way if name == "whole" else part_way,
            tuple(watch), ("it sinks more than 5 m", "the nose hunts or will not go where it is asked", "throttle stands at full"),
                "open", barred,
        ))  # fmt: skip
    return out


def _back(s: TransitionSight) -> StepCard:
    way, plan = s.back.way, s.back.as_planned
    lost = max(plan.height_lost_m, 2.0)
    height = math.ceil(max(2 * LEAST_M, ROOM * lost) / 5) * 5
    _, weak_at, _ = way.least
    barred = _broken(s.back, 0.0, "back") or _weak(s.back, 0.0)
    return StepCard(
        "back", "Back to hover", (f"{height:.0f} m up, into the wind", "pack over half", f"from {s.cruise_m_s:.0f} m/s"),
        f"Let speed fall and come back over {way.seconds:.0f} s; the rotors take over as the wing lets go.",
        (f"least in hand at {weak_at:.0f} m/s: {100 * max(s.back.reserve, 0):.0f} %", f"loses up to {lost:.0f} m, goes "
         f"{math.degrees(plan.overshoot_rad):.0f}° past what is asked"), ("the nose rises by itself: throttle up, nose down, fly on",
         "it sinks fast: all throttle, then the nose"), "open", barred,
    )  # fmt: skip


def _broken(w: WayFlown, to_speed: float, which: str) -> str:
    if w.way.breaks is not None and (to_speed >= w.way.breaks[0] or which == "back"):
        return f"On the way {which} nothing balances from {w.way.breaks[0]:.1f} to {w.way.breaks[1]:.1f} m/s."
    return ""


def _weak(w: WayFlown, _: float) -> str:
    if w.as_planned.lost:
        return "Flown as planned it tumbles or falls."
    if w.reserve <= 0.02:
        return f"At {w.way.least[1]:.0f} m/s nothing is left in hand."
    return ""


__all__ = ["GENERAL", "StepCard", "step_cards"]
