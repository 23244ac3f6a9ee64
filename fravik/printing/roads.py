"""Minutes and grams from roads counted out of the zones.

Wall roads follow the contour, so their length is wall area over line width; covers likewise; that of the core is its area times
its density over line width. Each road is timed with trapezoidal motion between corners. The count replaces real roads: it
knows how many there are and how long, not their order.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.model.material import Filament
from fravik.model.project import Printer

from .mass import zone_volumes
from .toobig import rectangle_fits
from .zones import Floats, ZoneField

# radius of the gyroid's waves over its cell, as it acts on speed: fitted to the settled tier's own motion
GYROID_RADIUS = 0.28
# a core of long chains rather than lines starts and stops this much more seldom
HOP_SHARE = 0.2  # of the part's size: the mean way between contours, from the roads of the demo's parts
HATCH_TURN = 0.5


def segment_seconds(length_mm: Floats, speed_mm_s: Floats | float, accel_mm_s2: float, corner_mm_s: float) -> Floats:
    """Time of straight roads run with trapezoidal motion from and to the corner speed.

    Lengths any shape; returns the same shape. A road too short to reach its speed runs a triangle. Closed form of
    constant-acceleration motion.
    """
    length = np.asarray(length_mm, dtype=np.float64)
    v = np.maximum(np.asarray(speed_mm_s, dtype=np.float64), 1e-6)
    v0 = np.minimum(corner_mm_s, v)
    ramp = (v * v - v0 * v0) / accel_mm_s2
    full = 2 * (v - v0) / accel_mm_s2 + (length - ramp) / v
    peak = np.sqrt(v0 * v0 + accel_mm_s2 * np.maximum(length, 0.0))
    short = 2 * (peak - v0) / accel_mm_s2
    return np.where(length >= ramp, full, short)


@dataclass(frozen=True)
class PrintFigures:
    """Minutes by feature and grams of one part, printed alone, without the batch's warm-up."""

    grams: float
    wall_min: float
    cover_min: float
    core_min: float
    travel_min: float
    road_m: float

    @property
    def minutes(self) -> float:
        """All minutes of the part."""
        return self.wall_min + self.cover_min + self.core_min + self.travel_min


# of a part that no printer makes
UNPRINTED = PrintFigures(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)


def _count(roads: Floats, total: Floats) -> Floats:
    return np.divide(total, roads, out=np.zeros_like(total), where=roads > 1e-9)


def print_figures(field: ZoneField, filament: Filament, printer: Printer) -> PrintFigures:
    """Count and time the roads of one part."""
    r = field.recipe
    lw, lh = r.line_width_mm, r.layer_height_mm
    flow_cap = filament.flow_limit_mm3_s * filament.expansion / (lw * lh)
    accel, corner = printer.acceleration_mm_s2, printer.corner_speed_mm_s
    # a quarter turn keeps corner / sqrt(2); the turn from one line of a hatch into the next keeps half
    bend, back = corner / math.sqrt(2.0), corner * HATCH_TURN
    outer, inner, core = field.outer.areas_mm2(), field.inner.areas_mm2(), field.core.areas_mm2()
    per_sample = field.layer_count / len(field.heights_mm)

    wall_mm = (outer - inner) / lw
    edges = np.maximum(field.outer.corners(), 1.0)
    wall_seg = wall_mm / (edges * r.walls)
    wall_v = min(printer.wall_speed_mm_s, flow_cap)
    wall_accel = (printer.wall_acceleration_mm_s2 + (r.walls - 1) * accel) / r.walls
    # arcs are chains of short chords that need no braking: a chord's own length only counts once it turns a real corner
    real = np.maximum(wall_seg, np.minimum(wall_mm, 12.0))
    wall_s = _count(real, wall_mm) * segment_seconds(real, wall_v, wall_accel, bend)
    loops = field.outer.loops()

    def hop_seconds(length_mm: Floats | float) -> Floats:
        return segment_seconds(np.asarray(length_mm), printer.travel_speed_mm_s, printer.travel_acceleration_mm_s2, back)

    def hatched(length_mm: Floats, area: Floats, perimeter: Floats, speed: float, apart_mm: float) -> tuple[Floats, Floats]:
        mean_line = np.divide(4.0 * area, perimeter, out=np.zeros_like(area), where=perimeter > 1e-9)
        mean_line = np.maximum(mean_line, lw)
        lines = _count(mean_line, length_mm)
        return lines * segment_seconds(mean_line, min(speed, flow_cap), accel, back), lines * hop_seconds(apart_mm)

    cover = np.maximum(inner - core, 0.0)
    cover_s, cover_hops = hatched(cover / lw, cover, field.inner.perimeters_mm(), printer.cover_speed_mm_s, lw)
    core_mm = core * r.core_density / lw
    core_v, apart = printer.core_speed_mm_s, lw / max(r.core_density, 0.05)
    if r.pattern == "gyroid" and r.core_density > 0:
        core_v = min(core_v, math.sqrt(accel * GYROID_RADIUS * 2.4 * lw / r.core_density))
    core_s, core_hops = hatched(core_mm, core, field.core.perimeters_mm(), core_v, apart)

    size = float(np.max(field.high_mm[:2] - field.low_mm[:2]))
    # the walls of one contour follow one another: one way to it, then from wall to wall
    hops = loops + (cover > 1.0) + (core_mm > 1.0)
    lifts = loops + (cover > 1.0)
    travel_s = (
        hops * hop_seconds(HOP_SHARE * size)
        + loops * (r.walls - 1) * hop_seconds(lw)
        + lifts * printer.retract_s
        + cover_hops
        + core_hops
        + printer.layer_change_s
    )
    # the first layer is laid slowly
    slow = 1.0 + (1.0 / printer.first_layer_speed - 1.0) / field.layer_count
    wall_s, cover_s = slow * wall_s, slow * cover_s
    busy = wall_s + cover_s + core_s + travel_s
    travel_s = travel_s + np.maximum(0.0, filament.min_layer_s - busy)

    v = zone_volumes(field)
    plastic = v.wall_mm3 + v.cover_mm3 + v.core_mm3 * r.core_density
    minutes = [float(s.sum()) * per_sample / 60.0 for s in (wall_s, cover_s, core_s, travel_s)]
    return PrintFigures(
        plastic * filament.density_g_cm3.typical * 1e-3, minutes[0], minutes[1], minutes[2], minutes[3],
        float((wall_mm + cover / lw + core_mm).sum()) * per_sample / 1e3,
    )  # fmt: skip


def fits_bed(field: ZoneField, printer: Printer) -> str | None:
    """None when the part fits the bed (turned on the bed if need be), else a plain reason."""
    size = field.high_mm - field.low_mm
    x, y = sorted(size[:2])
    if size[2] > printer.bed_z_mm:
        return f"It stands {size[2]:.0f} mm tall; the printer reaches {printer.bed_z_mm:.0f} mm."
    if rectangle_fits(float(x), float(y), printer.bed_x_mm, printer.bed_y_mm):
        return None
    return f"It needs {y:.0f} x {x:.0f} mm; the bed is {printer.bed_x_mm:.0f} x {printer.bed_y_mm:.0f} mm."
