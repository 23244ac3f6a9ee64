"""An arm or a leg as a clamped beam: stations, sections, unit-load answers and modes at one corner of the material.

The root is held by the plates. Clamping is not perfect: the tongue gives as if the beam were longer by
``CLAMP_SHARE`` of its height at the root. The plates themselves are taken as rigid.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace

import numpy as np

from fravik.library import carbon_stock
from fravik.model.material import CarbonStock, Corner, Filament
from fravik.model.recipe import Carbon, Recipe
from fravik.model.shapes import ArmShape, LegShape
from fravik.printing.zones import Floats, ZoneField
from fravik.shape.arm import bore_places, pocket_spans

from .beams import BeamLine, TipBody, UnitResponses, assemble, assemble_stiffness, modes, name_mode, unit_responses
from .printed import PrintedMaterial, printed_material
from .section import CarbonLine, RowTables, SectionLine, row_tables, section_line, torsion_line

CLAMP_SHARE = 0.5
GLUE_SHEAR_MPA = 500.0
LOADS = ("tip_x", "tip_y", "tip_z", "tip_twist", "up_accel")
MODE_COUNT = 5
CORNERS: tuple[Corner, Corner, Corner] = ("typical", "low", "high")


@dataclass(frozen=True)
class Member:
    """Geometry of a beam-like part, before material: nodes, mid-element stations and their strips."""

    shape: ArmShape | LegShape
    length_mm: float
    nodes_mm: Floats
    tables: RowTables
    extents: Floats
    overhang_mass_t: float
    carbon: tuple[CarbonLine, ...]
    nominal: np.ndarray

    @property
    def stations_mm(self) -> Floats:
        """Mid-element stations."""
        return self.tables.stations_mm


@dataclass(frozen=True)
class MemberAnswer:
    """A member solved at one corner of its material. Frequencies Hz; shapes ((n+2)*6, modes) with the clamp first."""

    corner: Corner
    material: PrintedMaterial
    section: SectionLine
    units: UnitResponses
    compliance: Floats
    freqs_hz: Floats
    shapes: Floats
    mode_names: tuple[str, ...]
    carbon: tuple[CarbonLine, ...] = ()


def member_nodes(shape: ArmShape | LegShape, length_mm: float) -> Floats:
    """Element ends: geometry breaks (fillet end, pocket ends, pad edge) subdivided to about 1/20 of the length."""
    fillet = min(shape.root_fillet_mm, 0.3 * length_mm)
    breaks = {0.0, fillet, length_mm}
    if isinstance(shape, ArmShape):
        breaks.add(max(length_mm - shape.pad_diameter_mm / 2, 0.5 * length_mm))
        for x0, x1 in pocket_spans(shape, length_mm):
            breaks.update(x for x in (x0, x0 + 2, x1 - 2, x1) if 0 < x < length_mm)
    points = sorted(breaks)
    merged = [points[0]]
    for p in points[1:]:
        if p - merged[-1] > 0.4:
            merged.append(p)
    merged[-1] = length_mm
    step = length_mm / 20
    out = [merged[0]]
    for a, b in itertools.pairwise(merged):
        pieces = max(1, math.ceil((b - a) / step))
        out.extend(a + (b - a) * (i + 1) / pieces for i in range(pieces))
    return np.array(out)


def carbon_lines(shape: ArmShape, carbon: Carbon, length_mm: float, stations_mm: Floats, corner: Corner) -> list[CarbonLine]:
    """Carbon profiles as seen by the section: stiffness enters over a few entry lengths at each end (shear lag)."""
    stock = carbon_stock(carbon.stock)
    area, i_up, i_side, j, half_h, half_w, perimeter = _profile(stock)
    e = stock.modulus_mpa.at(corner)
    entry = math.sqrt(e * area * carbon.adhesive_gap_mm / (GLUE_SHEAR_MPA * perimeter))
    inside = (stations_mm > carbon.start_mm) & (stations_mm < carbon.end_mm)
    depth = np.minimum(stations_mm - carbon.start_mm, carbon.end_mm - stations_mm)
    share = np.where(inside, 1.0 - np.exp(-np.maximum(depth, 0.0) / entry), 0.0)
    mass = np.where(inside, area * stock.density_g_cm3 * 1e-3, 0.0)
    return [
        CarbonLine(
            y, z, area * share, i_up * share, i_side * share, j, half_h, half_w, perimeter, entry, e,
            stock.shear_mpa.at(corner), stock.strength_mpa.at(corner), carbon.bond_strength_mpa, mass,
        )
        for y, z in bore_places(shape, carbon, stock, length_mm)
    ]  # fmt: skip


def _profile(stock: CarbonStock) -> tuple[float, float, float, float, float, float, float]:
    if stock.form == "strip":
        w, t = stock.outer_mm, stock.thickness_mm
        return w * t, w * t**3 / 12, t * w**3 / 12, w * t**3 / 3, t / 2, w / 2, w + 2 * t
    ro, ri = stock.outer_mm / 2, stock.inner_mm / 2
    i = math.pi / 4 * (ro**4 - ri**4)
    return math.pi * (ro**2 - ri**2), i, i, 2 * i, ro, ro, 2 * math.pi * ro


def carbon_mass_g(carbon: Carbon | None) -> float:
    """Grams of carbon in one part (glue apart)."""
    if carbon is None:
        return 0.0
    stock = carbon_stock(carbon.stock)
    return _profile(stock)[0] * stock.density_g_cm3 * 1e-3 * max(carbon.end_mm - carbon.start_mm, 0.0) * carbon.count


def carbon_price(carbon: Carbon | None) -> float:
    """Price of the carbon in one part."""
    if carbon is None:
        return 0.0
    return carbon_stock(carbon.stock).price_per_m * 1e-3 * max(carbon.end_mm - carbon.start_mm, 0.0) * carbon.count


def _extents(tables: RowTables) -> Floats:
    """(y min, y max, z min, z max) of wall, skin, core at each station; shape (3, 4, stations), NaN where absent."""
    count = len(tables.stations_mm)
    out = np.full((3, 4, count), np.nan)
    widths = tables.zone_widths()
    half = tables.pitch_mm / 2
    order = (0, 1, 2, 3) if tables.across_rows == "z" else (2, 3, 0, 1)
    for zone in range(3):
        c = tables.crossings[zone]
        lo, hi = np.full(count, np.inf), np.full(count, -np.inf)
        np.minimum.at(lo, c.station, c.value)
        np.maximum.at(hi, c.station, c.value)
        there = widths[zone] > 0.02
        some = there.any(axis=0) & np.isfinite(lo)
        first = np.argmax(there, axis=0)
        last = there.shape[0] - 1 - np.argmax(there[::-1], axis=0)
        rows = tables.rows_mm
        values = (lo, hi, rows[first] - half, rows[last] + half)
        for slot, v in zip(order, values, strict=True):
            out[zone, slot] = np.where(some, v, np.nan)
    return out


def build_member(shape: ArmShape | LegShape, length_mm: float, carbon: Carbon | None, field: ZoneField,
                 overhang_mass_t: float) -> Member:  # fmt: skip
    """Lay stations along the part and read its sections off the zone field.

    Raises ValueError where nothing is left of the section.
    """
    nodes = member_nodes(shape, length_mm)
    mids = (nodes[1:] + nodes[:-1]) / 2
    tables = row_tables(field, mids)
    area = tables.moments[0, 0].sum(axis=0) * tables.pitch_mm
    if (area < 1.0).any():
        at = float(mids[int(np.argmin(area))])
        raise ValueError(f"Nothing is left of the section at {at:.0f} mm.")
    # stress in a fillet is quoted on the narrow section beyond it, under the local load
    beyond = int(np.searchsorted(mids, min(shape.root_fillet_mm, 0.3 * length_mm)))
    nominal = np.arange(len(mids))
    nominal[:beyond] = min(beyond, len(mids) - 1)
    lines: tuple[CarbonLine, ...] = ()
    if carbon is not None and isinstance(shape, ArmShape):
        lines = tuple(carbon_lines(shape, carbon, length_mm, mids, "typical"))
    return Member(shape, length_mm, nodes, tables, _extents(tables), overhang_mass_t, lines, nominal)


def _mean_shear(material: PrintedMaterial) -> float:
    return 0.5 * (material.g_xy_mpa[0] + material.g_xz_mpa[0])


def solve_member(
    member: Member,
    filament: Filament,
    recipe: Recipe,
    carbon: Carbon | None,
    tip: TipBody | None,
) -> dict[Corner, MemberAnswer]:
    """Sections, unit-load answers and modes of a member at every corner of its material.

    Mode shapes are solved for the typical material. The low and high frequencies are Rayleigh quotients of those shapes:
    the corners change all stiffnesses nearly in proportion, which leaves shapes, and so the quotient, all but exact.
    """
    typical = printed_material(filament, recipe, "typical")
    gj_typical = torsion_line(member.tables, typical)
    if tip is not None:
        tip = replace(tip, mass_t=tip.mass_t + member.overhang_mass_t)
    out: dict[Corner, MemberAnswer] = {}
    width = float(np.nanmax(member.extents[0, 1] - member.extents[0, 0]))
    shapes: Floats | None = None
    names: tuple[str, ...] = ()
    for corner in CORNERS:
        material = typical if corner == "typical" else printed_material(filament, recipe, corner)
        gj = gj_typical * (_mean_shear(material) / _mean_shear(typical))
        lines: tuple[CarbonLine, ...] = ()
        if carbon is not None and isinstance(member.shape, ArmShape):
            lines = tuple(carbon_lines(member.shape, carbon, member.length_mm, member.stations_mm, corner))
        section = section_line(member.tables, material, filament.density_g_cm3.typical * 1e-9, lines, gj)
        if shapes is None:
            k, m, ke = assemble(_beam(member, section), tip)
            loads = _unit_loads(m)
            freqs, shapes = modes(k, m, MODE_COUNT)
            names = _ordinals([name_mode(shapes[:, i], width) for i in range(shapes.shape[1])])
        else:
            # all corners weigh the same, so mass and loads are those of the typical one
            k, ke = assemble_stiffness(_beam(member, section))
            ratio = np.einsum("ij,ij->j", shapes, k @ shapes) / np.einsum("ij,ij->j", shapes, m @ shapes)
            freqs = np.sqrt(ratio) / (2 * np.pi)
        units = unit_responses(k, ke, loads)
        out[corner] = MemberAnswer(corner, material, section, units, units.tip[:3, :3], freqs, shapes, names, lines)
    return out


def _unit_loads(mass: Floats) -> Floats:
    """Columns of LOADS: unit forces and torque at the tip, and a unit upward acceleration field."""
    loads = np.zeros((len(mass), len(LOADS)))
    for col, dof in enumerate((-6, -5, -4, -3)):
        loads[dof, col] = 1.0
    up = np.zeros(len(mass))
    up[2::6] = 1.0
    loads[:, 4] = mass @ up
    return loads


def _ordinals(names: list[str]) -> tuple[str, ...]:
    """Tell repeated names apart: 'vertical bending', 'second vertical bending', and so on."""
    words = ("", "second ", "third ", "fourth ", "fifth ")
    return tuple(words[min(names[:i].count(n), 4)] + n for i, n in enumerate(names))


def _beam(member: Member, s: SectionLine) -> BeamLine:
    # the first element stands for the give of the clamp
    clamp = CLAMP_SHARE * float(member.extents[0, 3, 0] - member.extents[0, 2, 0])
    nodes = np.concatenate([[-clamp], member.nodes_mm])

    def grow(a: Floats, light: bool = False) -> Floats:
        return np.concatenate([[0.0 if light else a[0]], a])

    return BeamLine(
        nodes, grow(s.ea_n), grow(s.ei_up_nmm2), grow(s.ei_side_nmm2), grow(s.gj_nmm2), grow(s.ga_up_n), grow(s.ga_side_n),
        grow(s.mass_per_mm_t, True), grow(s.polar_t_mm, True),
    )  # fmt: skip
