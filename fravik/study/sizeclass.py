"""Size classes of craft: what each costs and risks. Loads grow with size faster than strength: a first craft had better be a small one."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.power.momentum import GRAVITY_M_S2

FALL_M = 10.0
GRAZE_J, INJURE_J = 15.0, 80.0  # of a blunt body of this kind on a person: bruises; broken bones (working assumptions, on the safe side)


@dataclass(frozen=True)
class SizeClass:
    """A class by the distance between motors across the middle, up to ``up_to_mm``."""

    name: str
    up_to_mm: float
    costs: str
    risks: str


CLASSES = (
    SizeClass("Palm size", 130.0, "The cheapest to build and to break; an evening's print, minutes of flight.",
              "Wind takes it away; screws and inserts are at the limit of what plastic holds."),
    SizeClass("Small", 260.0, "A day's print on any bed; packs and motors of everyday price.",
              "Breaks arms in crashes, seldom more. Little room: things in it touch each other."),
    SizeClass("Middle", 480.0, "Two days' print, arms at the limit of common beds; packs worth a week's filament.",
              "Arms ring within the speeds of its motors, a fall breaks what it falls on."),
    SizeClass("Large", 850.0, "Bought tubes with printed ends, days of print, several spools; motors and pack cost most.",
              "A soft frame fights its own tune. A fall can kill: nobody below, and a place of your own to fly."),
    SizeClass("Very large", 1e9, "A workshop's budget; every trial flight costs a day.",
              "Stored energy, propellers and mass of a machine tool, in the air: not a first craft, and not without training."),
)  # fmt: skip


def class_of(motor_to_motor_mm: float) -> SizeClass:
    """The class that a craft falls into."""
    return next(c for c in CLASSES if motor_to_motor_mm <= c.up_to_mm)


def fall_energy_j(mass_g: float, height_m: float = FALL_M) -> float:
    """What a fall brings down, air left out."""
    return mass_g * 1e-3 * GRAVITY_M_S2 * height_m


def fall_words(mass_g: float) -> str:
    """The same in words."""
    joule = fall_energy_j(mass_g)
    harm = "bruises whom it hits" if joule < GRAZE_J else "injures whom it hits" if joule < INJURE_J else "can kill whom it hits"
    return f"{mass_g:.0f} g falling {FALL_M:.0f} m bring {joule:.0f} J: it {harm}."
