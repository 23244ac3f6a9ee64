"""Whimbrel: a made-up tail-sitter with four rotors and a wing in three panels on tubes, whose outer panels fold for the car, that maps
mudflats.

As its maker first had it: elevons outside of the rotors' wash, a fold that one small latch holds. The scenario, every mass and every price
are invented for this demo.
"""

from __future__ import annotations

from fravik.kinds.newcraft import Wish, sized
from fravik.model.craft import Battery, Block, Motor, Propeller
from fravik.model.project import Project, Spool, Target
from fravik.model.wing import Flying, WingShape

from .foamed import FOAM, panel

SHELL = FOAM.model_copy(update={"line_width_mm": 0.55})


def whimbrel() -> Project:
    """The craft as its maker left it."""
    base = sized(Wish("quad_x", motor_to_motor_mm=440.0, propeller_mm=203.0, payload_g=110.0, lift=4.0), "Whimbrel mudflat mapper")
    c = base.components
    return base.model_copy(update={
        "brief": base.brief.model_copy(update={
            "purpose": "Stand on its tail on a sea wall, rise, lie over and map mudflats at low tide; the wing folds for the car.",
            "pull_up_g": 2.5, "currency": "€", "loop_crossover_hz": 5.0,
        }),
        "targets": (
            Target(id="weight", metric="flying_mass_g", limit=1900.0), Target(id="stall", metric="stall_m_s", limit=11.0),
            Target(id="steady", metric="static_margin_pct", limit=5.0), Target(id="spar", metric="spar_reserve", limit=1.5),
            Target(id="hover", metric="wing_hover_throttle", limit=0.65), Target(id="corridor", metric="corridor_reserve_pct", limit=15.0),
            Target(id="cruise", metric="cruise_min", limit=30.0),
        ),
        "components": c.model_copy(update={
            "motor": Motor(name="Generic 25 mm", price=24.0, mass_g=44.0, diameter_mm=29.0, height_mm=22.0, mount_circle_mm=19.0,
                           kv_rpm_per_v=900.0, resistance_mohm=90.0, no_load_a=0.7),
            "propeller": Propeller(price=5.0, diameter_mm=203.0, pitch_mm=114.0, mass_g=9.0, thrust_coefficient=0.108),
            "battery": Battery(price=58.0, cells=4, capacity_mah=4800.0, mass_g=410.0, length_mm=130.0, width_mm=43.0, height_mm=32.0,
                               x_mm=8.0, z_mm=-40.0),
            "blocks": (
                *(b for b in c.blocks if b.id == "stack"),
                Block(id="camera", name="Mapping camera", price=120.0, mass_g=95.0, length_mm=40, width_mm=40, height_mm=35, z_mm=44.0,
                    x_mm=62.0,
                      view_deg=60.0, lens_up_deg=0.0, power_w=3.0),
                Block(id="receiver", name="Receiver and positioning", price=55.0, finds_place=True, mass_g=24.0, length_mm=30, width_mm=30,
                      height_mm=12, x_mm=-35.0, z_mm=66.0, power_w=1.5, has_compass=True),
            ),
        }),
        "parts": (
            *(p for p in base.parts if p.shape.kind != "leg"),
            panel("middle", "Wing, middle", recipe=SHELL, shape=WingShape(
                hand="across", length_mm=235.0, root_chord_mm=200.0, tip_chord_mm=200.0, x_mm=25.0, z_mm=82.0, incidence_deg=0.0,
                thickness=0.14, camber=0.0, spar_mm=12.0, spar_at=0.28, rear_spar_mm=0.0, webs=4)),
            panel("outer", "Wing, outer", recipe=SHELL, shape=WingShape(
                on="middle", length_mm=235.0, root_chord_mm=200.0, tip_chord_mm=170.0, sweep_mm=20.0, incidence_deg=0.0, thickness=0.14,
                camber=0.0, spar_mm=10.0, spar_at=0.28, folds=True, fold_pin_mm=3.0, fold_lug_mm=6.0, fold_arm_mm=14.0, fold_force_n=40.0,
                fold_play_mm=0.2, webs=4)),
            panel("tip", "Wing, tip", recipe=SHELL, shape=WingShape(
                on="outer", length_mm=180.0, root_chord_mm=170.0, tip_chord_mm=130.0, sweep_mm=35.0, incidence_deg=0.0, washout_deg=2.0,
                thickness=0.14, camber=0.0, spar_mm=8.0, spar_at=0.28, surface="elevon", surface_share=0.28, surface_from=0.05,
                surface_to=0.95, webs=3)),
        ),
        "spools": (*base.spools, Spool(id="foam_white", filament="pla_foam", grams_left=900.0, price_per_kg=45.0, colour="white",
        shade="light")),
        "tune": base.tune.model_copy(update={"house": "easy"}),
        "flying": Flying(sits="tail", body_length_mm=200.0, body_width_mm=95.0, body_height_mm=110.0, gear_cm2=30.0, cruise_m_s=15.0,
        gain_m_s2=3.0),
    })  # fmt: skip
