"""Section templates of a blade at 1:1, to hold against what was printed or to sand by; and a sheet to measure a propeller with."""

from __future__ import annotations

import io
from io import StringIO

import ezdxf
import numpy as np
from ezdxf import units
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from fravik.model.blade import PropellerShape
from fravik.printing.zones import Floats
from fravik.shape.blade import blade_of, section_mm, turned_mm

SECTIONS, GAP_MM, MARGIN_MM, TEXT_MM = 8, 8.0, 6.0, 3.2
INNER, OUTER = 1.15, 0.96  # over the hub's edge, and of the radius: where templates begin and end
ROWS = 12
COLUMNS = ("Radius", "Chord", "Leading edge", "Trailing edge", "Thickness")


def sections(shape: PropellerShape) -> list[tuple[float, Floats]]:
    """Radius and outline (n, 2) at evenly spread positions, turned as they stand over the disk."""
    r = np.linspace(INNER * shape.root_mm, OUTER * shape.radius_mm, SECTIONS)
    blade = blade_of(shape).at(r)
    return [(float(x), turned_mm(blade, k, section_mm(blade, k))) for k, x in enumerate(r)]


def _laid(shape: PropellerShape) -> tuple[list[tuple[float, Floats]], float, float]:
    """Outlines one above another on a sheet, the innermost lowest, and how large the sheet is."""
    out, up, wide = [], MARGIN_MM, 0.0
    for radius, outline in sections(shape):
        low, high = outline.min(axis=0), outline.max(axis=0)
        out.append((radius, outline - [low[0] - MARGIN_MM, low[1] - up]))
        up += float(high[1] - low[1]) + GAP_MM
        wide = max(wide, float(high[0] - low[0]))
    return out, wide + 2 * MARGIN_MM + 30.0, up


def templates_svg(shape: PropellerShape, title: str) -> str:
    """All sections to scale."""
    laid, wide, tall = _laid(shape)
    out = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide:.2f} {tall:.2f}" width="{wide:.2f}mm" height="{tall:.2f}mm">',
           f"<title>{_escaped(title)}: sections at 1:1</title>"]  # fmt: skip
    for radius, outline in laid:
        points = " ".join(f"{x:.3f},{tall - y:.3f}" for x, y in outline.tolist())
        right, middle = float(outline[:, 0].max()) + 3, tall - float(outline[:, 1].mean())
        out.append(f'<polygon points="{points}" fill="none" stroke="#000000" stroke-width="0.15"/>')
        out.append(f'<text x="{right:.2f}" y="{middle:.2f}" font-size="{TEXT_MM}" font-family="sans-serif">{radius:.1f} mm</text>')
    return "".join(out) + "</svg>"


def templates_dxf(shape: PropellerShape) -> str:
    """All sections to scale, each a closed polyline with its radius beside it."""
    doc = ezdxf.new("R2010")
    doc.units = units.MM
    doc.layers.add("SECTIONS", color=5)
    doc.layers.add("RADII", color=8)
    space = doc.modelspace()
    for radius, outline in _laid(shape)[0]:
        space.add_lwpolyline([(float(x), float(y)) for x, y in outline], close=True, dxfattribs={"layer": "SECTIONS"})
        at = float(outline[:, 0].max()) + 3, float(outline[:, 1].mean())
        space.add_text(f"{radius:.1f}", height=TEXT_MM, dxfattribs={"layer": "RADII", "insert": at})
    out = StringIO()
    doc.write(out)
    return out.getvalue()


def measuring_pdf(shape: PropellerShape, title: str, paper: str = "a4") -> bytes:
    """A page to lay a propeller on: rings at the radii to measure at, and a table to write into."""
    size = A4 if paper == "a4" else letter
    data = io.BytesIO()
    page = Canvas(data, pagesize=size, invariant=1)
    page.setTitle(f"{title}: measuring sheet")
    wide, tall = size
    page.setFont("Helvetica-Bold", 14)
    page.drawString(18 * mm, tall - 20 * mm, "Measure a propeller")
    page.setFont("Helvetica", 9)
    for k, line in enumerate((
        "Print at 100 %: check the ruler below. Lay the propeller on the rings, its bore on the cross, on a flat table.",
        "At each ring: callipers across the blade for the chord, heights of both edges over the table, thickness at the thickest.",
        "Take four rings at least, eight are better; type them under Propeller, Readings. One wrong reading is found and left out.",
    )):  # fmt: skip
        page.drawString(18 * mm, tall - (27 + 5 * k) * mm, line)
    radii = np.linspace(0.25, 0.95, 8) * shape.radius_mm
    x, y = 18 * mm, tall - 100 * mm
    page.setLineWidth(0.4)
    page.line(x - 4 * mm, y, x + 4 * mm, y)
    page.line(x, y - 4 * mm, x, y + 4 * mm)
    for r in radii.tolist():
        if x + r * mm < wide - 10 * mm:
            page.arc(x - r * mm, y - r * mm, x + r * mm, y + r * mm, startAng=-18, extent=36)
            page.drawString(x + r * mm + 1, y - 2, f"{r:.0f}")
    page.line(18 * mm, tall - 150 * mm, 118 * mm, tall - 150 * mm)
    for k in range(11):
        page.line((18 + 10 * k) * mm, tall - 150 * mm, (18 + 10 * k) * mm, tall - 148 * mm)
    page.drawString(120 * mm, tall - 151 * mm, "100 mm")
    _table(page, 18 * mm, tall - 160 * mm, radii.tolist())
    page.showPage()
    page.save()
    return data.getvalue()


def _table(page: Canvas, x: float, y: float, radii: list[float]) -> None:
    across, down = 34 * mm, 8 * mm
    for k, name in enumerate(COLUMNS):
        page.drawString(x + k * across + 2 * mm, y - 5.5 * mm, f"{name}, mm")
    for row in range(ROWS + 1):
        page.line(x, y - row * down, x + len(COLUMNS) * across, y - row * down)
        if 1 <= row <= len(radii):
            page.drawString(x + 2 * mm, y - row * down - 5.5 * mm, f"{radii[row - 1]:.0f}")
    for k in range(len(COLUMNS) + 1):
        page.line(x + k * across, y, x + k * across, y - ROWS * down)


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
