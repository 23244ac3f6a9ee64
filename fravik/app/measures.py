"""Whether fields show millimetres and grams, or inches and ounces. What is stored stays as it is."""

from __future__ import annotations

from fravik.model.typed import Shown, shown_in

_inch = [False]


def inch() -> bool:
    """Whether fields show inches and ounces."""
    return _inch[0]


def set_inch(on: bool) -> None:
    """Show inches and ounces, or millimetres and grams; fields follow when they are refreshed."""
    _inch[0] = on


def shown(unit: str) -> Shown:
    """How a figure stored in a unit is shown."""
    return shown_in(unit, inch())
