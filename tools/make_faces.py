"""The bundled face for what is printed on paper: its outlines as quadratic curves, which the PDF writer can embed.

``python -m tools.make_faces`` reads the window's face and writes fravik/library/faces; needed again only if that face changes.
"""

from __future__ import annotations

from pathlib import Path

from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont, newTable

ROOT = Path(__file__).parent.parent / "fravik"
MOST_OFF = 1.0  # units of the em, of 1000 or more


def quadratic(font: TTFont) -> TTFont:
    """The same face with its cubic outlines replaced by quadratic ones."""
    order, shapes = font.getGlyphOrder(), font.getGlyphSet()
    glyphs = {}
    for name in order:
        pen = TTGlyphPen(shapes)
        shapes[name].draw(Cu2QuPen(pen, MOST_OFF, reverse_direction=True))
        glyphs[name] = pen.glyph()
    font["loca"], font["glyf"] = newTable("loca"), newTable("glyf")
    font["glyf"].glyphOrder, font["glyf"].glyphs = order, glyphs
    most = font["maxp"]
    most.tableVersion = 0x00010000
    for field in ("maxZones", "maxTwilightPoints", "maxStorage", "maxFunctionDefs", "maxInstructionDefs", "maxStackElements",
                  "maxSizeOfInstructions", "maxComponentElements", "maxPoints", "maxContours", "maxCompositePoints",
                  "maxCompositeContours", "maxComponentDepth"):  # fmt: skip
        setattr(most, field, 1 if field == "maxZones" else 0)
    font["post"].formatType, font["post"].extraNames, font["post"].mapping = 2.0, [], {}
    font["post"].glyphOrder = order
    for table in ("CFF ", "VORG", "GPOS", "GSUB", "GDEF", "DSIG"):
        if table in font:
            del font[table]
    font.sfntVersion = "\000\001\000\000"
    return font


def main() -> None:
    """Write both weights."""
    for weight in ("Regular", "Bold"):
        face = quadratic(TTFont(ROOT / "app" / "theme" / "fonts" / f"B612-{weight}.otf"))
        face.save(ROOT / "library" / "faces" / f"B612-{weight}.ttf")


if __name__ == "__main__":
    main()
