"""Wall roads of one layer: loops by offset, and single lines where the part is too thin for a loop."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, JoinType

from fravik.shape.outline import pieces_of

from .medial import middle_roads
from .zones import Floats

# a loop runs down one side and up the other: below this many lines of width it would print over itself
LOOP_LINES = 1.6
# narrower than this many lines, nothing is laid
LEAST_LINES = 0.4
# thin pieces smaller than so many squares of a line are hairs, not places
LEAST_PIECE = 0.3


@dataclass(frozen=True)
class Walls:
    """Roads of a layer's walls: closed loops by depth, outermost first, each depth with the mean width its roads are laid at;
    gap roads with their widths; and what is left too thin for any road."""

    loops: tuple[tuple[Floats, ...], ...]
    widths_mm: tuple[float, ...]
    gaps: tuple[tuple[Floats, float], ...]
    unfilled_mm2: float


def inset(region: CrossSection, by_mm: float) -> CrossSection:
    """The region drawn in, or out for a negative amount; corners stay sharp."""
    return region.offset(-by_mm, JoinType.Miter, 2.0)


def opened(region: CrossSection, width_mm: float) -> CrossSection:
    """The region less whatever is narrower than a width."""
    return inset(inset(region, width_mm / 2), -width_mm / 2) ^ region


def parted(region: CrossSection, width_mm: float, line_width_mm: float) -> tuple[CrossSection, CrossSection]:
    """A region less its pieces narrower than a width, and those pieces; the outline of what is wide enough stays as it was.

    Opening a region frays its outline by hairs: pieces too small to matter stay where they are.
    """
    thin = region - opened(region, width_mm)
    pieces = [p for p in pieces_of(thin) if p.area() > LEAST_PIECE * line_width_mm**2]
    if not pieces:
        return region, CrossSection()
    cut = CrossSection.compose(pieces)
    return region - cut, cut


def loops_of(region: CrossSection) -> tuple[Floats, ...]:
    """Closed outlines (n, 2) of a region, the first point not repeated."""
    return tuple(np.asarray(p, dtype=np.float64) for p in region.to_polygons() if len(p) > 2)


def loop_length_mm(loop: Floats) -> float:
    """Length once around."""
    return float(np.hypot(*(np.roll(loop, -1, axis=0) - loop).T).sum())


def wall_roads(outer: CrossSection, walls: int, line_width_mm: float) -> Walls:
    """Lay out the walls of one layer.

    Each depth takes the outline of what is wide enough for a loop; thinner places get one line down their middle, as wide as they
    are. A depth's roads are laid at the width that fills its band.
    """
    w = line_width_mm
    left = outer
    loops: list[tuple[Floats, ...]] = []
    widths: list[float] = []
    gaps: list[tuple[Floats, float]] = []
    unfilled = 0.0
    for _ in range(walls):
        if left.is_empty():
            break
        wide, thin = parted(left, LOOP_LINES * w, w)
        made, missed = thin_roads(thin, w)
        gaps += made
        unfilled += missed
        found = loops_of(inset(wide, w / 2))
        # a sliver too thin for a road of its own is taken up by the loops beside it
        rest, _ = parted(inset(wide, w), LEAST_LINES * w, w)
        length = sum(loop_length_mm(p) for p in found)
        if length > 0:
            loops.append(found)
            widths.append((wide.area() - rest.area()) / length)
        left = rest
    return Walls(tuple(loops), tuple(widths), tuple(gaps), unfilled)


def thin_roads(thin: CrossSection, line_width_mm: float) -> tuple[list[tuple[Floats, float]], float]:
    """Single roads down the middle of thin places with their widths, and the area that stays empty in mm2."""
    w = line_width_mm
    if thin.is_empty() or thin.area() < 0.1 * w * w:
        return [], thin.area()
    fit = opened(thin, LEAST_LINES * w)
    fit = CrossSection.compose([p for p in pieces_of(fit) if p.area() > w * w / 2])
    made: list[tuple[Floats, float]] = []
    filled = 0.0
    for piece in pieces_of(fit):
        found = middle_roads(piece, w, w)
        long = sum(float(np.hypot(*np.diff(p, axis=0).T).sum()) for p, _ in found)
        if long <= 0:
            continue
        # what the piece holds is laid along its middle, none wider than a loop's limit
        scale = min(piece.area() / sum(float(np.hypot(*np.diff(p, axis=0).T).sum()) * b for p, b in found), 2.0)
        laid = [(p, min(b * scale, LOOP_LINES * w * 1.05)) for p, b in found]
        made += laid
        filled += sum(float(np.hypot(*np.diff(p, axis=0).T).sum()) * b for p, b in laid)
    return made, max(0.0, thin.area() - filled)
