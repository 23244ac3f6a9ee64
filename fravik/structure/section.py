"""Section constants along a part: transformed-section sums of the strips, carbon and facings, and the section finite elements."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .inserts import Insert
from .paint import Painted, paint
from .printed import PrintedMaterial
from .rails import Divided, divided_sections, solve_filled
from .rows import RowTables
from .sectionfe import Grids, SectionFE

REACH = 2


@dataclass(frozen=True)
class SectionLine:
    """Section constants along a part; every array has shape (positions,). Units N, mm, tonne.

    ``c`` is the stiffness-weighted middle, ``s`` the shear centre. ``ei_cross`` couples bending up and sideways.
    ``give_`` is how much more a run of sections in pieces bends than they do by themselves; stress follows the sections alone.
    """

    positions_mm: Floats
    ea_n: Floats
    ei_up_nmm2: Floats
    ei_side_nmm2: Floats
    ei_cross_nmm2: Floats
    gj_nmm2: Floats
    ga_up_n: Floats
    ga_side_n: Floats
    y_c_mm: Floats
    z_c_mm: Floats
    y_s_mm: Floats
    z_s_mm: Floats
    mass_per_mm_t: Floats
    polar_t_mm: Floats
    core_share: Floats
    give_up: Floats
    give_side: Floats

    @cached_property
    def mass_t(self) -> float:
        """Mass of all of it."""
        return float(np.trapezoid(self.mass_per_mm_t, self.positions_mm))

    @property
    def principal_rad(self) -> Floats:
        """Angle from y to the first principal axis at every position."""
        return np.asarray(0.5 * np.arctan2(2 * self.ei_cross_nmm2, self.ei_side_nmm2 - self.ei_up_nmm2))


@dataclass(frozen=True)
class SectionBasis:
    """Section finite elements at the typical material, from which every corner's constants follow.

    Along a taper one section in five is solved. ``of`` (S,) tells which solved section stands for a position; the ``stretch`` of
    v and r and the ``ease`` of twist, shear along v and shear along r (3, S) carry its answers over by proportion.
    """

    painted: Painted
    grids: Grids
    fe: SectionFE
    shear_scale_mpa: float
    of: NDArray[np.int64]
    stretch_v: Floats
    stretch_r: Floats
    ease: Floats
    answer: Divided


def moduli(painted: Painted, material: PrintedMaterial, inserts: tuple[Insert, ...]) -> Grids:
    """Painted shares to moduli in every cell; inserts count by how much of their stiffness has entered."""
    share = painted.share
    each = [material.e_mpa, material.g_v_mpa, material.g_r_mpa]
    e, gv, gr = (np.einsum("zs...,zs->s...", share[:3], np.broadcast_to(m, (3, share.shape[1]))) for m in each)
    for k, i in enumerate(inserts):
        there = share[3 + k] * i.share[:, None, None]
        e, gv, gr = e + i.modulus_mpa * there, gv + i.shear_mpa * there, gr + i.shear_mpa * there
    return Grids(painted.v_mm, painted.r_mm, e, gv, gr)


def section_basis(tables: RowTables, material: PrintedMaterial, inserts: tuple[Insert, ...]) -> SectionBasis:
    """Paint and solve the sections. Runs of sections in pieces are put right by ``rails``."""
    size = _sizes(tables, material)
    picks, of = _representatives(tables, size, inserts)
    some = tables.take(picks)
    chosen = tuple(_insert_at(i, picks) for i in inserts)
    painted = paint(some, chosen)
    grids = moduli(painted, material_at(material, picks), chosen)
    fe, filled = solve_filled(grids)
    ratio = {k: x / np.maximum(x[picks][of], 1e-12) for k, x in size.items()}
    gj, flex_v, flex_r = fe.gj_nmm2[of] * ratio["twist"], fe.flex_v[of] / ratio["shear"], fe.flex_r[of] / ratio["shear"]
    # shear strain is twist times a thickness, or force over area
    ease = np.stack([np.minimum(ratio["v"], ratio["r"]) / ratio["twist"], 1 / ratio["shear"], 1 / ratio["shear"]])
    cut = divided_sections(tables.positions_mm, fe, filled, of, gj, flex_v, flex_r)
    return SectionBasis(
        painted, grids, fe, material.shear_scale_mpa, of, ratio["v"], ratio["r"], ease, cut
    )  # fmt: skip


def _sizes(tables: RowTables, material: PrintedMaterial) -> dict[str, Floats]:
    """What neighbouring sections are compared by: width, height, shear stiffness, and 4 G I1 I2 / (I1 + I2) for twist."""
    sums, n = tables.zone_sums, len(tables.positions_mm)
    g = np.broadcast_to(0.5 * (material.g_v_mpa + material.g_r_mpa), (3, n))
    a, y, z, yy, zz = ((g * sums[k]).sum(axis=0) for k in ("a", "y", "z", "yy", "zz"))
    safe = np.maximum(a, 1e-12)
    iy, iz = yy - y * y / safe, zz - z * z / safe
    ends = tables.strip_ends
    used = tables.moments[0, 0] > 1e-9
    width = np.nanmax(np.where(used, ends[1], np.nan), axis=0) - np.nanmin(np.where(used, ends[0], np.nan), axis=0)
    height = used.sum(axis=0) * tables.pitch_mm
    return {"v": width, "r": height, "shear": safe, "twist": np.maximum(4 * iy * iz / np.maximum(iy + iz, 1e-12), 1e-12)}


def _representatives(
    tables: RowTables, size: dict[str, Floats], inserts: tuple[Insert, ...]
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Positions to solve, and which of them stands for each position: in a run of like sections one in five."""
    n = len(tables.positions_mm)
    ends = tables.crossings[0]
    edges = np.bincount(ends.position, minlength=n) / np.maximum((tables.moments[0, 0] > 1e-9).sum(axis=0), 1)
    jump = np.abs(np.diff(size["shear"], prepend=size["shear"][0])) > 0.09 * size["shear"]
    jump |= np.abs(np.diff(edges, prepend=edges[0])) > 0.05
    jump |= np.abs(np.diff(tables.beta_rad, prepend=tables.beta_rad[0])) > 1e-6
    if len(tables.frames) and not np.allclose(tables.frames, tables.frames[0]):
        jump[:] = True
    for i in inserts:
        jump |= np.abs(np.diff(i.share * (i.area_mm2 > 0), prepend=0.0)) > 0.02
    run = np.cumsum(jump)
    here = np.arange(n)
    first = np.maximum.accumulate(np.where(np.r_[True, np.diff(run) > 0], here, 0))
    long = np.bincount(run, minlength=run[-1] + 1)[run]
    # a run is shared out among as few solved sections as leave none of its positions more than REACH away
    shares = -(-long // (2 * REACH + 1))
    share = (here - first) * shares // long
    low, high = first + -(-share * long // shares), first + -(-(share + 1) * long // shares)
    stands = (low + high - 1) // 2
    picks, of = np.unique(stands, return_inverse=True)
    return picks, of


def _insert_at(i: Insert, index: NDArray[np.int64]) -> Insert:
    arrays = ("y_mm", "z_mm", "width_mm", "height_mm", "area_mm2", "share", "bonded_mm")
    return replace(i, **{k: getattr(i, k)[index] for k in arrays})


def material_at(m: PrintedMaterial, index: NDArray[np.int64]) -> PrintedMaterial:
    """The material at some positions only."""
    if m.e_mpa.shape[1] == 1:
        return m
    return replace(m, e_mpa=m.e_mpa[:, index], g_v_mpa=m.g_v_mpa[:, index], g_r_mpa=m.g_r_mpa[:, index], to_zone=m.to_zone[:, index])


def section_line(
    tables: RowTables, material: PrintedMaterial, density_t_mm3: float, inserts: tuple[Insert, ...], basis: SectionBasis
) -> SectionLine:
    """Constants at one corner of the material; torsion and shear scale from the typical ones with the shear moduli."""
    sums = tables.zone_sums
    n = len(tables.positions_mm)
    e = np.broadcast_to(material.e_mpa, (3, n))
    ea, ey, ez, eyy, ezz, eyz = ((e * sums[k]).sum(axis=0) for k in ("a", "y", "z", "yy", "zz", "yz"))
    core_part = e[2] * sums["zz"][2]
    mass_of = np.array([1.0, 1.0, material.core_share])[:, None] * density_t_mm3
    weighed = (tables.weighed_by or tables).zone_sums
    m, my, mz, myy, mzz = ((mass_of * weighed[k]).sum(axis=0) for k in ("a", "y", "z", "yy", "zz"))
    for i in inserts:
        stiff = i.modulus_mpa * i.area_mm2 * i.share
        own = i.modulus_mpa * i.share * (i.area_mm2 > 0)
        ea, ey, ez = ea + stiff, ey + stiff * i.y_mm, ez + stiff * i.z_mm
        eyy, ezz = eyy + stiff * i.y_mm**2 + own * i.own_side_mm4, ezz + stiff * i.z_mm**2 + own * i.own_up_mm4
        eyz = eyz + stiff * i.y_mm * i.z_mm
        grams = i.area_mm2 * i.density_g_cm3 * 1e-9
        m, my, mz = m + grams, my + grams * i.y_mm, mz + grams * i.z_mm
        myy, mzz = myy + grams * i.y_mm**2, mzz + grams * i.z_mm**2
    safe = np.maximum(ea, 1e-9)
    y_c, z_c = ey / safe, ez / safe
    fe, scale = basis.fe, material.shear_scale_mpa / basis.shear_scale_mpa
    c, s = np.cos(tables.beta_rad), np.sin(tables.beta_rad)
    cut = basis.answer
    flex_side, flex_up = c * c * cut.flex_v + s * s * cut.flex_r, s * s * cut.flex_v + c * c * cut.flex_r
    give_side, give_up = c * c * cut.give_v + s * s * cut.give_r, s * s * cut.give_v + c * c * cut.give_r
    off_v, off_r = fe.centre_v_mm - fe.middle_v_mm, fe.centre_r_mm - fe.middle_r_mm
    off_v, off_r = off_v[basis.of] * basis.stretch_v, off_r[basis.of] * basis.stretch_r
    ei_up, ei_side = ezz - ea * z_c**2, eyy - ea * y_c**2
    return SectionLine(
        tables.positions_mm, ea, ei_up, ei_side, eyz - ea * y_c * z_c, cut.gj_nmm2 * scale,
        scale / np.maximum(flex_up, 1e-12), scale / np.maximum(flex_side, 1e-12), y_c, z_c,
        y_c + c * off_v - s * off_r, z_c + s * off_v + c * off_r,
        m, myy + mzz - (my**2 + mz**2) / np.maximum(m, 1e-30), core_part / np.maximum(ezz, 1e-9), give_up, give_side,
    )  # fmt: skip
