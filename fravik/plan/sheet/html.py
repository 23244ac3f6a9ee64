"""The sheet as one page that needs nothing beside it."""

from __future__ import annotations

import base64
from functools import cache
from importlib import resources

from jinja2 import Environment
from markupsafe import Markup

from fravik.library import face_bytes
from fravik.plan.drawing import data_uri

from .content import CAUTIONS, PIECES, BatchCard, Sheet

BED_PX = 110
INK = {"holds": "#1c7c72", "tight": "#b0760a", "fails": "#c8442b"}
MARKS = {"grave": "fails", "likely": "tight"}
_SHAPES = {"holds": "M1 6.5 4.5 10 11 2", "tight": "M6 1.5 11 10.5 1 10.5Z", "fails": "M2 2 10 10M2 10 10 2"}


def _mark(verdict: str) -> Markup:
    """A verdict by its shape, as in the window."""
    if verdict in _SHAPES:
        drawn = f'<path d="{_SHAPES[verdict]}" fill="none" stroke="{INK[verdict]}" stroke-width="2" stroke-linejoin="round"/>'
    elif verdict:
        drawn = '<circle cx="6" cy="6" r="4.4" fill="none" stroke="#7c8684" stroke-width="2" stroke-dasharray="2 2"/>'
    else:
        drawn = '<circle cx="6" cy="6" r="2.6" fill="#7c8684"/>'
    return Markup(f'<svg class="mark" viewBox="0 0 12 12" aria-hidden="true">{drawn}</svg>')


def _bed(batch: BatchCard) -> Markup:
    """The bed from above with what stands on it."""
    wide, deep = batch.bed_mm
    path = "".join("M" + " ".join(f"{x:.1f} {deep - y:.1f}" for x, y in loop) + "Z" for loop in batch.loops)
    size = f'width="{BED_PX}" height="{BED_PX * deep / wide:.0f}"'
    return Markup(f'<svg viewBox="-1 -1 {wide + 2:g} {deep + 2:g}" {size} role="img" aria-label="bed">'
                  f'<rect width="{wide:g}" height="{deep:g}" fill="none" stroke="#8d9a99" stroke-width="1.5"/>'
                  f'<path d="{path}" fill="#dfe4e6" stroke="#1d2b2f" stroke-width="1" fill-rule="evenodd"/></svg>')  # fmt: skip


@cache
def _page() -> str:
    return resources.files("fravik.plan.sheet").joinpath("sheet.html").read_text("utf-8")


@cache
def _face(weight: str) -> str:
    return "data:font/ttf;base64," + base64.b64encode(face_bytes(weight)).decode("ascii")


def sheet_html(sheet: Sheet, paper: str = "a4") -> str:
    """The sheet as one self-contained HTML page; names are escaped. ``paper`` is that of its prints, 'a4' or 'letter'."""
    template = Environment(autoescape=True).from_string(_page())
    return template.render(s=sheet, mark=_mark, marks=MARKS, bed=_bed, uri=data_uri, cautions=CAUTIONS, pieces=PIECES,
                           regular=Markup(_face("Regular")), bold=Markup(_face("Bold")), paper=paper)  # fmt: skip
