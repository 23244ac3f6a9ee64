"""The settings sheet: what to print and how, as HTML and as PDF from the same rows."""

from __future__ import annotations

import io
import textwrap
from dataclasses import dataclass

from jinja2 import Environment
from reportlab.lib.colors import Color
from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from fravik.shape.build import Mesh

from .drawing import draw, to_svg
from .table import SheetRow

SAFETY = (
    "Propellers off while anything is on the bench. Ventilate while printing. Wear a mask and gloves when cutting carbon or "
    "sanding filled plastic. Charge batteries attended and away from anything that burns. Fly where local rules allow, with "
    "nobody below."
)


@dataclass(frozen=True)
class Sheet:
    """Everything on the settings sheet. ``margins`` rows: (name, value, limit, verdict); ``findings``: (weight, where, what)."""

    project: str
    purpose: str
    printer: str
    rows: tuple[SheetRow, ...]
    meshes: tuple[Mesh, ...]
    margins: tuple[tuple[str, str, str, str], ...]
    total_grams: float
    total_minutes: float
    findings: tuple[tuple[str, str, str], ...] = ()


def clock(minutes: float) -> str:
    """Minutes as '7 h 32'."""
    whole = round(minutes)
    return f"{whole // 60} h {whole % 60:02d}" if whole >= 60 else f"{whole} min"


_HTML = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{{ s.project }}: settings sheet</title><style>
body{font:14px/1.45 'B612',sans-serif;color:#1d2b2f;background:#f5f1e8;max-width:900px;margin:2em auto;padding:0 1em}
h1{font-size:22px;margin:0}h2{font-size:16px;margin:.2em 0}
.part{background:#fffdf7;border:1px solid #d5ccb9;border-radius:6px;padding:14px;margin:14px 0;display:flex;gap:18px;break-inside:avoid}
table{border-collapse:collapse}td{padding:1px 12px 1px 0;vertical-align:top}td:first-child,.muted{color:#6d7573}
.num{font-variant-numeric:tabular-nums}.bad{color:#c8442b}
</style></head><body><h1>{{ s.project }}</h1><p>{{ s.purpose }}</p>
<p class="num">{{ '%.0f' % s.total_grams }} g printed and glued in · {{ clock(s.total_minutes) }} on {{ s.printer }}</p>
{% for row, picture in parts %}<div class="part"><div>{{ picture|safe }}</div><div>
<h2>{{ row.part.name }} <span class="muted">× {{ row.part.count }}</span></h2>
<p class="num">{{ '%.1f' % row.grams }} g each{% if row.printed %} · {{ clock(row.minutes) }} each ·
{{ '%.0f × %.0f × %.0f' % row.size_mm }} mm on the bed{% endif %}</p>
{% if row.bed_problem %}<p class="bad">{{ row.bed_problem }}</p>{% endif %}
<table>{% for key, value in row.settings() %}<tr><td>{{ key }}</td><td>{{ value }}</td></tr>{% endfor %}</table></div></div>
{% endfor %}{% if s.findings %}<h2>Before it flies</h2><table>{% for f in s.findings %}
<tr><td>{{ f[0] }}</td><td>{{ f[1] }}</td><td>{{ f[2] }}</td></tr>{% endfor %}</table>{% endif %}
<h2>Margins</h2><table>{% for m in s.margins %}<tr><td>{{ m[0] }}</td><td class="num">{{ m[1] }}</td>
<td class="num">{{ m[2] }}</td><td>{{ m[3] }}</td></tr>{% endfor %}</table>
<p class="muted">{{ safety }}</p></body></html>"""


def sheet_html(sheet: Sheet) -> str:
    """The sheet as one self-contained HTML page; names are escaped."""
    pictures = [to_svg(draw(m, 230.0, 130.0)) for m in sheet.meshes]
    template = Environment(autoescape=True).from_string(_HTML)
    return template.render(s=sheet, parts=list(zip(sheet.rows, pictures, strict=True)), clock=clock, safety=SAFETY)


def _plain(text: str) -> str:
    # the PDF's built-in faces hold Latin-1 only
    return text.replace("→", "to").encode("latin-1", "replace").decode("latin-1")


def sheet_pdf(sheet: Sheet) -> bytes:
    """The sheet as PDF, A4."""
    _width, height = A4
    whole = io.BytesIO()
    page = Canvas(whole, pagesize=A4)
    page.setTitle(f"{sheet.project}: settings sheet")
    ink, muted = Color(0.11, 0.17, 0.18), Color(0.43, 0.46, 0.45)
    y = height - 50.0

    def line(x: float, text: str, size: float = 9.0, bold: bool = False, color: Color = ink) -> None:
        page.setFillColor(color)
        page.setFont("Helvetica-Bold" if bold else "Helvetica", size)
        page.drawString(x, y, _plain(text))

    line(45, sheet.project, 17, True)
    y -= 16
    line(45, f"{sheet.total_grams:.0f} g printed and glued in, {clock(sheet.total_minutes)} on {sheet.printer}", 10, color=muted)
    y -= 22
    for row, mesh in zip(sheet.rows, sheet.meshes, strict=True):
        need = 34 + 12 * len(row.settings()) + (12 if row.bed_problem else 0)
        if y - max(need, 120) < 60:
            page.showPage()
            y = height - 50.0
        top = y
        picture = draw(mesh, 150.0, 95.0)
        for tri, shade in zip(picture.polygons, picture.shades, strict=True):
            tone = Color(0.8 * shade + 0.1, 0.84 * shade + 0.1, 0.87 * shade + 0.1)
            page.setFillColor(tone)
            page.setStrokeColor(tone)
            page.setLineWidth(0.3)
            path_ = page.beginPath()
            path_.moveTo(45 + tri[0][0], top + 8 - tri[0][1])
            path_.lineTo(45 + tri[1][0], top + 8 - tri[1][1])
            path_.lineTo(45 + tri[2][0], top + 8 - tri[2][1])
            path_.close()
            page.drawPath(path_, stroke=1, fill=1)
        line(215, f"{row.part.name}  x {row.part.count}", 12, True)
        y -= 14
        size = " x ".join(f"{v:.0f}" for v in row.size_mm)
        line(215, f"{row.grams:.1f} g each" + (f", {clock(row.minutes)} each, {size} mm on the bed" if row.printed else ""))
        for key, value in row.settings():
            y -= 12
            line(215, key, color=muted)
            line(300, value)
        if row.bed_problem:
            y -= 12
            line(215, row.bed_problem, bold=True)
        y = min(y, top - 92) - 24
    if y < 80 + 12 * len(sheet.margins):
        page.showPage()
        y = height - 50.0
    line(45, "Margins", 12, True)
    for name, value, limit, verdict in sheet.margins:
        y -= 13
        for x, text in ((45, name), (190, value), (290, limit), (420, verdict)):
            line(x, text)
    y -= 24
    for k, (weight, where, what) in enumerate(sheet.findings):
        lines = textwrap.wrap(f"{where}: {what}", 88)
        if y < 70 + 12 * len(lines):
            page.showPage()
            y = height - 50.0
        if k == 0:
            line(45, "Before it flies", 12, True)
            y -= 14
        line(45, weight, color=muted)
        for text in lines:
            line(125, text)
            y -= 12
    y -= 12
    if y < 70:
        page.showPage()
        y = height - 50.0
    for text in textwrap.wrap(SAFETY, 105):
        line(45, text, 8, color=muted)
        y -= 10
    page.save()
    return whole.getvalue()
