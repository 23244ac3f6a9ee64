"""What will go wrong with printed propellers: those that fly on the craft.

Thresholds: a motor that reaches more than a weak print holds is grave, more than is allowed likely; a hub that slips under twice the
motor's torque is likely; a blade that rings within NEAR of the turns in hover is likely, of twice them worth knowing.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.kinds.printedblades import drawn, printed_on
from fravik.study.findings import Cure, Finding, Weight

if TYPE_CHECKING:
    from fravik.engine.propeller import PropellerSight

NEAR, STALLED, DROOPS = 0.1, 0.25, 0.02


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the bought ones fly."""
    flies = {p.id: p for p in printed_on(result.project).values()}
    if not flies:
        return
    from fravik.engine.propeller import sight_of  # compiled code loads only for crafts that fly such a one

    for part in flies.values():
        try:
            sight = sight_of(engine, result.project, part.id)
        except Refused:
            continue  # said at its field
        yield from _of(sight)


def _told(
    s: PropellerSight, kind: str, weight: Weight, field: str, what: str, why: str, advice: str, cures: tuple[Cure, ...] = ()
) -> Finding:
    at = f"parts.{s.part.id}.shape" + (f".{field}" if field else "")
    return Finding(f"blade.{kind}:{s.part.id}", weight, "Propeller", at, s.part.name, what, why, advice, cures, "propeller")


def _of(s: PropellerSight) -> Iterable[Finding]:
    from fravik.engine.propeller import may_it_spin

    spin, why = may_it_spin(s)
    if s.verdict != "holds":
        fails = s.verdict == "fails"
        what = "It throws its blades at full throttle." if fails else "Little is left before it throws its blades."
        advice = f"Do not spin it above {s.lets_go.allowed:.0f} rpm; stand aside of its disk, never in it."
        yield _told(s, "spin", "grave" if fails else "likely", "", what, f"{spin} {why}", advice, _sturdier(s))
    yield from _hub(s)
    orders: tuple[tuple[int, Weight], ...] = ((1, "likely"), (2, "worth knowing"))
    for order, weight in orders:
        if abs(float(s.hz[0]) - order * s.rev_hz) < NEAR * order * s.rev_hz:
            why = f"They ring at {s.hz[0]:.0f} Hz as they spin, and it turns {s.rev_hz:.0f} times a second."
            advice = "A thicker or shorter blade rings higher, a softer one lower."
            yield _told(s, "rings", weight, "", f"Its blades ring with {order}/rev in hover.", why, advice)
            break
    if s.stalled > STALLED:
        why = f"{s.stalled:.0%} of the lifting blade is stalled."
        yield _told(s, "stall", "likely", "pitch_mm", "Its pitch is too coarse: it stalls in hover.", why, "Less pitch, or more chord.")
    if s.hub_softens:
        f = s.spun.part.filament
        why = f"On its motor it gets {s.hub_c:.0f} °C warm, and {f.name} softens at {f.glass_transition_c:.0f}."
        yield _told(
            s, "soft", "likely", "", "Its hub goes soft on the warm motor.", why, "A filament that stands more heat, or a cooler motor."
        )
    if s.droop_mm > DROOPS * drawn(s.part).radius_mm:
        why = f"Left flat in the brief's heat for a thousand hours its tips sink by {s.droop_mm:.1f} mm."
        yield _told(
            s, "droops", "worth knowing", "", "It droops where it lies.", why, "Keep it cool and on its edge; a light colour in the sun."
        )
    if s.gives_way:
        why = f"At full throttle it turns by {s.lets_go.untwist_deg:.0f}°."
        what = "It untwists as it spins: it lifts less than is told."
        yield _told(s, "untwists", "likely", "", what, why, "A stiffer filament, or a thicker blade.")


def _hub(s: PropellerSight) -> Iterable[Finding]:
    g = s.grip
    if g.warm_nmm is not None and g.warm_nmm.low < s.wanted_nmm:
        why = (f"The {g.by} holds {g.warm_nmm.low:.0f} to {g.warm_nmm.high:.0f} N mm after a month in service; the motor jerks with "
               f"{s.wanted_nmm:.0f}.")  # fmt: skip
        weight: Weight = "likely" if g.warm_nmm.typical < s.wanted_nmm else "worth knowing"
        yield _told(s, "slips", weight, "bore_mm", "Its hub slips on the shaft.", why, "A longer hub, a tighter fit, a flat or a hexagon.")
    if g.warm_nmm is None:
        advice = "Tighten the nut against a washer as wide as the hub."
        yield _told(s, "loose", "worth knowing", "bore_mm", "Whether its hub holds on the shaft is not known.", g.unknown, advice)
    if g.hoop is not None and g.hoop < 1:
        why = f"Round the hole it is pulled {1 / g.hoop:.1f} times as hard as it may be."
        what = "Its hub splits as it is pressed on."
        yield _told(s, "splits", "grave", "hub_diameter_mm", what, why, "A wider hub, or less interference.")


def _sturdier(s: PropellerSight) -> tuple[Cure, ...]:
    """Another way to lie, a thicker root, or the bought one back."""
    at, shape = f"parts.{s.part.id}.", drawn(s.part)
    return (
        Cure("Printed on its edge", ((at + "recipe.lies", "on_side"),)),
        Cure("Its root half as thick again", ((at + "shape.root_swell", min(shape.root_swell + 0.5, 3.0)),)),
        Cure("The bought propeller flies", ((at + "shape.in_use", False),)),
    )
