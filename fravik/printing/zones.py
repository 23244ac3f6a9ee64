"""The zone field: which part of every layer is wall, cover or core, as the part lies on the bed.

Every layer holds three nested regions: *outer* (all of the layer), *inner* (inside the walls) and *core* (inside the
walls and covered by enough solid layers above and below). Wall is outer less inner, cover is inner less core.
Sections, grams and minutes all read these regions.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, JoinType, Manifold
from numpy.typing import NDArray

from fravik.model.recipe import Recipe
from fravik.shape.outline import boundary_edges, pieces_of
from fravik.shape.rising import OnSide, Rising

from .orientation import print_from_part

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# an upright or level part is sampled at up to so many heights; one whose layers cut it askew needs more for its sections
MOST_LAYERS = 40
FAR_SHARE = 0.25  # covers told by whole samples may be so much thicker or thinner than they are
MOST_LAYERS_ASKEW = 150
MOST_LAYERS_THIN, THIN_SHARE = 300, 0.15
# a core piece smaller than a square of so many lines is filled solid: no pattern fits into it
SPECK_LINES = 5.0
# a height that falls on a level belongs to the band above it: a hair above, so that the cut is clean
ABOVE_MM = 2e-4


@dataclass(frozen=True)
class Region:
    """Oriented boundary edges of one region; outer loops run counter-clockwise.

    Equal layers share one *slice*: ``slice_of_edge`` says which slice an edge bounds, ``slice_of_layer`` which slice a
    layer has.
    """

    start: Floats
    end: Floats
    slice_of_edge: Ints
    slice_of_layer: Ints

    @property
    def slices(self) -> int:
        """Number of different slices."""
        return int(self.slice_of_layer.max()) + 1

    def sum_edges(self, values: Floats) -> Floats:
        """Sum a per-edge value over each layer, shape (layers,)."""
        return np.asarray(np.bincount(self.slice_of_edge, values, self.slices)[self.slice_of_layer], dtype=np.float64)

    def areas_mm2(self) -> Floats:
        """Area of the region in each layer, shape (layers,)."""
        return self.sum_edges(0.5 * (self.start[:, 0] * self.end[:, 1] - self.end[:, 0] * self.start[:, 1]))

    def perimeters_mm(self) -> Floats:
        """Length of the boundary in each layer, shape (layers,)."""
        return self.sum_edges(np.hypot(*(self.end - self.start).T))

    def corners(self) -> Floats:
        """Number of boundary edges in each layer, shape (layers,)."""
        return self.sum_edges(np.ones(len(self.start)))

    def loops(self) -> Floats:
        """Closed loops in each layer: an edge that does not start where the one before ended opens a loop."""
        fresh = np.ones(len(self.start))
        if len(fresh) > 1:
            gap = np.abs(self.start[1:] - self.end[:-1]).max(axis=1) > 1e-9
            fresh[1:] = gap | (self.slice_of_edge[1:] != self.slice_of_edge[:-1])
        return self.sum_edges(fresh)


@dataclass(frozen=True)
class ZoneField:
    """Nested regions of every sampled layer, in print axes (u, v on the bed, w up)."""

    recipe: Recipe
    rotation: Floats
    heights_mm: Floats
    pitch_mm: float
    layer_count: int
    outer: Region
    inner: Region
    core: Region
    low_mm: Floats
    high_mm: Floats

    @property
    def normal(self) -> Floats:
        """Unit vector across the layers, in part axes."""
        return np.asarray(self.rotation[2])

    @property
    def askew(self) -> bool:
        """Whether the layers lie along none of the part's axes."""
        return _askew(self.rotation)


def region_of(layers: list[CrossSection]) -> Region:
    """The boundary edges of many layers; layers that share an object share a slice."""
    distinct = {id(c): c for c in layers}
    place = {k: n for n, k in enumerate(distinct)}
    start, end, owner = boundary_edges(list(distinct.values()))
    return Region(start, end, owner, np.array([place[id(c)] for c in layers], dtype=np.int64))


def _same(a: CrossSection, b: CrossSection) -> bool:
    if a.num_vert() != b.num_vert() or abs(a.area() - b.area()) > 1e-3:
        return False
    return all(abs(p - q) < 1e-4 for p, q in zip(a.bounds(), b.bounds(), strict=True))


def slices_at(laid: Manifold, heights: Floats) -> list[CrossSection]:
    """Slices at all heights, lowest first; runs of layers between two vertex levels whose ends are alike share one slice."""
    levels = np.unique(np.round(np.asarray(laid.to_mesh().vert_properties)[:, 2], 3))
    heights = heights + ABOVE_MM
    band = np.searchsorted(levels, heights)
    out: list[CrossSection] = []
    start = 0

    def cut_at(height: float) -> CrossSection:
        # points on straight lines come from the mesh's triangles: their number says nothing of the slice
        return laid.slice(float(height)).simplify(0.003)

    while start < len(heights):
        stop = start
        while stop + 1 < len(heights) and band[stop + 1] == band[start]:
            stop += 1
        first, last = cut_at(heights[start]), cut_at(heights[stop])
        if stop == start or _same(first, last):
            cuts = [first] * (stop - start + 1)
        else:
            cuts = [first, *(cut_at(h) for h in heights[start + 1 : stop]), last]
        for cut in cuts:
            out.append(out[-1] if out and (cut is out[-1] or _same(cut, out[-1])) else cut)
        start = stop + 1
    return out


def _shifted(outer: list[CrossSection], by: int) -> list[CrossSection]:
    """What lies so many slices above (or below) each; nothing beyond the ends."""
    nothing = [CrossSection()] * min(abs(by), len(outer))
    return [*outer[by:], *nothing] if by > 0 else [*nothing, *outer[: len(outer) - len(nothing)]]


def _cored(inner: list[CrossSection], outer: list[CrossSection], around: list[list[CrossSection]], speck_mm2: float) -> list[CrossSection]:
    """The core of slices from what lies above and below them, farthest first: their inside, as far as all of that covers it."""
    if not around:
        return inner
    empty = CrossSection()
    memo: dict[tuple[int, ...], CrossSection] = {}
    out = []
    for k, inside in enumerate(inner):
        near = {id(other[k]): other[k] for other in around}
        near.pop(id(outer[k]), None)
        key = (id(inside), *sorted(near))
        if key not in memo:
            if inside.is_empty() or any(c.is_empty() for c in near.values()):
                memo[key] = empty
            else:
                found = inside
                for other in near.values():
                    found = found ^ other
                memo[key] = _no_specks(found, speck_mm2)
        out.append(memo[key])
    return out


def _no_specks(core: CrossSection, least_mm2: float) -> CrossSection:
    """The core less its pieces too small to lay a pattern in: they become cover."""
    if core.is_empty():
        return core
    pieces = pieces_of(core)
    kept = [p for p in pieces if p.area() >= least_mm2]
    return core if len(kept) == len(pieces) else CrossSection.compose(kept)


@dataclass(frozen=True)
class Divided:
    """The nested regions of a run of layers, lowest first; layers that are alike share one object."""

    outer: list[CrossSection]
    inner: list[CrossSection]
    core: list[CrossSection]


def divide(
    laid: Manifold | Rising | OnSide, heights: Floats, recipe: Recipe, reach: tuple[int, ...], apart_mm: tuple[float, ...] = ()
) -> Divided:
    """Slice a solid that lies as it prints at heights (n,), and divide each slice into wall, cover and core.

    Walls are what an offset by their width takes; core is what lies inside them and within the slices ``reach`` layers above and
    below, farthest first (none: no covers). This is the one rule for where walls, covers and core are. Where the slices stand farther
    apart than a cover is thick, what lies ``apart_mm`` above and below is cut for it.
    """

    def cut(at: Floats) -> list[CrossSection]:
        return slices_at(laid, at) if isinstance(laid, Manifold) else laid.slices(at + ABOVE_MM)

    outer = cut(heights)
    ids = [id(c) for c in outer]
    inset = -recipe.walls * recipe.line_width_mm
    insides: dict[int, CrossSection] = {}
    for k, c in zip(ids, outer, strict=True):
        if k not in insides:
            insides[k] = c.offset(inset, JoinType.Miter, 2.0)
    inner = [insides[k] for k in ids]
    speck = (SPECK_LINES * recipe.line_width_mm) ** 2
    if apart_mm:
        around = [cut(heights + way * d) for d in apart_mm for way in (-1, 1)]
    else:
        around = [_shifted(outer, way * r) for r in reach for way in (-1, 1)]
    return Divided(outer, inner, _cored(inner, outer, around, speck))


def _askew(rotation: Floats) -> bool:
    return float(np.abs(rotation[2]).max()) < 1.0 - 1e-9


def thin_mm(solid: Manifold | Rising | OnSide) -> float:
    """How thin a solid is, by its volume over half its surface; a sheet's own thickness."""
    if not isinstance(solid, Manifold):
        return solid.thin_mm()
    return float(2 * solid.volume() / max(solid.surface_area(), 1e-9))


def _samples(height: float, layer_count: int, cover_mm: float, most: int) -> int:
    """How many heights to slice at: every layer when there are few, else so that the cover is a whole number of samples."""
    if layer_count <= most:
        return layer_count
    coarse = height / most
    if cover_mm <= 0:
        return most
    pitch = cover_mm / math.ceil(cover_mm / coarse) if cover_mm > coarse else coarse
    return min(layer_count, max(2, round(height / pitch)))


def lay(solid: Manifold | Rising | OnSide, recipe: Recipe, fine: bool = False, bends: bool = False) -> ZoneField:
    """Slice a solid as it lies on the bed and divide each layer into wall, cover and core.

    What rises from its plan comes lain as it prints (``Rising.turned``). Tall prints are sampled at up to ``MOST_LAYERS`` heights, or
    ``MOST_LAYERS_ASKEW``, and so is what is asked ``fine``; what ``bends`` no farther apart than THIN_SHARE of how thin it is, up to
    ``MOST_LAYERS_THIN`` heights: its sections are read off the slices. Raises ValueError when the solid is empty.
    """
    rotation = print_from_part(recipe)
    if isinstance(solid, Manifold):
        stood = solid.transform(np.hstack([rotation, np.zeros((3, 1))]))
        laid, box, empty = stood, tuple(stood.bounding_box()), solid.is_empty()
    else:
        laid, box, empty = solid, solid.box(), solid.is_empty()
    height = float(box[5] - box[2])
    if empty or not math.isfinite(height) or height <= 0:
        raise ValueError("The solid is empty: nothing is left to print.")
    layer_count = max(1, round(height / recipe.layer_height_mm))
    most = MOST_LAYERS_ASKEW if fine or _askew(rotation) else MOST_LAYERS
    if bends and not isinstance(laid, Rising):
        most = max(most, min(MOST_LAYERS_THIN, math.ceil(height / (THIN_SHARE * thin_mm(laid)))))
    samples = _samples(height, layer_count, recipe.cover_layers * recipe.layer_height_mm, most)
    pitch = height / samples
    heights: Floats = np.asarray(float(box[2]) + pitch * (np.arange(samples) + 0.5), dtype=np.float64)
    cover_mm = recipe.cover_layers * recipe.layer_height_mm
    window = 0 if recipe.cover_layers == 0 else max(1, round(cover_mm / pitch))
    reach = (window, *({max(1, window // 2)} - {window})) if window else ()
    far = window > 0 and abs(window * pitch - cover_mm) > FAR_SHARE * cover_mm
    found = divide(laid, heights, recipe, reach, (cover_mm, cover_mm / 2) if far else ())
    return ZoneField(
        recipe, rotation, heights, pitch, layer_count,
        region_of(found.outer), region_of(found.inner), region_of(found.core),
        np.array(box[:3]), np.array(box[3:]),
    )  # fmt: skip
