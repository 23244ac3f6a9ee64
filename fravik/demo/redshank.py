"""Redshank: a made-up hexa on carbon tubes that lowers water samplers into a quarry lake.

Its plates are ribbed and drilled all over, because every season another instrument is bolted on. The scenario, every mass and every price
are invented for this demo.
"""

from __future__ import annotations

from fravik.model.craft import Battery, Block, Components, Layout, Motor, Propeller
from fravik.model.joint import Joint
from fravik.model.project import Brief, Part, Printer, Project, Spool, Target
from fravik.model.recipe import Recipe
from fravik.model.shapes import BarArmShape, LegShape, MotorHolderShape, PlateShape, RootClampShape


def redshank() -> Project:
    """The craft as its maker left it, before the first sample."""
    return Project(
        name="Redshank sampling hexa",
        brief=Brief(
            currency="€",
            purpose="Hover over a flooded quarry and lower a bottle on a line to draw water from its middle, where no boat may go. Six "
            "rotors, so that one may fail over the water.",
            pull_up_g=2.5, landing_m_s=1.0, ground_stiffness_n_mm=60.0, ground_restitution=0.2, working_low=0.85, working_high=1.2,
            loop_crossover_hz=14.0, yaw_share=0.35,
        ),
        targets=(
            Target(id="weight", metric="flying_mass_g", limit=3400.0),
            Target(id="sag", metric="tip_sag_mm", limit=1.3),
            Target(id="modes", metric="modes_clear_pct", limit=0.0),
            Target(id="floor", metric="mode_floor_hz", limit=3.0),
            Target(id="reserve", metric="least_reserve", limit=1.2),
            Target(id="drop", metric="flat_drop_m", limit=0.2),
            Target(id="time", metric="print_minutes", limit=2100.0),
            Target(id="endurance", metric="endurance_min", limit=15.0),
        ),
        layout=Layout(kind="hexa_x", motor_to_motor_mm=620.0, clamp_radius_mm=88.0, leg_radius_mm=72.0),
        components=Components(
            motor=Motor(name="Generic 35 mm, slow", price=39.0, mass_g=92.0, diameter_mm=42.0, height_mm=26.0, mount_circle_mm=25.0,
                        kv_rpm_per_v=465.0, resistance_mohm=95.0, no_load_a=0.6),
            propeller=Propeller(price=9.0, diameter_mm=279.0, pitch_mm=140.0, mass_g=18.0),
            battery=Battery(price=128.0, cells=6, capacity_mah=8000.0, mass_g=1020.0, length_mm=150.0, width_mm=52.0, height_mm=55.0,
                            x_mm=0.0,
                            z_mm=60.0),
            blocks=(
                Block(id="stack", name="Flight stack", price=95.0, mass_g=48.0, length_mm=40, width_mm=40, height_mm=14, z_mm=12.0,
                      power_w=3.5, feeds_motors=True, has_gyro=True),
                Block(id="winch", name="Winch and full bottle", price=74.0, mass_g=420.0, length_mm=90, width_mm=60, height_mm=50,
                      z_mm=-34.0,
                      power_w=4.0),
                Block(id="receiver", name="Receiver and positioning", price=62.0, finds_place=True, mass_g=34.0, length_mm=30,
                      width_mm=30, height_mm=12, x_mm=-60.0,
                      y_mm=42.0, z_mm=35.0, power_w=1.5, has_compass=True),
                Block(id="wiring", name="Wiring and screws", price=24.0, mass_g=130.0, length_mm=140, width_mm=100, height_mm=8, z_mm=6.0,
                      spread=True),
            ),
        ),
        parts=(
            Part(id="tube", name="Tube arm", count=6,
                 shape=BarArmShape(outer_mm=14.0, wall_mm=1.0, root_height_mm=22.0, tongue_length_mm=50.0, tongue_width_mm=32.0,
                                   holder_grip_mm=30.0, seat_rise_mm=5.0),
                 joint=Joint(kind="clamp", screw="M3", tightness=0.3)),
            Part(id="clamp", name="Root clamp", count=6, shape=RootClampShape(),
                 recipe=Recipe(filament="petg", walls=4, cover_layers=4, core_density=0.3, pattern="gyroid", lies="on_end")),
            Part(id="holder", name="Motor holder", count=6,
                 shape=MotorHolderShape(pad_diameter_mm=38.0, bolt_circle_mm=25.0),
                 recipe=Recipe(filament="petg", walls=4, cover_layers=4, core_density=0.3, pattern="gyroid", lies="flat_over")),
            Part(id="bottom", name="Bottom plate",
                 shape=PlateShape(place="bottom", length_mm=184.0, width_mm=164.0, thickness_mm=3.0, corner_mm=24.0, grid_pitch_mm=20.0,
                                  rib_height_mm=5.0, rib_width_mm=2.7, rib_pitch_mm=30.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.4, pattern="grid", lies="flat_over")),
            Part(id="top", name="Top plate",
                 shape=PlateShape(place="top", length_mm=184.0, width_mm=164.0, thickness_mm=2.4, corner_mm=24.0, grid_pitch_mm=20.0,
                                  rib_height_mm=4.0, rib_width_mm=2.7, rib_pitch_mm=30.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.4, pattern="grid")),
            Part(id="leg", name="Landing leg", count=3,
                 shape=LegShape(length_mm=110.0, root_width_mm=24.0, tip_width_mm=13.0, thickness_mm=12.0, flange_width_mm=42.0,
                                flange_length_mm=14.0, splay_deg=12.0, root_fillet_mm=7.0),
                 recipe=Recipe(filament="petg", walls=4, cover_layers=4, core_density=0.3, pattern="gyroid")),
        ),
        printer=Printer(name="Mid-size printer"),
        spools=(
            Spool(id="petg_slate", filament="petg", grams_left=1600.0, price_per_kg=22.0, colour="slate"),
            Spool(id="pla_tough_red", filament="pla_tough", grams_left=700.0, price_per_kg=28.0, colour="brick red"),
            Spool(id="asa_black", filament="asa", grams_left=500.0, price_per_kg=30.0, colour="black", shade="dark"),
        ),
    )  # fmt: skip
