"""Wren: a made-up 2.5-inch guarded quad that looks at leaves in a greenhouse.

Its frame is one flat plate and its guards come round the propellers, all printed on a small bed, because it will hit stakes and be printed
again. The scenario, every mass and every price are invented for this demo.
"""

from __future__ import annotations

from fravik.model.craft import Battery, Block, Components, Layout, Motor, Propeller
from fravik.model.joint import Joint
from fravik.model.project import Brief, Part, Printer, Project, Spool, Target
from fravik.model.recipe import Recipe
from fravik.model.shapes import FrameShape, GuardShape, LegShape, MountShape


def wren() -> Project:
    """The craft as its maker left it, before the first row of tomatoes."""
    return Project(
        name="Wren greenhouse quad",
        brief=Brief(
            currency="€",
            purpose="Fly between rows of tomatoes and look for mites under the leaves. It will touch stakes and strings, so its propellers "
            "are guarded and its frame is cheap to print again.",
            pull_up_g=3.0, landing_m_s=1.0, ground_stiffness_n_mm=20.0, ground_restitution=0.2, working_low=0.85, working_high=1.2,
            loop_crossover_hz=26.0, bump_m_s=1.2, transport_n=8.0, strap_pull_n=12.0,
        ),
        targets=(
            Target(id="weight", metric="flying_mass_g", limit=185.0),
            Target(id="sag", metric="tip_sag_mm", limit=0.8),
            Target(id="modes", metric="modes_clear_pct", limit=1.0),
            Target(id="floor", metric="mode_floor_hz", limit=2.5),
            Target(id="reserve", metric="least_reserve", limit=1.0),
            Target(id="drop", metric="flat_drop_m", limit=0.5),
            Target(id="time", metric="print_minutes", limit=180.0),
            Target(id="endurance", metric="endurance_min", limit=4.0),
        ),
        layout=Layout(kind="quad_x", motor_to_motor_mm=118.0, clamp_radius_mm=20.0, leg_radius_mm=15.0),
        components=Components(
            motor=Motor(name="Generic 14 mm", price=11.0, mass_g=7.4, diameter_mm=17.5, height_mm=13.0, mount_circle_mm=9.0,
                        kv_rpm_per_v=4600.0,
                        resistance_mohm=150.0, no_load_a=0.5),
            propeller=Propeller(price=1.0, diameter_mm=63.5, pitch_mm=38.0, blades=3, mass_g=1.1, figure_of_merit=0.5),
            battery=Battery(price=12.0, cells=3, capacity_mah=450.0, mass_g=40.0, length_mm=52.0, width_mm=18.0, height_mm=22.0, x_mm=-12.0,
                            z_mm=25.0),
            blocks=(
                Block(id="stack", name="Flight stack", price=52.0, mass_g=11.0, length_mm=28, width_mm=28, height_mm=9, z_mm=6.0,
                      power_w=1.5, feeds_motors=True, has_gyro=True),
                Block(id="camera", name="Macro camera", price=38.0, mass_g=14.0, length_mm=19, width_mm=19, height_mm=16, x_mm=36.0,
                      z_mm=-22.0,
                      view_deg=70.0, power_w=1.2),
                Block(id="receiver", name="Receiver", price=14.0, mass_g=3.0, length_mm=14, width_mm=11, height_mm=4, x_mm=-24.0, z_mm=3.0,
                      power_w=0.4),
                Block(id="wiring", name="Wiring and screws", price=5.0, mass_g=12.0, length_mm=40, width_mm=30, height_mm=5, z_mm=3.0,
                      spread=True),
            ),
        ),
        parts=(
            Part(id="frame", name="Frame plate",
                 shape=FrameShape(thickness_mm=3.0, length_mm=48.0, width_mm=34.0, corner_mm=4.0, stack_pitch_mm=20.0, stack_hole_mm=2.2,
                                  window_length_mm=8.0, window_width_mm=8.0, root_width_mm=11.0, tip_width_mm=9.5, root_fillet_mm=3.0,
                                  pad_diameter_mm=17.5, pad_fillet_mm=3.0, bolt_circle_mm=9.0, bolt_hole_mm=2.2, shaft_hole_mm=4.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.4, pattern="grid")),
            Part(id="guard", name="Propeller guard", count=4,
                 shape=GuardShape(span_deg=150.0, width_mm=2.4, height_mm=5.0, corner_mm=4.0, hub_diameter_mm=17.5, hub_thickness_mm=1.6,
                                  bolt_circle_mm=9.0, bolt_hole_mm=2.2, root_fillet_mm=2.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=3, core_density=0.3, pattern="grid")),
            Part(id="leg", name="Landing leg", count=4,
                 shape=LegShape(length_mm=22.0, root_width_mm=7.0, tip_width_mm=5.0, thickness_mm=4.0, flange_length_mm=6.0,
                                flange_width_mm=15.0, flange_bolt_mm=2.2, root_fillet_mm=2.0, splay_deg=8.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=3, core_density=0.4, pattern="grid")),
            Part(id="mount", name="Camera mount",
                 shape=MountShape(length_mm=14.0, root_width_mm=14.0, tip_width_mm=12.0, thickness_mm=3.0, pad_length_mm=14.0,
                                  pad_width_mm=18.0, tongue_length_mm=10.0, tongue_width_mm=20.0, tongue_bolt_mm=2.2, root_fillet_mm=2.0,
                                  pad_fillet_mm=2.0,
                                  tilt_deg=20.0, carried_g=14.0, carried_height_mm=8.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=3, core_density=0.4, pattern="grid"),
                 joint=Joint(screw="M2")),
        ),
        printer=Printer(name="Small printer", bed_x_mm=150.0, bed_y_mm=150.0, bed_z_mm=150.0),
        spools=(
            Spool(id="petg_leaf", filament="petg", grams_left=300.0, price_per_kg=22.0, colour="leaf green"),
            Spool(id="pla_tough_white", filament="pla_tough", grams_left=250.0, price_per_kg=28.0, colour="white"),
            Spool(id="tpu_red", filament="tpu", grams_left=150.0, price_per_kg=32.0, colour="tomato red"),
        ),
    )  # fmt: skip
