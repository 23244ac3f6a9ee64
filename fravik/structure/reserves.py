"""From section forces to reserves: strength over stress, per failure kind and position.

What the plastic takes at the chosen points of every zone is in ``indices``; here it is brought to every case and corner of the material,
with what joints and glued carbon take.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.printing.zones import Floats

from .attachments import PadForce, bolt_rows, bonded_rows, end_row, pad_rows, root_use
from .failure import (
    BEARING,
    BOND,
    BUCKLE,
    CAP,
    FIBRE,
    JOINT,
    KINDS,
    ROAD,
    TEAR,
    TOGETHER,
    CaseReserves,
    capped,
    governing,
)
from .indices import Limits, limits_from, worst_indices
from .loadcases import CRASH_CASES, CaseKey, case_of
from .section import SectionLine
from .stress import SectionForces, StressField, stresses
from .stressbasis import StressBasis, section_forces


def limits_of(basis: StressBasis) -> Limits:
    """What stress is set against at one corner along a member's positions."""
    m = basis.answer.material
    return limits_from(m.strengths, m.to_zone, m.to_ply, basis.layer, np.array(basis.buckling_mpa))


def stress_field(basis: StressBasis) -> StressField:
    """Forces to stress at one corner; in a fillet the section beyond it carries the local load."""
    member, m, nom = basis.member, basis.answer.material, basis.member.nominal
    s = basis.answer.section
    if (nom != np.arange(len(nom))).any():
        s = SectionLine(**{k: getattr(s, k)[nom] for k in SectionLine.__dataclass_fields__})
    n = len(nom)
    section = basis.basis.section
    e, g_v, g_r = (np.broadcast_to(x, (3, n)) for x in (m.e_mpa, m.g_v_mpa, m.g_r_mpa))
    # where shear ends as a pull along roads it is set against their strength, by way of that in shear
    as_pull = np.where(basis.shear > 1, basis.shear * m.strengths.plane_shear_mpa / m.strengths.road_mpa, 1.0)
    scale = section.shear_scale_mpa / m.shear_scale_mpa * np.maximum(as_pull, 1.0)
    return StressField(
        basis.basis.points, s, e, g_v, g_r, scale, member.tables.beta_rad, section.answer.local_v, section.answer.local_r,
        basis.pull, basis.up, basis.side,
    )  # fmt: skip


@dataclass(frozen=True)
class UnitIndices:
    """Stress over strength at the typical corner for cases of unit size: index (6 kinds, S, cases) at the worst point of each kind.

    ``squares`` (2, 4, S, cases) are the parts of the two strengths that act together in the kinds of TOGETHER; ``severity`` (S, cases) is
    the size of the forces behind them.
    """

    index: Floats
    squares: Floats
    severity: Floats


def packed_cases(combos: dict[CaseKey, Floats]) -> Floats:
    """Cases side by side, (loads, cases)."""
    return np.stack(list(combos.values()), axis=1)


def unit_directions(packed: Floats) -> tuple[Floats, Floats]:
    """Cases scaled to unit size, rounded so that equal ones are equal to the last digit; and their sizes."""
    size = np.maximum(np.abs(packed).max(axis=0), 1e-12)
    return np.round(packed / size, 9), size


def unit_indices(basis: StressBasis, directions: Floats) -> UnitIndices:
    """Solve the stress of unit cases once."""
    forces = section_forces(basis, directions)
    index, squares = worst_indices(limits_of(basis), stresses(stress_field(basis), forces))
    return UnitIndices(index, squares, np.maximum(_severity(basis, forces), 1e-15))


def corner_reserves(
    bases: list[StressBasis], combos: list[dict[CaseKey, Floats]], unit: UnitIndices | None = None,
    pads: list[dict[CaseKey, PadForce]] | None = None,
) -> list[dict[CaseKey, CaseReserves]]:  # fmt: skip
    """Reserves of a member in every case, or every case of every copy, at several corners of its material; each is a combination of the
    unit loads, (loads,).

    In a part of one plastic the stiffnesses change together, so that stress follows the loads alone: the reserves of a corner are those of
    the typical one, with each strength at the governing point changed for its corner, over the ratio of forces. With carbon or facings
    every corner is solved by itself. ``unit`` are the typical corner's indices for the cases' directions, if they are known already;
    ``pads`` what the motor's screws pass to an arm's pad.
    """
    pads = pads or [{} for _ in bases]
    if bases[0].answer.inserts:
        return [all_reserves(b, c, p) for b, c, p in zip(bases, combos, pads, strict=True)]
    middle = next(i for i, b in enumerate(bases) if b.answer.corner == "typical")
    names, packed = list(combos[middle]), [packed_cases(c) for c in combos]
    directions, _ = unit_directions(packed[middle])
    basis = bases[middle]
    unit = unit_indices(basis, directions) if unit is None else unit
    every = [section_forces(b, c) for b, c in zip(bases, packed, strict=True)]
    index = [_at_corner(unit, basis, b) * (_severity(basis, own) / unit.severity) for b, own in zip(bases, every, strict=True)]
    return _case_reserves(bases, np.stack(index), names, every, [b.answer.root @ c for b, c in zip(bases, packed, strict=True)], pads)


def _at_corner(unit: UnitIndices, basis: StressBasis, b: StressBasis) -> Floats:
    """Indices of the typical corner with each strength changed for another one."""
    if b is basis:
        return unit.index
    base, s = basis.answer.material.strengths, b.answer.material.strengths
    here = unit.index.copy()
    here[ROAD] *= base.road_mpa / s.road_mpa
    core = [x / y for x, y in zip(base.core_mpa, s.core_mpa, strict=True)]
    across, layer, slide = base.cross_mpa / s.cross_mpa, base.layer_mpa / s.layer_mpa, base.layer_shear_mpa / s.layer_shear_mpa
    one = np.array([across, layer, layer, max(core[0], core[1], core[5])])[:, None, None]
    two = np.array([base.plane_shear_mpa / s.plane_shear_mpa, slide, slide, max(core[2:5])])[:, None, None]
    here[list(TOGETHER)] = np.sqrt(unit.squares[0] * one**2 + unit.squares[1] * two**2)
    here[BUCKLE] *= max(x / y for x, y in zip(basis.buckling_mpa, b.buckling_mpa, strict=True))
    return here


def all_reserves(
    basis: StressBasis, combinations: dict[CaseKey, Floats], pad: dict[CaseKey, PadForce] | None = None
) -> dict[CaseKey, CaseReserves]:
    """Reserves of a member in every case at one corner, solved by itself."""
    packed = packed_cases(combinations)
    forces = section_forces(basis, packed)
    index, _ = worst_indices(limits_of(basis), stresses(stress_field(basis), forces))
    return _case_reserves([basis], index[None], list(combinations), [forces], [basis.answer.root @ packed], [pad or {}])[0]


def _severity(basis: StressBasis, f: SectionForces) -> Floats:
    """Size of the forces at each position and case, as the root of the energy they put into a slice of the typical part."""
    s = basis.answer.section
    each = ((f.n, s.ea_n), (f.m_y, s.ei_up_nmm2), (f.m_z, s.ei_side_nmm2), (f.t, s.gj_nmm2), (f.v_y, s.ga_side_n), (f.v_z, s.ga_up_n))
    return np.sqrt(sum(x * x / k[:, None] for x, k in each))


def _case_reserves(
    bases: list[StressBasis], index: Floats, names: list[CaseKey], forces: list[SectionForces], roots: list[Floats],
    pads: list[dict[CaseKey, PadForce]],
) -> list[dict[CaseKey, CaseReserves]]:  # fmt: skip
    """Reserves at several corners from what their plastic takes, ``index`` (corners, 6 kinds, S, cases), and the joints' share."""
    corners, own, n, cases = index.shape
    values = np.full((corners, len(KINDS), n, cases), CAP)
    values[:, :own] = capped(index)
    details, ends = [], []
    for mine, basis, force, root, pad in zip(values, bases, forces, roots, pads, strict=True):
        if basis.answer.inserts:
            mine[FIBRE], mine[BOND] = bonded_rows(basis, force)
        mine[BEARING, 0], mine[TEAR, 0] = bolt_rows(basis, root)
        use = root_use(basis, root)
        mine[JOINT, 0] = capped(use.broken)
        ends.append("motor screws")
        if basis.member.form.end_grip is not None:
            mine[JOINT, -1], ends[-1] = end_row(basis, force, [case_of(n) in CRASH_CASES for n in names])
        elif pad:
            mine[BEARING, -1], mine[TEAR, -1], mine[JOINT, -1] = pad_rows(basis, [pad[n] for n in names])
        details.append(use.what)
    return governing(values, names, bases[0].member.positions_mm, details, ends)
