"""A printed propeller as data and as text, for scripts and for the sheet."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

import numpy as np

from .onshaft import Grip
from .propeller import CAUTION, PropellerSight, may_it_spin

POSITIONS, ONE_ROAD = 12, 1.4


def propeller_data(s: PropellerSight) -> dict[str, Any]:
    """Geometry by position, thrust and power over speed, safe speeds with what governs, grip, balance, and the craft with and without."""
    blade, g, c = s.blade, s.lets_go, s.curves
    rows = np.linspace(float(blade.radius_mm[0]), float(blade.radius_mm[-1]), POSITIONS)
    there = blade.at(rows)
    spin, why = may_it_spin(s)
    return {
        "part": s.part.id, "name": s.part.name, "grams": s.grams,
        "geometry": [
            {"radius_mm": float(r), "chord_mm": float(a), "angle_deg": math.degrees(float(b)), "thickness_mm": float(t)}
            for r, a, b, t in zip(rows, there.chord_mm, there.angle_rad, there.thickness_mm, strict=True)
        ],
        "standing": [
            {"rpm": float(n), "thrust_n": float(t), "thrust_low_n": float(low), "thrust_high_n": float(high), "power_w": float(p),
             "torque_nmm": float(p / (n * 2 * math.pi / 60) * 1e3), "figure_of_merit": float(m), "bought_thrust_n": float(bt),
             "bought_power_w": float(bp)}
            for n, low, t, high, p, m, bt, bp in zip(
                c.rpm, *c.thrust_n, c.power_w[1], c.merit, c.bought_thrust_n, c.bought_power_w, strict=True
            )
        ],
        "drag_factor": s.rough._asdict(),
        "in_flight": [
            {"m_s": float(v), "thrust_hover_n": float(a), "thrust_most_n": float(b), "efficiency_most": float(e)}
            for v, a, b, e in zip(s.in_flight.speed_m_s, *s.in_flight.thrust_n, s.in_flight.efficiency[1], strict=True)
        ],
        "to_stall_deg": [math.degrees(float(a)) for a in s.at_hover.to_stall_rad[0]],
        "craft": [asdict(s.printed), asdict(s.bought)],
        "spin": {
            "verdict": s.verdict, "words": spin, "why": why, "motor_reaches_rpm": s.printed.most_rpm,
            "lets_go_rpm": {"low": g.rpm[0], "typical": g.rpm[1], "high": g.rpm[2], "looked_to": g.looked_to},
            "governs": g.kind, "position_mm": g.position_mm, "spin_alone_rpm": g.spin_alone_rpm, "allowed_rpm": g.allowed,
            "proof_rpm": s.proof_rpm, "reserve_at_most": g.at.reserve, "untwist_deg": g.untwist_deg, "tip_mach": s.tip_mach,
        },
        "struck": {"holds_n": s.struck.holds_n._asdict(), "stick_rpm": s.struck.stick_rpm._asdict(), "grass": s.struck.grass},
        "rings_hz": [float(f) for f in s.hz], "turns_hz": s.rev_hz, "stalled_in_hover": s.stalled, "lag_deg": s.lag_deg,
        "droop_mm": s.droop_mm, "hub_c": s.hub_c,
        "grip": {"by": s.grip.by, "room_nmm": _band(s.grip, "room_nmm"), "warm_nmm": _band(s.grip, "warm_nmm"), "wanted_nmm": s.wanted_nmm,
                 "hoop": s.grip.hoop, "unknown": s.grip.unknown},
        "balance": asdict(s.balance), "caution": CAUTION,
    }  # fmt: skip


def section_words(s: PropellerSight, at_mm: float, reserve: float) -> str:
    """What a section is printed of."""
    shape, recipe = s.spun.shape, s.part.recipe
    layers = float(np.interp(at_mm, s.blade.radius_mm, s.blade.thickness_mm)) / recipe.layer_height_mm
    edge = "one road" if shape.edge_mm <= ONE_ROAD * recipe.line_width_mm else "two roads"
    return (f"{layers:.0f} layers of {recipe.layer_height_mm:g} mm; trailing edge {shape.edge_mm:g} mm, {edge}. Steps of its face: drag "
            f"+{s.rough.typical - 1:.0%}. Reserve at the motor's most {reserve:.2f}.")  # fmt: skip


def _band(grip: Grip, name: str) -> dict[str, float] | None:
    of = getattr(grip, name)
    return None if of is None else {"low": of.low, "typical": of.typical, "high": of.high}


def propeller_text(s: PropellerSight) -> str:
    """The same in lines to read."""
    spin, why = may_it_spin(s)
    p, b, g = s.printed, s.bought, s.grip
    holds = f"{g.warm_nmm.low:.0f} to {g.warm_nmm.high:.0f} N mm by its {g.by}" if g.warm_nmm is not None else f"not known: {g.unknown}"
    rows = [(name, shape.format(own), shape.format(other)) for name, shape, own, other in (
        ("hover", "{:.0f} rpm", p.hover_rpm, b.hover_rpm), ("throttle", "{:.0%}", p.hover_throttle, b.hover_throttle),
        ("endurance", "{:.1f} min", p.endurance_min, b.endurance_min), ("winding", "{:.0f} °C", p.winding_c, b.winding_c),
        ("thrust to weight", "{:.1f}", p.thrust_to_weight, b.thrust_to_weight),
    )]  # fmt: skip
    allowed, proof, bal = s.lets_go.allowed, s.proof_rpm, s.balance
    comes = "Measured" if bal.measured else "As printed"
    out = [
        f"{s.part.name}: {s.grams:.1f} g", spin, why, f"Do not spin above {allowed:.0f} rpm; first at {proof:.0f} behind a shield.",
        f"{'':18}{'this one':>12}{'bought':>12}", *(f"{name:18}{own:>12}{other:>12}" for name, own, other in rows),
        f"Rings at {s.hz[0]:.0f} Hz in hover, turns {s.rev_hz:.0f} times a second.",
        f"Holds on its shaft: {holds}; wanted {s.wanted_nmm:.0f}.",
        f"{comes} {bal.gmm:.1f} g mm out of balance: sand off {bal.sand_g:.2f} g at {bal.sand_at_mm:.0f} mm.", CAUTION,
    ]  # fmt: skip
    return "\n".join(line for line in out if line)
