"""The sheet as PDF, on A4 or letter paper."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from reportlab.graphics.shapes import Circle, Drawing, Line, Path, Polygon, PolyLine, Rect
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Flowable, Frame, Image, KeepTogether, PageTemplate, Paragraph, Spacer, Table, TableStyle

from .content import CAUTIONS, PIECES, BatchCard, PartCard, Sheet
from .faces import BOLD, TEXT, faced
from .html import INK, MARKS

PAPERS = {"a4": A4, "letter": LETTER}
EDGE, FOOT = 15 * mm, 16 * mm
PICTURE_MM = (58.0, 38.0)
BED_MM = 26.0
BLACK, MUTED, FAINT = HexColor("#1d2b2f"), HexColor("#626b69"), HexColor("#d5ccb9")


def _style(name: str, size: float, lead: float, **more: Any) -> ParagraphStyle:
    return ParagraphStyle(name, fontName=more.pop("face", TEXT), fontSize=size, leading=lead, textColor=more.pop("ink", BLACK), **more)


BODY = _style("body", 8.2, 11.2)
QUIET = _style("quiet", 8.2, 11.2, ink=MUTED)
RIGHT = _style("right", 8.2, 11.2, alignment=2)
SMALL = _style("small", 7.2, 9.6, ink=MUTED)
BAD = _style("bad", 8.2, 11.2, ink=HexColor("#a8321c"))
TITLE = _style("title", 20, 25, face=BOLD)
HEAD = _style("head", 12, 16, face=BOLD, spaceBefore=12, spaceAfter=4, keepWithNext=1)
NAME = _style("name", 10, 13, face=BOLD)
PLAIN = [("LEFTPADDING", (0, 0), (-1, -1), 0), ("RIGHTPADDING", (0, 0), (-2, -1), 6), ("RIGHTPADDING", (-1, 0), (-1, -1), 0),
         ("TOPPADDING", (0, 0), (-1, -1), 1),
         ("BOTTOMPADDING", (0, 0), (-1, -1), 1), ("VALIGN", (0, 0), (-1, -1), "TOP")]  # fmt: skip
RULED = [*PLAIN, ("LINEBELOW", (0, 0), (-1, -1), 0.4, FAINT), ("TOPPADDING", (0, 0), (-1, -1), 2.5), ("BOTTOMPADDING", (0, 0), (-1, -1), 3)]


def _words(text: str, style: ParagraphStyle = BODY) -> Paragraph:
    return Paragraph(faced(text, bold=style.fontName == BOLD), style)


def _mark(verdict: str) -> Drawing:
    """A verdict by its shape, as in the window."""
    out = Drawing(9, 9)
    ink = {"strokeColor": HexColor(INK.get(verdict, "#7c8684")), "strokeWidth": 1.3}
    if verdict == "holds":
        out.add(PolyLine([1, 4, 3.4, 1.5, 8, 7.5], **ink))
    elif verdict == "tight":
        out.add(Polygon([4.5, 8, 8.2, 1.2, 0.8, 1.2], fillColor=None, **ink))
    elif verdict == "fails":
        out.add(Line(1.5, 1.5, 7.5, 7.5, **ink))
        out.add(Line(1.5, 7.5, 7.5, 1.5, **ink))
    elif verdict:
        out.add(Circle(4.5, 4.5, 3.2, fillColor=None, strokeDashArray=[1.5, 1.5], **ink))
    else:
        out.add(Circle(4.5, 4.5, 1.8, fillColor=MUTED, strokeColor=None))
    return out


class _Tick(Flowable):
    """A line with a box to tick before it."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.words = _words(text)

    def wrap(self, wide: float, high: float) -> tuple[float, float]:
        _, tall = self.words.wrap(wide - 12, high)
        self.tall = tall
        return wide, tall

    def draw(self) -> None:
        self.canv.setStrokeColor(BLACK)
        self.canv.setLineWidth(0.6)
        self.canv.rect(0.5, self.tall - 9.2, 6.2, 6.2)
        self.words.drawOn(self.canv, 12, 0)


def _ruled(rows: Sequence[Sequence[Any]], widths: Sequence[float]) -> Table:
    return Table([list(r) for r in rows], colWidths=list(widths), style=TableStyle(RULED))


def _part(card: PartCard, wide: float) -> Flowable:
    """Name and figures, then picture, how it is made, and what is to do."""
    picture = Image(io.BytesIO(card.picture), PICTURE_MM[0] * mm, PICTURE_MM[1] * mm)
    facts = Table([[_words(k, QUIET), _words(v)] for k, v in card.facts], colWidths=[27 * mm, 31 * mm], style=TableStyle(PLAIN))
    made: list[Flowable] = [_words(card.problem, BAD)] if card.problem else []
    made.append(facts)
    do: list[Flowable] = []
    for head, lines in (("To set", card.to_set), ("As it comes off", card.look_at)):
        if lines:
            do += [_words(head, SMALL), *(_Tick(x) for x in lines), Spacer(1, 3)]
    left = wide - (PICTURE_MM[0] + 60) * mm
    name = Paragraph(f"{faced(card.name, bold=True)} <font name='{TEXT}' color='#626b69'>× {card.count}</font>", NAME)
    head = Table([[name, _words(card.figures, RIGHT)]], colWidths=[0.4 * wide, 0.6 * wide], style=TableStyle(PLAIN))
    look = TableStyle([*PLAIN, ("LINEBELOW", (0, 0), (-1, -1), 0.4, FAINT), ("BOTTOMPADDING", (0, 0), (-1, -1), 6)])
    body = Table([[picture, made, do]], colWidths=[PICTURE_MM[0] * mm + 6, 60 * mm - 6, left], style=look)
    return KeepTogether([head, body, Spacer(1, 5)])


def _bed(batch: BatchCard) -> Drawing:
    """The bed from above with what stands on it."""
    wide, deep = batch.bed_mm
    k = BED_MM * mm / max(wide, deep)
    out = Drawing(k * wide, k * deep)
    out.add(Rect(0, 0, k * wide, k * deep, fillColor=None, strokeColor=HexColor("#8d9a99"), strokeWidth=0.6))
    path = Path(fillColor=HexColor("#dfe4e6"), strokeColor=BLACK, strokeWidth=0.4)
    path._fillRule = 0  # holes stay open
    for loop in batch.loops:
        for n, (x, y) in enumerate(loop):
            (path.lineTo if n else path.moveTo)(k * float(x), k * float(y))
        path.closePath()
    out.add(path)
    return out


def _batches(sheet: Sheet, wide: float) -> list[Flowable]:
    cards = []
    for b in sheet.batches:
        lines = [_words(b.title, NAME), *(_words(x, QUIET if n else BODY) for n, x in enumerate(b.lines))]
        cards.append(Table([[_bed(b), lines]], colWidths=[(BED_MM + 3) * mm, wide / 2 - (BED_MM + 5) * mm], style=TableStyle(PLAIN)))
    rows = [cards[i : i + 2] + [""] * (2 - len(cards[i : i + 2])) for i in range(0, len(cards), 2)]
    table = [Table(rows, colWidths=[wide / 2] * 2, style=TableStyle([*PLAIN, ("BOTTOMPADDING", (0, 0), (-1, -1), 8)]))] if rows else []
    return [*([_words(sheet.not_laid)] if sheet.not_laid else []), *table]


def _story(sheet: Sheet, wide: float) -> list[Flowable]:
    story: list[Flowable] = [_words(sheet.craft, TITLE)]
    story += [_words(sheet.purpose)] if sheet.purpose else []
    story += [_words(sheet.summary, QUIET), _words("What it must reach", HEAD)]
    targets = [
        [_mark(t.verdict), *map(_words, (t.verdict, t.name)), _words(t.value, RIGHT), _words(t.limit, RIGHT), _words(t.detail, QUIET)]
        for t in sheet.targets
    ]
    left = wide - (5 + 22 + 38 + 24 + 24) * mm
    story.append(_ruled(targets, [5 * mm, 22 * mm, 38 * mm, 24 * mm, 24 * mm, left]) if targets else _words("No target is set."))
    if sheet.findings:
        rows = [[_mark(MARKS.get(f.weight, "")), _words(f.weight), _words(f.where),
                 _words(f"{f.what} {f.kept}".strip())] for f in sheet.findings]  # fmt: skip
        story += [_words("Before it flies", HEAD), _ruled(rows, [5 * mm, 18 * mm, 36 * mm, wide - 59 * mm])]
    story += [_words("Parts", HEAD), *(_part(p, wide) for p in sheet.parts)]
    story += [_words("Batches", HEAD), *_batches(sheet, wide)]
    if sheet.moments:
        when = [[_words(m.begins), _words(m.lasts, RIGHT), _words(m.where, QUIET), _words(m.what)] for m in sheet.moments]
        story += [_words("When", HEAD), _ruled(when, [30 * mm, 20 * mm, 42 * mm, wide - 92 * mm])]
    story += [_words(n, QUIET) for n in sheet.notes]
    care = Table([[_words(k, QUIET), _words(v)] for k, v in CAUTIONS], colWidths=[30 * mm, wide - 30 * mm], style=TableStyle(PLAIN))
    story.append(KeepTogether([_words("Take care", HEAD), care, Spacer(1, 4), _words(PIECES, SMALL)]))
    return story


class _Numbered(Canvas):
    """Writes 'page n of m' once it is known how many there are."""

    def __init__(self, *args: Any, foot: Callable[[Canvas, int, int], None], **more: Any) -> None:
        super().__init__(*args, **more)
        self._foot, self._held = foot, list[dict[str, Any]]()

    def showPage(self) -> None:
        self._held.append(dict(self.__dict__))
        self._startPage()

    def save(self) -> None:
        pages = list(self._held)
        for n, page in enumerate(pages):
            self.__dict__.update(page)
            self._foot(self, n + 1, len(pages))
            super().showPage()
        super().save()


def sheet_pdf(sheet: Sheet, paper: str = "a4") -> bytes:
    """The sheet as PDF on 'a4' or 'letter' paper. Raises KeyError for another."""
    size = PAPERS[paper]
    whole = io.BytesIO()

    def foot(canvas: Canvas, page: int, of: int) -> None:
        canvas.setFont(TEXT, 7)
        canvas.setFillColor(MUTED)
        Paragraph(faced(sheet.craft), SMALL).wrapOn(canvas, size[0] / 2, 12)
        name = Paragraph(faced(sheet.craft), SMALL)
        name.wrapOn(canvas, size[0] / 2, 12)
        name.drawOn(canvas, EDGE, 9 * mm)
        canvas.drawRightString(size[0] - EDGE, 9.5 * mm, f"page {page} of {of}")

    wide = size[0] - 2 * EDGE
    frame = Frame(EDGE, FOOT, wide, size[1] - EDGE - FOOT, leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0)
    document = BaseDocTemplate(whole, pagesize=size, title=f"{sheet.craft}: to print and to check", author="", creator="Fravik")
    document.addPageTemplates([PageTemplate(id="page", frames=[frame])])
    document.build(_story(sheet, wide), canvasmaker=partial(_Numbered, foot=foot))
    return whole.getvalue()
