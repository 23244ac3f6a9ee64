"""New parts and new crafts in proportion: where a maker starts.

Rules of proportion only: widths follow the motor pad, heights the free length, bolts the motor's size. They are a start to
be judged by the margins, not a design.
"""

from __future__ import annotations

import math

from fravik.model.craft import Battery, Block, Components, Layout, Motor, Propeller
from fravik.model.project import Part, Project, Spool, Target
from fravik.model.recipe import Recipe

from .proportion import half
from .registry import KINDS


def addable() -> dict[str, str]:
    """What the maker can add: the pick, and the name of the new part."""
    return {pick: start.name for kind in KINDS.values() for pick, start in kind.starts.items()}


def part_for(pick: str, project: Project) -> Part:
    """A new part in proportion to the craft, with an id of its own. ``pick`` is one of ``addable()``."""
    kind = next(k for k in KINDS.values() if pick in k.starts)
    start = kind.starts[pick]
    taken = {p.id for p in project.parts}
    part_id = next(i for i in (start.stem, *(f"{start.stem}{n}" for n in range(2, 99))) if i not in taken)
    filament = project.parts[0].recipe.filament if project.parts else "petg"
    return Part(id=part_id, name=start.name, count=start.count, shape=kind.default(project, start=pick), recipe=Recipe(filament=filament),
                joint=kind.first_joint(project))  # fmt: skip


def project_for(name: str, motor_to_motor_mm: float, propeller_mm: float, motor_g: float, battery_g: float) -> Project:
    """A new quad from five figures: layout, components and parts in proportion. Raises pydantic's ValidationError."""
    clamp = max(24.0, half(0.155 * motor_to_motor_mm))
    layout = Layout(motor_to_motor_mm=motor_to_motor_mm, clamp_radius_mm=clamp, leg_radius_mm=half(0.84 * clamp))
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
        no_load_a=min(20.0, max(0.01, round(idle_a, 2))), diameter_mm=half(across), height_mm=half(0.6 * across),
        mount_circle_mm=19.0 if motor_g > 30 else 16.0 if motor_g > 18 else 12.0 if motor_g > 8 else 9.0,
    )  # fmt: skip
    propeller = Propeller(
        diameter_mm=propeller_mm, pitch_mm=half(0.57 * propeller_mm), mass_g=min(100.0, max(0.3, half(7 * (propeller_mm / 178) ** 2.5)))
    )
    scale = (battery_g / 335.0) ** (1 / 3)
    battery = Battery(
        cells=cells, mass_g=battery_g, length_mm=half(78 * scale), width_mm=half(37 * scale), height_mm=half(42 * scale), x_mm=0.0,
        capacity_mah=max(100.0, round(39.0 / cells * battery_g / 50) * 50.0), z_mm=half(20 + 21 * scale),
    )  # fmt: skip
    blocks = (Block(id="stack", name="Flight stack", mass_g=35.0, length_mm=36, width_mm=36, height_mm=14, z_mm=16.0),)
    bare = Project(
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
        spools=(Spool(id="petg", filament="petg"), Spool(id="pla", filament="pla", price_per_kg=20.0)),
    )
    return bare.model_copy(update={"parts": tuple(part_for(pick, bare) for pick in ("arm", "bottom", "top", "leg"))})
