"""What a maker types into a numeric field: a number, or one with a unit of its own (3/8 in, 12 oz, 2 lb 3 oz, 250 psi, 12 mph).

Factors are exact by definition (inch 25.4 mm, pound 0.45359237 kg, standard gravity 9.80665 m/s^2).
"""

from __future__ import annotations

import re
from dataclasses import dataclass

INCH_MM, POUND_G, GRAVITY = 25.4, 453.59237, 9.80665
POUND_N = POUND_G * 1e-3 * GRAVITY
PSI_MPA = POUND_N / INCH_MM**2

# by what is measured: what each unit is worth in the first one
MEASURES: dict[str, dict[str, float]] = {
    "length": {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": INCH_MM, '"': INCH_MM, "inch": INCH_MM, "ft": 12 * INCH_MM,
               "thou": INCH_MM / 1000},
    "mass": {"g": 1.0, "kg": 1000.0, "oz": POUND_G / 16, "lb": POUND_G, "lbs": POUND_G},
    "stress": {"MPa": 1.0, "GPa": 1000.0, "kPa": 1e-3, "psi": PSI_MPA, "ksi": 1e3 * PSI_MPA, "msi": 1e6 * PSI_MPA},
    "force": {"N": 1.0, "kN": 1000.0, "gf": GRAVITY * 1e-3, "kgf": GRAVITY, "lbf": POUND_N, "ozf": POUND_N / 16},
    "moment": {"N mm": 1.0, "N m": 1000.0, "N·mm": 1.0, "N·m": 1000.0, "in lb": POUND_N * INCH_MM, "oz in": POUND_N * INCH_MM / 16},
    "speed": {"m/s": 1.0, "km/h": 1 / 3.6, "mph": 0.44704, "kt": 1852 / 3600, "ft/s": 0.3048, "mm/s": 1e-3},
    "time": {"s": 1.0, "min": 60.0, "h": 3600.0, "ms": 1e-3},
    "density": {"g/cm3": 1.0, "kg/m3": 1e-3, "lb/in3": POUND_G / 2.54**3},
    "charge": {"mAh": 1.0, "Ah": 1000.0},
    "power": {"W": 1.0, "kW": 1000.0, "mW": 1e-3},
    "current": {"A": 1.0, "mA": 1e-3},
    "resistance": {"mΩ": 1.0, "mohm": 1.0, "Ω": 1000.0, "ohm": 1000.0},
    "angle": {"°": 1.0, "deg": 1.0, "rad": 57.29577951308232},
    "stiffness": {"N/mm": 1.0, "N/m": 1e-3, "lb/in": POUND_N / INCH_MM},
    "temperature": {"°C": 1.0, "C": 1.0, "°F": 5 / 9, "F": 5 / 9},
}  # fmt: skip
FAHRENHEIT = ("°F", "F")
ALIKE = {"''": '"', "”": '"', "inches": "in", "ounces": "oz", "ounce": "oz", "pounds": "lb", "pound": "lb", "grams": "g", "g/cm³": "g/cm3",
         "mm/s2": "mm/s²"}  # fmt: skip
_NUMBER = r"[+-]?(?:\d+\s+\d+/\d+|\d+/\d+|\d*\.?\d+(?:[eE][+-]?\d+)?)"
_UNIT = r"(?:[^\d\s+-]+\d?(?=\s|$)|[^\d\s+-]+)(?: (?:mm|m|lb|in)(?=\s|$))?"
_TERM = re.compile(rf"\s*({_NUMBER})\s*({_UNIT})?\s*")
MOST_CHARACTERS, DIGITS = 60, 10


# what stands in for a metric unit where inches and ounces are shown
IN_INCHES = {"mm": "in", "g": "oz", "MPa": "psi", "N": "lbf", "N mm": "in lb", "°C": "°F", "m/s": "ft/s", "N/mm": "lb/in"}


@dataclass(frozen=True)
class Shown:
    """A unit in which a figure is shown: what is stored, times ``factor``, plus ``offset``."""

    unit: str
    factor: float = 1.0
    offset: float = 0.0

    def of(self, stored: float) -> float:
        """The figure shown for one that is stored."""
        return stored * self.factor + self.offset

    def stored(self, figure: float) -> float:
        """What is stored for a figure shown, without the last digits that the sum leaves."""
        return float(f"{(figure - self.offset) / self.factor:.{DIGITS}g}") if self.factor != 1.0 else figure


def shown_in(unit: str, inch: bool) -> Shown:
    """How a figure stored in a unit is shown; in that unit where there is no other."""
    other = IN_INCHES.get(unit) if inch else None
    if other is None:
        return Shown(unit)
    if other == "°F":
        return Shown(other, 9 / 5, 32.0)
    home = next(units for units in MEASURES.values() if unit in units and other in units)
    return Shown(other, home[unit] / home[other])


class NotANumber(ValueError):  # noqa: N818  an answer to the maker, not a fault
    """What was typed is no number, or of another unit; the message says so plainly."""


def number_of(text: str, unit: str) -> float:
    """What a text means in a field's unit. Raises NotANumber."""
    text = text.strip().replace(",", ".")
    if not text or len(text) > MOST_CHARACTERS:
        raise NotANumber(f"{text[:20]!r} is not a number")
    try:
        return float(text)
    except ValueError:
        pass
    total, at, named = 0.0, 0, ""
    while at < len(text):
        found = _TERM.match(text, at)
        if found is None or found.end() == at:
            raise NotANumber(f"{text!r} is not a number")
        value, own = _value(found[1], text), (found[2] or "").strip()
        if own:
            named = own
        elif at > 0 or found.end() < len(text):
            raise NotANumber(f"{text!r} is not a number")
        total += _in_unit(value, own, unit) if own else value
        at = found.end()
    return float(f"{total:.{DIGITS}g}") if named else total


def _value(text: str, whole: str) -> float:
    """A decimal, a fraction, or a whole number and a fraction."""
    sign = -1.0 if text.startswith("-") else 1.0
    total = 0.0
    for part in text.lstrip("+-").split():
        above, slash, below = part.partition("/")
        if slash and float(below) == 0.0:
            raise NotANumber(f"{whole!r} is not a number")
        total += float(above) / float(below) if slash else float(above)
    return sign * total


def _in_unit(value: float, own: str, unit: str) -> float:
    own = ALIKE.get(own, own)
    if own == unit or (own == "%" and unit == "%"):
        return value
    for units in MEASURES.values():
        home = ALIKE.get(unit, unit)
        if home in units and own in units:
            if units is MEASURES["temperature"]:
                celsius = (value - 32.0) * 5 / 9 if own in FAHRENHEIT else value
                return celsius * 9 / 5 + 32.0 if home in FAHRENHEIT else celsius
            return value * units[own] / units[home]
    raise NotANumber(f"{own!r} is no unit for a figure {f'in {unit}' if unit else 'without one'}")
