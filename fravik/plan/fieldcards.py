"""Step cards to print: one file to carry to the field."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.styles import ParagraphStyle, getSampleStyleSheet
from reportlab.lib.units import mm
from reportlab.platypus import KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle


@dataclass(frozen=True)
class Card:
    """One step as it is printed."""

    number: int
    title: str
    enter: tuple[str, ...]
    do: str
    watch: tuple[str, ...]
    stop: tuple[str, ...]
    standing: str
    barred: str
    note: str


def cards_html(name: str, general: str, cards: Sequence[Card]) -> str:
    """A page of its own, without anything from elsewhere."""
    out = [f"<!doctype html><html lang='en'><head><meta charset='utf-8'><title>{escape(name)}: step cards</title><style>"
           "body{font:15px/1.45 sans-serif;margin:24px;max-width:820px;color:#1d2b2f}section{border:1px solid #999;border-radius:6px;"
           "padding:10px 16px;margin:12px 0;break-inside:avoid}h2{margin:0 0 6px}ul{margin:4px 0 8px;padding-left:20px}"
           ".box{border:1px solid #bbb;height:64px}.barred{font-weight:bold}</style></head><body>",
           f"<h1>{escape(name)}: one step at a time</h1><p>{escape(general)}</p>"]  # fmt: skip
    for c in cards:
        out.append(f"<section><h2>{c.number}. {escape(c.title)}</h2>")
        if c.barred:
            out.append(f"<p class='barred'>Do not fly this: {escape(c.barred)}</p>")
        for head, items in (("Enter with", c.enter), ("Watch", c.watch), ("Stop when", c.stop)):
            if items:
                out.append(f"<b>{head}</b><ul>" + "".join(f"<li>{escape(x)}</li>" for x in items) + "</ul>")
        out.append(f"<p>{escape(c.do)}</p><b>What happened</b> ({escape(c.standing)})<div class='box'>{escape(c.note)}</div></section>")
    return "".join(out) + "</body></html>"


def cards_pdf(name: str, general: str, cards: Sequence[Card], paper: str = "a4") -> bytes:
    """Cards under one another on A4 or letter, none broken over two pages."""
    style = getSampleStyleSheet()
    small = ParagraphStyle("small", parent=style["BodyText"], fontSize=9, leading=12)
    head = ParagraphStyle("head", parent=style["Heading3"], spaceAfter=2)
    flow: list[object] = [
        Paragraph(f"{escape(name)}: one step at a time", style["Heading1"]),
        Paragraph(escape(general), small),
        Spacer(1, 4 * mm),
    ]
    for c in cards:
        inside: list[object] = [Paragraph(f"{c.number}. {escape(c.title)}", head)]
        if c.barred:
            inside.append(Paragraph(f"<b>Do not fly this: {escape(c.barred)}</b>", small))
        for title, items in (("Enter with", c.enter), ("Watch", c.watch), ("Stop when", c.stop)):
            if items:
                inside.append(Paragraph(f"<b>{title}:</b> {escape('; '.join(items))}.", small))
        inside += [
            Paragraph(escape(c.do), small),
            Paragraph(f"<b>What happened</b> ({escape(c.standing)}): {escape(c.note)}", small),
            Spacer(1, 14 * mm),
        ]
        box = Table([[inside]], colWidths=[170 * mm])
        box.setStyle(TableStyle([("BOX", (0, 0), (-1, -1), 0.6, "#888888"), ("LEFTPADDING", (0, 0), (-1, -1), 8)]))
        flow += [KeepTogether(box), Spacer(1, 4 * mm)]
    data = io.BytesIO()
    SimpleDocTemplate(data, pagesize=A4 if paper == "a4" else letter, margins=20 * mm, title=f"{name}: step cards", invariant=1).build(flow)
    return data.getvalue()
