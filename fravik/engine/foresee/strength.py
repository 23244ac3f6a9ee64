"""Parts that break in flight, on landing or in the hand, whether or not a target asks for their reserve."""

from __future__ import annotations

from collections.abc import Iterable

from fravik.engine.copies import worst_copies
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, MemberResult, PlateResult
from fravik.kinds.framing import owner_of
from fravik.model.material import Corner
from fravik.structure.loadcases import CRASH_CASES, FLIGHT_CASES, case_name
from fravik.study.findings import Finding


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Parts with a reserve under 1: sure to break, or perhaps, over the spread of the material. What is sure to break in flight is grave;
    what breaks on the ground, or in a case of the maker's own, is likely."""
    judged: dict[str, MemberResult | PlateResult] = {**result.members, **result.plates}
    for part_id, answer in judged.items():
        flight, ground = (_worst(answer, "low", in_flight) for in_flight in (True, False))
        case, low = flight if flight[1] < 1.0 else ground
        if low >= 1.0:
            continue
        usual = answer.cases["typical"][case].reserve
        sure, on = usual < 1.0, worst_copies(result, part_id, case)
        yield Finding(
            f"strength:{part_id}", "grave" if sure and case in FLIGHT_CASES else "likely", "Parts", f"parts.{owner_of(part_id)}.shape",
            result.pieces[part_id].part.name,
            f"It breaks {'' if sure else 'perhaps '}in {case_name(case, result.project.brief.own_cases).lower()}.",
            f"Strength over stress is {usual:.2f}, and {low:.2f} with the weakest of its plastic{f', worst on {on}' if on else ''}.",
            "Look at the ways out in Parts.",
        )  # fmt: skip


def _worst(answer: MemberResult | PlateResult, corner: Corner, in_flight: bool) -> tuple[str, float]:
    here = {n: c.reserve for n, c in answer.cases[corner].items() if n not in CRASH_CASES and (n in FLIGHT_CASES) == in_flight}
    return min(here.items(), key=lambda pair: pair[1], default=("", float("inf")))
