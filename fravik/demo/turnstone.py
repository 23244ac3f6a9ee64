"""Turnstone: a made-up quad that listens for bats over a canal and wants slower, quieter blades than it was bought with.

The bought blade was measured with callipers, one reading of which is wrong; a wide blade is drawn from it, in both hands, with a soft bush
in its hub, and stood on end in the printer for a smooth face. The scenario, every mass and every price are invented for this demo.
"""

from __future__ import annotations

import math
from typing import Any

from fravik.demo.tern import tern
from fravik.model.blade import BladeStation, PropellerShape, Reading
from fravik.model.craft import Components, Layout, Motor, Propeller
from fravik.model.project import Part, Project, Target
from fravik.model.recipe import Lies, Recipe

# radius, chord, heights of leading and trailing edge over the table, thickness: mm, as they were read
READ = (
    (24.0, 15.2, 12.1, 2.4, 2.2), (34.0, 19.1, 11.4, 2.1, 2.1), (44.0, 21.2, 10.6, 2.6, 2.0), (54.0, 21.8, 9.8, 3.0, 1.8),
    (64.0, 21.0, 12.4, 3.5, 1.7), (74.0, 19.6, 8.2, 3.7, 1.5), (84.0, 17.4, 7.6, 4.1, 1.3), (94.0, 14.6, 7.0, 4.4, 1.2),
    (102.0, 11.0, 6.4, 4.7, 1.0),
)  # fmt: skip
CHANGED: dict[str, dict[str, Any]] = {
    "camera": {"name": "Bat microphone", "view_deg": 0.0, "power_w": 2.0},
    "receiver": {"x_mm": -20.0, "z_mm": 68.0},
}
ARM = {"root_height_mm": 12.0, "tip_height_mm": 12.0, "root_width_mm": 27.0, "tip_width_mm": 22.0}
WIDE, PITCH_MM, DIAMETER_MM = 1.5, 108.0, 216.0  # chord over the bought one's; of the blade that is drawn


def turnstone() -> Project:
    """The craft as its maker left it, with a propeller to decide on."""
    base = tern()
    arm = next(p for p in base.parts if p.id == "arm")
    return base.model_copy(update={
        "name": "Turnstone bat listener",
        "brief": base.brief.model_copy(update={
            "purpose": "Hover over a canal at dusk and record bats. Its own blades are what it hears most: they are to turn slower.",
            "pull_up_g": 2.0, "loop_crossover_hz": 12.0,
        }),
        "targets": (
            *(t for t in base.targets if t.id not in ("strike", "endurance", "time", "sag")),
            Target(id="sag", metric="tip_sag_mm", limit=2.4),
            Target(id="endurance", metric="endurance_min", limit=24.0), Target(id="time", metric="print_minutes", limit=1440.0),
        ),
        "layout": Layout(kind="quad_x", motor_to_motor_mm=380.0, clamp_radius_mm=50.0, leg_radius_mm=42.0),
        "components": Components(
            motor=Motor(name="Generic 28 mm", price=24.0, mass_g=48.0, diameter_mm=33.0, height_mm=24.0, mount_circle_mm=19.0,
                        kv_rpm_per_v=690.0, resistance_mohm=95.0, no_load_a=0.6),
            propeller=Propeller(price=4.0, diameter_mm=216.0, pitch_mm=114.0, blades=2, mass_g=10.0, figure_of_merit=0.58),
            battery=base.components.battery.model_copy(update={"cells": 4, "capacity_mah": 3300.0, "price": 42.0}),
            blocks=tuple(
                b.model_copy(update=CHANGED[b.id]) if b.id in CHANGED else b for b in base.components.blocks
            ),
        ),
        "parts": (
            arm.model_copy(update={"shape": arm.shape.model_copy(update=ARM)}),
            *(p for p in base.parts if p.id not in ("arm", "guard")),
            _measured(), _wide("wide", "Wide", "anticlockwise"), _wide("wide_left", "Wide, other hand", "clockwise"),
        ),
    })  # fmt: skip


def _measured() -> Part:
    readings = tuple(Reading(radius_mm=r, chord_mm=c, leading_mm=a, trailing_mm=b, thickness_mm=t) for r, c, a, b, t in READ)
    shape = PropellerShape(diameter_mm=216.0, pitch_mm=114.0, in_use=False, readings=readings, hub_diameter_mm=16.0, hub_height_mm=8.0,
                           bore_mm=5.0, shaft_mm=5.0, chord_share=0.17)  # fmt: skip
    from fravik.kinds.measuring import drawn_from  # its least squares load only for crafts that were measured

    shape = drawn_from(shape)
    return Part(id="bought", name="Bought, measured", shape=shape, recipe=_recipe("petg"))


def _wide(part_id: str, name: str, turns: str) -> Part:
    every = tuple(
        BladeStation(radius_mm=r, chord_mm=round(WIDE * c, 1), angle_deg=round(math.degrees(math.atan(PITCH_MM / (2 * math.pi * r))), 1),
                     thickness_mm=round(1.35 * t, 2), ahead_mm=round(0.4 * WIDE * c, 1))
        for r, c, _, _, t in READ
    )  # fmt: skip
    shape = PropellerShape(diameter_mm=DIAMETER_MM, pitch_mm=PITCH_MM, turns=turns, stations=every, hub_diameter_mm=22.0,
                           hub_height_mm=11.0, root_fillet_mm=7.0, bore_mm=5.0, shaft_mm=4.9, bush_mm=1.5, bush_grip_mm=0.15)  # fmt: skip
    return Part(id=part_id, name=name, count=2, shape=shape, recipe=_recipe("petg", "on_end"))


def _recipe(filament: str, lies: Lies = "flat") -> Recipe:
    return Recipe(filament=filament, lies=lies, layer_height_mm=0.12, walls=5, cover_layers=8, core_density=1.0)
