"""Roads down the middle of places too thin for two lines, as wide as the place is there.

The middle line is the part of the Voronoi diagram of points along the outline whose two nearest points lie on opposite sides
(medial axis; Blum 1967), its side branches into corners left out.
"""

from __future__ import annotations

import numpy as np
import shapely
from manifold3d import CrossSection
from scipy.spatial import QhullError, Voronoi

from .patterns import loop_area_mm2, polygons_of
from .zones import Floats

OPPOSITE = 1.55  # distance of the two nearest points over the distance to them: 2 when they face each other


def _outline_points(region: CrossSection, step_mm: float) -> Floats:
    out = []
    for loop in region.to_polygons():
        p = np.asarray(loop, dtype=np.float64)
        if len(p) < 3 or abs(loop_area_mm2(p)) < 1e-9:
            continue
        q = np.roll(p, -1, axis=0)
        cuts = np.maximum(1, np.ceil(np.hypot(*(q - p).T) / step_mm).astype(int))
        edge = np.repeat(np.arange(len(p)), cuts)
        t = (np.arange(len(edge)) - np.repeat(np.cumsum(cuts) - cuts, cuts) + 0.5) / cuts[edge]
        out.append(p[edge] + t[:, None] * (q - p)[edge])
    return np.concatenate(out) if out else np.zeros((0, 2))


def middle_roads(region: CrossSection, line_width_mm: float, least_mm: float) -> list[tuple[Floats, float]]:
    """Middle lines (n, 2) of a thin region with the mean width of each; lines shorter than ``least_mm`` are left out."""
    points = _outline_points(region, line_width_mm / 3)
    if len(points) < 4:
        return []
    origin = points.mean(axis=0)
    try:
        # a hair of noise of a fixed kind keeps points of straight outlines from lying on one circle in dozens
        diagram = Voronoi(points - origin + 1e-6 * np.sin(np.arange(2 * len(points)).reshape(-1, 2) * 12.9898))
    except (QhullError, ValueError):
        return []
    ridge = np.array(diagram.ridge_vertices, dtype=np.int64)
    pair = np.asarray(diagram.ridge_points)
    whole = (ridge >= 0).all(axis=1)
    ridge, pair = ridge[whole], pair[whole]
    vertices = diagram.vertices + origin
    area = polygons_of(region)
    shapely.prepare(area)
    inside = shapely.contains_xy(area, vertices[:, 0], vertices[:, 1])
    apart = np.hypot(*(points[pair[:, 0]] - points[pair[:, 1]]).T)
    reach = np.hypot(*(vertices[ridge[:, 0]] - points[pair[:, 0]]).T)
    keep = inside[ridge].all(axis=1) & (apart > OPPOSITE * reach)
    if not keep.any():
        return []
    # straight stretches between forks become one line each; the width is read back from the outline
    lines = shapely.get_parts(shapely.line_merge(shapely.multilinestrings(shapely.linestrings(vertices[ridge[keep]]))))
    edge = shapely.boundary(area)
    out = []
    twig = line_width_mm if len(lines) > 1 else 0.0  # what forks off into a corner
    for line in lines:
        simple = shapely.simplify(line, 0.02)
        xy = shapely.get_coordinates(simple)
        long = float(shapely.length(simple))
        dense = shapely.line_interpolate_point(simple, np.linspace(0.0, long, max(2, int(long / line_width_mm))))
        width = 2 * float(shapely.distance(dense, edge).mean())
        if long + width >= least_mm and long >= twig:
            out.append((_drawn_out(xy, 0.25 * width), width))
    return out


def _drawn_out(xy: Floats, by_mm: float) -> Floats:
    """The line made longer at both ends: the middle line stops half a width short of a blunt end."""
    if np.allclose(xy[0], xy[-1]):
        return xy
    out = xy.copy()
    for end, near in ((0, 1), (-1, -2)):
        way = xy[end] - xy[near]
        out[end] = xy[end] + way / max(float(np.hypot(*way)), 1e-9) * by_mm
    return out
