"""A body plate as a true solid: its arm bolt holes follow the arms, its grid of holes and its ribs keep clear of what is bolted to it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from numpy.typing import NDArray

from fravik.model.features import STANDS
from fravik.model.shapes import PlateShape, RootedArm

from .arm import tongue_bolts
from .features import added, cut, in_one, raised, stands_on, without_bores
from .outline import disc, polygon, rectangle, rounded_rectangle
from .stations import Stand, in_plan

Floats = NDArray[np.float64]
Spots = tuple[tuple[float, float, float], ...]  # x, y and diameter
HEAD = 2.6  # of a screw's hole: what its washer or head and a driver beside it want
KEPT = 8
GRID_EDGE_MM = 3.0  # of plate left round a grid's holes


def arm_bolt_holes(arm: RootedArm, stand: Stand) -> list[tuple[float, float, float]]:
    """(x, y, diameter) of an arm's bolt holes in the craft's plan, where it leaves the plates at ``stand``."""
    return [(x, y, arm.tongue_bolt_mm) for x, y in in_plan(tongue_bolts(arm), stand)]


def plate_solid(plate: PlateShape, holes: Spots, stands: Sequence[Stand] = (), lain_on: Spots = ()) -> Manifold:
    """The plate as a closed solid, centred on the craft's axis, z = 0 at its underside; a bottom plate's ribs hang below that."""
    if stands_on(plate.features):
        bare = plate.model_copy(update={"features": tuple(f for f in plate.features if f.kind not in STANDS)})
        plan = plate_plan(bare, holes, stands, lain_on)
        return without_bores(plate_solid(bare, holes, stands, lain_on), plate.features, plate.thickness_mm) + raised(
            plate.features, plan, plate.thickness_mm
        )
    if plate.rib_height_mm <= 0:
        return plate_plan(plate, holes, stands, lain_on).extrude(plate.thickness_mm)
    unit = plate.model_copy(update={"thickness_mm": 1.0, "rib_height_mm": 1.0})
    ribbed = _unit_ribbed(unit, holes, tuple(stands), lain_on)
    t, h = plate.thickness_mm, plate.rib_height_mm
    levels = np.array([0.0, t, t + h] if plate.place == "top" else [-h, 0.0, t])

    def stretch(at: Floats) -> Floats:
        out = at.copy()
        out[:, 2] = np.interp(np.rint(at[:, 2]), (0.0, 1.0, 2.0) if plate.place == "top" else (-1.0, 0.0, 1.0), levels)
        return out

    return ribbed.warp_batch(stretch)


@lru_cache(maxsize=KEPT)
def _unit_ribbed(plate: PlateShape, holes: Spots, stands: tuple[Stand, ...], lain_on: Spots) -> Manifold:
    """Plate and ribs as one, each of height 1: putting them together takes as long as all else of an edit, and thickness and height only
    stretch what comes of it."""
    solid, ribs = plate_plan(plate, holes, stands, lain_on).extrude(1.0), rib_plan(plate, holes, stands, lain_on)
    if ribs.is_empty():
        return solid
    whole = solid + ribs.extrude(1.0).translate((0.0, 0.0, 1.0 if plate.place == "top" else -1.0))
    whole.num_tri()  # worked out here, not at first use: two threads may use it
    return whole


def plate_plan(plate: PlateShape, holes: Spots, stands: Sequence[Stand] = (), lain_on: Spots = ()) -> CrossSection:
    """The plate seen from above; its corners are cut square to the arms where those leave it."""
    plan = plate_outline(plate, stands) - CrossSection.batch_boolean(plate_cuts(plate, holes, stands, lain_on), OpType.Add)
    return in_one(plan) if plate.features else plan


def plate_cuts(plate: PlateShape, holes: Spots, stands: Sequence[Stand] = (), lain_on: Spots = ()) -> list[CrossSection]:
    """Its screw holes, window and grid of holes."""
    cuts = [disc(x, y, d) for x, y, d in (*holes, *_stack(plate))] + _window(plate)
    if plate.features:
        cuts.append(cut(plate.features))
    return cuts + [disc(x, y, plate.grid_hole_mm) for x, y in grid_holes(plate, holes, stands, lain_on)]


def plate_outline(plate: PlateShape, stands: Sequence[Stand]) -> CrossSection:
    """Its corners round, and cut square to the arms where those leave it; without holes."""
    lx, ly = plate.length_mm / 2, plate.width_mm / 2
    plan = rounded_rectangle(-lx, -ly, lx, ly, plate.corner_mm)
    for stand in stands:
        plan = plan ^ polygon(_inward(stand, 2 * (lx + ly)))
    return plan + added(plate.features) if plate.features else plan


def _stack(plate: PlateShape) -> Spots:
    p = plate.stack_pitch_mm / 2
    return tuple((sx * p, sy * p, plate.stack_hole_mm) for sx in (-1, 1) for sy in (-1, 1))


def _window(plate: PlateShape) -> list[CrossSection]:
    if plate.window_length_mm <= 0 or plate.window_width_mm <= 0:
        return []
    wx, wy = plate.window_length_mm / 2, plate.window_width_mm / 2
    return [rounded_rectangle(-wx, -wy, wx, wy, 3.0)]


def _rib_lines(plate: PlateShape) -> tuple[list[float], list[float]]:
    """Where ribs run: y of those that run along the plate, x of those across it; even about the middle, none on it."""
    if plate.rib_height_mm <= 0:
        return [], []

    def lines(size_mm: float) -> list[float]:
        count = max(2 * math.floor((size_mm / 2 - plate.rib_width_mm) / plate.rib_pitch_mm + 0.5), 0)
        return [(k - (count - 1) / 2) * plate.rib_pitch_mm for k in range(count)]

    along = lines(plate.width_mm) if plate.rib_ways != "across" else []
    return along, lines(plate.length_mm) if plate.rib_ways != "along" else []


def rib_pitches_mm(plate: PlateShape) -> tuple[float, float]:
    """Of how much plate each rib stands, for those along it and those across it; 0 where none run."""
    along, across = _rib_lines(plate)
    return plate.width_mm / len(along) if along else 0.0, plate.length_mm / len(across) if across else 0.0


def rib_plan(plate: PlateShape, holes: Spots, stands: Sequence[Stand] = (), lain_on: Spots = ()) -> CrossSection:
    """The ribs seen from above, with a boss as tall round every screw hole: within the outline, clear of the window and of what lies on the
    plate there."""
    along, across = _rib_lines(plate)
    if not along and not across:
        return CrossSection()
    w, lx, ly = plate.rib_width_mm / 2, plate.length_mm / 2, plate.width_mm / 2
    bars = [rectangle(-lx, y - w, lx, y + w) for y in along] + [rectangle(x - w, -ly, x + w, ly) for x in across]
    screws = (*holes, *_stack(plate))
    bosses = [disc(x, y, HEAD * d) for x, y, d in screws]
    clear = [disc(x, y, d) for x, y, d in (*screws, *lain_on)] + _window(plate)
    return (CrossSection.batch_boolean(bars + bosses, OpType.Add) ^ plate_outline(plate, stands)) - CrossSection.batch_boolean(
        clear, OpType.Add
    )


def rib_share(plate: PlateShape, stands: Sequence[Stand] = (), lain_on: Spots = ()) -> float:
    """How much of the ribs' way over the plate they really run."""
    along, across = _rib_lines(plate)
    if not along and not across:
        return 0.0
    w, lx, ly = plate.rib_width_mm / 2, plate.length_mm / 2, plate.width_mm / 2
    bars = [rectangle(-lx, y - w, lx, y + w) for y in along] + [rectangle(x - w, -ly, x + w, ly) for x in across]
    whole = CrossSection.batch_boolean(bars, OpType.Add) ^ plate_outline(plate, stands)
    clear = [disc(x, y, d) for x, y, d in lain_on] + _window(plate)
    return (whole - CrossSection.batch_boolean(clear, OpType.Add)).area() / max(whole.area(), 1e-9) if clear else 1.0


def grid_holes(plate: PlateShape, holes: Spots, stands: Sequence[Stand] = (), lain_on: Spots = ()) -> list[tuple[float, float]]:
    """(x, y) of the holes of an even grid about the middle, as many as leave plate round them and round all else."""
    pitch, r = plate.grid_pitch_mm, plate.grid_hole_mm / 2
    if pitch <= 0:
        return []
    reach = [math.floor(size / 2 / pitch) for size in (plate.length_mm, plate.width_mm)]
    xy = np.array([(i * pitch, j * pitch) for i in range(-reach[0], reach[0] + 1) for j in range(-reach[1], reach[1] + 1)])
    for x, y, d in (*holes, *_stack(plate)):
        xy = xy[np.hypot(xy[:, 0] - x, xy[:, 1] - y) > HEAD * d / 2 + r]
    for x, y, d in lain_on:
        xy = xy[np.hypot(xy[:, 0] - x, xy[:, 1] - y) > d / 2 + r]
    along, across = _rib_lines(plate)
    for lines, values in ((along, 1), (across, 0)):
        for at in lines:
            xy = xy[np.abs(xy[:, values] - at) > plate.rib_width_mm / 2 + r + 0.5]
    inside = plate_outline(plate, stands).offset(-(r + GRID_EDGE_MM))
    for window in _window(plate):
        inside = inside - window.offset(r + GRID_EDGE_MM)
    return [(float(x), float(y)) for x, y in xy if _within(inside, float(x), float(y))]


def _within(plan: CrossSection, x: float, y: float) -> bool:
    return not (plan ^ rectangle(x - 1e-3, y - 1e-3, x + 1e-3, y + 1e-3)).is_empty()


def _inward(stand: Stand, far_mm: float) -> list[tuple[float, float]]:
    """Corners of what lies on the inner side of an arm's root, as far as anything goes."""
    return in_plan([(0.0, -far_mm), (0.0, far_mm), (-2 * far_mm, far_mm), (-2 * far_mm, -far_mm)], stand)
