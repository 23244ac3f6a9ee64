"""What a new craft's wishes that were left open follow from, in words."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.model.project import Project
from fravik.shape.stations import ARRANGEMENTS

from .newcraft import BATTERY_G, BATTERY_LOAD, BED_MARGIN_MM, MOTOR_G, MOTOR_LOAD, MOTOR_POWER, PROPELLER_GAP, REFERENCE_MM, Wish


@dataclass(frozen=True)
class Follows:
    """The figure that a wish left open leads to (None: no figure), why in a few words, and why in whole."""

    value: float | None
    short: str
    whole: str


def follows(wish: Wish, made: Project) -> dict[str, Follows]:
    """Each open wish of a craft that was made from them, by the name of its field."""
    c, rotors = made.components, ARRANGEMENTS[wish.layout].rotors
    load = f", and {MOTOR_LOAD:g} of its share of the {wish.payload_g:g} g of payload" if wish.payload_g else ""
    carry = f", and {BATTERY_LOAD:g} of the {wish.payload_g:g} g of payload" if wish.payload_g else ""
    disk = f"{c.propeller.diameter_mm:g} mm"
    every = {
        "motor_to_motor_mm": Follows(made.layout.motor_to_motor_mm, *_span(wish, made)),
        "propeller_mm": Follows(
            c.propeller.diameter_mm,
            "as large as clears",
            f"As large as leaves {PROPELLER_GAP:.0%} of its diameter to the next propeller, and clears plates and battery.",
        ),
        "bed_mm": Follows(None, "no bound", "Parts may be as large as they come out."),
        "payload_g": Follows(None, "none", "Nothing hangs below."),
        "motor_g": Follows(
            c.motor.mass_g,
            "by propeller, payload" if load else "by the propeller",
            f"{MOTOR_G:g} g at a propeller of {REFERENCE_MM:g} mm, with the power {MOTOR_POWER:g} of its diameter, here {disk}{load}.",
        ),
        "battery_g": Follows(
            c.battery.mass_g,
            "by propellers, payload" if carry else "by the propellers",
            f"{BATTERY_G:g} g for each of {rotors} rotors at {REFERENCE_MM:g} mm, with the area of the disk, here {disk}{carry}.",
        ),
        "body_g": Follows(None, "none: plates are printed", "Plates are made that carry arms, legs and all else."),
    }
    given = {"motor_to_motor_mm", "propeller_mm", "bed_mm", "motor_g", "battery_g", "body_g"}
    taken = {name for name in given if getattr(wish, name) is not None} | ({"payload_g"} if wish.payload_g else set())
    return {name: found for name, found in every.items() if name not in taken}


def _span(wish: Wish, made: Project) -> tuple[str, str]:
    if wish.propeller_mm is not None:
        return "as near as they may", (f"As near as propellers of {wish.propeller_mm:g} mm may stand: {PROPELLER_GAP:.0%} of their "
                                       "diameter to the next, and clear of plates and battery.")  # fmt: skip
    if wish.bed_mm is not None:
        return "what the bed leaves", f"The longest part then lies on a bed of {wish.bed_mm:g} mm with {BED_MARGIN_MM:g} mm to spare."
    return "a usual size", "A start, as nothing bounds it. Give the propeller or the bed, and it follows from that."
