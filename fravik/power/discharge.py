"""What a pack gives: its voltage under a load, and how long it holds one.

A load of constant power P draws I with P = (E - I R) I, the smaller root; where E^2 < 4 R P none is left to draw. A flight ends when the
usable charge is out or the voltage under load is down to where the maker lands.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from fravik.model.material import Corner

from .pack import Floats, Supply

POINTS = 129
HALVINGS = 40


@dataclass(frozen=True, eq=False)
class Flight:
    """A flight at constant power: minutes (f,), voltage (f,) and current (f,) over the share of charge drawn (f,), as far as it goes; and
    whether it ends by voltage before the usable charge is out."""

    drawn: Floats
    minutes: Floats
    volts: Floats
    amps: Floats
    by_voltage: bool

    @property
    def lasts_min(self) -> float:
        """How long it lasts."""
        return float(self.minutes[-1]) if len(self.minutes) else 0.0


def under_power_v(pack: Supply, power_w: float, drawn: float, corner: Corner = "typical") -> float:
    """Voltage that a load of constant power leaves; half the rest voltage where it asks for more than the pack has."""
    e, r = float(pack.rest_v(drawn)), pack.ohm_at(corner)
    return (e + float(np.sqrt(max(e * e - 4 * r * power_w, 0.0)))) / 2


def under_current_v(pack: Supply, amps_at: Callable[[float], float], drawn: float, corner: Corner = "typical") -> float:
    """Voltage U with U = E - R I(U), for a load whose current ``amps_at`` grows with its voltage."""
    e, r = float(pack.rest_v(drawn)), pack.ohm_at(corner)
    low, high = 0.0, e
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if e - r * amps_at(middle) > middle else (low, middle)
    return (low + high) / 2


def flight(pack: Supply, power_w: float, corner: Corner = "typical") -> Flight:
    """A flight at constant power, from full. Raises no error: one that cannot begin lasts no time."""
    # the usable share is of what the label says: who counts charge does not know what age took
    usable = pack.to_use(corner)
    drawn = np.linspace(0.0, usable, POINTS)
    e, r = np.asarray(pack.rest_v(drawn)), pack.ohm_at(corner)
    room = e * e - 4 * r * power_w
    volts = (e + np.sqrt(np.maximum(room, 0.0))) / 2
    holds = (room >= 0) & (volts >= pack.stop_v)
    last = int(np.argmin(holds)) if not holds.all() else POINTS
    if last < 2:
        return Flight(drawn[:0], drawn[:0], drawn[:0], drawn[:0], True)
    drawn, volts = drawn[:last], volts[:last]
    amps = power_w / volts
    step = pack.charge_as(corner) * np.diff(drawn) / 60.0
    minutes = np.concatenate([[0.0], np.cumsum(step * (1 / amps[1:] + 1 / amps[:-1]) / 2)])
    return Flight(drawn, minutes, volts, amps, last < POINTS)
