"""What a part's sections are read off: the part without what its kind counts apart, ribs on a plate or a honeycomb through an arm."""

from __future__ import annotations

from dataclasses import replace

from fravik.kinds import build_solid, kind_of, rising_of
from fravik.printing.zones import ZoneField, lay

from .results import PartResult


def bare_field(r: PartResult) -> ZoneField:
    """Its zones; those of the part itself where nothing of it is counted apart."""
    kind = kind_of(r.part.shape)
    plain = kind.plain(r.part.shape)
    if plain == r.part.shape:
        return r.field
    given = replace(r.given, shape=plain)
    rising = rising_of(given, r.part.recipe)
    return lay(rising if rising is not None else build_solid(given), r.part.recipe, bends=kind.bends)
