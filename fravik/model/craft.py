"""The airframe layout and the bought components, with the few figures the physics needs."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field, model_validator

from .base import MONEY, Frozen, Slug, choice, quantity

LayoutKind = Literal[
    "quad_x", "stretched_x", "swept", "plus", "hexa_x", "hexa_plus", "octa_x", "y6", "x8", "true_x", "h", "tri", "side_by_side",
    "free",
]  # fmt: skip


Balance = Literal["balanced", "as_bought", "worn"]
BALANCE_LABELS: dict[str, str] = {"balanced": "Balanced", "as_bought": "As bought", "worn": "Worn or nicked"}
LEAST_STATIONS = 2
Form = Literal["box", "upright", "lying", "mesh"]
FORM_LABELS: dict[str, str] = {"box": "Box", "upright": "Round, upright", "lying": "Round, lying along", "mesh": "As its mesh"}
PackJoined = Literal["parallel", "series"]
JOINED_LABELS: dict[str, str] = {"parallel": "Side by side", "series": "One behind the other"}
BladeFamily = Literal["typed", "slim", "usual", "broad"]
FAMILY_LABELS: dict[str, str] = {"typed": "As typed", "slim": "Of slim blades", "usual": "Of usual blades", "broad": "Of broad blades"}
CellKind = Literal["polymer", "cylinder"]
CELL_LABELS: dict[str, str] = {"polymer": "Polymer pouches", "cylinder": "Round cans"}
Side = Literal["none", "front", "back", "left", "right", "up", "down"]
SIDE_LABELS: dict[str, str] = {
    "none": "Nowhere", "front": "In front", "back": "At the back", "left": "At the left", "right": "At the right", "up": "On top",
    "down": "Underneath",
}  # fmt: skip


def plug_side() -> Any:
    """On which face a plug goes in."""
    return choice("none", "Plugged in", "the face that its plug goes into")


def plug_room() -> Any:
    """How far the plug and the bend of its wire reach out."""
    return quantity(
        25.0, 2.0, 150.0, "mm", "Plug and bend", "a soft wire bends round four times its own thickness, a stiff one ten", step=1
    )


def plug_width() -> Any:
    """How wide both are."""
    return quantity(12.0, 2.0, 60.0, "mm", "Plug, width", "both ways across", step=1)


def price() -> Any:
    """What one costs. Nothing is free: 0 stands for a price that is not known."""
    return quantity(0.0, 0.0, 20000.0, MONEY, "Price", "of one, as bought; 0 while it is not known", step=1)


class FreeStation(Frozen):
    """A rotor's station of the maker's own, in the craft's plan; its arm points at it straight out from the middle."""

    id: Slug
    x_mm: float = quantity(100.0, -1000.0, 1000.0, "mm", "Forward", "of the craft's middle", step=1)
    y_mm: float = quantity(100.0, -1000.0, 1000.0, "mm", "Left", "of the craft's middle", step=1)
    turns: Literal["left", "right"] = choice("right", "Turns", "seen from above; neighbours against each other keep the craft from turning")
    tilt_deg: float = quantity(0.0, 0.0, 60.0, "°", "Tilts", "to either side of its arm; 0 for a motor that is fixed", step=5)
    pair: bool = choice(False, "Two rotors", "one on the arm and one under it, which turns against it")


class Layout(Frozen):
    """How the arms stand round the craft's middle, how far out the motors are, and the clamp radius at which the arms leave the plates.

    ``stations`` are those of a free layout.
    """

    kind: LayoutKind = choice("quad_x", "Layout", "which way the arms point, and how many rotors there are")
    motor_to_motor_mm: float = quantity(
        320.0,
        60.0,
        1400.0,
        "mm",
        "Motor to motor",
        "across the middle; from toys to craft that two people carry",
        step=5,
    )
    clamp_radius_mm: float = quantity(
        48.0, 10.0, 200.0, "mm", "Plate edge radius", "the arm leaves the plates here and its ruler starts at 0", step=1
    )
    leg_radius_mm: float = quantity(40.0, 5.0, 400.0, "mm", "Leg radius", "legs bolt on within the arm span", step=1)
    stations: tuple[FreeStation, ...] = ()

    @model_validator(mode="after")
    def _free_has_stations(self) -> Layout:
        if len({s.id for s in self.stations}) != len(self.stations):
            raise ValueError("two stations share one id")
        if self.kind == "free" and len(self.stations) < LEAST_STATIONS:
            raise ValueError("a free layout has two stations or more of its own")
        return self


class Motor(Frozen):
    """A brushless motor."""

    name: str = choice("Generic 2807", "Motor")
    mass_g: float = quantity(46.0, 0.5, 1500.0, "g", "Mass", "one motor with its leads", step=1)
    diameter_mm: float = quantity(33.5, 4.0, 150.0, "mm", "Diameter", "of the bell")
    height_mm: float = quantity(20.0, 2.0, 120.0, "mm", "Height", "mount face to prop face")
    mount_circle_mm: float = quantity(19.0, 6.0, 60.0, "mm", "Bolt circle", "motor base screws", step=0.5)
    kv_rpm_per_v: float = quantity(1300.0, 40.0, 30000.0, "rpm/V", "KV", "unloaded speed per volt", step=10)
    resistance_mohm: float = quantity(
        90.0, 2.0, 5000.0, "mΩ", "Winding resistance", "between two leads, controller included; small motors have more", step=5
    )
    no_load_a: float = quantity(0.9, 0.01, 20.0, "A", "No-load current", "what it draws spinning without a propeller", step=0.1)
    most_a: float = quantity(0.0, 0.0, 500.0, "A", "Stands, briefly", "current by its maker's word; 0 while it is not known", step=1)
    hottest_c: float = quantity(120.0, 60.0, 220.0, "°C", "Winding stands", "beyond it lacquer and magnets suffer", step=5)
    controller_a: float = quantity(0.0, 0.0, 500.0, "A", "Controller stands", "steadily, of this motor; 0 while it is not known", step=1)
    controller_loss: float = quantity(
        0.02, 0.0, 0.3, "", "Controller loses", "share of the power that switching and timing take", step=0.01
    )
    price: float = price()


class Propeller(Frozen):
    """A bought propeller described by diameter, pitch and two coefficients."""

    diameter_mm: float = quantity(177.8, 25.0, 760.0, "mm", "Diameter", "tip to tip", step=1)
    pitch_mm: float = quantity(101.6, 10.0, 500.0, "mm", "Pitch", "advance per turn", step=1)
    blades: int = quantity(2, 2, 6, "", "Blades", "blade pass is blades x rpm", step=1)
    mass_g: float = quantity(7.0, 0.3, 100.0, "g", "Mass", "one propeller", step=0.5)
    balance: Balance = choice("as_bought", "Balance", "a worn or nicked blade shakes many times as much as one that was balanced")
    unbalance_gmm: float | None = quantity(
        None,
        0.0,
        500.0,
        "g mm",
        "Out of balance",
        "grams to even it out times their radius; empty for the usual",
        step=0.1,
    )
    gyration: float = quantity(
        0.43,
        0.3,
        0.6,
        "× radius",
        "Radius of gyration",
        "an even blade 0.58, one that tapers to nothing 0.41; with its hub about 0.43",
        step=0.01,
    )
    family: BladeFamily = choice("typed", "Coefficients", "as typed below, or worked out from pitch and blades of a family, good to 12 %")
    thrust_coefficient: float = quantity(0.105, 0.02, 0.25, "", "Thrust coefficient", "static, T = C n^2 D^4 times air density", step=0.005)
    figure_of_merit: float = quantity(
        0.60, 0.2, 0.85, "", "Figure of merit", "ideal over real hover power; small propellers reach 0.5 to 0.7", step=0.01
    )
    price: float = price()


class OtherDrive(Frozen):
    """A motor and a propeller unlike the usual ones, and the rotors that have them."""

    id: Slug
    at: tuple[Slug, ...] = choice((), "On rotors", "by their stations; all others have the usual motor and propeller")
    motor: Motor = Motor()
    propeller: Propeller = Propeller()


class Battery(Frozen):
    """A lithium pack."""

    cells: int = quantity(6, 1, 14, "", "Cells in series", "packs of one to fourteen cells", step=1)
    capacity_mah: float = quantity(2200.0, 50.0, 40000.0, "mAh", "Capacity", "as labelled", step=50)
    usable: float = quantity(0.80, 0.3, 0.95, "", "Usable share", "keep a reserve: deep discharge kills packs", step=0.01)
    cell_kind: CellKind = choice("polymer", "Cells", "pouches give more current, round cans hold more for their weight")
    resistance_mohm: float = quantity(
        0.0, 0.0, 500.0, "mΩ", "Resistance of a cell", "as a charger shows it, at 20 °C; 0 follows from capacity, sort and age", step=0.5
    )
    rated_c: float = quantity(0.0, 0.0, 200.0, "C", "Steady current", "over capacity, as labelled; 0 takes what such cells give", step=5)
    stop_cell_v: float = quantity(3.4, 2.5, 4.0, "V", "Land at", "voltage of a cell in flight at which you land", step=0.05)
    voltage_seen: bool = choice(True, "Voltage seen in flight", "by an alarm, in the goggles or on the radio")
    cycles: int = quantity(0, 0, 1000, "", "Times charged", "each takes a little of its charge", step=10)
    age_months: float = quantity(0.0, 0.0, 120.0, "", "Age, months", "stored half full and cool", step=1)
    full_months: float = quantity(
        0.0, 0.0, 60.0, "", "Months rested full", "how long of its age it lay charged: that ages it most", step=0.5
    )
    plug_a: float = quantity(0.0, 0.0, 500.0, "A", "Plug stands", "steadily; 0 while it is not known", step=5)
    start_c: float = quantity(20.0, -20.0, 60.0, "°C", "Pack at take-off", "a cold one sags; keep it warm", step=1)
    mass_g: float = quantity(330.0, 5.0, 5000.0, "g", "Mass", "with leads", step=5)
    length_mm: float = quantity(78.0, 10.0, 300.0, "mm", "Length", "of the box")
    width_mm: float = quantity(37.0, 5.0, 150.0, "mm", "Width", "of the box")
    height_mm: float = quantity(42.0, 5.0, 150.0, "mm", "Height", "of the box")
    x_mm: float = quantity(-4.0, -300.0, 300.0, "mm", "Forward of centre", "slide it to trim the centre of mass", step=1)
    z_mm: float = quantity(38.0, -200.0, 200.0, "mm", "Above bottom plate", "middle of the pack", step=1)
    plug_side: Side = plug_side()
    plug_room_mm: float = plug_room()
    plug_width_mm: float = plug_width()
    price: float = price()


class Block(Frozen):
    """A component taken as a uniform box a round of its width, or a mesh stretched to its edges: stack, camera, receiver, wiring."""

    id: Slug
    name: str = choice("Component", "Name")
    mass_g: float = quantity(20.0, 0.0, 5000.0, "g", "Mass", "weigh it", step=1)
    form: Form = choice("box", "Form", "a round one is as thick as its width")
    length_mm: float = quantity(30.0, 1.0, 400.0, "mm", "Length", "of the box")
    width_mm: float = quantity(30.0, 1.0, 400.0, "mm", "Width", "of the box")
    height_mm: float = quantity(10.0, 1.0, 400.0, "mm", "Height", "of the box")
    x_mm: float = quantity(0.0, -400.0, 400.0, "mm", "Forward of centre", "position of its middle", step=1)
    y_mm: float = quantity(0.0, -400.0, 400.0, "mm", "Left of centre", "position of its middle", step=1)
    z_mm: float = quantity(0.0, -300.0, 300.0, "mm", "Above bottom plate", "middle of the box", step=1)
    plug_side: Side = plug_side()
    plug_room_mm: float = plug_room()
    plug_width_mm: float = plug_width()
    pack_cells: int = quantity(0, 0, 14, "", "Cells, of a pack", "a second pack of the same sort of cells; 0 for what is no pack", step=1)
    pack_mah: float = quantity(1000.0, 50.0, 40000.0, "mAh", "Capacity, of a pack", "as labelled; counted where it has cells", step=50)
    pack_joined: PackJoined = choice("parallel", "Joined to the battery", "side by side adds charge, one behind the other voltage")
    power_w: float = quantity(0.0, 0.0, 200.0, "W", "Power drawn", "counted in the endurance", step=0.5)
    hottest_c: float = quantity(0.0, 0.0, 200.0, "°C", "Stands heat to", "of its case; 0 while it is not known", step=5)
    closed_in: bool = choice(False, "Closed in", "no air of the propellers gets to it")
    has_gyro: bool = choice(False, "Has the gyro", "the controller feels the craft's turning here")
    grommets: int = quantity(0, 0, 12, "", "Rubber feet", "it stands on; 0 where it is screwed down hard", step=1)
    grommet_n_mm: float = quantity(6.0, 0.05, 500.0, "N/mm", "Foot, stiffness", "of one: soft gel 1, rubber 6, hard rubber 30", step=1)
    grommet_loss: float = quantity(0.2, 0.01, 1.0, "", "Foot, loss factor", "lively rubber 0.1, gel 0.4", step=0.05)
    price: float = price()
    spread: bool = choice(False, "Spread over the craft", "wires and screws: they weigh here, and take no room of their own")
    view_deg: float = quantity(0.0, 0.0, 170.0, "°", "Lens sees", "across its picture; 0 for what is no camera", step=5)
    lens_up_deg: float = quantity(0.0, -90.0, 90.0, "°", "Lens raised", "from straight ahead; below 0 it looks down", step=5)
    feeds_motors: bool = choice(False, "Feeds the motors", "the pack is plugged in here, and the motors' current goes through it")
    has_compass: bool = choice(False, "Has a compass", "currents and steel near by turn it")
    is_aerial: bool = choice(False, "Is an aerial", "carbon, motors and leads beside it shorten its reach")
    finds_place: bool = choice(False, "Finds its place by satellite", "it has to see the sky, and takes badly to what radiates beside it")
    mesh: str = Field("", max_length=20_000_000)
    holds_arms: bool = choice(False, "Holds the arms", "a bought body in place of printed plates; it is taken as one that does not give")

    @model_validator(mode="after")
    def _mesh_is_there(self) -> Block:
        if self.form == "mesh" and not self.mesh:
            raise ValueError(f"{self.name} has no mesh yet: read one in first")
        return self


class Components(Frozen):
    """Everything bought that flies. ``motor`` and ``propeller`` are those of every rotor that ``other_drives`` do not name."""

    motor: Motor = Motor()
    propeller: Propeller = Propeller()
    other_drives: tuple[OtherDrive, ...] = ()
    battery: Battery = Battery()
    blocks: tuple[Block, ...] = ()

    @model_validator(mode="after")
    def _one_drive_a_rotor(self) -> Components:
        named = [rotor for d in self.other_drives for rotor in d.at]
        twice = next((rotor for rotor in named if named.count(rotor) > 1), None)
        if twice is not None:
            raise ValueError(f"the rotor {twice} is given two drives")
        if len({d.id for d in self.other_drives}) != len(self.other_drives):
            raise ValueError("two drives share one id")
        return self
