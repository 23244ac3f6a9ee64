"""Plan outlines as exact polygons: rectangles, discs, tapered bodies and fillets as real geometry."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from manifold3d import CrossSection, JoinType
from numpy.typing import NDArray

CHORD_TOLERANCE_MM = 0.06
FILLET_TOLERANCE_MM = 0.02
HAIR_MM = 1e-5
STEP_MM = 1.5  # along a sheared edge


def segments_for(radius_mm: float, tolerance_mm: float = CHORD_TOLERANCE_MM) -> int:
    """Segments of a full circle whose chords stay within the chord tolerance, a multiple of 4."""
    if radius_mm <= tolerance_mm:
        return 8
    n = math.pi / math.acos(1.0 - tolerance_mm / radius_mm)
    return int(min(96, max(12, 4 * math.ceil(n / 4))))


def boundary_edges(regions: Sequence[CrossSection]) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.int64]]:
    """Boundary edges of some regions: where they start and end, (n, 2) each, and the place of the region that each bounds (n,)."""
    loops, sizes, owner = [np.zeros((0, 2))], [0], [0]
    for k, region in enumerate(regions):
        for loop in region.to_polygons():
            loops.append(np.asarray(loop, dtype=np.float64))
            sizes.append(len(loops[-1]))
            owner.append(k)
    start, last = np.concatenate(loops), np.cumsum(sizes) - 1
    follow = np.arange(1, len(start) + 1)
    follow[last[1:]] = last[:-1] + 1
    return start, start[follow], np.repeat(np.array(owner, dtype=np.int64), sizes)


def pieces_of(region: CrossSection) -> list[CrossSection]:
    """The separate pieces of a region.

    A ring whose two outlines touch comes apart into a full piece and a hole of negative area; a hair narrower, it stays a ring.
    """
    found = [] if region.is_empty() else region.decompose()
    if all(p.area() > 0 for p in found):
        return found
    drawn = region.offset(-HAIR_MM, JoinType.Miter, 2.0).offset(HAIR_MM, JoinType.Miter, 2.0)
    return [p for p in drawn.decompose() if p.area() > 0] if not drawn.is_empty() else []


def polygon(points: list[tuple[float, float]]) -> CrossSection:
    """A simple polygon, counter-clockwise."""
    return CrossSection([points])


def rectangle(x0: float, y0: float, x1: float, y1: float) -> CrossSection:
    """An axis-aligned rectangle."""
    return polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])


def rounded_rectangle(x0: float, y0: float, x1: float, y1: float, radius_mm: float) -> CrossSection:
    """An axis-aligned rectangle with round corners; the radius is cut to what fits."""
    r = min(radius_mm, 0.499 * (x1 - x0), 0.499 * (y1 - y0))
    if r < 1e-3:
        return rectangle(x0, y0, x1, y1)
    core = rectangle(x0 + r, y0 + r, x1 - r, y1 - r)
    return core.offset(r, JoinType.Round, 2.0, segments_for(r))


def disc(x: float, y: float, diameter_mm: float) -> CrossSection:
    """A disc as a polygon of the same area, so that mass and stiffness are not biased by the chords."""
    n = segments_for(diameter_mm / 2)
    r = diameter_mm / 2 * math.sqrt(2 * math.pi / n / math.sin(2 * math.pi / n))
    return CrossSection.circle(r, n).translate((x, y))


def fillet_inner(shape: CrossSection, radius_mm: float) -> CrossSection:
    """Fill every concave corner with an arc of the radius (a morphological closing)."""
    if radius_mm < 1e-3:
        return shape
    n = segments_for(radius_mm, FILLET_TOLERANCE_MM)
    grown = shape.offset(radius_mm, JoinType.Round, 2.0, n)
    return grown.offset(-radius_mm, JoinType.Round, 2.0, n).simplify(0.002)


def shifted(shape: CrossSection, aside_mm: Callable[[NDArray[np.float64]], NDArray[np.float64]], step_mm: float = STEP_MM) -> CrossSection:
    """An outline sheared: every point moved across by what holds for its place along x; edges are cut short enough to follow."""
    out = []
    for ring in shape.to_polygons():
        points = np.asarray(ring, dtype=np.float64)
        after = np.roll(points, -1, axis=0)
        count = np.maximum(np.ceil(np.abs(after[:, 0] - points[:, 0]) / step_mm), 1).astype(int)
        fine = np.concatenate([p + (q - p) * (np.arange(n) / n)[:, None] for p, q, n in zip(points, after, count, strict=True)])
        fine[:, 1] += aside_mm(fine[:, 0])
        out.append(fine)
    return CrossSection(out)
