"""Batches as they are to be printed: which copy lies where, what each batch takes."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.model.material import Filament

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Place:
    """Where a thing lies: its own middle at (x, y) on the bed, turned anticlockwise; as its mirror image where it is the other hand."""

    x_mm: float
    y_mm: float
    turn_deg: float
    mirrored: bool = False

    def matrix(self) -> Floats:
        """4x4 transform from the part as it lies about its own middle to the bed."""
        c, s = math.cos(math.radians(self.turn_deg)), math.sin(math.radians(self.turn_deg))
        m = np.eye(4)
        m[:2, :2] = [[c, -s], [s, c]]
        if self.mirrored:
            m[:2, 0] *= -1
        m[:2, 3] = self.x_mm, self.y_mm
        return m

    def put(self, points: Floats) -> Floats:
        """Points (n, 2) on the bed."""
        m = self.matrix()
        return np.asarray(points @ m[:2, :2].T + m[:2, 3])


@dataclass(frozen=True)
class Copy:
    """One copy on a batch; copies of a part are numbered from 1."""

    part_id: str
    number: int
    place: Place

    @property
    def key(self) -> str:
        """Part and number, as in 'arm 2'."""
        return f"{self.part_id} {self.number}"


@dataclass(frozen=True)
class Stop:
    """Where a batch pauses: with a height laid, so many minutes after it began, and what for."""

    height_mm: float
    after_min: float
    why: tuple[str, ...]
    words: str


@dataclass(frozen=True)
class Batch:
    """One batch of one printer: copies of one filament, minutes with warm-up, grams with supports, and where it pauses."""

    id: str
    printer_id: str
    filament: Filament
    copies: tuple[Copy, ...]
    minutes: float
    grams: float
    warnings: tuple[str, ...]
    stops: tuple[Stop, ...] = ()


@dataclass(frozen=True)
class Batches:
    """All batches, the parts that no printer takes with the reason, and what was wished for in vain."""

    batches: tuple[Batch, ...]
    left_out: tuple[tuple[str, str], ...]
    notes: tuple[str, ...] = ()

    @property
    def minutes(self) -> float:
        """Minutes of all batches one after another."""
        return sum(p.minutes for p in self.batches)
