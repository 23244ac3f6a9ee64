"""Wheatear: a made-up craft with two tilting front rotors, a fixed tail rotor and a wing, that samples the air over a reservoir.

As its maker first had it: pods that turn about an axis far below their motors, a servo that only just turns them, and a tail too small. The
scenario, every mass and every price are invented for this demo.
"""

from __future__ import annotations

from fravik.kinds.newcraft import Wish, sized
from fravik.model.craft import Battery, Block, FreeStation, Layout, Motor, Propeller
from fravik.model.project import Project, Spool, Target
from fravik.model.wing import Flying, Tilt, TiltDrive, WingShape

from .foamed import panel


def wheatear() -> Project:
    """The craft as its maker left it."""
    base = sized(
        Wish("tri", motor_to_motor_mm=600.0, propeller_mm=229.0, payload_g=120.0, arms="bar_arm", lift=4.0), "Wheatear air sampler"
    )
    c = base.components
    return base.model_copy(update={
        "brief": base.brief.model_copy(update={
            "purpose": "Cross a reservoir and back, and hang over its middle for a while to draw samples of air.", "pull_up_g": 2.5,
            "currency": "€", "loop_crossover_hz": 5.0,
        }),
        "targets": (
            Target(id="weight", metric="flying_mass_g", limit=2200.0), Target(id="stall", metric="stall_m_s", limit=12.0),
            Target(id="steady", metric="static_margin_pct", limit=6.0), Target(id="spar", metric="spar_reserve", limit=1.5),
            Target(id="hover", metric="wing_hover_throttle", limit=0.72), Target(id="corridor", metric="corridor_reserve_pct", limit=20.0),
            Target(id="travel", metric="com_travel_mm", limit=8.0), Target(id="tilt", metric="tilt_share", limit=0.5),
            Target(id="cruise", metric="cruise_min", limit=25.0),
        ),
        "layout": Layout(kind="free", motor_to_motor_mm=600.0, clamp_radius_mm=base.layout.clamp_radius_mm,
                         leg_radius_mm=base.layout.leg_radius_mm, stations=(
            FreeStation(id="front_left", x_mm=120.0, y_mm=250.0, turns="right", tilt_deg=20.0),
            FreeStation(id="tail", x_mm=-300.0, y_mm=0.0, turns="left"),
            FreeStation(id="front_right", x_mm=120.0, y_mm=-250.0, turns="left", tilt_deg=20.0),
        )),
        "components": c.model_copy(update={
            "motor": Motor(name="Generic 28 mm, slow", price=29.0, mass_g=62.0, diameter_mm=33.0, height_mm=24.0, mount_circle_mm=19.0,
                           kv_rpm_per_v=780.0, resistance_mohm=85.0, no_load_a=0.7),
            "propeller": Propeller(price=6.0, diameter_mm=229.0, pitch_mm=127.0, mass_g=13.0, thrust_coefficient=0.11),
            "battery": Battery(price=64.0, cells=4, capacity_mah=5200.0, mass_g=440.0, length_mm=135.0, width_mm=43.0, height_mm=32.0,
                               x_mm=42.0, z_mm=66.0),
            "blocks": (
                *(b for b in c.blocks if b.id == "stack"),
                Block(id="sampler", name="Air sampler", price=85.0, mass_g=120.0, length_mm=60, width_mm=50, height_mm=40, x_mm=40.0,
                    z_mm=-30.0,
                      power_w=2.0),
                Block(id="receiver", name="Receiver and positioning", price=55.0, finds_place=True, mass_g=26.0, length_mm=30, width_mm=30,
                      height_mm=12, x_mm=-66.0, z_mm=92.0, power_w=1.5, has_compass=True),
                Block(id="servos", name="Two tilt servos, wires", price=34.0, mass_g=70.0, length_mm=100, width_mm=60, height_mm=12,
                    z_mm=6.0,
                      spread=True),
            ),
        }),
        "parts": (
            *base.parts,
            panel("inner", "Wing, inner", WingShape(
                length_mm=220.0, root_chord_mm=190.0, tip_chord_mm=180.0, x_mm=72.0, y_mm=60.0, z_mm=-24.0, incidence_deg=3.0,
                    thickness=0.13,
                camber=0.04, spar_mm=6.0, spar_wall_mm=0.5, spar_at=0.30, joint_by="set_screws", webs=4)),
            panel("outer", "Wing, outer", WingShape(
                on="inner", length_mm=225.0, root_chord_mm=180.0, tip_chord_mm=165.0, incidence_deg=0.0, dihedral_deg=2.0, thickness=0.13,
                camber=0.04, spar_mm=5.0, spar_wall_mm=0.5, surface="flaperon", surface_from=0.1, surface_to=0.95, webs=4)),
            panel("tip", "Wing, tip", WingShape(
                on="outer", length_mm=200.0, root_chord_mm=165.0, tip_chord_mm=130.0, incidence_deg=0.0, dihedral_deg=3.0, washout_deg=2.0,
                thickness=0.13, camber=0.04, spar_mm=4.0, spar_wall_mm=0.5, webs=3)),
            panel("tail_plane", "Tail plane", WingShape(
                role="tail", length_mm=150.0, root_chord_mm=95.0, tip_chord_mm=80.0, x_mm=-330.0, z_mm=80.0, incidence_deg=-1.5,
                thickness=0.08, camber=0.0, surface="elevator", surface_share=0.4, surface_from=0.05, surface_to=0.95, spar_mm=0.0,
                    webs=0)),
            panel("fin", "Fin", WingShape(
                role="fin", hand="upright", length_mm=120.0, root_chord_mm=100.0, tip_chord_mm=70.0, x_mm=-330.0, z_mm=85.0,
                    incidence_deg=0.0,
                thickness=0.08, camber=0.0, surface="rudder", surface_share=0.4, surface_from=0.05, surface_to=0.95, spar_mm=0.0)),
        ),
        "spools": (*base.spools, Spool(id="foam_white", filament="pla_foam", grams_left=900.0, price_per_kg=45.0, colour="white",
        shade="light")),
        "tune": base.tune.model_copy(update={"house": "easy"}),
        "flying": Flying(
            tilts=(Tilt(id="front", rotors=("front_left", "front_right"), pivot_under_mm=46.0, pod_g=38.0, pod_over_mm=22.0,
                        drive=TiltDrive(torque_nmm=180.0, fed_v=5.0, s_per_60deg=0.14)),),
            stopped=("tail",), body_length_mm=420.0, body_width_mm=90.0, body_height_mm=80.0, gear_cm2=38.0, body_x_mm=-20.0,
        ),
    })  # fmt: skip
