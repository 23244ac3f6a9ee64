"""What shakes the arms: 1/rev and blade pass over the working speeds, and which modes they cross."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Order:
    """An excitation line: so many cycles per turn."""

    name: str
    per_rev: float


@dataclass(frozen=True)
class Crossing:
    """A mode met by an excitation order somewhere between idle and full throttle."""

    mode: str
    freq_hz: float
    low_hz: float
    high_hz: float
    order: str
    rpm: float
    rpm_low: float
    rpm_high: float
    in_working_band: bool


def orders(blades: int) -> tuple[Order, ...]:
    """1/rev (imbalance) and blade pass."""
    return (Order("1/rev", 1.0), Order("blade pass", float(blades)))


def crossings(
    modes: list[tuple[str, float, float, float]], blades: int, idle_rpm: float, full_rpm: float, working: tuple[float, float]
) -> list[Crossing]:
    """All crossings of (name, freq, low, high) modes with the orders; those in the working band come first."""
    out = []
    for name, freq, low, high in modes:
        for order in orders(blades):
            rpm, a, b = (60.0 * f / order.per_rev for f in (freq, low, high))
            if b < idle_rpm or a > full_rpm:
                continue
            inside = b >= working[0] and a <= working[1]
            out.append(Crossing(name, freq, low, high, order.name, rpm, a, b, inside))
    return sorted(out, key=lambda c: (not c.in_working_band, c.order != "1/rev", c.freq_hz))
