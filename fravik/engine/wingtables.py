"""Wing, tilt and transition as data and as text."""

from __future__ import annotations

import math
from typing import Any

from .evaluate import Engine
from .results import Evaluation
from .tilting import TiltSight
from .transition import TransitionSight, point_rows, transition_sight, way_rows
from .wing import WingSight, wing_sight


def aloft_data(engine: Engine, result: Evaluation) -> dict[str, Any]:
    """``wing``, ``tilt`` and ``transition``, each where the craft has it."""
    from fravik.kinds.wing.geometry import goes_over

    out: dict[str, Any] = {}
    if not goes_over(result.project):
        return out
    w = wing_sight(engine.memo, result)
    if w is not None:
        out["wing"] = wing_data(w)
    s = transition_sight(engine, result)
    if s is not None:
        out["tilt"] = tilt_data(s)
        out["transition"] = transition_data(s)
    return out


def _number(value: float) -> float | None:
    """None for what is not known or without end."""
    return value if math.isfinite(value) else None


def wing_data(w: WingSight) -> dict[str, Any]:
    """The wing."""
    a, s = w.alone, w.spar
    least, at_mm, part_id, kind = s.least
    return {
        "area_dm2": 100 * a.area_m2, "span_mm": 1e3 * a.span_m, "mean_chord_mm": 1e3 * a.chord_m, "aspect_ratio": a.aspect,
        "stall_m_s": a.stall_m_s, "stall_deg": math.degrees(a.stall_rad), "static_margin_pct": w.static_margin_pct,
        "neutral_point_mm": 1e3 * a.neutral_m, "best_glide": a.glide, "best_glide_m_s": a.glide_m_s, "cruise_m_s": a.cruise_m_s,
        "cruise_w": _number(a.cruise_w), "cruise_min": _number(w.cruise_min), "range_km": _number(w.range_km), "hover_w": w.hover_w,
        "spar_reserve": {"low": least.low, "typical": least.typical, "high": least.high, "at_mm": at_mm, "part": part_id, "kind": kind},
        "load_g": s.load_g, "gust_g": s.gust_g, "tip_deflection_mm": s.tip_mm, "tip_twist_deg": s.twist_deg,
        "divergence_m_s": _number(s.divergence_m_s), "reversal_m_s": _number(s.reversal_m_s), "flutter_caution_m_s": _number(s.flutter_m_s),
        "bending_hz": s.swings_hz[0].tolist(), "twist_hz": s.swings_hz[1].tolist(),
        "folds": [{"part": f.part.id, "moment_nmm": f.moment_nmm, "force_n": f.force_n, "holds_n": f.holds_n, "share": f.share,
                   "tip_play_mm": f.play_mm} for f in w.folds],
        "joints": [{"part": j.part.id, "on": j.on.id if j.on is not None else None, "verdict": j.verdict,
                    "ways": [{"way": x.way, "use": x.use, "words": x.words} for x in j.ways]} for j in w.joints],
        "hinges": [{"part": h.part.id, "torque_nmm": h.torque_nmm, "share": h.share, "use": h.use, "verdict": h.verdict,
                    "turns": list(h.turns) if h.turns is not None else None, "words": h.words} for h in w.hinges],
    }  # fmt: skip


def tilt_row(t: TiltSight) -> dict[str, Any]:
    """One tilt."""
    return {
        "id": t.tilt.id, "rotors": list(t.tilt.rotors), "angle_deg": t.angle_deg.tolist(), "torque_nmm": t.torque_nmm.tolist(),
        "most_nmm": t.most_nmm, "has_nmm": t.has_nmm, "servo_share": t.share, "seconds": t.seconds, "amps": t.amps,
        "gyroscopic_nmm": t.gyro_nmm, "holds_itself": t.holds, "tooth_reserve": t.tooth_reserve,
        "times_over_and_back_till_worn": list(t.flights) if t.flights is not None else None,
    }  # fmt: skip


def tilt_data(s: TransitionSight) -> dict[str, Any]:
    """Mass centre over the way, and every tilt."""
    unit, whole = s.unit
    n = len(s.com_mm)
    return {
        "unit": unit, "mass_centre_mm": [{"over": whole * k / (n - 1), "x_mm": float(c[0]), "z_mm": float(c[1])} for k,
        c in enumerate(s.com_mm)],
        "travel_mm": s.travel_mm, "drives": [tilt_row(t) for t in s.tilts],
    }  # fmt: skip


def transition_data(s: TransitionSight) -> dict[str, Any]:
    """Corridor, ways, hover."""
    h = s.hover
    hover = None if h is None else {
        "throttle": h.throttle, "power_w": h.power_w, "without_wing_w": h.bare_w, "download": h.download, "wind_m_s": h.wind_m_s,
        "lean_deg": _number(math.degrees(h.lean_rad)), "most_wind_m_s": h.most_wind_m_s,
        "quarter_turn_s": {k: _number(v) for k, v in h.turn_s.items()}, "quarter_turn_all_s": _number(h.both_s),
    }  # fmt: skip
    return {
        "cruise_m_s": s.cruise_m_s, "reserve_pct": s.reserve_pct[1], "corridor": point_rows(s), "out": way_rows(s.out),
        "back": way_rows(s.back),
        "energy_wh": s.energy_wh, "hover": hover,
    }  # fmt: skip
