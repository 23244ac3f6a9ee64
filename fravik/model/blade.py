"""A propeller of the maker's own: drawn by laws, by positions along its blade, or from readings taken off one."""

from __future__ import annotations

from typing import Literal

from .base import Frozen, choice, quantity

Turns = Literal["anticlockwise", "clockwise"]
Outline = Literal["slim", "usual", "broad"]
Piece = Literal["whole", "blade", "hub"]
Bore = Literal["round", "flat", "hex", "screws"]


class BladeStation(Frozen):
    """A blade at one position: what is drawn there. ``ahead_mm`` is how far its leading edge lies before the line of the axis."""

    radius_mm: float = quantity(50.0, 1.0, 380.0, "mm", "Radius", "from the axis", step=1)
    chord_mm: float = quantity(15.0, 1.0, 150.0, "mm", "Chord", "leading to trailing edge", step=0.5)
    angle_deg: float = quantity(15.0, -10.0, 80.0, "°", "Angle", "of the chord over the disk", step=0.5)
    thickness_mm: float = quantity(1.6, 0.3, 20.0, "mm", "Thickness", "at its thickest", step=0.1)
    ahead_mm: float = quantity(6.0, -100.0, 150.0, "mm", "Leading edge ahead", "of the line from the axis outwards", step=0.5)


class Reading(Frozen):
    """A blade measured at one position, the propeller lying on a flat table: heights of both edges over it, chord across the blade."""

    radius_mm: float = quantity(50.0, 1.0, 380.0, "mm", "Radius", "from the axis", step=1)
    chord_mm: float = quantity(15.0, 1.0, 150.0, "mm", "Chord", "callipers across the blade, edge to edge", step=0.1)
    leading_mm: float = quantity(5.0, -50.0, 100.0, "mm", "Leading edge", "height over the table", step=0.1)
    trailing_mm: float = quantity(1.0, -50.0, 100.0, "mm", "Trailing edge", "height over the table", step=0.1)
    thickness_mm: float = quantity(1.6, 0.2, 20.0, "mm", "Thickness", "at its thickest", step=0.1)


class ThrustReading(Frozen):
    """What a thrust stand told, the propeller standing; power at the shaft, 0 where it was not measured."""

    rpm: float = quantity(5000.0, 100.0, 120000.0, "rpm", "Speed", "as the stand counts it", step=100)
    thrust_n: float = quantity(2.0, 0.0, 500.0, "N", "Thrust", "of one propeller", step=0.1)
    power_w: float = quantity(0.0, 0.0, 20000.0, "W", "Power", "at the shaft: torque times speed; 0 for not measured", step=1)


class PropellerShape(Frozen):
    """A printed propeller. ``stations`` draw its blade where there are any, else the laws do; ``readings`` are what was measured."""

    kind: Literal["propeller"] = "propeller"
    turns: Turns = choice("anticlockwise", "Turns", "seen from above; the other hand is a part of its own")
    in_use: bool = choice(True, "Flies on the craft", "in place of the bought propeller, on rotors that turn its way")
    diameter_mm: float = quantity(178.0, 25.0, 760.0, "mm", "Diameter", "tip to tip", step=1)
    blades: int = quantity(2, 2, 6, "", "Blades", "more of them are slower and quieter for the same thrust", step=1)
    pitch_mm: float = quantity(102.0, 10.0, 500.0, "mm", "Pitch", "advance per turn: sets the angle along the blade", step=1)
    outline: Outline = choice("usual", "Outline", "how the chord goes along the blade")
    chord_share: float = quantity(
        0.17, 0.05, 0.45, "× radius", "Chord at 3/4", "at three quarters of the radius, over the radius", step=0.01
    )
    camber: float = quantity(0.04, 0.0, 0.08, "× chord", "Camber", "height of the middle line over the chord", step=0.005)
    root_thickness: float = quantity(0.16, 0.04, 0.30, "× chord", "Thick at the root", "of the chord", step=0.01)
    tip_thickness: float = quantity(0.09, 0.03, 0.16, "× chord", "Thick at the tip", "of the chord", step=0.01)
    least_mm: float = quantity(1.0, 0.4, 6.0, "mm", "Least thickness", "a blade wants some layers", step=0.1)
    edge_mm: float = quantity(0.45, 0.2, 2.0, "mm", "Trailing edge", "a nozzle lays no thinner than one road", step=0.05)
    ducted: bool = choice(
        False, "In a duct", "a ring about it closer than 1 % of its radius: its tips lose nothing; the ring's own lift is not told"
    )
    sweep_mm: float = quantity(0.0, -60.0, 60.0, "mm", "Sweep back", "of the tip", step=1)
    piece: Piece = choice("whole", "Made as", "one piece; or blades that fold back about upright pins, and the hub that holds them")
    pivot_mm: float = quantity(14.0, 3.0, 120.0, "mm", "Pivot", "from the axis to the pin of a folding blade", step=0.5)
    pin_mm: float = quantity(3.0, 1.0, 8.0, "mm", "Pin", "a screw's, as drawn", step=0.1)
    eye_mm: float = quantity(9.0, 3.0, 40.0, "mm", "Eye", "of the blade, round its pin", step=0.5)
    play_mm: float = quantity(0.2, 0.05, 1.0, "mm", "Play", "between eye and cheeks: a blade has to swing freely", step=0.05)
    hub_diameter_mm: float = quantity(16.0, 5.0, 80.0, "mm", "Hub diameter", "the blade's root must find room on it", step=0.5)
    hub_height_mm: float = quantity(8.0, 2.0, 40.0, "mm", "Hub height", "what the nut clamps", step=0.5)
    root_fillet_mm: float = quantity(4.0, 0.5, 30.0, "mm", "Root", "over which the blade thickens into the hub", step=0.5)
    root_swell: float = quantity(1.5, 1.0, 3.0, "×", "Root thicker", "than the blade beside it, at the hub", step=0.1)
    bore: Bore = choice("round", "Bore", "what holds it on the motor")
    bore_mm: float = quantity(5.2, 0.8, 20.0, "mm", "Bore", "as drawn; measure what your printer makes of it", step=0.05)
    shaft_mm: float = quantity(5.0, 0.8, 20.0, "mm", "Shaft", "of the motor, measured", step=0.05)
    flat_mm: float = quantity(4.5, 0.5, 20.0, "mm", "Across the flat", "of a shaft with a flat, or of a hexagon", step=0.1)
    screw_circle_mm: float = quantity(9.0, 3.0, 40.0, "mm", "Screw circle", "of the motor's bell", step=0.5)
    screw_hole_mm: float = quantity(2.2, 0.8, 5.0, "mm", "Screw hole", "four of them", step=0.1)
    bush_mm: float = quantity(0.0, 0.0, 6.0, "mm", "Soft bush, wall", "of a flexible filament inside the hub; 0 for none", step=0.25)
    bush_grip_mm: float = quantity(0.2, 0.0, 1.0, "mm", "Bush, tighter by", "bush over hub and shaft, in diameter", step=0.05)
    unbalance_gmm: float | None = quantity(
        None,
        0.0,
        500.0,
        "g mm",
        "Out of balance",
        "grams to even it out times their radius; empty as it is printed",
        step=0.1,
    )
    cruise_m_s: float = quantity(
        0.0, 0.0, 120.0, "m/s", "Cruise", "speed along its shaft that a better blade is sought for; 0: for hover", step=1
    )
    cruise_n: float = quantity(1.0, 0.0, 200.0, "N", "Thrust in cruise", "of one propeller", step=0.1)
    stations: tuple[BladeStation, ...] = choice((), "Positions", "drawn by hand or from readings; none: by the laws above")
    readings: tuple[Reading, ...] = choice((), "Readings", "taken off a propeller with callipers")

    stand: tuple[ThrustReading, ...] = choice((), "Thrust stand", "measured thrust, which then counts in place of the computed")

    @property
    def radius_mm(self) -> float:
        """Axis to tip."""
        return self.diameter_mm / 2

    @property
    def folds(self) -> bool:
        """Whether its blades fold."""
        return self.piece != "whole"

    @property
    def root_mm(self) -> float:
        """Where the blade leaves what holds it."""
        return self.pivot_mm + self.eye_mm / 2 if self.folds else self.hub_diameter_mm / 2

    @property
    def eye_height_mm(self) -> float:
        """Of a folding blade's eye: half of the hub's, with a cheek above and one below."""
        return self.hub_height_mm / 2


class RingShape(Frozen):
    """A ring between a shaft and a hub: an adapter, or a soft bush."""

    kind: Literal["ring"] = "ring"
    outer_mm: float = quantity(8.0, 1.5, 40.0, "mm", "Outer diameter", "the hub's bore, and what a bush is to be tighter by", step=0.05)
    inner_mm: float = quantity(5.0, 0.6, 38.0, "mm", "Inner diameter", "the shaft's, less what a bush is to be tighter by", step=0.05)
    height_mm: float = quantity(8.0, 0.5, 60.0, "mm", "Height", "of the hub", step=0.5)
    flange_mm: float = quantity(0.0, 0.0, 60.0, "mm", "Flange", "that keeps it from slipping through; 0 for none", step=0.5)
    flange_thick_mm: float = quantity(1.0, 0.4, 10.0, "mm", "Flange, thick", "under the hub", step=0.2)
