"""A layer's roads as files: SVG to look at, DXF to measure in. Millimetres; u to the right, v up."""

from __future__ import annotations

from io import StringIO

import ezdxf
import numpy as np
from ezdxf import units

from fravik.printing.job import PrintJob
from fravik.printing.layerroads import ROAD_NAMES, LayerRoads

# print colours of roads on white paper, by kind
INKS = ("#234f7d", "#5b86ad", "#d99a2b", "#7fa9cf", "#c8442b", "#b99c4f", "#8fbf9b", "#4fa58c", "#7c8684")
DXF_INDEX = (5, 150, 40, 140, 1, 52, 92, 112, 8)
MARGIN_MM = 3.0


def _paths(roads: LayerRoads, u0: float, v1: float) -> str:
    out = []
    for points, kind, width in roads.roads():
        xy = " ".join(f"{float(u) - u0:.3f},{v1 - float(v):.3f}" for u, v in points)
        out.append(f'<polyline points="{xy}" stroke="{INKS[kind]}" stroke-width="{width:.3f}"/>')
    return "".join(out)


def _frame(job: PrintJob) -> tuple[float, float, float, float]:
    every = [s.points_mm for s in job.layer_roads if s.count]
    if not every:
        return 0.0, 0.0, 1.0, 1.0
    low = np.min([p.min(axis=0) for p in every], axis=0) - MARGIN_MM
    high = np.max([p.max(axis=0) for p in every], axis=0) + MARGIN_MM
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def layer_svg(job: PrintJob, layer: int, title: str) -> str:
    """One layer's roads at their width, to scale. Raises IndexError when there is no such layer."""
    if not 0 <= layer < job.layers.count:
        raise IndexError(f"There is no layer {layer + 1}; there are {job.layers.count}.")
    u0, v0, u1, v1 = _frame(job)
    wide, high = u1 - u0, v1 - v0
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide:.2f} {high:.2f}" width="{wide:.2f}mm" height="{high:.2f}mm">'
        f"<title>{_escaped(title)}, layer {layer + 1} of {job.layers.count}, {job.layers.top_mm[layer]:.2f} mm</title>"
        f'<g fill="none" stroke-linecap="round" stroke-linejoin="round">{_paths(job.roads_of(layer), u0, v1)}</g></svg>'
    )


def layers_svg(job: PrintJob, title: str, most: int = 12) -> str:
    """A roads of layers from the first to the last, at most so many, side by side."""
    u0, v0, u1, v1 = _frame(job)
    wide, high = u1 - u0, v1 - v0 + 6.0
    chosen = sorted({round(i) for i in np.linspace(0, job.layers.count - 1, min(most, job.layers.count))})
    columns = max(1, round((len(chosen) * high / wide) ** 0.5))
    rows = -(-len(chosen) // columns)
    out = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {columns * wide:.1f} {rows * high:.1f}">',
           f"<title>{_escaped(title)}</title>"]  # fmt: skip
    for i, k in enumerate(chosen):
        x, y = i % columns * wide, i // columns * high
        out.append(f'<g transform="translate({x:.1f} {y:.1f})"><g fill="none" stroke-linecap="round" stroke-linejoin="round">'
                   f'{_paths(job.roads_of(k), u0, v1)}</g>'
                   f'<text x="{MARGIN_MM}" y="{high - 2:.1f}" font-size="3.5" font-family="sans-serif">'
                   f"layer {k + 1}, {job.layers.top_mm[k]:.2f} mm</text></g>")  # fmt: skip
    return "".join(out) + "</svg>"


def layer_dxf(job: PrintJob, layer: int) -> str:
    """One layer's roads as wide polylines, a DXF layer for each kind. Raises IndexError when there is no such layer."""
    if not 0 <= layer < job.layers.count:
        raise IndexError(f"There is no layer {layer + 1}; there are {job.layers.count}.")
    doc = ezdxf.new("R2010")
    doc.units = units.MM
    for name, index in zip(ROAD_NAMES, DXF_INDEX, strict=True):
        doc.layers.add(name.upper().replace(" ", "_"), color=index)
    space = doc.modelspace()
    for points, kind, width in job.roads_of(layer).roads():
        space.add_lwpolyline(
            [(float(u), float(v)) for u, v in points],
            dxfattribs={"layer": ROAD_NAMES[kind].upper().replace(" ", "_"), "const_width": width},
        )
    out = StringIO()
    doc.write(out)
    return out.getvalue()


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
