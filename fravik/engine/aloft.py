"""What targets ask of a craft that flies on a wing. Only crafts that have such targets load what works it out."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from fravik.model.project import Metric

from .budget import Found
from .memo import Memo
from .results import Evaluation

if TYPE_CHECKING:
    from .evaluate import Engine
    from .transition import TransitionSight

WING: tuple[Metric, ...] = ("stall_m_s", "static_margin_pct", "spar_reserve", "cruise_min")
OVER: tuple[Metric, ...] = ("wing_hover_throttle", "com_travel_mm", "tilt_share")
CORRIDOR: Metric = "corridor_reserve_pct"
ALOFT: tuple[Metric, ...] = (*WING, *OVER, CORRIDOR)
# how far figures may lie off: sections at low Reynolds numbers, a printed surface, a guessed body; working assumptions
STALL_SPREAD, MARGIN_POINTS, CRUISE_SPREAD, TORQUE_SPREAD = 0.06, 3.0, 0.2, 0.15
WAITS = "worked out once edits pause, or in Transition"


def aloft(memo: Memo, result: Evaluation) -> dict[Metric, Found]:
    """Every one of ``ALOFT``; what the craft has not stays unknown, and says so."""
    from fravik.kinds.wing.geometry import goes_over, has_wing

    out: dict[Metric, Found] = dict.fromkeys(WING, (None, "the craft has no wing"))
    out |= dict.fromkeys((*OVER, CORRIDOR), (None, "nothing goes over"))
    if not goes_over(result.project):
        return out
    try:
        if has_wing(result.project):
            out |= _wing(memo, result)
        out |= _over(memo, result)
    except ValueError as err:
        return {m: (None, str(err)) for m in ALOFT}
    return out


def _wing(memo: Memo, result: Evaluation) -> dict[Metric, Found]:
    from .wing import wing_sight

    w = wing_sight(memo, result)
    if w is None:
        return {}
    a, (least, at_mm, part_id, kind) = w.alone, w.spar.least
    out: dict[Metric, Found] = {
        "stall_m_s": (_around(a.stall_m_s, STALL_SPREAD), f"{a.area_m2 * 100:.1f} dm², {math.degrees(a.stall_rad):.0f}° of attack"),
        "static_margin_pct": ((w.static_margin_pct - MARGIN_POINTS, w.static_margin_pct, w.static_margin_pct + MARGIN_POINTS), ""),
        "spar_reserve": (
            (least.low, least.typical, least.high),
            f"{result.project.part(part_id).name.lower()}, {at_mm:.0f} mm out: {kind}",
        ),
    }
    if a.cruise_w > 0:
        out["cruise_min"] = _around(w.cruise_min, CRUISE_SPREAD), f"at {a.cruise_m_s:.1f} m/s"
    else:
        out["cruise_min"] = None, f"it does not fly level at {a.cruise_m_s:.1f} m/s: see Wing"
    return out


def _over(memo: Memo, result: Evaluation) -> dict[Metric, Found]:
    import numpy as np

    from .hovering import throttle_in_hover
    from .tilting import tilts_of
    from .wing import flyer

    f = flyer(memo, result)
    key = (result.project, f.mass_kg, f.com_m.tobytes())
    throttle = memo.get("hover throttle", key, lambda: throttle_in_hover(f))
    travel = 1e3 * float(np.ptp(f.com_m[:, 0]))
    out: dict[Metric, Found] = {"com_travel_mm": ((travel, travel, travel), ""), CORRIDOR: (None, WAITS)}
    out["wing_hover_throttle"] = (throttle, "") if throttle is not None else (None, "it does not hover in balance")
    tilts = tilts_of(result)
    if tilts:
        worst = max(tilts, key=lambda t: t.share)
        out["tilt_share"] = _around(worst.share, TORQUE_SPREAD), worst.tilt.id.replace("_", " ")
    else:
        out["tilt_share"] = None, "nothing tilts"
    return out


def answered_aloft(engine: Engine, result: Evaluation) -> Evaluation:
    """With the corridor's target answered, which takes seconds."""
    from .evaluate import with_found
    from .transition import transition_sight

    try:
        s = transition_sight(engine, result)
    except ValueError as err:
        return with_found(result, {CORRIDOR: (None, str(err))})
    return with_found(result, {CORRIDOR: corridor_found(s)}) if s is not None else result


def corridor_found(s: TransitionSight) -> Found:
    """The corridor's target, once the way is known."""
    least = min((s.out, s.back), key=lambda w: w.reserve)
    which = "out" if least is s.out else "back"
    if least.way.breaks is not None:
        return s.reserve_pct, f"on the way {which} nothing balances from {least.way.breaks[0]:.1f} to {least.way.breaks[1]:.1f} m/s"
    return s.reserve_pct, f"on the way {which}, at {least.way.least[1]:.1f} m/s"


def _around(value: float, share: float) -> tuple[float, float, float]:
    return value * (1 - share), value, value * (1 + share)
