"""The project: one craft with its brief, airframe, parts, printer and shelf."""

from __future__ import annotations

from typing import Annotated, Literal, Union, get_args

from pydantic import Field, model_validator

from .base import Frozen, Slug, choice, quantity
from .craft import Components, Layout
from .joint import Joint
from .laying import Laying
from .material import Filament
from .recipe import Carbon, Facing, Recipe
from .run import PrintRun
from .shapes import Shape
from .shell import ShellPanel
from .tune import Tune
from .wing import Flying

SCHEMA_VERSION = 4

Metric = Literal[
    "flying_mass_g", "tip_sag_mm", "modes_clear_pct", "mode_floor_hz", "least_reserve", "flat_drop_m", "arm_strike_m_s",
    "print_minutes", "endurance_min", "thrust_to_weight", "material_cost", "craft_cost", "gyro_shake_dps", "camera_shake_px",
    "ring_margin_db", "motor_temp_c", "top_current_a", "thrust_left",
    "made_mass_g", "drive_mass_g", "battery_mass_g", "equipment_mass_g",
    "stall_m_s", "static_margin_pct", "spar_reserve", "wing_hover_throttle", "corridor_reserve_pct", "com_travel_mm", "tilt_share",
    "cruise_min",
]  # fmt: skip


class Target(Frozen):
    """A number the brief demands. That of the lowest mode is in multiples of the control loop's crossover."""

    id: Slug
    metric: Metric
    limit: float = Field(allow_inf_nan=False, ge=0.0, le=1e6)


class OwnCase(Frozen):
    """A load of the maker's own: a force and a moment on one part, in its own axes, at a position along it."""

    id: Slug
    name: str = choice("Own case", "Name")
    part: str = choice("arm", "On part")
    position_mm: float = quantity(100.0, 0.0, 900.0, "mm", "At", "along the part, as on its ruler", step=1)
    force_x_n: float = quantity(0.0, -5000.0, 5000.0, "N", "Force along", "out from the root", step=5)
    force_y_n: float = quantity(0.0, -5000.0, 5000.0, "N", "Force across", "to the left", step=5)
    force_z_n: float = quantity(20.0, -5000.0, 5000.0, "N", "Force up", "away from the underside", step=5)
    moment_x_nmm: float = quantity(0.0, -1e6, 1e6, "N mm", "Twist", "about the part's length", step=50)
    moment_y_nmm: float = quantity(0.0, -1e6, 1e6, "N mm", "Moment, nose down", "about the crosswise axis", step=50)
    moment_z_nmm: float = quantity(0.0, -1e6, 1e6, "N mm", "Moment, turning", "about the upright axis", step=50)


class Brief(Frozen):
    """What the craft is for, and the loads it is designed to."""

    purpose: str = choice("", "Purpose")
    currency: str = choice("", "Currency", "its sign stands with every price")
    pull_up_g: float = quantity(4.0, 1.0, 15.0, "× g", "Pull-up", "load factor of the sharpest manoeuvre", step=0.5)
    landing_m_s: float = quantity(1.5, 0.1, 8.0, "m/s", "Hard landing", "sink speed the legs must take", step=0.1)
    ground_stiffness_n_mm: float = quantity(
        60.0, 1.0, 5000.0, "N/mm", "Ground stiffness", "turf about 20, shingle 60, concrete 2000", step=10
    )
    ground_restitution: float = quantity(
        0.3, 0.0, 1.0, "", "Ground gives back", "speed of the bounce over that of the fall: shingle 0.1, turf 0.3, concrete 0.5", step=0.05
    )
    working_low: float = quantity(0.7, 0.2, 1.0, "×", "Working band from", "the gentlest steady flight", step=0.05)
    working_high: float = quantity(1.5, 1.0, 4.0, "×", "Working band to", "the hardest steady flight", step=0.05)
    loop_crossover_hz: float = quantity(
        20.0, 2.0, 150.0, "Hz", "Loop crossover",
        "where the rate loop stops following: about 15 to 30 Hz on medium craft, slower on large ones, faster on small", step=1,
    )  # fmt: skip
    yaw_share: float = quantity(0.5, 0.0, 1.0, "×", "Hard yaw, of hover", "thrust moved from one diagonal pair to the other", step=0.05)
    out_of_step: float = quantity(
        3.0, 1.0, 10.0, "×", "Motor out of step", "jerk of a motor that loses step, over its full torque", step=0.5
    )
    landing_drag: float = quantity(0.25, 0.0, 1.5, "", "Drag at landing", "sideways over upward force on a leg", step=0.05)
    strap_pull_n: float = quantity(60.0, 0.0, 500.0, "N", "Strap pull", "tension of the battery strap around its plate", step=5)
    transport_n: float = quantity(20.0, 0.0, 500.0, "N", "Transport", "a hand or a bag on a motor, guard, leg or camera", step=5)
    bump_m_s: float = quantity(1.5, 0.1, 10.0, "m/s", "Guard bump", "drifting into a wall", step=0.1)
    picture_px_deg: float = quantity(20.0, 1.0, 500.0, "px/°", "Camera's picture", "its width in pixels over its view in degrees", step=1)
    readout_ms: float = quantity(15.0, 0.1, 100.0, "ms", "Picture read out in", "from the first line to the last", step=1)
    service_temp_c: float = quantity(23.0, -30.0, 80.0, "°C", "Air temperature", "the warmest flight; cold makes plastics brittle", step=1)
    sun: bool = choice(False, "Flown in full sun", "dark parts warm far above the air")
    damp: Literal["dry", "room", "wet"] = choice("dry", "Moisture", "what the printed plastic has taken up")
    own_cases: tuple[OwnCase, ...] = ()


class Printer(Frozen):
    """One printer and the motion figures that decide minutes."""

    id: Slug = "first"
    name: str = choice("Mid-size printer", "Printer")
    bed_x_mm: float = quantity(220.0, 50.0, 1000.0, "mm", "Bed width", "beds come within this", step=5)
    bed_y_mm: float = quantity(220.0, 50.0, 1000.0, "mm", "Bed depth", "beds come within this", step=5)
    bed_z_mm: float = quantity(240.0, 50.0, 1000.0, "mm", "Height", "printers come within this", step=5)
    nozzle_mm: float = quantity(0.4, 0.1, 1.2, "mm", "Nozzle", "nozzles come within this", step=0.1)
    hardened_nozzle: bool = choice(False, "Hardened nozzle", "carbon and glass filaments wear brass away")
    enclosed: bool = choice(False, "Enclosed", "warping plastics need a warm chamber")
    wall_speed_mm_s: float = quantity(60.0, 5.0, 600.0, "mm/s", "On outlines and walls", "motion figures of real machines", step=5)
    cover_speed_mm_s: float = quantity(60.0, 5.0, 600.0, "mm/s", "On covers", "motion figures of real machines", step=5)
    core_speed_mm_s: float = quantity(90.0, 5.0, 600.0, "mm/s", "On cores", "motion figures of real machines", step=5)
    travel_speed_mm_s: float = quantity(150.0, 10.0, 1000.0, "mm/s", "Travels", "motion figures of real machines", step=10)
    acceleration_mm_s2: float = quantity(1500.0, 100.0, 30000.0, "mm/s²", "Acceleration", "motion figures of real machines", step=100)
    travel_acceleration_mm_s2: float = quantity(
        2500.0, 100.0, 30000.0, "mm/s²", "Travel acceleration", "motion figures of real machines", step=100
    )
    wall_acceleration_mm_s2: float = quantity(
        1000.0, 100.0, 30000.0, "mm/s²", "Outline acceleration", "gentle, so that walls do not ring", step=100
    )
    corner_speed_mm_s: float = quantity(8.0, 0.0, 60.0, "mm/s", "Corner speed", "speed kept through a sharp corner", step=1)
    first_layer_speed: float = quantity(0.5, 0.1, 1.0, "×", "First layer speed", "share of the usual, so that it holds on", step=0.05)
    retract_s: float = quantity(0.25, 0.0, 5.0, "s", "Retraction", "pulling the filament back and pushing it on again", step=0.05)
    layer_change_s: float = quantity(0.8, 0.0, 20.0, "s", "Layer change", "lifting the nozzle", step=0.1)
    bed_change_min: float = quantity(8.0, 0.0, 120.0, "min", "Bed change", "letting it cool, taking parts off, wiping", step=1)
    max_nozzle_c: float = quantity(280.0, 180.0, 500.0, "°C", "Hottest nozzle", "what its hot end stands", step=5)
    start_up_min: float = quantity(6.0, 0.0, 60.0, "min", "Warm-up", "once a batch", step=1)
    time_ratio_low: float = quantity(0.93, 0.5, 1.0, "", "Real/planned time, low", "from your own record of prints", step=0.01)
    time_ratio_high: float = quantity(1.10, 1.0, 2.0, "", "Real/planned time, high", "from your own record of prints", step=0.01)


class Spool(Frozen):
    """A spool on the shelf."""

    id: Slug
    filament: str = choice("petg", "Filament")
    grams_left: float = quantity(800.0, 0.0, 10000.0, "g", "Left", "weigh the spool and take its core off", step=10)
    price_per_kg: float = quantity(22.0, 0.0, 500.0, "/kg", "Price", "per kilogram as bought", step=1)
    colour: str = choice("grey", "Colour")
    shade: Literal["light", "medium", "dark"] = choice("medium", "Shade", "how much the sun warms it")
    dried: bool = choice(True, "Dried before printing", "wet filament bonds its layers badly")


class OwnPlace(Frozen):
    """Where a copy stands that its maker has detached from where its kind would put it."""

    id: Slug
    x_mm: float = quantity(0.0, -700.0, 700.0, "mm", "Forward", "of the craft's middle, its root", step=1)
    y_mm: float = quantity(0.0, -700.0, 700.0, "mm", "Left", "of the craft's middle, its root", step=1)
    z_mm: float = quantity(0.0, -500.0, 500.0, "mm", "Up", "over the bottom plate's upper face, its root", step=1)
    turn_deg: float = quantity(0.0, -180.0, 180.0, "°", "Turned", "from straight ahead, to the left", step=5)


class Part(Frozen):
    """One thing that is made, printed or cut from bar or plate: its geometry, recipe, carbon and count."""

    id: Slug
    name: str = choice("Part", "Name")
    count: int = quantity(1, 1, 40, "", "Count", "copies on the craft", step=1)
    at: tuple[Slug, ...] = choice((), "Stands at", "the stations of its copies; those that are left where it names none")
    own_places: tuple[OwnPlace, ...] = choice(
        (), "Stands where I put it", "its copies one after another; the others where its kind puts them"
    )
    shape: Annotated[Shape, Field(discriminator="kind")]
    cut_from: str = choice("", "Made by", "by printing, or cut from a plate of its thickness")
    recipe: Recipe = Recipe()
    laying: Laying = Laying()
    joint: Joint = Joint()
    carbon: Carbon | None = None
    facing: Facing | None = None


def know_shape(shape: type[Frozen], known: bool = True) -> None:
    """Let parts have a shape of another class, told apart by its ``kind``; or no more."""
    field = Part.model_fields["shape"]
    shapes = [s for s in get_args(field.annotation) if s is not shape]
    field.annotation = Union[tuple([*shapes, shape] if known else shapes)]  # type: ignore[assignment]  # noqa: UP007
    Part.model_rebuild(force=True)
    Project.model_rebuild(force=True)


class SetAside(Frozen):
    """A finding that the maker has read and lives with, and why."""

    id: str = Field(max_length=200)
    reason: str = choice("", "Why it is set aside")


class Project(Frozen):
    """One craft, whole."""

    schema_version: Literal[4] = 4
    name: str = choice("Untitled craft", "Name")
    brief: Brief = Brief()
    tune: Tune = Tune()
    targets: tuple[Target, ...] = ()
    layout: Layout = Layout()
    components: Components = Components()
    parts: tuple[Part, ...] = ()
    printer: Printer = Printer()
    spools: tuple[Spool, ...] = ()
    filaments: tuple[Filament, ...] = ()
    more_printers: tuple[Printer, ...] = ()
    run: PrintRun = PrintRun()
    flying: Flying = Flying()
    shell: ShellPanel = ShellPanel()
    set_aside: tuple[SetAside, ...] = ()

    @model_validator(mode="after")
    def _ids_unique(self) -> Project:
        for what, items in (("target", self.targets), ("part", self.parts), ("spool", self.spools),
                            ("filament", self.filaments), ("load case", self.brief.own_cases), ("printer", self.printers),
                            ("print record", self.run.records), ("finding set aside", self.set_aside), ("spare", self.run.spares),
                            ("component", self.components.blocks)):  # fmt: skip
            ids = [i.id for i in items]
            if len(set(ids)) != len(ids):
                raise ValueError(f"two {what}s share one id")
        return self

    @property
    def printers(self) -> tuple[Printer, ...]:
        """All printers of the run, the first first."""
        return (self.printer, *self.more_printers)

    @model_validator(mode="after")
    def _stations_named_once(self) -> Project:
        for part in self.parts:
            if len(set(part.at)) != len(part.at):
                raise ValueError(f"{part.name} names one station twice")
        return self

    def part(self, part_id: str) -> Part:
        """The part with this id; KeyError if there is none."""
        for p in self.parts:
            if p.id == part_id:
                return p
        raise KeyError(part_id)
