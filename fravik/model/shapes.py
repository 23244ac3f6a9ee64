"""Parametric parts. Arm and leg run along x from position 0 at the root; z = 0 is the underside as drawn."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from pydantic import Field

from .base import Frozen, choice, quantity
from .blade import PropellerShape, RingShape
from .features import PlateFeature
from .wing import WingShape

BarWay = Literal["edges", "middle", "left", "right"]
Hands = Literal["alike", "mirrored"]
RibWays = Literal["both", "along", "across"]
BarForm = Literal["tube", "square_tube", "rod", "square_rod", "channel"]


def _features() -> Any:
    return choice((), "Features", "discs, strips, arcs, cut-outs, holes, honeycombs, ribs and bosses of your own")


class RootedArm(Frozen):
    """What every arm has: a part of it held between the plates by bolts in rows, and a length out to the motor's axis."""

    length_mm: float | None = None
    root_height_mm: float
    tongue_length_mm: float
    tongue_width_mm: float
    tongue_bolt_rows: int
    tongue_bolt_mm: float
    # whether a block of its own between the plates holds it, whatever its joint
    in_block: ClassVar[bool] = False

    @property
    def face_mm(self) -> float:
        """Height of the motor's seat over the arm's underside."""
        raise AssertionError("every arm says how high its motor sits")

    @property
    def under_mm(self) -> float:
        """Height of the spot under it where a second motor hangs."""
        return 0.0

    @property
    def sunk_mm(self) -> float:
        """How far its underside lies below the lower plate's upper face: as deep as it is tall where it is one piece with that plate."""
        return 0.0


class ArmShape(RootedArm):
    """An arm: bolted tongue between the plates, tapered body, round motor pad."""

    kind: Literal["arm"] = "arm"
    length_mm: float | None = quantity(
        None, 8.0, 700.0, "mm", "Length", "root edge to motor axis; leave empty to follow the layout", step=1
    )
    root_width_mm: float = quantity(20.0, 4.0, 80.0, "mm", "Root width", "an arm wants at least four roads each side", step=0.5)
    tip_width_mm: float = quantity(16.0, 4.0, 80.0, "mm", "Tip width", "an arm wants at least four roads each side", step=0.5)
    root_height_mm: float = quantity(
        8.0, 2.0, 40.0, "mm", "Root height", "also the gap between the plates; standard screws reach 40 mm", step=0.5
    )
    tip_height_mm: float = quantity(7.0, 2.0, 40.0, "mm", "Tip height", "also the motor pad thickness", step=0.5)
    root_fillet_mm: float = quantity(1.5, 0.2, 25.0, "mm", "Root fillet", "a nozzle cannot print a sharper corner than 0.2", step=0.5)
    pad_fillet_mm: float = quantity(4.0, 0.2, 40.0, "mm", "Pad fillet", "a nozzle cannot print a sharper corner than 0.2", step=0.5)
    pad_diameter_mm: float = quantity(30.0, 8.0, 90.0, "mm", "Pad diameter", "must carry the motor screws with an edge", step=0.5)
    bolt_circle_mm: float = quantity(19.0, 6.0, 60.0, "mm", "Motor bolt circle", "must match the motor", step=0.5)
    bolt_hole_mm: float = quantity(3.2, 1.0, 6.5, "mm", "Motor screw hole", "clearance for the screw", step=0.1)
    shaft_hole_mm: float = quantity(8.0, 0.0, 30.0, "mm", "Shaft hole", "room for the shaft circlip", step=0.5)
    tongue_length_mm: float = quantity(30.0, 5.0, 120.0, "mm", "Tongue length", "held between the plates", step=1)
    tongue_width_mm: float = quantity(28.0, 6.0, 100.0, "mm", "Tongue width", "held between the plates", step=0.5)
    tongue_bolt_rows: int = quantity(2, 1, 3, "", "Tongue bolt pairs", "one bolt each side of the middle, in rows", step=1)
    tongue_bolt_mm: float = quantity(3.2, 1.5, 6.5, "mm", "Tongue bolt hole", "clearance for the bolt", step=0.1)
    pocket_count: int = quantity(0, 0, 8, "", "Lightening pockets", "through the arm, in a row", step=1)
    pocket_length_mm: float = quantity(18.0, 3.0, 120.0, "mm", "Pocket length", "along the arm", step=0.5)
    pocket_width_mm: float = quantity(7.0, 1.0, 60.0, "mm", "Pocket width", "leave a wall each side", step=0.5)
    pocket_corner_mm: float = quantity(2.0, 0.2, 30.0, "mm", "Pocket corner radius", "at most half the pocket", step=0.25)
    pocket_rows: int = quantity(1, 1, 5, "", "Rows of pockets", "side by side: a web of bars instead of two rails", step=1)
    pocket_web_mm: float = quantity(2.4, 0.8, 20.0, "mm", "Web between rows", "two roads at least", step=0.2)
    bar_height_mm: float = quantity(0.0, 0.0, 20.0, "mm", "Stiffener bar height", "above the arm along both edges; 0 for none", step=0.5)
    bar_width_mm: float = quantity(2.7, 0.8, 15.0, "mm", "Stiffener bar width", "two roads at least", step=0.1)
    bar_way: BarWay = choice("edges", "Stiffener bars", "along both edges, one of them, or the middle")
    channel_width_mm: float = quantity(
        0.0, 0.0, 60.0, "mm", "Channel width", "open below, for wires or a speed controller; 0 for none", step=0.5
    )
    channel_depth_mm: float = quantity(4.0, 0.5, 35.0, "mm", "Channel depth", "leave a floor of four layers over it", step=0.5)
    channel_ribs: int = quantity(2, 0, 12, "", "Ribs in the channel", "across it, so that its sides cannot fold in", step=1)
    comb_cell_mm: float = quantity(0.0, 0.0, 30.0, "mm", "Honeycomb cell", "across its flats, through the arm; 0 for none", step=0.5)
    comb_wall_mm: float = quantity(2.4, 0.8, 15.0, "mm", "Walls between cells", "two roads at least", step=0.2)
    comb_rows: int = quantity(2, 2, 8, "", "Rows of cells", "side by side, every other column one fewer", step=1)
    bow_mm: float = quantity(
        0.0, -120.0, 120.0, "mm", "Bowed aside", "its middle line, most half way; to the left, seen from the root", step=1
    )
    hands: Hands = choice("alike", "Copies", "all alike, or those on the right mirror images of what is drawn")

    @property
    def face_mm(self) -> float:
        return self.tip_height_mm

    @property
    def pockets_mm(self) -> float:
        """How much of its width pockets and the webs between them take."""
        return self.pocket_rows * self.pocket_width_mm + (self.pocket_rows - 1) * self.pocket_web_mm

    @property
    def handed(self) -> bool:
        """Whether it is another thing than its mirror image."""
        return self.bow_mm != 0 or (self.bar_height_mm > 0 and self.bar_way in ("left", "right"))


class FrameArmShape(ArmShape):
    """An arm of a frame plate, told apart where strength is asked for; its height is the plate's."""

    kind: Literal["frame_arm"] = "frame_arm"  # type: ignore[assignment]

    @property
    def sunk_mm(self) -> float:
        return self.root_height_mm


class FrameShape(Frozen):
    """A frame plate: one flat part whose middle and arms are one piece, as large as the layout asks."""

    kind: Literal["frame"] = "frame"
    thickness_mm: float = quantity(4.0, 1.2, 20.0, "mm", "Thickness", "of the whole frame", step=0.2)
    length_mm: float = quantity(60.0, 16.0, 600.0, "mm", "Middle, length", "fore and aft", step=1)
    width_mm: float = quantity(40.0, 16.0, 600.0, "mm", "Middle, width", "wide enough for what is bolted on", step=1)
    corner_mm: float = quantity(6.0, 0.5, 100.0, "mm", "Corner radius", "at most half the middle", step=1)
    stack_pitch_mm: float = quantity(20.0, 10.0, 60.0, "mm", "Stack hole pitch", "flight stacks come within this", step=0.5)
    stack_hole_mm: float = quantity(2.2, 1.0, 6.5, "mm", "Stack hole", "clearance for the screw", step=0.1)
    window_length_mm: float = quantity(8.0, 0.0, 200.0, "mm", "Window length", "0 for none", step=1)
    window_width_mm: float = quantity(8.0, 0.0, 200.0, "mm", "Window width", "0 for none", step=1)
    grid_pitch_mm: float = quantity(0.0, 0.0, 100.0, "mm", "Hole grid pitch", "for what is bolted on later; 0 for none", step=1)
    grid_hole_mm: float = quantity(3.2, 1.0, 40.0, "mm", "Grid hole", "clearance for the screw, or larger to lighten", step=0.1)
    root_width_mm: float = quantity(12.0, 4.0, 80.0, "mm", "Arm root width", "an arm wants at least four roads each side", step=0.5)
    tip_width_mm: float = quantity(10.0, 4.0, 80.0, "mm", "Arm tip width", "an arm wants at least four roads each side", step=0.5)
    root_fillet_mm: float = quantity(3.0, 0.2, 25.0, "mm", "Root fillet", "where an arm leaves the middle", step=0.5)
    bar_height_mm: float = quantity(0.0, 0.0, 20.0, "mm", "Stiffener bar height", "above the arm along both edges; 0 for none", step=0.5)
    bar_width_mm: float = quantity(2.7, 0.8, 15.0, "mm", "Stiffener bar width", "two roads at least", step=0.1)
    pad_diameter_mm: float = quantity(18.0, 8.0, 90.0, "mm", "Pad diameter", "must carry the motor screws with an edge", step=0.5)
    pad_fillet_mm: float = quantity(4.0, 0.2, 40.0, "mm", "Pad fillet", "a nozzle cannot print a sharper corner than 0.2", step=0.5)
    bolt_circle_mm: float = quantity(9.0, 6.0, 60.0, "mm", "Motor bolt circle", "must match the motor", step=0.5)
    bolt_hole_mm: float = quantity(2.2, 1.0, 6.5, "mm", "Motor screw hole", "clearance for the screw", step=0.1)
    shaft_hole_mm: float = quantity(4.0, 0.0, 30.0, "mm", "Shaft hole", "room for the shaft circlip", step=0.5)
    pocket_count: int = quantity(0, 0, 8, "", "Windows in an arm", "in a row", step=1)
    pocket_length_mm: float = quantity(10.0, 3.0, 120.0, "mm", "Window length", "along the arm", step=0.5)
    pocket_width_mm: float = quantity(4.0, 1.0, 60.0, "mm", "Window width", "leave a wall each side", step=0.5)
    pocket_corner_mm: float = quantity(1.5, 0.2, 30.0, "mm", "Window corner radius", "at most half the window", step=0.25)
    pocket_rows: int = quantity(1, 1, 5, "", "Rows of windows", "side by side: a web of bars instead of two rails", step=1)
    pocket_web_mm: float = quantity(2.4, 0.8, 20.0, "mm", "Web between rows", "two roads at least", step=0.2)
    features: tuple[PlateFeature, ...] = choice(
        (), "Features", "discs, strips, arcs, cut-outs, holes, honeycombs, ribs and bosses of your own"
    )


class BarArmShape(RootedArm):
    """An arm of bought bar: held in a printed root clamp between the plates, with a printed motor holder clamped to its end."""

    in_block: ClassVar[bool] = True
    kind: Literal["bar_arm"] = "bar_arm"
    material: str = choice("carbon_rolled", "Material")
    form: BarForm = choice("tube", "Form")
    outer_mm: float = quantity(12.0, 3.0, 60.0, "mm", "Outside", "diameter, or the side of a square", step=1)
    wall_mm: float = quantity(1.0, 0.3, 10.0, "mm", "Wall", "of a tube or channel; a rod is solid", step=0.25)
    length_mm: float | None = quantity(
        None, 8.0, 700.0, "mm", "Length", "plate edge to motor axis; leave empty to follow the layout", step=1
    )
    root_height_mm: float = quantity(20.0, 6.0, 60.0, "mm", "Clamp height", "also the gap between the plates", step=0.5)
    tongue_length_mm: float = quantity(30.0, 6.0, 120.0, "mm", "Held in the clamp", "of the bar, between the plates", step=1)
    tongue_width_mm: float = quantity(32.0, 8.0, 100.0, "mm", "Clamp width", "room for a bolt each side of the bar", step=0.5)
    tongue_bolt_rows: int = quantity(2, 1, 3, "", "Clamp bolt pairs", "through both plates, one bolt each side of the bar", step=1)
    tongue_bolt_mm: float = quantity(3.2, 1.5, 6.5, "mm", "Clamp bolt hole", "clearance for the bolt", step=0.1)
    holder_grip_mm: float = quantity(26.0, 6.0, 120.0, "mm", "Motor holder grip", "of the bar's end, about the motor's axis", step=1)
    seat_rise_mm: float = quantity(4.0, 1.2, 20.0, "mm", "Motor seat over the bar", "plastic under the motor", step=0.5)

    @property
    def face_mm(self) -> float:
        return self.root_height_mm / 2 + self.outer_mm / 2 + self.seat_rise_mm

    @property
    def under_mm(self) -> float:
        return self.root_height_mm - self.face_mm


class RootClampShape(Frozen):
    """The printed block between the plates that clamps a bar arm's root; its size follows the arm's."""

    kind: Literal["root_clamp"] = "root_clamp"
    fit_mm: float = quantity(0.15, 0.0, 0.6, "mm", "Bore over bar", "room to slide the bar in; the screws close it", step=0.05)
    slit_mm: float = quantity(1.5, 0.5, 5.0, "mm", "Slit", "what the screws close", step=0.25)


class MotorHolderShape(Frozen):
    """The printed block that clamps on a bar arm's end and carries the motor; its grip follows the arm's."""

    kind: Literal["motor_holder"] = "motor_holder"
    fit_mm: float = quantity(0.15, 0.0, 0.6, "mm", "Bore over bar", "room to slide the bar in; the screws close it", step=0.05)
    slit_mm: float = quantity(1.5, 0.5, 5.0, "mm", "Slit", "under the bar; what the screws close", step=0.25)
    wall_mm: float = quantity(4.0, 1.2, 20.0, "mm", "Wall round the bar", "at least four roads", step=0.5)
    pad_diameter_mm: float = quantity(30.0, 8.0, 90.0, "mm", "Seat diameter", "must carry the motor screws with an edge", step=0.5)
    bolt_circle_mm: float = quantity(19.0, 6.0, 60.0, "mm", "Motor bolt circle", "must match the motor", step=0.5)
    bolt_hole_mm: float = quantity(3.2, 1.0, 6.5, "mm", "Motor screw hole", "clearance for the screw", step=0.1)


class LegShape(Frozen):
    """A landing leg printed as a flat blade: flange, tapered blade, round toe."""

    kind: Literal["leg"] = "leg"
    length_mm: float = quantity(62.0, 10.0, 300.0, "mm", "Length", "flange edge to toe centre; longer legs belong on larger craft", step=1)
    root_width_mm: float = quantity(
        16.0, 3.0, 60.0, "mm", "Root width", "wide enough for its roads, narrow enough for its flange", step=0.5
    )
    tip_width_mm: float = quantity(9.0, 3.0, 60.0, "mm", "Tip width", "wide enough to land on", step=0.5)
    thickness_mm: float = quantity(
        7.0, 1.5, 30.0, "mm", "Thickness", "thinner than 1.5 mm has no core, thicker than this is a block", step=0.5
    )
    flange_length_mm: float = quantity(12.0, 6.0, 60.0, "mm", "Flange length", "the bolts run through it", step=0.5)
    flange_width_mm: float = quantity(32.0, 6.0, 80.0, "mm", "Flange width", "room for a bolt each side of the blade", step=0.5)
    flange_bolt_mm: float = quantity(3.2, 1.5, 6.5, "mm", "Flange bolt hole", "clearance for the bolt", step=0.1)
    root_fillet_mm: float = quantity(3.0, 0.2, 25.0, "mm", "Root fillet", "a nozzle cannot print a sharper corner than 0.2", step=0.5)
    splay_deg: float = quantity(12.0, 0.0, 50.0, "°", "Splay", "outward lean from upright", step=1)


class PlateShape(Frozen):
    """A body plate: rounded rectangle with arm bolts, stack holes and a window."""

    kind: Literal["plate"] = "plate"
    length_mm: float = quantity(104.0, 16.0, 1000.0, "mm", "Length", "fore and aft", step=1)
    width_mm: float = quantity(84.0, 16.0, 1000.0, "mm", "Width", "must reach the arms and fit a bed", step=1)
    thickness_mm: float = quantity(
        3.0, 0.8, 15.0, "mm", "Thickness", "thinner than 1.5 mm has no core, thicker than this is a block", step=0.2
    )
    corner_mm: float = quantity(18.0, 0.5, 100.0, "mm", "Corner radius", "at most half the plate", step=1)
    stack_pitch_mm: float = quantity(30.5, 10.0, 60.0, "mm", "Stack hole pitch", "flight stacks come within this", step=0.5)
    stack_hole_mm: float = quantity(3.2, 1.0, 6.5, "mm", "Stack hole", "clearance for the screw", step=0.1)
    window_length_mm: float = quantity(18.0, 0.0, 200.0, "mm", "Window length", "0 for none", step=1)
    window_width_mm: float = quantity(18.0, 0.0, 200.0, "mm", "Window width", "0 for none", step=1)
    grid_pitch_mm: float = quantity(0.0, 0.0, 100.0, "mm", "Hole grid pitch", "for what is bolted on later; 0 for none", step=1)
    grid_hole_mm: float = quantity(3.2, 1.0, 40.0, "mm", "Grid hole", "clearance for the screw, or larger to lighten", step=0.1)
    rib_height_mm: float = quantity(0.0, 0.0, 30.0, "mm", "Rib height", "on the outer face; 0 for none", step=0.5)
    rib_width_mm: float = quantity(2.4, 0.8, 15.0, "mm", "Rib width", "two roads at least", step=0.1)
    rib_pitch_mm: float = quantity(24.0, 5.0, 200.0, "mm", "Rib pitch", "from rib to rib", step=1)
    rib_ways: RibWays = choice("both", "Ribs run", "both ways stiffen it all round; one way alone is lighter")
    place: Literal["bottom", "top"] = choice("bottom", "Place")
    features: tuple[PlateFeature, ...] = choice(
        (), "Features", "discs, strips, arcs, cut-outs, holes, honeycombs, ribs and bosses of your own"
    )


class DeckShape(Frozen):
    """A flat deck on standoffs over the body, under it, or over another deck."""

    kind: Literal["deck"] = "deck"
    over: str = choice("", "Stands on", "another deck; none: the body")
    side: Literal["above", "below"] = choice("above", "Side", "over the body or under it")
    length_mm: float = quantity(80.0, 16.0, 600.0, "mm", "Length", "fore and aft", step=1)
    width_mm: float = quantity(60.0, 16.0, 600.0, "mm", "Width", "across", step=1)
    thickness_mm: float = quantity(2.4, 0.8, 15.0, "mm", "Thickness", "thinner than 1.5 mm has no core", step=0.2)
    corner_mm: float = quantity(8.0, 0.5, 100.0, "mm", "Corner radius", "at most half the deck", step=1)
    x_mm: float = quantity(0.0, -300.0, 300.0, "mm", "Forward of centre", "of its middle", step=1)
    standoff_mm: float = quantity(25.0, 3.0, 150.0, "mm", "Standoffs", "how long they are", step=1)
    standoff_g: float = quantity(1.5, 0.0, 60.0, "g", "One standoff", "with its screws", step=0.5)
    pitch_x_mm: float = quantity(64.0, 8.0, 560.0, "mm", "Standoffs apart, along", "middle to middle", step=1)
    pitch_y_mm: float = quantity(44.0, 8.0, 560.0, "mm", "Standoffs apart, across", "middle to middle", step=1)
    screw_hole_mm: float = quantity(3.2, 1.0, 6.5, "mm", "Screw hole", "clearance for the screw", step=0.1)
    window_length_mm: float = quantity(0.0, 0.0, 500.0, "mm", "Window length", "0 for none", step=1)
    window_width_mm: float = quantity(0.0, 0.0, 500.0, "mm", "Window width", "0 for none", step=1)
    grid_pitch_mm: float = quantity(0.0, 0.0, 100.0, "mm", "Hole grid pitch", "for what is bolted on later; 0 for none", step=1)
    grid_hole_mm: float = quantity(3.2, 1.0, 40.0, "mm", "Grid hole", "clearance for the screw, or larger to lighten", step=0.1)
    features: tuple[PlateFeature, ...] = choice(
        (), "Features", "discs, strips, arcs, cut-outs, holes, honeycombs, ribs and bosses of your own"
    )


class GuardShape(Frozen):
    """A propeller guard printed flat: a hub under the motor, two struts, and an arc around the propeller's tip."""

    kind: Literal["guard"] = "guard"
    radius_mm: float | None = quantity(
        None, 25.0, 350.0, "mm", "Arc radius", "from the motor axis; leave empty to clear the propeller by 6 mm", step=1
    )
    span_deg: float = quantity(110.0, 40.0, 200.0, "°", "Arc", "how far round the propeller the guard reaches", step=5)
    width_mm: float = quantity(4.0, 1.2, 20.0, "mm", "Width", "thickness in the plane of the propeller", step=0.5)
    height_mm: float = quantity(8.0, 2.0, 30.0, "mm", "Height", "of the ring and struts", step=0.5)
    corner_mm: float = quantity(6.0, 0.2, 40.0, "mm", "Corner radius", "where strut and arc meet", step=0.5)
    hub_diameter_mm: float = quantity(32.0, 10.0, 90.0, "mm", "Hub diameter", "must carry the motor screws with an edge", step=0.5)
    hub_thickness_mm: float = quantity(3.0, 1.0, 12.0, "mm", "Hub thickness", "between motor and arm", step=0.5)
    bolt_circle_mm: float = quantity(19.0, 6.0, 60.0, "mm", "Motor bolt circle", "must match the motor", step=0.5)
    bolt_hole_mm: float = quantity(3.2, 1.0, 6.5, "mm", "Motor screw hole", "clearance for the screw", step=0.1)
    root_fillet_mm: float = quantity(4.0, 0.2, 25.0, "mm", "Hub fillet", "where a strut leaves the hub", step=0.5)


class MountShape(Frozen):
    """A camera mount: a tongue under the bottom plate, a tapered blade, and a pad that carries the camera."""

    kind: Literal["mount"] = "mount"
    length_mm: float = quantity(34.0, 8.0, 200.0, "mm", "Length", "plate edge to the middle of the camera pad", step=1)
    root_width_mm: float = quantity(22.0, 4.0, 90.0, "mm", "Root width", "at the plate edge", step=0.5)
    tip_width_mm: float = quantity(18.0, 4.0, 90.0, "mm", "Tip width", "before the pad", step=0.5)
    thickness_mm: float = quantity(5.0, 1.0, 25.0, "mm", "Thickness", "of the whole mount", step=0.5)
    pad_length_mm: float = quantity(20.0, 6.0, 90.0, "mm", "Pad length", "along the mount", step=1)
    pad_width_mm: float = quantity(28.0, 6.0, 90.0, "mm", "Pad width", "across the mount", step=1)
    tongue_length_mm: float = quantity(22.0, 8.0, 80.0, "mm", "Tongue length", "under the plate", step=1)
    tongue_width_mm: float = quantity(30.0, 6.0, 100.0, "mm", "Tongue width", "under the plate", step=1)
    tongue_bolt_mm: float = quantity(3.2, 1.5, 6.5, "mm", "Bolt hole", "two bolts hold the tongue", step=0.1)
    root_fillet_mm: float = quantity(3.0, 0.2, 25.0, "mm", "Root fillet", "a nozzle cannot print a sharper corner than 0.2", step=0.5)
    pad_fillet_mm: float = quantity(3.0, 0.2, 25.0, "mm", "Pad fillet", "a nozzle cannot print a sharper corner than 0.2", step=0.5)
    tilt_deg: float = quantity(0.0, -45.0, 90.0, "°", "Nose down", "lean of the mount and its camera", step=5)
    carried_g: float = quantity(62.0, 1.0, 2000.0, "g", "Carries", "camera, its plate and screws; weigh it", step=1)
    carried_height_mm: float = quantity(16.0, 0.0, 150.0, "mm", "Carried below", "centre of the camera below the pad", step=1)


class ImportedShape(Frozen):
    """A solid read from a mesh file: it is weighed, laid and printed, but not judged for strength.

    ``mesh`` holds the mesh as text (see ``shape.meshread``), its box's middle at x = y = 0 and its lowest point at z = 0.
    """

    kind: Literal["imported"] = "imported"
    mesh: str = Field(max_length=20_000_000)
    source: str = choice("", "Read from")
    scale: float = quantity(1.0, 0.01, 100.0, "×", "Scale", "of the mesh as it was read", step=0.05)
    x_mm: float = quantity(0.0, -400.0, 400.0, "mm", "Forward of centre", "middle of the part on the craft", step=1)
    y_mm: float = quantity(0.0, -400.0, 400.0, "mm", "Left of centre", "middle of the part on the craft", step=1)
    z_mm: float = quantity(0.0, -300.0, 300.0, "mm", "Above bottom plate", "lowest point of the part", step=1)


Shape = (
    ImportedShape | ArmShape | LegShape | PlateShape | GuardShape | MountShape | BarArmShape | RootClampShape | MotorHolderShape
    | FrameShape | FrameArmShape | PropellerShape | RingShape | WingShape | DeckShape
)  # fmt: skip
