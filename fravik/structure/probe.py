"""The whole section at one position under one case: zone, stress and reserve of any point, for the pointer over its picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.printing.zones import Floats, ZoneField

from .failure import KINDS
from .indices import zone_indices
from .lattice import latticed
from .member import member_material
from .printed import ZONE_NAMES
from .reserves import limits_of, stress_field
from .rows import row_tables
from .section import material_at, section_basis
from .sectionfe import edge_strains
from .sectionpicture import line_at
from .stress import SectionForces, StressField, StressPoints, stresses
from .stressbasis import StressBasis, section_forces


@dataclass(frozen=True)
class Spot:
    """What lies at a point: zone, stress along the part and shear there in MPa, and the governing kind with its reserve."""

    zone: str
    along_mpa: float
    shear_mpa: float
    kind: str
    reserve: float


@dataclass(frozen=True)
class SectionProbe:
    """A solved section: cell edges in v and r, the turn to section axes, zone of each cell, stresses and least reserves (R, C)."""

    v_mm: Floats
    r_mm: Floats
    beta_rad: float
    zone: Floats
    along_mpa: Floats
    shear_mpa: Floats
    kind: Floats
    reserve: Floats

    def at(self, y: float, z: float) -> Spot | None:
        """The spot at a point of the section, or None outside the part."""
        c, s = np.cos(self.beta_rad), np.sin(self.beta_rad)
        v, r = c * y + s * z, -s * y + c * z
        i, j = int(np.searchsorted(self.r_mm, r)) - 1, int(np.searchsorted(self.v_mm, v)) - 1
        if not (0 <= i < self.zone.shape[0] and 0 <= j < self.zone.shape[1]) or self.zone[i, j] < 0:
            return None
        return Spot(
            ZONE_NAMES[int(self.zone[i, j])], float(self.along_mpa[i, j]), float(self.shear_mpa[i, j]), KINDS[int(self.kind[i, j])],
            float(self.reserve[i, j]),
        )  # fmt: skip


def probe_section(basis: StressBasis, field: ZoneField, position_mm: float, combination: Floats) -> SectionProbe | None:
    """Solve the section at a position and recover the stress of a case in every cell. None where nothing is left of it.

    ``field`` is the one that its sections are read off. Stress raisers of the nearest position are in it, as they are in the reserves.
    """
    member = basis.member
    tables = row_tables(field, line_at(member.path.line, position_mm))
    if not (tables.moments[0, 0] > 1e-9).any():
        return None
    if member.form.lattice is not None:
        tables = latticed(tables, member.form.lattice)
    material = member_material(member, basis.filament, basis.recipe, basis.answer.corner)
    near = int(np.argmin(np.abs(member.positions_mm - position_mm)))
    if material.e_mpa.shape[1] > 1:
        material = material_at(material, np.array([near]))
    section = section_basis(tables, material, ())
    g = section.grids
    gv, gr, _, _ = edge_strains(section.fe, g.v_mm, g.r_mm)
    mid_v, mid_r = section.fe.middle_v_mm[0], section.fe.middle_r_mm[0]
    shape = g.e_mpa.shape[1:]
    v = np.broadcast_to((g.v_mm[0, 1:] + g.v_mm[0, :-1])[None] / 2 - mid_v, shape).ravel()
    r = np.broadcast_to((g.r_mm[0, 1:] + g.r_mm[0, :-1])[:, None] / 2 - mid_r, shape).ravel()
    share = section.painted.share[:3, 0]
    three = (3, 1, v.size)
    flat_v, flat_r = (np.broadcast_to(x.mean(axis=-1)[:, 0].reshape(3, 1, 1, -1), (3, *three)) for x in (gv, gr))
    points = StressPoints(
        np.broadcast_to(v, three), np.broadcast_to(r, three), flat_v, flat_r, np.zeros(three), np.zeros(three), np.ones((3, 1), dtype=bool)
    )  # fmt: skip
    whole = stress_field(basis)
    one = StressField(
        points, type(whole.section)(**{k: getattr(whole.section, k)[[near]] for k in whole.section.__dataclass_fields__}),
        whole.e_mpa[:, [near]], whole.g_v_mpa[:, [near]], whole.g_r_mpa[:, [near]], np.ones(1), tables.beta_rad, np.zeros(1), np.zeros(1),
        whole.k_pull[[near]], whole.k_up[[near]], whole.k_side[[near]],
    )  # fmt: skip
    every = section_forces(basis, combination[:, None])
    forces = SectionForces(*(np.array([[np.interp(position_mm, member.positions_mm, x[:, 0])]]) for x in
                             (getattr(every, k) for k in SectionForces.__dataclass_fields__)))  # fmt: skip
    stress = stresses(one, forces)
    index = zone_indices(limits_of(basis).at(near), stress)[:, :, 0, :, 0]  # kinds, zones, cells
    zone = np.where(share.sum(axis=0) > 0.3, share.argmax(axis=0), -1).ravel()
    pick = np.maximum(zone, 0), np.arange(v.size)
    worst = index[:, pick[0], pick[1]]
    kind = worst.argmax(axis=0)
    along, side, up = (x[pick[0], 0, pick[1], 0] for x in stress)
    return SectionProbe(
        g.v_mm[0], g.r_mm[0], float(tables.beta_rad[0]), zone.reshape(shape), along.reshape(shape), np.hypot(side, up).reshape(shape),
        kind.reshape(shape), np.minimum(1 / np.maximum(worst.max(axis=0), 1 / 99.0), 99.0).reshape(shape),
    )  # fmt: skip
