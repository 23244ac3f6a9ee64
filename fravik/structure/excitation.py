"""What shakes the parts: 1/rev and blade pass over the working speeds, which modes they meet, and how clear of them every mode is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, Protocol

Where = Literal["below", "working", "above"]
# imbalance turns with the rotor and pushes it sideways; blades that pass the air they stirred push along the shaft
Way = Literal["sideways", "along the shaft"]
WAYS: tuple[Way, ...] = ("sideways", "along the shaft")


@dataclass(frozen=True)
class Order:
    """An excitation line: so many cycles per turn of the craft's hardest rotor, which way it pushes, and which rotors (all by default).

    A rotor that turns otherwise in hover is taken to turn so over all speeds: its own turns are ``ratio`` of the hardest one's.
    """

    name: str
    per_rev: float
    way: Way
    ratio: float = 1.0
    rotors: tuple[int, ...] | None = None


class Ringing(Protocol):
    """A mode as what shakes it is weighed: the part that bends, how, its frequencies, and which pushes on the rotors can drive it."""

    @property
    def part_id(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def low_hz(self) -> float: ...
    @property
    def freq_hz(self) -> float: ...
    @property
    def high_hz(self) -> float: ...
    @property
    def driven(self) -> tuple[Way, ...]: ...


@dataclass(frozen=True)
class ModeBand:
    """A mode of a part with its lowest, typical and highest frequency, and which pushes on the rotors can drive it."""

    part_id: str
    name: str
    low_hz: float
    freq_hz: float
    high_hz: float
    driven: tuple[Way, ...] = WAYS


@dataclass(frozen=True)
class Meeting:
    """A mode and an order that can shake it. ``clear_`` is how far the mode stays outside what that order shakes over the working speeds,
    in percent of the nearer end and negative inside: at worst, typically and at best. ``rpm`` is where they meet."""

    mode: Ringing
    order: Order
    clear_low_pct: float
    clear_pct: float
    clear_high_pct: float
    rpm: float
    rpm_low: float
    rpm_high: float
    where: Where
    reached: bool

    @property
    def named(self) -> str:
        """The mode and what shakes it, in words."""
        return f"{self.mode.name} by {self.order.name}"


def orders(blades: int, of: str = "", ratio: float = 1.0, rotors: tuple[int, ...] | None = None) -> tuple[Order, ...]:
    """1/rev (imbalance) and blade pass, of some of the rotors where they are not all alike."""
    return (
        Order(f"1/rev{of}", ratio, "sideways", ratio, rotors),
        Order(f"blade pass{of}", ratio * blades, "along the shaft", ratio, rotors),
    )


def clear_pct(freq_hz: float, band_hz: tuple[float, float]) -> float:
    """How far a frequency lies outside a band, in percent of the band's nearer end; inside, how far it would have to move, negative."""
    low, high = band_hz
    return 100.0 * max((low - freq_hz) / low, (freq_hz - high) / high)


def meetings(
    modes: Sequence[Ringing], every: Sequence[Order], idle_rpm: float, full_rpm: float, working_hz: tuple[float, float]
) -> tuple[Meeting, ...]:  # fmt: skip
    """Every mode against every order that can drive it, the least clear first. ``working_hz`` is 1/rev of the hardest rotor over the
    working speeds, ``idle_rpm`` and ``full_rpm`` are its own."""
    out = []
    for mode in modes:
        for order in every:
            if order.way not in mode.driven:
                continue
            band = (working_hz[0] * order.per_rev, working_hz[1] * order.per_rev)
            at = [clear_pct(f, band) for f in (mode.low_hz, mode.freq_hz, mode.high_hz)]
            # a spread that spans the band is at its worst inside it
            deepest = min(max(2 * band[0] * band[1] / (band[0] + band[1]), mode.low_hz), mode.high_hz)
            worst = min(*at, clear_pct(deepest, band))
            rpm, low, high = (60.0 * f / order.per_rev for f in (mode.freq_hz, mode.low_hz, mode.high_hz))
            where: Where = "working" if worst < 0 else "below" if mode.freq_hz < band[0] else "above"
            out.append(Meeting(mode, order, worst, at[1], max(at), rpm, low, high, where, low <= full_rpm and high >= idle_rpm))
    return tuple(sorted(out, key=lambda m: (m.clear_pct, m.clear_low_pct)))


def clearance(met: tuple[Meeting, ...]) -> tuple[tuple[float, float, float], Meeting] | None:
    """(low, typical, high) of the least clearance of all modes in percent, and the meeting that governs; None without modes."""
    if not met:
        return None
    return (min(m.clear_low_pct for m in met), met[0].clear_pct, min(m.clear_high_pct for m in met)), met[0]
