"""One arm, leg, guard or mount as it is judged: every case of every copy, and the worst of all."""

from __future__ import annotations

from dataclasses import dataclass, field

from fravik.model.material import CORNERS, Corner
from fravik.printing.zones import Floats
from fravik.structure.cases import BreakPoint
from fravik.structure.failure import CaseReserves
from fravik.structure.loadcases import CRASH_CASES, AtPlace
from fravik.structure.member import Member, MemberAnswer
from fravik.structure.stressbasis import StressBasis


@dataclass(frozen=True)
class MemberResult:
    """One arm or leg at all corners of its material; reserves are typical unless said otherwise.

    ``cases``, ``combos`` and ``breaks`` are those of the copy that each case is worst for, which ``where`` names by its place; ``copies``
    are all of them by case and place. ``at_root`` is what acts on an arm as the plates take it: as hard as on any copy, motors turning
    one way.
    """

    part_id: str
    member: Member
    answers: dict[Corner, MemberAnswer]
    bases: dict[Corner, StressBasis]
    cases: dict[Corner, dict[str, CaseReserves]]
    breaks: dict[Corner, dict[str, BreakPoint]]
    tough: Floats
    combos: dict[Corner, dict[str, Floats]]
    where: dict[Corner, dict[str, str]]
    copies: dict[Corner, dict[AtPlace, CaseReserves]]
    breaks_at: dict[AtPlace, BreakPoint]
    at_root: dict[Corner, dict[str, Floats]] = field(default_factory=dict)

    def reserves(self, case: str, corner: Corner = "typical") -> CaseReserves:
        """Reserves in one case."""
        return self.cases[corner][case]

    @property
    def places(self) -> tuple[str, ...]:
        """The places of its copies."""
        return tuple(dict.fromkeys(place for _, place in self.copies["typical"]))

    def worst_static(self, corner: Corner = "typical", place: str | None = None) -> tuple[str, CaseReserves]:
        """The governing case of those that are not crashes; of one copy, or of all."""
        every = self.cases[corner] if place is None else {n: c for (n, at), c in self.copies[corner].items() if at == place}
        here = {n: c for n, c in every.items() if n not in CRASH_CASES}
        name = min(here, key=lambda n: here[n].reserve)
        return name, here[name]

    def worse_for(self, case: str) -> tuple[str, ...]:
        """The places for which a case is worst, where it is not alike for all."""
        each = {place: c.reserve for (n, place), c in self.copies["typical"].items() if n == case}
        least = min(each.values(), default=0.0)
        worst = tuple(place for place, r in each.items() if r <= least * (1 + ALIKE))
        return worst if len(worst) < len(each) else ()

    def mode_table(self) -> list[tuple[str, float, float, float]]:
        """(name, typical, low, high) of every mode."""
        low, typ, high = (self.answers[c] for c in CORNERS)
        return [
            (typ.mode_names[i], float(typ.freqs_hz[i]), float(low.freqs_hz[i]), float(high.freqs_hz[i])) for i in range(len(typ.freqs_hz))
        ]


ALIKE = 0.02  # copies that differ by less are told as one


def member_result(
    part_id: str, member: Member, answers: dict[Corner, MemberAnswer], bases: dict[Corner, StressBasis],
    found: dict[Corner, dict[AtPlace, CaseReserves]], breaks: dict[Corner, dict[AtPlace, BreakPoint]], tough: Floats,
    combos: dict[Corner, dict[AtPlace, Floats]], same: dict[AtPlace, AtPlace],
) -> MemberResult:  # fmt: skip
    """``found``, ``breaks`` and ``combos`` hold what is unlike, once; ``same`` says which of them each copy's case is."""
    worst: dict[Corner, dict[str, AtPlace]] = {}
    weakest: dict[Corner, dict[str, AtPlace]] = {}
    for corner in CORNERS:
        least, slowest = worst.setdefault(corner, {}), weakest.setdefault(corner, {})
        for key, c in found[corner].items():
            case = key[0]
            if case not in least or c.reserve < found[corner][least[case]].reserve:
                least[case] = key
        for key, b in breaks[corner].items():
            case = key[0]
            if case not in slowest or b.speed_m_s < breaks[corner][slowest[case]].speed_m_s:
                slowest[case] = key
        least |= slowest  # a crash is worst where it is survived at the lowest speed
    return MemberResult(
        part_id, member, answers, bases,
        {c: {n: found[c][key] for n, key in worst[c].items()} for c in CORNERS},
        {c: {n: breaks[c][key] for n, key in weakest[c].items()} for c in CORNERS},
        tough,
        {c: {n: combos[c][key] for n, key in worst[c].items()} for c in CORNERS},
        {c: {n: key[1] for n, key in worst[c].items()} for c in CORNERS},
        {c: {at: found[c][key] for at, key in same.items()} for c in CORNERS},
        {at: breaks["typical"][key] for at, key in same.items() if key in breaks["typical"]},
    )  # fmt: skip
