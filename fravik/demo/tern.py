"""Tern: a made-up 7-inch quad that carries a small thermal camera over a shingle island to count nesting birds.

The scenario, every mass and every price are invented for this demo.
"""

from __future__ import annotations

from fravik.model.craft import Battery, Block, Components, Layout, Motor, Propeller
from fravik.model.joint import Joint
from fravik.model.project import Brief, Part, Printer, Project, Spool, Target
from fravik.model.recipe import Recipe
from fravik.model.shapes import ArmShape, GuardShape, LegShape, MountShape, PlateShape
from fravik.model.tune import Tune


def tern() -> Project:
    """The demo craft as its maker left it: two targets fail and one is tight."""
    return Project(
        name="Tern survey quad",
        # slow lines over an island: tuned calm, as its arms would ring with a quicker loop
        tune=Tune(house="own", follows=0.35, lowpass=3.0),
        brief=Brief(
            currency="€",
            purpose="Count ground-nesting birds on a shingle island with a small thermal camera, flying slow lines at dawn "
            "before the ground warms. Must land on shingle and survive being set down hard.",
            pull_up_g=4.0, landing_m_s=1.0, ground_stiffness_n_mm=60.0, ground_restitution=0.1, working_low=0.9, working_high=1.15,
            loop_crossover_hz=16.0,
        ),
        targets=(
            Target(id="weight", metric="flying_mass_g", limit=1150.0),
            Target(id="sag", metric="tip_sag_mm", limit=1.4),
            Target(id="modes", metric="modes_clear_pct", limit=3.0),
            Target(id="floor", metric="mode_floor_hz", limit=2.5),
            Target(id="reserve", metric="least_reserve", limit=1.0),
            Target(id="drop", metric="flat_drop_m", limit=0.35),
            Target(id="strike", metric="arm_strike_m_s", limit=2.2),
            Target(id="time", metric="print_minutes", limit=960.0),
            Target(id="endurance", metric="endurance_min", limit=15.0),
        ),
        layout=Layout(motor_to_motor_mm=320.0, clamp_radius_mm=50.0, leg_radius_mm=42.0),
        components=Components(
            motor=Motor(name="Generic 28 mm", price=18.0, mass_g=44.0, diameter_mm=33.5, height_mm=20.0, kv_rpm_per_v=740.0,
                        resistance_mohm=150.0,
                        no_load_a=0.6),
            propeller=Propeller(price=3.0, diameter_mm=177.8, pitch_mm=101.6, mass_g=7.0),
            battery=Battery(price=42.0, cells=6, capacity_mah=2200.0, mass_g=335.0, x_mm=-13.0, z_mm=42.0),
            blocks=(
                Block(id="stack", name="Flight stack", price=75.0, mass_g=38.0, length_mm=38, width_mm=38, height_mm=6, z_mm=17.5,
                      power_w=3.0, feeds_motors=True, has_gyro=True),
                Block(id="camera", name="Thermal camera", price=210.0, mass_g=62.0, length_mm=34, width_mm=30, height_mm=28,
                      x_mm=74.0, z_mm=-39.0, power_w=2.5, view_deg=50.0),
                Block(id="receiver", name="Receiver and positioning", price=48.0, finds_place=True, mass_g=24.0, length_mm=26,
                      width_mm=26, height_mm=10,
                      x_mm=-44.0, z_mm=26.0, power_w=1.0, has_compass=True),
                Block(id="wiring", name="Wiring and screws", price=12.0, mass_g=58.0, length_mm=90, width_mm=70, height_mm=8, z_mm=5.0,
                      spread=True),
            ),
        ),
        parts=(
            Part(id="arm", name="Arm", count=4,
                 shape=ArmShape(root_width_mm=20.0, tip_width_mm=17.0, root_height_mm=12.0, tip_height_mm=10.0, root_fillet_mm=1.0,
                                pad_diameter_mm=30.0, tongue_length_mm=28.0, tongue_width_mm=30.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.2, pattern="gyroid")),
            Part(id="bottom", name="Bottom plate", shape=PlateShape(place="bottom", length_mm=104.0, width_mm=88.0, thickness_mm=3.8),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=5, core_density=0.4, pattern="grid")),
            Part(id="top", name="Top plate", shape=PlateShape(place="top", length_mm=104.0, width_mm=88.0, thickness_mm=2.4),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.4, pattern="grid")),
            Part(id="leg", name="Landing leg", count=4,
                 shape=LegShape(length_mm=52.0, root_width_mm=16.0, tip_width_mm=10.0, thickness_mm=9.0, splay_deg=8.0, root_fillet_mm=6.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.3, pattern="gyroid")),
            Part(id="mount", name="Camera mount",
                 shape=MountShape(length_mm=26.0, thickness_mm=8.5, root_width_mm=26.0, tip_width_mm=22.0, pad_width_mm=30.0,
                                  tongue_width_mm=34.0, carried_g=62.0, carried_height_mm=15.0, tilt_deg=20.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.4, pattern="grid", core_angle_deg=0.0),
                 joint=Joint(screw="M3", fixing="captive", engaged_mm=3.0)),
            Part(id="guard", name="Front guard", count=2, shape=GuardShape(span_deg=90.0, width_mm=4.5, height_mm=10.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=3, core_density=0.15, pattern="honeycomb")),
        ),
        printer=Printer(name="Mid-size printer"),
        spools=(
            Spool(id="petg_grey", filament="petg", grams_left=640.0, price_per_kg=22.0, colour="slate grey"),
            Spool(id="pla_sand", filament="pla", grams_left=820.0, price_per_kg=20.0, colour="sand"),
            Spool(id="pla_tough_white", filament="pla_tough", grams_left=310.0, price_per_kg=28.0, colour="off white"),
            Spool(id="pacf_black", filament="pa_cf", grams_left=450.0, price_per_kg=75.0, colour="black"),
        ),
    )  # fmt: skip
