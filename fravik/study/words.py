"""Margins in words: values, limits and verdicts as people read them."""

from __future__ import annotations

import math

from .margins import BREAKS_BELOW, Margin


def number(value: float, decimals: int) -> str:
    """A number with thin grouping and fixed decimals."""
    return f"{value:,.{decimals}f}".replace(",", " ")


def money(value: float, currency: str, signed: bool = False) -> str:
    """A price with the maker's currency, as '4.33 €'; of a difference with its sign."""
    return f"{round(value, 2) + 0.0:{'+' if signed else ''}.2f} {currency}".rstrip()


def clock(minutes: float) -> str:
    """Minutes as '13 h 20'."""
    whole = round(minutes)
    return f"{whole // 60} h {whole % 60:02d}" if whole >= 60 else f"{whole} min"


def moment(start_hour: float, hours: float) -> str:
    """A moment so many hours into something that began at an hour of day 1, as 'day 2, 14:30'."""
    minutes = round((start_hour + hours) * 60)
    return f"day {minutes // 1440 + 1}, {minutes // 60 % 24:02d}:{minutes % 60:02d}"


SMALL = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def several(count: int, name: str) -> str:
    """So many of something, as 'four arms'; one is named alone."""
    low = name[:1].lower() + name[1:]
    return low if count == 1 else f"{SMALL[count] if count < len(SMALL) else count} {low}{'' if low.endswith('s') else 's'}"


def so_many(count: int) -> str:
    """How many of a part there are, as 'four on the craft'."""
    return f"{SMALL[count] if count < len(SMALL) else count} on the craft"


def value_text(m: Margin) -> str:
    """The value with its unit, or 'not known yet'."""
    if m.value is None:
        return "not known yet"
    if m.metric == "print_minutes":
        return clock(m.value)
    if m.value > BREAKS_BELOW.get(m.metric, math.inf):
        return "does not break"
    return f"{number(m.value, m.decimals)} {m.unit}".strip()


def limit_text(m: Margin) -> str:
    """The limit as '≤ 1 150' or '≥ 18 min'."""
    if m.metric == "print_minutes":
        return f"≤ {clock(m.limit)}"
    sign = "≤" if m.sense == "at most" else "≥"
    return f"{sign} {number(m.limit, m.decimals)} {m.unit}".strip()


def spread_text(m: Margin) -> str:
    """The uncertainty as 'from 1.2 to 1.6 mm'."""
    if m.low is None or m.high is None:
        return ""
    if m.metric == "print_minutes":
        return f"from {clock(m.low)} to {clock(m.high)}"
    most = BREAKS_BELOW.get(m.metric, math.inf)
    if m.high > most:
        return f"from {number(m.low, m.decimals)} {m.unit} up" if m.low <= most else ""
    return f"from {number(m.low, m.decimals)} to {number(m.high, m.decimals)} {m.unit}".strip()


def signed(value: float) -> str:
    """A whole number with its sign; none before nothing."""
    whole = round(value)
    return f"{whole:+d}" if whole else "0"
