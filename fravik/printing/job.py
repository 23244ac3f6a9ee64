"""One part as it will be printed: every layer's roads in order, with minutes, metres and grams."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .layerroads import FEATURES, OF_PART, LayerRoads
from .layers import Layers
from .trouble import Trouble
from .zones import Floats, Ints


class GivenUpError(Exception):
    """The work was given up on request."""


@dataclass(frozen=True)
class PrintJob:
    """One copy of a part on the bed, in print axes: layers, the roads of roads of each, and what they add up to.

    ``road_mm3`` (layers, kinds) is the plastic of each kind of road in each layer; ``seconds`` (layers, features) the time, with
    waiting for a small layer to set as if the part were printed alone. ``outline`` is the shadow on the bed, hem and supports
    included; ``risk`` says why it may come loose, if it may.
    """

    layers: Layers
    layer_roads: tuple[LayerRoads, ...]
    roads_of_layer: Ints
    road_mm3: Floats
    seconds: Floats
    lifts: Ints
    density_g_cm3: float
    unfilled_mm2: Floats
    hanging_mm2: Floats
    outline: tuple[Floats, ...]
    troubles: tuple[Trouble, ...]
    risk: str

    def roads_of(self, layer: int) -> LayerRoads:
        """Roads of a layer."""
        return self.layer_roads[self.roads_of_layer[layer]]

    @property
    def grams(self) -> float:
        """Plastic that stays in the part."""
        return float(self.road_mm3[:, list(OF_PART)].sum()) * self.density_g_cm3 * 1e-3

    @property
    def waste_grams(self) -> float:
        """Supports, ring and hem."""
        return float(self.road_mm3.sum()) * self.density_g_cm3 * 1e-3 - self.grams

    @property
    def zone_grams(self) -> float:
        """Plastic of the part by its zones, from the same layers."""
        return self.layers.grams(self.density_g_cm3)

    @property
    def minutes(self) -> float:
        """Minutes of one copy printed alone, without warm-up."""
        return float(self.seconds.sum()) / 60

    def minutes_by_feature(self) -> dict[str, float]:
        """Minutes of every feature that takes any."""
        total = self.seconds.sum(axis=0) / 60
        return {name: float(t) for name, t in zip(FEATURES, total, strict=True) if t > 0}

    def metres(self) -> float:
        """Length of all roads."""
        each = np.array([float(s.lengths_mm().sum()) for s in self.layer_roads])
        return float(each[self.roads_of_layer].sum()) / 1e3
