"""From section forces to reserves: strength over stress, per failure kind and station.

Road pull acts in the walls, road-to-road in the skins, core crush in the infill. With the layers along the arm, shear
between layers is *layer shear*; standing on end, tension and shear of the layer bond interact quadratically (*layer split*).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape
from fravik.printing.zones import Floats
from fravik.shape.arm import pocket_spans, tongue_bolts

from .member import Member, MemberAnswer
from .printed import CORE, SKIN, WALL
from .raisers import (
    OUT_OF_PLANE_SHARE,
    notched,
    shoulder_bending,
    shoulder_out_of_plane,
    slot_tension,
)

KINDS = ("road pull", "road-to-road", "core crush", "layer split", "layer shear", "carbon", "bond line",
         "bearing", "bolt tear-out")  # fmt: skip
BRITTLE_KINDS = frozenset({"layer split", "layer shear", "carbon", "bond line"})
BEARING_FACTOR = 1.6
CAP = 99.0


@dataclass(frozen=True)
class Raiser:
    """A stress raiser on the ruler: its span, effective factors for upward and sideways bending, and its name."""

    start_mm: float
    end_mm: float
    up: float
    side: float
    name: str


@dataclass(frozen=True)
class CaseReserves:
    """Reserves of one member in one case: (kinds, stations), capped at CAP; and the governing one."""

    values: Floats
    kind: str
    station_mm: float
    reserve: float

    def envelope(self) -> Floats:
        """Least reserve at each station."""
        return self.values.min(axis=0)


def stress_raisers(member: Member, sensitivity: float) -> list[Raiser]:
    """Every raiser along the member with its effective factors."""
    s = member.shape
    wide = s.tongue_width_mm if isinstance(s, ArmShape) else s.flange_width_mm
    fillet = s.root_fillet_mm
    out = [Raiser(
        0.0, fillet,
        notched(shoulder_out_of_plane(fillet, s.root_width_mm, wide), sensitivity),
        notched(shoulder_bending(fillet, s.root_width_mm, wide), sensitivity), f"root fillet {fillet:g} mm",
    )]  # fmt: skip
    if isinstance(s, ArmShape):
        edge = member.length_mm - s.pad_diameter_mm / 2
        r = s.pad_fillet_mm
        out.append(Raiser(
            edge - r, edge + 1.0,
            notched(shoulder_out_of_plane(r, s.tip_width_mm, s.pad_diameter_mm), sensitivity),
            notched(shoulder_bending(r, s.tip_width_mm, s.pad_diameter_mm), sensitivity), f"pad fillet {r:g} mm",
        ))  # fmt: skip
        for x0, x1 in pocket_spans(s, member.length_mm):
            kt = slot_tension(s.pocket_width_mm, s.pocket_corner_mm, s.root_width_mm)
            up, side = notched(1 + OUT_OF_PLANE_SHARE * (kt - 1), sensitivity), notched(1 + 0.5 * (kt - 1), sensitivity)
            for at in (x0, x1):
                out.append(Raiser(at - 2.0, at + 2.0, up, side, f"pocket corner {s.pocket_corner_mm:g} mm"))
    return out


def _factors(member: Member, raisers: list[Raiser]) -> tuple[Floats, Floats]:
    x = member.stations_mm
    up, side = np.ones(len(x)), np.ones(len(x))
    for r in raisers:
        hit = (x >= r.start_mm) & (x <= r.end_mm)
        if not hit.any():
            hit = np.zeros(len(x), dtype=bool)
            hit[int(np.argmin(np.abs(x - (r.start_mm + r.end_mm) / 2)))] = True
        up[hit], side[hit] = np.maximum(up[hit], r.up), np.maximum(side[hit], r.side)
    return up, side


def _row_shear(member: Member, answer: MemberAnswer) -> Floats:
    """Largest shear stress between rows per unit of shear force across the rows, by V Q / (I b), (stations,)."""
    t, m, s = member.tables, answer.material, answer.section
    widths = t.zone_widths()
    weigh = np.tensordot(np.array(m.e_mpa), widths, 1)
    centre, ei = (s.z_c_mm, s.ei_up_nmm2) if t.across_rows == "z" else (s.y_c_mm, s.ei_side_nmm2)
    above = np.cumsum((weigh * (t.rows_mm[:, None] - centre) * t.pitch_mm)[::-1], axis=0)[::-1]
    bond = widths[WALL] + widths[SKIN] + m.core_share * widths[CORE]
    both = np.minimum(bond[1:], bond[:-1])
    stress = np.where(both > 1e-3, above[1:] / np.maximum(both, 1e-3), 0.0)
    return np.asarray(np.abs(stress).max(axis=0, initial=0.0) / ei)


def _ratio(strength: float, stress: Floats) -> Floats:
    return np.minimum(strength / np.maximum(stress, strength / CAP), CAP)


@dataclass(frozen=True)
class StressBasis:
    """Everything about a member at one corner that does not depend on the load case."""

    member: Member
    answer: MemberAnswer
    up: Floats
    side: Floats
    row_shear: Floats
    bond_area_mm2: Floats
    twist_shear: Floats
    wall_mm: float
    carbon: Carbon | None


def stress_basis(member: Member, answer: MemberAnswer, carbon: Carbon | None) -> StressBasis:
    """Prepare stress recovery once for all cases."""
    raisers = stress_raisers(member, answer.material.notch_sensitivity)
    up, side = _factors(member, raisers)
    widths = member.tables.zone_widths().sum(axis=1) * member.tables.pitch_mm
    bond = widths[WALL] + widths[SKIN] + answer.material.core_share * widths[CORE]
    return StressBasis(member, answer, up, side, _row_shear(member, answer), bond, _twist_shear(member, answer), _wall_mm(member), carbon)


def all_reserves(basis: StressBasis, combinations: dict[str, Floats]) -> dict[str, CaseReserves]:
    """Reserves of a member in every case; each case is a combination of the unit loads, shape (len(LOADS),)."""
    member, answer = basis.member, basis.answer
    m, s, nom = answer.material, answer.section, member.nominal
    # (6 forces, stations, cases); the first element is the clamp
    every = np.abs(answer.units.forces @ np.stack(list(combinations.values()), axis=1))
    axial, v_side, v_up, twist, m_up, m_side = every[:, 1:]

    def col(a: Floats) -> Floats:
        return a[..., None]

    reach = member.extents[:, :, nom]
    z_far = np.maximum(np.abs(reach[:, 3] - s.z_c_mm[nom]), np.abs(reach[:, 2] - s.z_c_mm[nom]))
    y_far = np.maximum(np.abs(reach[:, 1] - s.y_c_mm[nom]), np.abs(reach[:, 0] - s.y_c_mm[nom]))
    strain = axial / col(s.ea_n[nom]) + m_up * col(basis.up * z_far / s.ei_up_nmm2[nom])
    strain = strain + m_side * col(basis.side * y_far / s.ei_side_nmm2[nom])
    stress = np.nan_to_num(np.array(m.e_mpa)[:, None, None] * strain)

    tau_twist = twist * col(basis.twist_shear)
    area = col(basis.bond_area_mm2)
    if m.across_layers:
        tau = 1.5 * (v_up + v_side) / area + tau_twist
        split = ((stress.max(axis=0) / m.layer_split_mpa) ** 2 + (tau / m.layer_shear_mpa) ** 2) ** 0.5
    else:
        across, along = (v_up, v_side) if member.tables.across_rows == "z" else (v_side, v_up)
        tau = col(basis.row_shear) * across + tau_twist
        split = np.zeros_like(tau)
        stress[SKIN] = np.hypot(stress[SKIN], m.strength_mpa[SKIN] / m.plane_shear_mpa * 1.5 * along / area)

    full = np.full_like(tau, CAP)
    values = np.stack([
        full if m.across_layers else _ratio(m.strength_mpa[WALL], stress[WALL]),
        full if m.across_layers else _ratio(m.strength_mpa[SKIN], stress[SKIN]),
        full if m.across_layers or m.strength_mpa[CORE] <= 0 else _ratio(m.strength_mpa[CORE], stress[CORE]),
        np.minimum(1.0 / np.maximum(split, 1.0 / CAP), CAP),
        full if m.across_layers else _ratio(m.layer_shear_mpa, tau),
        *_carbon_rows(basis, axial, m_up, m_side, v_up, v_side),
        *_bolt_rows(basis, every[:, 0]),
    ])  # fmt: skip
    out = {}
    for c, name in enumerate(combinations):
        here = values[:, :, c]
        k, i = np.unravel_index(int(np.argmin(here)), here.shape)
        out[name] = CaseReserves(here, KINDS[k], float(member.stations_mm[i]), float(here[k, i]))
    return out


def _carbon_rows(basis: StressBasis, axial: Floats, m_up: Floats, m_side: Floats, v_up: Floats, v_side: Floats) -> list[Floats]:
    s = basis.answer.section
    fibre, bond = np.full(axial.shape, CAP), np.full(axial.shape, CAP)
    if not basis.answer.carbon:
        return [fibre, bond]

    def col(a: Floats) -> Floats:
        return a[:, None]

    for c in basis.answer.carbon:
        there = (c.area_mm2 > 0)[:, None]
        dz, dy = np.abs(c.z_mm - s.z_c_mm), np.abs(c.y_mm - s.y_c_mm)
        strain = axial / col(s.ea_n) + m_up * col((dz + c.half_height_mm) / s.ei_up_nmm2)
        strain = strain + m_side * col((dy + c.half_width_mm) / s.ei_side_nmm2)
        fibre = np.where(there, np.minimum(fibre, _ratio(c.strength_mpa, c.modulus_mpa * strain)), fibre)
        pull_up, pull_side = col(dz / s.ei_up_nmm2), col(dy / s.ei_side_nmm2)
        flow = c.modulus_mpa * col(c.area_mm2) * (v_up * pull_up + v_side * pull_side) / c.perimeter_mm
        # at an end the load that the full bar would carry has one entry length to get in
        most = max(float(c.area_mm2.max()), 1e-9)
        held = c.modulus_mpa * most * (m_up * pull_up + m_side * pull_side)
        entry = held * col(1 - c.area_mm2 / most) / (c.perimeter_mm * c.entry_mm)
        bond = np.where(there, np.minimum(bond, _ratio(c.bond_mpa, flow + entry)), bond)
    return [fibre, bond]


def _bolt_rows(basis: StressBasis, root: Floats) -> list[Floats]:
    """Bearing and tear-out of the tongue bolts, which take sideways bending and pull as a group; at station 0.

    ``root`` (6, cases) are the forces at the clamp.
    """
    shape, m = basis.member.shape, basis.answer.material
    blank = (len(basis.member.stations_mm), root.shape[1])
    bearing, tear = np.full(blank, CAP), np.full(blank, CAP)
    if not isinstance(shape, ArmShape):
        return [bearing, tear]
    axial, v_side, m_side = root[0], root[1], root[5]
    bolts = np.array(tongue_bolts(shape))
    centre = bolts.mean(axis=0)
    radius = np.hypot(*(bolts - centre).T)
    moment = m_side + v_side * abs(float(centre[0]))
    # elastic bolt group: every bolt takes its share of the pull and of the couple
    force = moment * radius.max() / (radius**2).sum() + np.hypot(v_side, axial) / len(bolts)
    d, h = shape.tongue_bolt_mm, shape.root_height_mm
    crush = m.layer_split_mpa if m.across_layers else m.strength_mpa[WALL]
    bearing[0] = _ratio(BEARING_FACTOR * crush, force / (d * h))
    edge = min(shape.tongue_width_mm / 2 - float(bolts[:, 1].max()), float(bolts[:, 0].min()) + shape.tongue_length_mm)
    depth = max(edge - d / 2, 0.1)
    shear_area = 2 * h * (min(depth, 2 * basis.wall_mm) + m.core_share * max(depth - 2 * basis.wall_mm, 0.0))
    tear[0] = _ratio(m.layer_shear_mpa if m.across_layers else m.plane_shear_mpa, force / shear_area)
    return [bearing, tear]


def _wall_mm(member: Member) -> float:
    """Thickness of the walls at the root, read off the section."""
    c_out, c_in = member.tables.crossings[:2]
    outer = c_out.value[c_out.station == 0]
    inner = c_in.value[c_in.station == 0]
    if len(inner) == 0:
        return float(outer.max() - outer.min()) / 2
    return float(outer.max() - inner.max())


def _twist_shear(member: Member, answer: MemberAnswer) -> Floats:
    """Largest shear stress per unit of torque at each station: Saint-Venant, between a square and a thin strip."""
    m, s = answer.material, answer.section
    high = member.extents[0, 3] - member.extents[0, 2]
    wide = member.extents[0, 1] - member.extents[0, 0]
    thin, thick = np.minimum(high, wide), np.maximum(high, wide)
    g_wall = max(m.g_xy_mpa[WALL], m.g_xz_mpa[WALL])
    return np.asarray(g_wall * thin * (1.0 - 0.324 * (thin / thick) ** 2) / np.maximum(s.gj_nmm2, 1e-9))
