"""The faces of what is printed on paper: the window's own, and a wider one for letters that it lacks."""

from __future__ import annotations

import io
from importlib.util import find_spec
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from fravik.library import face_bytes

TEXT, BOLD, WIDER = "Fravik text", "Fravik bold", "Fravik wider"
UNKNOWN = "□"


def _register() -> frozenset[int]:
    """Make the faces known to the writer; the letters that the own face has."""
    own = TTFont(TEXT, io.BytesIO(face_bytes("Regular")))
    pdfmetrics.registerFont(own)
    pdfmetrics.registerFont(TTFont(BOLD, io.BytesIO(face_bytes("Bold"))))
    pdfmetrics.registerFontFamily(TEXT, normal=TEXT, bold=BOLD, italic=TEXT, boldItalic=BOLD)
    return frozenset(own.face.charToGlyph)


OWN = _register()


def _wider() -> frozenset[int]:
    """Letters of a face that a plotting library brings along, if it is there."""
    found = find_spec("matplotlib")
    if found is None or found.origin is None:
        return frozenset()
    file = Path(found.origin).parent / "mpl-data" / "fonts" / "ttf" / "DejaVuSans.ttf"
    if not file.is_file():
        return frozenset()
    face = TTFont(WIDER, str(file))
    pdfmetrics.registerFont(face)
    return frozenset(face.face.charToGlyph)


_more: list[frozenset[int]] = []


def faced(text: str, bold: bool = False) -> str:
    """Text as the writer's markup: escaped, each run of letters in a face that has them; none is dropped without a mark."""
    if all(ord(c) in OWN for c in text):
        return escape(text)
    if not _more:
        _more.append(_wider())
    out, run, own = [], "", True
    for c in [*text, None]:
        mine = c is None or ord(c) in OWN
        if c is None or (run and mine != own):
            shown = escape(run)
            out.append(shown if own else f'<font name="{WIDER}">{shown}</font>')
            run = ""
        own = mine
        if c is not None:
            run += c if mine or ord(c) in _more[0] else UNKNOWN if ord(UNKNOWN) in _more[0] else "?"
    return "".join(out)
