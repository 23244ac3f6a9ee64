"""Panels of wing, tail and fin. Aeroplane axes: x forward, y left, z up as it flies; a craft that stands on its tail hovers along x."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator

from .base import Frozen, Slug, choice, quantity
from .joint import Screw

Hand = Literal["pair", "across", "upright"]
Role = Literal["wing", "tail", "fin"]
Surface = Literal["none", "aileron", "elevator", "elevon", "flaperon", "rudder"]
Hinge = Literal["pin", "rubber", "living"]
Fixed = Literal["glued", "set_screw", "sliding"]
JointBy = Literal["pin", "set_screws", "glue"]

LEAST_SECTION = 12


class Coordinate(Frozen):
    """One point of a section's outline, over its chord: 0 at the leading edge, 1 at the trailing."""

    x: float = quantity(0.0, -0.05, 1.05, "× chord", "Along", "from the leading edge", step=0.01)
    y: float = quantity(0.0, -0.5, 0.5, "× chord", "Above", "the line from leading to trailing edge", step=0.01)


class WingShape(Frozen):
    """One panel of a wing, a tail or a fin, from its root along its span."""

    kind: Literal["wing"] = "wing"
    role: Role = choice("wing", "Is", "a wing carries, a tail steadies in pitch, a fin in yaw")
    hand: Hand = choice("pair", "Stands", "left and right as mirror images, across the middle in one piece, or upright")
    on: str = choice("", "Joins on to", "the panel at whose tip its root sits; none: the body")
    length_mm: float = quantity(300.0, 20.0, 2000.0, "mm", "Span of the panel", "root to tip; of one across the middle, tip to tip", step=5)
    root_chord_mm: float = quantity(160.0, 15.0, 800.0, "mm", "Root chord", "leading to trailing edge", step=5)
    tip_chord_mm: float = quantity(130.0, 15.0, 800.0, "mm", "Tip chord", "leading to trailing edge", step=5)
    sweep_mm: float = quantity(0.0, -400.0, 800.0, "mm", "Tip swept back", "of its leading edge behind the root's", step=5)
    dihedral_deg: float = quantity(0.0, -15.0, 20.0, "°", "Dihedral", "tip up", step=0.5)
    incidence_deg: float = quantity(1.0, -10.0, 15.0, "°", "Incidence", "of the root's chord over the body's line", step=0.5)
    washout_deg: float = quantity(0.0, -8.0, 12.0, "°", "Washout", "tip turned nose down against the root", step=0.5)
    x_mm: float = quantity(60.0, -1000.0, 1000.0, "mm", "Leading edge ahead", "of the craft's middle, at the root", step=5)
    y_mm: float = quantity(0.0, 0.0, 1000.0, "mm", "Root aside", "of the craft's middle", step=5)
    z_mm: float = quantity(20.0, -500.0, 500.0, "mm", "Root up", "over the craft's middle", step=5)
    thickness: float = quantity(0.12, 0.04, 0.24, "× chord", "Thick", "at its thickest, of four-digit sections", step=0.01)
    camber: float = quantity(0.04, 0.0, 0.08, "× chord", "Camber", "height of the middle line", step=0.01)
    section: tuple[Coordinate, ...] = choice(
        (), "Own section", "its outline from the trailing edge over the top and back; none: four digits"
    )
    surface: Surface = choice("none", "Surface", "what moves at its trailing edge")
    surface_share: float = quantity(0.25, 0.1, 0.5, "× chord", "Surface, chord", "behind its hinge", step=0.01)
    surface_from: float = quantity(0.4, 0.0, 0.95, "× span", "Surface from", "of the panel, from its root", step=0.05)
    surface_to: float = quantity(0.95, 0.05, 1.0, "× span", "Surface to", "of the panel, from its root", step=0.05)
    surface_deg: float = quantity(25.0, 2.0, 60.0, "°", "Surface, most", "either way", step=1)
    hinge: Hinge = choice("pin", "Hinge", "a pin printed in, a strip of rubber, or plastic thin enough to bend")
    hinge_gap_mm: float = quantity(
        0.8, 0.4, 10.0, "mm", "Hinge, gap", "along the chord: of bending plastic what bends, of a strip what is bare", step=0.2
    )
    hinge_left_mm: float = quantity(
        0.5, 0.2, 3.0, "mm", "Hinge, left", "of the skin over the gap; where the panel is one path more, and cut free", step=0.1
    )
    hinge_pin_mm: float = quantity(1.75, 0.8, 6.0, "mm", "Hinge, pin", "printed, or a length of filament", step=0.25)
    horn_mm: float = quantity(12.0, 3.0, 60.0, "mm", "Horn", "from the hinge to the servo's rod", step=1)
    hinge_play_deg: float = quantity(0.5, 0.0, 5.0, "°", "Hinge, play", "of surface and linkage together", step=0.1)
    servo_nmm: float = quantity(120.0, 5.0, 3000.0, "N mm", "Servo, torque", "at its voltage, stalled", step=10)
    spar_mm: float = quantity(10.0, 0.0, 40.0, "mm", "Spar tube", "outside; 0 for none", step=1)
    spar_wall_mm: float = quantity(1.0, 0.3, 5.0, "mm", "Spar, wall", "of the tube", step=0.25)
    spar_at: float = quantity(0.30, 0.1, 0.6, "× chord", "Spar at", "behind the leading edge", step=0.01)
    spar_material: str = choice("carbon_rolled", "Spar of", "the bar it is cut from")
    rear_spar_mm: float = quantity(0.0, 0.0, 20.0, "mm", "Second tube", "outside; 0 for none", step=1)
    rear_spar_at: float = quantity(0.62, 0.3, 0.85, "× chord", "Second tube at", "behind the leading edge", step=0.01)
    fixed: Fixed = choice("glued", "Held on the spar", "glued, by set screws, or sliding and held at the root")
    joint_mm: float = quantity(
        40.0,
        5.0,
        400.0,
        "mm",
        "Joint, tube beyond the root",
        "in the next panel's, or in the body; to the middle: one tube through",
        step=5,
    )
    joint_by: JointBy = choice("pin", "Joint, kept from turning by", "where no second tube runs on: a pin at the back, set screws, or glue")
    joint_pin_mm: float = quantity(3.0, 1.0, 8.0, "mm", "Joint, pin", "at the back of the rib, in both", step=0.5)
    joint_screws: int = quantity(2, 0, 8, "", "Joint, screws", "set on the tube; of a wing on one tube through: down into the body", step=1)
    joint_screw: Screw = choice("M3", "Joint, screw", "its size")
    webs: int = quantity(
        0, 0, 12, "", "Webs", "from skin to skin along the span, as slits of the one outline: for one continuous path", step=1
    )
    glass_g_m2: float = quantity(0.0, 0.0, 300.0, "g/m²", "Glass skin", "cloth alone; resin weighs as much again; 0 for none", step=10)
    pocket_mm: float = quantity(0.0, 0.0, 40.0, "mm", "Servo pocket", "along the span, from below; 0 for none", step=1)
    duct_mm: float = quantity(0.0, 0.0, 20.0, "mm", "Wire duct", "round, behind the spar; 0 for none", step=1)
    folds: bool = choice(False, "Folds at its root", "about a pin along the chord")
    folded_in_hover: bool = choice(False, "Folded in hover", "its lift, its drag and its place in the wind count in forward flight alone")
    fold_pin_mm: float = quantity(4.0, 1.5, 12.0, "mm", "Fold, pin", "through both halves of the joint", step=0.5)
    fold_lug_mm: float = quantity(6.0, 1.5, 40.0, "mm", "Fold, lug", "plastic that bears on the pin, of each half", step=0.5)
    fold_arm_mm: float = quantity(16.0, 3.0, 80.0, "mm", "Fold, lever", "from pin to the linkage or the latch", step=1)
    fold_force_n: float = quantity(60.0, 1.0, 2000.0, "N", "Fold, holds", "what actuator or latch holds at its lever", step=5)
    fold_over_centre: bool = choice(False, "Fold, over centre", "its linkage passes its dead point: lift closes it")
    fold_play_mm: float = quantity(0.1, 0.0, 1.0, "mm", "Fold, play", "at the lever", step=0.05)
    fold_s: float = quantity(2.0, 0.1, 20.0, "s", "Fold, time", "from folded to spread", step=0.5)

    @model_validator(mode="after")
    def _section_is_whole(self) -> WingShape:
        if self.section and len(self.section) < LEAST_SECTION:
            raise ValueError(f"its own section has {len(self.section)} points; {LEAST_SECTION} are the least")
        return self

    @property
    def area_mm2(self) -> float:
        """Of one copy."""
        return self.length_mm * (self.root_chord_mm + self.tip_chord_mm) / 2

    @property
    def through(self) -> bool:
        """Whether both halves are on one tube, so that their moments meet in it and not in the body."""
        return self.hand == "across" or (not self.on and self.joint_mm >= self.y_mm)

    @property
    def beyond_mm(self) -> float:
        """How far its tube goes beyond its root."""
        if self.hand != "pair":
            return 0.0
        return self.joint_mm if self.on else min(self.joint_mm, self.y_mm)


class TiltDrive(Frozen):
    """What turns a rotor, a pod or a wing, and through what."""

    kind: Literal["servo", "gear", "linear"] = choice(
        "servo", "Driven by", "a servo on the axis, a servo through gears, or a linear actuator"
    )
    torque_nmm: float = quantity(900.0, 10.0, 20000.0, "N mm", "Servo, torque", "stalled, at the voltage below", step=50)
    rated_v: float = quantity(6.0, 3.0, 24.0, "V", "Its voltage", "at which torque and speed are told", step=0.5)
    fed_v: float = quantity(5.0, 3.0, 24.0, "V", "Fed with", "torque and speed fall with it", step=0.5)
    s_per_60deg: float = quantity(0.15, 0.02, 10.0, "s/60°", "Servo, speed", "without load", step=0.01)
    stall_a: float = quantity(1.8, 0.05, 30.0, "A", "Stalled, draws", "at its voltage", step=0.1)
    ratio: float = quantity(1.0, 0.2, 100.0, "", "Ratio", "turns of the servo for one of the axis; bell cranks too", step=0.1)
    efficiency: float = quantity(0.85, 0.2, 1.0, "", "Gear passes on", "share of the torque; under a half it holds by itself", step=0.05)
    module_mm: float = quantity(1.0, 0.3, 4.0, "mm", "Module", "pitch diameter over teeth", step=0.1)
    teeth: int = quantity(14, 8, 80, "", "Teeth of the pinion", "the smaller wheel", step=1)
    face_mm: float = quantity(8.0, 1.0, 40.0, "mm", "Face", "of the teeth, along the axis", step=0.5)
    gear_filament: str = choice("petg", "Teeth of", "the filament they are printed in")
    backlash_deg: float = quantity(0.8, 0.0, 10.0, "°", "Play", "at the tilt axis", step=0.1)
    force_n: float = quantity(60.0, 1.0, 5000.0, "N", "Actuator, force", "of a linear actuator", step=5)
    speed_mm_s: float = quantity(15.0, 0.5, 500.0, "mm/s", "Actuator, speed", "under load", step=1)
    crank_mm: float = quantity(20.0, 3.0, 150.0, "mm", "Crank", "from the tilt axis to the actuator's rod", step=1)
    holds_itself: bool = choice(False, "Holds itself", "a screw or a worm that cannot be driven back")


class Tilt(Frozen):
    """Rotors that turn together from upright to ahead, and what turns along with them."""

    id: Slug
    rotors: tuple[Slug, ...] = choice((), "Rotors", "by their stations")
    wings: tuple[Slug, ...] = choice((), "Wings along", "panels that turn with them")
    most_deg: float = quantity(90.0, 10.0, 110.0, "°", "Tilts to", "from upright; 90 is straight ahead", step=5)
    pivot_back_mm: float = quantity(0.0, -200.0, 200.0, "mm", "Axis behind the shaft", "with the rotor upright", step=1)
    pivot_under_mm: float = quantity(8.0, -200.0, 300.0, "mm", "Axis under the motor's face", "with the rotor upright", step=1)
    pod_g: float = quantity(12.0, 0.0, 3000.0, "g", "Turns along", "beside motor and propeller, each: mount, gear, cowl", step=1)
    pod_over_mm: float = quantity(4.0, -200.0, 200.0, "mm", "Its middle over the axis", "with the rotor upright", step=1)
    friction_nmm: float = quantity(15.0, 0.0, 2000.0, "N mm", "Friction", "of the bearings, for each rotor", step=1)
    drive: TiltDrive = TiltDrive()


class Pusher(Frozen):
    """A rotor that pushes ahead along the body's line and lifts nothing."""

    id: Slug = "pusher"
    x_mm: float = quantity(-260.0, -1500.0, 1500.0, "mm", "Forward", "of the craft's middle", step=5)
    y_mm: float = quantity(0.0, -1000.0, 1000.0, "mm", "Left", "of the craft's middle", step=5)
    z_mm: float = quantity(20.0, -500.0, 500.0, "mm", "Up", "over the craft's middle", step=5)
    motor_g: float = quantity(60.0, 1.0, 1500.0, "g", "Motor", "with its leads", step=1)
    kv_rpm_per_v: float = quantity(1100.0, 40.0, 30000.0, "rpm/V", "KV", "unloaded speed per volt", step=10)
    resistance_mohm: float = quantity(80.0, 2.0, 5000.0, "mΩ", "Winding resistance", "between two leads, controller included", step=5)
    no_load_a: float = quantity(0.9, 0.01, 20.0, "A", "No-load current", "spinning without a propeller", step=0.1)
    propeller_g: float = quantity(12.0, 0.3, 200.0, "g", "Propeller", "one", step=0.5)
    diameter_mm: float = quantity(230.0, 25.0, 760.0, "mm", "Diameter", "of its propeller", step=5)
    pitch_mm: float = quantity(150.0, 10.0, 500.0, "mm", "Pitch", "advance per turn", step=5)
    thrust_coefficient: float = quantity(
        0.10, 0.02, 0.25, "", "Thrust coefficient", "standing, T = C n^2 D^4 times air density", step=0.005
    )
    figure_of_merit: float = quantity(0.58, 0.2, 0.85, "", "Figure of merit", "ideal over real power, standing", step=0.01)


class Waypoint(Frozen):
    """One point of the way between hover and forward flight: at this speed, so far over."""

    speed_m_s: float = quantity(0.0, 0.0, 80.0, "m/s", "Speed", "through the air", step=0.5)
    over_pct: float = quantity(0.0, 0.0, 100.0, "%", "Over", "0 in hover, 100 in forward flight", step=5)


class StepDone(Frozen):
    """What came of one step of the way."""

    step: Slug
    state: Literal["open", "done", "stopped"] = choice("open", "Came out", "as it went")
    note: str = choice("", "What happened", "in your own words")


class Flying(Frozen):
    """How the craft flies on its wing, and the way there and back."""

    sits: Literal["belly", "tail"] = choice("belly", "Stands", "on its belly, or on its tail: then it hovers nose up")
    tilts: tuple[Tilt, ...] = ()
    pushers: tuple[Pusher, ...] = ()
    stopped: tuple[Slug, ...] = choice((), "Stopped in cruise", "rotors that lift alone and stand still in forward flight")
    stopped_fold: bool = choice(False, "Stopped ones fold", "blades that lie back drag a tenth of those that stand across")
    vectoring_deg: float = quantity(0.0, 0.0, 40.0, "°", "Thrust turns by", "small servos under the motors, either way; 0 for none", step=1)
    body_length_mm: float = quantity(360.0, 30.0, 3000.0, "mm", "Body, length", "of what the wind meets besides wings and rotors", step=10)
    body_width_mm: float = quantity(80.0, 10.0, 800.0, "mm", "Body, width", "at its widest", step=5)
    body_height_mm: float = quantity(70.0, 10.0, 800.0, "mm", "Body, height", "at its highest", step=5)
    body_x_mm: float = quantity(0.0, -1000.0, 1000.0, "mm", "Body, middle ahead", "of the craft's middle", step=5)
    gear_cm2: float = quantity(
        12.0, 0.0, 2000.0, "cm²", "Arms and gear, drag area", "arms, legs, motors, aerials: drag over dynamic pressure", step=1
    )
    cruise_m_s: float = quantity(0.0, 0.0, 80.0, "m/s", "Cruise", "0 takes 1.3 times the stall speed", step=0.5)
    gain_m_s2: float = quantity(1.0, 0.2, 5.0, "m/s²", "Gains speed by", "on the way out, and loses on the way back", step=0.1)
    most_lean_deg: float = quantity(12.0, 2.0, 30.0, "°", "Leans at most", "nose up or down on the way", step=1)
    gust_m_s: float = quantity(4.0, 0.0, 20.0, "m/s", "Gust", "upright or ahead, that it has to take on the way", step=0.5)
    wind_m_s: float = quantity(5.0, 0.0, 20.0, "m/s", "Wind in hover", "that it has to hold its place in", step=0.5)
    pull_up_g: float = quantity(3.0, 1.0, 12.0, "× g", "Wing's pull-up", "load that the spar has to take in forward flight", step=0.5)
    flaps_hover_deg: float = quantity(0.0, 0.0, 80.0, "°", "Flaperons in hover", "hung down out of the rotors' wash", step=5)
    slide_mm: float = quantity(
        0.0, -300.0, 300.0, "mm", "Battery slides", "by so much forward from hover to forward flight, linked to the tilt", step=2
    )
    slide_g: float = quantity(0.0, 0.0, 500.0, "g", "Slide, weighs", "rail and servo", step=1)
    out: tuple[Waypoint, ...] = choice((), "Way out", "the maker's own; none: as worked out")
    back: tuple[Waypoint, ...] = choice((), "Way back", "the maker's own; none: as worked out")
    steps: tuple[StepDone, ...] = ()

    @model_validator(mode="after")
    def _named_once(self) -> Flying:
        for what, names in (("tilt", [t.id for t in self.tilts]), ("pusher", [p.id for p in self.pushers]),
                            ("step", [s.step for s in self.steps]), ("rotor that tilts",
                                [r for t in self.tilts for r in t.rotors])):  # fmt: skip
            if len(set(names)) != len(names):
                raise ValueError(f"two of the same {what}")
        for way in (self.out, self.back):
            speeds = [w.speed_m_s for w in way]
            if way and (len(way) < 2 or speeds != sorted(speeds)):
                raise ValueError("a way has two points or more, the slower first")
        return self
