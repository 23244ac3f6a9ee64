"""Every layer of a part as it prints: heights from the bed up, and the three nested regions of each.

The regions come from the same rule as the zone field that sections read (``zones.divide``); here every layer is cut, at its
middle, with the first layer apart and, if asked, thinner layers where the surface slopes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from manifold3d import Manifold

from fravik.model.laying import Laying
from fravik.model.recipe import Recipe
from fravik.shape.build import mesh_of

from .orientation import print_from_part
from .zones import Divided, Floats, Ints, Region, divide, region_of

THINNEST_SHARE = 0.5
STAIR_SHARE = 0.35
MOST_LAYERS = 20_000


@dataclass(frozen=True)
class Layers:
    """All layers of one part: tops and thicknesses (n,), and the regions as boundary edges, in print axes.

    ``low_mm`` and ``high_mm`` (3,) are the corners of the part's box as it stands on the bed at w = 0.
    """

    recipe: Recipe
    rotation: Floats
    top_mm: Floats
    height_mm: Floats
    outer: Region
    inner: Region
    core: Region
    low_mm: Floats
    high_mm: Floats

    @property
    def count(self) -> int:
        """How many layers."""
        return len(self.top_mm)

    def zone_volumes_mm3(self) -> tuple[float, float, float]:
        """Volume of wall, cover and core by summing the layers."""
        outer, inner, core = (float((r.areas_mm2() * self.height_mm).sum()) for r in (self.outer, self.inner, self.core))
        return outer - inner, inner - core, core

    def grams(self, density_g_cm3: float) -> float:
        """Printed mass by zones: walls and covers solid, the core at its core."""
        wall, cover, core = self.zone_volumes_mm3()
        return (wall + cover + core * self.recipe.core_density) * density_g_cm3 * 1e-3


def stand(solid: Manifold, recipe: Recipe) -> Manifold:
    """The solid as it lies on the bed: its lowest point at w = 0, the middle of its box at u = v = 0.

    Roads are laid from that middle, so moving the solid changes none of them. Raises ValueError when it is empty.
    """
    rotation = print_from_part(recipe)
    laid = solid.transform(np.hstack([rotation, np.zeros((3, 1))]))
    box = laid.bounding_box()
    if solid.is_empty() or not all(math.isfinite(b) for b in box) or box[5] - box[2] <= 0:
        raise ValueError("The solid is empty: nothing is left to print.")
    return laid.translate((-(box[0] + box[3]) / 2, -(box[1] + box[4]) / 2, -box[2]))


def layer_tops(laid: Manifold, recipe: Recipe, laying: Laying) -> Floats:
    """Heights of the tops of all layers (n,), the first layer apart.

    The last layer is as thick as what is left, if that is over half a layer; else the part ends a little low. Raises ValueError
    when there would be more than ``MOST_LAYERS``.
    """
    height = laid.bounding_box()[5]
    first, usual = min(laying.first_layer_mm, height), recipe.layer_height_mm
    if (height - first) / (usual * THINNEST_SHARE if laying.adaptive else usual) > MOST_LAYERS:
        raise ValueError(f"It would take over {MOST_LAYERS} layers. Choose thicker layers, or check the units of the mesh.")
    if laying.adaptive:
        return _adaptive_tops(laid, first, usual, height)
    more = max(0, math.ceil((height - first) / usual - 0.5))
    return first + usual * np.arange(more + 1)


def _adaptive_tops(laid: Manifold, first: float, usual: float, height: float) -> Floats:
    """Layers from half to full height: the stair left on a slope stays under a share of the full layer."""
    mesh = mesh_of(laid)
    tri = mesh.vertices_mm[mesh.faces]
    normal = np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0])
    size = np.linalg.norm(normal, axis=1)
    rise = np.abs(np.divide(normal[:, 2], size, out=np.zeros_like(size), where=size > 1e-12))
    slope = (rise > 0.02) & (rise < 0.999)
    low, high, rise = tri[slope][:, :, 2].min(axis=1), tri[slope][:, :, 2].max(axis=1), rise[slope]
    tops = [first]
    while height - tops[-1] > usual * THINNEST_SHARE / 2:
        w = tops[-1]
        here = rise[(low < w + usual) & (high > w)]
        # a stair of height h on a surface whose normal leans by acos(rise) stands off it by h * rise
        fine = STAIR_SHARE * usual / float(here.max()) if len(here) else usual
        tops.append(w + min(usual, max(usual * THINNEST_SHARE, fine)))
    return np.array(tops)


@dataclass(frozen=True)
class Cut:
    """Layers together with the kernel's own regions, from which roads are offset and clipped."""

    layers: Layers
    divided: Divided

    def slice_ids(self) -> Ints:
        """A number per layer (n,): layers with the same number have the same three regions."""
        seen: dict[tuple[int, int, int], int] = {}
        d = self.divided
        keys = [(id(a), id(b), id(c)) for a, b, c in zip(d.outer, d.inner, d.core, strict=True)]
        return np.array([seen.setdefault(k, len(seen)) for k in keys], dtype=np.int64)


def cut_layers(solid: Manifold, recipe: Recipe, laying: Laying) -> Cut:
    """Cut a solid into all its layers. Raises ValueError when the solid is empty or would take too many layers."""
    laid = stand(solid, recipe)
    tops = layer_tops(laid, recipe, laying)
    thick = np.diff(tops, prepend=0.0)
    box = laid.bounding_box()
    middles = np.minimum(tops - thick / 2, box[5] - 1e-3)
    found = divide(laid, middles, recipe, tuple(range(recipe.cover_layers, 0, -1)))
    layers = Layers(
        recipe, print_from_part(recipe), tops, thick, region_of(found.outer), region_of(found.inner), region_of(found.core),
        np.array(box[:3]), np.array(box[3:]),
    )  # fmt: skip
    return Cut(layers, found)
