"""Where between hover and forward flight a craft can fly: balance over speed and over how far it has gone over, and the way through.

On the way out speed is to grow by so much a second and on the way back to fall by as much; at each speed the way goes where balance has
that
gain (or the nearest to it) with most in reserve, and never goes back on itself.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from .flyer import BACK, PUSHER, Flyer
from .forces import SPREAD_AT, AirCraft
from .trim import (
    ATTITUDE,
    C_CONTROL,
    C_LEFT,
    C_POWER,
    C_STALL_LEFT,
    C_WHY,
    COLUMNS,
    FLIES,
    GAIN,
    SINKS,
    THROUGH_RAD,
    THRUST_A,
    THRUST_B,
    UNKNOWNS,
    VECTOR,
    balance,
)

Floats = NDArray[np.float64]
SPEEDS, PARTS = 40, 30
WHY = {0: "flies", 1: "drag is more than its thrust", 2: "the nose cannot be held", 3: "the wing is stalled",
    4: "rotors pull ahead: it cannot stay so slow",
       5: "no balance was found", 6: "too slow for the wing: it sinks"}  # fmt: skip
OFF_GAIN = 0.35  # of reserve, that one m/s2 off the wanted gain counts for
STALL_ROOM = 0.10  # rad to stall that counts as a full reserve
STEEP, AMONG = 0.25, 3
HELD_GAIN = 0.3  # on a way the gain of speed costs so much of what it does on the map: it is what the way is for
NO_GAIN = 0.15  # m/s2 under which speed does not change enough to go on


@dataclass(frozen=True, eq=False)
class Corridor:
    """Balance (p, v, COLUMNS) over parts of the way ``over`` (p,) and speeds (v,) m/s."""

    over: Floats
    speed_m_s: Floats
    points: Floats

    @property
    def why(self) -> NDArray[np.int64]:
        """(p, v) which of ``WHY``."""
        return self.points[..., C_WHY].astype(np.int64)

    @property
    def flies(self) -> NDArray[np.bool_]:
        """(p, v)."""
        return self.why == FLIES

    @property
    def reserve(self) -> Floats:
        """(p, v) the least of thrust left, share of control left and room to stall, none where it does not fly."""
        p = self.points
        room = np.clip(p[..., C_STALL_LEFT] / STALL_ROOM, 0.0, 1.0)
        # at walking pace a wing across the stream carries nothing: its stall does not count
        room = np.where((np.abs(p[..., C_STALL_LEFT]) > 0.6) | (p[..., ATTITUDE] > THROUGH_RAD), 1.0, room)
        lift = np.clip(p[..., C_LIFT_SHARE], 0.0, 1.0)
        room = 1 - np.minimum(2 * lift, 1.0) * (1 - room)
        return np.where(self.flies, np.minimum(np.minimum(p[..., C_LEFT] / 0.5, p[..., C_CONTROL]), room), -1.0)


C_LIFT_SHARE = UNKNOWNS + 4


@njit(cache=True, nogil=True)
def _along(
    c: AirCraft, over: float, speeds: Floats, push: Floats, least: Floats, most: Floats, wanted: Floats, cost: Floats,
    held: NDArray[np.bool_], start: Floats,
) -> Floats:  # fmt: skip
    out = np.zeros((len(speeds), COLUMNS))
    gamma, x = np.zeros(len(c.width)), start.copy()
    for k in range(len(speeds)):
        row, g = balance(c, over, speeds[k], push[k], x, least[k], most[k], wanted[k], cost, held, gamma)
        if row[C_WHY] not in (FLIES, SINKS) and k > 0 and out[k - 1, C_WHY] == FLIES:
            # once more from the beginning: the last speed's answer may lead astray
            again, g2 = balance(c, over, speeds[k], push[k], start, least[k], most[k], wanted[k], cost, held, gamma * 0.0)
            if again[C_WHY] == FLIES or row[C_WHY] == 5:
                row, g = again, g2
        out[k] = row
        if row[C_WHY] == FLIES:
            x, gamma = row[:UNKNOWNS].copy(), g
    return out


@dataclass(frozen=True, eq=False)
class _Asked:
    """What balance is asked at one part of the way over speeds."""

    least: Floats
    most: Floats
    push: Floats
    wanted: Floats
    held: NDArray[np.bool_]
    start: Floats
    cost: Floats


def _asked(f: Flyer, over: float, speeds: Floats, gain: float | None, nose: tuple[float, float] | None = None) -> _Asked:
    least, most, push = f.limits(over, speeds)
    wanted = np.zeros((len(speeds), UNKNOWNS))
    held = np.zeros(UNKNOWNS, dtype=np.bool_)
    cost = f.costs()
    if nose is not None and f.air.trims_push:
        # in forward flight the pusher gives what is needed
        least[:, VECTOR], cost[VECTOR] = -push, max(float(push.max()), 1e-6)
    if nose is not None:
        upright = float(most[0, ATTITUDE]) if f.on_tail and over < SPREAD_AT else 0.0
        least[:, ATTITUDE], most[:, ATTITUDE] = nose
        wanted[:, ATTITUDE] = min(max(upright, nose[0]), nose[1])
    elif f.on_tail:
        wanted[:, ATTITUDE], held[ATTITUDE] = most[:, ATTITUDE], True
    if not (f.groups == BACK).any():
        held[THRUST_B] = True
    for k in range(UNKNOWNS):
        if (most[:, k] <= 0).all() and (least[:, k] >= 0).all():
            held[k] = True
    if gain is not None:
        wanted[:, GAIN], held[GAIN] = gain, True
        least[:, GAIN], most[:, GAIN] = gain, gain
    start = np.zeros(UNKNOWNS)
    n = max(int((f.groups != PUSHER).sum()), 1)
    start[THRUST_A] = start[THRUST_B] = f.weight_n / n
    start[ATTITUDE] = wanted[0, ATTITUDE]
    return _Asked(least, most, push, wanted, held, start, cost)


def row_of(f: Flyer, over: float, speeds: Floats, gain: float | None = None, nose: tuple[float, float] | None = None) -> Floats:
    """(v, COLUMNS) balance at one part of the way over speeds; with the gain of speed held to ``gain`` m/s2 if said, and the nose free
    between two angles (rad), also on the tail."""
    a = _asked(f, over, speeds, gain, nose)
    return _along(f.air, over, speeds, a.push, a.least, a.most, a.wanted, a.cost, a.held, a.start)


def _mended(f: Flyer, over: Floats, speeds: Floats, points: Floats) -> None:
    """Points without balance among such as have one, tried once more from each of these."""
    flies = points[..., C_WHY] == FLIES
    round_about = np.pad(flies, 1)
    near = np.sum([np.roll(round_about, (i, j), (0, 1)) for i in (-1, 0, 1) for j in (-1, 0, 1)], axis=0)[1:-1, 1:-1]
    still = np.zeros(len(f.air.width))
    for p, v in np.argwhere(~flies & (near >= AMONG) & (points[..., C_WHY] != SINKS)):
        a = _asked(f, float(over[p]), speeds[v : v + 1], None)
        for i, j in ((0, -1), (0, 1), (-1, 0), (1, 0)):
            if 0 <= p + i < len(over) and 0 <= v + j < len(speeds) and flies[p + i, v + j]:
                row, _ = balance(f.air, float(over[p]), float(speeds[v]), float(a.push[0]), points[p + i, v + j, :UNKNOWNS].copy(),
                                 a.least[0], a.most[0], a.wanted[0], a.cost, a.held, still)  # fmt: skip
                if row[C_WHY] == FLIES:
                    points[p, v] = row
                    break


def corridor(f: Flyer, speeds: int = SPEEDS, parts: int = PARTS) -> Corridor:
    """The map; rows are worked out side by side."""
    over, speed = np.linspace(0.0, 1.0, parts), np.linspace(0.0, f.top_m_s, speeds)
    _ = f.air, f.most
    with ThreadPoolExecutor(max_workers=2) as pool:
        rows = list(pool.map(lambda s: row_of(f, float(s), speed), over))
    points = np.array(rows)
    _mended(f, over, speed, points)
    return Corridor(over, speed, points)


@dataclass(frozen=True, eq=False)
class Way:
    """A way through: speeds (w,) and parts over (w,), what balance gains there (m/s2), power (W), reserve; ``breaks`` says between which
    speeds there is no way, if any."""

    speed_m_s: Floats
    over: Floats
    gain: Floats
    power_w: Floats
    reserve: Floats
    breaks: tuple[float, float] | None = None

    @property
    def seconds(self) -> float:
        """From its beginning to its end."""
        pace = np.maximum(np.abs(self.gain), NO_GAIN)
        return float(np.trapezoid(1 / pace, self.speed_m_s)) if len(self.speed_m_s) > 1 else 0.0

    @property
    def energy_j(self) -> float:
        """Drawn on the way."""
        pace = np.maximum(np.abs(self.gain), NO_GAIN)
        return float(np.trapezoid(self.power_w / pace, self.speed_m_s)) if len(self.speed_m_s) > 1 else 0.0

    @property
    def least(self) -> tuple[float, float, float]:
        """The least reserve, and the speed and part over where it is."""
        k = int(self.reserve.argmin())
        return float(self.reserve[k]), float(self.speed_m_s[k]), float(self.over[k])


def way_through(c: Corridor, cruise_m_s: float, gain: float, end_over: float = 1.0) -> Way:
    """The way from hover to cruise with speed growing by ``gain`` (out), or falling (back, below nothing), by least cost over the map;
    it ends
    so far over."""
    last = int(np.searchsorted(c.speed_m_s, cruise_m_s, side="left"))
    last = min(max(last, 1), len(c.speed_m_s) - 1)
    reserve, g = c.reserve[:, : last + 1], c.points[:, : last + 1, GAIN]
    off = np.abs(g - gain)
    price = np.where(reserve >= 0, (1 - reserve) + OFF_GAIN * off**2, 1e3)
    parts = len(c.over)
    best, come = np.full((last + 1, parts), np.inf), np.zeros((last + 1, parts), dtype=np.int64)
    best[0, 0] = 0.0
    for v in range(1, last + 1):
        for p in range(parts):
            jump = STEEP * np.maximum(np.arange(p, -1, -1) - 4, 0)
            total = best[v - 1, : p + 1] + jump
            k = int(np.argmin(total))
            best[v, p], come[v, p] = total[k] + price[p, v], k
    at = int(np.abs(c.over - end_over).argmin())
    path = [at]
    for v in range(last, 0, -1):
        at = int(come[v, at])
        path.append(at)
    idx = np.array(path[::-1])
    cols = np.arange(last + 1)
    there = reserve[idx, cols]
    holes = np.flatnonzero(there < 0)
    breaks = (float(c.speed_m_s[holes[0]]), float(c.speed_m_s[holes[-1]])) if len(holes) else None
    return Way(c.speed_m_s[: last + 1], c.over[idx], g[idx, cols], c.points[idx, cols, C_POWER], there, breaks)


def along_way(f: Flyer, speeds: Floats, over: Floats, gain: float) -> tuple[Floats, Floats]:
    """Balance (w, COLUMNS) at each point of a way with speed changing by ``gain`` where that may be, and the pusher's thrust (w,)."""
    out, push, x, g = [], [], None, np.zeros(len(f.air.width))
    last = 0 if gain < 0 else len(speeds) - 1
    for k, (v, s) in enumerate(zip(speeds, over, strict=True)):
        a = _asked(f, float(s), np.array([float(v)]), None)
        a.cost[GAIN] *= HELD_GAIN
        gains = 0.0 if k == last else gain  # where the way ends, speed is kept
        for want, begin in ((gains, x), (gains, a.start), (0.0, x), (0.0, a.start)):
            if begin is None:
                continue
            a.wanted[:, GAIN] = want
            row, new = balance(f.air, float(s), float(v), float(a.push[0]), begin, a.least[0], a.most[0], a.wanted[0], a.cost, a.held,
                               g if begin is x else g * 0.0)  # fmt: skip
            if row[C_WHY] == FLIES:
                g = new
                x = row[:UNKNOWNS].copy()
                break
        out.append(row)
        push.append(float(a.push[0]))
    return np.array(out), np.array(push)
