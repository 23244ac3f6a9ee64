"""The wind in which it is carried away."""

from __future__ import annotations

from collections.abc import Iterable

from manifold3d import CrossSection, Manifold, OpType

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.wind import DRAG, wind_held_m_s
from fravik.kinds.drives import drives
from fravik.power.momentum import GRAVITY_M_S2
from fravik.study.findings import Finding

from .bodies import copies, placed, things

WEAK_M_S, FRESH_M_S = 8.0, 12.0
TURNS = ((0.0, 90.0, 0.0), (90.0, 0.0, 0.0))  # what lies ahead, and what lies to the side, turned upward


def areas_mm2(engine: Engine, result: Evaluation) -> tuple[float, float]:
    """What the wind meets from ahead and from the side: the outline of all parts and bought things; propellers let it through."""
    every = copies(result)
    bought = things(result)
    key = (tuple(c.key for c in every), tuple(t.key for t in bought))

    def make() -> tuple[float, float]:
        bodies: list[Manifold] = [*(placed(engine, c) for c in every), *(t.body for t in bought)]
        ahead, side = (CrossSection.batch_boolean([b.rotate(turn).project() for b in bodies], OpType.Add).area() if bodies else 0.0
                       for turn in TURNS)  # fmt: skip
        return float(ahead), float(side)

    return engine.memo.get("wind areas", key, make)


def held_m_s(engine: Engine, result: Evaluation) -> tuple[float, float, float]:
    """The strongest wind that it holds, from the side where it meets most: with the most, the usual and the least drag."""
    p, own = result.power, drives(result.project)
    area = max(areas_mm2(engine, result))
    # the slowest of the screws stops pushing first
    screw = min(d.propeller.pitch_mm * 1e-3 * r.full_rpm / 60 for d, r in zip(own, p.rotors, strict=True))
    weight = result.craft.mass_g * 1e-3 * GRAVITY_M_S2
    low, usual, high = (wind_held_m_s(weight, p.all_thrust_n, area, screw, c) for c in reversed(DRAG))
    return low, usual, high


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the flight is not judged."""
    if result.scope.flight or not result.parts:
        return
    low, usual, high = held_m_s(engine, result)
    if usual >= FRESH_M_S:
        return
    area = max(areas_mm2(engine, result)) * 1e-2
    yield Finding(
        "wind.carried", "likely" if usual < WEAK_M_S else "worth knowing", "Airframe", "components.propeller.pitch_mm", "The craft",
        f"A wind of {usual:.0f} m/s carries it away." if usual > 0 else "The least wind carries it away.",
        f"{low:.0f} to {high:.0f} m/s by its drag: {area:.0f} cm² face the wind, and thrust is {result.power.thrust_to_weight:.1f} times "
        "its weight. Gusts are half as strong again.", "More thrust, more pitch, less area; or fly on calm days.",
    )  # fmt: skip
