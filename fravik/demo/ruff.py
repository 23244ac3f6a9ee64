"""Ruff: a made-up craft with four lifting rotors and a pusher on a foamed wing, that counts fence posts.

As its maker first had it: the lifting propellers stand across the stream in cruise, and the wing lies under them in hover. The scenario,
every mass and every price are invented for this demo.
"""

from __future__ import annotations

from fravik.kinds.newcraft import Wish, sized
from fravik.model.craft import Battery, Block, Motor, Propeller
from fravik.model.project import Project, Spool, Target
from fravik.model.wing import Flying, Pusher, WingShape

from .foamed import panel

LIFTING = ("front_left", "rear_left", "rear_right", "front_right")


def ruff() -> Project:
    """The craft as its maker left it."""
    base = sized(Wish("quad_x", motor_to_motor_mm=520.0, propeller_mm=229.0, payload_g=90.0, lift=4.0), "Ruff fence counter")
    c = base.components
    return base.model_copy(update={
        "brief": base.brief.model_copy(update={
            "purpose": "Rise from a field, fly along fences all morning and count their posts.", "pull_up_g": 2.5, "currency": "€",
            "loop_crossover_hz": 5.0,
        }),
        "targets": (
            Target(id="weight", metric="flying_mass_g", limit=2400.0), Target(id="stall", metric="stall_m_s", limit=11.0),
            Target(id="steady", metric="static_margin_pct", limit=6.0), Target(id="spar", metric="spar_reserve", limit=1.5),
            Target(id="hover", metric="wing_hover_throttle", limit=0.65), Target(id="corridor", metric="corridor_reserve_pct", limit=20.0),
            Target(id="cruise", metric="cruise_min", limit=60.0),
        ),
        "components": c.model_copy(update={
            "motor": Motor(name="Generic 28 mm, slow", price=27.0, mass_g=56.0, diameter_mm=33.0, height_mm=23.0, mount_circle_mm=19.0,
                           kv_rpm_per_v=770.0, resistance_mohm=85.0, no_load_a=0.7),
            "propeller": Propeller(price=5.0, diameter_mm=229.0, pitch_mm=102.0, mass_g=11.0, thrust_coefficient=0.105),
            "battery": Battery(price=70.0, cells=4, capacity_mah=6000.0, mass_g=520.0, length_mm=140.0, width_mm=48.0, height_mm=36.0,
                               x_mm=52.0, z_mm=60.0),
            "blocks": (
                *(b for b in c.blocks if b.id == "stack"),
                Block(id="camera", name="Counting camera", price=90.0, mass_g=80.0, length_mm=40, width_mm=40, height_mm=30, x_mm=62.0,
                    z_mm=-22.0,
                      view_deg=60.0, lens_up_deg=-45.0, power_w=3.0),
                Block(id="receiver", name="Receiver and positioning", price=55.0, finds_place=True, mass_g=24.0, length_mm=30, width_mm=30,
                      height_mm=12, x_mm=-60.0, z_mm=100.0, power_w=1.5, has_compass=True),
                Block(id="boom", name="Tail boom and servos", price=32.0, mass_g=85.0, length_mm=360, width_mm=14, height_mm=14,
                    x_mm=-240.0,
                      z_mm=66.0),
            ),
        }),
        "parts": (
            *base.parts,
            panel("inner", "Wing, inner", WingShape(
                length_mm=230.0, root_chord_mm=200.0, tip_chord_mm=195.0, x_mm=60.0, y_mm=60.0, z_mm=-26.0, incidence_deg=3.0,
                    thickness=0.13,
                camber=0.04, spar_mm=12.0, webs=4)),
            panel("outer", "Wing, outer", WingShape(
                on="inner", length_mm=230.0, root_chord_mm=195.0, tip_chord_mm=180.0, incidence_deg=0.0, dihedral_deg=2.0, thickness=0.13,
                camber=0.04, spar_mm=10.0, surface="aileron", surface_from=0.3, surface_to=0.95, webs=4)),
            panel("tip", "Wing, tip", WingShape(
                on="outer", length_mm=210.0, root_chord_mm=180.0, tip_chord_mm=140.0, incidence_deg=0.0, dihedral_deg=3.0, washout_deg=2.0,
                thickness=0.13, camber=0.04, spar_mm=8.0, webs=3)),
            panel("tail_plane", "Tail plane", WingShape(
                role="tail", length_mm=200.0, root_chord_mm=120.0, tip_chord_mm=100.0, x_mm=-400.0, z_mm=85.0, incidence_deg=-1.0,
                thickness=0.08, camber=0.0, surface="elevator", surface_share=0.35, surface_from=0.05, surface_to=0.95, spar_mm=0.0)),
            panel("fin", "Fin", WingShape(
                role="fin", hand="upright", length_mm=140.0, root_chord_mm=120.0, tip_chord_mm=80.0, x_mm=-400.0, z_mm=90.0,
                    incidence_deg=0.0,
                thickness=0.08, camber=0.0, surface="rudder", surface_share=0.4, surface_from=0.05, surface_to=0.95, spar_mm=0.0)),
        ),
        "spools": (*base.spools, Spool(id="foam_white", filament="pla_foam", grams_left=900.0, price_per_kg=45.0, colour="white",
        shade="light")),
        "tune": base.tune.model_copy(update={"house": "easy"}),
        "flying": Flying(
            pushers=(Pusher(x_mm=-110.0, z_mm=70.0, motor_g=58.0, diameter_mm=216.0, pitch_mm=152.0, propeller_g=13.0),), stopped=LIFTING,
            body_length_mm=360.0, body_width_mm=95.0, body_height_mm=85.0, gear_cm2=45.0,
        ),
    })  # fmt: skip
