"""What one evaluation of a project holds."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

import numpy as np

from fravik.flight.allocation import Allocation
from fravik.flight.mass import Clearances
from fravik.kinds.framing import owner_of
from fravik.model.material import CORNERS, Corner, Filament
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.power.momentum import PowerFigures
from fravik.printing.mass import MassProperties
from fravik.printing.roads import PrintFigures
from fravik.printing.zones import Floats, ZoneField
from fravik.shape.build import ShapeInput
from fravik.structure.bonded import Bonded
from fravik.structure.cases import BreakPoint
from fravik.structure.craft.assemble import Craft
from fravik.structure.craft.free import FreeModes
from fravik.structure.craft.naming import ModeName
from fravik.structure.excitation import WAYS, Meeting, ModeBand, Ringing, Way
from fravik.structure.failure import CaseReserves
from fravik.structure.faults import StructureFault
from fravik.structure.impact import speed_from_height_m_s
from fravik.structure.loadcases import CRASH_CASES
from fravik.structure.plate import PlateAnswer
from fravik.structure.rows import RowTables
from fravik.structure.service import Service
from fravik.study.margins import Margin, Scores, Verdict, judge

from .memberresult import MemberResult
from .scope import Scope
from .shake import Shake

# A mode shakes what moves with at least this share of its kinetic energy. Met head on, a rotor with a share s shakes s over the loss factor
# times as much as the same push shakes a motor that nothing holds: four times, at this share and a loss factor of 0.02.
SHAKES = 0.08
T = TypeVar("T")


@dataclass(frozen=True)
class PartResult:
    """One part as it is made. Grams and minutes are of one copy; ``printed`` says whether a printer makes it."""

    part: Part
    given: ShapeInput
    field: ZoneField
    mass: MassProperties
    figures: PrintFigures
    bonded: Bonded
    cost: float
    bed_problem: str | None
    filament: Filament
    service: Service
    printed: bool = True

    @property
    def grams(self) -> float:
        """Printed plastic, carbon and glue of one copy."""
        return self.mass.mass_g + self.bonded.grams


@dataclass(frozen=True)
class PlateResult:
    """One plate at all corners, of the body or (without a ``body_key``) on standoffs: reserves by place along it.
    ``ei_nmm2`` is of the whole width at each."""

    part_id: str
    tables: RowTables
    answer: PlateAnswer
    positions_mm: Floats
    ei_nmm2: Floats
    cases: dict[Corner, dict[str, CaseReserves]]
    breaks: dict[Corner, dict[str, BreakPoint]]
    tough: Floats
    body_key: Any

    def worst_static(self, corner: Corner = "typical") -> tuple[str, CaseReserves]:
        """The governing case of those that are not crashes."""
        here = {n: c for n, c in self.cases[corner].items() if n not in CRASH_CASES}
        name = min(here, key=lambda n: here[n].reserve)
        return name, here[name]


@dataclass(frozen=True, eq=False)
class CraftMode:
    """One elastic mode of the free craft, and the part that bends most in it.

    Shares of its kinetic energy: ``sideways`` and ``along`` the shaft, in the rotor whose hub moves most that way; ``gyro``, what the whole
    craft would have if it moved as the controller's seat does (at most 1).
    """

    index: int
    low_hz: float
    freq_hz: float
    high_hz: float
    sideways: float
    along: float
    gyro: float
    namer: Callable[[int], tuple[str, ModeName]]

    @property
    def part_id(self) -> str:
        """The part that bends most; named when asked for."""
        return self.namer(self.index)[0]

    @property
    def movement(self) -> ModeName:
        """How it moves, and how its copies go together."""
        return self.namer(self.index)[1]

    @property
    def name(self) -> str:
        """The same in words."""
        return self.movement.text

    @property
    def driven(self) -> tuple[Way, ...]:
        """Which pushes on the rotors can drive it."""
        return tuple(w for w, share in zip(WAYS, (self.sideways, self.along), strict=True) if share >= SHAKES)

    @property
    def felt(self) -> bool:
        """Whether a rotor or the gyro feels it."""
        return max(self.sideways, self.along, self.gyro) >= SHAKES


@dataclass(frozen=True, eq=False)
class WholeCraft:
    """The craft as one structure: its parts in place, its modes, lowest first, and how far each rotor rises over the controller's seat at
    full thrust, (3, rotors) mm at the corners of the materials."""

    craft: Craft
    free: FreeModes
    modes: tuple[CraftMode, ...]
    rise_mm: Floats
    shaken: Callable[[], Shake]

    @cached_property
    def shake(self) -> Shake:
        """The craft ready to be shaken, put together when it is first asked for."""
        return self.shaken()

    @property
    def lowest(self) -> CraftMode:
        """The lowest mode that a rotor or the gyro feels."""
        return next((m for m in self.modes if m.felt), self.modes[0])

    def worst_rise(self, corner: Corner) -> tuple[float, int]:
        """The largest, and which rotor's it is."""
        row = np.abs(self.rise_mm[CORNERS.index(corner)])
        return float(row.max()), int(row.argmax())


@dataclass(frozen=True)
class Judged:
    """What is known of a craft's strength and stiffness: part by part, and as one where it has arms on plates."""

    members: dict[str, MemberResult]
    plates: dict[str, PlateResult]
    whole: WholeCraft | None


@dataclass(frozen=True)
class Evaluation:
    """Everything the live tier says about a project.

    ``built`` is the craft as its strength is judged, frames told apart, and ``pieces`` are its parts: those of ``parts``, and for a frame
    its arm and its middle. Strength and modes go by the ids of pieces.
    """

    project: Project
    built: Project
    problems: tuple[Problem, ...]
    scope: Scope
    parts: dict[str, PartResult]
    pieces: dict[str, PartResult]
    members: dict[str, MemberResult]
    plates: dict[str, PlateResult]
    whole: WholeCraft | None
    craft: MassProperties
    power: PowerFigures
    clearances: Clearances
    allocation: Allocation
    margins: tuple[Margin, ...]
    working_hz: tuple[float, float]
    meetings: tuple[Meeting, ...]
    break_order: dict[str, list[tuple[str, BreakPoint]]]
    scores: Scores
    seconds: float

    @cached_property
    def modes(self) -> tuple[Ringing, ...]:
        """Every mode of the craft, or of its parts where the whole is not known."""
        return tuple(mode_bands(self.members, self.whole))

    def modes_limit_pct(self) -> float:
        """How clear of the working speeds the brief wants every mode to be; 0 without such a target."""
        return next((m.limit for m in self.margins if m.metric == "modes_clear_pct"), 0.0)

    def verdict_of(self, met: Meeting) -> Verdict:
        """Whether one mode keeps clear of one order, by the same rule as the target on all of them."""
        return judge(met.clear_low_pct, met.clear_high_pct, self.modes_limit_pct(), "at least")

    @property
    def minutes(self) -> float:
        """Print minutes of all parts."""
        return self.scores.minutes

    def part(self, part_id: str) -> PartResult | None:
        """A part, or a piece of one that is told apart; None where there is none."""
        return self.parts.get(part_id) or self.pieces.get(part_id)

    def pieces_of(self, part_id: str) -> tuple[str, ...]:
        """What a part is judged as: itself, or its pieces."""
        return (part_id,) if part_id in self.pieces else tuple(k for k in self.pieces if owner_of(k) == part_id)

    def asked_speed_m_s(self, case: str) -> float | None:
        """Speed at which the brief asks a crash to be survived; None where it asks for none."""
        if case == "guard_bump":
            return self.project.brief.bump_m_s
        for m in self.margins:
            if case in ("arm_strike", "first_blow") and m.metric == "arm_strike_m_s":
                return max(m.limit, 0.01)
            if case == "flat_drop" and m.metric == "flat_drop_m":
                return max(speed_from_height_m_s(m.limit), 0.01)
        return None

    def crash_speed_m_s(self, case: str) -> float:
        """Speed at which a crash case is shown: what the brief asks for, else what the craft survives."""
        asked, first = self.asked_speed_m_s(case), self.break_order.get(case)
        if asked is not None:
            return asked
        return first[0][1].speed_m_s if first else 1.0

    def counts(self, case: str) -> bool:
        """Whether a case is among those that a part is to hold: a crash only where the brief asks for a speed."""
        return case not in CRASH_CASES or self.asked_speed_m_s(case) is not None


def mode_bands(members: Mapping[str, MemberResult], whole: WholeCraft | None) -> Sequence[Ringing]:
    """Every mode of the craft with its spread, lowest first; of every part by itself where the whole is not known."""
    if whole is not None:
        return whole.modes
    return [ModeBand(k, name, low, freq, high) for k, m in members.items() for name, freq, low, high in m.mode_table()]


class Refused(Exception):  # noqa: N818  a refusal is an answer, not a fault
    """The project cannot be evaluated; the problems say where and why."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__("; ".join(p.message for p in problems))
        self.problems = problems


def told(part: Part, solve: Callable[[], T]) -> T:
    """What ``solve`` gives; a structure that cannot be solved becomes a refusal at the part. Raises Refused."""
    try:
        return solve()
    except StructureFault as err:
        raise Refused([Problem(f"parts.{part.id}.shape", f"{part.name}: {err.message}")]) from None
