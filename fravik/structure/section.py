"""Sections of a printed part read off its zone field: stiffness, mass, row tables for shear, and extents for stress.

At every station each layer is a strip; the crossings of its boundary with the station's plane give the exact area and
moments of wall, skin and core there, with no drawing of the section in between. Section axes: y across, z up.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats, Region, ZoneField

from .printed import PrintedMaterial
from .torsion import torsion_stiffness

END_ROWS = 40
TORSION_ROWS, TORSION_COLS = 12, 18


@dataclass(frozen=True)
class Crossings:
    """Where region boundaries cross the stations: row, station, coordinate in the row, +1 upper end or -1 lower end."""

    row: NDArray[np.int64]
    station: NDArray[np.int64]
    value: Floats
    sign: Floats


@dataclass(frozen=True)
class RowTables:
    """Strips of a part's sections before any material is chosen.

    ``moments`` (3 regions, 3 powers, rows, stations): integrals of 1, v, v^2 along each strip of outer, inner, core.
    ``across_rows`` is "z" when strips are stacked upwards and v is y, "y" when stacked sideways and v is z.
    """

    stations_mm: Floats
    rows_mm: Floats
    pitch_mm: float
    across_rows: str
    moments: Floats
    crossings: tuple[Crossings, Crossings, Crossings]
    low_mm: Floats
    high_mm: Floats

    @cached_property
    def zone_sums(self) -> dict[str, Floats]:
        """Area and moments of wall, skin and core at each station, (3, stations): a, v, vv in the row, r, rr across rows."""
        r, dr = self.rows_mm[:, None], self.pitch_mm
        zones = np.stack([self.moments[0] - self.moments[1], self.moments[1] - self.moments[2], self.moments[2]])
        width = zones[:, 0]
        return {
            "a": width.sum(axis=1) * dr,
            "v": zones[:, 1].sum(axis=1) * dr,
            "vv": zones[:, 2].sum(axis=1) * dr,
            "r": (width * r).sum(axis=1) * dr,
            "rr": (width * (r * r + dr * dr / 12)).sum(axis=1) * dr,
        }

    def zone_widths(self) -> Floats:
        """Strip width of wall, skin, core, shape (3, rows, stations)."""
        w = self.moments[:, 0]
        return np.stack([w[0] - w[1], w[1] - w[2], w[2]])


def _cross_lines(region: Region, stations: Floats, axis: int, sign: float) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats, Floats]:
    """Crossings of every slice with lines axis = station: (slice, station index, other coordinate, sign)."""
    p, q = region.start[:, axis], region.end[:, axis]
    hit = (p[:, None] <= stations) != (q[:, None] <= stations)
    e, s = np.nonzero(hit)
    t = (stations[s] - p[e]) / (q[e] - p[e])
    o = 1 - axis
    value = region.start[e, o] + t * (region.end[e, o] - region.start[e, o])
    return region.slice_of_edge[e], s.astype(np.int64), value, np.where(q[e] > p[e], -1.0, 1.0) * sign


def _along_layers(region: Region, stations: Floats, flip: float) -> Crossings:
    """Rows are layers; the part's x axis lies in the layer."""
    owner, s, value, sign = _cross_lines(region, stations, 0, 1.0)
    # spread each slice's crossings over all the layers that share it
    order = np.argsort(owner, kind="stable")
    owner, s, value, sign = owner[order], s[order], value[order], sign[order]
    begin = np.searchsorted(owner, np.arange(region.slices))
    count = np.bincount(owner, minlength=region.slices)
    per_layer = count[region.slice_of_layer]
    row = np.repeat(np.arange(len(region.slice_of_layer)), per_layer)
    offset = np.arange(len(row)) - np.repeat(np.cumsum(per_layer) - per_layer, per_layer)
    take = np.repeat(begin[region.slice_of_layer], per_layer) + offset
    return Crossings(row, s[take], flip * value[take], flip * sign[take])


def _standing(region: Region, layer_of_station: NDArray[np.int64], rows: Floats) -> Crossings:
    """The part stands on end: each station lies in one layer, cut here into rows of constant z."""
    owner, r, value, sign = _cross_lines(region, rows, 1, -1.0)
    slice_of_station = region.slice_of_layer[layer_of_station]
    hit = owner[:, None] == slice_of_station[None, :]
    e, s = np.nonzero(hit)
    return Crossings(r[e], s.astype(np.int64), value[e], sign[e])


def row_tables(field: ZoneField, stations_mm: Floats) -> RowTables:
    """Strips of the sections at the stations (part x, mm)."""
    axis = field.stack_axis
    regions = (field.outer, field.inner, field.core)
    corners = np.stack([field.low_mm, field.high_mm]) @ field.rotation
    low, high = corners.min(axis=0), corners.max(axis=0)
    if axis == 0:
        rows = low[2] + (high[2] - low[2]) * (np.arange(END_ROWS) + 0.5) / END_ROWS
        pitch = float(high[2] - low[2]) / END_ROWS
        near = np.clip(np.searchsorted(field.heights_mm, stations_mm), 0, len(field.heights_mm) - 1)
        cross = [_standing(r, near, rows) for r in regions]
    else:
        rows, pitch = field.heights_mm, field.pitch_mm
        flip = 1.0 if axis == 2 else -1.0
        cross = [_along_layers(r, stations_mm, flip) for r in regions]
    shape = (len(rows), len(stations_mm))
    moments = np.zeros((3, 3, *shape))
    for i, c in enumerate(cross):
        flat = c.row * shape[1] + c.station
        for power in range(3):
            weight = c.sign * c.value ** (power + 1) / (power + 1)
            moments[i, power] = np.bincount(flat, weight, shape[0] * shape[1]).reshape(shape)
    return RowTables(stations_mm, rows, pitch, "y" if axis == 1 else "z", moments, (cross[0], cross[1], cross[2]), low, high)


@dataclass(frozen=True)
class CarbonLine:
    """A carbon profile along the part: where its axis lies in the section and what it adds there, per station."""

    y_mm: float
    z_mm: float
    area_mm2: Floats
    i_up_mm4: Floats
    i_side_mm4: Floats
    j_mm4: float
    half_height_mm: float
    half_width_mm: float
    perimeter_mm: float
    entry_mm: float
    modulus_mpa: float
    shear_mpa: float
    strength_mpa: float
    bond_mpa: float
    mass_per_mm_g: Floats


@dataclass(frozen=True)
class SectionLine:
    """Section constants along a part; every array has shape (stations,). Units N, mm, tonne."""

    stations_mm: Floats
    ea_n: Floats
    ei_up_nmm2: Floats
    ei_side_nmm2: Floats
    gj_nmm2: Floats
    ga_up_n: Floats
    ga_side_n: Floats
    y_c_mm: Floats
    z_c_mm: Floats
    mass_per_mm_t: Floats
    polar_t_mm: Floats
    core_share: Floats


def section_line(
    tables: RowTables, material: PrintedMaterial, density_t_mm3: float, carbon: tuple[CarbonLine, ...], gj: Floats
) -> SectionLine:
    """Transformed-section sums of the strips with one material, plus carbon; ``gj`` comes from ``torsion_line``."""
    e = np.array(material.e_mpa)
    sums = tables.zone_sums
    names = ("v", "r", "vv", "rr") if tables.across_rows == "z" else ("r", "v", "rr", "vv")
    weigh = {k: e @ sums[k] for k in sums}
    ea, ey, ez, eyy, ezz = weigh["a"], *(weigh[n] for n in names)
    core_part = e[2] * sums[names[3]][2]
    mass = np.array([1.0, 1.0, material.core_share]) * density_t_mm3
    m = mass @ sums["a"]
    polar = mass @ (sums["vv"] + sums["rr"])
    first_y, first_z = mass @ sums[names[0]], mass @ sums[names[1]]
    for c in carbon:
        stiff = c.modulus_mpa * c.area_mm2
        ea = ea + stiff
        ey, ez = ey + stiff * c.y_mm, ez + stiff * c.z_mm
        eyy = eyy + stiff * c.y_mm**2 + c.modulus_mpa * c.i_side_mm4
        ezz = ezz + stiff * c.z_mm**2 + c.modulus_mpa * c.i_up_mm4
        gm = c.mass_per_mm_g * 1e-6
        m = m + gm
        polar = polar + gm * (c.y_mm**2 + c.z_mm**2 + c.half_height_mm**2 / 2)
        first_y, first_z = first_y + gm * c.y_mm, first_z + gm * c.z_mm
        gj = gj + c.shear_mpa * c.j_mm4 * (c.area_mm2 > 0)
    safe = np.maximum(ea, 1e-9)
    y_c, z_c = ey / safe, ez / safe
    ei_up, ei_side = ezz - ea * z_c**2, eyy - ea * y_c**2
    ga_xz = np.array(material.g_xz_mpa) @ sums["a"] * 5 / 6
    ga_xy = np.array(material.g_xy_mpa) @ sums["a"] * 5 / 6
    polar = polar - (first_y**2 + first_z**2) / np.maximum(m, 1e-30)
    return SectionLine(
        tables.stations_mm, ea, ei_up, ei_side, gj, ga_xz, ga_xy, y_c, z_c, m, polar,
        core_part / np.maximum(ezz, 1e-9),
    )  # fmt: skip


def torsion_line(tables: RowTables, material: PrintedMaterial) -> Floats:
    """GJ of the printed zones at every station, N mm2.

    A few stations of every run of like sections are solved; between them GJ follows the ratio of GJ to
    4 G Ip1 Ip2 / (Ip1 + Ip2), which is constant for ellipses and nearly so along a taper.
    """
    g_v, g_r = np.array(material.g_xy_mpa), np.array(material.g_xz_mpa)
    if tables.across_rows == "y":
        g_v, g_r = g_r, g_v
    count = len(tables.stations_mm)
    area = tables.moments[0, 0].sum(axis=0)
    proxy, kind = _torsion_proxy(tables, g_v), _run_keys(tables)
    grids = _Painter(tables)
    out = np.zeros(count)
    start = 0
    while start < count:
        stop = start
        while stop + 1 < count and kind[stop + 1] == kind[start]:
            stop += 1
        picks = sorted({start, stop} | ({(start + stop) // 2} if stop - start > 5 else set()))
        solved = []
        for s in picks:
            if area[s] <= 0:
                solved.append(0.0)
                continue
            v_edges, r_edges, share = grids.paint(s, TORSION_ROWS, TORSION_COLS)
            gj = torsion_stiffness(v_edges, r_edges, np.tensordot(g_v, share, 1), np.tensordot(g_r, share, 1))
            solved.append(gj / max(proxy[s], 1e-12))
        run = np.arange(start, stop + 1)
        out[run] = np.interp(run, picks, solved) * proxy[run]
        start = stop + 1
    return out


def _torsion_proxy(tables: RowTables, g: Floats) -> Floats:
    zones = np.stack([tables.moments[0] - tables.moments[1], tables.moments[1] - tables.moments[2], tables.moments[2]])
    w = np.tensordot(g, zones, 1)
    r = tables.rows_mm[:, None]
    a, sv, sr = w[0].sum(axis=0), w[1].sum(axis=0), (w[0] * r).sum(axis=0)
    a = np.maximum(a, 1e-12)
    iv = w[2].sum(axis=0) - sv**2 / a
    ir = (w[0] * r * r).sum(axis=0) - sr**2 / a
    return np.asarray(4 * iv * ir / np.maximum(iv + ir, 1e-12))


def _run_keys(tables: RowTables) -> list[tuple[int, int]]:
    """What a section must share with its neighbour for torsion to vary smoothly: its number of edges, and a steady area."""
    outer = tables.crossings[0]
    edges = np.bincount(outer.station, minlength=len(tables.stations_mm)) // np.maximum((tables.moments[0, 0] > 1e-9).sum(axis=0), 1)
    area = tables.moments[0, 0].sum(axis=0)
    step = np.abs(np.diff(area, prepend=area[0])) > 0.12 * area
    group = np.cumsum(step)
    return [(int(e), int(k)) for e, k in zip(edges, group, strict=True)]


class _Painter:
    """Paints sections on grids; crossings are sorted by station once."""

    def __init__(self, tables: RowTables) -> None:
        self.tables = tables
        self.sorted: list[tuple[Crossings, NDArray[np.int64]]] = []
        for c in tables.crossings:
            order = np.argsort(c.station, kind="stable")
            ordered = Crossings(c.row[order], c.station[order], c.value[order], c.sign[order])
            self.sorted.append((ordered, np.searchsorted(ordered.station, np.arange(len(tables.stations_mm) + 1))))

    def paint(self, station: int, rows: int, cols: int) -> tuple[Floats, Floats, Floats]:
        """One section on a grid: (v edges, row edges, share of wall, skin, core in each cell (3, rows, cols))."""
        t = self.tables
        used = np.nonzero(t.moments[0, 0, :, station] > 1e-9)[0]
        first, last = int(used[0]), int(used[-1]) + 1
        layers = last - first
        rows = max(2, min(rows, layers))
        group = (np.arange(layers) * rows) // layers
        outer, at = self.sorted[0]
        here = outer.value[at[station] : at[station + 1]]
        v_edges = np.linspace(here.min(), here.max(), cols + 1)
        starts = np.concatenate([np.searchsorted(group, np.arange(rows)), [layers]])
        r_edges = t.rows_mm[0] - t.pitch_mm / 2 + (starts + first) * t.pitch_mm
        cover = np.empty((3, rows, cols + 1))
        width = cols + 1
        for i, (c, at) in enumerate(self.sorted):
            span = slice(at[station], at[station + 1])
            row, value, sign = c.row[span] - first, c.value[span], c.sign[span]
            keep = (row >= 0) & (row < layers)
            reach = np.minimum(value[keep, None], v_edges) * sign[keep, None]
            flat = group[row[keep]][:, None] * width + np.arange(width)
            cover[i] = np.bincount(flat.ravel(), reach.ravel(), rows * width).reshape(rows, width)
        share = np.diff(cover, axis=2) / (v_edges[1] - v_edges[0]) / np.diff(starts)[:, None]
        share[0] -= share[1]
        share[1] -= share[2]
        return v_edges, r_edges, np.clip(share, 0.0, 1.0)
