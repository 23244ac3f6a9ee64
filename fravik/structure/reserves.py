"""From section forces to reserves: strength over stress, per failure kind and position.

Stress at the chosen points of every zone is turned into the zone's own axes. *Road pull* acts along the roads, *road-to-road*
across them in the layer (quadratic with in-plane shear; in covers for each ply), *layer split* and *layer shear* between layers
(quadratic together, named by the greater part), *core crush* in the core, *wall buckling* where thin faces are pressed.
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
    CROSS,
    CRUSH,
    FIBRE,
    JOINT,
    KINDS,
    ROAD,
    SLIDE,
    SPLIT,
    TEAR,
    TOGETHER,
    CaseReserves,
    capped,
    governing,
)
from .loadcases import CRASH_CASES, CaseKey, case_of
from .printed import CORE, COVER, WALL
from .section import SectionLine
from .stress import SectionForces, StressField, stresses
from .stressbasis import StressBasis, section_forces


@dataclass(frozen=True)
class Limits:
    """Strengths at every position of a row, each (S,) but ``core`` (6, S) and ``buckling`` (2, S); and the ways into the zones' axes."""

    road: Floats
    cross: Floats
    layer: Floats
    plane_shear: Floats
    layer_shear: Floats
    core: Floats
    buckling: Floats
    to_zone: Floats
    to_ply: Floats


def limits_of(basis: StressBasis) -> Limits:
    """The strengths of one corner along its positions."""
    n, m = len(basis.member.positions_mm), basis.answer.material
    st, one = m.strengths, np.ones(len(basis.member.positions_mm))
    return Limits(
        st.road_mpa * one, st.cross_mpa * one, st.layer_mpa / basis.layer, st.plane_shear_mpa * one, st.layer_shear_mpa / basis.layer,
        np.array(st.core_mpa)[:, None] * one, np.array(basis.buckling_mpa)[:, None] * one,
        np.broadcast_to(m.to_zone, (3, n, 6, 3)), np.broadcast_to(m.to_ply, (n, *m.to_ply.shape)),
    )  # fmt: skip


def zone_indices(limits: Limits, stress: tuple[Floats, Floats, Floats]) -> Floats:
    """Stress over strength of the plastic's kinds at every point, (6 kinds, 3 zones, S, P, cases); 0 where a kind does not act.

    ``stress`` xx, xv, xr, each (3 zones, S, P, cases). Kinds in the order of KINDS up to wall buckling.
    """
    return _indices_and_shares(limits, stress)[0]


def _both(a: Floats, b: Floats) -> Floats:
    """Root of the sum of squares; numpy's hypot, which guards against overflow, takes ten times as long."""
    return np.sqrt(a * a + b * b)


def _indices_and_shares(limits: Limits, stress: tuple[Floats, Floats, Floats]) -> tuple[Floats, Floats]:
    """The indices, and in them the part of the first strength of road-to-road, of the layer kinds and of the core (3, ...)."""
    shape = stress[0].shape
    flat = np.stack([x.reshape(3, shape[1], -1) for x in stress], axis=2)  # (3, S, 3, P * cases)
    own = limits.to_zone @ flat  # (3, S, 6, P * cases)
    out = np.zeros((6, 3, shape[1], flat.shape[3]))
    first = np.zeros((3, 3, shape[1], flat.shape[3]))

    def col(x: Floats) -> Floats:
        return x[:, None]

    for zone in (WALL, COVER):
        s = own[zone]
        if zone == WALL:
            out[ROAD, zone] = np.abs(s[:, 0]) / col(limits.road)
            pulled = np.abs(s[:, 1]) / col(limits.cross)
            out[CROSS, zone] = _both(pulled, s[:, 5] / col(limits.plane_shear))
            first[0, zone] = pulled
        else:
            plies = limits.to_ply @ s[:, None, [0, 1, 5]]  # (S, 2 plies, 3, points)
            out[ROAD, zone] = np.abs(plies[:, :, 0]).max(axis=1) / col(limits.road)
            pulled = np.abs(plies[:, :, 1]) / col(limits.cross)[..., None]
            across = _both(pulled, plies[:, :, 2] / col(limits.plane_shear)[..., None])
            second = across[:, 1] > across[:, 0]
            out[CROSS, zone] = np.where(second, across[:, 1], across[:, 0])
            first[0, zone] = np.where(second, pulled[:, 1], pulled[:, 0])
        lift = np.maximum(s[:, 2], 0.0) / col(limits.layer)
        slide = _both(s[:, 3], s[:, 4]) / col(limits.layer_shear)
        both = _both(lift, slide)
        split = lift >= slide
        out[SPLIT, zone], out[SLIDE, zone] = both * split, both * ~split
        first[1, zone] = lift
        out[BUCKLE, zone] = np.maximum(-flat[zone, :, 0], 0.0) / col(limits.buckling[zone])
    squares = (own[CORE] / limits.core.T[:, :, None]) ** 2
    level = squares[:, 0] + squares[:, 1] + squares[:, 5]
    out[CRUSH, CORE], first[2, CORE] = np.sqrt(squares.sum(axis=1)), np.sqrt(level)
    return out.reshape(6, *shape), first.reshape(3, *shape)


def stress_field(basis: StressBasis) -> StressField:
    """Forces to stress at one corner; in a fillet the section beyond it carries the local load."""
    member, m, nom = basis.member, basis.answer.material, basis.member.nominal
    s = basis.answer.section
    if (nom != np.arange(len(nom))).any():
        s = SectionLine(**{k: getattr(s, k)[nom] for k in SectionLine.__dataclass_fields__})
    n = len(nom)
    section = basis.basis.section
    e, g_v, g_r = (np.broadcast_to(x, (3, n)) for x in (m.e_mpa, m.g_v_mpa, m.g_r_mpa))
    scale = np.full(n, section.shear_scale_mpa / m.shear_scale_mpa)
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
    every, first = _indices_and_shares(limits_of(basis), stresses(stress_field(basis), forces))
    n, cases = every.shape[2], every.shape[4]
    flat = every.transpose(0, 2, 4, 1, 3).reshape(6, n, cases, -1)
    worst = flat[list(TOGETHER)].argmax(axis=3)[..., None]
    index = flat.max(axis=3)
    both = index[list(TOGETHER)]
    # the point in every zone lies at the same place in the arrays of shares
    points = every.shape[3]
    zone, point = worst[..., 0] // points, worst[..., 0] % points
    part = np.array([0, 1, 1, 2])[:, None, None]
    pulled = first[part, zone, np.arange(n)[:, None], point, np.arange(cases)]
    pulled = np.where(both > 0, pulled, 0.0) ** 2
    squares = np.stack([pulled, np.maximum(both**2 - pulled, 0.0)])
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
    index = zone_indices(limits_of(basis), stresses(stress_field(basis), forces)).max(axis=(1, 3))
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
