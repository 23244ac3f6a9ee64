"""What Airframe says of a craft beyond its hover, in words: how it turns, stands, packs, and what stands in its air."""

from __future__ import annotations

import math

from fravik.engine.drivetrain import climbs_m_s
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.rotors import authority_rad_s2
from fravik.power.pack import supply

from .access import access
from .disks import rest_mm
from .drive import train_of
from .heat import warm
from .packed import sizes
from .shadow import shadows
from .standing import room_mm, stands
from .wind import held_m_s
from .wires import wires

# what each line means, where its name does not say so
ABOUT = {
    "Motors, hover and full": "The hottest winding: in long hover, and after 20 s of full throttle from it",
    "Pack, first to last": "Its voltage in hover, full and when it is time to land",
    "Top current": "All motors at full throttle on a full pack, and that over its charge",
    "Thrust, full to empty": "At full throttle, with a full pack and when it is time to land",
    "Climbs, full to empty": "Straight up at full throttle, at most: the body's drag is left out",
    "Roll, pitch, yaw": "The sharpest turn that can be begun from hover about each axis, with the others held",
    "Holds a wind of": "At most, level side on, by a bluff body's drag; the rotors' own drag is not counted",
    "Tips over on": "The slope on which it tips as it stands, and which way",
    "Propeller to ground": "As it stands, and in the brief's hard landing, legs and arms bent",
    "Blocked disk": "Of the rotor that loses most: the share of its disk with something in its air, and the share of its thrust that this "
                    "takes. Thrust and endurance are those of free disks",
    "Packs into": "The box round the craft, propellers off and arms folded that fold; whether folded arms clear each other is not judged",
    "Lean seen to": "How far off nearly all, and half of all, pilots see which way it leans, in clear air. Local rules come first",
    "Battery comes out": "The way with the least to take off; wires, straps and plugs are not counted",
    "Wires": "Of motors and pack, by length and current; count them in a component that is spread over the craft",
}  # fmt: skip
FLYING = (
    "Motors, hover and full", "Pack, first to last", "Top current", "Thrust, full to empty", "Climbs, full to empty",
    "Roll, pitch, yaw", "Holds a wind of", "Wires",
)  # fmt: skip


def figures(engine: Engine, result: Evaluation) -> dict[str, str]:
    """A line each; those of the flight only where it is judged."""
    out: dict[str, str] = {}
    flies = not result.scope.flight
    if flies:
        turning, (low, _, high) = authority_rad_s2(result), held_m_s(engine, result)
        out["Roll, pitch, yaw"] = " ".join(f"{v:.0f}" for v in turning.values()) + " rad/s²"
        out["Holds a wind of"] = f"{low:.0f}–{high:.0f} m/s"
        out["Wires"] = _wires(result)
        train = train_of(engine, result)
        hot, flown = train.hottest, train.flight
        out["Motors, hover and full"] = f"{hot.hover_c.typical:.0f}, {warm(hot.burst_c.typical)}"
        out["Pack, first to last"] = f"{flown.volts[0]:.1f}–{flown.volts[-1]:.1f} V" if len(flown.volts) else "gives nothing"
        out["Top current"] = f"{train.top_a:.0f} A, {train.top_a / (supply(result.project.components).capacity_mah * 1e-3):.0f} C"
        out["Climbs, full to empty"] = f"{climbs_m_s(result, train.full):.0f}–{climbs_m_s(result, train.empty):.0f} m/s"
        out["Thrust, full to empty"] = f"{train.full.thrust_to_weight:.1f}–{train.empty.thrust_to_weight:.1f} × weight"
    stance = stands(engine, result) if result.parts else None
    out["Tips over on"] = f"{stance.tips_at_deg:.0f}°, {stance.toward}" if stance is not None else "does not stand"
    rest, landing = rest_mm(engine, result), room_mm(engine, result)[0]
    out["Propeller to ground"] = f"{rest:.0f} mm, {landing:.0f} landing" if math.isfinite(rest) else "no propeller"
    worst = max(shadows(engine, result), key=lambda s: s.lost[1])
    out["Blocked disk"] = f"{worst.blocked:.0%}, takes {worst.lost[0] * 100:.0f}–{worst.lost[2]:.0%}"
    size = sizes(engine, result)
    if size is not None:
        out["Packs into"] = _edges(size.packed_mm) if size.folded_mm is None else f"{_edges(size.folded_mm)} folded"
        out["Lean seen to"] = f"{size.seen_m[0]:.0f}–{size.seen_m[1]:.0f} m"
    pack = next(a for a in access(engine, result) if a.thing == "battery")
    out["Battery comes out"] = pack.way if not pack.off else f"{pack.way}, {len(pack.off)} off first"
    return out


def _edges(edges_mm: tuple[float, float, float]) -> str:
    return " × ".join(f"{v:.0f}" for v in edges_mm) + " mm"


def _wires(result: Evaluation) -> str:
    every = wires(result)
    if not every:
        return "nothing feeds the motors"
    return f"{sum(w.mass_g for w in every):.0f} g, {every[0].section_mm2:g} mm² to a motor"
