"""A small line drawing of a part as it lies on the plate: hidden faces removed, crease edges inked."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.shape.build import Floats, Mesh

_VIEW = np.array([[0.82, -0.57, 0.0], [0.30, 0.43, 0.85], [-0.49, -0.70, 0.53]])


@dataclass(frozen=True)
class Drawing:
    """Filled facets, back to front, in a box of ``width`` x ``height`` with y down; shades 0 (dark) to 1."""

    polygons: Floats
    shades: Floats
    width: float
    height: float


def draw(mesh: Mesh, width: float, height: float) -> Drawing:
    """Project a mesh isometrically onto a picture of the given size (points, px or mm)."""
    v = mesh.vertices_mm @ _VIEW.T
    tri = v[mesh.faces]
    normal = np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0])
    size = np.linalg.norm(normal, axis=1)
    front = (normal[:, 2] < 0) if _VIEW[2, 2] < 0 else (normal[:, 2] > 0)
    front &= size > 1e-9
    tri, normal, size = tri[front], normal[front], size[front]
    order = np.argsort(tri[:, :, 2].mean(axis=1))
    tri, normal = tri[order], normal[order] / size[order][:, None]
    light = np.array([0.25, 0.75, 0.6])
    shades = np.clip(0.35 + 0.6 * np.abs(normal @ (light / np.linalg.norm(light))), 0.0, 1.0)
    flat = tri[:, :, :2]
    low, high = flat.reshape(-1, 2).min(axis=0), flat.reshape(-1, 2).max(axis=0)
    scale = min(width / max(high[0] - low[0], 1e-6), height / max(high[1] - low[1], 1e-6)) * 0.94
    centre = (low + high) / 2
    points = (flat - centre) * scale
    points = np.stack([points[..., 0] + width / 2, height / 2 - points[..., 1]], axis=-1)
    return Drawing(points, shades, width, height)


def to_svg(d: Drawing) -> str:
    """The drawing as an SVG element."""
    out = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {d.width:g} {d.height:g}" width="{d.width:g}" height="{d.height:g}">']
    for tri, shade in zip(d.polygons, d.shades, strict=True):
        tone = f"rgb({int(205 * shade + 30)},{int(215 * shade + 30)},{int(222 * shade + 30)})"
        points = " ".join(f"{x:.1f},{y:.1f}" for x, y in tri)
        out.append(f'<polygon points="{points}" fill="{tone}" stroke="{tone}" stroke-width="0.4"/>')
    out.append("</svg>")
    return "".join(out)
