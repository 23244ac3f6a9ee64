"""Dunlin: a made-up Y6 that listens for night birds over a salt marsh with a ring of microphones.

Two front arms are short, so that the array can hang ahead of the wash; the tail arm is long. The scenario, every mass and every price
are invented for this demo.
"""

from __future__ import annotations

from fravik.model.craft import Battery, Block, Components, Layout, Motor, Propeller
from fravik.model.joint import Joint
from fravik.model.project import Brief, Part, Printer, Project, Spool, Target
from fravik.model.recipe import Recipe
from fravik.model.shapes import ArmShape, LegShape, MountShape, PlateShape


def dunlin() -> Project:
    """The craft as its maker left it, before the first night out."""
    return Project(
        name="Dunlin listening Y6",
        brief=Brief(
            currency="€",
            purpose="Drift over a salt marsh at night and record the calls of migrating waders. Six slow propellers, so that the "
            "microphones hear birds and not blades.",
            pull_up_g=2.5, landing_m_s=1.2, ground_stiffness_n_mm=20.0, ground_restitution=0.2, working_low=0.9, working_high=1.1,
            loop_crossover_hz=12.0,
        ),
        targets=(
            Target(id="weight", metric="flying_mass_g", limit=1900.0),
            Target(id="sag", metric="tip_sag_mm", limit=3.0),
            Target(id="modes", metric="modes_clear_pct", limit=0.0),
            Target(id="floor", metric="mode_floor_hz", limit=2.5),
            Target(id="reserve", metric="least_reserve", limit=1.0),
            Target(id="drop", metric="flat_drop_m", limit=0.25),
            Target(id="time", metric="print_minutes", limit=1300.0),
            Target(id="endurance", metric="endurance_min", limit=14.0),
        ),
        layout=Layout(kind="y6", motor_to_motor_mm=420.0, clamp_radius_mm=62.0, leg_radius_mm=50.0),
        components=Components(
            motor=Motor(name="Generic 28 mm, slow", price=22.0, mass_g=48.0, diameter_mm=34.0, height_mm=21.0, kv_rpm_per_v=440.0,
                        resistance_mohm=260.0, no_load_a=0.35),
            propeller=Propeller(price=4.0, diameter_mm=229.0, pitch_mm=114.0, mass_g=11.0),
            battery=Battery(price=58.0, cells=6, capacity_mah=3300.0, mass_g=480.0, length_mm=96.0, width_mm=40.0, height_mm=46.0,
                            x_mm=-14.0,
                            z_mm=48.0),
            blocks=(
                Block(id="stack", name="Flight stack", price=80.0, mass_g=42.0, length_mm=38, width_mm=34, height_mm=12, z_mm=7.0,
                      power_w=3.0, feeds_motors=True, has_gyro=True),
                Block(id="microphones", name="Microphone array", price=160.0, mass_g=120.0, length_mm=50, width_mm=50, height_mm=24,
                      x_mm=96.0,
                      z_mm=-32.0, power_w=1.5),
                Block(id="recorder", name="Sound recorder", price=95.0, mass_g=65.0, length_mm=60, width_mm=38, height_mm=18, x_mm=-8.0,
                      z_mm=-16.0,
                      power_w=2.0),
                Block(id="receiver", name="Receiver and positioning", price=48.0, finds_place=True, mass_g=26.0, length_mm=26,
                      width_mm=26, height_mm=10, x_mm=-48.0,
                      y_mm=34.0, z_mm=22.0, power_w=1.0, has_compass=True),
                Block(id="wiring", name="Wiring and screws", price=15.0, mass_g=70.0, length_mm=100, width_mm=70, height_mm=8, z_mm=6.0,
                      spread=True),
            ),
        ),
        parts=(
            Part(id="front", name="Front arm", count=2, at=("arm_1", "arm_3"),
                 shape=ArmShape(root_width_mm=22.0, tip_width_mm=19.0, root_height_mm=14.0, tip_height_mm=12.0, root_fillet_mm=2.0,
                                pad_diameter_mm=32.0, tongue_length_mm=32.0, tongue_width_mm=32.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.2, pattern="gyroid")),
            Part(id="tail", name="Tail arm", count=1, at=("arm_2",),
                 shape=ArmShape(length_mm=168.0, root_width_mm=22.0, tip_width_mm=19.0, root_height_mm=14.0, tip_height_mm=12.0,
                                root_fillet_mm=2.0, pad_diameter_mm=32.0, tongue_length_mm=32.0, tongue_width_mm=32.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.2, pattern="gyroid")),
            Part(id="bottom", name="Bottom plate", shape=PlateShape(place="bottom", length_mm=130.0, width_mm=112.0, thickness_mm=4.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=5, core_density=0.4, pattern="grid")),
            Part(id="top", name="Top plate", shape=PlateShape(place="top", length_mm=130.0, width_mm=112.0, thickness_mm=3.0),
                 recipe=Recipe(filament="petg", walls=3, cover_layers=4, core_density=0.4, pattern="grid")),
            Part(id="leg", name="Landing leg", count=3,
                 shape=LegShape(length_mm=72.0, root_width_mm=18.0, tip_width_mm=11.0, thickness_mm=9.0, splay_deg=10.0,
                                root_fillet_mm=6.0),
                 recipe=Recipe(filament="petg", walls=4, cover_layers=4, core_density=0.4, pattern="gyroid")),
            Part(id="boom", name="Microphone boom",
                 shape=MountShape(length_mm=34.0, thickness_mm=10.0, root_width_mm=28.0, tip_width_mm=24.0, pad_width_mm=32.0,
                                  tongue_width_mm=36.0, carried_g=120.0, carried_height_mm=14.0),
                 recipe=Recipe(filament="petg", walls=4, cover_layers=4, core_density=0.4, pattern="grid", core_angle_deg=0.0),
                 joint=Joint(screw="M3", fixing="captive", engaged_mm=3.0)),
        ),
        printer=Printer(name="Mid-size printer"),
        spools=(
            Spool(id="petg_green", filament="petg", grams_left=900.0, price_per_kg=22.0, colour="marsh green"),
            Spool(id="pla_sand", filament="pla", grams_left=600.0, price_per_kg=20.0, colour="sand"),
            Spool(id="pla_tough_white", filament="pla_tough", grams_left=500.0, price_per_kg=28.0, colour="off white"),
        ),
    )  # fmt: skip
