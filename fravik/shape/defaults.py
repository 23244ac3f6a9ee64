"""Sensible parts for a layout and its motor: where a maker starts, and what a field falls back to.

Rules of proportion only: widths follow the motor pad, heights the free length, bolts the motor's size. They are a start to
be judged by the margins, not a design.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path
from typing import Literal

from fravik.model.craft import Battery, Block, Components, Layout, Motor, Propeller
from fravik.model.joint import Joint
from fravik.model.project import Part, Project, Spool, Target
from fravik.model.recipe import Carbon, Facing, Recipe
from fravik.model.shapes import ArmShape, GuardShape, ImportedShape, LegShape, MountShape, PlateShape, Shape

from .stations import arm_length_mm


def _half(value: float) -> float:
    return round(value * 2) / 2


def arm_for(layout: Layout, motor: Motor) -> ArmShape:
    """An arm whose pad carries the motor and whose height suits its free length."""
    screw = 3.2 if motor.mount_circle_mm >= 14 else 2.2
    pad = max(_half(motor.mount_circle_mm + screw + 6.0), _half(0.85 * motor.diameter_mm))
    length = max(25.0, layout.motor_to_motor_mm / 2 - layout.clamp_radius_mm)
    height = min(30.0, max(4.0, _half(0.11 * length)))
    width = max(6.0, min(_half(0.66 * pad), pad - 1.0))
    tongue = min(_half(0.58 * layout.clamp_radius_mm), layout.clamp_radius_mm - 8.0)
    room = 1.9 * (layout.clamp_radius_mm - tongue)
    tongue_width = max(width, min(_half(1.5 * width), _half(room)))
    return ArmShape(
        root_width_mm=min(width, tongue_width),
        tip_width_mm=_half(0.85 * width),
        root_height_mm=height,
        tip_height_mm=_half(0.85 * height),
        root_fillet_mm=max(1.0, _half(0.15 * width)),
        pad_fillet_mm=max(1.0, _half(0.2 * width)),
        pad_diameter_mm=pad,
        bolt_circle_mm=motor.mount_circle_mm,
        bolt_hole_mm=screw,
        shaft_hole_mm=max(0.0, min(8.0, _half(motor.mount_circle_mm - screw - 3.0))),
        tongue_length_mm=max(10.0, tongue),
        tongue_width_mm=tongue_width,
        tongue_bolt_mm=screw,
        tongue_bolt_rows=2 if tongue > 6 * screw else 1,
        pocket_width_mm=max(2.0, _half(0.35 * width)),
    )


def leg_for(layout: Layout, propeller: Propeller) -> LegShape:
    """A leg long enough to keep what hangs below the plates off the ground."""
    length = min(200.0, max(20.0, _half(0.16 * layout.motor_to_motor_mm + 0.02 * propeller.diameter_mm)))
    width = max(7.0, _half(0.28 * length))
    return LegShape(
        length_mm=length, root_width_mm=width, tip_width_mm=_half(0.65 * width), thickness_mm=max(5.0, _half(0.13 * length)),
        flange_width_mm=_half(width + 14.0), root_fillet_mm=3.0,
    )  # fmt: skip


def plate_for(layout: Layout, place: str) -> PlateShape:
    """A plate that reaches the arms' roots."""
    length = _half(2.08 * layout.clamp_radius_mm)
    pitch = 30.5 if layout.clamp_radius_mm >= 36 else 20.0
    return PlateShape(
        place="top" if place == "top" else "bottom", length_mm=max(30.0, length), width_mm=max(30.0, _half(0.85 * length)),
        thickness_mm=3.2 if place == "bottom" else 2.4, corner_mm=max(2.0, _half(0.15 * length)), stack_pitch_mm=pitch,
        window_length_mm=_half(0.5 * pitch), window_width_mm=_half(0.5 * pitch),
    )  # fmt: skip


def guard_for(motor: Motor) -> GuardShape:
    """A guard whose hub carries the motor."""
    screw = 3.2 if motor.mount_circle_mm >= 14 else 2.2
    hub = max(_half(motor.mount_circle_mm + screw + 6.0), _half(0.85 * motor.diameter_mm))
    return GuardShape(hub_diameter_mm=hub, bolt_circle_mm=motor.mount_circle_mm, bolt_hole_mm=screw)


def mount_for(project: Project) -> MountShape:
    """A mount for the block called camera, else for a small one."""
    camera = next((b for b in project.components.blocks if "cam" in (b.id + b.name).lower()), None)
    if camera is None:
        return MountShape(carried_g=30.0)
    return MountShape(carried_g=max(camera.mass_g, 1.0), pad_width_mm=max(18.0, _half(camera.width_mm)),
                      carried_height_mm=_half(camera.height_mm / 2))  # fmt: skip


ADDABLE: dict[str, tuple[str, str, int]] = {
    "arm": ("arm", "Arm", 4), "bottom": ("bottom", "Bottom plate", 1), "top": ("top", "Top plate", 1), "leg": ("leg", "Landing leg", 4),
    "guard": ("guard", "Propeller guard", 2), "mount": ("mount", "Camera mount", 1),
}  # fmt: skip


def part_for(kind: str, project: Project) -> Part:
    """A new part of a kind in proportion to the craft, with an id of its own."""
    stem, name, count = ADDABLE[kind]
    taken = {p.id for p in project.parts}
    part_id = next(i for i in (stem, *(f"{stem}{n}" for n in range(2, 99))) if i not in taken)
    make: dict[str, Callable[[], Shape]] = {
        "arm": lambda: arm_for(project.layout, project.components.motor),
        "bottom": lambda: plate_for(project.layout, "bottom"), "top": lambda: plate_for(project.layout, "top"),
        "guard": lambda: guard_for(project.components.motor), "mount": lambda: mount_for(project),
        "leg": lambda: leg_for(project.layout, project.components.propeller),
    }  # fmt: skip
    filament = project.parts[0].recipe.filament if project.parts else "petg"
    joint = Joint(screw="M3" if project.components.motor.mount_circle_mm >= 14 else "M2") if kind == "arm" else Joint()
    return Part(id=part_id, name=name, count=count, shape=make[kind](), recipe=Recipe(filament=filament), joint=joint)


def imported_part(path: Path, project: Project, progress: Callable[[int, int], None] = lambda done, total: None) -> Part:
    """A part from a mesh file; ``progress`` hears how far it is.

    Raises MeshProblem with what is wrong with it, OSError when it cannot be opened.
    """
    from .meshread import packed, read_mesh

    mesh = read_mesh(path, progress=progress)
    name = "".join(c if c.isalnum() or c in " -" else " " for c in path.stem).strip()[:24] or "Imported"
    taken = {p.id for p in project.parts}
    part_id = next(i for i in ("mesh", *(f"mesh{n}" for n in range(2, 99))) if i not in taken)
    filament = project.parts[0].recipe.filament if project.parts else "petg"
    shape = ImportedShape(mesh=packed(mesh), source=path.name)
    return Part(id=part_id, name=name[0].upper() + name[1:], shape=shape, recipe=Recipe(filament=filament))


def first_bond(project: Project, part_id: str, kind: type[Carbon] | type[Facing]) -> Carbon | Facing:
    """Carbon or a sheet that fits a part to start with."""
    part = project.part(part_id)
    shape = part.shape
    if kind is Facing:
        if isinstance(shape, ArmShape):
            length = arm_length_mm(shape, project.layout)
            faces: Literal["bottom", "both"] = "bottom" if shape.bar_height_mm > 0 else "both"
            return Facing(sheet="plate_0p5", faces=faces, end_mm=float(int(length - shape.pad_diameter_mm / 2)))
        if isinstance(shape, PlateShape):
            return Facing(sheet="glass_2", faces="both", cover=0.8)
        return Facing(sheet="glass_2", faces="both", end_mm=float(int(getattr(shape, "length_mm", 50.0))))
    if isinstance(shape, ArmShape):
        end = arm_length_mm(shape, project.layout) - shape.bolt_circle_mm / 2 - shape.bolt_hole_mm - 1
        return Carbon(start_mm=-shape.tongue_length_mm, end_mm=float(int(end)))
    if isinstance(shape, LegShape):
        return Carbon(stock="rod_2", start_mm=-shape.flange_length_mm, end_mm=float(int(shape.length_mm - 2)))
    if isinstance(shape, MountShape):
        return Carbon(stock="rod_2", start_mm=-shape.tongue_length_mm, end_mm=float(int(shape.length_mm)))
    return Carbon()


def shape_for(shape: Shape, project: Project) -> Shape:
    """The sensible default of the same kind of part for the project's layout."""
    if isinstance(shape, ArmShape):
        return arm_for(project.layout, project.components.motor)
    if isinstance(shape, LegShape):
        return leg_for(project.layout, project.components.propeller)
    if isinstance(shape, GuardShape):
        return guard_for(project.components.motor)
    if isinstance(shape, MountShape):
        return mount_for(project)
    if isinstance(shape, ImportedShape):
        return shape
    return plate_for(project.layout, shape.place)


def project_for(name: str, motor_to_motor_mm: float, propeller_mm: float, motor_g: float, battery_g: float) -> Project:
    """A new quad from five figures: layout, components and parts in proportion. Raises pydantic's ValidationError."""
    clamp = max(24.0, _half(0.155 * motor_to_motor_mm))
    layout = Layout(motor_to_motor_mm=motor_to_motor_mm, clamp_radius_mm=clamp, leg_radius_mm=_half(0.84 * clamp))
    cells = 6 if battery_g > 250 else 4 if battery_g > 90 else 3 if battery_g > 40 else 2
    # a drive that lifts about four times what such a craft weighs
    thrust = 4.0 * 2.1 * (4 * motor_g + battery_g) * 1e-3 * 9.81 / 4
    speed = math.sqrt(thrust / (0.105 * 1.225 * (propeller_mm * 1e-3) ** 4)) * 60
    kv = min(8000.0, max(100.0, round(speed / (cells * 3.6 * 0.93) / 10) * 10.0))
    # windings of like make: torque constant squared over resistance grows with the 5/3 power of mass
    ohm = (60 / (2 * math.pi * kv)) ** 2 / (6e-4 * (motor_g / 33.0) ** (5 / 3))
    idle_a = 0.9 * kv / 1000.0 * math.sqrt(motor_g / 44.0)
    across = 33.5 * (motor_g / 45.0) ** (1 / 3)
    motor = Motor(
        name="Motor", kv_rpm_per_v=kv, mass_g=motor_g, resistance_mohm=float(min(5000, max(2, round(ohm * 1e3)))),
        no_load_a=min(20.0, max(0.01, round(idle_a, 2))), diameter_mm=_half(across), height_mm=_half(0.6 * across),
        mount_circle_mm=19.0 if motor_g > 30 else 16.0 if motor_g > 18 else 12.0 if motor_g > 8 else 9.0,
    )  # fmt: skip
    propeller = Propeller(
        diameter_mm=propeller_mm, pitch_mm=_half(0.57 * propeller_mm), mass_g=min(100.0, max(0.3, _half(7 * (propeller_mm / 178) ** 2.5)))
    )
    scale = (battery_g / 335.0) ** (1 / 3)
    battery = Battery(
        cells=cells, mass_g=battery_g, length_mm=_half(78 * scale), width_mm=_half(37 * scale), height_mm=_half(42 * scale), x_mm=0.0,
        capacity_mah=max(100.0, round(39.0 / cells * battery_g / 50) * 50.0), z_mm=_half(20 + 21 * scale),
    )  # fmt: skip
    blocks = (Block(id="stack", name="Flight stack", mass_g=35.0, length_mm=36, width_mm=36, height_mm=14, z_mm=16.0),)
    petg = Recipe(filament="petg")
    bolts = Joint(screw="M3" if motor.mount_circle_mm >= 14 else "M2")
    return Project(
        name=name,
        targets=(
            Target(id="weight", metric="flying_mass_g", limit=float(math.ceil((4 * motor_g + battery_g) * 2.0 / 50) * 50)),
            Target(id="sag", metric="tip_sag_mm", limit=2.0),
            Target(id="modes", metric="modes_clear_pct", limit=5.0),
            Target(id="floor", metric="mode_floor_hz", limit=2.5),
            Target(id="reserve", metric="least_reserve", limit=1.5),
            Target(id="strike", metric="arm_strike_m_s", limit=3.0),
            Target(id="time", metric="print_minutes", limit=900.0),
        ),
        layout=layout,
        components=Components(motor=motor, propeller=propeller, battery=battery, blocks=blocks),
        parts=(
            Part(id="arm", name="Arm", count=4, shape=arm_for(layout, motor), recipe=petg, joint=bolts),
            Part(id="bottom", name="Bottom plate", shape=plate_for(layout, "bottom"), recipe=petg),
            Part(id="top", name="Top plate", shape=plate_for(layout, "top"), recipe=petg),
            Part(id="leg", name="Landing leg", count=4, shape=leg_for(layout, propeller), recipe=petg),
        ),
        spools=(Spool(id="petg", filament="petg"), Spool(id="pla", filament="pla", price_per_kg=20.0)),
    )
