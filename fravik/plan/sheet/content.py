"""What stands on the sheet, ready to be set in type: no figure is worked out after this."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.shape.build import Floats

CAUTIONS = (
    ("At the printer", "Ventilate while it prints and keep an eye on it. Hot ends and beds burn."),
    ("At the bench", "Mask and gloves for cutting carbon and sanding filled plastic: the dust is harmful. Propellers off while anything is "
     "on the bench. Adhesives, resins and caustic baths by their makers' sheets, with gloves and goggles."),
    ("Batteries", "Charge attended, away from what burns; never a swollen or punctured pack."),
    ("In the air", "A printed part can break without warning: nobody below, nobody in the propellers' plane. Local rules and licensed "
     "practice decide."),
)  # fmt: skip
PIECES = "Loads, prints and plastics differ: the figures are a model's, to be tried on the bench before they are trusted."


@dataclass(frozen=True)
class PartCard:
    """One part: ``picture`` is a PNG of it as it lies; ``facts`` are (what, how) rows; ``to_set`` and ``look_at`` are lines to tick off."""

    name: str
    count: int
    figures: str
    facts: tuple[tuple[str, str], ...]
    picture: bytes
    to_set: tuple[str, ...] = ()
    look_at: tuple[str, ...] = ()
    problem: str = ""


@dataclass(frozen=True)
class Target:
    """A number that the brief demands and how far the design is from it. ``detail`` says where, or why it is not known."""

    name: str
    value: str
    limit: str
    verdict: str
    detail: str = ""


@dataclass(frozen=True)
class Finding:
    """Something foreseen; ``kept`` is the reason for which it is set aside, if it is."""

    weight: str
    where: str
    what: str
    kept: str = ""


@dataclass(frozen=True)
class BatchCard:
    """One filling of a bed, seen from above: loops (n, 2) in mm on a bed of ``bed_mm``."""

    name: str
    title: str
    lines: tuple[str, ...]
    bed_mm: tuple[float, float]
    loops: tuple[Floats, ...]


@dataclass(frozen=True)
class Moment:
    """One line of the schedule."""

    begins: str
    lasts: str
    where: str
    what: str


@dataclass(frozen=True)
class Sheet:
    """The whole sheet. ``not_laid`` says why there are no batches; ``by_roads`` whether grams and minutes are those of the roads."""

    craft: str
    purpose: str
    summary: str
    parts: tuple[PartCard, ...]
    targets: tuple[Target, ...]
    findings: tuple[Finding, ...]
    batches: tuple[BatchCard, ...]
    moments: tuple[Moment, ...]
    notes: tuple[str, ...]
    not_laid: str = ""
