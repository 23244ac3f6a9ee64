"""A part as a chain of beams: what the structure room is told of its shape, and by whom it does not ask."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from fravik.model.shapes import Shape
from fravik.shape.inlay import StraightBody

from .joints import BarGrip, RootGeometry
from .lattice import Lattice
from .notches import Raiser
from .path import Path


@dataclass(frozen=True)
class Flange:
    """A flange that is held at its back and gives: from ``narrow_mm`` at the root to ``wide_mm``, as thick as the blade."""

    length_mm: float
    narrow_mm: float
    wide_mm: float
    thickness_mm: float


@dataclass(frozen=True)
class ScrewedPad:
    """A round pad that four motor screws hold."""

    diameter_mm: float
    circle_mm: float
    hole_mm: float
    thickness_mm: float


@dataclass(frozen=True, eq=False)
class BeamForm:
    """A part's middle line, root and end, and where its stress is raised.

    ``nominal`` (elements,) says on which position's section stress is quoted: in a fillet or bend the plain one beyond it, under the local
    load. ``overhang_mm`` of the last section weighs as much as what lies beyond the last position. ``held``: by its own joint, as one piece
    with what it is fixed to, fused to a plate that is judged with it and gives by itself, bolted to one plate alone, or as a bar in a
    clamp; ``end_grip`` is a clamp round its end. ``raisers`` gives the stress raisers for a notch sensitivity. ``lattice`` is a honeycomb
    through it: its sections are then read off the part without.
    """

    shape: Shape
    length_mm: float
    path: Path
    nominal: NDArray[np.int64]
    root: RootGeometry
    raisers: Callable[[float], list[Raiser]]
    held: Literal["joint", "one piece", "fused", "one plate", "clamped bar"] = "joint"
    overhang_mm: float = 0.0
    body: StraightBody | None = None
    flange: Flange | None = None
    pad: ScrewedPad | None = None
    end_grip: BarGrip | None = None
    lattice: Lattice | None = None


def beyond_fillet(path: Path, root_fillet_mm: float, length_mm: float) -> NDArray[np.int64]:
    """``nominal`` of a straight part: within the root fillet the first section past it."""
    positions = path.line.positions_mm
    beyond = int(np.searchsorted(positions, min(root_fillet_mm, 0.3 * length_mm)))
    return np.maximum(np.arange(len(positions)), min(beyond, len(positions) - 1))
