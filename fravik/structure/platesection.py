"""What a plate is worth per mm of its width: bending and stretching, from the strips of its sections, its facings and its ribs."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fravik.model.material import Corner, Filament
from fravik.model.recipe import Facing, Recipe
from fravik.printing.zones import Floats

from .beams import rectangle_torsion_mm4
from .inserts import facing_inserts
from .printed import CORE, COVER, WALL, covers_over_core, printed_material, zone_elastics
from .rows import RowTables


@dataclass(frozen=True)
class Ribs:
    """Even ribs on one face of a plate: of how much plate each stands, for those along it and those across it (0 where none run); for a
    ``share`` of their way they are unbroken."""

    width_mm: float
    height_mm: float
    pitches_mm: tuple[float, float]
    share: float


@dataclass(frozen=True)
class PlateForm:
    """What a plate has beyond its even thickness: ribs, and the share of it that a fine grid of holes takes."""

    ribs: Ribs | None = None
    holed: float = 0.0


@dataclass(frozen=True)
class PlateSection:
    """Stiffness of the plate where it is whole, per mm of width: bending D and stretching A, each (xx, yy, xy, twist or shear).

    ``reach_mm`` is how far its own faces are at most from the middle of what bends along and across it, half the thickness without ribs;
    ``tips_mm`` how far the ribs' tips are, 0 where none runs that way.
    """

    d_nmm: tuple[float, float, float, float]
    a_n_mm: tuple[float, float, float, float]
    thickness_mm: float
    mid_z_mm: float
    cover_share: float
    reach_mm: tuple[float, float] | None = None
    tips_mm: tuple[float, float] = (0.0, 0.0)

    @property
    def reaches_mm(self) -> tuple[float, float, float]:
        """How far its faces are from the middle of what bends along and across, and of twist."""
        half = self.thickness_mm / 2
        return (*(self.reach_mm or (half, half)), half)


@dataclass(frozen=True)
class _PerWidth:
    """What a plate's strips hold per mm of its whole width, by zone (3,): area, and its first and second moments in z; and its faces."""

    area: Floats
    z: Floats
    zz: Floats
    covers: float
    box_mm: Floats

    @staticmethod
    def of(tables: RowTables) -> _PerWidth:
        """All sections together."""
        sums, box = tables.zone_sums, tables.extents
        width = np.maximum(sums["a"].sum(axis=0) / np.maximum(box[3] - box[2], 1e-9), 1e-9).sum()
        a, z, zz = (sums[k].sum(axis=1) / width for k in ("a", "z", "zz"))
        return _PerWidth(a, z, zz, covers_over_core(sums["a"]), box)


def plate_sections(
    tables: RowTables, f: Filament, recipe: Recipe, corners: tuple[Corner, ...], facing: Facing | None, ribs: Ribs | None = None
) -> dict[Corner, PlateSection]:
    """Stiffness per mm of whole width at corners of the material, from the strips of all sections together; facings on the faces, and ribs,
    are added."""
    strips = _PerWidth.of(tables)
    frames, flat = np.ascontiguousarray(tables.frames[:1]), abs(float(np.cos(tables.beta_rad[0]))) > 0.7
    plain = {c: _section(strips, frames, flat, f, recipe, c, facing) for c in corners}
    if ribs is None:
        return plain
    return {c: _ribbed(plain[c], ribs, f.e_road_mpa.at(c), f.g_layer_mpa.at(c)) for c in corners}


def _section(
    strips: _PerWidth, frames: Floats, flat: bool, f: Filament, recipe: Recipe, corner: Corner, facing: Facing | None
) -> PlateSection:
    m = printed_material(f, recipe, corner, frames, strips.covers)
    a, z, zz = strips.area, strips.z, strips.zz
    e = m.e_mpa[:, 0]
    mid = float((e * z).sum() / max(float((e * a).sum()), 1e-9))
    (wall, cover, core), _ = zone_elastics(f, recipe, corner)
    across = np.array([wall.e1_mpa, cover.e1_mpa, m.e_mpa[CORE, 0]]) if flat else np.array([wall.e3_mpa, cover.e3_mpa, core.e3_mpa])
    shear = np.array([m.g_v_mpa[k, 0] if flat else m.g_r_mpa[k, 0] for k in (WALL, COVER, CORE)])
    nu = f.poisson
    second = zz - 2 * mid * z + mid * mid * a
    box = strips.box_mm
    thick = float((box[3] - box[2]).max())
    d = [float((k * second).sum()) for k in (e, across)]
    s = [float((k * a).sum()) for k in (e, across)]
    dt, st = float((shear * second).sum()), float((shear * a).sum())
    for i in facing_inserts(facing, box[:, :1], np.zeros(1), f, corner) if facing is not None else []:
        t, share = float(i.height_mm[0]), facing.cover if facing is not None else 0.0
        arm = (float(i.z_mm[0]) - mid) ** 2 + t * t / 12
        d = [v + i.modulus_mpa * t * share * arm for v in d]
        s = [v + i.modulus_mpa * t * share for v in s]
        dt, st = dt + i.shear_mpa * t * share * arm, st + i.shear_mpa * t * share
    k = 1 / (1 - nu * nu)
    covers = float(a[COVER] / max(float(a.sum()), 1e-9))
    return PlateSection(
        (d[0] * k, d[1] * k, nu * min(d) * k, dt), (s[0] * k, s[1] * k, nu * min(s) * k, st), thick, mid, covers,
    )  # fmt: skip


def _ribbed(s: PlateSection, ribs: Ribs, e_mpa: float, g_mpa: float) -> PlateSection:
    """The plate with its ribs smeared over their pitch (Huber): each rib with a pitch of plate bends about their common middle.

    Where ribs are broken the plate is by itself: the gives of both are averaged by the share of their way. Ribs are solid, of roads along
    them; their torsion counts a quarter of both ways' on the plate's twist.
    """
    area, h = ribs.width_mm * ribs.height_mm, ribs.height_mm
    apart = (s.thickness_mm + h) / 2
    d, a, reach, tips = list(s.d_nmm), list(s.a_n_mm), [], []
    for k, pitch in enumerate(ribs.pitches_mm):
        if pitch <= 0:
            reach.append(s.thickness_mm / 2)
            tips.append(0.0)
            continue
        middle = e_mpa * area / pitch * apart / (a[k] + e_mpa * area / pitch)
        whole = d[k] + a[k] * middle**2 + e_mpa / pitch * (area * (apart - middle) ** 2 + ribs.width_mm * h**3 / 12)
        d[k] = 1 / (ribs.share / whole + (1 - ribs.share) / d[k])
        a[k] = 1 / (ribs.share / (a[k] + e_mpa * area / pitch) + (1 - ribs.share) / a[k])
        reach.append(s.thickness_mm / 2 + middle)
        tips.append(s.thickness_mm / 2 + h - middle)
        d[3] += ribs.share * g_mpa * float(rectangle_torsion_mm4(ribs.width_mm, h)) / (4 * pitch)
    return replace(s, d_nmm=(d[0], d[1], s.d_nmm[2], d[3]), a_n_mm=(a[0], a[1], s.a_n_mm[2], s.a_n_mm[3]),
                   reach_mm=(reach[0], reach[1]), tips_mm=(tips[0], tips[1]))  # fmt: skip
