"""A part as it is read along its ruler: positions, stiffness, reserves by case, raisers, and the point under the pointer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from fravik.kinds import kind_of
from fravik.printing.zones import Floats
from fravik.shape.build import Mesh
from fravik.structure.failure import CAP, JOINT, KINDS, CaseReserves
from fravik.structure.loadcases import CRASH_CASES
from fravik.structure.probe import SectionProbe, probe_section
from fravik.structure.rows import straight_line
from fravik.structure.sectionpicture import SectionPicture, section_picture

from .bare import bare_field
from .results import Evaluation, MemberResult, PlateResult

WORST = "worst of all"
# what the failures of a printed part's roads and layers are called in one that is cut from bar or plate
CUT_FAILURES = {"road pull": "pull along the grain", "road-to-road": "pull across the grain", "layer split": "splitting",
                "layer shear": "shear along the grain"}  # fmt: skip


@dataclass(frozen=True)
class Spike:
    """A stress raiser on the ruler: where, its factor, its name."""

    start_mm: float
    end_mm: float
    factor: float
    name: str


@dataclass(frozen=True)
class Ruler:
    """Positions from ``low_mm`` to ``high_mm``, stiffness in N m2 up and sideways, raisers, and what lies at the ends."""

    positions_mm: Floats
    low_mm: float
    high_mm: float
    ei_up_nm2: Floats
    ei_side_nm2: Floats
    spikes: tuple[Spike, ...]
    title: str
    ends: str


def _member_ruler(m: MemberResult) -> Ruler:
    s, kind, long = m.answers["typical"].section, kind_of(m.member.shape), m.member.ruler_mm
    words = (f"Along the {kind.called}", kind.along.format(long=f"{long:.0f}"))
    spikes = tuple(Spike(r.start_mm, r.end_mm, r.worst, r.name) for r in m.bases["typical"].raisers if r.worst > 1.01)
    return Ruler(s.positions_mm, 0.0, long, s.ei_up_nmm2 / 1e6, s.ei_side_nmm2 / 1e6, spikes, *words)


def _plate_ruler(p: PlateResult) -> Ruler:
    grid = p.answer.grid
    width = grid.cover.sum(axis=1) * grid.cell_mm[1]
    ei = p.answer.section.d_nmm[0] * width / 1e6
    return Ruler(p.positions_mm, float(grid.x_mm[0]), float(grid.x_mm[-1]), ei, 0 * ei, (), "Along the plate", "aft to fore, middle at 0")


def judged(result: Evaluation, part_id: str) -> MemberResult | PlateResult | None:
    """The structural result of a part or a piece, if it has one; of a part in pieces that of the first."""
    each = (result.members.get(k) or result.plates.get(k) for k in result.pieces_of(part_id))
    return next((found for found in each if found is not None), None)


def ruler_of(result: Evaluation, part_id: str) -> Ruler | None:
    """The part's ruler, or None for a part that is not judged."""
    found = judged(result, part_id)
    if isinstance(found, MemberResult):
        return _member_ruler(found)
    return _plate_ruler(found) if found is not None else None


def speed_factor(result: Evaluation, case: str) -> float:
    """Crash cases are per m/s; they are shown at the target's speed."""
    return 1.0 / result.crash_speed_m_s(case) if case in CRASH_CASES else 1.0


@dataclass(frozen=True)
class Shown:
    """The reserves on show: the governing case by name, kinds by positions, the least along the ruler, and the factor already in them."""

    case: str
    values: Floats
    kind: str
    detail: str
    position_mm: float
    reserve: float
    factor: float
    printed: bool = True

    @property
    def named(self) -> str:
        """What fails, in a word or two."""
        return self.detail or failure_name(self.kind, self.printed)

    def envelope(self) -> Floats:
        """Least reserve at each position."""
        return self.values.min(axis=0)


def failure_name(kind: str, printed: bool) -> str:
    """What a kind of failure is called in a part that is printed, or cut."""
    return kind if printed else CUT_FAILURES.get(kind, kind)


def _shown(case: str, r: CaseReserves, tough: Floats, factor: float, positions_mm: Floats) -> Shown:
    if case not in CRASH_CASES:
        return Shown(case, r.values, r.kind, r.detail, r.position_mm, r.reserve, 1.0)
    # a crash's reserve counts what toughness allows: 1 just breaks at the speed it is shown at
    values = np.minimum(r.values * tough[:, None] * factor, CAP)
    k, i = np.unravel_index(int(np.argmin(values)), values.shape)
    return Shown(case, values, KINDS[k], r.detail if k == JOINT else "", float(positions_mm[i]), float(values[k, i]), factor)


def reserves_of(result: Evaluation, part_id: str, case: str) -> Shown | None:
    """Reserves of a part in a case, or in the governing one of all that count; crashes at the speeds that targets ask for."""
    found = judged(result, part_id)
    if found is None:
        return None
    cases = found.cases["typical"]
    along = found.positions_mm if isinstance(found, PlateResult) else found.member.positions_mm
    part = result.part(part_id)
    printed = part is None or part.printed
    if case in cases:
        return replace(_shown(case, cases[case], found.tough, speed_factor(result, case), along), printed=printed)
    every = [_shown(n, cases[n], found.tough, speed_factor(result, n), along) for n in _counted(result, cases)]
    least = min(every, key=lambda s: s.reserve)
    together = np.min(np.stack([s.values for s in every]), axis=0)
    return Shown(least.case, together, least.kind, least.detail, least.position_mm, least.reserve, least.factor, printed)


def _counted(result: Evaluation, cases: Mapping[str, CaseReserves]) -> list[str]:
    """The cases that govern a part: those that the brief asks it to hold, all where it asks for none of them."""
    return [n for n in cases if result.counts(n)] or list(cases)


def nearest_position(positions_mm: Floats, position_mm: float) -> int:
    """The solved position that stands for a place on the ruler: every figure shown for the place is that position's."""
    return int(np.argmin(np.abs(positions_mm - position_mm)))


def governing_at(result: Evaluation, part_id: str, case: str, position_mm: float) -> tuple[str, str, float] | None:
    """(case, kind, reserve) that governs at a position."""
    found = judged(result, part_id)
    ruler = ruler_of(result, part_id)
    if found is None or ruler is None:
        return None
    i = nearest_position(ruler.positions_mm, position_mm)
    names = [case] if case in found.cases["typical"] else _counted(result, found.cases["typical"])
    best: tuple[str, str, float] | None = None
    for n in names:
        shown = reserves_of(result, part_id, n)
        if shown is None:
            continue
        column = shown.values[:, i]
        k = int(np.argmin(column))
        if best is None or column[k] < best[2]:
            best = (n, KINDS[k], float(column[k]))
    return best


def picture_at(result: Evaluation, part_id: str, position_mm: float) -> SectionPicture | None:
    """The section at a position as printed."""
    found, part = judged(result, part_id), result.part(part_id)
    if found is None or part is None:
        return None
    if isinstance(found, MemberResult):
        return section_picture(part.field, found.member.path.line, found.answers["typical"].inserts, found.member.positions_mm, position_mm)
    return section_picture(part.field, straight_line(found.positions_mm), (), found.positions_mm, position_mm)


def probe_at(result: Evaluation, part_id: str, case: str, position_mm: float) -> SectionProbe | None:
    """Stress and reserve over the section at a position, in a case (at the speed it is shown at). Plates are not probed."""
    found, part = judged(result, part_id), result.part(part_id)
    if not isinstance(found, MemberResult) or part is None or case not in found.combos["typical"]:
        return None
    combo = found.combos["typical"][case] / speed_factor(result, case)
    return probe_section(found.bases["typical"], bare_field(part), position_mm, combo)


def stiffness_text(ruler: Ruler, result: Evaluation, part_id: str, position_mm: float) -> str:
    """EI and GJ at a position in words."""
    at = nearest_position(ruler.positions_mm, position_mm)
    up, side = (float(v[at]) for v in (ruler.ei_up_nm2, ruler.ei_side_nm2))
    m = result.members.get(part_id)
    text = f"EI up {up:.2f}  side {side:.2f}" if m is not None else f"EI of the whole width {up:.2f}"
    if m is not None:
        s = m.answers["typical"].section
        text += f"  GJ {float(s.gj_nmm2[nearest_position(s.positions_mm, position_mm)]) / 1e6:.2f}"
    return text + " N·m²"


HELD_BEHIND_MM = -0.5


def along_part(found: MemberResult | PlateResult, shown: Shown, points_mm: Floats) -> Floats:
    """Least reserve (n,) at points (n, 3) of a part's surface, between the positions of its ruler by straight lines."""
    if isinstance(found, PlateResult):
        return np.interp(points_mm[:, 0], found.positions_mm, shown.envelope())
    member = found.member
    positions = member.positions_mm
    if member.path.both_ends:
        nearest = ((points_mm[:, None] - member.path.line.origin_mm[None]) ** 2).sum(axis=2).argmin(axis=1)
        return np.asarray(shown.envelope()[nearest])
    return np.interp(np.clip(points_mm[:, 0], positions[0], positions[-1]), positions, shown.envelope())


def held_behind_mm(found: MemberResult | PlateResult) -> float | None:
    """What lies farther back than this is held, and not coloured by bending; None where all of the part is on its ruler."""
    return None if isinstance(found, PlateResult) or found.member.path.both_ends else HELD_BEHIND_MM


def spot_of(found: MemberResult | PlateResult, shown: Shown, mesh: Mesh) -> tuple[Floats, float]:
    """A point of the surface at the weakest position, and the part's size."""
    v = mesh.vertices_mm
    size = float((v.max(axis=0) - v.min(axis=0)).max())
    if isinstance(found, MemberResult):
        i = int(np.argmin(np.abs(found.member.positions_mm - shown.position_mm)))
        at = found.member.path.line.origin_mm[i]
        gap = np.linalg.norm(v[:, :2] - at[:2], axis=1)
    else:
        gap = np.abs(v[:, 0] - shown.position_mm)
    near = v[gap < max(6.0, 0.06 * size, float(gap.min()) + 1.0)]
    return near[np.argmax(near[:, 2] - 0.2 * near[:, 1])], size
